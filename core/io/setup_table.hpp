// A setup as a table for spreadsheets: one row a part, left and right.
#pragma once

#include "core/io/setup_file.hpp"

namespace lowkite {

/// CSV with a heading: part, name, axle, left, right. Ride heights, the setup's words and what is noted stand as rows
/// of their own.
std::string write_setup_table(const Setup& setup, const Car& car);

struct ReadTable {
  Setup setup;
  Faults left_out;  ///< rows that this car has no place for; those of parts are noted in the setup, word for word
};

/// Reads such a table back, from any spreadsheet: commas, semicolons or tabs, decimal points or commas, columns in any
/// order. What it knows is taken; parts that are not named, or whose value the part cannot be, are at their kit value.
/// Fails where no row can be taken.
tl::expected<ReadTable, Faults> read_setup_table(const std::string& text, const std::string& file, const Car& car);

}  // namespace lowkite
