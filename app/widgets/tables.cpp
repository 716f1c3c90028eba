#include "app/widgets/tables.h"

#include <QHeaderView>
#include <QTableWidget>

#include "app/look/theme.h"
#include "core/linkage/at.hpp"

namespace lowkite::app {

void dressTable(QTableWidget& table, const std::vector<TableColumn>& columns) {
  table.setColumnCount(static_cast<int>(columns.size()));
  table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  table.setFrameShape(QFrame::NoFrame);
  table.verticalHeader()->hide();
  table.setShowGrid(false);
  table.setEditTriggers(QAbstractItemView::NoEditTriggers);
  table.setSelectionBehavior(QAbstractItemView::SelectRows);
  table.setSelectionMode(QAbstractItemView::SingleSelection);
  QHeaderView* header = table.horizontalHeader();
  header->setFont(textFont(labelSize, true));
  header->setHighlightSections(false);
  header->setSectionsClickable(false);
  for (int i = 0; i < table.columnCount(); ++i) {
    const TableColumn& c = columns[at(i)];
    table.setHorizontalHeaderItem(i, new QTableWidgetItem(c.title));
    table.horizontalHeaderItem(i)->setTextAlignment(c.alignment | Qt::AlignVCenter);
    header->setSectionResizeMode(i, c.width == 0 ? QHeaderView::Stretch : QHeaderView::Fixed);
    // Never narrower than its title, which is longer in other languages.
    if (c.width > 0) header->resizeSection(i, std::max(c.width, header->fontMetrics().horizontalAdvance(c.title) + 14));
  }
}

}  // namespace lowkite::app
