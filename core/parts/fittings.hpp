// What an axle may have besides its linkage, put on and taken off as a whole: an anti-roll bar, a third spring between
// levers, a droop screw, a drive shaft; and what may end a wheel's way: a ball joint that binds, two parts that touch.
//
// A fitting is no adjuster: it has points and sizes, and parts with positions may then sit on it.
#pragma once

#include <string>
#include <vector>

#include "core/parts/part_maker.hpp"

namespace lowkite {

/// A part as it is drawn: everything within `radius_mm` of the line between its ends, chassis axes, the left side's.
struct DrawnBody {
  std::string name;
  Vec3 from, to;
  double radius_mm = 0.0;
  End end{};
};

/// One that is on the car.
struct Fitting {
  std::string_view form;  ///< id of the form that it is put on with
  std::string label;      ///< "anti-roll bar"
  End end{};
  int index = -1;                 ///< of a joint or a pair of parts, among the axle's
  std::vector<CarField> fields;   ///< of the document
  std::vector<PartSpot> spots;    ///< its points, each with its name
  std::vector<DrawnBody> bodies;  ///< of two parts that may touch
};
/// Front axle first, in the order of their forms.
std::vector<Fitting> fittings_of(const Car& car);

/// Takes it off the document, with its points and sizes. The fault says which part still sits on it; the document is
/// then as it was.
std::optional<Fault> take_off(Json& source, const Fitting& fitting);

namespace parts {

bool is_fitting(const PartForm& form);
std::vector<PartPlace> places_for_fitting(const PartForm& form, const Car& car);
std::vector<PartQuestion> questions_for_fitting(const PartForm& form, const PartPlace& place, const Car& car);
/// Puts it on the document; the fault as in `add_part`.
std::optional<Fault> put_on(Json& source, const Car& car, const PartForm& form, const PartPlace& place,
                            std::span<const PartQuestion> answered);

}  // namespace parts
}  // namespace lowkite
