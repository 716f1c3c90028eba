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
#include "core/linkage/handle.hpp"

namespace lowkite {

/// The bodies of a car. A point belongs to the body that carries it; a pin belongs to the body nearer the chassis, and
/// the body that hangs on the pin rides along when an adjuster moves the pin. `knuckle` is always the body that carries
/// the wheel, also where nothing steers it. The bodies from `horn` on belong to the steering (see steering.hpp).
enum class Body : std::uint8_t {
  chassis,
  rack,  ///< whatever carries the tie rod's inner ball, as a corner sees it
  arm,
  upper_arm,
  carrier,
  knuckle,
  horn,
  first_crank,
  second_crank,
  plate
};
constexpr int body_count = 6;  ///< of a corner

constexpr int max_points = 30;
constexpr int max_links = 4;

struct PointSpec {
  std::string_view id;     ///< as in car files, e.g. "link_inner"
  std::string_view label;  ///< as racers say it, e.g. "camber link, inner ball"
  Body body;
};

/// Which point of a linkage, attachments included, and which of its links.
struct LinkSpec;
template <>
inline constexpr bool places_have_names<PointSpec> = true;
template <>
inline constexpr bool places_have_names<LinkSpec> = true;
using PointHandle = Handle<PointSpec>;
using LinkHandle = Handle<LinkSpec>;
/// Where the points are, mm.
using PointPlaces = ArrayOf<PointSpec, Vec3, max_points>;
/// What there is of each link: its length, the part that turns it.
template <class Value>
using ByLink = ArrayOf<LinkSpec, Value, max_links>;
using LinkLengths = ByLink<double>;

/// What a link's length is used for on the bench.
enum class LinkHolds : std::uint8_t { camber, toe, nothing };

/// A part whose length can be set: a rod between two balls, or the reach of an arm's ball from its pin.
struct LinkSpec {
  std::string_view id;
  std::string_view label;
  PointHandle inner;  ///< chassis end
  PointHandle outer;  ///< wheel end
  LinkHolds holds;
  PointHandle pin = {};  ///< the pin's other end: the length is that of the perpendicular from `outer` on inner-pin

  /// The length in a given set of points, mm.
  [[nodiscard]] double length_in(const PointPlaces& points) const {
    const Vec3& a = points[inner];
    const Vec3& b = points[outer];
    if (!pin) return (b - a).norm();
    const Vec3 along = (points[pin] - a).normalized();
    return ((b - a) - along * along.dot(b - a)).norm();
  }
};

/// What a line of a drawing stands for.
enum class Stroke : std::uint8_t { arm, link, carrier, kingpin, axle, shock, pin, shaft, crank };

struct StrokeSpec {
  PointHandle from;
  PointHandle to;
  Stroke stroke;
};

/// A linkage has at most this many points of its own; those that any corner may have follow them.
constexpr int max_linkage_points = 16;
template <class Value>
using ByLinkagePoint = ArrayOf<PointSpec, Value, max_linkage_points>;

/// Points that any corner may have besides those of its linkage; they hold nothing, and a car file may leave them out.
namespace attachment {
enum : int {
  first = max_linkage_points,
  shock_upper = first,
  shock_lower,
  droop_tip,    ///< lower end of the droop screw
  arm_gauge,    ///< where the down-stop gauge touches the arm's underside
  shaft_cup,    ///< middle of the mouth of the differential's cup
  shaft_joint,  ///< centre of the drive shaft's outer joint
  bar_arm,      ///< anti-roll bar's link, ball on the suspension arm
  bar_end,      ///< its ball on the bar, with the bar as the kit has it
  side_upper,   ///< a pod's side spring, its end on the chassis
  side_lower,   ///< and on the pod
  third_arm,    ///< rod of the third spring's lever, ball on the suspension arm
  third_rod,    ///< its ball on the lever
  third_end,    ///< end of the third spring on the lever
  third_pivot,  ///< the lever's pivot, which runs lengthways
  end
};
}  // namespace attachment
static_assert(attachment::end == max_points, "room for every attachment, and for no more");
std::span<const PointSpec> attachment_points();

/// What parts of a corner change besides the places of points; mm, and N/mm where it is a rate.
enum class Size : std::uint8_t {
  shock_extended,    ///< between the shock's mounts, pulled out as far as it goes
  shock_compressed,  ///< the same, pushed in as far as it goes
  tyre_radius,
  shaft_length,        ///< from the outer joint's centre to the pin in the cup
  slide_droop,         ///< how far a stub axle slides down its kingpin from the design position
  slide_bump,          ///< and up
  spring_rate,         ///< N/mm
  spring_free,         ///< the spring's free length
  bar_link,            ///< how much longer the anti-roll bar's link is than in the kit
  bar_wire,            ///< diameter of the anti-roll bar's wire
  spring_rate_2,       ///< N/mm, of a spring with two rates
  spring_transition,   ///< its compression where the second rate begins
  heave_rate,          ///< N/mm of a third spring that works on both wheels together (see load/third_element.hpp)
  damper_bore,         ///< inside diameter of the shock's body
  piston_holes,        ///< how many holes the piston has
  piston_hole,         ///< their diameter
  piston_thickness,    ///< their length
  oil_cst,             ///< cSt of the oil at 25 deg C
  heave_damping,       ///< N s/mm of a third damper as measured; its piston and oil, where told, count instead
  kingpin_spring,      ///< mm between the seats of a spring on the kingpin, stub axle in the design position, no spacer
  spring_spacer,       ///< mm of spacers that press a spring which has no collar
  side_rate,           ///< N/mm of each of a pod's side springs
  side_preload,        ///< mm by which they are pressed as the car stands
  differential_kind,   ///< a DifferentialKind as a number; 0: not described
  differential_oil,    ///< cSt at 25 deg C
  differential_gears,  ///< its small gears
  differential_friction,  ///< N mm between its two sides, of a ball type or of rubbing gears
  unsprung_more,          ///< g that go with the wheel besides the axle's own: a shock whose body is below
  third_gap,              ///< mm by which the third spring is pressed from rest before it pushes
  third_stroke,           ///< mm that the third damper goes in from rest until its end
  third_bore,             ///< inside diameter of the third damper's body
  third_holes,            ///< in its piston
  third_hole,             ///< their diameter
  third_thickness,        ///< their length
  third_oil               ///< cSt of its oil at 25 deg C
};
constexpr int size_count = 35;
static_assert(static_cast<int>(Size::third_oil) + 1 == size_count, "every size counts");

/// Points and lengths of a linkage. `kit` describes the bodies (car file, every adjuster at its kit value); `set` is
/// where the adjusters put the points, each in the design coordinates of its body.
struct LinkageGeometry {
  PointPlaces kit;
  PointPlaces set;
  LinkLengths length{};
  std::array<double, size_count> size{};  ///< by Size
};

struct CornerGeometry : LinkageGeometry {
  Vec3 spin_axis = Vec3::UnitY();  ///< outward unit vector on the wheel's body in the design position
  std::uint32_t present = 0;       ///< which attachments the car has, a bit each from attachment::first on

  [[nodiscard]] bool has(PointHandle attached) const {
    return (present >> (attached.number() - attachment::first) & 1u) != 0;
  }
  void add(PointHandle attached) { present |= 1u << (attached.number() - attachment::first); }
  [[nodiscard]] double size_of(Size s) const { return size[at(s)]; }
};

/// A linkage that cannot be assembled. `gap_mm` as in RodMisfit: > 0 the link is too short, < 0 too long, 0 only the
/// other side of a dead centre would fit. `at_design` marks a link that holds nothing (it points at its hinge).
struct LinkageFailure {
  std::string_view link;   ///< id of the link to blame
  std::string_view label;  ///< its name
  double gap_mm = 0.0;
  bool holds_nothing = false;
};

/// What the rest of the car imposes on a corner: where the tie rod's inner ball is, against its set position, and its
/// velocity per unit of steering; for a live axle, its tilt about the forward axis (+ = outboard end up), rad.
template <class N>
struct SteerInputOf {
  VectorOf<N> shift = VectorOf<N>::Zero();
  VectorOf<N> rate = VectorOf<N>::UnitY();
  N axle_tilt = N(0.0);
};
using SteerInput = SteerInputOf<double>;

/// A solved corner: where every body is, and how it moves. Twists `by_arm` are per rad of arm angle with the steering
/// still; `wheel_by_steer` is per unit of steering with the arm still.
struct CornerPose {
  double arm_angle = 0.0;  ///< the corner's one coordinate, rad; stub axles slide `slide_mm_per_rad` a unit of it
  std::array<Placement, body_count> body;
  std::array<Twist, body_count> by_arm;
  Twist wheel_locked_by_arm;  ///< of the wheel's body, were it not free to turn about its kingpin
  Twist wheel_by_steer;       ///< of a live axle: per rad of its tilt
  Vec3 wheel_centre;
  Vec3 spin_axis;  ///< unit, outward
  bool has_kingpin = false;
  Vec3 kingpin_lower = Vec3::Zero();
  Vec3 kingpin_upper = Vec3::Zero();
  double slide_mm = 0.0;       ///< of a stub axle up its kingpin from the design position
  double slide_per_arm = 0.0;  ///< mm per rad of arm angle; 0 where nothing slides
  Body wheel_body = Body::knuckle;

  [[nodiscard]] const Placement& placement(Body b) const { return body[at(b)]; }
  [[nodiscard]] const Twist& twist(Body b) const { return by_arm[at(b)]; }
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
template <class N>
struct FrontViewLinksOf {
  VectorOf<N> lower_inner, lower_outer, upper_inner, upper_outer;
};
using FrontViewLinks = FrontViewLinksOf<double>;

/// Sliding stub axles use the same coordinate as arms: a slide of this many millimetres counts as one radian, so that
/// steps and tolerances mean about the same travel as on an arm of that length.
constexpr double slide_mm_per_rad = 40.0;

class Corner {
 public:
  virtual ~Corner() = default;

  /// The pose at `arm_angle` (rad from the design position, positive = wheel up).
  [[nodiscard]] virtual tl::expected<CornerPose, LinkageFailure> solve(double arm_angle,
                                                                       const SteerInput& steer) const = 0;

  /// The link lengths that give the wheel the held directions at `arm_angle`; links that hold nothing asked for keep
  /// theirs. The inverse of `solve`: building with these lengths and solving at the same angle gives the directions
  /// back.
  [[nodiscard]] virtual tl::expected<LinkLengths, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                       const WheelHold& wanted) const = 0;

  /// The links as the front view shows them, pins cut at the transverse plane x = `x`.
  [[nodiscard]] virtual FrontViewLinks front_view(const CornerPose& pose, double x) const = 0;
};

/// One kind of mechanism: everything that files, drawings and solvers need to know about it.
struct ChainAssembly;

struct MechanismSpec {
  std::string_view id;
  std::string_view label;
  SpanOf<PointSpec> points;
  SpanOf<LinkSpec> links;
  std::span<const StrokeSpec> strokes;
  PointHandle wheel_centre;
  bool steered;
  bool independent;  ///< false: both wheels sit on one axle, and roll centres and gains are not asked
  /// Fails when a link holds nothing in the design position.
  tl::expected<std::unique_ptr<const Corner>, LinkageFailure> (*build)(const CornerGeometry&);
  /// The chain that it is, which is then computed in registers, too (chains.hpp); nullptr: one corner after the other.
  std::optional<ChainAssembly> (*chain)(const CornerGeometry&) = nullptr;

  [[nodiscard]] PointHandle point(std::string_view point_id) const;  ///< attachments included; none: there is no such
  [[nodiscard]] LinkHandle link(std::string_view link_id) const;
  [[nodiscard]] const PointSpec& point_spec(PointHandle which) const;
};

/// Every mechanism the program knows.
std::span<const MechanismSpec* const> mechanisms();
/// By id; nullptr when unknown.
const MechanismSpec* find_mechanism(std::string_view id);

/// The length each link has on the kit car.
LinkLengths kit_lengths(SpanOf<LinkSpec> links, const PointPlaces& kit);

}  // namespace lowkite
