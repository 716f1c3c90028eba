// The steering, from the servo's shaft to the two tie rods' inner balls.
//
// A steering is described by a `SteeringSpec` (its points, links and what to draw), built from a `SteeringGeometry` and
// solved for a turn of the servo. Unlike corners it is given in the car's own frame, left and right as they are.
#pragma once

#include <memory>

#include "core/linkage/corner.hpp"

namespace lowkite {

constexpr int steering_body_count = 4;  ///< horn, first crank, second crank, plate

struct SteeringGeometry : LinkageGeometry {
  /// The tie rods' inner balls as the axle's adjusters have them, left and right, in the car's frame.
  std::array<Vec3, 2> tie_ball{Vec3::Zero(), Vec3::Zero()};
};

/// A solved steering. `by_servo` are velocities per rad of the servo.
struct SteeringPose {
  double horn_turn = 0.0;  ///< of the horn against its kit place, rad about the servo's shaft
  std::array<Placement, steering_body_count> body;
  std::array<Twist, steering_body_count> by_servo;
  std::array<Vec3, 2> tie_shift{Vec3::Zero(), Vec3::Zero()};  ///< of the balls against their set places, car's frame
  std::array<Vec3, 2> tie_rate{Vec3::Zero(), Vec3::Zero()};   ///< per rad of the servo

  [[nodiscard]] const Placement& placement(Body b) const { return body[at(b) - at(Body::horn)]; }
};

class Steering {
 public:
  virtual ~Steering() = default;

  /// The horn's turn at which the linkage stands in its middle (cranks or slide where the kit has them): what the
  /// driver's trim does. rad about the servo's shaft, 0 = as the kit's spline has it.
  [[nodiscard]] double centre() const { return centre_; }

  /// The linkage with the servo turned by `from_centre` rad about its shaft (right-hand rule about the direction from
  /// the shaft's first to its second point).
  [[nodiscard]] virtual tl::expected<SteeringPose, LinkageFailure> solve(double from_centre) const = 0;

 protected:
  double centre_ = 0.0;
};

struct SteeringSpec {
  std::string_view id;
  std::string_view label;
  SpanOf<PointSpec> points;
  SpanOf<LinkSpec> links;
  std::span<const StrokeSpec> strokes;
  PointHandle shaft;                 ///< first of the two points of the servo's shaft; the second follows it
  PointHandle horn_ball;             ///< none where the horn carries the tie rods itself
  PointHandle drag_ball;             ///< the drag link's other end, if there is one
  std::array<Body, 2> ball_carrier;  ///< which body carries the left and the right tie rod's inner ball
  tl::expected<std::unique_ptr<const Steering>, LinkageFailure> (*build)(const SteeringGeometry&);

  [[nodiscard]] PointHandle shaft_end() const { return PointHandle(shaft.place() + 1); }
  [[nodiscard]] PointHandle point(std::string_view point_id) const;  ///< none: there is no such
  [[nodiscard]] LinkHandle link(std::string_view link_id) const;
};

/// Every steering the program knows.
std::span<const SteeringSpec* const> steerings();
/// By id; nullptr when unknown.
const SteeringSpec* find_steering(std::string_view id);

}  // namespace lowkite
