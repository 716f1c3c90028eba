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
  matches
};
constexpr int kinds = 13;

}  // namespace lowkite::fuzz
