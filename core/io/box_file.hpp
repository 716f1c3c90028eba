// A racer's boxes as a file (docs/formats/boxes.schema.json).
#pragma once

#include <string>

#include "core/boxes/boxes.hpp"
#include "core/io/fault.hpp"

#include <tl/expected.hpp>

namespace lowkite {

/// Every fault found, or what lies in the boxes.
tl::expected<Boxes, Faults> read_boxes(const std::string& text, const std::string& file);
std::string write_boxes(const Boxes& boxes);

/// What is wrong with one item, told by what a racer sees in the window; none: it can be kept.
std::optional<Fault> fault_in(const BoxItem& item);

}  // namespace lowkite
