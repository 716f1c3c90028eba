#include "core/car/adjuster.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "core/linkage/in_order.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double stop_tolerance = 1e-6;  // mm or turns: far below any shim or any twist of the fingers

constexpr auto kind_rows = std::to_array<AdjusterKindSpec>({
    {AdjusterKind::shim_stack, "shim_stack", marked("shims"), false},
    {AdjusterKind::hole, "hole", marked("hole"), true},
    {AdjusterKind::insert, "insert", marked("insert"), true},
    {AdjusterKind::turnbuckle, "turnbuckle", marked("turnbuckle"), false},
    {AdjusterKind::choice, "choice", marked("choice"), true},
    {AdjusterKind::screw, "screw", marked("screw"), false},
    {AdjusterKind::spline, "spline", marked("spline"), true},
    {AdjusterKind::kept, "kept", marked("kept, not computed"), true},
});

static_assert(in_order(kind_rows, &AdjusterKindSpec::kind));

void add(const Effect& effect, double sign, LinkageGeometry& c) {
  for (const PointMove& m : effect.moves) c.set[m.point] += sign * m.mm;
  for (const SizeChange& s : effect.sizes) c.size[at(s.size)] += sign * s.by;
  for (const PointTurn& t : effect.turns) {
    const Axis axis{c.kit[t.about], t.direction};
    const Placement turn = turned_about(axis, Turn::by(sign * t.angle_rad));
    for (const PointHandle p : t.points) {
      Vec3& point = c.set[p];
      point = turn.point(point);
    }
  }
}

/// Where a hand finds the part that changes a size.
PointHandle place_of_size(const std::vector<SizeChange>& sizes) {
  if (sizes.empty()) return {};
  switch (sizes.front().size) {
    case Size::shock_extended:
    case Size::shock_compressed:
    case Size::spring_rate:
    case Size::spring_free:
    case Size::spring_rate_2:
    case Size::spring_transition:
    case Size::heave_rate:
    case Size::damper_bore:
    case Size::piston_holes:
    case Size::piston_hole:
    case Size::piston_thickness:
    case Size::oil_cst:
    case Size::heave_damping:
    case Size::spring_spacer:
    case Size::unsprung_more:
      return attachment::shock_lower;
    case Size::side_rate:
    case Size::side_preload:
      return attachment::side_lower;
    case Size::third_gap:
    case Size::third_stroke:
    case Size::third_bore:
    case Size::third_holes:
    case Size::third_hole:
    case Size::third_thickness:
    case Size::third_oil:
      return attachment::third_end;
    case Size::bar_link:
    case Size::bar_wire:
      return attachment::bar_arm;
    case Size::shaft_length:
      return attachment::shaft_joint;
    case Size::tyre_radius:
    case Size::slide_droop:
    case Size::slide_bump:
    case Size::kingpin_spring:
    case Size::differential_kind:
    case Size::differential_oil:
    case Size::differential_gears:
    case Size::differential_friction:
      return {};
  }
  return {};
}

/// Sizes that a wheel's path, its stops or its angles follow from; the others only push or damp.
bool is_geometric(Size size) {
  switch (size) {
    case Size::spring_rate:
    case Size::spring_free:
    case Size::spring_rate_2:
    case Size::spring_transition:
    case Size::heave_rate:
    case Size::bar_link:
    case Size::bar_wire:
    case Size::damper_bore:
    case Size::piston_holes:
    case Size::piston_hole:
    case Size::piston_thickness:
    case Size::oil_cst:
    case Size::heave_damping:
    case Size::kingpin_spring:
    case Size::spring_spacer:
    case Size::side_rate:
    case Size::side_preload:
    case Size::differential_kind:
    case Size::differential_oil:
    case Size::differential_gears:
    case Size::differential_friction:
    case Size::unsprung_more:
    case Size::third_gap:
    case Size::third_stroke:
    case Size::third_bore:
    case Size::third_holes:
    case Size::third_hole:
    case Size::third_thickness:
    case Size::third_oil:
      return false;
    case Size::shock_extended:
    case Size::shock_compressed:
    case Size::tyre_radius:
    case Size::shaft_length:
    case Size::slide_droop:
    case Size::slide_bump:
      return true;
  }
  return true;
}

bool any_size(const std::vector<SizeChange>& sizes, bool geometric) {
  return std::any_of(sizes.begin(), sizes.end(),
                     [&](const SizeChange& c) { return is_geometric(c.size) == geometric; });
}

/// Shims are counted in thousandths of a millimetre, so that 0.1 + 0.2 is 0.3.
long thousandths(double mm) {
  return std::lround(mm * 1000.0);
}

/// Shim sizes as whole numbers of their greatest common divisor: a box of 0.25, 0.5 and 1 counts in quarters.
struct ShimUnits {
  explicit ShimUnits(std::span<const double> sizes) {
    for (const double s : sizes) thousandths = std::gcd(thousandths, std::max(1L, lowkite::thousandths(s)));
    thousandths = std::max(1L, thousandths);
    for (const double s : sizes) size.push_back(at(std::max(1L, lowkite::thousandths(s)) / thousandths));
  }
  long thousandths = 0;
  std::vector<std::size_t> size;
};

}  // namespace

std::span<const AdjusterKindSpec> adjuster_kinds() {
  return kind_rows;
}

const AdjusterKindSpec& spec_of(AdjusterKind kind) {
  return kind_rows[at(kind)];
}

double Adjuster::least() const {
  return range() ? range()->stops.front() : 0.0;
}

double Adjuster::most() const {
  return range() ? range()->stops.back() : static_cast<double>(positions()->list.size() - 1);
}

double Adjuster::stepped(double value, int steps) const {
  if (positions()) return std::clamp(std::round(value) + steps, least(), most());
  const std::vector<double>& stops = range()->stops;
  double v = value;
  for (int i = 0; i < std::abs(steps); ++i) {
    if (steps > 0) {
      const auto next = std::upper_bound(stops.begin(), stops.end(), v + stop_tolerance);
      if (next == stops.end()) break;
      v = *next;
    } else {
      const auto here = std::lower_bound(stops.begin(), stops.end(), v - stop_tolerance);
      if (here == stops.begin()) break;
      v = *std::prev(here);
    }
  }
  return v;
}

double Adjuster::nearest_stop(double value) const {
  if (positions()) return std::clamp(std::round(value), least(), most());
  const std::vector<double>& stops = range()->stops;
  return *std::min_element(stops.begin(), stops.end(),
                           [&](double a, double b) { return std::abs(a - value) < std::abs(b - value); });
}

bool Adjuster::can_be(double value) const {
  if (!(value >= least() - stop_tolerance && value <= most() + stop_tolerance)) return false;
  // A thread stops anywhere; only shims and positions come in steps that a file must keep to.
  if (threaded()) return true;
  return std::abs(nearest_stop(value) - value) <= stop_tolerance;
}

void Adjuster::apply(double value, LinkageGeometry& linkage) const {
  if (const Range* r = range()) {
    const double change = value - kit;
    for (const PointMove& m : r->moves_per_unit) linkage.set[m.point] += change * m.mm;
    for (const SizeChange& c : r->sizes_per_unit) linkage.size[static_cast<std::size_t>(c.size)] += change * c.by;
    if (r->link) linkage.length[r->link] += change * r->link_mm_per_unit;
    return;
  }
  const auto chosen = static_cast<std::size_t>(std::lround(value));
  const auto as_kit = static_cast<std::size_t>(std::lround(kit));
  if (chosen == as_kit) return;
  add(positions()->list[as_kit].effect, -1.0, linkage);
  add(positions()->list[chosen].effect, 1.0, linkage);
}

std::vector<double> Adjuster::values_besides(double now) const {
  std::vector<double> values;
  if (positions())
    for (double v = least(); v <= most(); v += 1.0) values.push_back(v);
  else
    values = range()->stops;
  std::erase_if(values, [&](double v) { return std::abs(v - now) < stop_tolerance; });
  return values;
}

bool Adjuster::moves_geometry() const {
  if (const Range* r = range()) return !r->moves_per_unit.empty() || r->link || any_size(r->sizes_per_unit, true);
  const auto& list = positions()->list;
  return std::any_of(list.begin(), list.end(), [](const Position& p) {
    return !p.effect.moves.empty() || !p.effect.turns.empty() || any_size(p.effect.sizes, true);
  });
}

bool Adjuster::moves_weight() const {
  const Positions* p = positions();
  return p &&
         std::any_of(p->list.begin(), p->list.end(), [](const Position& each) { return !each.effect.masses.empty(); });
}

bool Adjuster::moves_load() const {
  if (const Range* r = range()) return any_size(r->sizes_per_unit, false);
  const auto& list = positions()->list;
  return moves_weight() ||
         std::any_of(list.begin(), list.end(), [](const Position& p) { return any_size(p.effect.sizes, false); });
}

namespace {

/// Whether a part changes nothing but sizes out of these (and weights, where they count), and something at all.
bool changes_only(const Adjuster& a, std::initializer_list<Size> sizes, bool weights) {
  bool any = false;
  const auto among = [&](const std::vector<SizeChange>& changes) {
    any = any || !changes.empty();
    return std::all_of(changes.begin(), changes.end(), [&](const SizeChange& c) {
      return std::find(sizes.begin(), sizes.end(), c.size) != sizes.end();
    });
  };
  if (const Range* r = a.range()) return r->moves_per_unit.empty() && !r->link && among(r->sizes_per_unit) && any;
  for (const Position& p : a.positions()->list) {
    const Effect& e = p.effect;
    if (!e.moves.empty() || !e.turns.empty() || !among(e.sizes) || (!weights && !e.masses.empty())) return false;
    any = any || !e.masses.empty();
  }
  return any;
}

bool third_only(const Adjuster& a, bool weights) {
  return changes_only(a,
                      {Size::heave_rate, Size::heave_damping, Size::third_gap, Size::third_stroke, Size::third_bore,
                       Size::third_holes, Size::third_hole, Size::third_thickness, Size::third_oil},
                      weights);
}

}  // namespace

bool Adjuster::one_piece() const {
  return once || steering || only_kept() || in_the_differential() || third_only(*this, true) ||
         changes_only(*this, {Size::bar_wire}, true);
}

bool Adjuster::of_third_element() const {
  return third_only(*this, false);
}

bool Adjuster::in_the_differential() const {
  return changes_only(
      *this, {Size::differential_kind, Size::differential_oil, Size::differential_gears, Size::differential_friction},
      false);
}

bool Adjuster::poured() const {
  return changes_only(*this, {Size::oil_cst}, false) || changes_only(*this, {Size::third_oil}, false) ||
         changes_only(*this, {Size::differential_oil}, false);
}

PointHandle Adjuster::place() const {
  if (at) return at;
  if (const Range* r = range()) {
    if (!r->moves_per_unit.empty()) return r->moves_per_unit.front().point;
    return place_of_size(r->sizes_per_unit);
  }
  for (const Position& p : positions()->list) {
    if (!p.effect.moves.empty()) return p.effect.moves.front().point;
    if (!p.effect.turns.empty() && !p.effect.turns.front().points.empty()) return p.effect.turns.front().points.front();
    if (const PointHandle place = steering ? PointHandle() : place_of_size(p.effect.sizes)) return place;
  }
  return {};
}

std::vector<double> shims_for(double thickness_mm, std::span<const double> sizes) {
  const ShimUnits units(sizes);
  const long target = thousandths(thickness_mm);
  if (target <= 0 || target % units.thousandths != 0) return {};
  // Fewest shims for every thickness up to the target (the coin-change recurrence).
  const auto goal = at(target / units.thousandths);
  constexpr std::size_t none = 0;
  std::vector<std::size_t> count(goal + 1, none);
  std::vector<std::size_t> last(goal + 1, 0);
  for (std::size_t t = 1; t <= goal; ++t)
    for (std::size_t s = 0; s < units.size.size(); ++s) {
      const std::size_t size = units.size[s];
      if (size > t || (size < t && count[t - size] == none)) continue;
      if (count[t] == none || count[t - size] + 1 < count[t]) {
        count[t] = count[t - size] + 1;
        last[t] = s;
      }
    }
  std::vector<double> stack;
  if (count[goal] == none) return stack;
  for (std::size_t t = goal; t > 0; t -= units.size[last[t]]) stack.push_back(sizes[last[t]]);
  std::sort(stack.rbegin(), stack.rend());
  return stack;
}

std::vector<double> shim_stops(std::span<const double> sizes, double least_mm, double most_mm) {
  const ShimUnits units(sizes);
  const auto most = at(std::max(0L, thousandths(most_mm)) / units.thousandths);
  std::vector<bool> made(most + 1, false);
  made[0] = true;
  for (std::size_t t = 1; t <= most; ++t)
    for (const std::size_t size : units.size)
      if (size <= t && made[t - size]) made[t] = true;
  std::vector<double> stops;
  for (std::size_t t = 0; t <= most; ++t) {
    const long thickness = static_cast<long>(t) * units.thousandths;
    if (made[t] && thickness >= thousandths(least_mm)) stops.push_back(static_cast<double>(thickness) / 1000.0);
  }
  return stops;
}

}  // namespace lowkite
