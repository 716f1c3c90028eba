#include "app/paper/sheet.h"

#include <QBuffer>
#include <QCoreApplication>
#include <QPageLayout>
#include <QPdfWriter>
#include <QPrinter>
#include <QTextDocument>
#include <QUrl>

#include "app/background/in_background.h"
#include "app/document/write_file.h"
#include "app/look/theme.h"

namespace lowkite::app {
namespace {

constexpr int screenDpi = 96;  // sizes in the text are pixels of a screen
constexpr QMarginsF margins{12, 12, 12, 12};

void fill(QTextDocument& document, const Sheet& sheet) {
  document.setDefaultFont(textFont(12));
  document.setDocumentMargin(0);
  for (const auto& [name, drawing] : sheet.drawings)
    document.addResource(QTextDocument::ImageResource, QUrl(name), drawing);
  document.setHtml(sheet.html);
}

QByteArray asPdf(const Sheet& sheet, const QPageLayout& layout) {
  QTextDocument document;
  fill(document, sheet);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  QPdfWriter pdf(&buffer);
  pdf.setTitle(sheet.title);
  pdf.setPageLayout(layout);
  pdf.setResolution(screenDpi);
  document.setPageSize(QSizeF(pdf.width(), pdf.height()));
  document.print(&pdf);
  return bytes;
}

/// Whether the printer took it.
bool printed(const Sheet& sheet, QPrinter& printer) {
  QTextDocument document;
  fill(document, sheet);
  // The document is laid out for its own screen's dots and scaled by itself to the printer's.
  const QSizeF points = printer.pageLayout().paintRect(QPageLayout::Point).size();
  document.setPageSize(points * screenDpi / 72.0);
  document.print(&printer);
  return printer.printerState() != QPrinter::Error && printer.printerState() != QPrinter::Aborted;
}

/// The line that says what became of it.
QString printedWhere(const Sheet& sheet, QPrinter& printer) {
  const auto tr = [](const char* text) { return QCoreApplication::translate("Sheet", text); };
  // A file is replaced as a whole, like every other that we write.
  if (const QString file = printer.outputFileName(); !file.isEmpty())
    return toldOf(writeFile(file, asPdf(sheet, printer.pageLayout())), file);
  if (printer.outputFormat() == QPrinter::PdfFormat)
    return tr("Nothing was printed: no printer is set up on this computer. Export the sheet as PDF instead.");
  if (!printed(sheet, printer))
    return tr("Nothing was printed: %1 did not take the sheet. See that it is on and connected, or export it as PDF.")
        .arg(printer.printerName());
  return tr("Sent to %1: %2").arg(printer.printerName(), sheet.title);
}

QString ruledRow(const QString& tag, const SheetRow& row, const QList<int>& leftward, const QList<int>& widths) {
  QString html;
  for (int i = 0; i < row.cells.size(); ++i) {
    QString cell = row.cells[i].isEmpty() ? QStringLiteral("&nbsp;") : row.cells[i];
    if (row.strong) cell = QStringLiteral("<b>%1</b>").arg(cell);
    QString how = leftward.contains(i) ? QStringLiteral("align='left'") : QStringLiteral("align='right'");
    if (i < widths.size() && widths[i] > 0) how += QStringLiteral(" width='%1%'").arg(widths[i]);
    // What begins at the left keeps off what ends before it.
    const bool apart = leftward.contains(i) && i > 0 && !leftward.contains(i - 1);
    html += QStringLiteral("<%1 %2 style='border-bottom:0.5px solid #999%4'>%3</%1>")
                .arg(tag, how, cell, apart ? QStringLiteral("; padding-left:12px") : QString());
  }
  return QStringLiteral("<tr>%1</tr>").arg(html);
}

}  // namespace

QString ruledTable(const QStringList& head, const std::vector<SheetRow>& rows, const QList<int>& leftward,
                   const QList<int>& widths) {
  QString html;
  for (const SheetRow& row : rows) html += ruledRow(QStringLiteral("td"), row, leftward, widths);
  return QStringLiteral(
             "<table width='100%' cellspacing='0' cellpadding='3' style='border-collapse:collapse'>"
             "<thead>%1</thead>%2</table>")
      .arg(ruledRow(QStringLiteral("th"), {head}, leftward, widths), html);
}

tl::expected<void, Fault> writePdf(const Sheet& sheet, QPageSize::PageSizeId page, const QString& path) {
  return writeFile(path, asPdf(sheet, {QPageSize(page), QPageLayout::Portrait, margins, QPageLayout::Millimeter}));
}

void print(Sheet sheet, std::shared_ptr<QPrinter> printer, QObject* owner, std::function<void(const QString&)> tell) {
  printer->setDocName(sheet.title);
  printer->setPageMargins(margins, QPageLayout::Millimeter);
  doElsewhere([sheet = std::move(sheet), printer = std::move(printer),
               told = toldInWindow<QString>(owner, std::move(tell))] { told(printedWhere(sheet, *printer)); });
}

}  // namespace lowkite::app
