// A sheet of paper: rich text with drawings, written as PDF or printed, always black on white.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <vector>

#include <QImage>
#include <QList>
#include <QPageSize>
#include <QString>
#include <QStringList>

#include "core/io/atomic_file.hpp"

class QObject;
class QPrinter;

namespace lowkite::app {

struct Sheet {
  QString title;
  QString html;
  std::map<QString, QImage> drawings;  ///< by the name under which the text shows them
};

struct SheetRow {
  QStringList cells;
  bool strong = false;
};

/// Rows ruled by hairlines, under a head that stands again on every page. `leftward`: the columns that begin at the
/// left; the others end at the right. `widths` in percent, 0: as wide as it needs.
QString ruledTable(const QStringList& head, const std::vector<SheetRow>& rows, const QList<int>& leftward,
                   const QList<int>& widths);

/// Writes the sheet as PDF; false when the file cannot be written, which is then left as it was.
tl::expected<void, Fault> writePdf(const Sheet& sheet, QPageSize::PageSizeId page, const QString& path);

/// Paints the sheet's pages on what a printing dialog was set to, elsewhere: laying out and painting several pages at a
/// printer's dots takes some tenths of a second. `tell` gets, in the window's thread, one line that says where it went
/// or why it did not; nothing once `owner` is gone. At the program's end the printing is waited for.
void print(Sheet sheet, std::shared_ptr<QPrinter> printer, QObject* owner, std::function<void(const QString&)> tell);

}  // namespace lowkite::app
