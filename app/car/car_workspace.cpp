#include "app/car/car_workspace.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>

#include "app/car/adjuster_page.h"
#include "app/car/boxes_page.h"
#include "app/car/field_model.h"
#include "app/car/field_table.h"
#include "app/car/measure_page.h"
#include "app/car/point_model.h"
#include "app/check/check_panel.h"
#include "app/look/theme.h"
#include "app/widgets/kept_splitter.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"
#include "core/load/static_load.hpp"

namespace lowkite::app {

constexpr int pageWidth = 520;

CarWorkspace::CarWorkspace(Document& document, PlanModel& plan, MyBoxes& boxes, QWidget* parent)
    : Workspace(parent), editor_(document), boxes_(boxes) {
  setObjectName(QStringLiteral("car"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  column->addWidget(makeHead());
  QWidget* left = makeLeft(plan);
  column->addWidget(new KeptSplitter(QStringLiteral("car.columns"), left, drawing_ = makeDrawing(), pageWidth, this),
                    1);
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
  own_ = carButton(QStringLiteral("car.own"), tr("Make it my own"), panel);
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
  auto* column = new QVBoxLayout(panel);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(6);
  choice_ =
      new Segmented(QStringLiteral("car.page"),
                    {tr("Points"), tr("Parts"), tr("Adjusters"), tr("Measure"), tr("Check"), tr("My boxes")}, panel);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  pages_ = new QStackedWidget(panel);
  pages_->addWidget(makePoints());
  pages_->addWidget(makeParts());
  adjusters_ = new AdjusterPage(editor_, pages_);
  connect(adjusters_, &AdjusterPage::told, this, &CarWorkspace::told);
  pages_->addWidget(adjusters_);
  pages_->addWidget(new MeasurePage(editor_, pages_));
  auto* check = new CheckPanel(plan, pages_);
  // What the check leads to is a part; here its point is taken in hand.
  connect(check, &CheckPanel::led, this, [this](End end, PartHandle adjuster) {
    editor_.setGroup(end == End::front ? CarEditor::Group::front : CarEditor::Group::rear);
    if (!adjuster) return;
    const Adjuster& a = editor_.document().car().adjusters[adjuster];
    if (a.steering) editor_.setGroup(CarEditor::Group::steering);
    if (a.place()) editor_.setPoint(PointRef{a.end, a.steering, a.place()});
  });
  pages_->addWidget(check);
  boxesPage_ = new BoxesPage(boxes_, editor_, pages_);
  connect(boxesPage_, &BoxesPage::told, this, &CarWorkspace::told);
  pages_->addWidget(boxesPage_);
  column->addWidget(choice_, 0, Qt::AlignLeft);
  column->addWidget(pages_, 1);
  return panel;
}

QWidget* CarWorkspace::makePoints() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  points_ = new PointModel(editor_, this);
  pointTable_ = fieldTable(points_, QStringLiteral("car.points"), box);
  pointTable_->horizontalHeader()->setSectionResizeMode(PointModel::name, QHeaderView::Stretch);
  for (const int c : {PointModel::x, PointModel::y, PointModel::z}) pointTable_->setColumnWidth(c, 60);
  pointTable_->setColumnWidth(PointModel::origin, 74);
  connect(pointTable_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (now.isValid()) editor_.setPoint(points_->ref(now.row()));
  });
  auto* row = new QHBoxLayout;
  sides_ = new Segmented(QStringLiteral("car.side"), {tr("Left and mirrored"), tr("Right apart")}, box);
  connect(sides_, &Segmented::chosen, this, [this](int i) { editor_.setSide(i == 0 ? Side::left : Side::right); });
  mirror_ = carButton(QStringLiteral("car.mirror"), tr("Mirror it again"), box);
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
  QTableView* table = fieldTable(model, QStringLiteral("car.parts"), this);
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
  // What lies in boxes is no part of the drawing, and takes its place.
  drawing_->setVisible(page != Page::boxes);
  refresh();
  Q_EMIT undoStackChanged();
}

QUndoStack& CarWorkspace::undoStack() {
  return pages_ && pages_->currentIndex() == static_cast<int>(Page::boxes) ? boxes_.undoStack()
                                                                           : editor_.document().undoStack();
}

void CarWorkspace::showFrom(PointsView::From from) {
  from_->setCurrent(static_cast<int>(from));
  view_->setFrom(from);
}

void CarWorkspace::askForOwn() {
  ownName_->setFocus(Qt::OtherFocusReason);
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
  // A reading that comes into hand is shown where it is seen; the view is the hand's again after that.
  const auto& shown = editor_.shownReading();
  if (shown.has_value() != lookedFor_.has_value() || (shown && !shown->same_place(*lookedFor_))) {
    lookedFor_ = shown;
    if (shown) showFrom(PointsView::bestFor(car, *shown, view_->from()));
  }
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
  adjusters_->refresh();
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
  entry(tr("Car: my boxes"), Page::boxes);
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
