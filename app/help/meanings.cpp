#include "app/help/meanings.h"

#include <QFile>
#include <QHash>
#include <QRegularExpression>

#include "app/help/guide_window.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

/// The rows of the guide's table, by the figure's label.
QHash<QString, QString> readMeanings() {
  QHash<QString, QString> found;
  QFile file(GuideWindow::path());
  if (!file.open(QIODevice::ReadOnly)) return found;
  const QString text = QString::fromUtf8(file.readAll())
                           .section(QStringLiteral("## What the figures mean"), 1)
                           .section(QStringLiteral("\n## "), 0, 0);
  static const QRegularExpression row(QStringLiteral("^\\| (.+?) \\| (.+) \\|$"), QRegularExpression::MultilineOption);
  for (auto rows = row.globalMatch(text); rows.hasNext();) {
    const QRegularExpressionMatch m = rows.next();
    found.insert(m.captured(1), m.captured(2));
  }
  return found;
}

}  // namespace

QString meaningOf(const FigureSpec& figure) {
  static const QHash<QString, QString> meanings = readMeanings();
  return fromCore(meanings.value(QString::fromLatin1(figure.label.data(), static_cast<qsizetype>(figure.label.size())))
                      .toStdString());
}

}  // namespace lowkite::app
