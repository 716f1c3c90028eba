#include "app/plan/search/setups_panel.h"

#include <functional>

#include <QEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/document/open_files.h"
#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"
#include "core/io/car_edit.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/difference.hpp"

namespace lowkite::app {

SetupsPanel::SetupsPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("setups"));
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(8, 2, 8, 4);
  across->setSpacing(12);
  tree_ = new QTreeWidget(this);
  tree_->setObjectName(QStringLiteral("setups.tree"));
  tree_->setHeaderLabels({tr("Setup"), tr("Date"), tr("parts")});
  tree_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  tree_->header()->setSectionResizeMode(1, QHeaderView::Fixed);
  tree_->header()->setSectionResizeMode(2, QHeaderView::Fixed);
  tree_->header()->setStretchLastSection(false);
  tree_->header()->resizeSection(1, 96);
  tree_->header()->resizeSection(2, 52);
  tree_->setIndentation(16);
  tree_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(tree_, &QTreeWidget::currentItemChanged, this, &SetupsPanel::showChosen);
  auto* family = new QVBoxLayout;
  family->addWidget(tree_, 1);
  left_ = new QLabel(this);
  left_->setObjectName(QStringLiteral("setups.left"));
  left_->setTextFormat(Qt::PlainText);
  left_->setWordWrap(true);
  family->addWidget(left_);
  across->addLayout(family, 4);
  auto* column = new QVBoxLayout;
  column->setSpacing(5);
  across->addLayout(column, 3);
  const auto field = [&](const QString& name, const QString& hint) {
    auto* line = new QLineEdit(this);
    line->setObjectName(name);
    line->setPlaceholderText(hint);
    line->setAccessibleName(hint);
    line->setMinimumHeight(targetHeight);
    connect(line, &QLineEdit::editingFinished, this, &SetupsPanel::keepWords);
    return line;
  };
  name_ = field(QStringLiteral("setups.name"), tr("Name"));
  date_ = field(QStringLiteral("setups.date"), tr("Date"));
  track_ = field(QStringLiteral("setups.track"), tr("Track"));
  date_->setFixedWidth(112);
  auto* words = new QHBoxLayout;
  words->addWidget(name_, 1);
  words->addWidget(date_);
  column->addLayout(words);
  column->addWidget(track_);
  why_ = new QPlainTextEdit(this);
  why_->setObjectName(QStringLiteral("setups.why"));
  why_->setPlaceholderText(tr("Why it was made, and how it drove"));
  why_->setAccessibleName(tr("Why it was made"));
  why_->setTabChangesFocus(true);
  why_->setMinimumHeight(40);
  why_->installEventFilter(this);
  noted_ = new QTableWidget(this);
  noted_->setObjectName(QStringLiteral("setups.noted"));
  dressTable(*noted_, {{tr("What"), 130}, {tr("Also noted: no part of the car")}});
  noted_->setAccessibleName(tr("Also noted with this setup"));
  noted_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::SelectedClicked |
                          QAbstractItemView::EditKeyPressed | QAbstractItemView::AnyKeyPressed);
  connect(noted_, &QTableWidget::itemChanged, this, &SetupsPanel::keepNoted, Qt::QueuedConnection);
  words_ = new Segmented(QStringLiteral("setups.words"), {tr("Why"), tr("Also noted")}, this);
  auto* pages = new QStackedWidget(this);
  pages->addWidget(why_);
  pages->addWidget(noted_);
  connect(words_, &Segmented::chosen, this, [this, pages](int i) {
    words_->setCurrent(i);
    pages->setCurrentIndex(i);
  });
  column->addWidget(words_, 0, Qt::AlignLeft);
  column->addWidget(pages, 1);
  against_ = new QLabel(this);
  against_->setObjectName(QStringLiteral("setups.against"));
  against_->setFont(textFont(labelSize, true));
  auto* differences = new QVBoxLayout;
  across->addLayout(differences, 4);
  differences->addWidget(against_);
  changes_ = new QTableWidget(this);
  changes_->setObjectName(QStringLiteral("setups.changes"));
  dressTable(*changes_, {{tr("Part")}, {tr("was"), 130, Qt::AlignRight}, {tr("is"), 130, Qt::AlignRight}});
  connect(changes_, &QTableWidget::currentCellChanged, this, &SetupsPanel::showHistory);
  differences->addWidget(changes_, 1);
  history_ = new QLabel(this);
  history_->setObjectName(QStringLiteral("setups.history"));
  history_->setWordWrap(true);
  differences->addWidget(history_);
  const auto button = [&](const QString& name, const QString& text) {
    auto* b = new QPushButton(text, this);
    b->setObjectName(name);
    b->setMinimumHeight(40);
    return b;
  };
  open_ = button(QStringLiteral("setups.open"), tr("Open"));
  compare_ = button(QStringLiteral("setups.compare"), tr("Compare"));
  baseline_ = button(QStringLiteral("setups.baseline"), tr("Pin as baseline"));
  connect(open_, &QPushButton::clicked, this, [this] {
    const FamilyMember& m = family_[at(chosen())];
    Q_EMIT openWanted(m.path.empty() ? model_.document().state().carPath : QString::fromStdString(m.path.string()));
  });
  connect(compare_, &QPushButton::clicked, this,
          [this] { Q_EMIT compareWanted(QString::fromStdString(family_[at(chosen())].path.string())); });
  connect(baseline_, &QPushButton::clicked, this,
          [this] { model_.document().putBaseline(setupOf(chosen()), tr("Pin baseline")); });
  auto* buttons = new QHBoxLayout;
  for (QPushButton* b : {open_, compare_, baseline_}) buttons->addWidget(b);
  column->addLayout(buttons);
  connect(&model_.document(), &Document::fileChanged, this, &SetupsPanel::readFamily);
  connect(&model_.document(), &Document::replaced, this, &SetupsPanel::readFamily);
  connect(&model_.document(), &Document::inputsChanged, this, [this] {
    if (isVisible()) showChosen();
  });
}

void SetupsPanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  readFamily();
}

void SetupsPanel::readFamily() {
  if (!isVisible() || !model_.document().hasCar()) return;
  const Document& d = model_.document();
  family_ = setup_family(d.car(), setupFolders(d.state()));
  const auto open = std::filesystem::weakly_canonical(d.state().setupPath.toStdString());
  atWork_ = d.state().setupPath.isEmpty() ? 0 : -1;
  for (std::size_t i = 1; i < family_.size(); ++i)
    if (!d.state().setupPath.isEmpty() && family_[i].path == open) atWork_ = static_cast<int>(i);
  const QSignalBlocker quiet(tree_);
  tree_->clear();
  std::vector<QTreeWidgetItem*> items;
  for (std::size_t i = 0; i < family_.size(); ++i) {
    const FamilyMember& m = family_[i];
    auto* item = m.parent < 0 ? new QTreeWidgetItem(tree_) : new QTreeWidgetItem(items[at(m.parent)]);
    const bool open_here = static_cast<int>(i) == atWork_;
    item->setText(0, (open_here ? QStringLiteral("\u25C6 ") : QString()) + QString::fromStdString(m.setup.name));
    item->setText(1, QString::fromStdString(m.setup.date));
    if (m.parent >= 0)
      item->setText(2, QString::number(
                           differing_parts(d.car(), family_[at(m.parent)].setup, setupOf(static_cast<int>(i))).size()));
    item->setToolTip(0, QString::fromStdString(m.setup.notes));
    item->setData(0, Qt::UserRole, static_cast<int>(i));
    item->setSizeHint(0, QSize(0, 28));
    if (open_here) item->setFont(0, textFont(textSize, true));
    items.push_back(item);
  }
  const Faults left = setups_that_do_not_fit(d.car(), setupFolders(d.state()));
  left_->setVisible(!left.empty());
  QStringList lines;
  for (const Fault& f : left) lines << QString::fromStdString(in_words(f, d.state().carSource).line());
  left_->setText(left.empty() ? QString()
                              : tr("Does not fit the car as it is now: %1").arg(lines.front()) +
                                    (lines.size() > 1 ? tr(" And %1 more.").arg(lines.size() - 1) : QString()));
  left_->setToolTip(lines.join(QLatin1Char('\n')));
  tree_->expandAll();
  tree_->setCurrentItem(items[at(std::max(0, atWork_))]);
  showChosen();
}

int SetupsPanel::chosen() const {
  const QTreeWidgetItem* item = tree_->currentItem();
  return item ? item->data(0, Qt::UserRole).toInt() : -1;
}

bool SetupsPanel::chosenIsAtWork() const {
  return chosen() >= 0 && chosen() == atWork_;
}

const Setup& SetupsPanel::setupOf(int member) const {
  return member == atWork_ ? model_.document().setup() : family_[at(member)].setup;
}

void SetupsPanel::showChosen() {
  const int member = chosen();
  if (member < 0 || !model_.document().hasCar()) return;
  const Car& car = model_.document().car();
  const Setup& setup = setupOf(member);
  const bool mine = chosenIsAtWork();
  for (const auto& [line, text] :
       {std::pair(name_, &setup.name), std::pair(date_, &setup.date), std::pair(track_, &setup.track)}) {
    const QSignalBlocker quiet(line);
    if (line->text().toStdString() != *text) line->setText(QString::fromStdString(*text));
    line->setReadOnly(!mine);
  }
  if (why_->toPlainText().toStdString() != setup.notes) why_->setPlainText(QString::fromStdString(setup.notes));
  why_->setReadOnly(!mine);
  showNoted(setup, mine);
  open_->setEnabled(!mine);
  // The kit at work is compared with the kit as it came.
  const int parent = member == 0 && mine ? 0 : family_[at(member)].parent;
  changed_.clear();
  const QSignalBlocker quiet(changes_);
  changes_->setRowCount(0);
  history_->clear();
  if (parent < 0) {
    against_->setText(tr("The kit: where every setup of this car starts."));
    return;
  }
  const Setup& from = family_[at(parent)].setup;
  changed_ = differing_parts(car, from, setup);
  against_->setText(
      tr("Against %1, parts that differ: %2").arg(QString::fromStdString(from.name)).arg(changed_.size()));
  changes_->setRowCount(static_cast<int>(changed_.size()));
  for (int row = 0; row < changes_->rowCount(); ++row) {
    const PartHandle i = changed_[at(row)];
    const Adjuster& a = car.adjusters[i];
    const auto told = [&](const Setting& s) {
      return s.left == s.right ? valueText(a, s.left) : tr("%1 | %2").arg(valueText(a, s.left), valueText(a, s.right));
    };
    int at = 0;
    for (const QString& text : {partTitle(a), told(from.of(i)), told(setup.of(i))}) {
      auto* item = new QTableWidgetItem(text);
      item->setFont(at == 0 ? textFont(12) : figureFont(12));
      item->setTextAlignment((at == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setToolTip(text);
      changes_->setItem(row, at++, item);
    }
  }
  changes_->resizeRowsToContents();
  changes_->setCurrentCell(-1, -1);
}

void SetupsPanel::showNoted(const Setup& setup, bool mine) {
  const QSignalBlocker quiet(noted_);
  // An empty line at the end takes what is added.
  noted_->setRowCount(static_cast<int>(setup.noted.size()) + (mine ? 1 : 0));
  for (int row = 0; row < noted_->rowCount(); ++row) {
    const bool there = row < static_cast<int>(setup.noted.size());
    const NotedField n = there ? setup.noted[at(row)] : NotedField{};
    for (int c = 0; c < 2; ++c) {
      auto* item = new QTableWidgetItem(QString::fromStdString(c == 0 ? n.name : n.text));
      item->setFont(textFont(12));
      item->setToolTip(item->text());
      item->setFlags(mine ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
      noted_->setItem(row, c, item);
    }
  }
  words_->setLabel(1, setup.noted.empty() ? tr("Also noted") : tr("Also noted: %1").arg(setup.noted.size()));
}

void SetupsPanel::keepNoted() {
  if (!chosenIsAtWork()) return;
  Setup setup = model_.document().setup();
  std::vector<NotedField> noted;
  for (int row = 0; row < noted_->rowCount(); ++row) {
    const auto cell = [&](int c) {
      const QTableWidgetItem* item = noted_->item(row, c);
      return item ? item->text().trimmed() : QString();
    };
    const QString name = cell(0).left(static_cast<int>(longest_noted_name) / 2);
    const QString text = cell(1).left(static_cast<int>(longest_noted_text) / 4);
    // Half a line waits for its other half; a text without a name would have none to be found by.
    if (name.isEmpty() || text.isEmpty() || noted.size() >= most_noted) continue;
    const bool known =
        std::any_of(noted.begin(), noted.end(), [&](const NotedField& n) { return n.name == name.toStdString(); });
    if (!known) noted.push_back({name.toStdString(), text.toStdString()});
  }
  if (noted == setup.noted) return;
  setup.noted = std::move(noted);
  model_.document().putSetup(setup, tr("Also noted"));
}

void SetupsPanel::showHistory() {
  const int row = changes_->currentRow();
  if (row < 0 || row >= static_cast<int>(changed_.size())) return;
  const PartHandle i = changed_[at(row)];
  const Adjuster& a = model_.document().car().adjusters[i];
  QStringList steps;
  for (const int member : line_to(family_, chosen()))
    steps << tr("%1 %2").arg(QString::fromStdString(family_[at(member)].setup.name),
                             valueText(a, setupOf(member).of(i).left));
  if (chosenIsAtWork() && chosen() == 0)
    steps = QStringList{tr("Kit %1").arg(valueText(a, a.kit)), tr("now %1").arg(valueText(a, setupOf(0).of(i).left))};
  history_->setText(tr("%1: %2").arg(partTitle(a), steps.join(QStringLiteral(" \u2192 "))));
}

void SetupsPanel::keepWords() {
  if (!chosenIsAtWork()) return;
  Setup setup = model_.document().setup();
  if (const QString name = name_->text().trimmed(); !name.isEmpty()) setup.name = name.toStdString();
  setup.date = date_->text().trimmed().toStdString();
  setup.track = track_->text().trimmed().toStdString();
  setup.notes = why_->toPlainText().toStdString();
  model_.document().putSetup(setup, tr("Name and notes"));
}

bool SetupsPanel::eventFilter(QObject* watched, QEvent* event) {
  if (watched == why_ && event->type() == QEvent::FocusOut) keepWords();
  return QFrame::eventFilter(watched, event);
}

}  // namespace lowkite::app
