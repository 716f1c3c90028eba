// Which end gives up more of its grip, as far as load transfer and camber decide it.
//
// A tyre's friction falls a little as its load grows, and a tyre that leans as it likes best holds more. Both are told
// of as an assumption with a band: no tyre of this size is measured anywhere that could be named here. Left out, and it
// matters: rubber, additive, temperature, slip, the surface, toe. Braking and power take grip too, and move the limit
// from one end to the other: with either no verdict is told. No lap time follows.
#pragma once

#include "core/load/balance.hpp"

namespace lowkite {

/// What is believed about the tyres. Defaults are guesses from memory, wide on purpose.
struct TyreAssumption {
  double load_exponent = 0.15;        ///< friction goes with load to the power of minus this; 0: all the same
  double load_exponent_band = 0.10;   ///< how far off that may be, either way
  double best_lean_deg = 1.5;         ///< lean into the turn at which a tyre holds most
  double best_lean_band_deg = 1.0;    ///< how far off that may be
  double lean_loss_per_deg2 = 0.006;  ///< share of the grip lost for each squared degree away from it
  double lean_loss_band = 0.003;      ///< how far off that may be
  double friction_ratio_band = 0.02;  ///< by how much the rear tyres' friction may differ from the front's

  bool operator==(const TyreAssumption&) const = default;
};

/// How far a wheel leans into the turn, rad: its top towards the centre of the turn positive.
double lean_into_turn(double camber_rad, Side side, double lateral_g);

/// Share of its grip that each end loses against one whose two tyres carried the same load and leaned as they like
/// best; 0 = nothing. Straight ahead the lean is not counted.
PerEnd<double> grip_lost(const Balance& balance, double lateral_g, const TyreAssumption& tyre);

enum class GripVerdict : std::uint8_t {
  front_gives_up_more,
  rear_gives_up_more,
  cannot_be_told,
  not_with_braking_or_power  ///< what they take of the grip is not counted
};

struct GripBalance {
  PerEnd<double> lost{};
  double rear_more = 0.0;  ///< what the rear loses more than the front, a share of the grip
  double least = 0.0;      ///< of `rear_more`, anywhere within the bands
  double most = 0.0;
  GripVerdict verdict = GripVerdict::cannot_be_told;  ///< an end only where the whole band has one sign
};

/// Of a stand, under the acceleration that it was found for.
GripBalance grip_balance(const Balance& balance, const TyreAssumption& tyre);

}  // namespace lowkite
