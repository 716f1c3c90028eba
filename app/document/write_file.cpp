#include "app/document/write_file.h"

#include <QCoreApplication>

namespace lowkite::app {

tl::expected<void, Fault> writeFile(const QString& path, const QByteArray& bytes) {
  const auto written = replace_file(path.toStdString(), bytes.toStdString());
  if (!written) return tl::unexpected(written.error());
  return {};
}

QString toldOf(const tl::expected<void, Fault>& written, const QString& path) {
  return written ? QCoreApplication::translate("WriteFile", "Written: %1").arg(path)
                 : QString::fromStdString(written.error().line());
}

}  // namespace lowkite::app
