// Changing a car file. Every edit is made on the document that the car was read from, so that fields of others survive,
// and the whole is then read and checked anew: an edit that the checks refuse has changed nothing.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"
#include "core/plan/fit.hpp"

namespace lowkite {

/// A car together with the document it came from.
struct CarFile {
  std::shared_ptr<const Car> car;
  KeptJson source;
};
tl::expected<CarFile, Faults> read_car_file(const std::string& text, const std::string& file);
/// Reads an edited document.
tl::expected<CarFile, Faults> recheck(Json source, const std::string& file);
/// The text of a car file.
std::string write_car(const Json& source);

/// The document of a car of one's own that starts as a copy: a name and an id of its own, every point "from the
/// template". Precondition: `name` holds a letter or a digit.
Json own_copy(const Json& source, const std::string& name);
/// "My Heron, red" -> "my-heron-red".
std::string id_from_name(const std::string& name);

/// Where a point's coordinates come from.
enum class PointOrigin : std::uint8_t { described, from_template, by_hand, measured };
PointOrigin origin_of(const Json& source, const Car& car, const PointRef& ref);
/// Puts a point of the left side, mm in chassis axes. The right side follows as its mirror image, unless the file
/// gives it a place of its own.
void put_point(Json& source, const Car& car, const PointRef& ref, const Vec3& mm, PointOrigin origin);
/// Gives the right side's point of an axle a place of its own (true, negative y), or makes it the mirror image again.
void put_right_point(Json& source, const Car& car, const PointRef& ref, const std::optional<Vec3>& mm);
bool has_right_point(const Json& source, const Car& car, const PointRef& ref);

/// One entry of a car file that a racer may edit by itself.
struct CarField {
  enum class Kind : std::uint8_t { number, numbers, text, choice };
  std::string pointer;  ///< JSON pointer into the document
  std::string group;    ///< "Front tyre"
  std::string label;    ///< "radius"
  std::string unit;     ///< "mm"
  Kind kind = Kind::number;
  std::vector<std::string> choices;
};
/// Wheelbase and tracks (which move whole axles), plate, weights, tyres, shocks, springs, bars, shafts, stops:
/// everything but points and adjusters.
std::vector<CarField> part_fields(const Json& source);
/// Of those, what is told of a car before any point is measured, in the order in which it is asked: kind, wheelbase,
/// tracks, tyres, weight, ride heights. A tape and a scale do.
std::vector<CarField> whole_car_fields(const Json& source);
/// What one adjuster of the document consists of: its steps, threads, shims, positions and what each of them moves.
std::vector<CarField> adjuster_fields(const Json& source, PartHandle adjuster);

/// The value as a racer reads and types it; empty where the document has none.
std::string field_text(const Json& source, const CarField& field);
/// Puts what was typed ("0,5" is 0.5; lists are separated by spaces or semicolons). Empty removes the entry. The fault
/// says what would be a value; whether it is a right one, `recheck` says.
std::optional<Fault> put_field(Json& source, const CarField& field, const std::string& typed);

/// A fault that `recheck` found, as it is told in the window: parts and entries by the names that a racer sees there,
/// not by those of the file. `source`: the document that was checked.
Fault in_words(const Fault& fault, const Json& source);

/// One more position after the last (moved on by the step between the last two), or one less. False: cannot be.
bool add_position(Json& source, PartHandle adjuster);
bool remove_position(Json& source, PartHandle adjuster);
void remove_adjuster(Json& source, PartHandle adjuster);

/// The caliper readings that a car file keeps. Readings of points that the car does not have are passed over.
std::vector<CaliperReading> readings_in(const Json& source, const Car& car);
/// Puts a reading in place of an earlier one at the same place. `when`: ISO date and time.
void put_reading(Json& source, const Car& car, const CaliperReading& reading, const std::string& when);
void remove_reading(Json& source, const Car& car, const CaliperReading& reading);

}  // namespace lowkite
