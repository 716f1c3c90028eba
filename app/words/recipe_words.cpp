#include "app/words/recipe_words.h"

#include <cmath>

#include <QCoreApplication>
#include <QLocale>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct RecipeWords {
  Q_DECLARE_TR_FUNCTIONS(RecipeWords)
};

}  // namespace

QString judgedText(const Recipe& recipe) {
  const QLocale l;
  const QString of = l.toString(static_cast<qulonglong>(recipe.of));
  const QString judged = l.toString(static_cast<qulonglong>(recipe.judged));
  if (recipe.stopped && recipe.read_whole == 0)
    return RecipeWords::tr("Stopped: %1 judged of %2 candidates, not all were judged.").arg(judged, of);
  if (recipe.read_whole > 0)
    return (recipe.stopped ? RecipeWords::tr("Stopped. ") : QString()) +
           RecipeWords::tr("%1 candidates; what the driver feels was foretold of %2 and worked out for the best %3.")
               .arg(of, l.toString(static_cast<qulonglong>(recipe.foretold)),
                    l.toString(static_cast<qulonglong>(recipe.read_whole)));
  if (!recipe.complete)
    return RecipeWords::tr(
               "%1 candidates, %2 judged. There may be better ones: allow fewer parts, fewer at once, or hold more.")
        .arg(of, judged);
  const QString kept =
      recipe.allowed
          ? RecipeWords::tr(" %1 keep what is held.").arg(l.toString(static_cast<qulonglong>(*recipe.allowed)))
          : QString();
  if (recipe.judged >= recipe.of) return RecipeWords::tr("All %1 candidates judged.").arg(of) + kept;
  return RecipeWords::tr("%1 candidates: %2 judged, the rest left out by proof.").arg(of, judged) + kept;
}

QString alikeLabel(const FigureSpec& figure) {
  return RecipeWords::tr("%1, front = rear").arg(figureLabel(figure));
}

QString aimLabel(const RecipeAim& aim) {
  if (aim.kind == RecipeAim::Kind::alike) return alikeLabel(*aim.figure);
  const bool of_car = aim.figure->per == Per::car || aim.figure->is(adds_up);
  const bool of_wheel = aim.figure->of_load() && aim.figure->per_wheel();
  QString label = placeLabel(
      {aim.figure, of_car ? std::nullopt : std::optional(aim.end), of_wheel ? std::optional(aim.side) : std::nullopt});
  if (const QString unit = QStringLiteral(", ") + unitText(aim.figure->unit); label.endsWith(unit))
    label.chop(unit.size());
  return label;
}

QString givenText(const RecipeAim& aim, double value) {
  if (aim.kind != RecipeAim::Kind::alike) return figureWithUnit(*aim.figure, value, 1);
  return RecipeWords::tr("%1 %2 apart")
      .arg(number(std::abs(value), aim.figure->decimals + 1), unitText(aim.figure->unit));
}

QString changeText(const Car& car, const PartChange& change) {
  const Adjuster& a = car.adjusters[change.adjuster];
  // The unit once: "2 -> 2.5 mm".
  const QString to = valueText(a, change.to);
  QString from = valueText(a, change.from);
  const QString unit = QLatin1Char(' ') + unitText(Unit::mm);
  if (from.endsWith(unit) && to.endsWith(unit)) from.chop(unit.size());
  return QStringLiteral("%1: %2 \u2192 %3").arg(partTitle(a), from, to);
}

QStringList settingLines(const Car& car, const Setup& start, const RecipeResult& result, bool wrench) {
  QStringList lines;
  for (const End end : both_ends) {
    const double from = start.ride_height_mm[at(end)];
    const double to = result.setup.ride_height_mm[at(end)];
    if (from != to)
      lines << RecipeWords::tr("%1 ride height %2 \u2192 %3 mm").arg(endTitle(end), number(from, 1), number(to, 1));
    if (const QString collars = collarSentence(car, result.bench, end); !collars.isEmpty()) lines << collars;
  }
  for (const DroopLine& line : droopLines(car, result.bench)) lines << line.text;
  lines << resetSentences(car, result.alignment, wrench);
  if (const auto& lock = result.setup.wanted_lock_deg; lock && lock != start.wanted_lock_deg)
    lines << RecipeWords::tr("Full lock, inside wheel: %1 deg").arg(number(*lock, 1));
  if (const QString points = endPointSentence(result.bench); !points.isEmpty()) lines << points;
  for (QString& line : lines) line = line.left(1).toUpper() + line.mid(1);
  return lines;
}

}  // namespace lowkite::app
