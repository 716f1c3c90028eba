// Cars and corners for the tests: the shipped ones, random ones and a planar one.
#pragma once

#include <ostream>
#include <random>
#include <string>

#include <gtest/gtest.h>

#include "core/io/car_file.hpp"
#include "core/measure/car_figures.hpp"

namespace lowkite {
inline std::ostream& operator<<(std::ostream& to, const CarFailure& failure) {
  return to << failure.message;
}
}  // namespace lowkite

namespace lowkite::test {

/// Inside a TEST body the plain name means GoogleTest's own `Setup`.
using CarSetup = lowkite::Setup;

inline std::string data_path(const std::string& name) {
  return std::string(LOWKITE_TEST_DATA) + "/" + name;
}

inline Car shipped(const std::string& name) {
  auto car = load_car(data_path("cars/" + name + ".kite-car.json"));
  if (!car) throw std::runtime_error(car.error().front().line());
  return *car;
}
inline Car touring() {
  return shipped("heron-tc190");
}
inline Car buggy() {
  return shipped("plover-2wd");
}

inline std::vector<Car> every_shipped_car() {
  std::vector<Car> cars;
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"})
    cars.push_back(shipped(name));
  return cars;
}

/// Every part at one of its places, drawn at random, and now and then a turnbuckle unlike left and right.
CarSetup random_setup(const Car& car, std::mt19937& random);

enum class Proportions { touring, buggy };

/// A mechanism on cars of such proportions.
struct LaidOut {
  const MechanismSpec* spec;
  Proportions proportions;
};
/// Every mechanism whose wheels move by themselves, in each of the proportions that it has a layout for.
std::vector<LaidOut> every_layout();
inline std::string name_of(const LaidOut& l) {
  return std::string(l.spec->id) + (l.proportions == Proportions::touring ? "_touring" : "_buggy");
}

/// A corner as one finds it on such cars: a typical layout with every coordinate shaken by up to `shake` of a typical
/// spread.
CornerGeometry random_corner(const MechanismSpec& spec, Proportions proportions, std::mt19937& random);

/// A steering as one finds it on such cars, shaken in the same way.
SteeringGeometry random_steering(const SteeringSpec& spec, std::mt19937& random);

/// A corner with all pins along x and everything in the plane x = 0: the front-view four-bar that textbooks draw.
/// `arm`, `link` go from inner to outer end, in the front view (y, z); the tie rod lies on the camber link's line.
struct PlanarCorner {
  Eigen::Vector2d arm_inner{20, 8}, arm_outer{65, 7}, link_inner{32, 34}, link_outer{62, 37};
  Eigen::Vector2d tie_inner{26, 20}, tie_outer{63, 21};
  double wheel_y = 82, wheel_z = 26;
  double caster_rad = 0.0;
};
CornerGeometry planar_corner(const MechanismSpec& spec, const PlanarCorner& layout);
CornerGeometry planar_front(const PlanarCorner& layout);

/// A model around a corner, with a disc tyre.
CornerModel model_of(const MechanismSpec& spec, const CornerGeometry& geometry, double tyre_radius = 32.0);

/// Drives `value` at x -+ h: the central difference that exact derivatives are held against.
template <class F>
double slope_of(const F& value, double x, double h) {
  // Richardson's extrapolation of two central differences: error of order h^4.
  const double wide = (value(x + h) - value(x - h)) / (2 * h);
  const double narrow = (value(x + h / 2) - value(x - h / 2)) / h;
  return (4 * narrow - wide) / 3;
}

}  // namespace lowkite::test
