// Rows of the corner command: a fixed list of columns, written as CSV or JSON.
#pragma once

#include <array>
#include <optional>
#include <string_view>

#include "core/io/kept_json.hpp"
#include "core/measure/wheel.hpp"

namespace lowkite::calc {

constexpr std::array<std::string_view, 20> columns{"travel_mm",
                                                   "rack_mm",
                                                   "wheel_centre_x_mm",
                                                   "wheel_centre_y_mm",
                                                   "wheel_centre_z_mm",
                                                   "spin_axis_x",
                                                   "spin_axis_y",
                                                   "spin_axis_z",
                                                   "contact_x_mm",
                                                   "contact_y_mm",
                                                   "contact_z_mm",
                                                   "camber_deg",
                                                   "toe_deg",
                                                   "caster_deg",
                                                   "kingpin_inclination_deg",
                                                   "trail_mm",
                                                   "scrub_mm",
                                                   "roll_centre_height_mm",
                                                   "roll_centre_height_locked_mm",
                                                   "bump_steer_deg_per_mm"};

using Row = std::array<std::optional<double>, columns.size()>;

/// One wheel in vehicle axes (the right side's y is negative), ground parallel to the plate through the contact point.
/// Throws nothing; fails like pose_at_travel.
tl::expected<Row, PoseFailure> corner_row(const CornerModel& corner, Side side, double travel_mm, double rack_mm);

std::string csv_header();
std::string csv_line(const Row& row);
Json json_row(const Row& row);

}  // namespace lowkite::calc
