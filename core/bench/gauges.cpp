#include "core/bench/gauges.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <boost/math/tools/toms748_solve.hpp>

#include "core/load/bar.hpp"
#include "core/load/static_load.hpp"

namespace lowkite {
namespace {

using K = GaugeKind;
using U = Unit;
using W = Wording;

// Resolutions: what the usual gauges of each kind are marked in (common practice, no source).
constexpr std::array<GaugeSpec, 19> gauge_rows{{
    {K::ride_height, "ride_height", "ride-height gauge", U::mm, W::plain, 1, 0.1, false},
    {K::shock_length, "shock_length", "shock, pin to pin", U::mm, W::plain, 1, 0.1, true},
    {K::shock_pulled_out, "shock_pulled_out", "shock, pulled out", U::mm, W::plain, 1, 0.1, true},
    {K::shaft_exposed, "shaft_exposed", "shock shaft exposed", U::mm, W::plain, 1, 0.1, true},
    {K::collar, "collar", "collar, below its pin", U::mm, W::plain, 1, 0.2, true},
    {K::down_stop, "down_stop", "down-stop gauge", U::mm, W::plain, 1, 0.1, true},
    {K::tyre_droop, "tyre_droop", "droop at the tyre", U::mm, W::plain, 1, 0.2, true},
    {K::shock_droop, "shock_droop", "shock, wheel hanging", U::mm, W::plain, 1, 0.1, true},
    {K::link_length, "link_length", "caliper", U::mm, W::plain, 2, 0.05, true},
    {K::camber, "camber", "camber gauge", U::deg, W::plain, 1, 0.25, true},
    {K::toe, "toe", "toe plate", U::deg, W::toe, 1, 0.25, true},
    {K::lock_hanging, "lock_hanging", "lock, wheels hanging", U::deg, W::plain, 1, 0.5, true},
    {K::lock_level, "lock_level", "lock, at ride height", U::deg, W::plain, 1, 0.5, true},
    {K::lock_pressed, "lock_pressed", "lock, pressed down", U::deg, W::plain, 1, 0.5, true},
    {K::lock_inside, "lock_inside", "lock, inside wheel", U::deg, W::plain, 1, 0.5, true},
    {K::lock_outside, "lock_outside", "lock, outside wheel", U::deg, W::plain, 1, 0.5, true},
    {K::bar_lift, "bar_lift", "bar lift, under the arm", U::mm, W::plain, 1, 0.1, true},
    {K::corner_scale, "corner_scale", "corner scale", U::g, W::plain, 0, 5.0, true},
    {K::pull_down, "pull_down", "axle scale, pulled down", U::g, W::plain, 0, 10.0, false},
}};

bool has(const Car& car, End end, int attached) {
  return (car.axle(end).attachments >> (attached - attachment::first) & 1u) != 0;
}

bool has_shock(const Car& car, End end) {
  return spring_holder(car, end) == SpringHolder::collars && has(car, end, attachment::shock_upper) &&
         has(car, end, attachment::shock_lower);
}

bool means_something(K kind, const Car& car, End end) {
  const MechanismSpec& m = *car.axle(end).mechanism;
  switch (kind) {
    case K::ride_height:
    case K::camber:
    case K::toe:
      return true;
    case K::down_stop:
      return m.independent && has(car, end, attachment::arm_gauge);
    case K::tyre_droop:
      return m.independent;
    case K::shock_droop:
    case K::shock_length:
      return has_shock(car, end);
    case K::shock_pulled_out:
      return has_shock(car, end) && car.axle(end).kit_size[static_cast<std::size_t>(Size::shock_extended)] > 0.0;
    case K::shaft_exposed:
      return has_shock(car, end) && car.axle(end).kit_size[static_cast<std::size_t>(Size::shock_compressed)] > 0.0;
    case K::link_length:
      return false;  // one for each link, added by hand
    case K::lock_hanging:
    case K::lock_level:
    case K::lock_pressed:
    case K::lock_inside:
    case K::lock_outside:
      return m.steered && car.steering.spec;
    case K::bar_lift:
      return car.axle(end).bar && has(car, end, attachment::bar_arm) && has(car, end, attachment::bar_end) &&
             has(car, end, attachment::arm_gauge);
    case K::corner_scale:
      return car.mass_kg > 0.0 && car.cg_x_mm;
    case K::collar:
    case K::pull_down:
      return has_shock(car, end) && car.mass_kg > 0.0 && car.cg_x_mm &&
             car.axle(end).kit_size[static_cast<std::size_t>(Size::spring_rate)] > 0.0;
  }
  return false;
}

/// The parts that answer a gauge; all are turned alike.
std::vector<int> parts_for(const Car& car, const Gauge& g, StopKind droop_stop) {
  std::vector<int> parts;
  const auto holding = [&](LinkHolds what) {
    const auto& links = car.axle(g.end).mechanism->links;
    for (std::size_t i = 0; i < links.size(); ++i)
      if (links[i].holds == what)
        if (const int t = car.turnbuckle_of(g.end, static_cast<int>(i)); t >= 0) parts.push_back(t);
  };
  const auto of_droop = [&] {
    for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
      const Adjuster& a = car.adjusters[i];
      const Range* r = a.range();
      if (a.end != g.end || a.steering || !r) continue;
      const bool screw = std::any_of(r->moves_per_unit.begin(), r->moves_per_unit.end(),
                                     [](const PointMove& m) { return m.point == attachment::droop_tip; });
      const bool limiter = r->sizes_per_unit.size() == 1 && r->sizes_per_unit[0].size == Size::shock_extended;
      if ((droop_stop == StopKind::droop_screw && screw) || (droop_stop == StopKind::shock_extended && limiter))
        parts.push_back(static_cast<int>(i));
    }
  };
  switch (g.kind) {
    case K::camber:
      holding(LinkHolds::camber);
      break;
    case K::toe:
      holding(LinkHolds::toe);
      break;
    case K::link_length:
      if (const int t = car.turnbuckle_of(g.end, g.link); t >= 0) parts.push_back(t);
      break;
    case K::down_stop:
    case K::tyre_droop:
    case K::shock_droop:
      of_droop();
      break;
    case K::ride_height:
    case K::shock_length:
    case K::shaft_exposed:
    case K::shock_pulled_out:
    case K::lock_hanging:
    case K::lock_level:
    case K::lock_pressed:
    case K::lock_inside:
    case K::lock_outside:
    case K::collar:
    case K::corner_scale:
    case K::pull_down:
      break;
    case K::bar_lift:
      for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
        const Range* r = car.adjusters[i].range();
        if (r && car.adjusters[i].end == g.end && r->sizes_per_unit.size() == 1 &&
            r->sizes_per_unit[0].size == Size::bar_link)
          parts.push_back(static_cast<int>(i));
      }
      break;
  }
  return parts;
}

bool is_lock(K kind) {
  return kind == K::lock_hanging || kind == K::lock_level || kind == K::lock_pressed || kind == K::lock_inside ||
         kind == K::lock_outside;
}

/// The setup with some adjusters of one side moved by the same amount.
Setup moved_by(const Setup& setup, const std::vector<int>& parts, Side side, double change) {
  Setup moved = setup;
  for (const int p : parts) moved.at_index(p).on(side) += change;
  return moved;
}

/// Reads a gauge without what it does not need.
tl::expected<double, CornerFailure> read_alone(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                               const BenchKit& bench) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const Attitude standing = static_attitude(*model);
  const auto pose = pose_car(*model, standing);
  if (!pose) return tl::unexpected(pose.error());
  FigureSource source;
  source.standing = read_car(*model, *pose, standing);
  const auto centred = steer(*model, 0.0);
  const bool lock = is_lock(gauge.kind);
  PerSide<CornerTravel>& corners = source.travel.corner[at(gauge.end)];
  for (const Side s : both_sides) {
    if (s != side && !lock && gauge.kind != K::bar_lift) continue;  // only these ask about both
    const SteerInput of_side =
        model->corner(gauge.end, s).spec->steered && centred ? centred->corner[at(s)] : SteerInput{};
    corners[at(s)].stops = find_stops(*model, gauge.end, s, pose->axle[at(gauge.end)].corner[at(s)], of_side);
  }
  if (lock && model->steering)
    source.travel.lock =
        find_lock(*model, pose->axle[at(End::front)], {corners[0].stops, corners[1].stops}, lock_samples);
  return reading(gauge, *model, source, bench, side).value_or(0.0);
}

}  // namespace

std::string_view name_of(Caliper caliper) {
  switch (caliper) {
    case Caliper::between:
      return "between the cups";
    case Caliper::over:
      return "over the cups";
    case Caliper::centres:
      return "ball centre to ball centre";
  }
  return {};
}

double caliper_reading(double centres_mm, const BenchKit& bench) {
  switch (bench.caliper) {
    case Caliper::between:
      return centres_mm - bench.cup_mm;
    case Caliper::over:
      return centres_mm + bench.cup_mm;
    case Caliper::centres:
      return centres_mm;
  }
  return centres_mm;
}

double centres_from_caliper(double reading_mm, const BenchKit& bench) {
  return reading_mm - (caliper_reading(0.0, bench));
}

std::span<const GaugeSpec> gauge_specs() {
  return gauge_rows;
}

const GaugeSpec& spec_of(GaugeKind kind) {
  return *std::find_if(gauge_rows.begin(), gauge_rows.end(), [&](const GaugeSpec& s) { return s.kind == kind; });
}

std::vector<Gauge> gauges_of(const Car& car) {
  std::vector<Gauge> all;
  for (const End end : both_ends)
    for (const GaugeSpec& spec : gauge_rows) {
      if (spec.kind == K::link_length) {
        const auto& links = car.axle(end).mechanism->links;
        for (std::size_t i = 0; i < links.size(); ++i)
          if (links[i].pin == no_point && car.turnbuckle_of(end, static_cast<int>(i)) >= 0)
            all.push_back({spec.kind, end, static_cast<int>(i), fmt::format("{}, {}", spec.label, links[i].label)});
        continue;
      }
      if (means_something(spec.kind, car, end)) all.push_back({spec.kind, end, no_point, std::string(spec.label)});
    }
  return all;
}

std::optional<double> reading(const Gauge& g, const CarModel& model, const FigureSource& source, const BenchKit& bench,
                              Side side) {
  const AxleFigures& axle = source.standing.axle[at(g.end)];
  const WheelFigures& wheel = axle.wheel[at(side)];
  const CornerStops& stops = source.travel.corner[at(g.end)][at(side)].stops;
  const auto lock = [&](const PerSide<double> LockFigures::*angle) -> std::optional<double> {
    if (!source.travel.lock) return std::nullopt;
    return degrees(((*source.travel.lock).*angle)[at(side)]);
  };
  const auto at_travel = [&](auto which) -> std::optional<double> {
    if (!source.travel.lock || source.travel.lock->over_travel.empty()) return std::nullopt;
    return degrees(which(source.travel.lock->over_travel).inside_rad[at(side)]);
  };
  using Samples = std::vector<LockSample>;
  switch (g.kind) {
    case K::lock_hanging:
      return at_travel([](const Samples& s) { return s.front(); });
    case K::lock_level:
      return at_travel([](const Samples& s) {
        return *std::find_if(s.begin(), s.end(), [](const LockSample& l) { return l.travel_mm >= 0.0; });
      });
    case K::lock_pressed:
      return at_travel([](const Samples& s) { return s.back(); });
    case K::ride_height:
      return source.standing.attitude.ride_height_mm[at(g.end)];
    case K::down_stop:
      if (!stops.hanging_arm_gauge_mm) return std::nullopt;
      return bench.down_stop_blocks_mm + *stops.hanging_arm_gauge_mm;
    case K::tyre_droop:
      return stops.hanging_wheel_low_mm + bench.slop_mm - bench.droop_blocks_mm;
    case K::shock_droop:
      return stops.hanging_shock_mm;
    case K::link_length:
      return caliper_reading(model.corner(g.end, side).geometry.length[static_cast<std::size_t>(g.link)], bench);
    case K::camber:
      return degrees(wheel.camber_rad);
    case K::toe:
      return degrees(wheel.toe_rad);
    case K::lock_inside:
      return lock(&LockFigures::inside_rad);
    case K::lock_outside:
      return lock(&LockFigures::outside_rad);
    case K::shock_length: {
      const auto& shock = axle.parts[at(side)].shock;
      return shock ? std::optional(shock->length_mm) : std::nullopt;
    }
    case K::collar:
      return collar_place(model, source.standing, g.end, side);
    case K::bar_lift: {
      const Side other = side == Side::left ? Side::right : Side::left;
      const auto lifted = lift_until_other_moves(model, g.end, side, stops.droop.arm_angle,
                                                 source.travel.corner[at(g.end)][at(other)].stops.droop.arm_angle);
      const auto steered = steer(model, 0.0);
      const CornerModel& corner = model.corner(g.end, side);
      if (!lifted || !steered) return std::nullopt;
      const auto pose = corner.linkage->solve(*lifted, corner.spec->steered ? steered->corner[at(side)] : SteerInput{});
      if (!pose) return std::nullopt;
      return bench.down_stop_blocks_mm + point_in_chassis(corner, *pose, attachment::arm_gauge).z();
    }
    case K::corner_scale: {
      const auto loads = wheel_loads(model, source.standing);
      return loads ? std::optional(grams((*loads)[at(g.end)][at(side)])) : std::nullopt;
    }
    case K::pull_down: {
      const auto push = axle_push(model, source.standing, g.end, bench.pull_down_mm);
      return push ? std::optional(grams(*push)) : std::nullopt;
    }
    case K::shock_pulled_out:
      return model.corner(g.end, side).geometry.size_of(Size::shock_extended);
    case K::shaft_exposed: {
      const auto& shock = axle.parts[at(side)].shock;
      return shock ? shock->left_in_bump_mm : std::nullopt;
    }
  }
  return std::nullopt;
}

tl::expected<GaugeAnswer, CornerFailure> answer(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                                double read, const BenchKit& bench) {
  const auto target = read_alone(car, setup, gauge, side, bench);
  if (!target) return tl::unexpected(target.error());
  GaugeAnswer a;
  a.target = *target;
  a.difference = read - *target;
  if (std::abs(a.difference) <= gauge.spec().resolution) {
    a.verdict = GaugeAnswer::Verdict::as_it_should;
    return a;
  }
  if (gauge.kind == K::lock_inside) {
    a.verdict = GaugeAnswer::Verdict::turn;
    a.end_point = true;
    a.change = -a.difference;
    return a;
  }
  if (gauge.kind == K::ride_height) {
    // The spring's seat is moved by as much as the shock must grow: motion ratio times the missing height.
    const auto model = build_model(car, setup);
    if (!model) return tl::unexpected(model.error());
    const auto pose = pose_car(*model, static_attitude(*model));
    if (!pose) return tl::unexpected(pose.error());
    const auto ratio = shock_per_contact(model->corner(gauge.end, side), pose->axle[at(gauge.end)].corner[at(side)],
                                         ground_of(pose->ground, side));
    if (!ratio) return a;
    a.verdict = GaugeAnswer::Verdict::turn;
    a.collars = true;
    a.change = -a.difference * *ratio;
    return a;
  }
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const auto pose = pose_car(*model, static_attitude(*model));
  if (!pose) return tl::unexpected(pose.error());
  const StopKind droop = find_stops(*model, gauge.end, side, pose->axle[at(gauge.end)].corner[at(side)], {}).droop.kind;
  a.adjusters = parts_for(car, gauge, droop);
  if (a.adjusters.empty()) return a;
  // Where must the part stand to give this reading? Bracket outward from the setup's place, then close in.
  const auto off = [&](double change) -> double {
    const auto r = read_alone(car, moved_by(setup, a.adjusters, side, change), gauge, side, bench);
    return r ? *r - read : std::nan("");
  };
  constexpr double farthest = 40.0;  // turns or mm: beyond any thread
  const double at_setup = *target - read;
  for (double step = 0.25; step <= farthest; step *= 2.0)
    for (const double change : {step, -step}) {
      const double there = off(change);
      if (std::isnan(there) || there * at_setup > 0.0) continue;
      std::uintmax_t rounds = 60;
      const auto settled = boost::math::tools::eps_tolerance<double>(40);
      const auto bracket = change > 0.0
                               ? boost::math::tools::toms748_solve(off, 0.0, change, at_setup, there, settled, rounds)
                               : boost::math::tools::toms748_solve(off, change, 0.0, there, at_setup, settled, rounds);
      a.verdict = GaugeAnswer::Verdict::turn;
      a.change = -0.5 * (bracket.first + bracket.second);
      return a;
    }
  a.verdict = GaugeAnswer::Verdict::out_of_reach;
  return a;
}

}  // namespace lowkite
