// Rules as data, advice on scripted days with the order and the reasons that are expected, the score that the log
// keeps, setups to start from, and the quiz.
#include <gtest/gtest.h>

#include <cmath>

#include "core/advice/quiz.hpp"
#include "core/advice/race_day.hpp"
#include "core/advice/score.hpp"
#include "core/load/balance.hpp"
#include "tests/core/log/log_samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

const RuleBook& book() {
  static const RuleBook shipped = [] {
    auto read = load_rules(data_path("rules/rules.json"));
    if (!read) throw std::runtime_error(read.error().front().line());
    return *read;
  }();
  return shipped;
}

TEST(Rules, TheShippedOnesAreWholeAndBothSchoolsSpeak) {
  EXPECT_GE(book().rules.size(), 40u);
  EXPECT_GE(book().questions.size(), 6u);
  for (const Question& q : book().questions)
    for (const School& s : q.schools)
      EXPECT_TRUE(std::any_of(book().rules.begin(), book().rules.end(),
                              [&](const Rule& r) { return r.question == q.id && r.school == s.id; }))
          << q.id << ": " << s.id << " has no rule";
}

TEST(Rules, EveryRuleFindsAPartOnSomeShippedCar) {
  const std::vector<Car> cars = every_shipped_car();
  for (const Rule& rule : book().rules) {
    bool found = false;
    for (const Car& car : cars)
      for (const bool held_back : {false, true}) {
        if (found) break;
        CarSetup setup = kit_setup(car);
        if (held_back) setup.wanted_lock_deg = 15.0;
        // What the kit leaves out is in.
        for (const PartHandle i : car.adjusters.handles())
          if (held_back && car.adjusters[i].of_third_element()) setup.values[i] = {1.0, 1.0};
        found |= !steps_of(rule, car, setup).empty();
      }
    EXPECT_TRUE(found) << rule.id;
  }
}

// Followed to their end, each way from each spring: the wheel rate goes the way that is said, and roll stays.
TEST(Rules, OfTheThirdSpringMoveTheWheelRateAndLeaveRollAlone) {
  const Car car = shipped("godwit-ta");
  int tried = 0;
  for (const char* id : {"front_third_harder", "front_third_softer", "rear_third_harder", "rear_third_softer"}) {
    const Rule* rule = book().rule(id);
    ASSERT_TRUE(rule) << id;
    const PartHandle part = car.find_adjuster(std::string(name_of(rule->end)) + "_third_spring");
    for (double now = 0.0; now <= 3.0; now += 1.0) {
      CarSetup setup = kit_setup(car);
      setup.of(part) = {now, now};
      const auto rates = [&](const CarSetup& s) {
        const auto model = build_model(car, s);
        return LoadedCar::of(*model)->rates(rule->end);
      };
      for (const RuleStep& step : steps_of(*rule, car, setup)) {
        ASSERT_EQ(step.adjuster, part);
        CarSetup then = setup;
        then.of(part) = {step.to, step.to};
        const AxleRates was = rates(setup), is = rates(then);
        EXPECT_GT((is.wheel_n_per_mm - was.wheel_n_per_mm) * rule->part.way, 0.01) << id << " from " << now;
        EXPECT_NEAR(is.roll_n_mm_per_deg, was.roll_n_mm_per_deg, 0.02 * was.roll_n_mm_per_deg) << id;
        ++tried;
      }
    }
  }
  EXPECT_GE(tried, 10);
}

TEST(Rules, AreWrittenAndReadBackTheSame) {
  const std::string text = write_own_rules(book().rules);
  const auto again = read_rules(text, "mine.json", &book());
  ASSERT_TRUE(again) << again.error().front().line();
  EXPECT_EQ(write_own_rules(again->rules), text);
  EXPECT_TRUE(again->rules.front().own);
}

TEST(Rules, FaultsNameTheRuleAndWhatIsAllowed) {
  const auto fault = [](const std::string& rule) {
    const auto read =
        read_rules(R"({"format": "lowkite-rules", "version": 1, "rules": [)" + rule + "]}", "mine.json", &book());
    return read ? std::string("none") : read.error().front().line();
  };
  const std::string good =
      R"({"id": "mine", "name": "n", "end": "rear", "part": {"point": "link_inner", "way": "+"}, "step": 1,
          "helps": [{"phases": ["exit"], "sense": "rear_grip", "way": "+"}], "why": "w")";
  EXPECT_EQ(fault(good + "}"), "none");
  EXPECT_NE(fault(good + R"(, "question": "moon", "school": "x"})").find("moon"), std::string::npos);
  EXPECT_NE(fault(good + R"(, "question": "droop", "school": "x"})").find("other_end"), std::string::npos);
  EXPECT_NE(fault(good + R"(, "claims": [{"figure": "lap_time", "way": "-"}]})").find("lap_time"), std::string::npos);
  EXPECT_NE(fault(good + "}, " + good + "}").find("twice"), std::string::npos);
  std::string two = good;
  two.replace(two.find("\"way\": \"+\"}"), 11, "\"size\": \"oil_cst\", \"way\": \"+\"}");
  EXPECT_NE(fault(two + "}").find("exactly one"), std::string::npos);
  std::string wrong_way = good;
  wrong_way.replace(wrong_way.find("\"way\": \"+\""), 10, "\"way\": \"up\"");
  EXPECT_NE(fault(wrong_way + "}").find("way"), std::string::npos);
  EXPECT_NE(read_rules("{}", "mine.json").error().size(), 0u);
}

class AdviceTest : public testing::Test {
 protected:
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);

  Advices ask(std::vector<Feeling> feelings, Schools schools = {}, Surface surface = Surface::carpet) {
    AdviceAsk a;
    a.feelings = std::move(feelings);
    a.surface = surface;
    a.schools = std::move(schools);
    a.most = 100;
    auto r = advise(book(), car_, kit_, a);
    EXPECT_TRUE(r) << r.error();
    return *r;
  }
  static const Advice* find(const Advices& a, const std::string& id) {
    for (const Advice& x : a.list)
      if (x.rule->id == id || std::any_of(x.also.begin(), x.also.end(), [&](const Rule* r) { return r->id == id; }))
        return &x;
    return nullptr;
  }
};

const std::vector<Feeling> rear_steps_out{{Phase::exit, Sense::rear_grip, TurnWay::both, -2}};

TEST_F(AdviceTest, ARearThatStepsOutIsAnsweredByWhatGivesItGrip) {
  const Advices a = ask(rear_steps_out);
  ASSERT_FALSE(a.list.empty());
  for (const Advice& x : a.list) {
    EXPECT_GT(x.mends, 0.0);
    bool promised = false;
    for (const RuleHelp& h : x.rule->helps) promised |= h.sense == Sense::rear_grip && h.way > 0.0;
    EXPECT_TRUE(promised) << x.rule->id;
  }
  for (std::size_t i = 1; i < a.list.size(); ++i) EXPECT_GE(a.list[i - 1].score, a.list[i].score);
  EXPECT_TRUE(find(a, "rear_toe_more"));
  EXPECT_TRUE(find(a, "rear_bar_softer"));
  EXPECT_FALSE(find(a, "rear_bar_harder"));
}

TEST_F(AdviceTest, TheModelConfirmsOrContradictsWhatARuleClaims) {
  const Advices a = ask(rear_steps_out);
  const Advice* down = find(a, "rear_inner_link_down_bites");
  ASSERT_TRUE(down);
  ASSERT_EQ(down->claims.size(), 2u);
  // Common practice, no source: raising the inner ball lowers the roll centre and the camber gain; so the other way.
  EXPECT_EQ(down->confirmed(), 2);
  EXPECT_GT(*down->claims[1].after, *down->claims[1].before);
  // Its own word against the model's: a rule that claims the opposite is contradicted and comes after.
  RuleBook wrong = book();
  for (Rule& r : wrong.rules)
    if (r.id == "rear_inner_link_down_bites")
      for (RuleClaim& c : r.claims) c.way = -c.way;
  const auto b = advise(wrong, car_, kit_, {.feelings = rear_steps_out, .surface = Surface::carpet, .most = 100});
  const Advice* contradicted = find(*b, "rear_inner_link_down_bites");
  ASSERT_TRUE(contradicted);
  EXPECT_EQ(contradicted->contradicted(), 2);
  EXPECT_LT(contradicted->score, down->score);
}

TEST_F(AdviceTest, AStepIsARealOneWithItsReset) {
  const Advices a = ask(rear_steps_out);
  for (const Advice& x : a.list) {
    if (!x.step.adjuster) continue;
    const Adjuster& part = car_.adjusters[x.step.adjuster];
    EXPECT_TRUE(part.can_be(x.step.to)) << x.rule->id;
    EXPECT_NE(x.step.to, x.step.from);
    EXPECT_EQ(x.setup.of(x.step.adjuster).left, x.step.to);
    const auto before = figures_at(*build_model(car_, kit_), static_attitude(*build_model(car_, kit_)));
    const auto model = build_model(car_, x.setup);
    const auto after = figures_at(*model, static_attitude(*model));
    for (const End e : both_ends)
      EXPECT_NEAR(degrees(after->axle[at(e)].wheel[0].camber_rad), degrees(before->axle[at(e)].wheel[0].camber_rad),
                  0.15)
          << x.rule->id;
  }
}

TEST_F(AdviceTest, ToeIsSetByItsLinkOrByThePartThatHasIt) {
  // A solid rear hub has no link for toe: an insert of the arm's pin turns it in.
  const Advices a = ask(rear_steps_out);
  const Advice* toe = find(a, "rear_toe_more");
  ASSERT_TRUE(toe);
  ASSERT_TRUE(toe->step.adjuster);
  EXPECT_EQ(car_.adjusters[toe->step.adjuster].kind, AdjusterKind::insert);
  EXPECT_EQ(toe->confirmed(), 1);
  const Advices front = ask({{Phase::entry, Sense::front_grip, TurnWay::both, -2}});
  const Advice* out = find(front, "front_toe_out_turn_in");
  ASSERT_TRUE(out);
  EXPECT_NEAR(out->step.to - out->step.from, -0.5, 1e-9);
  const auto model = build_model(car_, out->setup);
  const auto f = figures_at(*model, static_attitude(*model));
  EXPECT_NEAR(degrees(f->axle[0].wheel[0].toe_rad), out->step.to, 0.2) << "within half of an eighth turn";
}

TEST_F(AdviceTest, TheChosenSchoolSpeaksAndTheOtherIsNamed) {
  const Advices both = ask(rear_steps_out);
  EXPECT_TRUE(find(both, "rear_inner_link_down_bites"));
  EXPECT_TRUE(find(both, "rear_inner_link_up_lever"));
  // Two schools, one part, two ways: each is told that the other is there.
  EXPECT_FALSE(find(both, "rear_inner_link_up_lever")->against.empty());
  const Advices one = ask(rear_steps_out, {{"inner_link", "gain"}});
  EXPECT_TRUE(find(one, "rear_inner_link_down_bites"));
  EXPECT_FALSE(find(one, "rear_inner_link_up_lever"));
  bool said = false;
  for (const PassedOver& p : one.passed) said |= p.rule->id == "rear_inner_link_up_lever";
  EXPECT_TRUE(said);
}

TEST_F(AdviceTest, SurfacesAndGripSortOut) {
  const std::vector<Feeling> wide{{Phase::entry, Sense::front_grip, TurnWay::both, -1}};
  EXPECT_FALSE(find(ask(wide, {}, Surface::loose_dirt), "front_toe_out_turn_in"));
  EXPECT_TRUE(find(ask(wide, {}, Surface::loose_dirt), "front_toe_in_entry"));
  EXPECT_FALSE(find(ask(wide, {}, Surface::carpet), "front_toe_in_entry"));
}

TEST_F(AdviceTest, TheRacersOwnRunsMoveARuleUpOrDown) {
  AdviceAsk a{.feelings = rear_steps_out, .surface = Surface::carpet, .most = 100};
  const auto fresh = advise(book(), car_, kit_, a);
  a.tallies["rear_bar_softer"] = {9, 10};
  a.tallies["rear_spring_softer"] = {0, 10};
  const auto tallied = advise(book(), car_, kit_, a);
  EXPECT_GT(find(*tallied, "rear_bar_softer")->score, find(*fresh, "rear_bar_softer")->score);
  EXPECT_LT(find(*tallied, "rear_spring_softer")->score, find(*fresh, "rear_spring_softer")->score);
}

TEST_F(AdviceTest, TheBoxIsLookedInto) {
  AdviceAsk a{.feelings = rear_steps_out, .surface = Surface::carpet, .most = 100};
  a.boxes = shims_in("");
  const auto empty = advise(book(), car_, kit_, a);
  const Advice* up = find(*empty, "rear_inner_link_up_lever");
  ASSERT_TRUE(up);
  EXPECT_FALSE(up->lacks.empty()) << "one millimetre more is not in an empty box";
  const Advice* down = find(*empty, "rear_inner_link_down_bites");
  ASSERT_TRUE(down);
  EXPECT_TRUE(down->lacks.empty() || down->step.to != 0.0) << "taking a shim out needs none";
}

TEST_F(AdviceTest, NothingFeltNothingSaid) {
  EXPECT_TRUE(ask({}).list.empty());
  EXPECT_TRUE(ask({{Phase::exit, Sense::rear_grip, TurnWay::both, 0}}).list.empty());
}

TEST_F(AdviceTest, EveryShippedCarCanBeAsked) {
  int asked = 0;
  for (const Car& car : every_shipped_car())
    for (const auto& [s, id, label, minus, plus] : senses()) {
      if (runs_a_share() && asked++ % 4 != 0) continue;
      const auto a = advise(book(), car, kit_setup(car),
                            {.feelings = {{Phase::middle, s, TurnWay::both, 1}, {Phase::bumps, s, TurnWay::both, -1}}});
      EXPECT_TRUE(a) << car.name;
    }
}

TEST_F(AdviceTest, EveryFeelingIsAnsweredAndWhatHasOneSideIsFeltOnOne) {
  for (const SenseWords& w : senses())
    for (const int amount : {-1, 1}) {
      if (amount < 0 && w.minus.empty()) continue;
      std::vector<Feeling> felt;
      for (const Phase p : {Phase::entry, Phase::middle, Phase::exit, Phase::bumps, Phase::jumps})
        felt.push_back({p, w.sense, TurnWay::both, amount});
      int answers = 0;
      for (const Car& car : {touring(), buggy()}) {
        const auto a = advise(book(), car, kit_setup(car), {.feelings = felt, .most = 100});
        ASSERT_TRUE(a);
        answers += static_cast<int>(a->list.size());
      }
      EXPECT_GT(answers, 0) << w.label << " " << (amount < 0 ? w.minus : w.plus);
    }
  for (const char* id : {"tip", "lift", "fade"}) EXPECT_TRUE(words_of(*sense_of_id(id)).minus.empty()) << id;
}

TEST_F(AdviceTest, AnOwnRuleReachesEveryPartOfEveryCar) {
  int reached = 0;
  int told = 0;
  for (const Car& car : every_shipped_car())
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      if (a.range() && a.range()->link) continue;
      Rule rule;
      take_in_hand(rule, car, i);
      EXPECT_EQ(rule.end, a.end);
      EXPECT_GT(rule.step, 0.0);
      const std::string here = car.id + ": " + a.id;
      if (rule.part.kind == RulePart::Kind::told) {
        EXPECT_EQ(rule.part.told, a.name);
        EXPECT_TRUE(a.only_kept() || a.steering || !a.moves_load()) << here << " moves something that a rule can name";
        ++told;
        continue;
      }
      // Up or down, one of the steps that the rule means is a step of this part, of the size that it says.
      bool meant = false;
      for (const double way : {1.0, -1.0}) {
        rule.part.way = way;
        for (const RuleStep& s : steps_of(rule, car, kit_setup(car)))
          meant = meant || (s.adjuster == i && std::abs(std::abs(s.amount) - rule.step) < 1e-9);
      }
      EXPECT_TRUE(meant) << here;
      rule.id = "mine";
      rule.name = rule.why = "n";
      rule.helps = {{{Phase::exit}, Sense::rear_grip, 1.0}};
      const auto again = read_rules(write_own_rules({rule}), "mine.json", &book());
      ASSERT_TRUE(again) << here << again.error().front().line();
      EXPECT_EQ(again->rules.front().part.kind, rule.part.kind);
      ++reached;
    }
  EXPECT_GT(reached, 100);
  EXPECT_LT(told, reached / 4);
}

TEST_F(AdviceTest, OneStepIsOneRowHoweverManyRulesSayIt) {
  int joined = 0;
  for (const SenseWords& w : senses())
    for (const int amount : {-2, 2}) {
      const Advices a = ask({{Phase::middle, w.sense, TurnWay::both, amount}}, {}, Surface::unknown);
      for (std::size_t i = 0; i < a.list.size(); ++i) {
        const Advice& x = a.list[i];
        joined += static_cast<int>(x.also.size());
        for (const Rule* r : x.also) EXPECT_NE(r, x.rule);
        if (!x.step.adjuster) continue;
        for (std::size_t k = i + 1; k < a.list.size(); ++k)
          EXPECT_FALSE(a.list[k].step.adjuster == x.step.adjuster && a.list[k].step.to == x.step.to)
              << x.rule->id << " and " << a.list[k].rule->id;
      }
    }
  EXPECT_GT(joined, 3);
}

TEST_F(AdviceTest, WhatIsOnlyToldIsNotTriedAndSaysSo) {
  const Advices a = ask({{Phase::middle, Sense::fade, TurnWay::both, 1}}, {}, Surface::asphalt);
  const Advice* arms = find(a, "arms_reinforced");
  ASSERT_TRUE(arms);
  EXPECT_EQ(arms->rule->part.kind, RulePart::Kind::told);
  EXPECT_EQ(arms->setup, kit_) << "nothing in the setup stands for it";
  EXPECT_TRUE(arms->claims.empty());
  EXPECT_TRUE(arms->alignment.steps.empty());
  const auto read = read_rules(R"({"format": "lowkite-rules", "version": 1, "rules": [{"id": "mine", "name": "n",
      "end": "rear", "part": {"told": "softer arms", "way": "+"}, "step": 1, "claims": [{"figure": "toe", "way": "+"}],
      "helps": [{"phases": ["exit"], "sense": "rear_grip", "way": "+"}], "why": "w"}]})",
                               "mine.json", &book());
  ASSERT_FALSE(read);
  EXPECT_NE(read.error().front().line().find("only told"), std::string::npos);
}

TEST_F(AdviceTest, LessFullLockIsLessOnTheInsideWheelOnEveryCar) {
  const Rule& less = *book().rule("less_full_lock");
  const Rule& more = *book().rule("more_full_lock");
  int tried = 0;
  for (const Car& car : every_shipped_car()) {
    CarSetup setup = kit_setup(car);
    setup.wanted_lock_deg.reset();
    EXPECT_TRUE(steps_of(more, car, setup).empty()) << car.id << ": there is no more than all";
    const auto steps = steps_of(less, car, setup);
    if (steps.empty()) continue;
    const auto a = try_rule(less, steps.front(), car, setup, {});
    ASSERT_TRUE(a);
    EXPECT_EQ(a->claims.front().verdict, ClaimVerdict::confirmed) << car.id;
    const auto after = evaluate(car, a->setup, {}, coarse_curve);
    const FigureSpec& inside = *find_figure("lock_inside");
    EXPECT_NEAR(*inside.read(after->source, End::front, Side::left), steps.front().to, 0.05) << car.id;
    const auto back = steps_of(more, car, a->setup);
    ASSERT_EQ(back.size(), 1u);
    EXPECT_NEAR(back.front().to, steps.front().from, 1e-9) << "there and back";
    ++tried;
  }
  EXPECT_GE(tried, 4);
}

TEST(Rules, ClaimWhatTheModelFindsOnMostCars) {
  // Each claim of each rule, by its nearest step, on every car that has a part for it.
  std::map<std::string, std::pair<int, int>> right_and_wrong;
  std::vector<Car> cars = every_shipped_car();
  if (runs_a_share()) cars.resize(1);
  for (const Car& car : cars)
    for (const Rule& rule : book().rules) {
      const CarSetup kit = kit_setup(car);
      const auto steps = steps_of(rule, car, kit);
      if (steps.empty() || rule.claims.empty()) continue;
      const auto a = try_rule(rule, steps.front(), car, kit, typical(rule.helps.front().phases.front()));
      if (!a) continue;
      for (const TriedClaim& c : a->claims) {
        auto& [right, wrong] = right_and_wrong[rule.id + ": " + std::string(c.claim.figure->id)];
        right += c.verdict == ClaimVerdict::confirmed;
        wrong += c.verdict == ClaimVerdict::contradicted;
      }
    }
  int claims = 0;
  for (const auto& [claim, n] : right_and_wrong) {
    // A rule of thumb may be wrong on a car: that is what it is tried for. It is not to be wrong on most.
    EXPECT_LE(n.second, n.first) << claim;
    claims += n.first + n.second > 0;
  }
  EXPECT_GT(claims, runs_a_share() ? 20 : 60);
}

class Season : public testing::Test {
 protected:
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);

  LoggedDay day(const std::string& date, std::vector<std::pair<CarSetup, std::vector<Feeling>>> runs,
                std::vector<Verdict> verdicts = {}) {
    LoggedDay d{sample_day(date), {}};
    std::int64_t id = 100 * static_cast<std::int64_t>(counter_++);
    for (std::size_t i = 0; i < runs.size(); ++i) {
      RunRecord r = sample_run(1, "1" + std::to_string(i) + ":00", car_, runs[i].first);
      r.run.id = ++id;
      r.run.feelings = runs[i].second;
      if (i < verdicts.size()) r.run.verdict = verdicts[i];
      d.runs.push_back(std::move(r));
    }
    return d;
  }
  CarSetup with(const char* part, double value) {
    CarSetup s = kit_;
    s.of(car_.find_adjuster(part)) = {value, value};
    return s;
  }
  int counter_ = 1;
};

TEST_F(Season, KeepsScoreOfOneThingAtATime) {
  const std::vector<Feeling> loose{{Phase::exit, Sense::rear_grip, TurnWay::both, -2}};
  const std::vector<Feeling> better{{Phase::exit, Sense::rear_grip, TurnWay::both, -1}};
  // Twice a softer rear bar helped, once it did not.
  const std::vector<LoggedDay> days{day("2026-10-01", {{kit_, loose}, {with("rear_bar", 0), better}}),
                                    day("2026-10-08", {{kit_, loose}, {with("rear_bar", 0), better}}),
                                    day("2026-10-15", {{kit_, loose}, {with("rear_bar", 0), loose}})};
  const ScoreBook s = keep_score(days, book(), car_);
  ASSERT_TRUE(s.rules.contains("rear_bar_softer"));
  EXPECT_EQ(s.rules.at("rear_bar_softer").trials, 3);
  EXPECT_EQ(s.rules.at("rear_bar_softer").agreed, 2);
  const Interval share = s.rules.at("rear_bar_softer").share();
  EXPECT_NEAR(share.estimate, 3.0 / 5.0, 1e-12);
  EXPECT_GT(share.high - share.low, 0.4) << "three trials leave much open";
  // The same change is the harder bar's rule turned round.
  EXPECT_EQ(s.rules.at("rear_bar_harder").trials, 3);
  for (const Trial& t : s.trials)
    if (t.rule == "rear_bar_harder") {
      EXPECT_TRUE(t.reversed);
    }
}

TEST_F(Season, TwoChangesAtOnceAreNoTrial) {
  CarSetup two = with("rear_bar", 0);
  two.of(car_.find_adjuster("front_spring")) = {2.0, 2.0};
  const ScoreBook s = keep_score({day("2026-10-01", {{kit_, {{Phase::exit, Sense::rear_grip, TurnWay::both, -2}}},
                                                     {two, {{Phase::exit, Sense::rear_grip, TurnWay::both, 0}}}})},
                                 book(), car_);
  EXPECT_TRUE(s.trials.empty());
}

TEST_F(Season, TurnbucklesThatTheResetTurnedDoNotCount) {
  CarSetup changed = with("rear_link_inner_shims", 1.0);
  changed.of(car_.find_adjuster("rear_camber_link")) = {0.5, 0.5};
  const ScoreBook s = keep_score({day("2026-10-01", {{kit_, {{Phase::exit, Sense::rear_grip, TurnWay::both, -2}}},
                                                     {changed, {{Phase::exit, Sense::rear_grip, TurnWay::both, 0}}}})},
                                 book(), car_);
  ASSERT_TRUE(s.rules.contains("rear_inner_link_down_bites"));
  EXPECT_EQ(s.rules.at("rear_inner_link_down_bites").agreed, 1);
  // Schools keep score as well, and the other one lost this round.
  EXPECT_GE(s.schools.at("inner_link/gain").agreed, 1);
  EXPECT_EQ(s.rules.at("rear_inner_link_up_lever").agreed, 0);
}

TEST_F(Season, WithoutFeelingsTheRacersWordDecides) {
  const ScoreBook s = keep_score(
      {day("2026-10-01", {{kit_, {}}, {with("rear_bar", 0), {}}}, {Verdict::none, Verdict::worse})}, book(), car_);
  ASSERT_EQ(s.rules.at("rear_bar_softer").trials, 1);
  EXPECT_EQ(s.rules.at("rear_bar_softer").agreed, 0);
  EXPECT_TRUE(s.trials[0].by_verdict);
}

TEST_F(Season, AStartComesFromLikeDaysAndTheKitIsTheOtherSchool) {
  LoggedDay like = day("2026-10-01", {{with("rear_bar", 0), {}}, {with("rear_bar", 2), {}}});
  like.runs[0].laps = sample_laps(12, 14.5, 1, 0.05);
  like.runs[1].laps = sample_laps(12, 15.2, 2, 0.05);
  LoggedDay dirt = day("2026-09-01", {{with("front_spring", 0), {}}});
  dirt.day.surface = Surface::loose_dirt;
  const auto found = starting_setups({like, dirt}, car_, {"Old Tannery hall", Surface::carpet, Grip::high, 21.0});
  ASSERT_EQ(found.size(), 3u);
  EXPECT_EQ(found[0].from, StartProposal::From::log);
  EXPECT_EQ(found[0].setup.of(car_.find_adjuster("rear_bar")).left, 0.0) << "the quicker one first";
  EXPECT_GT(found[1].slower, 0.03);
  EXPECT_EQ(found.back().from, StartProposal::From::kit_first);
  for (const StartProposal& p : found) EXPECT_FALSE(p.reasons.empty());
  const auto unknown = starting_setups({like}, car_, {});
  ASSERT_EQ(unknown.size(), 1u);
  EXPECT_EQ(unknown[0].from, StartProposal::From::kit_first);
}

TEST_F(Season, ThePackingListHoldsWhatThePlansNeed) {
  CarSetup hard = with("front_spring", 2);
  hard.name = "hard";
  hard.of(car_.find_adjuster("rear_link_inner_shims")) = {3.0, 3.0};
  CarSetup higher = with("rear_link_inner_shims", 4.0);
  higher.name = "higher";
  const auto list = packing_list(car_, kit_, {hard, higher});
  const auto find = [&](const std::string& what) {
    return std::find_if(list.begin(), list.end(), [&](const PackLine& l) { return l.what == what; });
  };
  ASSERT_NE(find("Front: Spring, hard"), list.end());
  EXPECT_EQ(find("Front: Spring, hard")->count, 2);
  EXPECT_EQ(find("Front: Spring, hard")->why, std::vector<std::string>{"hard"});
  // From 2 to 3 mm: one of 1 mm more on each side; to 4 mm: another of 2 mm.
  ASSERT_NE(find("shim 1 mm"), list.end());
  EXPECT_EQ(find("shim 1 mm")->count, 2);
  ASSERT_NE(find("shim 2 mm"), list.end());
  EXPECT_EQ(find("shim 2 mm")->count, 2);
  CarSetup wire = kit_;
  CarSetup oil = kit_;
  const auto other = [&](CarSetup& setup, const char* part) {
    Setting& s = setup.of(car_.find_adjuster(part));
    s.left = s.right = s.left == 0.0 ? 1.0 : 0.0;
  };
  other(wire, "front_bar");
  other(oil, "front_oil");
  for (const CarSetup& plan : {wire, oil}) {
    const auto packed = packing_list(car_, kit_, {plan});
    ASSERT_EQ(packed.size(), 1u);
    EXPECT_EQ(packed[0].count, 1) << packed[0].what << ": a bar's wire is one piece, oil is one bottle";
  }
  EXPECT_TRUE(packing_list(car_, kit_, {kit_}).empty());
}

TEST(Quiz, AsksWhatTheModelAnswers) {
  const Car car = touring();
  const CarSetup kit = kit_setup(car);
  int moved = 0;
  for (std::uint32_t seed = 1; seed <= 12; ++seed) {
    const auto q = ask_about(car, kit, seed);
    ASSERT_TRUE(q) << seed;
    const auto again = ask_about(car, kit, seed);
    EXPECT_EQ(q->adjuster, again->adjuster);
    EXPECT_EQ(q->figure, again->figure);
    EXPECT_FALSE(car.adjusters[q->adjuster].threaded());
    const auto after = evaluate(car, q->setup, {}, 9);
    EXPECT_NEAR(*q->figure->read(after->source, q->end, Side::left), q->after, 1e-9);
    moved += q->answer() != Guess::stays;
  }
  EXPECT_GT(moved, 5);
}

}  // namespace
}  // namespace lowkite::test
