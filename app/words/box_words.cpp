#include "app/words/box_words.h"

#include <QCoreApplication>
#include <QStringList>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct BoxWords {
  Q_DECLARE_TR_FUNCTIONS(BoxWords)
};

}  // namespace

QString lackText(const Car& car, const Lack& lack, bool nearest) {
  const bool named = lack.piece.kind == BoxKind::part;
  const QString what = QString::fromStdString(measured_text(lack.piece));
  QString text = BoxWords::tr("%1 \u00D7 %2").arg(lack.count).arg(what);
  if (lack.adjuster) {
    const QString part = partTitle(car.adjusters[lack.adjuster]);
    const QString label = QString::fromStdString(lack.piece.label);
    text += named || label.isEmpty() || what.contains(label) ? BoxWords::tr(" (%1)").arg(part)
                                                             : BoxWords::tr(" (%1, %2)").arg(part, label);
  }
  if (nearest && lack.nearest)
    text += BoxWords::tr(", nearest there: %1").arg(QString::fromStdString(full_text(*lack.nearest)));
  return text;
}

QString lacksText(const Car& car, const std::vector<Lack>& lacks, bool nearest) {
  QStringList all;
  for (const Lack& l : lacks) all << lackText(car, l, nearest);
  return all.join(BoxWords::tr("; "));
}

}  // namespace lowkite::app
