// One axle under the car in a given attitude: how its wheels stand, what its springs push with, and how the ground's
// load is shared between the two. The whole car's balance is put together from two of them (see balance.hpp).
//
// Virtual work along each coordinate that the axle has: two arms that move on their own, or a pod that pitches and
// tilts.
#pragma once

#include <string>

#include "core/load/spring_place.hpp"
#include "core/load/third_element.hpp"

namespace lowkite {

/// What gives when a wheel leaves its droop screw, a shock meets its end or the plate the ground, N/mm: about as much
/// as a tyre.
constexpr double contact_rate = 8.0;

/// In g. `lateral` positive: to the left, as in a left turn; `longitudinal` positive: speeding up.
struct Acceleration {
  double lateral_g = 0.0;
  double longitudinal_g = 0.0;

  bool operator==(const Acceleration&) const = default;
};

/// max(0, x) with its kink rounded within `within`, so that Newton's method sees a slope on both sides.
double smooth_above_zero(double x, double within);
/// Over which lengths such kinks are rounded, mm.
constexpr double kink_mm = 0.05;

/// What a wheel does per unit of one coordinate of its axle, in the corner's frame.
struct WheelMotion {
  double up = 0.0;       ///< the contact, over the ground
  double out = 0.0;      ///< the rubber there, outward
  double forward = 0.0;  ///< what the lengthways force works on
  double needs = 0.0;    ///< N mm per unit that the ground must hold
};

/// One wheel in one attitude, before its load is known.
struct WheelStand {
  CornerPose pose;
  Ground ground;  ///< in the corner's frame
  Vec3 contact;
  WheelMotion by_arm;
  WheelMotion by_tilt;  ///< of a pod, per rad of its tilt, left end up
  double most_n = 0.0;  ///< what it may carry while it just touches
  double spring_n = 0.0;
  double shortens = 0.0;  ///< the shock, per rad of arm
  double shock_mm = 0.0;
  bool lifted = false;
};

/// What an axle is asked about.
struct AxleCase {
  const CarModel* model = nullptr;
  End end{};
  const AxlePose* standing = nullptr;  ///< at rest
  const AxlePose* near = nullptr;      ///< a stand of this axle, steered so: its wheels are looked for from there
  const AxlePose* beside = nullptr;    ///< else from where the arms are in one of a car that is much alike
  Ground ground;                       ///< in the car's frame
  PerSide<SteerInput> steer;
  PerSide<double> droop_angle{};      ///< of the arms on their droop stops
  const AxlePose* hanging = nullptr;  ///< its arms there, steered as it is; none needed for a pod
  PerSide<double> collar_mm{};
  double bar_n_mm_per_rad = 0.0;
  ThirdLaw third;
  double third_standing_mm = 0.0;  ///< its length as the car stands; not asked where none is fitted
  Acceleration a;
};

using AxleStand = PerSide<WheelStand>;

/// Both wheels on the ground, or hanging where they do not reach it. Fails with a sentence when a linkage does not
/// close.
tl::expected<AxleStand, CarFailure> stand_axle(const AxleCase& c);

/// What each wheel carries when the ground pushes the axle sideways (to the left) and lengthways (forward) by so much,
/// both shared by load; `outward_n` more than by load pushes either wheel outward. A wheel of a pod that would have to
/// be pulled down lifts: its stand changes. Fails with a sentence where a pod finds no stand.
tl::expected<PerSide<double>, CarFailure> load_axle(const AxleCase& c, AxleStand& stand, double lateral_n,
                                                    double lengthways_n, double outward_n = 0.0);

/// How far the collars of an axle must be down so that its wheels carry these loads as they stand; fails with a
/// sentence. Of a pod: the collar in the middle and how far the left side spring's screw is turned down, the right one
/// up: their sum on the left, their difference on the right.
tl::expected<PerSide<double>, CarFailure> collars_under(const AxleCase& c, const AxleStand& stand,
                                                        const PerSide<double>& load_n);

/// +1 for the left, -1 for the right.
constexpr double sign_of(Side side) {
  return side == Side::left ? 1.0 : -1.0;
}

}  // namespace lowkite
