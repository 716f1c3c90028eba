// Tables that are read, not edited: rows to choose from, one column that takes what room there is.
#pragma once

#include <vector>

#include <QStringList>

class QTableWidget;

namespace lowkite::app {

struct TableColumn {
  QString title;
  int width = 0;  ///< pixels; 0: takes the room that is left
  Qt::Alignment alignment = Qt::AlignLeft;
};

void dressTable(QTableWidget& table, const std::vector<TableColumn>& columns);

}  // namespace lowkite::app
