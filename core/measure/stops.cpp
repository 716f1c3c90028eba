#include "core/measure/stops.hpp"

#include <algorithm>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {

std::string_view name_of(StopKind kind) {
  switch (kind) {
    case StopKind::droop_screw:
      return marked("droop screw");
    case StopKind::shock_extended:
      return marked("shock at full length");
    case StopKind::slide_low:
      return marked("lower end of the kingpin");
    case StopKind::range_droop:
      return marked("nothing described");
    case StopKind::shock_compressed:
      return marked("shock fully in");
    case StopKind::plate_on_ground:
      return marked("plate on the ground");
    case StopKind::slide_high:
      return marked("upper end of the kingpin");
    case StopKind::range_bump:
      return marked("nothing described");
    case StopKind::linkage:
      return marked("linkage at its end");
  }
  return {};
}

std::vector<PartHandle> parts_of_stop(const Car& car, End end, StopKind stop) {
  std::vector<PartHandle> parts;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    const Range* r = a.range();
    if (a.end != end || a.steering || !r) continue;
    const bool screw = std::any_of(r->moves_per_unit.begin(), r->moves_per_unit.end(),
                                   [](const PointMove& m) { return m.point == attachment::droop_tip; });
    // Spacers outside lengthen the shock both pulled out and pushed in.
    const bool limiter = r->sizes_per_unit.size() == 1 && r->sizes_per_unit[0].size == Size::shock_extended;
    if ((stop == StopKind::droop_screw && screw) || (stop == StopKind::shock_extended && limiter)) parts.push_back(i);
  }
  return parts;
}

bool may_stop_droop(const Car& car, PartHandle adjuster) {
  const End end = car.adjusters[adjuster].end;
  for (const StopKind stop : {StopKind::droop_screw, StopKind::shock_extended}) {
    const std::vector<PartHandle> parts = parts_of_stop(car, end, stop);
    if (std::find(parts.begin(), parts.end(), adjuster) != parts.end()) return true;
  }
  return false;
}

const Stop* CornerStops::find(StopKind kind) const {
  for (const Stop& s : all)
    if (s.kind == kind) return &s;
  return nullptr;
}

namespace {

constexpr bool in_droop(StopKind kind) {
  switch (kind) {
    case StopKind::droop_screw:
    case StopKind::shock_extended:
    case StopKind::slide_low:
    case StopKind::range_droop:
      return true;
    case StopKind::shock_compressed:
    case StopKind::plate_on_ground:
    case StopKind::slide_high:
    case StopKind::range_bump:
    case StopKind::linkage:
      return false;
  }
  return false;
}

class StopFinder {
 public:
  StopFinder(const CarModel& model, End end, Side side, const CornerPose& standing, const SteerInput& centred)
      : car_(*model.car),
        axle_(model.car->axle(end)),
        corner_(model.corner(end, side)),
        steer_(centred),
        standing_(standing),
        ride_height_(model.ride_height_mm),
        side_(side) {
    stops_.ride_travel_mm = travel_of(standing);
  }

  CornerStops find() {
    const CornerGeometry& g = corner_.geometry;
    const bool shock = g.has(attachment::shock_upper) && g.has(attachment::shock_lower);
    if (g.has(attachment::droop_tip))
      add(StopKind::droop_screw, pose_at_height(corner_, attachment::droop_tip, axle_.droop_pad_z_mm, steer_));
    for (const auto& [kind, size] : {std::pair(StopKind::shock_extended, Size::shock_extended),
                                     std::pair(StopKind::shock_compressed, Size::shock_compressed)})
      if (shock && g.size_of(size) > 0.0)
        add(kind, pose_at_distance(corner_, attachment::shock_upper, attachment::shock_lower, g.size_of(size), steer_));
    if (standing_.slide_per_arm != 0.0) {
      add_slide(StopKind::slide_low, -g.size_of(Size::slide_droop));
      add_slide(StopKind::slide_high, g.size_of(Size::slide_bump));
    }
    add_plate();
    choose(StopKind::range_droop, -axle_.travel.droop_mm, stops_.droop);
    choose(StopKind::range_bump, axle_.travel.bump_mm, stops_.bump);
    read_hanging();
    return std::move(stops_);
  }

 private:
  [[nodiscard]] double travel_of(const CornerPose& p) const { return p.wheel_centre.z() - corner_.design_wheel_z_mm; }

  void add(StopKind kind, const tl::expected<CornerPose, PoseFailure>& pose) {
    if (!pose) return;  // it never gets that far
    const double travel = travel_of(*pose);
    const double from = travel - stops_.ride_travel_mm;
    stops_.all.push_back({kind, travel, in_droop(kind) ? -from : from, pose->arm_angle});
  }

  void add_slide(StopKind kind, double slide_mm) {
    if (slide_mm == 0.0) return;
    add(kind, pose_at_slide(corner_, slide_mm, steer_));
  }

  /// Both ends let down until the plate lies on the ground under the gauge points.
  void add_plate() {
    Attitude down;
    const double least = std::min(ride_height_[0], ride_height_[1]);
    down.ride_height_mm = {ride_height_[0] - least, ride_height_[1] - least};
    const Ground ground = ground_under(car_, down);
    add(StopKind::plate_on_ground,
        pose_on_ground(corner_, side_ == Side::left ? ground : ground.mirrored_frame(), steer_));
  }

  /// The stop that acts first; where nothing is described, the range of the car file, as far as the linkage closes.
  void choose(StopKind range, double range_mm, Stop& first) {
    const bool droop = in_droop(range);
    const Stop* nearest = nullptr;
    for (const Stop& s : stops_.all)
      if (in_droop(s.kind) == droop && (!nearest || s.from_ride_height_mm < nearest->from_ride_height_mm)) nearest = &s;
    if (nearest) {
      first = *nearest;
      return;
    }
    double reach = range_mm;
    // Where the linkage ends before the range does, halve the way back until it closes.
    for (int i = 0; i < 6; ++i, reach *= 0.5) {
      const auto pose = pose_at_travel(corner_, stops_.ride_travel_mm + reach, steer_, standing_.arm_angle);
      if (!pose) continue;
      first = {i == 0 ? range : StopKind::linkage, travel_of(*pose), std::abs(reach), pose->arm_angle};
      return;
    }
    first = {StopKind::linkage, stops_.ride_travel_mm, 0.0, standing_.arm_angle};
  }

  void read_hanging() {
    const auto pose = corner_.linkage->solve(stops_.droop.arm_angle, steer_);
    if (!pose) return;
    stops_.hanging_wheel_low_mm = -contact_point(corner_.tyre, pose->wheel_centre, pose->spin_axis, Vec3::UnitZ()).z();
    if (corner_.geometry.has(attachment::arm_gauge))
      stops_.hanging_arm_gauge_mm = point_in_chassis(corner_, *pose, attachment::arm_gauge).z();
    if (corner_.geometry.has(attachment::shock_upper) && corner_.geometry.has(attachment::shock_lower))
      stops_.hanging_shock_mm = distance_between(corner_, *pose, attachment::shock_upper, attachment::shock_lower);
  }

  const Car& car_;
  const Axle& axle_;
  const CornerModel& corner_;
  SteerInput steer_;
  const CornerPose& standing_;
  PerEnd<double> ride_height_;
  Side side_;
  CornerStops stops_;
};

}  // namespace

CornerStops find_stops(const CarModel& model, End end, Side side, const CornerPose& standing,
                       const SteerInput& centred) {
  return StopFinder(model, end, side, standing, centred).find();
}

std::optional<CornerStops> stops_of(const Car& car, const Setup& setup, End end, Side side) {
  const auto model = build_model(car, setup);
  if (!model) return std::nullopt;
  const auto standing = pose_car(*model, static_attitude(*model));
  const auto centred = steer(*model, 0.0);
  if (!standing || !centred) return std::nullopt;
  const SteerInput input = model->corner(end, side).spec->steered ? centred->corner[at(side)] : SteerInput{};
  return find_stops(*model, end, side, standing->axle[at(end)].corner[at(side)], input);
}

}  // namespace lowkite
