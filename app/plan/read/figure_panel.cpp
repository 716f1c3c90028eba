#include "app/plan/read/figure_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int groupHeight = 26;
constexpr int baselineWidth = 70;
constexpr int labelMargins = 16;  ///< px beside a name, both sides together
constexpr int numberWidth = 82;
constexpr int lineHeight = 16;
constexpr int rowSpace = 6;  ///< above and below the lines of a row, together

/// Paints a value over its difference; a group's heading across the row.
class FigureDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Tokens& t = tokens(option.palette);
    const QRect cell = option.rect;
    p->save();
    if (option.state & QStyle::State_Selected) p->fillRect(cell, t.paper);
    const bool group = index.data(FigureModel::groupRole).toBool();
    const QString text = index.data().toString();
    if (group) {
      p->setPen(t.line);
      p->drawLine(cell.left(), cell.bottom(), cell.right(), cell.bottom());
      p->setPen(t.soft);
      p->setFont(textFont(labelSize, true));
      p->drawText(cell.adjusted(10, 4, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, text.toUpper());
    } else if (index.column() == FigureModel::label) {
      const QRect room = cell.adjusted(10, rowSpace / 2, -2, 0);
      const int high = nameHeight(text, room.width());
      p->setPen(t.ink);
      p->setFont(textFont(textSize));
      p->drawText(QRect(room.left(), room.top(), room.width(), high), Qt::AlignLeft | Qt::TextWordWrap, text);
      p->setPen(t.soft);
      p->setFont(textFont(labelSize));
      p->drawText(QRect(room.left(), room.top() + high, room.width(), 2 * lineHeight), Qt::AlignLeft | Qt::TextWordWrap,
                  unitAndUsual(index));
    } else {
      const QString difference = index.data(FigureModel::differenceRole).toString();
      const bool movedOne = !difference.isEmpty();
      p->setPen(index.column() == FigureModel::baseline ? t.base : movedOne ? t.kite : t.soft);
      if (text.contains(QLatin1Char('\n'))) {
        // Left over right; by how much each moved is in the tool tip and under "Left" and "Right".
        p->setFont(figureFont(labelSize, movedOne));
        p->drawText(cell.adjusted(2, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, text);
        if (movedOne) p->drawText(cell, Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("\u25C6"));
        p->restore();
        return;
      }
      const QRect room = cell.adjusted(0, rowSpace / 2, -8, 0);
      if (!movedOne && saysWhyNot(text)) {
        p->setFont(textFont(labelSize));
        p->drawText(QRect(room.left(), room.top(), room.width(), 2 * lineHeight), Qt::AlignRight | Qt::TextWordWrap,
                    text);
        p->restore();
        return;
      }
      p->setFont(figureFont(textSize, movedOne));
      p->drawText(QRect(room.left(), room.top(), room.width(), lineHeight), Qt::AlignRight, text);
      if (movedOne) {
        p->setFont(figureFont(labelSize));
        p->drawText(QRect(room.left(), room.top() + lineHeight, room.width(), lineHeight), Qt::AlignRight,
                    QStringLiteral("\u25C6 ") + difference);
      }
    }
    p->restore();
  }

  /// Of a row whose label has `width` px.
  static int rowHeight(const QModelIndex& label, int width) {
    const int room = width - 12;
    const QRect under =
        QFontMetrics(textFont(labelSize)).boundingRect(QRect(0, 0, room, 1000), Qt::TextWordWrap, unitAndUsual(label));
    const int lines = std::max(1, (under.height() + 4) / lineHeight);
    return std::max(2 * lineHeight, nameHeight(label.data().toString(), room) + lines * lineHeight) + rowSpace;
  }

 private:
  /// Words in the place of a number, which may take two lines.
  static bool saysWhyNot(const QString& text) {
    return std::none_of(text.begin(), text.end(), [](QChar c) { return c.isDigit(); });
  }
  static int nameHeight(const QString& name, int width) {
    const QRect box = QFontMetrics(textFont(textSize)).boundingRect(QRect(0, 0, width, 1000), Qt::TextWordWrap, name);
    return std::max(1, (box.height() + 4) / lineHeight) * lineHeight;
  }
  static QString unitAndUsual(const QModelIndex& label) {
    return QStringList{label.data(FigureModel::unitRole).toString(), label.data(FigureModel::usualRole).toString()}
        .join(QStringLiteral("  "))
        .trimmed();
  }
};

}  // namespace

FigurePanel::FigurePanel(PlanModel& model, UsualRanges& usual, QWidget* parent)
    : QFrame(parent), model_(model), usual_(usual) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("figures"));
  figures_ = new FigureModel(model, usual, this);
  table_ = new QTableView(this);
  table_->setObjectName(QStringLiteral("figures.table"));
  table_->setModel(figures_);
  table_->setItemDelegate(new FigureDelegate(table_));
  table_->setShowGrid(false);
  table_->setMinimumHeight(3 * (2 * lineHeight + rowSpace));  // where a list of faults takes the rest, it scrolls
  table_->verticalHeader()->hide();
  table_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);  // rows are as high as their names need at this width
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setFocusPolicy(Qt::TabFocus);
  table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                          QAbstractItemView::SelectedClicked);
  connect(figures_, &FigureModel::told, this, &FigurePanel::told);
  table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  QHeaderView* header = table_->horizontalHeader();
  header->setSectionResizeMode(FigureModel::label, QHeaderView::Stretch);
  for (const auto& [column, width] :
       {std::pair(FigureModel::baseline, baselineWidth), std::pair(FigureModel::changed, numberWidth),
        std::pair(FigureModel::reset, numberWidth)}) {
    header->setSectionResizeMode(column, QHeaderView::Fixed);
    const QString title = figures_->headerData(column, Qt::Horizontal).toString();
    header->resizeSection(column,
                          std::max(width, QFontMetrics(textFont(labelSize, true)).horizontalAdvance(title) + 16));
  }
  connect(header, &QHeaderView::sectionResized, this, [this](int column) {
    // Once the columns have their places.
    if (column == FigureModel::label) QMetaObject::invokeMethod(this, &FigurePanel::setHeights, Qt::QueuedConnection);
  });
  header->setFont(textFont(labelSize, true));
  header->setFixedHeight(26);
  header->setHighlightSections(false);
  header->setSectionsClickable(false);
  header->setProperty("inset", 7);
  header->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(1, 4, 1, 1);
  column->addWidget(table_);
  usualFor_ = new QToolButton(this);
  usualFor_->setObjectName(QStringLiteral("figures.usual"));
  usualFor_->setPopupMode(QToolButton::InstantPopup);
  usualFor_->setMinimumHeight(targetHeight);
  usualFor_->setToolTip(tr("What racers of this class usually have: common practice, no source. Yours may be others."));
  usualMenu_ = new QMenu(usualFor_);
  usualFor_->setMenu(usualMenu_);
  connect(usualMenu_, &QMenu::aboutToShow, this, &FigurePanel::fillUsual);
  auto* foot = new QHBoxLayout;
  foot->setContentsMargins(4, 0, 4, 2);
  pins_ = new QToolButton(this);
  pins_->setObjectName(QStringLiteral("figures.pins"));
  pins_->setText(tr("Pin \u25BE"));
  pins_->setProperty("quiet", true);
  pins_->setToolTip(tr("Which figures stand on top"));
  pins_->setPopupMode(QToolButton::InstantPopup);
  pinMenu_ = new QMenu(pins_);
  pins_->setMenu(pinMenu_);
  connect(pinMenu_, &QMenu::aboutToShow, this, &FigurePanel::fillPins);
  onlyMoved_ = new QToolButton(this);
  onlyMoved_->setObjectName(QStringLiteral("figures.onlyMoved"));
  onlyMoved_->setText(tr("Only moved"));
  onlyMoved_->setToolTip(tr("Leaves out what is as the baseline has it"));
  onlyMoved_->setCheckable(true);
  onlyMoved_->setProperty("quiet", true);
  connect(onlyMoved_, &QToolButton::toggled, this, &FigurePanel::hideWhatStayed);
  usualFor_->setProperty("quiet", true);
  foot->setSpacing(0);
  foot->addWidget(pins_);
  foot->addWidget(onlyMoved_);
  foot->addStretch(1);
  foot->addWidget(usualFor_);
  column->addLayout(foot);
  connect(&usual_, &UsualRanges::changed, this, &FigurePanel::tellUsual);
  connect(&model_.document(), &Document::replaced, this, &FigurePanel::tellUsual);
  connect(&model_.document(), &Document::carEdited, this, &FigurePanel::tellUsual);
  tellUsual();
  connect(figures_, &QAbstractItemModel::modelReset, this, &FigurePanel::setHeights);
  connect(figures_, &QAbstractItemModel::dataChanged, this, &FigurePanel::hideWhatStayed);
  connect(&usual_, &UsualRanges::changed, this, &FigurePanel::setHeights);
}

int FigurePanel::neededWidth() const {
  // A name is broken between words; its longest word has to stand whole.
  const QFontMetrics letters(textFont(textSize));
  int longest = 0;
  for (const FigureSpec& f : geometry_figures())
    for (const QString& part : fromCore(f.label).split(QLatin1Char(' ')))
      longest = std::max(longest, letters.horizontalAdvance(part));
  int numbers = 0;
  for (const int column : {FigureModel::baseline, FigureModel::changed, FigureModel::reset})
    numbers += table_->columnWidth(column);
  return longest + labelMargins + numbers + table_->verticalScrollBar()->sizeHint().width();
}

void FigurePanel::setHeights() {
  table_->clearSpans();
  const int label = table_->columnWidth(FigureModel::label);
  for (int row = 0; row < figures_->rowCount(); ++row) {
    const QModelIndex index = figures_->index(row, FigureModel::label);
    const bool group = index.data(FigureModel::groupRole).toBool();
    table_->setRowHeight(row, group ? groupHeight : FigureDelegate::rowHeight(index, label));
    if (group) table_->setSpan(row, 0, 1, FigureModel::columnCount_);
  }
  hideWhatStayed();
}

void FigurePanel::hideWhatStayed() {
  const bool only = onlyMoved_->isChecked();
  int heading = -1;
  bool any = false;
  const auto closeGroup = [&] {
    if (heading >= 0 && table_->isRowHidden(heading) != (only && !any)) table_->setRowHidden(heading, only && !any);
  };
  for (int row = 0; row < figures_->rowCount(); ++row) {
    if (figures_->index(row, 0).data(FigureModel::groupRole).toBool()) {
      closeGroup();
      heading = row;
      any = false;
      continue;
    }
    const bool moved = figures_->movedInRow(row);
    any = any || moved;
    if (table_->isRowHidden(row) != (only && !moved)) table_->setRowHidden(row, only && !moved);
  }
  closeGroup();
}

void FigurePanel::fillPins() {
  pinMenu_->clear();
  for (const FigureSpec* f : figures_->figures()) {
    const QString id = QString::fromLatin1(f->id.data(), static_cast<qsizetype>(f->id.size()));
    QAction* a = pinMenu_->addAction(figureLabel(*f));
    a->setCheckable(true);
    a->setChecked(figures_->pinned().contains(id));
    connect(a, &QAction::toggled, this, [this, id](bool on) {
      QStringList pinned = figures_->pinned();
      pinned.removeAll(id);
      if (on) pinned << id;
      figures_->setPinned(pinned);
    });
  }
}

void FigurePanel::edit(std::string_view figure) {
  const QModelIndex cell = figures_->index(figures_->rowOf(figure), FigureModel::changed);
  if (!(figures_->flags(cell) & Qt::ItemIsEditable)) return;
  table_->scrollTo(cell);
  table_->setFocus();
  table_->setCurrentIndex(cell);
  table_->edit(cell);
}

void FigurePanel::tellUsual() {
  if (!model_.document().hasCar()) return;
  const Car& car = model_.document().car();
  const Surface on = usual_.surface(car);
  usualFor_->setEnabled(!usual_.book().surfaces_for(car).empty());
  usualFor_->setText(usual_.book().surfaces_for(car).empty() ? tr("No usual ranges")
                     : on == Surface::unknown                ? tr("Usual: not told \u25BE")
                                              : tr("Usual: %1 \u25BE").arg(fromCore(label_in(surfaces(), on))));
}

void FigurePanel::fillUsual() {
  usualMenu_->clear();
  const Car& car = model_.document().car();
  const auto offer = [&](Surface surface, const QString& text) {
    QAction* a = usualMenu_->addAction(text, this, [this, surface] { usual_.setSurface(surface); });
    a->setCheckable(true);
    a->setChecked(usual_.surface(car) == surface);
  };
  for (const Surface s : usual_.book().surfaces_for(car)) offer(s, fromCore(label_in(surfaces(), s)));
  offer(Surface::unknown, tr("not told"));
  usualMenu_->addSeparator();
  usualMenu_->addAction(tr("Make a file of my own ..."), this, [this] {
    const QString wrong = usual_.makeOwn();
    Q_EMIT told(
        wrong.isEmpty()
            ? tr("Edit %1 and start again: your ranges then stand beside the figures.").arg(UsualRanges::ownPath())
            : wrong);
  });
}

}  // namespace lowkite::app
