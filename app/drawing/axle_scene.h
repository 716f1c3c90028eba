// One axle as the front view shows it: the car's scene seen from behind, in millimetres across (left positive) and over
// the ground.
#pragma once

#include <vector>

#include <QPolygonF>

#include "app/drawing/car_scene.h"

namespace lowkite::app {

/// A place or direction of the front view, mm: x across to the left, y up from the ground.
using FrontPlace = QPointF;

struct SceneStroke {
  FrontPlace from, to;
  Stroke stroke;
};

/// A stack of shims under a ball or pin, as discs seen from the edge.
struct SceneShims {
  PartHandle adjuster;
  FrontPlace foot;       ///< where the stack ends under the ball
  FrontPlace direction;  ///< unit, from the foot to the ball
  std::vector<double> discs_mm;
};

/// Something that a hand can pick: a ball, a pin or a link's middle.
struct SceneHandle {
  PartHandle adjuster;
  FrontPlace at;
  bool ball = true;  ///< false: a turnbuckle's middle
  FrontPlace along;  ///< direction of the turnbuckle, mm
};

struct SceneSide {
  std::vector<SceneStroke> strokes;
  std::vector<FrontPlace> balls;
  std::vector<SceneShims> shims;
  std::vector<SceneHandle> handles;
  std::optional<SceneCup> cup;
  std::vector<SceneLimit> limits;
  QPolygonF tyre;
  QPolygonF hub;  ///< outline of carrier and knuckle
  WheelConstruction construction;
};

struct AxleScene {
  PerSide<SceneSide> side;
  std::vector<SceneStroke> steering;  ///< at the front axle
  std::vector<SceneHandle> steeringHandles;
  QPolygonF plate;
  QPolygonF bulkhead;                    ///< outline of what carries the inner points
  std::optional<FrontPoint> rollCentre;  ///< the drawn one, at which the construction ends
  std::optional<FrontPoint> rollCentreMoving;
  std::optional<double> gravityHeight;  ///< of the centre of gravity
  std::optional<double> lever;          ///< of it over the roll axis, at its place along the car
  double halfWidth = 100.0;             ///< of everything, for the scale
  double top = 80.0;
};

AxleScene axleSceneOf(const Car& car, const Variant& variant, const CarScene& scene, End end);

}  // namespace lowkite::app
