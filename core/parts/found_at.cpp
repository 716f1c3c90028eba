#include "core/parts/found_at.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace lowkite {
namespace {

constexpr double half_thickness_mm = 2.5;  // of what is not told; a finger is no finer

/// What lies between two attachments.
constexpr std::array between_two{std::pair{attachment::shock_upper, attachment::shock_lower},
                                 std::pair{attachment::side_upper, attachment::side_lower},
                                 std::pair{attachment::shaft_cup, attachment::shaft_joint},
                                 std::pair{attachment::bar_arm, attachment::bar_end},
                                 std::pair{attachment::third_arm, attachment::third_rod},
                                 std::pair{attachment::third_rod, attachment::third_pivot},
                                 std::pair{attachment::third_pivot, attachment::third_end}};

void take_point(FoundAt& f, const PointRef& ref) {
  if (std::find(f.points.begin(), f.points.end(), ref) == f.points.end()) f.points.push_back(ref);
}

/// A line where both its ends are among `points` of the axle.
void take_lines(FoundAt& f, const Axle& axle) {
  const auto at = [&](PointHandle p) { return axle.points[0][p]; };
  const auto found = [&](PointHandle p) {
    return std::find(f.points.begin(), f.points.end(), PointRef{f.end, false, p}) != f.points.end();
  };
  for (const auto& [from, to] : between_two)
    if (found(from) && found(to)) f.lines.push_back({{}, at(from), at(to), half_thickness_mm, f.end});
}

FoundAt found(const Car& car, const Adjuster& a) {
  FoundAt f{a.steering, a.end, {}, {}, {}};
  for (const PartSpot& s : spots_of(car, a)) take_point(f, s.ref);
  if (const PointHandle place = a.place()) take_point(f, {a.end, a.steering, place});
  const auto& points = a.steering ? car.steering.points : car.axle(a.end).points[0];
  if (const Range* r = a.range(); r && r->link) {
    const LinkSpec& link = (a.steering ? car.steering.spec->links : car.axle(a.end).mechanism->links)[r->link];
    f.lines.push_back({a.name, points[link.inner], points[link.outer], half_thickness_mm, a.end});
    return f;
  }
  // What is in a shock, or on it, is looked for along it.
  const Axle& axle = car.axle(a.end);
  const bool in_the_shock = !a.steering && f.points.size() == 1 && f.points[0].point == attachment::shock_upper &&
                            !a.moves_geometry() && axle.has(attachment::shock_lower);
  if (in_the_shock)
    f.lines.push_back(
        {a.name, points[attachment::shock_upper], points[attachment::shock_lower], half_thickness_mm, a.end});
  return f;
}

}  // namespace

ListOf<Adjuster, FoundAt> found_adjusters(const Car& car) {
  ListOf<Adjuster, FoundAt> all;
  for (const Adjuster& a : car.adjusters) all.push_back(found(car, a));
  return all;
}

std::vector<FoundAt> found_fittings(const Car& car, const std::vector<Fitting>& fittings) {
  std::vector<FoundAt> all;
  for (const Fitting& fitting : fittings) {
    FoundAt f{false, fitting.end, {}, {}, fitting.bodies};
    for (const PartSpot& s : fitting.spots) take_point(f, s.ref);
    take_lines(f, car.axle(fitting.end));
    all.push_back(std::move(f));
  }
  return all;
}

}  // namespace lowkite
