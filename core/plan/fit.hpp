// From caliper readings to the points that explain them best.
//
// Every reading is a residual in units of its tolerance; every point leans on where the car file has it, loosely. So
// what was measured decides, what was not stays where the template has it, and readings that contradict each other show
// by how much. Weighted least squares, solved by Ceres; uncertainties are the diagonal of the covariance.
#pragma once

#include <span>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/car/failure.hpp"

namespace lowkite {

/// A point that a car file gives: of an axle's linkage (left side) or of the steering.
struct PointRef {
  End end = End::front;
  bool steering = false;
  PointHandle point = {};

  bool operator==(const PointRef&) const = default;
  auto operator<=>(const PointRef&) const = default;
};

/// Every point of a car, front axle, rear axle, steering; attachments only where the car has them.
std::vector<PointRef> points_of(const Car& car);
const PointSpec& spec_of(const Car& car, const PointRef& ref);
/// The point that x is counted from.
PointRef datum_of(const Car& car);
/// The first point of a linkage that moves along with it: by its place one tells how the arm hangs, if there is one.
PointHandle first_moving(std::span<const PointSpec> points);
/// Coordinates that are a matter of convention and stay where the car file has them: x of the datum, how high the arm
/// hangs in the design position (z of the first moving point), where the middle of the steering is (y of the drag
/// link's ball, or of the first moving point). 1 = stays.
Vec3 conventional(const Car& car, const PointRef& ref);
/// Where the car file has it, mm: chassis axes, the left side's for an axle.
const Vec3& place_of(const Car& car, const PointRef& ref);

enum class ReadingKind : std::uint8_t {
  distance,  ///< from centre to centre of two points
  height,    ///< over the plate's underside
  across,    ///< from the left point to the right one: twice its distance from the centre plane
  along      ///< how far the second point lies behind the first, level
};
std::string_view id_of(ReadingKind kind);

/// One reading of a caliper, already brought to centres and to the plate's underside.
struct CaliperReading {
  ReadingKind kind = ReadingKind::distance;
  PointRef a;
  PointRef b;  ///< for distances and `along`
  double mm = 0.0;
  double tolerance_mm = 0.1;  ///< one standard deviation of such a reading

  /// Same kind at the same points, whatever was read.
  [[nodiscard]] bool same_place(const CaliperReading& other) const {
    return kind == other.kind && a == other.a &&
           (b == other.b || kind == ReadingKind::height || kind == ReadingKind::across);
  }
};

/// What a reading would be with the points as the car has them, mm.
double expected_reading(const Car& car, const CaliperReading& reading);

struct FittedPoint {
  PointRef ref;
  Vec3 from = Vec3::Zero();
  Vec3 to = Vec3::Zero();
  Vec3 sigma_mm = Vec3::Zero();  ///< one standard deviation; near the prior's where no reading tells
};

struct FittedReading {
  CaliperReading reading;
  double explained_mm = 0.0;  ///< what the fitted points give
  bool contradicts = false;   ///< more than three tolerances off

  [[nodiscard]] double residual_mm() const { return reading.mm - explained_mm; }
};

struct Fit {
  std::vector<FittedPoint> points;  ///< those that any reading names
  std::vector<FittedReading> readings;
};

/// How freely a coordinate moves that stays by convention, one standard deviation.
constexpr double convention_sigma_mm = 1e-3;

struct FitOptions {
  double prior_mm = 3.0;  ///< how far a point may be from where the template has it, one standard deviation
  bool robust = true;     ///< a reading far off pulls less (Huber's loss from two tolerances on), so that it shows
};

/// Fails when a reading names a point twice or is no number, with a sentence.
tl::expected<Fit, CarFailure> fit_points(const Car& car, std::span<const CaliperReading> readings,
                                         const FitOptions& options = {});

/// Beyond this many tolerances a reading contradicts the others.
constexpr double contradiction = 3.0;
/// A coordinate known worse than this still rests on the template.
constexpr double known_mm = 0.5;

}  // namespace lowkite
