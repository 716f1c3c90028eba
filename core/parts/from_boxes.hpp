// What lies in the boxes, put into the list of a car's part: one more spring, one more shim to choose from.
#pragma once

#include <string>

#include "core/boxes/boxes.hpp"
#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"

#include <tl/expected.hpp>

namespace lowkite {

/// Whether a part of the car can be set to this item already.
bool is_in(const Car& car, PartHandle adjuster, const BoxItem& item);

/// Adds it to the part in the document that the car was read from, where its size belongs; the kit's stays the kit's.
/// What a list of positions cannot say is told by the sentence that comes back ("" is nothing): a measured table goes
/// in as two rates. The fault says why it cannot be done; the document is then as it was.
tl::expected<std::string, Fault> put_into_part(Json& source, const Car& car, PartHandle adjuster, const BoxItem& item);

}  // namespace lowkite
