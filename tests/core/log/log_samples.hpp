// Days and runs for the tests of the log.
#pragma once

#include <random>

#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/log/log_exchange.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {

inline Day sample_day(const std::string& date = "2026-10-09") {
  Day d;
  d.date = date;
  d.track = "Old Tannery hall";
  d.surface = Surface::carpet;
  d.grip = Grip::high;
  d.bumps = Bumps::some;
  d.air_celsius = 19.5;
  d.ground_celsius = 21.0;
  d.humidity_percent = 48.0;
  d.notes = "Water on the floor by the door; \"mind\" the step.";
  return d;
}

inline std::vector<Lap> sample_laps(int count, double about, std::uint32_t seed = 7, double spread = 0.1) {
  std::mt19937 random(seed);
  std::normal_distribution<double> scatter(0.0, spread);
  std::vector<Lap> laps;
  for (int i = 1; i <= count; ++i) laps.push_back({i, about + scatter(random), LapMark::ordinary});
  return laps;
}

inline RunRecord sample_run(std::int64_t day, const std::string& started, const Car& car, const CarSetup& setup,
                            double about = 14.8, std::uint32_t seed = 7) {
  RunRecord r;
  r.run.day = day;
  r.run.started = started;
  r.run.car_id = car.id;
  r.run.setup = write_setup(setup, car, {});
  r.run.tyres = "set 3";
  r.run.tyre_runs = 4;
  r.run.additive = "none";
  r.run.battery = "no. 2";
  r.run.length_s = 300.0;
  r.run.marked_by = "the next heat";
  r.run.notes = "a little lazy on the exit";
  r.run.feelings = {{Phase::exit, Sense::rear_grip, TurnWay::left, -1},
                    {Phase::entry, Sense::front_grip, TurnWay::both, 2}};
  r.laps = sample_laps(16, about, seed);
  return r;
}

}  // namespace lowkite::test
