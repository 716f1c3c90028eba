// What a season's log teaches about tyres: a hidden tyre comes back, coin tosses teach nothing.
#include <random>

#include <gtest/gtest.h>

#include "core/advice/tyre_weights.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/tyre_file.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using P = TyreParameter;

/// A car, setups that differ by one part each, and how every tyre answers them.
struct Season {
  Car car = test::touring();
  CornerAsk ask{.lateral_g = 1.1};
  TyreFamily family = load_tyres(test::data_path("tyres/tyres.json"))->for_surface("asphalt");
  std::vector<TyreDraw> tyres = draw_tyres(family, test::runs_a_share() ? 96 : usual_draws);
  std::vector<test::CarSetup> setups;
  std::vector<SetupTable> tables;
  std::vector<Handling> over;

  Season() {
    setups.push_back(kit_setup(car));
    const auto add = [&](const char* part, int steps) {
      test::CarSetup s = setups.front();
      const PartHandle i = car.find_adjuster(part);
      const double v = car.adjusters[i].stepped(s.of(i).left, steps);
      s.of(i) = {v, v};
      setups.push_back(s);
    };
    add("front_bar", -1);
    add("rear_bar", 2);
    add("battery_place", 1);
    add("rear_differential_oil", 2);
    add("front_caster_block", 1);
    add("front_differential", 1);
    add("rear_camber_link", -3);
    add("front_camber_link", -3);
    for (const test::CarSetup& s : setups) {
      tables.push_back(*tabulate(car, s, ask));
      over.push_back(handling_over(tables.back(), tyres));
    }
  }

  /// What one tyre's driver writes down over a season of there and back, a share of it by chance.
  TyreEvidence driven_on(const TyreDraw& hidden, double wrong, std::mt19937& random, int trials) const {
    std::vector<std::optional<TyreHandling>> answers;
    for (const SetupTable& t : tables) answers.push_back(handling_on(t, hidden));
    std::uniform_int_distribution<std::size_t> which(1, setups.size() - 1);
    std::uniform_int_distribution<int> any(-1, 1);
    std::bernoulli_distribution errs(wrong), back(0.5);
    TyreEvidence e;
    for (int i = 0; i < trials; ++i) {
      const std::size_t other = which(random);
      const bool reversed = back(random);
      const std::size_t from = reversed ? other : 0, to = reversed ? 0 : other;
      if (!answers[from] || !answers[to]) continue;
      ++e.pairs;
      for (const CornerPhase phase : corner_phases)
        for (const HandlingFigure figure : {HandlingFigure::front_left, HandlingFigure::rear_left}) {
          const auto p = at(phase);
          const HandlingFigureSpec& f = spec_of(figure);
          const double by = (*f.read(answers[to]->phase[p]) - *f.read(answers[from]->phase[p])) / 0.3;
          FeltChange c;
          c.phase = phase;
          c.figure = figure;
          c.felt = errs(random) ? any(random) : by > 0.5 ? 1 : by < -0.5 ? -1 : 0;
          for (std::size_t k = 0; k < tyres.size(); ++k) {
            c.moved.emplace_back();
            if (over[from][k] && over[to][k])
              c.moved.back() = (*f.read(over[to][k]->phase[p]) - *f.read(over[from][k]->phase[p])) / 0.3;
          }
          e.felt.push_back(std::move(c));
        }
    }
    return e;
  }
};

const Season& season() {
  static const Season s;
  return s;
}

TEST(TyreWeights, AHiddenTyreComesBackInNineOfTenSeasons) {
  const Season& s = season();
  std::mt19937 random(1809);
  std::uniform_real_distribution<double> share(0.0, 1.0);
  const int seasons = test::share_of(20);
  int inside = 0, asked = 0, taught = 0;
  for (int i = 0; i < seasons; ++i) {
    TyreDraw hidden;
    for (const TyreParameterSpec& p : tyre_parameters()) {
      const TyreBelief& b = s.family.belief[at(p.parameter)];
      hidden[p.parameter] = b.least + share(random) * (b.most - b.least);
    }
    const TyreWeights w = weigh_tyres(s.driven_on(hidden, 0.15, random, 25), s.tyres.size());
    ASSERT_EQ(w.weight.size(), s.tyres.size());
    EXPECT_LT(w.left, 0.7 * static_cast<double>(s.tyres.size())) << "a season teaches something";
    for (const LearnedProperty& p : learned(s.tyres, w)) {
      if (p.narrower() < 0.15) continue;
      ++taught;
      ++asked;
      // The band holds eight in ten of what is left; a tenth of the range of belief is allowed beside it.
      const TyreBelief& b = s.family.belief[at(p.parameter)];
      const double slack = 0.1 * (b.most - b.least);
      inside += hidden[p.parameter] >= p.now.low - slack && hidden[p.parameter] <= p.now.high + slack;
    }
  }
  EXPECT_GT(taught, seasons) << "each season narrows something";
  EXPECT_GE(inside, (test::runs_a_share() ? 0.8 : 0.9) * asked) << inside << " of " << asked;
  RecordProperty("inside", inside);
  RecordProperty("asked", asked);
}

TEST(TyreWeights, ASeasonOfCoinTossesTeachesNothingMuch) {
  const Season& s = season();
  std::mt19937 random(7);
  const TyreWeights tossed = weigh_tyres(s.driven_on(s.tyres[3], 1.0, random, 25), s.tyres.size());
  const TyreWeights felt = weigh_tyres(s.driven_on(s.tyres[3], 0.1, random, 25), s.tyres.size());
  EXPECT_GT(tossed.left, 0.95 * static_cast<double>(s.tyres.size())) << tossed.left;
  EXPECT_EQ(tossed.wrong_share, 1.0);
  EXPECT_LT(felt.left, 0.5 * static_cast<double>(s.tyres.size())) << felt.left;
  const TyreWeights nothing = weigh_tyres({}, s.tyres.size());
  EXPECT_DOUBLE_EQ(nothing.left, static_cast<double>(s.tyres.size()));
  EXPECT_FALSE(nothing.says_much(s.tyres.size()));
  for (const double w : nothing.weight) EXPECT_DOUBLE_EQ(w, 1.0);
}

// The demo's season was felt by one hidden tyre on each ground, which its last day names.
TEST(TyreWeights, TheDemosSeasonPointsToItsHiddenTyres) {
  if (test::runs_a_share()) GTEST_SKIP() << "once, in release: a share of the tyres is too few to point with";
  const auto text = read_file(test::data_path("log/season.json"), 64U << 20);
  ASSERT_TRUE(text);
  const auto days = read_log(*text, "season.json");
  ASSERT_TRUE(days);
  const std::string notes = days->back().day.notes;
  const TyreBook book = *load_tyres(test::data_path("tyres/tyres.json"));
  const Car car = test::shipped("heron-tc190");
  for (const auto& [surface, id] :
       {std::pair(Surface::carpet, "carpet_rubber"), std::pair(Surface::asphalt, "asphalt_rubber")}) {
    const TyreFamily& family = *book.find(id);
    const auto in_words = [](std::string name) {
      std::replace(name.begin(), name.end(), '_', ' ');
      return name;
    };
    const std::size_t from = notes.find(in_words(id) + ":");
    ASSERT_NE(from, std::string::npos) << notes;
    const std::string told = notes.substr(from, notes.find(';', from) - from);
    const auto tyres = draw_tyres(family);
    const auto evidence = tyre_evidence(*days, car, surface, {}, {}, tyres);
    ASSERT_TRUE(evidence);
    EXPECT_GT(evidence->pairs, 12);
    const TyreWeights w = weigh_tyres(*evidence, tyres.size());
    EXPECT_TRUE(w.says_much(tyres.size())) << w.left;
    EXPECT_LT(w.wrong_share, 0.5) << "one word in seven is chance";
    int asked = 0;
    for (const LearnedProperty& p : learned(tyres, w)) {
      if (p.narrower() < 0.15) continue;
      ++asked;
      const TyreParameterSpec& spec = spec_of(p.parameter);
      const std::size_t at = told.find(' ' + in_words(std::string(spec.id)) + ' ');
      ASSERT_NE(at, std::string::npos) << spec.id;
      const double hidden = std::stod(told.substr(at + spec.id.size() + 2));
      const TyreBelief& b = family.belief[static_cast<std::size_t>(p.parameter)];
      const double slack = 0.1 * (b.most - b.least);
      EXPECT_GE(hidden, p.now.low - slack) << spec.id;
      EXPECT_LE(hidden, p.now.high + slack) << spec.id;
    }
    EXPECT_GT(asked, 0) << "it has taught something";
  }
}

TEST(TyreWeights, OldRunsAreForgottenSlowly) {
  const Season& s = season();
  std::mt19937 random(11);
  TyreEvidence e = s.driven_on(s.tyres[40], 0.1, random, 10);
  const double fresh = weigh_tyres(e, s.tyres.size()).left;
  for (FeltChange& c : e.felt) c.days_ago = 2.0 * 365.0;
  const double old = weigh_tyres(e, s.tyres.size()).left;
  EXPECT_GT(old, 1.3 * fresh);
  EXPECT_LT(old, static_cast<double>(s.tyres.size()));
}

TEST(TyreWeights, EvidenceIsReadFromTheRunsOfALog) {
  const Season& s = season();
  const auto record = [&](const test::CarSetup& setup, std::vector<Feeling> felt, const char* tyres) {
    RunRecord r;
    r.run.car_id = s.car.id;
    r.run.setup = write_setup(setup, s.car, Json::object());
    r.run.tyres = tyres;
    r.run.feelings = std::move(felt);
    return r;
  };
  const Feeling pushes{Phase::exit, Sense::front_grip, TurnWay::both, -1};
  LoggedDay day;
  day.day.date = "2026-05-02";
  day.day.surface = Surface::asphalt;
  day.runs = {record(s.setups[0], {pushes}, "set 1"), record(s.setups[6], {}, "set 1"),
              record(s.setups[0], {pushes}, "set 2")};
  const auto few = std::span(s.tyres).first(16);
  const auto e = tyre_evidence({day}, s.car, Surface::asphalt, "", s.ask, few);
  ASSERT_TRUE(e);
  // Other tyres between two runs say nothing of parts.
  ASSERT_EQ(e->felt.size(), 1U);
  EXPECT_EQ(e->felt[0].felt, 1) << "it pushed, and then it did not";
  EXPECT_EQ(e->felt[0].phase, CornerPhase::exit);
  EXPECT_EQ(e->felt[0].what, "Differential");
  EXPECT_EQ(e->pairs, 1);
  const auto in_bounds = [](double share) {
    EXPECT_TRUE(share >= 0.0 && share <= 1.0) << share;
    return true;
  };
  EXPECT_TRUE(tyre_evidence({day}, s.car, Surface::clay, "", s.ask, few, 2, in_bounds)->felt.empty());
  // A setup is worked out once, in this weighing or the next, and the words are the same.
  FeltSetups setups(std::make_shared<const Car>(s.car), s.ask, {few.begin(), few.end()});
  for (int again = 0; again < 2; ++again) {
    const auto kept = tyre_evidence({day, day}, Surface::asphalt, "", setups);
    ASSERT_EQ(kept->felt.size(), 2U);
    EXPECT_EQ(kept->felt[1].moved, e->felt[0].moved);
    EXPECT_EQ(setups.worked_out(), 2U);
  }
  EXPECT_FALSE(tyre_evidence({day}, s.car, Surface::asphalt, "", s.ask, few, 1, [](double) { return false; }));
  // Only the exit was spoken of; what is asked for later is added, and is as if all had been asked for at once.
  const auto exit = at(CornerPhase::exit), middle = at(CornerPhase::middle);
  EXPECT_TRUE(setups.of(s.setups[0])->figure[0][middle].empty());
  ASSERT_TRUE(setups.work_out({{s.setups[0], {{true, true, true}, true}}}, 2));
  FeltSetups afresh(std::make_shared<const Car>(s.car), s.ask, {few.begin(), few.end()});
  ASSERT_TRUE(afresh.work_out({{s.setups[0], {{true, true, true}, true}}}, 1));
  EXPECT_EQ(setups.of(s.setups[0])->figure, afresh.of(s.setups[0])->figure);
  EXPECT_EQ(setups.of(s.setups[0])->limit_g, afresh.of(s.setups[0])->limit_g);
  EXPECT_EQ(setups.worked_out(), 2U);
  const Handling whole = handling_over(*tabulate(s.car, s.setups[0], s.ask), few);
  for (std::size_t i = 0; i < few.size(); ++i) {
    EXPECT_NEAR(*afresh.of(s.setups[0])->figure[0][exit][i], 100.0 * whole[i]->phase[exit].left[0] / 0.3, 1e-3);
    EXPECT_NEAR(*afresh.of(s.setups[0])->limit_g[i], whole[i]->phase[middle].limit_g, 1e-9);
  }
}

TEST(ModelVoice, SpeaksForAndAgainstWhatWasFelt) {
  const Season& s = season();
  const Feeling pushes{Phase::entry, Sense::front_grip, TurnWay::both, -1};
  const Feeling jumps{Phase::jumps, Sense::ride, TurnWay::both, 1};
  const auto helps = model_voice(std::vector{pushes}, s.over[0], s.over[6], s.tyres);
  ASSERT_TRUE(helps);
  EXPECT_GT(helps->mends, 0.8) << "a one-way in place of a spool steers at entry";
  const auto back = model_voice(std::vector{pushes}, s.over[6], s.over[0], s.tyres);
  EXPECT_NEAR(back->worsens, helps->mends, 1e-12);
  EXPECT_FALSE(model_voice(std::vector{jumps}, s.over[0], s.over[6], s.tyres)) << "it knows nothing of jumps";
}

}  // namespace
}  // namespace lowkite
