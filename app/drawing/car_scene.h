// The whole car as every drawing shows it: where its parts are, in millimetres over the ground. Everything here follows
// from a solved pose; the views only project, scale and paint it.
//
// Axes stand on the ground under the car: x forward along it, y left, z up from it.
#pragma once

#include <optional>
#include <vector>

#include "core/plan/comparison.hpp"

namespace lowkite::app {

struct SceneLine {
  Vec3 from, to;
  Stroke stroke;
};

/// A stack of shims under a ball or pin.
struct SceneStack {
  PartHandle adjuster;
  Vec3 foot;       ///< where the stack ends under the ball
  Vec3 direction;  ///< unit, from the foot to the ball
  std::vector<double> discs_mm;
};

/// Something that a hand can pick: a ball, a pin, a screw or a link's middle.
struct SceneGrip {
  PartHandle adjuster;
  Vec3 at;
  bool ball = true;           ///< false: a turnbuckle's middle
  Vec3 along = Vec3::Zero();  ///< from a turnbuckle's inner to its outer ball
};

/// Something that is at its end or near it, where it happens.
struct SceneLimit {
  Vec3 at;
  std::string text;   ///< in the core's words: numbers with their unit
  bool past = false;  ///< beyond its end; else near it
};

/// The differential's cup with the drive shaft's pin in it.
struct SceneCup {
  Vec3 mouth, bottom;
  Vec3 pin;    ///< its middle
  Vec3 shaft;  ///< unit, from the pin outboard
};

struct SceneWheel {
  Vec3 centre, spin;  ///< spin: unit, outboard
  Tyre tyre;
};

struct SceneCorner {
  std::vector<SceneLine> lines;
  std::vector<Vec3> balls;
  std::vector<SceneStack> stacks;
  std::vector<SceneGrip> grips;
  std::vector<Vec3> hub;         ///< points that carrier and knuckle join
  std::vector<Vec3> on_chassis;  ///< points that the bulkhead carries
  std::optional<SceneCup> cup;
  std::vector<SceneLimit> limits;
  std::vector<Vec3> instant_chain;  ///< lower inner, lower outer, upper inner, upper outer of the two-line drawing
  std::optional<Vec3> third_end;    ///< of a third spring on this side's lever
  std::optional<Vec3> bar;          ///< where this side's arm of an anti-roll bar turns
  SceneWheel wheel;
};

struct SceneSteering {
  std::vector<SceneLine> lines;
  std::vector<Vec3> balls;
  std::vector<SceneGrip> grips;
};

struct CarScene {
  PerEnd<PerSide<SceneCorner>> corner;
  std::optional<SceneSteering> steering;
  std::vector<Vec3> plate;  ///< outline of its underside, front left first, clockwise from above
  double plate_thickness_mm = 2.0;
  std::optional<Vec3> gravity;              ///< centre of gravity of the whole car, where the car file tells it
  PerEnd<std::optional<Vec3>> roll_centre;  ///< that of the whole linkage moving; none at infinity or of a solid axle
  std::optional<Vec3> turn_centre;          ///< on the ground, on the rear axle's line; none straight ahead
};

/// Height of the roll axis over the ground at a place along the car, mm; none without two roll centres.
std::optional<double> rollAxisAt(const CarScene& scene, double x);

CarScene carSceneOf(const Car& car, const Variant& variant);

constexpr double ballRadius_mm = 2.1;

}  // namespace lowkite::app
