#include "app/car/car_workspace.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

#include "app/car/field_model.h"
#include "app/car/measure_page.h"
#include "app/car/point_model.h"
#include "app/check/check_panel.h"
#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"
#include "core/load/static_load.hpp"

namespace lowkite::app {
namespace {

constexpr int tableRowHeight = 30;

/// Offers the choices of an entry that has some, a line to type into otherwise.
class FieldDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;

  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const QStringList choices = index.data(Qt::UserRole).toStringList();
    if (choices.isEmpty()) return QStyledItemDelegate::createEditor(parent, option, index);
    auto* box = new QComboBox(parent);
    box->addItems(choices);
    return box;
  }
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    if (auto* box = qobject_cast<QComboBox*>(editor))
      box->setCurrentText(index.data(Qt::EditRole).toString());
    else
      QStyledItemDelegate::setEditorData(editor, index);
  }
  void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override {
    if (auto* box = qobject_cast<QComboBox*>(editor))
      model->setData(index, box->currentText());
    else
      QStyledItemDelegate::setModelData(editor, model, index);
  }
};

QTableView* tableFor(QAbstractItemModel* model, const QString& name, QWidget* parent) {
  auto* table = new QTableView(parent);
  table->setObjectName(name);
  table->setModel(model);
  table->setFrameShape(QFrame::NoFrame);
  table->setSelectionMode(QAbstractItemView::SingleSelection);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::SelectedClicked |
                         QAbstractItemView::EditKeyPressed | QAbstractItemView::AnyKeyPressed);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(tableRowHeight);
  table->horizontalHeader()->setHighlightSections(false);
  table->setWordWrap(false);
  table->setShowGrid(false);
  table->setAlternatingRowColors(true);
  return table;
}

QPushButton* buttonFor(const QString& name, const QString& text, QWidget* parent) {
  auto* b = new QPushButton(text, parent);
  b->setObjectName(name);
  b->setMinimumHeight(targetHeight);
  return b;
}

}  // namespace

CarWorkspace::CarWorkspace(Document& document, PlanModel& plan, QWidget* parent)
    : Workspace(parent), editor_(document) {
  setObjectName(QStringLiteral("car"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  column->addWidget(makeHead());
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  row->addWidget(makeLeft(plan));
  row->addWidget(makeDrawing(), 1);
  column->addLayout(row, 1);
  connect(&editor_, &CarEditor::told, this, &CarWorkspace::told);
  connect(&editor_, &CarEditor::changed, this, &CarWorkspace::refresh);
  connect(&editor_, &CarEditor::selectionChanged, this, &CarWorkspace::refresh);
  refresh();
}

QWidget* CarWorkspace::makeHead() {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  auto* row = new QHBoxLayout(panel);
  row->setContentsMargins(16, 6, 8, 6);
  row->setSpacing(8);
  name_ = new QLabel(panel);
  name_->setObjectName(QStringLiteral("car.name"));
  name_->setFont(textFont(14, true));
  name_->setTextFormat(Qt::PlainText);
  ownName_ = new QLineEdit(panel);
  ownName_->setObjectName(QStringLiteral("car.ownName"));
  ownName_->setPlaceholderText(tr("A name for your own car"));
  ownName_->setAccessibleName(ownName_->placeholderText());
  ownName_->setMinimumHeight(targetHeight);
  ownName_->setMinimumWidth(240);
  own_ = buttonFor(QStringLiteral("car.own"), tr("Make it my own"), panel);
  own_->setToolTip(tr("A copy that you can change, with every point marked as taken over from this car"));
  connect(own_, &QPushButton::clicked, this, [this] { Q_EMIT ownCopyWanted(ownName_->text().trimmed()); });
  connect(ownName_, &QLineEdit::returnPressed, own_, &QPushButton::click);
  connect(ownName_, &QLineEdit::textChanged, this,
          [this](const QString& t) { own_->setEnabled(!id_from_name(t.toStdString()).empty()); });
  own_->setEnabled(false);
  row->addWidget(name_, 1);
  row->addWidget(ownName_);
  row->addWidget(own_);
  return panel;
}

QWidget* CarWorkspace::makeLeft(PlanModel& plan) {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  panel->setFixedWidth(520);
  auto* column = new QVBoxLayout(panel);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(6);
  choice_ = new Segmented(QStringLiteral("car.page"),
                          {tr("Points"), tr("Parts"), tr("Adjusters"), tr("Measure"), tr("Check")}, panel);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  pages_ = new QStackedWidget(panel);
  pages_->addWidget(makePoints());
  pages_->addWidget(makeParts());
  pages_->addWidget(makeAdjusters());
  pages_->addWidget(new MeasurePage(editor_, pages_));
  auto* check = new CheckPanel(plan, pages_);
  // What the check leads to is a part; here its point is taken in hand.
  connect(check, &CheckPanel::led, this, [this](End end, int adjuster) {
    editor_.setGroup(end == End::front ? CarEditor::Group::front : CarEditor::Group::rear);
    if (adjuster < 0) return;
    const Adjuster& a = editor_.document().car().adjusters[static_cast<std::size_t>(adjuster)];
    if (a.steering) editor_.setGroup(CarEditor::Group::steering);
    if (a.place() != no_point) editor_.setPoint(PointRef{a.end, a.steering, a.place()});
  });
  pages_->addWidget(check);
  column->addWidget(choice_, 0, Qt::AlignLeft);
  column->addWidget(pages_, 1);
  return panel;
}

QWidget* CarWorkspace::makePoints() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  points_ = new PointModel(editor_, this);
  pointTable_ = tableFor(points_, QStringLiteral("car.points"), box);
  pointTable_->horizontalHeader()->setSectionResizeMode(PointModel::name, QHeaderView::Stretch);
  for (const int c : {PointModel::x, PointModel::y, PointModel::z}) pointTable_->setColumnWidth(c, 60);
  pointTable_->setColumnWidth(PointModel::origin, 74);
  connect(pointTable_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (now.isValid()) editor_.setPoint(points_->ref(now.row()));
  });
  auto* row = new QHBoxLayout;
  sides_ = new Segmented(QStringLiteral("car.side"), {tr("Left and mirrored"), tr("Right apart")}, box);
  connect(sides_, &Segmented::chosen, this, [this](int i) { editor_.setSide(i == 0 ? Side::left : Side::right); });
  mirror_ = buttonFor(QStringLiteral("car.mirror"), tr("Mirror it again"), box);
  connect(mirror_, &QPushButton::clicked, this, [this] {
    if (editor_.point()) editor_.mirrorAgain(*editor_.point());
  });
  row->addWidget(sides_);
  row->addStretch(1);
  row->addWidget(mirror_);
  column->addWidget(pointTable_, 1);
  column->addLayout(row);
  return box;
}

QWidget* CarWorkspace::makeParts() {
  auto* model = new FieldModel(
      editor_, [this] { return part_fields(editor_.source()); }, this);
  QTableView* table = tableFor(model, QStringLiteral("car.parts"), this);
  table->setItemDelegate(new FieldDelegate(table));
  table->horizontalHeader()->setSectionResizeMode(FieldModel::name, QHeaderView::Stretch);
  table->setColumnWidth(FieldModel::value, 110);
  table->setColumnWidth(FieldModel::unit, 60);
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  weights_ = new QLabel(box);
  weights_->setObjectName(QStringLiteral("car.weights"));
  weights_->setWordWrap(true);
  column->addWidget(table, 1);
  column->addWidget(weights_);
  return box;
}

void CarWorkspace::tellWeights() {
  const Car& car = editor_.document().car();
  const auto model = build_model(car, kit_setup(car));
  if (!model || !(model->mass.kg > 0.0)) {
    weights_->setText(tr("The car's weight is not described."));
    return;
  }
  double named = 0.0, on_top = 0.0;
  for (const MassPart& part : car.masses) (part.weighed ? named : on_top) += part.grams;
  QString text = tr("<b>%1 g in all</b>: %2 g as weighed (%3 g of it named below), %4 g on top.")
                     .arg(number(1000.0 * model->mass.kg, 0), number(1000.0 * car.mass_kg, 0), number(named, 0),
                          number(on_top, 0));
  const auto figures = figures_at(*model, static_attitude(*model));
  if (const auto loads = figures ? wheel_loads(*model, *figures) : std::nullopt)
    text += tr(" Front %1 and %2 g, rear %3 and %4 g (left, right).")
                .arg(number(grams((*loads)[0][0]), 0), number(grams((*loads)[0][1]), 0),
                     number(grams((*loads)[1][0]), 0), number(grams((*loads)[1][1]), 0));
  weights_->setText(text);
}

QWidget* CarWorkspace::makeAdjusters() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  adjusters_ = new QListWidget(box);
  adjusters_->setObjectName(QStringLiteral("car.adjusters"));
  adjusters_->setFrameShape(QFrame::NoFrame);
  connect(adjusters_, &QListWidget::currentRowChanged, this, [this] {
    adjusterFields_->refresh();
    refresh();
  });
  adjusterFields_ = new FieldModel(
      editor_,
      [this] {
        const int i = shownAdjuster();
        return i < 0 ? std::vector<CarField>{} : adjuster_fields(editor_.source(), static_cast<std::size_t>(i));
      },
      this);
  QTableView* table = tableFor(adjusterFields_, QStringLiteral("car.adjusterFields"), box);
  table->setItemDelegate(new FieldDelegate(table));
  table->horizontalHeader()->setSectionResizeMode(FieldModel::name, QHeaderView::Stretch);
  table->setColumnWidth(FieldModel::value, 150);
  table->setColumnWidth(FieldModel::unit, 50);
  morePositions_ = buttonFor(QStringLiteral("car.morePositions"), tr("One more position"), box);
  fewerPositions_ = buttonFor(QStringLiteral("car.fewerPositions"), tr("One less"), box);
  removePart_ = buttonFor(QStringLiteral("car.removePart"), tr("Remove this part"), box);
  const auto onAdjuster = [this](auto change, const QString& what, const QString& refusal) {
    return [this, change, what, refusal] {
      const int i = shownAdjuster();
      if (i < 0) return;
      Json after = editor_.source();
      if (change(after, static_cast<std::size_t>(i)))
        editor_.edit(std::move(after), what);
      else
        Q_EMIT told(refusal);
    };
  };
  connect(morePositions_, &QPushButton::clicked, this,
          onAdjuster([](Json& j, std::size_t i) { return add_position(j, i); }, tr("One more position"), QString()));
  connect(fewerPositions_, &QPushButton::clicked, this,
          onAdjuster([](Json& j, std::size_t i) { return remove_position(j, i); }, tr("One position less"),
                     tr("The last position is the only one or the kit's: choose another for the kit first.")));
  connect(removePart_, &QPushButton::clicked, this,
          onAdjuster(
              [](Json& j, std::size_t i) {
                remove_adjuster(j, i);
                return true;
              },
              tr("Remove a part"), QString()));
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(morePositions_);
  row->addWidget(fewerPositions_);
  row->addStretch(1);
  row->addWidget(removePart_);
  auto* adds = new QHBoxLayout;
  adds->setSpacing(4);
  newPart_ = new QComboBox(box);
  newPart_->setObjectName(QStringLiteral("car.newPart"));
  newPart_->setMinimumHeight(targetHeight);
  newPart_->setAccessibleName(tr("A part to add"));
  addPart_ = buttonFor(QStringLiteral("car.addPart"), tr("Add"), box);
  connect(addPart_, &QPushButton::clicked, this, &CarWorkspace::addPart);
  adds->addWidget(newPart_, 1);
  adds->addWidget(addPart_);
  column->addWidget(adjusters_, 2);
  column->addWidget(table, 3);
  column->addLayout(row);
  column->addLayout(adds);
  return box;
}

QWidget* CarWorkspace::makeDrawing() {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  auto* column = new QVBoxLayout(panel);
  column->setContentsMargins(1, 8, 1, 4);
  auto* row = new QHBoxLayout;
  row->setContentsMargins(8, 0, 8, 0);
  groups_ = new Segmented(QStringLiteral("car.group"), {tr("Front axle"), tr("Rear axle"), tr("Steering")}, panel);
  connect(groups_, &Segmented::chosen, this, [this](int i) {
    const auto group = static_cast<CarEditor::Group>(i);
    if (group == CarEditor::Group::steering &&
        (!editor_.document().hasCar() || !editor_.document().car().steering.spec)) {
      Q_EMIT told(tr("This car file describes no steering linkage."));
      groups_->setCurrent(static_cast<int>(editor_.group()));
      return;
    }
    editor_.setGroup(group);
  });
  from_ = new Segmented(QStringLiteral("car.from"), {tr("Front"), tr("Top"), tr("Side")}, panel);
  connect(from_, &Segmented::chosen, this, [this](int i) { showFrom(static_cast<PointsView::From>(i)); });
  view_ = new PointsView(editor_, panel);
  row->addWidget(groups_);
  row->addStretch(1);
  row->addWidget(from_);
  column->addLayout(row);
  column->addWidget(view_, 1);
  return panel;
}

void CarWorkspace::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  view_->setFocus();
}

void CarWorkspace::showPage(Page page) {
  choice_->setCurrent(static_cast<int>(page));
  pages_->setCurrentIndex(static_cast<int>(page));
  refresh();
}

void CarWorkspace::showFrom(PointsView::From from) {
  from_->setCurrent(static_cast<int>(from));
  view_->setFrom(from);
}

void CarWorkspace::askForOwn() {
  ownName_->setFocus(Qt::OtherFocusReason);
}

int CarWorkspace::shownAdjuster() const {
  if (!editor_.document().hasCar() || !adjusters_) return -1;
  const int row = adjusters_->currentRow();
  return row < static_cast<int>(editor_.document().car().adjusters.size()) ? row : -1;
}

void CarWorkspace::refreshAdjusters() {
  const Car& car = editor_.document().car();
  {
    const QSignalBlocker quiet(adjusters_);
    const int before = adjusters_->currentRow();
    while (adjusters_->count() > static_cast<int>(car.adjusters.size()))
      delete adjusters_->takeItem(adjusters_->count() - 1);
    while (adjusters_->count() < static_cast<int>(car.adjusters.size())) {
      auto* item = new QListWidgetItem(adjusters_);
      item->setSizeHint(QSize(0, 26));
    }
    for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
      const Adjuster& a = car.adjusters[i];
      const std::string_view kind = spec_of(a.kind).label;
      adjusters_->item(static_cast<int>(i))
          ->setText(tr("%1, %2: %3")
                        .arg(a.end == End::front ? tr("Front") : tr("Rear"), QString::fromStdString(a.name),
                             QCoreApplication::translate(
                                 "Core", QByteArray(kind.data(), static_cast<qsizetype>(kind.size())))));
    }
    if (before < 0 && adjusters_->count() > 0) adjusters_->setCurrentRow(0);
  }
  adjusterFields_->refresh();
  const int shown = shownAdjuster();
  const bool positions = shown >= 0 && car.adjusters[static_cast<std::size_t>(shown)].positions() != nullptr;
  morePositions_->setEnabled(editor_.editable() && positions);
  fewerPositions_->setEnabled(editor_.editable() && positions);
  removePart_->setEnabled(editor_.editable() && shown >= 0);
  // What may be added: shims under the point in hand, a turnbuckle for each link that has none.
  const QString before = newPart_->currentText();
  newPart_->clear();
  if (editor_.point()) {
    const std::string_view label = spec_of(car, *editor_.point()).label;
    newPart_->addItem(tr("Shims: %1").arg(QString::fromUtf8(label.data(), static_cast<qsizetype>(label.size()))), -1);
  }
  const End end = editor_.group() == CarEditor::Group::rear ? End::rear : End::front;
  const auto links = car.axle(end).mechanism->links;
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].pin == no_point && car.turnbuckle_of(end, static_cast<int>(i)) < 0)
      newPart_->addItem(
          tr("Turnbuckle: %1")
              .arg(QString::fromUtf8(links[i].label.data(), static_cast<qsizetype>(links[i].label.size()))),
          static_cast<int>(i));
  if (newPart_->count() == 0) newPart_->addItem(tr("Take a point in hand to put shims under it"), -2);
  if (const int same = newPart_->findText(before); same >= 0) newPart_->setCurrentIndex(same);
  addPart_->setEnabled(editor_.editable() && newPart_->currentData().toInt() != -2);
}

void CarWorkspace::addPart() {
  if (!editor_.editable()) return;
  const Car& car = editor_.document().car();
  const int link = newPart_->currentData().toInt();
  Json after = editor_.source();
  std::string id;
  if (link >= 0)
    id = add_turnbuckle(after, car, editor_.group() == CarEditor::Group::rear ? End::rear : End::front, link);
  else if (editor_.point())
    id = add_shims(after, car, *editor_.point());
  else
    return;
  if (editor_.edit(std::move(after), tr("Add a part")))
    adjusters_->setCurrentRow(editor_.document().car().find_adjuster(id));
}

void CarWorkspace::refresh() {
  if (!editor_.document().hasCar() || !view_) return;
  const Car& car = editor_.document().car();
  const bool own = editor_.editable();
  name_->setText(own ? tr("%1 \u2013 your own car%2")
                           .arg(QString::fromStdString(car.name),
                                editor_.document().carModified() ? tr(", not saved yet") : QString())
                     : tr("%1 comes with the program. Give it a name to make it your own and change it.")
                           .arg(QString::fromStdString(car.name)));
  groups_->setCurrent(static_cast<int>(editor_.group()));
  sides_->setCurrent(editor_.side() == Side::left ? 0 : 1);
  sides_->setEnabled(editor_.group() != CarEditor::Group::steering);
  mirror_->setEnabled(own && editor_.side() == Side::right && editor_.point() &&
                      has_right_point(editor_.source(), car, *editor_.point()));
  if (editor_.point()) {
    const int row = points_->rowOf(*editor_.point());
    if (row >= 0 && pointTable_->currentIndex().row() != row)
      pointTable_->setCurrentIndex(points_->index(row, std::max(0, pointTable_->currentIndex().column())));
  }
  refreshAdjusters();
  tellWeights();
}

void CarWorkspace::fillViewMenu(QMenu& menu) {
  const auto entry = [&](const QString& text, Page page) {
    menu.addAction(text, this, [this, page] { showPage(page); });
  };
  entry(tr("Car: points"), Page::points);
  entry(tr("Car: parts"), Page::parts);
  entry(tr("Car: adjusters"), Page::adjusters);
  entry(tr("Car: measuring guide"), Page::measure);
  entry(tr("Car: check"), Page::check);
}

QString CarWorkspace::figuresAsText() const {
  QStringList lines{QStringList{tr("Point"), tr("x mm"), tr("y mm"), tr("z mm"), tr("from")}.join(QLatin1Char('\t'))};
  for (int row = 0; row < points_->rowCount(); ++row) {
    QStringList cells;
    for (int column = 0; column < points_->columnCount(); ++column)
      cells << points_->data(points_->index(row, column), Qt::DisplayRole).toString();
    lines << cells.join(QLatin1Char('\t'));
  }
  return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

}  // namespace lowkite::app
