#include "app/words/work_lines.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <QCoreApplication>
#include <QStringList>

#include "app/words/wording.h"
#include "core/plan/bench_work.hpp"

namespace lowkite::app {
namespace {

using Kind = WorkLine::Kind;

struct WorkWords {
  Q_DECLARE_TR_FUNCTIONS(WorkWords)
};

constexpr double leastRide_mm = 0.05;   ///< what a ride-height gauge can tell
constexpr double atTheRadio_min = 2.0;  ///< common practice, no source

QString capital(QString text) {
  if (!text.isEmpty()) text[0] = text[0].toUpper();
  return text;
}

QString changeOf(const Adjuster& part, const Setting& from, const Setting& to) {
  const auto one = [&](double was, double is) {
    return QStringLiteral("%1 \u2192 %2").arg(valueText(part, was), valueText(part, is));
  };
  if (part.one_piece() || part.steering || (from.left == from.right && to.left == to.right))
    return one(from.left, to.left);
  QStringList sides;
  if (from.left != to.left) sides << WorkWords::tr("left %1").arg(one(from.left, to.left));
  if (from.right != to.right) sides << WorkWords::tr("right %1").arg(one(from.right, to.right));
  return sides.join(WorkWords::tr(", "));
}

/// Minutes for a part once what has to come off for it is off.
double minutesFor(const Car& car, PartHandle part) {
  const BenchWork own = work_for(car, std::array{part}, 0);
  return own.minutes - own.wheel_minutes - own.shock_minutes;
}

/// Parts fitted by hand, and shocks opened to give the droop back: first what has to come off for them, once.
void addParts(const Car& car, const Comparison& c, const std::vector<DroopLine>& droop, std::vector<WorkLine>& lines) {
  std::vector<PartHandle> changed;
  for (const PartHandle i : car.adjusters.handles())
    if (c.baseline->setup.values[i] != c.changed->setup.values[i]) changed.push_back(i);
  std::vector<PartHandle> reached = changed;
  for (const DroopLine& line : droop)
    if (line.opens) reached.push_back(line.part);
  const BenchWork all = work_for(car, reached, 0);
  if (all.wheels_off) lines.push_back({Kind::job, WorkWords::tr("Wheels off"), {}, all.wheel_minutes});
  if (all.shocks_off) lines.push_back({Kind::job, WorkWords::tr("Shocks off"), {}, all.shock_minutes});
  for (const PartHandle i : changed) {
    const Adjuster& part = car.adjusters[i];
    lines.push_back(
        {Kind::job,
         QStringLiteral("%1: %2").arg(partTitle(part), changeOf(part, c.baseline->setup.of(i), c.changed->setup.of(i))),
         {},
         minutesFor(car, i)});
  }
  for (const DroopLine& line : droop)
    if (line.opens) lines.push_back({Kind::job, capital(line.text), {}, minutesFor(car, line.part)});
}

QString spacerSentence(const Comparison& c, End end, double lower) {
  const FigureSpec& droop = *find_figure("droop");
  const auto is = droop.read(c.reset->source, end, Side::left);
  const QString stands =
      lower > 0 ? WorkWords::tr("%1 stands %2 mm lower on its springs").arg(endTitle(end), number(lower, 2))
                : WorkWords::tr("%1 stands %2 mm higher on its springs").arg(endTitle(end), number(-lower, 2));
  return is ? WorkWords::tr("%1, droop %2 mm").arg(stands, number(*is, 2)) : stands;
}

void addHeights(const Car& car, const Comparison& c, const ResetOptions& holds, double thread,
                std::vector<WorkLine>& lines) {
  for (const End end : both_ends) {
    // The collars where the springs are described; else what the car does without them.
    if (const QString collars = collarSentence(car, *c.bench, end); holds.hold_ride_height && !collars.isEmpty()) {
      lines.push_back({Kind::job, capital(collars), {}, thread});
      continue;
    }
    const auto& lower = c.sits_lower_mm[at(end)];
    if (!lower || std::abs(*lower) < leastRide_mm) continue;
    const QString by = number(std::abs(*lower), 1);
    const QString way = *lower > 0 ? WorkWords::tr("lower") : WorkWords::tr("higher");
    if (spring_holder(car, end) == SpringHolder::spacers)
      lines.push_back({Kind::stays, capital(spacerSentence(c, end, *lower)), {}, 0.0});
    else if (!holds.hold_ride_height)
      lines.push_back({Kind::stays,
                       capital(WorkWords::tr("%1 sits %2 mm %3, collars left alone").arg(endTitle(end), by, way)),
                       {},
                       0.0});
    else
      lines.push_back(
          {Kind::stays,
           capital(WorkWords::tr("%1 sits about %2 mm %3 until the collars are turned").arg(endTitle(end), by, way)),
           {},
           0.0});
  }
}

}  // namespace

std::vector<WorkLine> workLines(const Car& car, const Comparison& c, const ResetOptions& holds) {
  const double thread = work_for(car, {}, 1).minutes;
  std::vector<WorkLine> lines;
  const std::vector<DroopLine> droop = droopLines(car, *c.bench);
  addParts(car, c, droop, lines);
  addHeights(car, c, holds, thread, lines);
  for (const DroopLine& line : droop)
    if (!line.opens)
      lines.push_back({line.part ? Kind::job : Kind::cannot, capital(line.text), {}, line.part ? thread : 0.0});
  const QStringList links = resetSentences(car, c.work);
  const QStringList wrenches = resetSentences(car, c.work, true);
  for (qsizetype i = 0; i < links.size(); ++i) {
    // A sentence that begins small says only that the thread ends.
    const bool turns = links[i].startsWith(links[i].left(1).toUpper());
    lines.push_back({turns ? Kind::job : Kind::cannot, capital(links[i]), wrenches[i], turns ? thread : 0.0});
  }
  if (const QString points = endPointSentence(*c.bench); holds.hold_end_points && !points.isEmpty())
    lines.push_back({Kind::job, capital(WorkWords::tr("transmitter: %1").arg(points)), {}, atTheRadio_min});
  const bool anyAngle = holds.hold_camber || holds.hold_toe || holds.hold_droop;
  for (const End end : both_ends) {
    if (const QString left = leftOverSentence(c, end); anyAngle && !left.isEmpty() && !lines.empty())
      lines.push_back({Kind::stays, capital(left), {}, 0.0});
    if (const QString lost = lostDroopSentence(c, end); holds.hold_droop && !lost.isEmpty())
      lines.push_back({Kind::cannot, capital(lost), {}, 0.0});
  }
  const FigureSpec& toe = *find_figure("toe");
  const auto toeMoved = [&](End end) {
    return std::any_of(both_sides.begin(), both_sides.end(), [&](Side side) {
      return moved(toe, toe.read(c.baseline->source, end, side), toe.read(c.reset->source, end, side), 0);
    });
  };
  for (const ResetGap& gap : c.work.gaps)
    if (gap.what == LinkHolds::toe && toeMoved(gap.end))
      lines.push_back({Kind::cannot,
                       capital(WorkWords::tr("%1 toe sits in the pins: no turnbuckle holds it").arg(endTitle(gap.end))),
                       {},
                       0.0});
  return lines;
}

}  // namespace lowkite::app
