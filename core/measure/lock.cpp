#include "core/measure/lock.hpp"

#include <algorithm>
#include <cmath>

#include <boost/math/tools/toms748_solve.hpp>

#include "core/measure/corner_parts.hpp"
#include "core/measure/steering_figures.hpp"
#include "core/measure/wheel.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double scan_step_rad = radians(4.0);  ///< while there is room for it
constexpr double near_step_rad = radians(1.0);  ///< with less: a part may be met and left again
constexpr double fastest = 2.0;  ///< that room is used up, per turn of the servo, away from a dead centre
constexpr double hint_reach_rad = radians(2.0);  ///< how far a step of travel moves an end point at most, as a rule
constexpr double settled_rad = radians(0.02);    ///< finer than any servo
constexpr double no_room_rad = 1e-9;             ///< an end point is the same from whichever side it is looked for
constexpr double last_secant_rad = 1e-6;         ///< a step no longer than that ends far closer than no_room_rad
constexpr int most_secants = 8;

/// The knuckle's turn about its kingpin from the design position, positive = to the left on the left side.
double knuckle_turn(const CornerModel& corner, const CornerPose& pose) {
  const Vec3 k = (pose.kingpin_upper - pose.kingpin_lower).normalized();
  const Vec3 rest = pose.placement(Body::carrier).direction(corner.geometry.spin_axis);
  const Vec3& now = pose.spin_axis;
  return std::atan2(k.dot(rest.cross(now)), rest.dot(now) - k.dot(rest) * k.dot(now));
}

struct Segment {
  Vec3 from, to;
};

class MarginReader {
 public:
  MarginReader(const CarModel& model, Side side, const CornerPose& pose, const SteeringPose& steering)
      : model_(model), corner_(model.corner(End::front, side)), side_(side), pose_(pose), steering_(steering) {}

  [[nodiscard]] LockMargin read(bool left_lock) const {
    const AxleLimits& limits = model_.car->axle(End::front).limits;
    LockMargin least{pi, LockCause::servo, -1};
    const auto take = [&](double left, LockCause cause, int index) {
      if (left < least.left) least = {left, cause, index};
    };
    if (limits.knuckle) {
      const bool inside = left_lock == (side_ == Side::left);
      const double turn = knuckle_turn(corner_, pose_) * (inside ? 1.0 : -1.0);
      take((inside ? limits.knuckle->inside_rad : limits.knuckle->outside_rad) - turn, LockCause::knuckle_stop, -1);
    }
    for (std::size_t i = 0; i < limits.joints.size(); ++i) take(joint_room(limits.joints[i]), LockCause::joint, int(i));
    for (std::size_t i = 0; i < limits.clearances.size(); ++i) {
      const Clearance& c = limits.clearances[i];
      const Segment a = place(c.a);
      const Segment b = place(c.b);
      const double gap = segment_distance(a.from, a.to, b.from, b.to) - c.a.radius_mm - c.b.radius_mm;
      take(gap / clearance_mm_per_rad, LockCause::clearance, int(i));
    }
    return least;
  }

 private:
  [[nodiscard]] double joint_room(const JointLimit& j) const {
    const LinkSpec& link = corner_.spec->links[j.link];
    const Vec3 rod = point_in_chassis(corner_, pose_, link.outer) - point_in_chassis(corner_, pose_, link.inner);
    const Body body = corner_.spec->point_spec(j.outer ? link.outer : link.inner).body;
    const Vec3 stud =
        body == Body::rack ? carrier_of_ball().rotation * j.stud : pose_.placement(body).direction(j.stud);
    return j.most_rad - lean_out_of_plane(rod, stud);
  }

  /// What carries the tie rod's inner ball, in the corner's frame.
  [[nodiscard]] Placement carrier_of_ball() const {
    return in_corner(steering_.placement(model_.car->steering.spec->ball_carrier[at(side_)]));
  }
  [[nodiscard]] Placement in_corner(const Placement& p) const {
    if (side_ == Side::left) return p;
    const Eigen::DiagonalMatrix<double, 3> flip(1.0, -1.0, 1.0);
    return {flip * p.rotation * flip, mirrored(p.translation)};
  }
  [[nodiscard]] Vec3 place(const PartEnd& e) const {
    switch (e.of) {
      case PartEnd::Of::corner:
        return point_in_chassis(corner_, pose_, e.point);
      case PartEnd::Of::steering: {
        const Vec3 now = point_in_chassis(model_, steering_, e.point);
        return side_ == Side::left ? now : mirrored(now);
      }
      case PartEnd::Of::place:
        return pose_.placement(e.body).point(e.place);
    }
    return Vec3::Zero();
  }
  [[nodiscard]] Segment place(const Capsule& c) const { return {place(c.from), place(c.to)}; }

  const CarModel& model_;
  const CornerModel& corner_;
  Side side_;
  const CornerPose& pose_;
  const SteeringPose& steering_;
};

std::string words_for(const CarModel& model, const LockMargin& m) {
  const AxleLimits& limits = model.car->axle(End::front).limits;
  switch (m.cause) {
    case LockCause::knuckle_stop:
      return say("knuckle on its stop");
    case LockCause::joint: {
      const JointLimit& j = limits.joints[at(m.index)];
      const LinkSpec& link = model.corner(End::front, Side::left).spec->links[j.link];
      return say("{link}, {which} ball out of angle", "link"_a = word(link.label),
                 "which"_a = j.outer ? say("outer") : say("inner"));
    }
    case LockCause::clearance: {
      const Clearance& c = limits.clearances[at(m.index)];
      return say("{first} meets {second}", "first"_a = c.a.name, "second"_a = c.b.name);
    }
    case LockCause::linkage:
      return say("linkage closes no further");
    case LockCause::servo:
      return say("servo at its own end");
  }
  return {};
}

/// A front wheel with its tyre on level ground that comes nearer to the chassis or leaves it, and no further than its
/// stops. Steered, a wheel rises or sinks in the chassis: it is the tyre that stays where it is.
class WheelOnGround {
 public:
  WheelOnGround(const CarModel& model, Side side, const CornerStops& stops)
      : corner_(model.corner(End::front, side)),
        ground_(ground_of(ground_under(*model.car, static_attitude(model)), side)),
        lowest_(std::min(stops.droop.arm_angle, stops.bump.arm_angle)),
        highest_(std::max(stops.droop.arm_angle, stops.bump.arm_angle)) {}

  /// `travel_mm`: of the ground from where it is at ride height, positive = bump. `start`: arm angle of a pose near.
  [[nodiscard]] std::optional<CornerPose> at(double travel_mm, const SteerInput& steer, double start) const {
    Ground ground = ground_;
    ground.offset -= travel_mm;
    if (auto pose = pose_on_ground(corner_, ground, steer, start);
        pose && pose->arm_angle >= lowest_ && pose->arm_angle <= highest_)
      return *std::move(pose);
    for (const double stop : {lowest_, highest_}) {
      auto pose = corner_.linkage->solve(stop, steer);
      if (!pose) continue;
      const double over = ground.height(contact_point(corner_.tyre, pose->wheel_centre, pose->spin_axis, ground.up));
      if (stop == lowest_ ? over >= 0.0 : over <= 0.0) return *std::move(pose);
    }
    return std::nullopt;
  }

  /// Toe-in of a pose, as a gauge on the ground reads it.
  [[nodiscard]] double toe_of(const CornerPose& pose) const {
    return std::atan2(pose.spin_axis.dot(ground_.forward), pose.spin_axis.dot(ground_.left));
  }
  [[nodiscard]] double camber_of(const CornerPose& pose) const {
    return -std::asin(std::clamp(pose.spin_axis.dot(ground_.up), -1.0, 1.0));
  }

 private:
  const CornerModel& corner_;
  Ground ground_;
  double lowest_, highest_;  ///< angles of the arm
};

/// Where a search ended: what one at a neighbouring travel starts from.
struct EndBeside {
  double servo_rad = 0.0;
  double travel_mm = 0.0;
  double room_per_rad = -1.0;  ///< how the room went there
  double servo_per_mm = 0.0;   ///< how the end moved from the one before
};

/// One wheel held at a travel while the servo is turned one way, then the other, until something ends it.
class LockSearch {
 public:
  /// `centred`: the steering in its middle. `start`: arm angle of a pose near.
  LockSearch(const CarModel& model, const Steered& centred, Side wheel, const WheelOnGround& on_ground,
             double travel_mm, double start)
      : model_(model),
        on_ground_(on_ground),
        centred_(centred),
        wheel_(wheel),
        travel_(travel_mm),
        straight_(on_ground.at(travel_mm, centred.corner[at(wheel)], start)) {}

  /// `beside`: where a neighbouring travel ended, when that is known: the end is first looked for about there. Becomes
  /// where this one ended.
  LockEnd run(bool to_the_left, std::optional<EndBeside>& beside) {
    left_ = to_the_left;
    LockEnd end = look(beside);
    if (end.cause == LockCause::linkage) {
      beside.reset();
    } else {
      const double on = beside ? travel_ - beside->travel_mm : 0.0;
      beside =
          EndBeside{end.servo_rad, travel_, room_per_rad_, on != 0.0 ? (end.servo_rad - beside->servo_rad) / on : 0.0};
    }
    return end;
  }

  /// Arm angle of the last pose that was looked at.
  [[nodiscard]] double arm_angle() const { return arm_angle_; }

 private:
  LockEnd look(const std::optional<EndBeside>& beside) {
    room_per_rad_ = -1.0;
    if (!straight_) return ended(0.0, nothing_but_closing);
    arm_angle_ = straight_->arm_angle;
    last_ = margin_of(model_, wheel_, *straight_, *centred_.linkage, left_);
    const double room = last_.left;
    if (room <= 0.0) return ended(0.0, last_);
    const double most = servo_reach();
    if (beside && beside->servo_rad > hint_reach_rad && beside->servo_rad + hint_reach_rad < most) {
      const double moved = beside->servo_per_mm * (travel_ - beside->travel_mm);
      const double from = beside->servo_rad + std::clamp(moved, -hint_reach_rad, hint_reach_rad);
      if (const auto found = settle(from, beside->room_per_rad, beside->servo_rad - hint_reach_rad,
                                    beside->servo_rad + hint_reach_rad))
        return ended(*found, last_);
      arm_angle_ = straight_->arm_angle;
    }
    return scan(most, room);
  }

  /// From the middle on.
  LockEnd scan(double most, double room) {
    double before = 0.0;
    while (before < most) {
      const double step = std::clamp(room / fastest, near_step_rad, scan_step_rad);
      const double next = std::min(most, before + step);
      const auto there = room_at(next);
      if (!there) {
        // Close to where it no longer closes the wheel turns fast: a stop may be met on the way there.
        const double edge = edge_of_closing(before, next);
        const auto at_edge = room_at(edge);
        return at_edge && *at_edge <= 0.0 ? between(before, room, edge, *at_edge) : ended(edge, nothing_but_closing);
      }
      if (*there <= 0.0) return between(before, room, next, *there);
      room = *there;
      before = next;
    }
    return ended(most, nothing_but_servo);
  }

  /// How far the servo can still turn this way from the steering's middle, where its trim has put it.
  [[nodiscard]] double servo_reach() const {
    const double trim = model_.servo_sense * model_.steering->centre();
    return model_.car->steering.servo_most_rad + (left_ ? -trim : trim);
  }

  std::optional<double> room_at(double servo) {
    const auto steered = steer(model_, left_ ? servo : -servo);
    if (!steered) return std::nullopt;
    const auto pose = on_ground_.at(travel_, steered->corner[at(wheel_)], arm_angle_);
    if (!pose) return std::nullopt;
    arm_angle_ = pose->arm_angle;
    last_ = margin_of(model_, wheel_, *pose, *steered->linkage, left_);
    return last_.left;
  }

  /// Where the room ends between `low` and `high`, by the secant method from a place there. None where it leads
  /// elsewhere: what ends it goes another way beyond a corner of it, or the linkage does not close.
  std::optional<double> settle(double servo, double room_per_rad, double low, double high) {
    double slope = room_per_rad;
    auto room = room_at(servo);
    bool by_secant = false;
    for (int round = 0; round < most_secants && room && slope < 0.0; ++round) {
      const double next = servo - *room / slope;
      if (!(next >= low && next <= high)) return std::nullopt;
      if (std::abs(next - servo) < (by_secant ? last_secant_rad : no_room_rad)) {
        room_per_rad_ = slope;
        return next;
      }
      const auto there = room_at(next);
      if (there) slope = (*there - *room) / (next - servo);
      by_secant = true;
      servo = next;
      room = there;
    }
    return std::nullopt;
  }

  LockEnd between(double a, double room_a, double b, double room_b) {
    const double slope = (room_b - room_a) / (b - a);
    if (const auto found = settle(a - room_a / slope, slope, a, b)) return ended(*found, last_);
    std::uintmax_t rounds = 30;
    const auto room = [&](double servo) { return room_at(servo).value_or(-1.0); };
    const auto near = [](double low, double high) { return high - low < settled_rad; };
    const auto found = boost::math::tools::toms748_solve(room, a, b, room_a, room_b, near, rounds);
    // Past a corner of it, just beyond, the blame is plain.
    room_at(found.first + 2.0 * settled_rad);
    return ended(found.first, last_);
  }

  double edge_of_closing(double good, double bad) {
    while (bad - good > settled_rad) {
      const double middle = 0.5 * (good + bad);
      (room_at(middle) ? good : bad) = middle;
    }
    return good;
  }

  [[nodiscard]] LockEnd ended(double servo, const LockMargin& by) const {
    return {servo, by.cause, words_for(model_, by), wheel_, travel_};
  }

  static constexpr LockMargin nothing_but_closing{0.0, LockCause::linkage, -1};
  static constexpr LockMargin nothing_but_servo{0.0, LockCause::servo, -1};

  const CarModel& model_;
  const WheelOnGround& on_ground_;
  const Steered& centred_;
  Side wheel_;
  double travel_;
  std::optional<CornerPose> straight_;  ///< none: the linkage does not close there
  bool left_ = true;
  double arm_angle_ = 0.0;
  double room_per_rad_ = -1.0;
  LockMargin last_;
};

}  // namespace

std::optional<CornerPose> wheel_on_ground(const CarModel& model, Side side, const CornerStops& stops, double travel_mm,
                                          const SteerInput& steer, double start) {
  return WheelOnGround(model, side, stops).at(travel_mm, steer, start);
}

LockMargin margin_of(const CarModel& model, Side side, const CornerPose& pose, const SteeringPose& steering,
                     bool left_lock) {
  return MarginReader(model, side, pose, steering).read(left_lock);
}

namespace {

/// One wheel at a travel with the servo turned. Where the arm as it stands lets the wheel not be steered that far, it
/// is steered there step by step with the tyre on the ground, as a hand would. `near`: arm angle of a pose that is.
std::optional<CornerPose> steered_pose(const CarModel& model, const AxlePose& standing, const WheelOnGround& on_ground,
                                       Side wheel, double travel_mm, double servo_rad,
                                       std::optional<double> near = std::nullopt) {
  double start = near.value_or(standing.corner[at(wheel)].arm_angle);
  const auto at_servo = [&](double servo) -> std::optional<CornerPose> {
    const auto steered = steer(model, servo);
    return steered ? on_ground.at(travel_mm, steered->corner[at(wheel)], start) : std::nullopt;
  };
  if (auto pose = at_servo(servo_rad)) return pose;
  std::optional<CornerPose> pose;
  start = standing.corner[at(wheel)].arm_angle;
  const int steps = static_cast<int>(std::ceil(std::abs(servo_rad) / near_step_rad));
  for (int i = 0; i <= steps; ++i) {
    pose = at_servo(servo_rad * i / std::max(1, steps));
    if (!pose) return std::nullopt;
    start = pose->arm_angle;
  }
  return pose;
}

}  // namespace

std::optional<double> inside_heading(const CarModel& model, const AxlePose& standing, const PerSide<CornerStops>& stops,
                                     Side way, double travel_mm, double servo_rad) {
  const double sign = way == Side::left ? 1.0 : -1.0;
  const WheelOnGround on_ground(model, way, stops[at(way)]);
  const auto pose = steered_pose(model, standing, on_ground, way, travel_mm, sign * servo_rad);
  // Toe-in is towards the middle: on the inside wheel that is out of the turn.
  return pose ? std::optional(-on_ground.toe_of(*pose)) : std::nullopt;
}

std::optional<double> servo_for_inside(const CarModel& model, const AxlePose& standing,
                                       const PerSide<CornerStops>& stops, Side way, double travel_mm,
                                       double heading_rad) {
  double before = 0.0;
  auto there = inside_heading(model, standing, stops, way, travel_mm, before);
  while (there && *there < heading_rad) {
    const double next = before + scan_step_rad;
    if (next > model.car->steering.servo_most_rad) return std::nullopt;
    const auto further = inside_heading(model, standing, stops, way, travel_mm, next);
    if (!further) return std::nullopt;
    if (*further >= heading_rad) {
      std::uintmax_t rounds = 40;
      const auto off = [&](double servo) {
        return inside_heading(model, standing, stops, way, travel_mm, servo).value_or(heading_rad) - heading_rad;
      };
      const auto near = [](double low, double high) { return high - low < settled_rad; };
      const auto found = boost::math::tools::toms748_solve(off, before, next, *there - heading_rad,
                                                           *further - heading_rad, near, rounds);
      return 0.5 * (found.first + found.second);
    }
    before = next;
    there = further;
  }
  return std::nullopt;
}

LockFigures find_lock(const CarModel& model, const AxlePose& standing, const PerSide<CornerStops>& stops, int samples) {
  LockFigures lock;
  const auto centred = steer(model, 0.0);
  if (!centred) return lock;
  // Both wheels are taken over the same list of travels, so that a sample tells the worse of the two.
  const double droop = std::max(stops[0].droop.from_ride_height_mm, stops[1].droop.from_ride_height_mm);
  const double bump = std::max(stops[0].bump.from_ride_height_mm, stops[1].bump.from_ride_height_mm);
  std::vector<double> travels;
  for (int i = 0; i < samples; ++i) travels.push_back(-droop + (droop + bump) * i / (samples - 1));
  travels.push_back(0.0);
  std::sort(travels.begin(), travels.end());
  PerSide<PerSide<std::optional<EndBeside>>> beside;
  const PerSide<WheelOnGround> on_ground{WheelOnGround(model, Side::left, stops[0]),
                                         WheelOnGround(model, Side::right, stops[1])};
  /// How far a wheel heads into the turn. `near`: arm angle of a pose that is.
  const auto heading = [&](Side wheel, Side way, double travel, double servo, double near) -> std::optional<double> {
    const double sign = way == Side::left ? 1.0 : -1.0;
    const auto pose = steered_pose(model, standing, on_ground[at(wheel)], wheel, travel, sign * servo, near);
    if (!pose) return std::nullopt;
    const double toe = on_ground[at(wheel)].toe_of(*pose);
    return sign * (wheel == Side::left ? -toe : toe);
  };
  std::vector<PerSide<double>> arm_angle;  // by travel: of the wheel on the inside, steered so
  for (const double travel : travels) {
    LockSample sample;
    sample.travel_mm = travel;
    arm_angle.emplace_back();
    PerSide<PerSide<LockEnd>> ends;  // by wheel, by way
    for (const Side wheel : both_sides) {
      const CornerStops& s = stops[at(wheel)];
      const double within = std::clamp(travel, -s.droop.from_ride_height_mm, s.bump.from_ride_height_mm);
      LockSearch search(model, *centred, wheel, on_ground[at(wheel)], within, standing.corner[at(wheel)].arm_angle);
      for (const Side way : both_sides) {
        ends[at(wheel)][at(way)] = search.run(way == Side::left, beside[at(wheel)][at(way)]);
        if (wheel == way) arm_angle.back()[at(way)] = search.arm_angle();
      }
    }
    for (const Side way : both_sides) {
      const LockEnd &a = ends[0][at(way)], &b = ends[1][at(way)];
      sample.end[at(way)] = b.servo_rad < a.servo_rad ? b : a;
      sample.inside_rad[at(way)] =
          heading(way, way, travel, sample.end[at(way)].servo_rad, arm_angle.back()[at(way)]).value_or(0.0);
      if (travel == 0.0) lock.at_ride_height[at(way)] = sample.end[at(way)];
    }
    lock.over_travel.push_back(std::move(sample));
  }
  // A travel that takes nothing worth telling is not blamed.
  lock.usable = lock.at_ride_height;
  for (const LockSample& sample : lock.over_travel)
    for (const Side way : both_sides)
      if (sample.end[at(way)].servo_rad < lock.usable[at(way)].servo_rad - settled_rad)
        lock.usable[at(way)] = sample.end[at(way)];
  const MechanismSpec& spec = *model.corner(End::front, Side::left).spec;
  for (const Side way : both_sides) {
    const double most = lock.usable[at(way)].servo_rad;
    const double inside = inside_heading(model, standing, stops, way, 0.0, most).value_or(0.0);
    lock.most_inside_rad[at(way)] = inside;
    lock.end_point_rad[at(way)] = most;
    if (model.wanted_lock_rad && *model.wanted_lock_rad < inside)
      lock.end_point_rad[at(way)] =
          std::min(most, servo_for_inside(model, standing, stops, way, 0.0, *model.wanted_lock_rad).value_or(most));
  }
  for (const Side way : both_sides) {
    const Side other = way == Side::left ? Side::right : Side::left;
    const double servo = lock.end_point_rad[at(way)];
    lock.inside_rad[at(way)] = heading(way, way, 0.0, servo, standing.corner[at(way)].arm_angle).value_or(0.0);
    lock.outside_rad[at(way)] = heading(other, way, 0.0, servo, standing.corner[at(other)].arm_angle).value_or(0.0);
    double low = lock.inside_rad[at(way)];
    double high = low;
    for (std::size_t i = 0; i < travels.size(); ++i)
      if (const auto h = heading(way, way, travels[i], servo, arm_angle[i][at(way)])) {
        low = std::min(low, *h);
        high = std::max(high, *h);
      }
    lock.toe_span_rad[at(way)] = high - low;
  }
  lock.trim_rad = model.servo_sense * model.steering->centre();
  lock.horn_from_square_rad = horn_from_square(model, *centred->linkage).value_or(0.0);
  for (const LinkHandle l : spec.links.handles())
    if (spec.links[l].holds == LinkHolds::toe)
      lock.tie_rods_differ_mm = model.corner(End::front, Side::left).geometry.length[l] -
                                model.corner(End::front, Side::right).geometry.length[l];
  return lock;
}

LockMap map_lock(const CarModel& model, Side side, const CornerPose& standing, const CornerStops& stops,
                 double most_servo_rad, int travels, int servos) {
  const WheelOnGround on_ground(model, side, stops);
  LockMap map;
  const double low = -stops.droop.from_ride_height_mm;
  const double high = stops.bump.from_ride_height_mm;
  for (int i = 0; i < travels; ++i) map.travel_mm.push_back(low + (high - low) * i / (travels - 1));
  for (int i = 0; i < servos; ++i) map.servo_rad.push_back(most_servo_rad * (2.0 * i / (servos - 1) - 1.0));
  map.cells.resize(map.travel_mm.size() * map.servo_rad.size());
  std::vector<tl::expected<Steered, LinkageFailure>> steered;
  for (const double servo : map.servo_rad) steered.push_back(steer(model, servo));
  for (std::size_t i = 0; i < map.travel_mm.size(); ++i) {
    double start = standing.arm_angle;
    for (std::size_t j = 0; j < map.servo_rad.size(); ++j) {
      if (!steered[j]) continue;
      const auto pose = on_ground.at(map.travel_mm[i], steered[j]->corner[lowkite::at(side)], start);
      if (!pose) continue;
      start = pose->arm_angle;
      LockMap::Cell& cell = map.cells[i * map.servo_rad.size() + j];
      cell.camber_rad = on_ground.camber_of(*pose);
      cell.toe_rad = on_ground.toe_of(*pose);
      cell.closes = true;
    }
  }
  return map;
}

}  // namespace lowkite
