// What a car is: mechanisms with their points, tyres, and the parts that a racer can change.
//
// A car describes a kind of car once, in its kit state: every point is given with every adjuster at its kit value. All
// points are held in the corner frame (outboard = +y), so the right side of a symmetric car is equal to the left.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/car/adjuster.hpp"
#include "core/car/limits.hpp"
#include "core/linkage/steering.hpp"
#include "core/words/say.hpp"

namespace lowkite {

enum class End : std::uint8_t { front, rear };
enum class Side : std::uint8_t { left, right };
constexpr std::array<End, 2> both_ends{End::front, End::rear};
constexpr std::array<Side, 2> both_sides{Side::left, Side::right};
constexpr std::string_view name_of(End e) {
  return e == End::front ? marked("front") : marked("rear");
}
constexpr std::string_view name_of(Side s) {
  return s == Side::left ? marked("left") : marked("right");
}

/// One value for each end of the car, or for each side.
template <class T>
using PerEnd = std::array<T, 2>;
template <class T>
using PerSide = std::array<T, 2>;

/// How much load presses a tyre on its insert in by a millimetre, upright and still, N/mm: as is believed, and between
/// which two it lies. Without a file's word: common practice, no source.
struct TyreRate {
  double likely = 8.0;
  double least = 5.0;
  double most = 12.0;

  bool operator==(const TyreRate&) const = default;
};

/// A tyre as a rigid body: a disc of `radius_mm` in the wheel's middle plane when `crown_radius_mm` is 0, else a tread
/// with that crown, `width_mm` wide.
struct Tyre {
  double radius_mm = 32.0;
  double width_mm = 26.0;
  double crown_radius_mm = 0.0;
  std::optional<TyreRate> rate{};  ///< none: not described, then the usual one counts

  [[nodiscard]] TyreRate gives() const { return rate.value_or(TyreRate{}); }
};

/// How far an axle moves from its ride height, as far as drawings and curves go. Both are positive numbers.
struct TravelRange {
  double bump_mm = 5.0;
  double droop_mm = 5.0;
};

/// What a spring pushes with when it is compressed by so much.
struct SpringPoint {
  double mm = 0.0;
  double n = 0.0;
};

struct Axle {
  const MechanismSpec* mechanism = nullptr;
  PerSide<PointPlaces> points;  ///< corner frame
  double camber_deg = 0.0;      ///< of the wheel in the design position
  double toe_deg = 0.0;         ///< positive = toe-in
  Tyre tyre;
  TravelRange travel;
  std::uint32_t attachments = 0;              ///< which the car has (see CornerGeometry::present)
  std::array<double, size_count> kit_size{};  ///< mm, by Size; 0 = not described
  double droop_pad_z_mm = 0.0;                ///< height of the plate's surface under the droop screw
  std::optional<ShaftCup> cup;
  std::optional<BarHolder> bar;
  /// The kit's spring as measured, from {0, 0} on, both rising; empty: it has the rates of `kit_size`. Other springs
  /// differ from it by their rate.
  std::vector<SpringPoint> spring_table;
  double spring_seat_mm = 0.0;   ///< from the shock's lower mount up to the spring's lower end
  double collar_pitch_mm = 0.0;  ///< of the spring collar's thread; 0 = not known: collars are told in mm
  double unsprung_kg = 0.0;      ///< of one wheel with what moves along with it
  AxleLimits limits;
  double driven_share = 0.0;  ///< of the car's driving force, 0 to 1
  double braked_share = 0.0;  ///< of its braking force

  /// Whether it has one of the points that any axle may have (see attachment).
  [[nodiscard]] bool has(PointHandle attached) const {
    return (attachments >> (attached.number() - attachment::first) & 1u) != 0;
  }
  /// As in the kit; 0: not described.
  [[nodiscard]] double size_of(Size size) const { return kit_size[at(size)]; }
  [[nodiscard]] double& size_of(Size size) { return kit_size[at(size)]; }
  [[nodiscard]] bool driven() const { return driven_share > 0.0 || braked_share > 0.0; }
  /// True of a pod whose only shock lies in the middle of the car.
  [[nodiscard]] bool one_shock() const;

  /// Outward unit spin axis in the design position.
  [[nodiscard]] Vec3 spin_axis() const;
};

/// The car's steering, in the car's frame; without a spec the tie rods' balls are moved sideways as by a rack.
struct CarSteering {
  const SteeringSpec* spec = nullptr;
  PointPlaces points;
  double servo_most_rad = radians(60);  ///< how far the servo turns each way from its own middle
};

/// What lies between the two wheels of a driven axle. The numbers are those of Size::differential_kind.
enum class DifferentialKind : std::uint8_t {
  undescribed,
  open,     ///< gears, greased
  oil,      ///< gears in oil
  ball,     ///< balls between plates
  one_way,  ///< each wheel may turn faster than it is driven
  spool     ///< none: both wheels turn alike
};
constexpr int differential_kind_count = 6;
/// As in car files: "open", "oil", "ball", "one_way", "spool"; "undescribed" is in none.
std::string_view id_of(DifferentialKind kind);
/// By its id; none when there is no such.
std::optional<DifferentialKind> differential_kind_of(std::string_view id);

/// Where braking torque is held: on the chassis (through the drive shafts) or on the hubs.
enum class Brakes : std::uint8_t { shafts, hubs };

/// Where the left-hand threads of the turnbuckles are: as a rule the marked ends (common practice, no source).
enum class LeftHandEnds : std::uint8_t { unknown, left, right, wheels, middle };

/// A heavy part that may be moved, swapped or added to, as the kit has it.
struct MassPart {
  std::string id;
  std::string name;
  double grams = 0.0;
  Vec3 place = Vec3::Zero();         ///< of its centre of gravity
  bool weighed = true;               ///< it was on the car when that was weighed; else it comes on top
  std::optional<Vec3> weighed_at{};  ///< where it was then, if elsewhere
};

struct Car {
  std::string id;
  std::string name;
  std::string vehicle_class;
  std::string notes;
  PerEnd<Axle> axles;
  /// x of the two points under the plate where ride height is read.
  PerEnd<double> gauge_x_mm{0.0, -250.0};
  PerEnd<double> kit_ride_height_mm{5.0, 5.0};
  /// Half the plate's width at each axle and its thickness; for drawing and for what may touch the ground.
  PerEnd<double> plate_half_width_mm{40.0, 40.0};
  double plate_thickness_mm = 2.0;
  CarSteering steering;
  Brakes brakes = Brakes::shafts;
  LeftHandEnds left_hand_ends = LeftHandEnds::unknown;
  double cg_height_mm = 0.0;  ///< of the centre of gravity over the plate's underside; 0 = not described
  std::optional<double> cg_x_mm;
  double cg_y_mm = 0.0;
  double mass_kg =
      0.0;  ///< as it was weighed; parts that were not on it come on top (see masses_of); 0 = not described
  std::vector<MassPart> masses;
  ListOf<Adjuster> adjusters;

  [[nodiscard]] const Axle& axle(End e) const { return axles[at(e)]; }
  /// By its id; none: it has no such part.
  [[nodiscard]] PartHandle find_adjuster(std::string_view adjuster_id) const;
  /// The turnbuckle that sets a link's length, if there is one.
  [[nodiscard]] PartHandle turnbuckle_of(End end, LinkHandle link) const;
  /// The turnbuckles of the links that hold the camber, or the toe.
  [[nodiscard]] std::vector<PartHandle> turnbuckles_holding(End end, LinkHolds angle) const;
  /// The adjusters of one end as a hand meets them from the wheel inward.
  [[nodiscard]] std::vector<PartHandle> adjusters_from_the_wheel(End end) const;
};

}  // namespace lowkite
