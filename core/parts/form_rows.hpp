// What the forms of parts are made of: a row each, and what asking and making share. Only for the sources of this
// folder.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <string>
#include <utility>

#include <fmt/format.h>

#include "core/io/file_numbers.hpp"
#include "core/parts/part_forms.hpp"
#include "core/words/say.hpp"

namespace lowkite::parts {

enum class Make : std::uint8_t {
  shims,
  row,    ///< of holes
  table,  ///< positions one by one
  grid,   ///< of an insert
  block,  ///< with angles
  turnbuckle,
  screw,       ///< that moves a point
  size_screw,  ///< that changes a size
  size_stack,  ///< spacers that change a size
  size_list,   ///< parts that are told by a size
  eyelet,
  piston,
  horn_row,
  spline,
  along_pin,
  ballast,
  heavy_places,
  differentials,
  kept_by_axle,  ///< nothing is computed from it; front and rear have one each
  kept_once,     ///< the same, the car has one
  fitting,       ///< points and sizes (see fittings.hpp)
  joint,         ///< a ball joint that binds
  touch          ///< two parts that may meet
};

/// A size that a part is told by, and what of a car must be there for it.
struct SizeRow {
  const char* key = nullptr;  ///< in car files
  Size size{};
  double per = 1.0;  ///< of the file's unit in the unit asked for
  const char* unit = "";
  const char* labels = "{}";  ///< what stands on it, where it has no name of its own
  const char* first = "";     ///< a proposal
  PointHandle at = {};        ///< where it sits
  PointHandle needs = {};     ///< an attachment
};

struct FormRow {
  PartForm form;
  Make make;
  SizeRow size{};
  const char* name = "";    ///< proposed, where neither the size nor the place has one
  const char* labels = "";  ///< proposed
};

/// The row of a form.
const FormRow& row_of(const PartForm& form);

inline std::string text_of(double v) {
  return fmt::format("{}", rounded_for_file(v));
}
inline std::string point_id(const Car& car, const PartPlace& place, PointHandle point) {
  return std::string(spec_of(car, PointRef{place.end, place.steering, point}).id);
}
/// Whether an axle has what is needed; none is always there.
inline bool has(const Axle& axle, PointHandle attached) {
  return !attached || axle.has(attached);
}

struct Way {
  const char* id;
  Vec3 mm;
};
/// On the left side outwards is to the left.
const std::array<Way, 6> axle_ways{{{"up", Vec3::UnitZ()},
                                    {"down", -Vec3::UnitZ()},
                                    {"outwards", Vec3::UnitY()},
                                    {"inwards", -Vec3::UnitY()},
                                    {"forwards", Vec3::UnitX()},
                                    {"backwards", -Vec3::UnitX()}}};
const std::array<Way, 6> steering_ways{{{"up", Vec3::UnitZ()},
                                        {"down", -Vec3::UnitZ()},
                                        {marked("to the left"), Vec3::UnitY()},
                                        {marked("to the right"), -Vec3::UnitY()},
                                        {"forwards", Vec3::UnitX()},
                                        {"backwards", -Vec3::UnitX()}}};
inline const std::array<Way, 6>& ways(bool steering) {
  return steering ? steering_ways : axle_ways;
}

inline double kit_size(const Car& car, End end, Size size) {
  const Axle& axle = car.axle(end);
  if (size == Size::tyre_radius) return axle.tyre.radius_mm;
  return axle.size_of(size);
}

/// From the servo shaft's line to the horn's ball, square to it.
inline Vec3 horn_arm(const Car& car) {
  const SteeringSpec& spec = *car.steering.spec;
  const auto at = [&](std::string_view id) { return car.steering.points[spec.point(id)]; };
  const Vec3 along = (at("servo_shaft_rear") - at("servo_shaft_front")).normalized();
  const Vec3 to = at("horn_ball") - at("servo_shaft_front");
  return to - along * along.dot(to);
}

inline const std::array<std::pair<const char*, const char*>, 5> differential_names{
    {{"open", "open"}, {"oil", marked("gears in oil")}, {"ball", "ball"}, {"one_way", "one-way"}, {"spool", "spool"}}};

}  // namespace lowkite::parts
