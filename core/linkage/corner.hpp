// One wheel's linkage: what every mechanism promises, whatever joints it is made of.
//
// A mechanism is described by a `MechanismSpec` (its points, links and what to draw), built from a `CornerGeometry`
// (where the points are and how long the links) and then solved for an arm angle and a steering input.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string_view>

#include <tl/expected.hpp>

#include "core/linkage/geometry.hpp"

namespace lowkite {

/// The bodies of a corner. A point belongs to the body that carries it; a pin belongs to the body nearer the chassis,
/// and the body that hangs on the pin rides along when an adjuster moves the pin.
enum class Body : std::uint8_t { chassis, rack, arm, upper_arm, carrier, knuckle };
constexpr int body_count = 6;

constexpr int max_points = 16;
constexpr int max_links = 4;
constexpr int no_point = -1;

struct PointSpec {
  std::string_view id;     ///< as in car files, e.g. "link_inner"
  std::string_view label;  ///< as racers say it, e.g. "camber link, inner ball"
  Body body;
};

/// What a link's length is used for on the bench.
enum class LinkHolds : std::uint8_t { camber, toe, nothing };

struct LinkSpec {
  std::string_view id;
  std::string_view label;
  int inner;  ///< point index, chassis end
  int outer;  ///< point index, wheel end
  LinkHolds holds;
};

/// What a line of a drawing stands for.
enum class Stroke : std::uint8_t { arm, link, carrier, kingpin, axle, shock, pin };

struct StrokeSpec {
  int from;
  int to;
  Stroke stroke;
};

/// Where a corner's points and links are. `kit` describes the bodies (car file, every adjuster at its kit value); `set`
/// is where the adjusters put the points, each in the design coordinates of its body.
struct CornerGeometry {
  std::array<Vec3, max_points> kit;
  std::array<Vec3, max_points> set;
  std::array<double, max_links> length{};  ///< mm, by link index
  Vec3 spin_axis = Vec3::UnitY();          ///< outward unit vector on the wheel's body in the design position
};

/// A linkage that cannot be assembled. `gap_mm` as in RodMisfit: > 0 the link is too short, < 0 too long, 0 only the
/// other side of a dead centre would fit. `at_design` marks a link that holds nothing (it points at its hinge).
struct LinkageFailure {
  std::string_view link;   ///< id of the link to blame
  std::string_view label;  ///< its name
  double gap_mm = 0.0;
  bool holds_nothing = false;
};

/// What moves the tie rod's inner ball: where it is, against its set position, and its velocity per unit of steering.
struct SteerInput {
  Vec3 shift = Vec3::Zero();
  Vec3 rate = Vec3::UnitY();
};

/// A solved corner: where every body is, and how it moves. Twists `by_arm` are per rad of arm angle with the steering
/// still; `knuckle_by_steer` is per unit of steering with the arm still.
struct CornerPose {
  double arm_angle = 0.0;
  std::array<Placement, body_count> body;
  std::array<Twist, body_count> by_arm;
  Twist wheel_locked_by_arm;  ///< of the wheel's body, were it not free to turn about its kingpin
  Twist wheel_by_steer;
  Vec3 wheel_centre;
  Vec3 spin_axis;  ///< unit, outward
  bool has_kingpin = false;
  Vec3 kingpin_lower = Vec3::Zero();
  Vec3 kingpin_upper = Vec3::Zero();
  Body wheel_body = Body::knuckle;

  [[nodiscard]] const Placement& placement(Body b) const { return body[static_cast<std::size_t>(b)]; }
  [[nodiscard]] const Twist& twist(Body b) const { return by_arm[static_cast<std::size_t>(b)]; }
  [[nodiscard]] const Twist& wheel_by_arm() const { return twist(wheel_body); }
};

/// The wheel directions to hold, measured against axes of the ground given in the corner's frame.
struct WheelHold {
  std::optional<double> camber;  ///< rad, ISO sign
  std::optional<double> toe;     ///< rad, positive = toe-in
  Vec3 up = Vec3::UnitZ();
  Vec3 forward = Vec3::UnitX();
};

/// The four points of the two-line roll-centre drawing in the front view, in the chassis.
struct FrontViewLinks {
  Vec3 lower_inner, lower_outer, upper_inner, upper_outer;
};

class Corner {
 public:
  virtual ~Corner() = default;

  /// The pose at `arm_angle` (rad from the design position, positive = wheel up).
  [[nodiscard]] virtual tl::expected<CornerPose, LinkageFailure> solve(double arm_angle,
                                                                       const SteerInput& steer) const = 0;

  /// The link lengths that give the wheel the held directions at `arm_angle`; links that hold nothing asked for keep
  /// theirs. The inverse of `solve`: building with these lengths and solving at the same angle gives the directions
  /// back.
  [[nodiscard]] virtual tl::expected<std::array<double, max_links>, LinkageFailure> hold(
      double arm_angle, const SteerInput& steer, const WheelHold& wanted) const = 0;

  /// The links as the front view shows them, pins cut at the transverse plane x = `x`.
  [[nodiscard]] virtual FrontViewLinks front_view(const CornerPose& pose, double x) const = 0;
};

/// One kind of mechanism: everything that files, drawings and solvers need to know about it.
struct MechanismSpec {
  std::string_view id;
  std::string_view label;
  std::span<const PointSpec> points;
  std::span<const LinkSpec> links;
  std::span<const StrokeSpec> strokes;
  int wheel_centre;
  bool steered;
  /// Fails when a link holds nothing in the design position.
  tl::expected<std::unique_ptr<const Corner>, LinkageFailure> (*build)(const CornerGeometry&);

  [[nodiscard]] int point(std::string_view point_id) const;  ///< index or no_point
  [[nodiscard]] int link(std::string_view link_id) const;    ///< index or no_point
};

/// Every mechanism the program knows.
std::span<const MechanismSpec* const> mechanisms();
/// By id; nullptr when unknown.
const MechanismSpec* find_mechanism(std::string_view id);

/// The length each link has on the kit car.
std::array<double, max_links> kit_lengths(const MechanismSpec& spec, const std::array<Vec3, max_points>& kit);

}  // namespace lowkite
