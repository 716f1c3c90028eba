#include "app/help/meanings.h"

#include <QHash>
#include <QRegularExpression>

#include "app/help/guide_text.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

/// What each row of the guide's table says, by the figure's label; in English.
QHash<QString, QString> readMeanings() {
  QHash<QString, QString> found;
  for (const GuideSection& s : guideSections()) {
    if (s.heading != QStringLiteral("What the figures mean")) continue;
    static const QRegularExpression row(QStringLiteral("^\\| (.+?) \\| (.+) \\|$"),
                                        QRegularExpression::MultilineOption);
    for (auto rows = row.globalMatch(s.text); rows.hasNext();) {
      const QRegularExpressionMatch m = rows.next();
      found.insert(m.captured(1), m.captured(2));
    }
  }
  return found;
}

}  // namespace

QString meaningOf(const FigureSpec& figure) {
  static const QHash<QString, QString> meanings = readMeanings();
  return fromCore(meanings.value(QString::fromUtf8(figure.label.data(), static_cast<qsizetype>(figure.label.size())))
                      .toStdString());
}

}  // namespace lowkite::app
