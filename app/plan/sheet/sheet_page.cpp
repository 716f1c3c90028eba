#include "app/plan/sheet/sheet_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCompleter>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr const char* committed = "committed";

/// Chooses what a field stands for; a few letters find it.
class PlaceDelegate : public QStyledItemDelegate {
 public:
  PlaceDelegate(const SheetModel& model, QObject* parent) : QStyledItemDelegate(parent), model_(model) {}

  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    if (index.column() != SheetModel::place) return QStyledItemDelegate::createEditor(parent, option, index);
    auto* box = new QComboBox(parent);
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    box->setMaxVisibleItems(16);
    for (const SheetModel::Choice& c : model_.choices(model_.fieldOf(index.row()))) box->addItem(c.text);
    box->completer()->setFilterMode(Qt::MatchContains);
    box->completer()->setCompletionMode(QCompleter::PopupCompletion);
    // Return commits by itself; a choice by the pointer does here, once that is known.
    connect(box, &QComboBox::activated, box, [this, box] {
      QTimer::singleShot(0, box, [this, box] {
        if (box->property(committed).toBool()) return;
        auto* self = const_cast<PlaceDelegate*>(this);
        Q_EMIT self->commitData(box);
        Q_EMIT self->closeEditor(box);
      });
    });
    return box;
  }
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    auto* box = qobject_cast<QComboBox*>(editor);
    if (!box) return QStyledItemDelegate::setEditorData(editor, index);
    box->setCurrentText(index.data(Qt::EditRole).toString());
    box->lineEdit()->selectAll();
  }
  void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override {
    auto* box = qobject_cast<QComboBox*>(editor);
    if (!box) return QStyledItemDelegate::setModelData(editor, model, index);
    box->setProperty(committed, true);
    model->setData(index, box->currentText());
  }

 private:
  const SheetModel& model_;
};

}  // namespace

SheetPage::SheetPage(PlanModel& model, QWidget* parent) : QFrame(parent), work_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("sheet"));
  askSheetPath = [this] {
    return QFileDialog::getOpenFileName(this, tr("A filled-in setup sheet"), {},
                                        tr("Sheets (*.pdf *.png *.jpg *.jpeg)"));
  };
  askFilledPath = [this](const QString& suggestion) {
    return QFileDialog::getSaveFileName(this, tr("The sheet, filled in"), suggestion, QStringLiteral("*.pdf"));
  };
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(8, 2, 8, 4);
  across->setSpacing(12);
  auto* paper = new QVBoxLayout;
  paper->setSpacing(4);
  auto* tools = new QHBoxLayout;
  const auto button = [&](const QString& name, const QString& text) {
    auto* b = new QPushButton(text, this);
    b->setObjectName(name);
    b->setMinimumHeight(targetHeight);
    return b;
  };
  auto* open = button(QStringLiteral("sheet.open"), tr("Open a sheet..."));
  connect(open, &QPushButton::clicked, this, [this] {
    if (const QString path = askSheetPath(); !path.isEmpty()) work_.open(path);
  });
  view_ = new SheetView(work_, this);
  auto* nearer = button(QStringLiteral("sheet.nearer"), tr("+"));
  nearer->setAccessibleName(tr("The sheet nearer"));
  auto* further = button(QStringLiteral("sheet.further"), tr("\u2212"));
  further->setAccessibleName(tr("The sheet further away"));
  auto* fit = button(QStringLiteral("sheet.fit"), tr("Fit"));
  for (QPushButton* b : {nearer, further}) b->setFixedWidth(targetHeight + 4);
  constexpr double step = 1.4;
  connect(nearer, &QPushButton::clicked, view_, [this] { view_->magnify(step); });
  connect(further, &QPushButton::clicked, view_, [this] { view_->magnify(1.0 / step); });
  connect(fit, &QPushButton::clicked, view_, &SheetView::fit);
  tools->addWidget(open);
  tools->addStretch(1);
  for (QPushButton* b : {further, nearer, fit}) tools->addWidget(b);
  paper->addLayout(tools);
  paper->addWidget(view_, 1);
  across->addLayout(paper, 5);

  auto* column = new QVBoxLayout;
  column->setSpacing(4);
  auto* above = new QHBoxLayout;
  rest_ = new Segmented(QStringLiteral("sheet.rest"), {tr("as in the kit"), tr("as now")}, this);
  rest_->setToolTip(tr("Parts that the sheet does not name"));
  connect(rest_, &Segmented::chosen, this, [this](int i) { work_.setRestStays(i == 1); });
  auto* restLabel = new QLabel(tr("What it does not name:"), this);
  restLabel->setFont(textFont(labelSize));
  onlyFilled_ = new QCheckBox(tr("only what is filled in"), this);
  onlyFilled_->setObjectName(QStringLiteral("sheet.onlyFilled"));
  onlyFilled_->setChecked(true);
  above->addWidget(restLabel);
  above->addWidget(rest_);
  above->addStretch(1);
  above->addWidget(onlyFilled_);
  column->addLayout(above);
  rows_ = new SheetModel(work_, this);
  connect(onlyFilled_, &QCheckBox::toggled, rows_, &SheetModel::setOnlyFilled);
  table_ = new QTableView(this);
  table_->setObjectName(QStringLiteral("sheet.table"));
  table_->setAccessibleName(tr("The fields of the sheet"));
  table_->setModel(rows_);
  table_->setItemDelegate(new PlaceDelegate(*rows_, table_));
  table_->setFrameShape(QFrame::NoFrame);
  table_->setShowGrid(false);
  table_->setAlternatingRowColors(true);
  table_->setWordWrap(true);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::SelectedClicked |
                          QAbstractItemView::EditKeyPressed | QAbstractItemView::AnyKeyPressed);
  table_->verticalHeader()->hide();
  table_->horizontalHeader()->setHighlightSections(false);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(SheetModel::says, QHeaderView::Interactive);
  table_->setColumnWidth(SheetModel::says, 96);
  table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
          [this](const QModelIndex& now) { view_->showField(rows_->fieldOf(now.row())); });
  column->addWidget(table_, 1);
  auto* foot = new QHBoxLayout;
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("sheet.news"));
  news_->setTextFormat(Qt::PlainText);
  news_->setWordWrap(true);
  next_ = button(QStringLiteral("sheet.next"), tr("Next question"));
  next_->setToolTip(tr("The next field that was not taken as it stands, or that the model reads otherwise"));
  connect(next_, &QPushButton::clicked, this, [this] { choose(nextQuestion()); });
  take_ = button(QStringLiteral("sheet.take"), tr("Take it over"));
  take_->setToolTip(tr("Into the setup at work, as one edit"));
  fill_ = button(QStringLiteral("sheet.fill"), tr("Fill it in..."));
  fill_->setToolTip(tr("The same form with the setup at work, saved as a PDF"));
  connect(take_, &QPushButton::clicked, this, [this] {
    if (work_.take())
      Q_EMIT told(tr("%1 was taken over as one change: Undo brings back what was.")
                      .arg(QFileInfo(work_.file().path).fileName()));
  });
  connect(fill_, &QPushButton::clicked, this, [this] {
    const QString name = QFileInfo(work_.file().path).completeBaseName() + tr("-filled.pdf");
    if (const QString path = askFilledPath(name); !path.isEmpty()) work_.fill(path);
  });
  foot->addWidget(news_, 1);
  foot->addWidget(next_);
  foot->addWidget(fill_);
  foot->addWidget(take_);
  column->addLayout(foot);
  across->addLayout(column, 6);

  connect(view_, &SheetView::fieldChosen, this, &SheetPage::choose);
  connect(view_, &SheetView::placeChosen, this, [this](int page, const QPointF& at) {
    work_.setPlace(rows_->fieldOf(table_->currentIndex().row()), page, at);
    table_->setFocus();
  });
  connect(&work_, &SheetWork::changed, this, &SheetPage::tell);
  connect(&work_, &SheetWork::opened, this, [this] { table_->resizeRowsToContents(); });
  connect(&work_, &SheetWork::failed, this, &SheetPage::failed);
  connect(&work_, &SheetWork::told, this, &SheetPage::told);
  connect(&model.document(), &Document::inputsChanged, this, [this] {
    if (isVisible()) work_.refresh();
  });
  for (const auto signal : {&Document::replaced, &Document::carEdited})
    connect(&model.document(), signal, this, [this] {
      if (isVisible()) work_.refresh();
    });
  tell();
}

void SheetPage::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  work_.refresh();
}

void SheetPage::choose(int field) {
  if (rows_->rowOf(field) < 0) onlyFilled_->setChecked(false);
  if (const int row = rows_->rowOf(field); row >= 0) {
    table_->setCurrentIndex(rows_->index(row, SheetModel::place));
    table_->setFocus();
  }
}

int SheetPage::nextQuestion() const {
  if (!work_.isOpen() || !work_.taken()) return -1;
  const int now = rows_->fieldOf(table_->currentIndex().row());
  const auto& lines = work_.taken()->lines;
  const int count = static_cast<int>(lines.size());
  for (int k = 1; k <= count; ++k) {
    const int i = (now + k + count) % count;
    const SheetLine& line = lines[at(i)];
    if (line.contradicts || line.outcome == SheetOutcome::refused || line.outcome == SheetOutcome::nearest) return i;
  }
  return -1;
}

void SheetPage::tell() {
  const bool open = work_.isOpen();
  const bool picture = open && work_.isPicture();
  take_->setEnabled(open && work_.taken() && work_.taken()->taken > 0);
  fill_->setEnabled(open && !picture && work_.taken());
  next_->setEnabled(nextQuestion() >= 0);
  onlyFilled_->setVisible(!picture);
  table_->setColumnHidden(SheetModel::place, picture);
  rest_->setEnabled(open);
  if (!open) {
    news_->setText(
        tr("Its fields are matched to the parts of this car once, and remembered for every sheet of that kind."));
    return;
  }
  if (!work_.taken()) {
    news_->setText(tr("The car cannot stand as it is set up: nothing can be read off it."));
    return;
  }
  const TakenSheet& t = *work_.taken();
  QStringList told{tr("%1 taken").arg(t.taken)};
  const auto count = [&](SheetOutcome outcome) {
    return std::count_if(t.lines.begin(), t.lines.end(), [&](const SheetLine& l) { return l.outcome == outcome; });
  };
  if (const auto n = count(SheetOutcome::kept); n > 0) told << tr("%1 noted").arg(n);
  if (const auto n = count(SheetOutcome::refused); n > 0) told << tr("%1 not possible on this car").arg(n);
  if (t.contradictions > 0) told << tr("%1 against what the model reads").arg(t.contradictions);
  told << tr("%1 parts not named").arg(t.not_named.size());
  QString text = told.join(QStringLiteral(", ")) + QLatin1Char('.');
  if (picture)
    text += tr(" Type what you read; a click on the paper says where.");
  else if (work_.remembered())
    text += tr(" Matched as last time.");
  news_->setText(text);
}

}  // namespace lowkite::app
