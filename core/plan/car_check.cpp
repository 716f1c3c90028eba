#include "core/plan/car_check.hpp"

#include <algorithm>
#include <cmath>

#include "core/figures/variant.hpp"
#include "core/load/third_element.hpp"
#include "core/plan/idle_fields.hpp"
#include "core/plan/lock_cause.hpp"
#include "core/plan/part_directions.hpp"
#include "core/plan/wanted.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double least_bump_mm = 1.0;
constexpr double least_lock_rad = radians(15.0);
constexpr double least_short_of_lock_rad = radians(0.5);  ///< what a lock gauge can tell
constexpr double most_apart_mm = 1.0;                     ///< between the tie rods of one axle
constexpr double least_spare_mm = 0.5;                    ///< of a shock's stroke, when something else stops the wheel
constexpr double most_travel_takes = 0.1;                 ///< of the servo's lock, by droop and bump
// What the usual gauges can tell (see their files); caster as blocks come.
constexpr double camber_tells_deg = 0.25, toe_tells_deg = 0.25, caster_tells_deg = 0.5, droop_tells_mm = 0.3;
constexpr int curve_samples = 21;
constexpr double usual_travel_mm = 4.0;
constexpr double most_bump_steer_deg = 0.6;
constexpr double tread_begins = 0.8;  ///< of the tyre's radius: inside it lies the rim, where links have room

class Checker {
 public:
  Checker(const Car& car, const Variant& variant) : car_(car), v_(variant) {}

  std::vector<Finding> run() {
    for (const End end : both_ends) {
      for (const Side side : both_sides) {
        check_travel(end, side);
        check_shaft(end, side);
        check_tyre(end, side);
      }
    }
    if (v_.source.travel.lock) check_lock();
    if (v_.model.wanted_lock_rad && !car_.steering.spec)
      add(Severity::doubtful, End::front, std::nullopt,
          say("the full lock that the setup wants moves nothing: the car file describes no steering linkage"),
          say("describe the servo and its links, or take the wanted lock out of the setup"));
    for (const End end : both_ends) {
      check_wanted(end);
      check_sides(end);
      check_bump_steer(end);
      check_third(end);
    }
    check_screws();
    for (Finding& f : idle_fields(car_)) found_.push_back(std::move(f));
    for (Finding& f : part_directions(car_)) found_.push_back(std::move(f));
    std::stable_sort(found_.begin(), found_.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return std::move(found_);
  }

 private:
  void add(Severity severity, End end, std::optional<Side> side, std::string what, std::string remedy,
           PartHandle part = {}) {
    // The same on both sides is said once.
    for (Finding& f : found_)
      if (f.end == end && f.what == what) {
        f.side.reset();
        return;
      }
    found_.push_back({severity, end, side, std::move(what), std::move(remedy), part});
  }

  /// The first adjuster of an axle that moves a point, or that changes a size.
  [[nodiscard]] PartHandle part_at(End end, PointHandle point) const {
    for (const PartHandle i : car_.adjusters.handles())
      if (car_.adjusters[i].end == end && !car_.adjusters[i].steering && car_.adjusters[i].place() == point) return i;
    return {};
  }

  [[nodiscard]] bool is_droop_screw(PartHandle part) const {
    const std::vector<PartHandle> screws = parts_of_stop(car_, car_.adjusters[part].end, StopKind::droop_screw);
    return std::find(screws.begin(), screws.end(), part) != screws.end();
  }
  /// A droop screw at the outer end of its thread is there for whoever wants it; it is not meant to stop anything.
  [[nodiscard]] bool backed_out(End end, Side side) const {
    const std::vector<PartHandle> screws = parts_of_stop(car_, end, StopKind::droop_screw);
    return !screws.empty() && std::all_of(screws.begin(), screws.end(), [&](PartHandle screw) {
      return v_.setup.of(screw).on(side) <= car_.adjusters[screw].least();
    });
  }

  void check_travel(End end, Side side) {
    const CornerStops& stops = v_.source.travel.corner[at(end)][at(side)].stops;
    if (!v_.model.corner(end, side).spec->independent) return;
    if (stops.droop.from_ride_height_mm < 0.0)
      add(Severity::wrong, end, side,
          say("the {stop} stops the wheel {short:.1f} mm before it reaches the ground at this ride height",
              "stop"_a = word(stops.droop.kind), "short"_a = -stops.droop.from_ride_height_mm),
          say("lower the ride height, or give the wheel more droop"), part_at(end, attachment::droop_tip));
    const Stop* screw = backed_out(end, side) ? nullptr : stops.find(StopKind::droop_screw);
    if (screw && stops.droop.kind == StopKind::shock_extended)
      add(Severity::doubtful, end, side,
          say("the shock stops the droop {:.1f} mm before the screw does",
              screw->from_ride_height_mm - stops.droop.from_ride_height_mm),
          say("take spacers out of the shock, fit the longer eyelet, or turn the screw in"),
          part_at(end, attachment::shock_upper));
    if (stops.bump.kind == StopKind::shock_compressed)
      add(Severity::doubtful, end, side,
          say("the shock is fully in after {:.1f} mm, before the plate is down", stops.bump.from_ride_height_mm),
          say("move the shock's mounts, or fit a shorter shock"), part_at(end, attachment::shock_lower));
    const Stop* pulled = stops.find(StopKind::shock_extended);
    if (pulled && stops.droop.kind == StopKind::droop_screw &&
        pulled->from_ride_height_mm - stops.droop.from_ride_height_mm < least_spare_mm &&
        pulled->from_ride_height_mm >= stops.droop.from_ride_height_mm)
      add(Severity::doubtful, end, side,
          say("with the screw on its stop the shock has only {:.1f} mm to spare",
              pulled->from_ride_height_mm - stops.droop.from_ride_height_mm),
          say("fit the longer eyelet or take a spacer out, or the shock wears itself out inside"),
          part_at(end, attachment::shock_upper));
    if (stops.bump.from_ride_height_mm < least_bump_mm)
      add(Severity::wrong, end, side,
          say("only {bump:.1f} mm of bump are left ({stop})", "bump"_a = stops.bump.from_ride_height_mm,
              "stop"_a = word(stops.bump.kind)),
          say("raise the ride height"));
  }

  /// The levers of a third spring, both wheels moving alike between their stops.
  void check_third(End end) {
    const ThirdLaw law = third_law(v_.model, end);
    if (!law.fitted()) return;
    const auto& stops = v_.source.travel.corner[at(end)];
    const auto& standing = v_.pose.axle[at(end)].corner;
    const auto with_both_at = [&](const Stop CornerStops::*stop) -> std::optional<ThirdElement> {
      PerSide<CornerPose> poses;
      for (const Side side : both_sides) {
        auto pose = v_.model.corner(end, side).linkage->solve((stops[at(side)].stops.*stop).arm_angle, SteerInput{});
        if (!pose) return std::nullopt;
        poses[at(side)] = std::move(*pose);
      }
      return third_element(v_.model, end, poses[0], poses[1]);
    };
    const PartHandle part = part_at(end, attachment::third_end);
    const auto rest = third_element(v_.model, end, standing[0], standing[1]);
    const auto low = with_both_at(&CornerStops::droop);
    const auto high = with_both_at(&CornerStops::bump);
    if (!rest || !low || !high)
      return add(Severity::wrong, end, std::nullopt,
                 say("the rod of the third spring's lever cannot follow the wheel over its travel"),
                 say("measure the points of the lever again"), part);
    if (high->length_mm >= rest->length_mm)
      return add(
          Severity::wrong, end, std::nullopt, say("the third spring is pulled, not pressed, when both wheels go up"),
          say("measure the points of the lever again: rod and spring belong on sides of the pivot that press it"),
          part);
    const double goes_in = rest->length_mm - high->length_mm;
    if (law.rate_n_per_mm > 0.0 && law.gap_mm >= goes_in)
      add(Severity::doubtful, end, std::nullopt,
          say("the third spring is never touched: full bump presses it by {pressed:.1f} mm, and it pushes from "
              "{gap:.1f} "
              "mm on",
              "pressed"_a = goes_in, "gap"_a = law.gap_mm),
          say("take some of its gap out"), part);
    if (law.stroke_mm > 0.0 && law.stroke_mm < goes_in)
      add(Severity::doubtful, end, std::nullopt,
          say("the third damper is fully in {:.1f} mm before the wheels are at their stop in bump",
              goes_in - law.stroke_mm),
          say("take spacers out of it, or choose another hole on its levers"), part);
  }

  void check_shaft(End end, Side side) {
    const CornerTravel& t = v_.source.travel.corner[at(end)][at(side)];
    const char* remedy = marked("fit another shaft, or bring wheel and differential closer together");
    if (t.shaft_least_to_falling_out_mm && *t.shaft_least_to_falling_out_mm < 0.0)
      add(Severity::wrong, end, side,
          say("the drive shaft falls out of its cup over the travel, {:.1f} mm short",
              -*t.shaft_least_to_falling_out_mm),
          remedy, part_at(end, attachment::shaft_joint));
    if (t.shaft_least_to_bottoming_mm && *t.shaft_least_to_bottoming_mm < 0.0)
      add(Severity::wrong, end, side,
          say("the drive shaft meets the bottom of its cup, {:.1f} mm too long", -*t.shaft_least_to_bottoming_mm),
          remedy, part_at(end, attachment::shaft_joint));
  }

  /// No joint of the linkage lies in the rubber of its tyre.
  void check_tyre(End end, Side side) {
    const CornerModel& corner = v_.model.corner(end, side);
    const auto pose = pose_axle(v_.model, end, static_attitude(v_.model));
    if (!pose) return;
    const CornerPose& p = pose->corner[at(side)];
    for (const PointHandle point : corner.spec->points.handles()) {
      if (point == corner.spec->wheel_centre) continue;
      const Vec3 off = point_in_chassis(corner, p, point) - p.wheel_centre;
      const double along = off.dot(p.spin_axis);
      const double across = (off - p.spin_axis * along).norm();
      if (std::abs(along) >= 0.5 * corner.tyre.width_mm || across >= corner.tyre.radius_mm ||
          across <= tread_begins * corner.tyre.radius_mm)
        continue;
      add(Severity::wrong, end, side, say("{} lies inside the tyre", word(corner.spec->points[point].label)),
          say("check that point, the tyre's width and the wheel's place"), part_at(end, point));
    }
  }

  void check_lock() {
    const LockFigures& lock = *v_.source.travel.lock;
    const auto pose = pose_axle(v_.model, End::front, static_attitude(v_.model));
    const auto centred = steer(v_.model, 0.0);
    if (!pose || !centred) return;
    for (const Side way : both_sides) {
      const LockEnd& end = lock.usable[at(way)];
      if (end.servo_rad >= least_lock_rad) continue;
      const bool none = end.servo_rad <= 0.0;
      add(none ? Severity::wrong : Severity::doubtful, End::front, std::nullopt,
          say("the steering ends after {servo:.1f} deg of servo to the {way}: {stop}",
              "servo"_a = degrees(end.servo_rad), "way"_a = word(way), "stop"_a = end.what),
          none ? say("these two are in each other's way already straight ahead: check the points")
               : say("check the part that ends it"));
    }
    for (const Side way : both_sides) {
      const double level = lock.at_ride_height[at(way)].servo_rad;
      const double usable = lock.usable[at(way)].servo_rad;
      if (level <= 0.0 || (level - usable) / level <= most_travel_takes) continue;
      add(Severity::doubtful, End::front, std::nullopt,
          say("droop and bump take {taken:.1f} of {servo:.1f} deg of servo to the {way}: {stop}",
              "taken"_a = degrees(level - usable), "servo"_a = degrees(level), "way"_a = word(way),
              "stop"_a = lock.usable[at(way)].what),
          say("take bump steer out, or set the end points at the travel that gives least"));
    }
    if (v_.model.wanted_lock_rad)
      for (const Side way : both_sides) {
        const double short_of = *v_.model.wanted_lock_rad - lock.most_inside_rad[at(way)];
        if (short_of <= least_short_of_lock_rad) continue;
        add(Severity::doubtful, End::front, std::nullopt,
            say("{wanted:.1f} deg of lock are wanted, {there:.1f} are there to the {way}: {stop}",
                "wanted"_a = degrees(*v_.model.wanted_lock_rad), "there"_a = degrees(lock.most_inside_rad[at(way)]),
                "way"_a = word(way), "stop"_a = lock.usable[at(way)].what),
            say("want less lock, or change what ends it"));
      }
    if (std::abs(lock.tie_rods_differ_mm) > most_apart_mm) {
      const MechanismSpec& spec = *car_.axle(End::front).mechanism;
      PartHandle rod;
      for (const LinkHandle l : spec.links.handles())
        if (spec.links[l].holds == LinkHolds::toe) rod = car_.turnbuckle_of(End::front, l);
      add(Severity::doubtful, End::front, std::nullopt,
          say("the tie rods differ by {:.1f} mm", std::abs(lock.tie_rods_differ_mm)),
          say("set both alike before any angle is set"), rod);
    }
  }

  /// Left against right, beyond what the gauges can tell, where the setup has the same on both sides.
  void check_sides(End end) {
    const auto& wheel = v_.source.standing.axle[at(end)].wheel;
    const auto apart = [&](double left, double right, double tells, const std::string& what,
                           const std::string& remedy) {
      const double by = degrees(std::abs(left - right));
      if (by > tells)
        add(Severity::doubtful, end, std::nullopt,
            say("{what} differs left and right by {by:.1f} deg", "what"_a = what, "by"_a = by), remedy);
    };
    apart(wheel[0].camber_rad, wheel[1].camber_rad, camber_tells_deg, say("camber"),
          say("set the links' lengths alike, then the camber of each wheel"));
    apart(wheel[0].toe_rad, wheel[1].toe_rad, toe_tells_deg, say("toe"),
          say("set the rods' lengths alike, then the toe of each wheel"));
    if (wheel[0].kingpin && wheel[1].kingpin)
      apart(wheel[0].kingpin->caster_rad, wheel[1].kingpin->caster_rad, caster_tells_deg, say("caster"),
            say("look at the blocks' marks, or turn the upper links against each other"));
    const auto& corner = v_.source.travel.corner[at(end)];
    const double droop =
        std::abs(corner[0].stops.droop.from_ride_height_mm - corner[1].stops.droop.from_ride_height_mm);
    if (v_.model.corner(end, Side::left).spec->independent && droop > droop_tells_mm)
      add(Severity::doubtful, end, std::nullopt, say("droop differs left and right by {:.1f} mm", droop),
          say("turn the droop screws, or make the shocks alike"), part_at(end, attachment::droop_tip));
  }

  /// Toe over the travel that is used (common practice, no source: a tenth or two of a degree is usual on the road).
  void check_bump_steer(End end) {
    for (const Side side : both_sides) {
      double low = 0.0, high = 0.0;
      bool any = false;
      for (const CurvePoint& p : v_.source.curve[at(end)].points) {
        if (std::abs(p.bump_mm) > usual_travel_mm) continue;
        const double toe = degrees(p.toe_rad[at(side)]);
        low = any ? std::min(low, toe) : toe;
        high = any ? std::max(high, toe) : toe;
        any = true;
      }
      if (any && high - low > most_bump_steer_deg)
        add(Severity::doubtful, end, std::nullopt,
            say("toe changes by {angle:.1f} deg within {travel:.0f} mm of travel each way", "angle"_a = high - low,
                "travel"_a = usual_travel_mm),
            say("shims under the tie rod's balls: Search finds which"));
    }
  }

  /// What a setup wants of a wheel and no part of this car sets changes nothing.
  void check_wanted(End end) {
    const auto& [left, right] = v_.setup.wanted[at(end)];
    const auto tell = [&](bool wanted, bool can, std::string_view what, std::string_view by) {
      if (wanted && !can)
        add(Severity::doubtful, end, std::nullopt,
            say("the {angle} that the setup wants moves nothing: {why}", "angle"_a = what, "why"_a = by),
            say("describe the part that sets it, or take the wanted {} out of the setup", what));
    };
    const char* no_link = marked("no turnbuckle sets it here");
    tell(left.camber_deg || right.camber_deg, can_set(car_, end, WheelAngle::camber), say("camber"), no_link);
    tell(left.toe_deg || right.toe_deg, can_set(car_, end, WheelAngle::toe), say("toe"), no_link);
    tell(left.caster_deg || right.caster_deg, can_set(car_, end, WheelAngle::caster), say("caster"),
         say("no two upper links set it here"));
    tell(left.hanging_mm || right.hanging_mm,
         !parts_of_stop(car_, end, StopKind::droop_screw).empty() ||
             !parts_of_stop(car_, end, StopKind::shock_extended).empty(),
         say("droop"), say("no droop screw and no spacer in a shock sets it here"));
  }

  /// A thread at its end gives nothing more.
  void check_screws() {
    for (const PartHandle i : car_.adjusters.handles()) {
      const Adjuster& a = car_.adjusters[i];
      if (!a.threaded()) continue;
      for (const Side side : both_sides) {
        const double value = v_.setup.values[i].on(side);
        if (value > a.least() + 1e-9 && value < a.most() - 1e-9) continue;
        if (value < a.most() && is_droop_screw(i)) continue;  // it is out of use
        add(Severity::doubtful, a.end, a.steering ? std::nullopt : std::optional(side),
            say("{} stands at the end of its thread", a.name),
            say("change a shim or a hole so that it stands nearer its middle"), i);
      }
    }
  }

  const Car& car_;
  const Variant& v_;
  std::vector<Finding> found_;
};

}  // namespace

std::vector<Finding> check_car(const Car& car, const Setup& setup) {
  const auto v = evaluate(car, setup, {}, curve_samples);
  if (!v)
    return {{Severity::wrong,
             v.error().end.value_or(End::front),
             v.error().side,
             v.error().message,
             say("step the last part back, or choose a ride height at which the car can stand"),
             {}}};
  return Checker(car, *v).run();
}

}  // namespace lowkite
