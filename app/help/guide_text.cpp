#include "app/help/guide_text.h"

#include <QFile>
#include <QRegularExpression>
#include <QStringList>

#include "app/words/wording.h"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

/// Where the guide lies: installed, or in the source tree. Empty where it is not there.
QString guidePath() {
  const auto data = data_folder();
  for (const auto& file : {data / "guide.md", data.parent_path() / "docs" / "guide.md"})
    if (QFile::exists(QString::fromStdString(file.string()))) return QString::fromStdString(file.string());
  return {};
}

QString saidRow(const QString& row) {
  QStringList cells = row.mid(2).chopped(2).split(QStringLiteral(" | "));
  for (QString& cell : cells) cell = fromCore(cell.toStdString());
  return QStringLiteral("| %1 |").arg(cells.join(QStringLiteral(" | ")));
}

}  // namespace

QString saidInParagraphs(const QString& markdown) {
  static const QRegularExpression item(QStringLiteral("^(?:- |\\d+\\. )"));
  QStringList shown;
  QString mark;
  QString paragraph;
  const auto end = [&] {
    if (!paragraph.isEmpty()) shown << mark + fromCore(paragraph.toStdString());
    mark.clear();
    paragraph.clear();
  };
  for (const QString& line : markdown.split(QLatin1Char('\n'))) {
    if (const auto begins = item.match(line); begins.hasMatch()) {
      end();
      mark = begins.captured();
      paragraph = line.mid(mark.size());
    } else if (line.isEmpty() || line.startsWith(QLatin1Char('|'))) {
      end();
      shown << (line.startsWith(QStringLiteral("| ")) ? saidRow(line) : line);
    } else {
      paragraph += (paragraph.isEmpty() ? QString() : QStringLiteral(" ")) + line.trimmed();
    }
  }
  end();
  return shown.join(QLatin1Char('\n'));
}

QList<GuideSection> guideSections() {
  QList<GuideSection> sections;
  QFile file(guidePath());
  if (!file.open(QIODevice::ReadOnly)) return sections;
  const QStringList parts = QString::fromUtf8(file.readAll()).split(QStringLiteral("\n## "));
  for (const QString& part : parts.mid(1))
    sections.push_back({part.section(QLatin1Char('\n'), 0, 0), part.section(QLatin1Char('\n'), 1)});
  return sections;
}

}  // namespace lowkite::app
