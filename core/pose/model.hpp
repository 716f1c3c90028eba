// A car with a setup, ready to be posed: four corners with their linkages built.
#pragma once

#include "core/car/failure.hpp"
#include "core/car/setup.hpp"

namespace lowkite {

/// One wheel: its linkage and what is needed to pose it. All in the corner frame (outboard = +y).
struct CornerModel {
  const MechanismSpec* spec = nullptr;
  CornerGeometry geometry;
  std::shared_ptr<const Corner> linkage;
  Tyre tyre;
  std::span<const SpringPoint> spring_table;  ///< the axle's, in the car
  double kit_spring_rate = 0.0;               ///< N/mm, that the table stands for
  double design_wheel_z_mm = 0.0;             ///< wheel-centre height of the kit car in its design position
};

/// Mass of a wheel and of what goes with it, as the parts have it.
inline double unsprung_kg(const Axle& axle, const CornerModel& corner) {
  return axle.unsprung_kg + 1e-3 * corner.geometry.size_of(Size::unsprung_more);
}

/// What the car weighs as it is set up, and where.
struct MassState {
  double kg = 0.0;            ///< 0 = not described
  std::optional<Vec3> cg;     ///< of the whole car in the chassis; none without a described place
  std::vector<Vec3> part;     ///< place of each heavy part, parallel to Car::masses
  std::vector<double> grams;  ///< of each
};

/// The heavy parts where the setup has them. A part has one place: settings that differ left and right meet halfway.
MassState masses_of(const Car& car, const Setup& setup);

struct CarModel {
  const Car* car = nullptr;
  MassState mass;
  PerEnd<double> ride_height_mm{};
  std::optional<double> wanted_lock_rad;  ///< of the inside wheel at full lock; none: all there is
  PerEnd<PerSide<CornerModel>> corners;
  SteeringGeometry steering_geometry;        ///< meaningful when there is a steering
  std::unique_ptr<const Steering> steering;  ///< nullptr: the tie rods' balls are moved sideways as by a rack
  double servo_sense = 1.0;                  ///< +1 when a positive turn about the shaft steers to the left

  [[nodiscard]] const CornerModel& corner(End e, Side s) const { return corners[at(e)][at(s)]; }
};

/// Where the setup's adjusters put the points and links of one corner.
CornerGeometry corner_geometry(const Car& car, const Setup& setup, End end, Side side);

/// Where the setup puts the points and links of the steering. Precondition: the car has one, and `corners` are the
/// front corners of the same setup, on which the tie rods' balls are adjusted.
SteeringGeometry steering_geometry(const Car& car, const Setup& setup, const PerSide<CornerModel>& front);

/// One corner of a car. Precondition: `setup` belongs to `car` (same number of values).
tl::expected<CornerModel, CarFailure> build_corner(const Car& car, const Setup& setup, End end, Side side);

/// The same corner with other link lengths.
tl::expected<CornerModel, CarFailure> with_lengths(const CornerModel& corner, End end, Side side,
                                                   const LinkLengths& length);

tl::expected<CarModel, CarFailure> build_model(const Car& car, const Setup& setup);

/// "front left: the camber link is 1.24 mm too short to reach" and its like.
std::string sentence(const LinkageFailure& failure);
CarFailure failure_at(End end, Side side, const LinkageFailure& failure);
CarFailure failure_of_steering(const LinkageFailure& failure);

}  // namespace lowkite
