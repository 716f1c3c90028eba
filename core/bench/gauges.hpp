// What each bench gauge reads on this setup, and the way back: what a reading asks of which part.
//
// A gauge is one file in core/bench/gauges: what it means, what it reads, which parts answer it, what a run takes over
// from it. Its line in gauges.cpp gives it its place in bench order.
//
// Readings are at ride height on a flat board, level, steering in the middle; droop readings with the car on blocks and
// the wheel hanging on whatever stops it first.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/figures/figures.hpp"

namespace lowkite {

/// How a caliper is laid on a link: between the cups of its ball ends, over them, or from ball centre to ball centre.
enum class Caliper : std::uint8_t { between, over, centres };
std::string_view name_of(Caliper caliper);

/// What droop at the tyre is read against: the underside of the plate, or a line on the block (0 = the bench itself).
enum class DroopFrom : std::uint8_t { plate, line };

/// What lies on the racer's bench.
struct BenchKit {
  double down_stop_blocks_mm = 10.0;  ///< under the plate while the down-stop gauge is read
  double droop_blocks_mm = 10.0;      ///< under the plate while droop is read at the tyre
  DroopFrom droop_from = DroopFrom::plate;
  double droop_line_mm = 0.0;         ///< of the line over the bench
  double ride_points_apart_mm = 0.0;  ///< ride height is read at two points so far apart; 0: in the middle
  Caliper caliper = Caliper::centres;
  double cup_mm =
      6.0;  ///< size of a ball end along its link: `over` reads this much more than `centres`, `between` less
  double slop_mm = 0.0;       ///< play at a wheel where none was read, taken off droop readings
  double pull_down_mm = 4.0;  ///< how far the chassis is pulled down over the scales

  bool operator==(const BenchKit&) const = default;
};

/// A caliper reading from a length between ball centres, and back.
double caliper_reading(double centres_mm, const BenchKit& bench);
double centres_from_caliper(double reading_mm, const BenchKit& bench);

struct Gauge;
struct GaugeAnswer;

/// What a gauge is read off.
struct GaugeView {
  const Gauge& gauge;
  const CarModel& model;
  const FigureSource& source;
  const BenchKit& bench;
  Side side;
};

/// What a reading needs besides the standing car.
enum class GaugeNeeds : std::uint8_t {
  standing,    ///< nothing; and the stops of its own wheel
  both_stops,  ///< the stops of both wheels
  lock         ///< those, and the lock over the travel
};

/// The sides of zero that a reading is on, which a racer names and a bare number does not tell.
enum class ZeroSides : std::uint8_t {
  none,
  in_out,     ///< toe: positive = in
  minus_plus  ///< camber
};

/// What a run takes over from a reading into the car as measured.
enum class TakesOver : std::uint8_t {
  nothing,
  ride_height,
  parts,               ///< where the parts that answer must stand to read like that
  pair,                ///< the same, from both sides' readings together
  unless_camber_link,  ///< the same, unless a caliper was laid on the link that holds the camber
  unless_toe_link      ///< or the toe
};

/// Play is no target but a room, between two ends; what brings it there is no part of the car file.
struct WantedPlay {
  double least = 0.0, most = 0.0;
  double step = 0.0;              ///< what a hand can change it by; 0: nothing but another part
  std::string_view tighter = {};  ///< how play is taken away, before an amount
  std::string_view looser = {};   ///< how it is given
  std::string_view besides = {};  ///< what to look for where it is more
};

struct GaugeSpec {
  std::string_view id;
  std::string_view label;
  Unit unit;
  Wording wording;
  int decimals;
  double resolution;  ///< what the gauge can tell, in its unit: a reading within it is the target
  bool per_wheel;     ///< lock gauges: steering left, steering right (see `reads_each_side`)
  ZeroSides zero = ZeroSides::none;
  std::optional<WantedPlay> play = {};  ///< it reads the middle of it, and `resolution` reaches to its ends
  int parts_of_a_turn = 8;              ///< its answers are told in such parts of a turn
  GaugeNeeds needs = GaugeNeeds::standing;
  TakesOver takes_over = TakesOver::nothing;
  /// True when it can be laid on this axle of the car. Links: `each_link` instead.
  bool (*means_something)(const Car& car, End end) = nullptr;
  bool each_link = false;  ///< one of it for every link that a turnbuckle sets
  std::optional<double> (*read)(const GaugeView& view) = nullptr;
  /// The parts that answer, all turned alike; `droop` is what stops the hanging wheel. nullptr: none by themselves.
  std::vector<PartHandle> (*parts)(const Car& car, const Gauge& gauge, StopKind droop) = nullptr;
  /// What answers in place of parts; fills verdict and change of an answer that has target and difference.
  tl::expected<void, CarFailure> (*answer)(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                           GaugeAnswer& answer) = nullptr;
  /// Where one reading follows from the parts of both sides: how far the left side's parts stand off from the setup,
  /// and the right side's the other way, when both read like this. None where no place of them does.
  std::optional<double> (*pair_off_by)(const Car& car, const Setup& setup, const Gauge& gauge,
                                       const PerSide<double>& read, const BenchKit& bench) = nullptr;
};

/// Every gauge that the program knows, by name.
namespace gauge {
extern const GaugeSpec ride_height, shock_length, shock_pulled_out, shaft_exposed, stroke_left, collar, down_stop,
    tyre_droop, shock_droop, link_length, camber, toe, toe_pressed, lock_hanging, lock_level, lock_pressed, lock_inside,
    lock_outside, bar_lift, corner_scale, pull_down, wheel_play, end_float, axle_float, post_play;

/// The tyre's lowest point under the plate's underside, mm, when droop at the tyre reads so.
double hanging_low_from(double reading_mm, const BenchKit& bench);
}  // namespace gauge

/// Which gauge; never null.
using GaugeKind = const GaugeSpec*;
/// In bench order.
std::span<const GaugeKind> gauge_kinds();

/// One gauge laid on one axle of a car: the same for every setup.
struct Gauge {
  GaugeKind kind = &gauge::camber;
  End end = End::front;
  LinkHandle link = {};  ///< for link lengths
  std::string label;     ///< with the link's name where there are several

  [[nodiscard]] const GaugeSpec& spec() const { return *kind; }
};
/// Whether left and right are read apart with this kit.
bool reads_each_side(const Gauge& gauge, const BenchKit& bench);
/// Every gauge of the setup that means something on this car, front axle first, in bench order.
std::vector<Gauge> gauges_of(const Car& car);
/// The places where play is felt, which no setup changes.
std::vector<Gauge> play_of(const Car& car);

/// What the gauge should read, in its unit (toe: positive = in). None: not to be read on this setup.
std::optional<double> reading(const Gauge& gauge, const CarModel& model, const FigureSource& source,
                              const BenchKit& bench, Side side);

/// The same for one gauge by itself, on a car that is built for it: without what the gauge does not need. Fails where
/// the car cannot stand so; 0 where it is not to be read.
tl::expected<double, CarFailure> read_gauge(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                            const BenchKit& bench);

/// The whole number of steps of a hand that a change is told in: nothing where a single step would leave it hardly
/// nearer than it is, so that nobody turns to and fro.
double in_steps(double change, double step);

/// What to do about a reading.
struct GaugeAnswer {
  enum class Verdict : std::uint8_t {
    as_it_should,    ///< within the gauge's resolution
    closest,         ///< off, but by less than half of the least turn or shim: nearer it cannot be put
    turn,            ///< turn or change the part by `told`
    until_it_moves,  ///< the screw does not reach what it stops: turn it in until the reading changes, then read again
    other_side,      ///< the other side's reading is needed before anything can be told
    out_of_reach,    ///< no place of the part would have given this reading: look for a bent or wrong part
    no_part          ///< nothing on this car answers this gauge by itself
  };
  Verdict verdict = Verdict::no_part;
  double target = 0.0;
  double difference = 0.0;            ///< reading less target
  std::vector<PartHandle> adjusters;  ///< all to be changed alike
  double change = 0.0;  ///< turns or mm of shims; for ride height mm of shock length on each side (positive = longer)
  double told = 0.0;    ///< the same in what a hand can do: parts of a turn, shims of the box, 0.1 mm
  bool thread_ends = false;  ///< `told` is all that the thread, or the box of shims, still gives
  bool collars = false;      ///< ride height: the answer is what holds the springs, both sides alike (see SpringHolder)
  bool play = false;         ///< `told` is play to be given (positive) or taken, by what the gauge's kind says
  bool end_point = false;    ///< lock: the answer is the transmitter's end point, degrees at the inside wheel
};

/// What the racer's car is taken to be while a reading is judged: a setup that reads like what was measured so far.
/// The change is what takes the gauge from the reading to `target` on it. `within`: of the target nothing is asked for;
/// as a rule what the gauge can tell.
tl::expected<GaugeAnswer, CarFailure> answer_towards(const Car& car, const Setup& standing, double target,
                                                     const Gauge& gauge, Side side, double read, const BenchKit& bench,
                                                     double within);
/// The same for a car that stands as the setup says, but for the part that answers.
tl::expected<GaugeAnswer, CarFailure> answer(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                             double read, const BenchKit& bench);

/// Both sides of a gauge whose readings follow from both: the correction is shared, one side's parts turned as far one
/// way as the other's the other way.
tl::expected<PerSide<GaugeAnswer>, CarFailure> answer_pair(const Car& car, const Setup& standing,
                                                           const PerSide<double>& target, const Gauge& gauge,
                                                           const PerSide<double>& read, const BenchKit& bench);

/// By how much the parts that answer stand off from the setup, all alike, so that the gauge reads this; none where no
/// place of them does.
std::optional<double> parts_off_by(const Car& car, const Setup& setup, const Gauge& gauge, Side side, double read,
                                   const BenchKit& bench);
/// The parts that answer the gauge on this setup.
std::vector<PartHandle> parts_answering(const Car& car, const Setup& setup, const Gauge& gauge, Side side);

}  // namespace lowkite
