#include "app/paper/sheet.h"

#include <QBuffer>
#include <QPageLayout>
#include <QPdfWriter>
#include <QPrinter>
#include <QTextDocument>
#include <QUrl>

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

}  // namespace

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

void print(const Sheet& sheet, QPrinter& printer) {
  QTextDocument document;
  fill(document, sheet);
  printer.setDocName(sheet.title);
  printer.setPageMargins(QMarginsF(12, 12, 12, 12), QPageLayout::Millimeter);
  // The document is laid out for its own screen's dots and scaled by itself to the printer's.
  const QSizeF points = printer.pageLayout().paintRect(QPageLayout::Point).size();
  document.setPageSize(points * screenDpi / 72.0);
  document.print(&printer);
}

}  // namespace lowkite::app
