// What a racer remembers of a race day: the day, its runs, their laps, and how the car felt. Plain values; the store
// keeps them (log_store.hpp).
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace lowkite {

/// A value that has an id in files and a word for people.
template <class E>
struct Named {
  E value;
  std::string_view id;
  std::string_view label;
};

enum class Surface : std::uint8_t { unknown, asphalt, carpet, clay, loose_dirt, turf };
enum class Grip : std::uint8_t { unknown, low, medium, high };
enum class Bumps : std::uint8_t { unknown, smooth, some, rough };
std::span<const Named<Surface>> surfaces();
std::span<const Named<Grip>> grips();
std::span<const Named<Bumps>> bump_kinds();
/// True for surfaces that a buggy races on.
constexpr bool off_road(Surface s) {
  return s == Surface::clay || s == Surface::loose_dirt || s == Surface::turf;
}

struct Day {
  std::int64_t id = 0;  ///< 0: not stored yet
  std::string date;     ///< "2026-10-09"
  std::string track;
  Surface surface = Surface::unknown;
  Grip grip = Grip::unknown;
  Bumps bumps = Bumps::unknown;
  std::optional<double> air_celsius;
  std::optional<double> ground_celsius;
  std::optional<double> humidity_percent;
  std::string notes;

  bool operator==(const Day&) const = default;
};

/// Which part of a lap a feeling belongs to.
enum class Phase : std::uint8_t { straight, braking, entry, middle, exit, bumps, jumps };
std::span<const Named<Phase>> phases();

/// What was felt. Each is a scale from -2 to +2 with words for both sides, or from 0 where there is one side only.
enum class Sense : std::uint8_t {
  front_grip,  ///< - the front lacks grip, + it has too much
  rear_grip,   ///< - the rear lacks grip, + it is stuck
  response,    ///< - lazy, + nervous
  roll,        ///< - too flat, skates, + leans too much
  ride,        ///< - harsh, skips, + wallows, bottoms
  tip,         ///< + tips over instead of sliding
  lift,        ///< + an inside wheel lifts
  fade         ///< + grip goes while the run goes on
};
struct SenseWords {
  Sense sense;
  std::string_view id;
  std::string_view label;
  std::string_view minus;  ///< empty: there is no such side
  std::string_view plus;
};
std::span<const SenseWords> senses();

enum class TurnWay : std::uint8_t { both, left, right };
std::span<const Named<TurnWay>> turn_ways();

struct Feeling {
  Phase phase = Phase::middle;
  Sense sense = Sense::front_grip;
  TurnWay turn = TurnWay::both;
  int amount = 0;  ///< -2 ... +2; 0 = as it should be

  bool operator==(const Feeling&) const = default;
};

/// What a lap stands for. Ordinary laps count; which of them are set aside besides, a rule says (laps.hpp).
enum class LapMark : std::uint8_t { ordinary, traffic, crash, out };
std::span<const Named<LapMark>> lap_marks();

struct Lap {
  int number = 0;  ///< as the timing system counts; gaps are laps that were not recorded
  double seconds = 0.0;
  LapMark mark = LapMark::ordinary;

  bool operator==(const Lap&) const = default;
};

/// The racer's own word on a run against the one before.
enum class Verdict : std::uint8_t { none, worse, same, better };
std::span<const Named<Verdict>> verdicts();

struct Run {
  std::int64_t id = 0;  ///< 0: not stored yet
  std::int64_t day = 0;
  std::string started;  ///< "14:35"; runs of a day are in this order, then in that of their ids
  std::string car_id;
  std::string setup;     ///< text of a setup file: as it was on the car
  std::string measured;  ///< text of a bench run: its readings; empty: none
  std::string tyres;
  std::optional<int> tyre_runs;  ///< how many runs they had before this one
  std::string additive;
  std::string battery;
  std::optional<double> length_s;
  std::string broke;
  std::string marked_by;  ///< who marked it: at many clubs racers marshal and lap-score each other
  std::string notes;
  Verdict verdict = Verdict::none;
  std::vector<Feeling> feelings;

  bool operator==(const Run&) const = default;
};

/// A run with all that belongs to it.
struct RunRecord {
  Run run;
  std::vector<Lap> laps;

  bool operator==(const RunRecord&) const = default;
};

/// By id in files; none when there is no such.
template <class E>
std::optional<E> value_of(std::span<const Named<E>> list, std::string_view id) {
  for (const Named<E>& n : list)
    if (n.id == id) return n.value;
  return std::nullopt;
}
template <class E>
std::string_view id_in(std::span<const Named<E>> list, E value) {
  for (const Named<E>& n : list)
    if (n.value == value) return n.id;
  return {};
}
template <class E>
std::string_view label_in(std::span<const Named<E>> list, E value) {
  for (const Named<E>& n : list)
    if (n.value == value) return n.label;
  return {};
}
const SenseWords& words_of(Sense sense);
std::optional<Sense> sense_of_id(std::string_view id);

}  // namespace lowkite
