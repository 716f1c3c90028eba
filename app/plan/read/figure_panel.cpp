#include "app/plan/read/figure_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int figureRowHeight = 27;
constexpr int groupHeight = 22;

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
      p->setPen(t.ink);
      p->setFont(textFont(12));
      p->drawText(cell.adjusted(10, 0, -2, -12), Qt::AlignLeft | Qt::AlignVCenter, text);
      p->setPen(t.soft);
      p->setFont(textFont(labelSize));
      p->drawText(
          cell.adjusted(10, 13, -2, 0), Qt::AlignLeft | Qt::AlignVCenter,
          QStringList{index.data(FigureModel::unitRole).toString(), index.data(FigureModel::usualRole).toString()}
              .join(QStringLiteral("   "))
              .trimmed());
    } else {
      const QString difference = index.data(FigureModel::differenceRole).toString();
      const bool movedOne = !difference.isEmpty();
      p->setPen(index.column() == FigureModel::baseline ? t.base : movedOne ? t.kite : t.soft);
      if (text.contains(QLatin1Char('\n'))) {
        // Left over right; by how much each moved is in the tool tip and under "Left" and "Right".
        p->setFont(figureFont(labelSize, movedOne));
        p->drawText(cell.adjusted(2, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, text);
        if (movedOne)
          p->drawText(cell.adjusted(8, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("\u25C6"));
        p->restore();
        return;
      }
      p->setFont(figureFont(textSize, movedOne));
      p->drawText(cell.adjusted(2, 0, -8, movedOne ? -12 : 0), Qt::AlignRight | Qt::AlignVCenter, text);
      if (movedOne) {
        p->setFont(figureFont(labelSize));
        p->drawText(cell.adjusted(0, 13, -8, 0), Qt::AlignRight | Qt::AlignVCenter,
                    QStringLiteral("\u25C6 ") + difference);
      }
    }
    p->restore();
  }
};

}  // namespace

FigurePanel::FigurePanel(PlanModel& model, UsualRanges& usual, QWidget* parent)
    : QFrame(parent), model_(model), usual_(usual) {
  setProperty("panel", true);
  setObjectName(QStringLiteral("figures"));
  figures_ = new FigureModel(model, usual, this);
  table_ = new QTableView(this);
  table_->setObjectName(QStringLiteral("figures.table"));
  table_->setModel(figures_);
  table_->setItemDelegate(new FigureDelegate(table_));
  table_->setShowGrid(false);
  table_->setMinimumHeight(3 * figureRowHeight);  // where a list of faults takes the rest, it scrolls
  table_->verticalHeader()->hide();
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
       {std::pair(FigureModel::baseline, 72), std::pair(FigureModel::changed, 88), std::pair(FigureModel::reset, 92)}) {
    header->setSectionResizeMode(column, QHeaderView::Fixed);
    header->resizeSection(column, width);
  }
  header->setFont(textFont(labelSize, true));
  header->setFixedHeight(26);
  header->setHighlightSections(false);
  header->setSectionsClickable(false);
  header->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
  header->setStyleSheet(
      QStringLiteral("QHeaderView::section { background: transparent; border: none; padding-right: 8px; }"));
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
  foot->setContentsMargins(8, 0, 8, 2);
  foot->addWidget(usualFor_, 0, Qt::AlignLeft);
  column->addLayout(foot);
  connect(&usual_, &UsualRanges::changed, this, &FigurePanel::tellUsual);
  connect(&model_.document(), &Document::replaced, this, &FigurePanel::tellUsual);
  connect(&model_.document(), &Document::carEdited, this, &FigurePanel::tellUsual);
  tellUsual();
  const auto setHeights = [this] {
    table_->clearSpans();
    for (int row = 0; row < figures_->rowCount(); ++row) {
      const bool group = figures_->data(figures_->index(row, 0), FigureModel::groupRole).toBool();
      table_->setRowHeight(row, group ? groupHeight : figureRowHeight);
      if (group) table_->setSpan(row, 0, 1, FigureModel::columnCount_);
    }
  };
  connect(figures_, &QAbstractItemModel::modelReset, this, setHeights);
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
  usualFor_->setText(usual_.book().surfaces_for(car).empty() ? tr("No usual ranges for this class")
                     : on == Surface::unknown                ? tr("Usual ranges: not told")
                                              : tr("Usual ranges: %1").arg(fromCore(label_in(surfaces(), on))));
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
