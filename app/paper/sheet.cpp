#include "app/paper/sheet.h"

#include <QBuffer>
#include <QPageLayout>
#include <QPdfWriter>
#include <QPrinter>
#include <QTextDocument>
#include <QUrl>

#include "app/background/workers.h"
#include "app/document/write_file.h"
#include "app/look/theme.h"

namespace lowkite::app {
namespace {

constexpr int screenDpi = 96;  // sizes in the text are pixels of a screen

void fill(QTextDocument& document, const Sheet& sheet) {
  document.setDefaultFont(textFont(12));
  document.setDocumentMargin(0);
  for (const auto& [name, drawing] : sheet.drawings)
    document.addResource(QTextDocument::ImageResource, QUrl(name), drawing);
  document.setHtml(sheet.html);
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
  QTextDocument document;
  fill(document, sheet);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  {
    QPdfWriter pdf(&buffer);
    pdf.setTitle(sheet.title);
    pdf.setPageSize(QPageSize(page));
    pdf.setPageMargins(QMarginsF(12, 12, 12, 12), QPageLayout::Millimeter);
    pdf.setResolution(screenDpi);
    document.setPageSize(QSizeF(pdf.width(), pdf.height()));
    document.print(&pdf);
  }
  return writeFile(path, bytes);
}

void print(Sheet sheet, std::shared_ptr<QPrinter> printer) {
  printer->setDocName(sheet.title);
  printer->setPageMargins(QMarginsF(12, 12, 12, 12), QPageLayout::Millimeter);
  doElsewhere([sheet = std::move(sheet), printer = std::move(printer)] {
    QTextDocument document;
    fill(document, sheet);
    // The document is laid out for its own screen's dots and scaled by itself to the printer's.
    const QSizeF points = printer->pageLayout().paintRect(QPageLayout::Point).size();
    document.setPageSize(points * screenDpi / 72.0);
    document.print(printer.get());
  });
}

}  // namespace lowkite::app
