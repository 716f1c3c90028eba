// One setup of a car, posed and read: everything that figures of geometry are read from.
#pragma once

#include "core/figures/figures.hpp"

namespace lowkite {

/// Where the axles are held while figures are read: against each setup's own ride height.
struct ViewAttitude {
  double bump_mm = 0.0;  ///< chassis lowered at both ends; negative = lifted
  double roll_rad = 0.0;
  double pitch_rad = 0.0;  ///< positive = nose down
  double servo_rad = 0.0;  ///< positive = to the left
  double rack_mm = 0.0;    ///< in place of the servo where a car has no steering linkage

  bool operator==(const ViewAttitude&) const = default;
};

/// One setup of a car, posed and read.
struct Variant {
  Setup setup;
  CarModel model;
  CarPose pose;
  FigureSource source;
  bool whole_travel = false;  ///< all of it is read
};

/// Samples of a curve that is only read for its figures, and of one that is told or drawn.
constexpr int coarse_curve = 9;
constexpr int fine_curve = 41;

/// At which axle two setups of a car differ in nothing that moves its linkage, its steering or where its stops are.
PerEnd<bool> axles_alike(const Car& car, const Setup& a, const Setup& b);

/// The setup held as in `view`. `known`: setups of the same car evaluated before, whole; of an axle that is alike in
/// one of them, what is read off its whole travel is taken from there, and its curve where that has as many samples.
tl::expected<Variant, CarFailure> evaluate(const Car& car, const Setup& setup, const ViewAttitude& view,
                                           int curve_samples, const std::vector<const Variant*>& known = {});

/// The setup as it stands, and what ends its wheels' travel: no curve, no lock, none of the other figures of the whole
/// travel. For what is computed over and over on the way to a setup.
tl::expected<Variant, CarFailure> evaluate_stand(const Car& car, const Setup& setup);

/// What the figures of a setup are read from as it stands, and of its whole travel as much as is asked for. `known`: as
/// above; what was not evaluated whole is left alone.
tl::expected<FigureSource, CarFailure> figure_source(const Car& car, const Setup& setup, TravelRead travel,
                                                     const std::vector<const Variant*>& known = {});

/// The attitude in which a model is looked at.
Attitude held_attitude(const CarModel& model, const ViewAttitude& view);

}  // namespace lowkite
