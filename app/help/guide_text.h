// The guide's words, in the language that the window speaks. They stand in English in one file of Markdown; the
// catalogue knows them by the paragraph, the item of a list and the cell of a table, as tools/update-texts takes them
// out.
#pragma once

#include <QList>
#include <QString>

namespace lowkite::app {

struct GuideSection {
  QString heading;  ///< by which the code names it
  QString text;     ///< Markdown
};

/// Its sections in the order of the file, as they are written, in English; none where the file is not there.
[[nodiscard]] QList<GuideSection> guideSections();

/// Markdown with each paragraph, item and cell as the catalogue says it.
[[nodiscard]] QString saidInParagraphs(const QString& markdown);

}  // namespace lowkite::app
