// The readers that are fuzzed.
#pragma once

namespace lowkite::fuzz {

enum class Kind : unsigned char {
  car,
  setup,
  bench,
  log,
  log_table,
  laps,
  rules,
  usual,
  tyres,
  sheet,
  instrument,
  form,
  matches,
  boxes
};
constexpr int kinds = 14;

}  // namespace lowkite::fuzz
