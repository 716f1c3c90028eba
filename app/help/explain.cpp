#include "app/help/explain.h"

#include <algorithm>

#include <QCoreApplication>
#include <QPalette>
#include <QStringList>

#include "app/help/meanings.h"
#include "app/help/sketch.h"
#include "app/words/wording.h"
#include "core/bench/steps.hpp"
#include "core/plan/sensitivity.hpp"

namespace lowkite::app {
namespace {

struct ExplainWords {
  Q_DECLARE_TR_FUNCTIONS(ExplainWords)
};

constexpr std::size_t most_told = 6;  // figures that a step moves; more is no help at a glance

QString drawn(const std::optional<Sketch>& sketch, const QPalette& palette) {
  return sketch ? sketchHtml(*sketch, palette) + QStringLiteral("<br>") : QString();
}

QString paragraph(const QString& text) {
  return QStringLiteral("<p>%1</p>").arg(text);
}

QString heading(const QString& text) {
  return QStringLiteral("<b>%1</b>").arg(text.toHtmlEscaped());
}

}  // namespace

QString explainFigure(const FigureSpec& figure, const QPalette& palette) {
  const QString meaning = meaningOf(figure);
  const QString unit = unitText(figure.unit);
  QString html = drawn(sketchOf(figure), palette) + heading(figureLabel(figure));
  if (!unit.isEmpty()) html += QStringLiteral(", ") + unit;
  if (!meaning.isEmpty()) html += paragraph(ExplainWords::tr("%1.").arg(meaning).toHtmlEscaped());
  return html;
}

QString explainGauge(const Gauge& gauge, const QPalette& palette) {
  QString html = drawn(sketchOf(gauge.kind), palette) + heading(fromCore(gauge.label));
  const auto steps = step_specs();
  const auto step = std::find_if(steps.begin(), steps.end(), [&](const StepSpec& s) { return s.gauge == gauge.kind; });
  if (step == steps.end()) return html;
  html += paragraph(fromCore(step->how).toHtmlEscaped()) + paragraph(fromCore(step->why).toHtmlEscaped());
  if (!step->caution.empty())
    html += paragraph(QStringLiteral("<b>\u26A0 %1</b>").arg(fromCore(step->caution).toHtmlEscaped()));
  return html;
}

QString explainPart(const Car& car, const Setup& setup, PartHandle adjuster) {
  const Adjuster& a = car.adjusters[adjuster];
  QString html = heading(QString::fromStdString(a.name));
  if (a.only_kept())
    return html +
           paragraph(ExplainWords::tr("Kept with the setup, for sheets, comparisons and the log. Nothing is computed "
                                      "from it."));
  const auto found = sensitivity(car, setup, a.end, true, {}, adjuster);
  if (!found || found->rows.empty())
    return html + paragraph(ExplainWords::tr("The car cannot stand as it is set: nothing can be computed."));
  const SensitivityRow& row = found->rows.front();
  if (!row.possible)
    return html +
           paragraph(ExplainWords::tr("One step from here the car could not stand, or camber and toe could not be "
                                      "put back."));
  const double now = setup.of(adjuster).left;
  QStringList moved;
  for (const int i : found->drags(row, -1)) {
    if (moved.size() == static_cast<qsizetype>(most_told)) break;
    const auto figure = at(i);
    const FigureSpec& f = *found->figures[figure];
    moved << ExplainWords::tr("%1, %2: %3")
                 .arg(figureLabel(f), unitText(f.unit), differenceText(f, 0.0, *row.change[figure], 0));
  }
  html += paragraph(ExplainWords::tr("From %1 to %2, camber and toe put back:")
                        .arg(valueText(a, now), valueText(a, row.value))
                        .toHtmlEscaped());
  if (!moved.isEmpty())
    html += QStringLiteral("<ul><li>%1</li></ul>").arg(moved.join(QStringLiteral("</li><li>")));
  else if (!a.moves_load() && !a.moves_weight())
    html += paragraph(ExplainWords::tr("Nothing that racers watch moves by as much as it is read to."));
  if (a.moves_load() || a.moves_weight())
    html += paragraph(ExplainWords::tr("It works on the car on its springs, too: the drawer's Springs page has it."));
  return html;
}

}  // namespace lowkite::app
