// From a model and an attitude to where everything is: the ground plane, the tyre that touches it, whole axles.
#pragma once

#include "core/pose/model.hpp"
#include "core/pose/tyre_contact.hpp"

namespace lowkite {

/// How the chassis stands over a flat ground.
struct Attitude {
  PerEnd<double> ride_height_mm{5.0, 5.0};  ///< under the gauge points on the centre plane, perpendicular to the ground
  double roll_rad = 0.0;                    ///< positive = chassis leans to the right
  double servo_rad = 0.0;                   ///< turn of the servo from the middle, positive = to the left
  double rack_mm = 0.0;                     ///< tie rods' inner balls moved to the left (+y), besides the servo
};

/// The ground in some frame: height of p over it is up.p + offset. `forward` and `left` lie in the ground.
struct Ground {
  Vec3 up = Vec3::UnitZ();
  double offset = 0.0;
  Vec3 forward = Vec3::UnitX();
  Vec3 left = Vec3::UnitY();

  [[nodiscard]] double height(const Vec3& p) const { return up.dot(p) + offset; }
  /// The same ground seen in the mirrored frame of a right corner; `left` then points outboard there.
  [[nodiscard]] Ground mirrored_frame() const;
};

/// The car's ground in the frame of one side's corners.
Ground ground_of(const Ground& ground, Side side);

/// The ground under a chassis. Precondition: the gauge points stand apart and the pitch is below 90 degrees.
Ground ground_under(const Car& car, const Attitude& attitude);

inline TyreShape<double> shape_of(const Tyre& tyre) {
  return {tyre.radius_mm, tyre.crown_radius_mm, 0.5 * tyre.width_mm};
}
/// See tyre_contact.hpp.
Vec3 contact_point(const Tyre& tyre, const Vec3& wheel_centre, const Vec3& spin_axis, const Vec3& up);
Vec3 contact_velocity(const Tyre& tyre, const Vec3& wheel_centre, const Vec3& spin_axis, const Vec3& up,
                      const Twist& wheel);

/// Steering input of a corner for tie-rod balls moved sideways by `rack_mm` (+ = left) in the chassis. Its rate is per
/// mm to the left.
SteerInput rack_input(Side side, double rack_mm);

/// What steering does to one axle: the linkage where there is one, and the input of each corner. Rates are per rad of
/// the servo, or per mm of rack where there is no steering linkage.
struct Steered {
  std::optional<SteeringPose> linkage;
  PerSide<SteerInput> corner;
};

/// The steering of the front axle for an attitude; fails when it cannot turn that far.
tl::expected<Steered, LinkageFailure> steer(const CarModel& model, double servo_rad, double rack_mm = 0.0);

/// Why a pose cannot be reached: a link that does not fit, or the end of the linkage's useful travel.
struct PoseFailure {
  LinkageFailure linkage;
  bool dead_centre = false;  ///< the wheel would no longer rise with its arm
  /// How far the nearest pose that closes is from what was asked; none: the linkage closes nowhere near.
  std::optional<double> missing_mm;
  [[nodiscard]] std::string message() const;  ///< one sentence
};
CarFailure failure_at(End end, Side side, const PoseFailure& failure);

/// The pose with the wheel centre `travel_mm` above its height on the kit car in the design position.
/// Follows the linkage continuously from the design position; never jumps to another assembly.
/// `start`: arm angle of a pose that is known to lie near, on the right side of every dead centre.
tl::expected<CornerPose, PoseFailure> pose_at_travel(const CornerModel& corner, double travel_mm,
                                                     const SteerInput& steer, double start = 0.0);

/// The pose with the tyre's lowest point on the ground (given in the corner's frame).
tl::expected<CornerPose, PoseFailure> pose_on_ground(const CornerModel& corner, const Ground& ground,
                                                     const SteerInput& steer, double start = 0.0);
/// The same from a pose of this corner, steered so, that is known to lie near.
tl::expected<CornerPose, PoseFailure> pose_on_ground(const CornerModel& corner, const Ground& ground,
                                                     const SteerInput& steer, const CornerPose& near);

/// The pose with a point of the corner at height `z_mm` in the chassis (a droop screw on the plate).
tl::expected<CornerPose, PoseFailure> pose_at_height(const CornerModel& corner, PointHandle point, double z_mm,
                                                     const SteerInput& steer);

/// A length between two points of the corner that changes with the arm, for example a shock's.
double distance_between(const CornerModel& corner, const CornerPose& pose, PointHandle point_a, PointHandle point_b);
/// Where a point of the corner is, in the corner's frame.
Vec3 point_in_chassis(const CornerModel& corner, const CornerPose& pose, PointHandle point);
/// The same of a point of the steering.
Vec3 point_in_chassis(const CarModel& model, const SteeringPose& pose, PointHandle point);

/// The pose in which a stub axle has slid `slide_mm` up its kingpin. Precondition: it can slide.
tl::expected<CornerPose, PoseFailure> pose_at_slide(const CornerModel& corner, double slide_mm,
                                                    const SteerInput& steer);

/// The pose in which two points are `distance_mm` apart (a shock of that length).
tl::expected<CornerPose, PoseFailure> pose_at_distance(const CornerModel& corner, PointHandle point_a,
                                                       PointHandle point_b, double distance_mm,
                                                       const SteerInput& steer);

struct AxlePose {
  PerSide<CornerPose> corner;  ///< each in its corner frame
};

struct CarPose {
  Ground ground;  ///< in the chassis
  PerEnd<AxlePose> axle;
  std::optional<SteeringPose> steering;
};

/// How a pod's wheel moves per rad of the pod's tilt, left end up, in the corner's frame.
Twist tilting(const CornerPose& pose, Side side);
/// A solid axle in its pod with both wheels on the ground: one pitch and one tilt for both. `pitch_rad`: where the
/// pitch is looked for first.
tl::expected<AxlePose, CarFailure> pose_solid_axle(const CarModel& model, End end, const Ground& ground,
                                                   double pitch_rad = 0.0);

/// All four tyres on the ground.
tl::expected<AxlePose, CarFailure> pose_axle(const CarModel& model, End end, const Attitude& attitude);
/// The same with the steering already solved and each corner started near a pose that is known to lie near.
tl::expected<AxlePose, CarFailure> pose_axle(const CarModel& model, End end, const Ground& ground,
                                             const Steered& steered, const AxlePose* near = nullptr);
tl::expected<CarPose, CarFailure> pose_car(const CarModel& model, const Attitude& attitude);

/// The attitude in which the setup stands on the board.
inline Attitude static_attitude(const CarModel& model) {
  return {.ride_height_mm = model.ride_height_mm};
}

}  // namespace lowkite
