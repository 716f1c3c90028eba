// Parts that were described (part_forms.hpp) made into adjusters of a car file. Whatever a form makes could have been
// written into the file by hand.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/parts/part_forms.hpp"

namespace lowkite {

/// Adds the part to the document, after those that are there; returns its id, "" for a fitting (fittings.hpp). The
/// fault names the question, what was found there and what would do; the document is then as it was. What the checks of
/// a car file say, `recheck` tells.
tl::expected<std::string, Fault> add_part(Json& source, const Car& car, const PartForm& form, const PartPlace& place,
                                          std::span<const PartQuestion> answered);

/// Moves a part of the list up (-1) or down (+1), past those of other axles to the next of its own. False: it is at the
/// end.
bool reorder_adjuster(Json& source, PartHandle adjuster, int by);

/// Where a part has a point in one of its positions; of a range, at its ends and in the kit.
struct PartSpot {
  PointRef ref;
  Vec3 mm;
  std::string label;
  bool kit = false;
  bool named = false;  ///< its name is shown, besides those of the first point
};
/// Chassis axes, the left side's for an axle. Empty for parts that move no point.
std::vector<PartSpot> spots_of(const Car& car, const Adjuster& adjuster);

}  // namespace lowkite
