// A setup as a table for spreadsheets: one row a part, left and right.
#pragma once

#include "core/io/setup_file.hpp"

namespace lowkite {

/// CSV with a heading: part, name, axle, left, right. Ride heights and the setup's words stand as rows of their own.
std::string write_setup_table(const Setup& setup, const Car& car);

/// Reads such a table back, from any spreadsheet: commas, semicolons or tabs, decimal points or commas, columns in any
/// order. Parts that are not named are at their kit value. Every fault found is returned.
tl::expected<Setup, Faults> read_setup_table(const std::string& text, const std::string& file, const Car& car);

}  // namespace lowkite
