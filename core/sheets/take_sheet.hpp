// A filled-in sheet taken into a setup, and a setup written into a sheet.
//
// Parts first, then ride heights, link lengths, droop, and the angles last, as on the bench. Where a sheet gives a
// link's length and the angle that the link sets, the length is taken and the angle compared: a sheet that contradicts
// itself, or the model, is told so.
#pragma once

#include "core/car/setup.hpp"
#include "core/sheets/matching.hpp"

namespace lowkite {

enum class SheetOutcome : std::uint8_t {
  left,   ///< stands for nothing, by the racer's choice
  empty,  ///< nothing filled in
  taken,
  nearest,  ///< taken at the nearest that the part can be
  kept,     ///< noted under its own name
  refused,  ///< the part cannot be that; noted, too, so that it is not lost
  compared  ///< nothing is set by it; what the model reads stands beside it
};

struct SheetLine {
  SheetOutcome outcome = SheetOutcome::left;
  std::string why;  ///< refused and nearest: what the part can be, as a sentence
  /// Angles, gauges and ride heights: what the sheet says and what the model reads of the setup taken, by the sheet's
  /// own sign, on the side that differs most.
  std::optional<double> said, reads;
  bool contradicts = false;  ///< they are further apart than the gauge can tell
};

struct TakenSheet {
  Setup setup;
  std::vector<SheetLine> lines;       ///< parallel to the form's fields
  std::vector<PartHandle> not_named;  ///< parts that no field names, threads that nothing sets among them
  int taken = 0, contradictions = 0;
};

/// What the sheet says, put into `base`, the setup that holds for what it does not name. Every state that is taken can
/// stand; what would keep the car from standing is refused. Fails where `base` itself cannot stand.
tl::expected<TakenSheet, CarFailure> take_sheet(const Car& car, const Setup& base, const SheetForm& form,
                                                const std::vector<SheetMatch>& matches, const BenchKit& bench);

/// What to write into a field, so that reading it back gives this setup.
struct SheetFill {
  std::string text;    ///< text and choice fields
  bool tick = false;   ///< boxes
  bool known = false;  ///< false: the field is left as it is
};
/// For every field. Fails where the setup cannot stand.
tl::expected<std::vector<SheetFill>, CarFailure> fill_sheet(const Car& car, const Setup& setup, const SheetForm& form,
                                                            const std::vector<SheetMatch>& matches,
                                                            const BenchKit& bench);

}  // namespace lowkite
