#include "app/drawing/axle_scene.h"

#include <algorithm>
#include <cmath>

namespace lowkite::app {
namespace {

FrontPlace across(const Vec3& p) {
  return {p.y(), p.z()};
}

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

SceneSide sideOf(const SceneCorner& corner, const WheelConstruction& construction) {
  SceneSide s;
  for (const SceneLine& line : corner.lines) s.strokes.push_back({across(line.from), across(line.to), line.stroke});
  for (const Vec3& ball : corner.balls) s.balls.push_back(across(ball));
  for (const SceneStack& stack : corner.stacks)
    s.shims.push_back({stack.adjuster, across(stack.foot), across(stack.direction), stack.discs_mm});
  for (const SceneGrip& grip : corner.grips)
    s.handles.push_back({grip.adjuster, across(grip.at), grip.ball, across(grip.along)});
  std::vector<QPointF> hub;
  for (const Vec3& p : corner.hub) hub.push_back(across(p));
  s.hub = hullOf(std::move(hub));
  const Vec3& spin = corner.wheel.spin;
  const Vec3 up = (Vec3::UnitZ() - spin * spin.z()).normalized();
  for (const auto& [a, b] : {std::pair(1, 1), std::pair(1, -1), std::pair(-1, -1), std::pair(-1, 1)})
    s.tyre << across(corner.wheel.centre + spin * (0.5 * corner.wheel.tyre.width_mm * a) +
                     up * (corner.wheel.tyre.radius_mm * b));
  s.cup = corner.cup;
  s.limits = corner.limits;
  s.construction = construction;
  return s;
}

}  // namespace

AxleScene axleSceneOf(const Car& car, const Variant& v, const CarScene& whole, End end) {
  AxleScene scene;
  const AxleFigures& figures = v.source.car.axle[at(end)];
  for (const Side side : both_sides)
    scene.side[at(side)] = sideOf(whole.corner[at(end)][at(side)], figures.roll_centre.construction[at(side)]);
  const Ground& ground = v.pose.ground;
  const double x = v.pose.axle[at(end)].corner[0].wheel_centre.x();
  const double half = car.plate_half_width_mm[at(end)];
  const double thick = car.plate_thickness_mm;
  for (const auto& [y, z] :
       {std::pair(half, 0.0), std::pair(-half, 0.0), std::pair(-half, thick), std::pair(half, thick)}) {
    const Vec3 p(x, y, z);
    scene.plate << FrontPlace(ground.left.dot(p), ground.height(p));
  }
  std::vector<QPointF> bulkhead{scene.plate[2], scene.plate[3]};
  for (const Side side : both_sides)
    for (const Vec3& p : whole.corner[at(end)][at(side)].on_chassis) bulkhead.push_back(across(p));
  scene.bulkhead = hullOf(std::move(bulkhead));
  if (end == End::front && whole.steering) {
    for (const SceneLine& line : whole.steering->lines)
      scene.steering.push_back({across(line.from), across(line.to), line.stroke});
    for (const SceneGrip& grip : whole.steering->grips)
      scene.steeringHandles.push_back({grip.adjuster, across(grip.at), grip.ball, across(grip.along)});
  }
  if (car.axle(end).mechanism->independent) {
    scene.rollCentre = figures.roll_centre.drawn;
    scene.rollCentreMoving = figures.roll_centre.moving;
  }
  if (whole.gravity) {
    scene.gravityHeight = whole.gravity->z();
    if (const auto axis = rollAxisAt(whole, whole.gravity->x())) scene.lever = whole.gravity->z() - *axis;
  }
  scene.halfWidth = 0.0;
  scene.top = 0.0;
  for (const SceneSide& s : scene.side) {
    for (const QPointF& p : s.tyre) {
      scene.halfWidth = std::max(scene.halfWidth, std::abs(p.x()));
      scene.top = std::max(scene.top, p.y());
    }
    for (const SceneStroke& stroke : s.strokes) scene.top = std::max({scene.top, stroke.from.y(), stroke.to.y()});
  }
  return scene;
}

}  // namespace lowkite::app
