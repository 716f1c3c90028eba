#include "core/plan/part_directions.hpp"

#include <algorithm>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double off_a_pin_deg = 2.0;      ///< of a part that slides on it
constexpr double off_a_kingpin_deg = 3.0;  ///< or on the wheel's own axis
constexpr double slides_deg = 45.0;        ///< nearer than that to a pin it is meant to slide on it

double angle_deg(const Vec3& move, const Vec3& line) {
  return degrees(std::acos(std::min(1.0, std::abs(move.normalized().dot(line.normalized())))));
}

const PointMove* move_of(const std::vector<PointMove>& moves, PointHandle point) {
  const auto found = std::find_if(moves.begin(), moves.end(), [&](const PointMove& m) { return m.point == point; });
  return found == moves.end() || found->mm.norm() < 1e-9 ? nullptr : &*found;
}

/// What one set of moves does beside the parts that it sits on; empty: nothing.
std::string beside(const Axle& axle, const std::vector<PointMove>& moves) {
  const MechanismSpec& spec = *axle.mechanism;
  const auto place = [&](PointHandle p) { return axle.points[0][p]; };
  for (const StrokeSpec& stroke : spec.strokes) {
    const Vec3 line = place(stroke.to) - place(stroke.from);
    if (stroke.stroke == Stroke::pin) {
      const PointMove* a = move_of(moves, stroke.from);
      const PointMove* b = move_of(moves, stroke.to);
      // With more than the pin it is the whole end that moves, on whatever it stands on.
      if (!a || !b || moves.size() > 2 || (a->mm - b->mm).norm() > 1e-6) continue;
      const double off = angle_deg(a->mm, line);
      if (off > off_a_pin_deg && off < slides_deg) return say("slides {:.0f} deg off the pin that it sits on", off);
    }
    if (stroke.stroke == Stroke::kingpin && spec.steered) {
      const PointMove* wheel = move_of(moves, spec.wheel_centre);
      // What carries the kingpin along moves it as it likes.
      if (!wheel || move_of(moves, stroke.from)) continue;
      const double off = angle_deg(wheel->mm, line);
      if (off > off_a_kingpin_deg && angle_deg(wheel->mm, axle.spin_axis()) > off_a_kingpin_deg)
        return say("moves the axle {:.0f} deg off the kingpin that it slides on", off);
    }
  }
  return {};
}

}  // namespace

std::vector<Finding> part_directions(const Car& car) {
  std::vector<Finding> found;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (a.steering) continue;
    std::string what;
    if (const Range* r = a.range()) what = beside(car.axle(a.end), r->moves_per_unit);
    if (const Positions* p = a.positions())
      for (const Position& position : p->list)
        if (what.empty()) what = beside(car.axle(a.end), position.effect.moves);
    if (!what.empty())
      found.push_back({Severity::doubtful, a.end, std::nullopt,
                       say("the part \"{part}\" {what}", "part"_a = a.name, "what"_a = what),
                       say("in the car file let it move along the part: {{ \"along\": [two points], \"mm\": 1 }}"), i});
  }
  return found;
}

}  // namespace lowkite
