#include "app/plan/axle_scene.h"

#include <algorithm>
#include <cmath>

namespace lowkite::app {
namespace {

/// Maps a corner's points into the front view of the ground.
class FrontView {
 public:
  FrontView(const Ground& ground, Side side) : ground_(ground), side_(side) {}

  [[nodiscard]] FrontPlace place(const Vec3& corner) const {
    const Vec3 p = in_car(corner);
    return {ground_.left.dot(p), ground_.height(p)};
  }
  [[nodiscard]] FrontPlace direction(const Vec3& corner) const {
    const Vec3 d = in_car(corner);
    return {ground_.left.dot(d), ground_.up.dot(d)};
  }

 private:
  [[nodiscard]] Vec3 in_car(const Vec3& v) const { return side_ == Side::left ? v : mirrored(v); }
  const Ground& ground_;
  Side side_;
};

QPolygonF hullOf(std::vector<QPointF> points) {
  // Andrew's monotone chain: the outline of a handful of points.
  std::sort(points.begin(), points.end(),
            [](const QPointF& a, const QPointF& b) { return std::pair(a.x(), a.y()) < std::pair(b.x(), b.y()); });
  const auto half = [](const auto& all) {
    std::vector<QPointF> chain;
    for (const QPointF& p : all) {
      while (chain.size() > 1) {
        const QPointF a = chain[chain.size() - 1] - chain[chain.size() - 2];
        const QPointF b = p - chain[chain.size() - 2];
        if (a.x() * b.y() - a.y() * b.x() > 0) break;
        chain.pop_back();
      }
      chain.push_back(p);
    }
    return chain;
  };
  QPolygonF hull;
  for (const QPointF& p : half(points)) hull << p;
  std::reverse(points.begin(), points.end());
  for (const QPointF& p : half(points)) hull << p;
  return hull;
}

SceneSide sideOf(const Car& car, const Variant& v, End end, Side side) {
  const CornerModel& corner = v.model.corner(end, side);
  const CornerPose& pose = v.pose.axle[at(end)].corner[at(side)];
  const MechanismSpec& spec = *corner.spec;
  const FrontView view(v.pose.ground, side);
  const auto place = [&](int point) { return view.place(point_in_chassis(corner, pose, point)); };

  SceneSide s;
  for (const StrokeSpec& stroke : spec.strokes)
    s.strokes.push_back({place(stroke.from), place(stroke.to), stroke.stroke});
  for (const LinkSpec& link : spec.links) {
    s.balls.push_back(place(link.inner));
    s.balls.push_back(place(link.outer));
  }
  std::vector<QPointF> hub;
  for (std::size_t i = 0; i < spec.points.size(); ++i)
    if (spec.points[i].body == Body::carrier || spec.points[i].body == Body::knuckle)
      hub.push_back(place(static_cast<int>(i)));
  for (const char* id : {"arm_outer_front", "arm_outer_rear", "lower_ball"})
    if (const int p = spec.point(id); p != no_point) hub.push_back(place(p));
  s.hub = hullOf(std::move(hub));

  const Tyre& tyre = corner.tyre;
  const Vec3& spin = pose.spin_axis;
  const Vec3 up = (Vec3::UnitZ() - spin * spin.z()).normalized();
  for (const auto& [a, b] : {std::pair(1, 1), std::pair(1, -1), std::pair(-1, -1), std::pair(-1, 1)})
    s.tyre << view.place(pose.wheel_centre + spin * (0.5 * tyre.width_mm * a) + up * (tyre.radius_mm * b));

  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Adjuster& a = car.adjusters[i];
    if (a.end != end) continue;
    const int index = static_cast<int>(i);
    const Range* range = a.range();
    if (range && range->link != no_point) {
      const LinkSpec& link = spec.links[static_cast<std::size_t>(range->link)];
      s.handles.push_back({index, 0.5 * (place(link.inner) + place(link.outer)), false});
      continue;
    }
    const int point = a.place();
    if (point == no_point) continue;
    s.handles.push_back({index, place(point), true});
    if (!range) continue;
    const PointMove& move = range->moves_per_unit.front();
    const Placement& body = pose.placement(spec.points[static_cast<std::size_t>(point)].body);
    const FrontPlace d = view.direction(body.direction(move.mm.normalized()));
    SceneShims shims;
    shims.adjuster = index;
    shims.direction = d;
    const double value = v.setup.values[i].on(side);
    shims.discs_mm = shims_for(value, range->shims_mm);
    shims.foot = place(point) - d * (ballRadius_mm + value);
    s.shims.push_back(std::move(shims));
  }
  s.construction = v.source.car.axle[at(end)].roll_centre.construction[at(side)];
  return s;
}

}  // namespace

AxleScene sceneOf(const Car& car, const Variant& v, End end) {
  AxleScene scene;
  for (const Side side : both_sides) scene.side[at(side)] = sideOf(car, v, end, side);
  const Ground& ground = v.pose.ground;
  const double x = v.pose.axle[at(end)].corner[0].wheel_centre.x();
  const double half = car.plate_half_width_mm[at(end)];
  const double thick = car.plate_thickness_mm;
  const FrontView chassis(ground, Side::left);
  for (const auto& [y, z] :
       {std::pair(half, 0.0), std::pair(-half, 0.0), std::pair(-half, thick), std::pair(half, thick)})
    scene.plate << chassis.place({x, y, z});
  std::vector<QPointF> bulkhead{scene.plate[2], scene.plate[3]};
  for (const Side side : both_sides) {
    const CornerModel& corner = v.model.corner(end, side);
    const FrontView view(ground, side);
    for (std::size_t i = 0; i < corner.spec->points.size(); ++i)
      if (corner.spec->points[i].body == Body::chassis) bulkhead.push_back(view.place(corner.geometry.set[i]));
  }
  scene.bulkhead = hullOf(std::move(bulkhead));
  const RollCentre& rc = v.source.car.axle[at(end)].roll_centre;
  scene.rollCentre = rc.drawn;
  scene.rollCentreMoving = rc.moving;
  scene.halfWidth = 0.0;
  scene.top = 0.0;
  for (const SceneSide& s : scene.side) {
    for (const QPointF& p : s.tyre) scene.halfWidth = std::max(scene.halfWidth, std::abs(p.x()));
    for (const SceneStroke& stroke : s.strokes) scene.top = std::max({scene.top, stroke.from.y(), stroke.to.y()});
  }
  return scene;
}

}  // namespace lowkite::app
