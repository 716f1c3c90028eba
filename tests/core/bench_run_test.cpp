// The bench run: its order, its targets, its verdicts, the car as measured, and its file.
#include "core/bench/verdict.hpp"

#include "core/bench/club_limits.hpp"

#include <gtest/gtest.h>

#include "core/io/bench_file.hpp"
#include "core/io/json_document.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

BenchRun fresh(const Car& car, BenchList list = BenchList::full) {
  return start_run(car, kit_setup(car), list, {}, "2026-11-23T18:00:00");
}

const BenchStep& step(const std::vector<BenchStep>& all, const std::string& id) {
  for (const BenchStep& s : all)
    if (s.id == id) return s;
  throw std::logic_error("no step " + id);
}

bool has(const std::vector<BenchStep>& all, const std::string& id) {
  return std::any_of(all.begin(), all.end(), [&](const BenchStep& s) { return s.id == id; });
}

double target(const Car& car, const BenchRun& run, const std::string& id, Side side = Side::left) {
  const auto v = judge(car, run, step(steps_of(car, run), id));
  return *v->side[at(side)].target;
}

// Common practice, no source: lengths before angles, ride height before droop, camber before toe, end points after
// both.
TEST(TheOrderOfWork, IsTheBenchs) {
  const auto steps = bench_steps(test::touring(), BenchList::full);
  const auto place = [&](const std::string& id) {
    for (std::size_t i = 0; i < steps.size(); ++i)
      if (steps[i].id == id) return static_cast<int>(i);
    ADD_FAILURE() << id;
    return -1;
  };
  const std::vector<std::string> order{
      "free",      "shock_pair:front", "links:front:tie_rod", "ride_height:front", "down_stop:rear", "camber:front",
      "toe:front", "lock:front",       "bar:front",           "weight:rear",       "final"};
  for (std::size_t i = 1; i < order.size(); ++i) EXPECT_LT(place(order[i - 1]), place(order[i])) << order[i];
}

TEST(StepsThatDoNotApply, AreLeftOut) {
  const auto pan = bench_steps(test::shipped("sanderling-12"), BenchList::full);
  EXPECT_FALSE(has(pan, "down_stop:front"));
  EXPECT_FALSE(has(pan, "bar:front"));
  EXPECT_FALSE(has(pan, "shock_pair:rear"));
  EXPECT_FALSE(has(pan, "square")) << "a servo saver has no drag link";
  EXPECT_TRUE(has(pan, "toe:front"));
  EXPECT_TRUE(has(bench_steps(test::shipped("godwit-ta"), BenchList::full), "links:rear:toe_link"));
}

TEST(ShortLists, HoldWhatACrashOrARoundMayHaveMoved) {
  const Car car = test::touring();
  const auto full = bench_steps(car, BenchList::full);
  for (const BenchList list : {BenchList::after_crash, BenchList::between_rounds}) {
    const auto some = bench_steps(car, list);
    EXPECT_LT(some.size(), full.size());
    EXPECT_TRUE(has(some, "camber:front"));
    EXPECT_TRUE(has(some, "links:front:tie_rod")) << "links drift";
    EXPECT_FALSE(has(some, "play"));
  }
}

// Common practice, no source: apart, alike, filled, bled, rebound, felt; each axle's own.
TEST(BuildingTheShocks, GoesAxleByAxleInTheOrderOfTheBench) {
  for (const Car& car : test::every_shipped_car()) {
    const auto steps = bench_steps(car, BenchList::shocks);
    const bool front = car.axle(End::front).attachments >> (attachment::shock_upper - attachment::first) & 1u;
    EXPECT_EQ(has(steps, "build_fill:front"), front && car.id != "sanderling-12") << car.id;
    EXPECT_TRUE(has(steps, "build_fill:rear")) << car.id;
    for (const BenchStep& s : steps) {
      ASSERT_TRUE(s.end) << s.id;
      EXPECT_FALSE(has(bench_steps(car, BenchList::full), s.id) && s.spec->building) << s.id;
    }
  }
  const auto steps = bench_steps(test::touring(), BenchList::shocks);
  std::vector<std::string_view> order;
  for (const BenchStep& s : steps)
    if (s.end == End::front) order.push_back(s.spec->id);
  EXPECT_EQ(order, (std::vector<std::string_view>{"build_open", "build_parts", "build_exposed", "build_fill",
                                                  "build_bleed", "build_rebound", "build_alike", "shock_pair"}));
}

// Steps name the parts that the setup has there, and none of the other axle.
TEST(Steps, NameTheirParts) {
  const Car car = test::touring();
  const auto named = [&](const std::string& id) {
    std::vector<std::string> ids;
    for (const PartHandle i : parts_named(car, step(every_step(car), id))) ids.push_back(car.adjusters[i].id);
    return ids;
  };
  using Ids = std::vector<std::string>;
  EXPECT_EQ(named("caster"), (Ids{"front_caster_block"}));
  EXPECT_EQ(named("bar_flat:rear"), (Ids{"rear_bar"}));
  EXPECT_EQ(named("build_fill:front"), (Ids{"front_oil"}));
  const Ids hardware = named("build_parts:rear");
  for (const char* id : {"rear_piston", "rear_spring", "rear_shock_spacers", "rear_shock_eyelet"})
    EXPECT_TRUE(std::find(hardware.begin(), hardware.end(), id) != hardware.end()) << id;
  for (const Car& other : test::every_shipped_car())
    for (const BenchStep& s : every_step(other))
      for (const PartHandle i : parts_named(other, s))
        if (s.end) {
          EXPECT_EQ(other.adjusters[i].end, *s.end) << other.id << " " << s.id;
        }
}

TEST(BarSteps, AreThereForEveryBarAndNoOther) {
  for (const Car& car : test::every_shipped_car())
    for (const End end : both_ends)
      for (const char* id : {"bar_flat", "bar_free", "bar_links"})
        EXPECT_EQ(has(bench_steps(car, BenchList::full), std::string(id) + ":" + std::string(name_of(end))),
                  car.axle(end).bar.has_value())
            << car.id << " " << id;
}

// Read on the pressed wheel as on a car that stands that low.
TEST(ThePressedToe, IsThatOfACarOnItsStop) {
  int compared = 0;
  for (const Car& car : test::every_shipped_car()) {
    const auto v = evaluate(car, kit_setup(car), {}, 5);
    for (const Gauge& g : gauges_of(car)) {
      if (g.kind != &gauge::toe_pressed) continue;
      EXPECT_EQ(g.end, End::rear);
      for (const Side side : both_sides) {
        const double mm = v->source.travel.corner[at(g.end)][at(side)].stops.bump.from_ride_height_mm;
        // Lowered flat, without roll: a ride height less by the wheel's travel to its stop.
        Attitude low = static_attitude(v->model);
        for (const End end : both_ends) low.ride_height_mm[at(end)] -= mm;
        const auto pose = pose_car(v->model, low);
        if (!pose) continue;
        const CarFigures figures = read_car(v->model, *pose, low);
        const auto reads = reading(g, v->model, v->source, {}, side);
        ASSERT_TRUE(reads);
        EXPECT_NEAR(*reads, degrees(figures.axle[at(g.end)].wheel[at(side)].toe_rad), 0.02) << car.id;
        ++compared;
      }
    }
  }
  EXPECT_GE(compared, 4);
}

TEST(EveryStep, SaysWhyAndHowAndWarnsWhereItCanHurt) {
  for (const StepSpec& s : step_specs()) {
    EXPECT_FALSE(s.why.empty()) << s.id;
    EXPECT_FALSE(s.how.empty()) << s.id;
  }
  const auto caution = [](std::string_view id) {
    for (const StepSpec& s : step_specs())
      if (s.id == id) return std::string(s.caution);
    return std::string();
  };
  EXPECT_NE(caution("lock").find("Battery out"), std::string::npos);
  EXPECT_NE(caution("shock_pair").find("Gloves"), std::string::npos);
  EXPECT_NE(caution("bar").find("Eye protection"), std::string::npos);
}

TEST(TheTarget, IsWhatTheModelGivesForThisSetup) {
  const Car car = test::touring();
  const BenchRun run = fresh(car);
  const auto v = evaluate(car, run.planned, {}, 5);
  for (const BenchStep& s : steps_of(car, run)) {
    if (!s.gauge) continue;
    for (const Side side : both_sides)
      EXPECT_NEAR(target(car, run, s.id, side), *reading(*s.gauge, v->model, v->source, {}, side), 1e-9) << s.id;
  }
}

TEST(TheTarget, FollowsTheRealRideHeight) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  const double before = target(car, run, "camber:front");
  run.records["ride_height:front"].readings = {std::vector<double>{4.4}, std::vector<double>{4.4}};
  const double lower = target(car, run, "camber:front");
  EXPECT_LT(lower, before - 0.1) << "a lower car leans its wheels in further";
  test::CarSetup s = run.planned;
  s.ride_height_mm[0] = 4.4;
  const auto v = evaluate(car, s, {}, 5);
  EXPECT_NEAR(lower, degrees(v->source.standing.axle[0].wheel[0].camber_rad), 1e-9);
  EXPECT_NEAR(target(car, run, "ride_height:front"), car.kit_ride_height_mm[0], 1e-12) << "its own target stays";
}

TEST(WhatItShouldReadAsItIs, FollowsTheMeasuredLink) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  const double link = target(car, run, "links:front:camber_link");
  run.records["links:front:camber_link"].readings = {std::vector<double>{link + 0.5}, std::vector<double>{link}};
  const auto v = judge(car, run, step(steps_of(car, run), "camber:front"));
  ASSERT_TRUE(v);
  EXPECT_GT(*v->side[0].expected, *v->side[0].target + 0.5) << "a longer camber link pushes the top out";
  EXPECT_NEAR(*v->side[1].expected, *v->side[1].target, 1e-9);
}

TEST(TheVerdict, GradesEachSideAndThePair) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  const double wanted = target(car, run, "camber:front");
  const BenchStep s = step(steps_of(car, run), "camber:front");
  run.records[s.id].readings = {std::vector<double>{wanted + 0.1}, std::vector<double>{wanted - 0.1}};
  auto v = judge(car, run, s);
  EXPECT_TRUE(v->good());
  EXPECT_TRUE(v->even);
  run.records[s.id].readings = {std::vector<double>{wanted + 0.1}, std::vector<double>{wanted - 0.9}};
  v = judge(car, run, s);
  EXPECT_FALSE(v->good());
  EXPECT_FALSE(v->even);
  EXPECT_NEAR(*v->apart, 1.0, 1e-9);
  EXPECT_EQ(v->side[1].answer->verdict, GaugeAnswer::Verdict::turn);
  EXPECT_GT(v->side[1].answer->change, 0.0) << "lengthen: too much negative camber";
}

TEST(RepeatedReadings, AreAveragedWithTheirSpread) {
  const auto a = average({10.0, 10.4, 10.1});
  ASSERT_TRUE(a);
  EXPECT_NEAR(a->mean, 10.0 + 0.5 / 3.0, 1e-12);
  EXPECT_NEAR(a->spread, 0.4, 1e-12);
  EXPECT_EQ(a->count, 3);
  EXPECT_FALSE(average({}));
}

// NIST Statistical Reference Datasets, "Michelso" (from memory): here only that a mean is a mean; on a short list whose
// mean is exact by hand.
TEST(TheMean, IsExactWhereItCanBe) {
  EXPECT_EQ(average({1.0, 2.0, 3.0, 4.0})->mean, 2.5);
}

TEST(TheCarAsMeasured, ReadsAsItWasRead) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  const std::map<std::string, std::pair<double, double>> off{{"ride_height:front", {-0.3, -0.3}},
                                                             {"links:front:camber_link", {0.4, -0.2}},
                                                             {"links:front:tie_rod", {0.1, 0.0}},
                                                             {"links:rear:camber_link", {0.0, 0.3}},
                                                             {"down_stop:front", {0.4, 0.0}}};
  for (const auto& [id, by] : off)
    run.records[id].readings = {std::vector<double>{target(car, run, id) + by.first},
                                std::vector<double>{target(car, run, id, Side::right) + by.second}};
  const test::CarSetup measured = as_measured(car, run);
  const auto v = evaluate(car, measured, {}, 5);
  ASSERT_TRUE(v);
  for (const auto& [id, by] : off) {
    const BenchStep s = step(steps_of(car, run), id);
    for (const Side side : both_sides)
      EXPECT_NEAR(*reading(*s.gauge, v->model, v->source, {}, side), run.records[id].readings[at(side)][0], 1e-5) << id;
  }
}

TEST(TheCarAsMeasured, BelievesACaliperBeforeAnAngle) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  const double link = target(car, run, "links:front:camber_link");
  run.records["links:front:camber_link"].readings = {std::vector<double>{link}, std::vector<double>{link}};
  run.records["camber:front"].readings = {std::vector<double>{-3.0}, std::vector<double>{-3.0}};
  EXPECT_EQ(as_measured(car, run), run.planned);
  run.records.erase("links:front:camber_link");
  EXPECT_NE(as_measured(car, run), run.planned);
  run.records["camber:front"].state = StepState::skipped;
  EXPECT_EQ(as_measured(car, run), run.planned) << "a skipped step is not believed";
}

TEST(SideEffects, SayWhatTurningALinkMovesBesides) {
  const Car car = test::touring();
  const BenchRun run = fresh(car);
  const BenchStep s = step(steps_of(car, run), "camber:front");
  const auto a = answer(car, run.planned, *s.gauge, Side::left, -2.5, {});
  ASSERT_TRUE(a);
  const auto effects = side_effects(car, run.planned, *s.gauge, Side::left, *a, 20);
  ASSERT_FALSE(effects.empty());
  bool toe = false;
  for (const SideEffect& e : effects) {
    EXPECT_NE(e.figure->id, "camber") << "what is being set is no side effect";
    toe = toe || e.figure->id == "toe";
  }
  EXPECT_TRUE(toe) << "toe after camber";
}

TEST(ARun, ReadsBackEqual) {
  for (const Car& car : test::every_shipped_car()) {
    BenchRun run = fresh(car, BenchList::after_crash);
    run.bench.caliper = Caliper::over;
    run.bench.slop_mm = 0.2;
    run.records[run.order[1]] = {
        {std::vector<double>{1.25, 1.5}, std::vector<double>{}}, StepState::measured, "", "2026-11-23T18:05:00"};
    run.records[run.order[2]] = {{}, StepState::skipped, "no gauge \"here\"", "2026-11-23T18:06:00"};
    run.records[run.order[1]].earlier.push_back(
        {{std::vector<double>{1.75}, std::vector<double>{}}, "2026-11-23T18:04"});
    run.records[run.order[1]].moved_by = run.order[3];
    run.records[run.order[1]].moved_to[0] = 1.3;
    run.records[run.order[1]].sure[1] = true;
    run.records[run.order[4]].state = StepState::left;
    run.records[run.order[5]].state = StepState::unmeasured;
    run.standing.ride_height_mm[1] = 5.25;
    run.standing.parts[PartHandle(0)][0] = 0.25;
    run.turns.push_back({run.order[1], "2026-11-23T18:05:00", {{car.adjusters.front().id, Side::right, -0.5}}});
    run.bench.droop_from = DroopFrom::line;
    run.bench.droop_line_mm = 4.0;
    run.bench.ride_points_apart_mm = 60.0;
    std::swap(run.order[0], run.order[3]);
    const auto back = read_run(write_run(run, car), "run.json", car);
    ASSERT_TRUE(back) << back.error().front().line();
    EXPECT_EQ(*back, run) << car.id;
    EXPECT_EQ(*car_id_of_run(write_run(run, car), "run.json"), car.id);
  }
}

// A file as the first version wrote it: one mark for all that was ticked, droop against the bench.
TEST(ARunOfTheFirstVersion, IsReadWithItsMarksToldApart) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  run.records["camber:front"].readings = {std::vector<double>{-1.0}, std::vector<double>{-1.0}};
  for (const char* id : {"camber:front", "toe:front", "free"}) run.records[id].state = StepState::done;
  Json j = Json::parse(write_run(run, car));
  j["version"] = 1;
  for (const char* later : {"droop_from", "droop_line_mm", "ride_points_apart_mm"}) j["bench"].erase(later);
  const auto back = read_run(j.dump(), "old.kite-bench.json", car);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->records.at("camber:front").state, StepState::measured);
  EXPECT_EQ(back->records.at("toe:front").state, StepState::unmeasured) << "ticked, but nothing was read";
  EXPECT_EQ(back->records.at("free").state, StepState::done) << "there was nothing to read";
  EXPECT_EQ(back->bench.droop_from, DroopFrom::line);
  EXPECT_EQ(back->bench.droop_line_mm, 0.0);
}

TEST(ABrokenRun, IsRefusedWithPlaceAndRemedy) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  run.records["camber:front"].readings = {std::vector<double>{-1.0}, std::vector<double>{-1.0}};
  const std::string good = write_run(run, car);
  const auto refused = [&](const std::function<void(Json&)>& spoil, const char* said) {
    Json j = Json::parse(good);
    spoil(j);
    const auto back = read_run(j.dump(), "broken.kite-bench.json", car);
    ASSERT_FALSE(back) << said;
    std::string all;
    for (const Fault& f : back.error()) all += f.line() + "\n";
    EXPECT_NE(all.find(said), std::string::npos) << all;
  };
  refused([](Json& j) { j["version"] = 9; }, "newer");
  refused([](Json& j) { j["list"] = "some"; }, "list");
  refused([](Json& j) { j["car"] = "other"; }, "other");
  refused([](Json& j) { j["bench"]["caliper"] = "sideways"; }, "caliper");
  refused([](Json& j) { j["records"]["camber:front"]["left"][0] = "minus one"; }, "camber:front");
  refused([](Json& j) { j["records"]["camber:front"]["state"] = "maybe"; }, "state");
  refused([](Json& j) { j["planned"]["values"]["front_link_inner_shims"] = 77; }, "planned");
  refused([](Json& j) { j.erase("order"); }, "order");
  for (std::size_t cut = 1; cut < good.size(); cut += 61) EXPECT_FALSE(read_run(good.substr(0, cut), "cut.json", car));
}

TEST(StepsThatThisProgramDoesNotKnow, ArePassedOverAndKept) {
  const Car car = test::touring();
  BenchRun run = fresh(car);
  run.order.insert(run.order.begin() + 2, "polish:body");
  const auto steps = steps_of(car, run);
  EXPECT_FALSE(has(steps, "polish:body"));
  const auto back = read_run(write_run(run, car), "run.json", car);
  ASSERT_TRUE(back);
  EXPECT_EQ(back->order[2], "polish:body");
}

TEST(ClubLimits, AreMeasuredAtTheTyresEdgesAndUnderThePlate) {
  const Car car = test::touring();
  const auto model = build_model(car, kit_setup(car));
  const auto pose = pose_car(*model, static_attitude(*model));
  const CarFigures f = read_car(*model, *pose, static_attitude(*model));
  for (const End e : both_ends) {
    const double width = overall_width_mm(*model, *pose, e);
    // Wider than the wheel centres by about a tyre, toe and camber making a little more of it.
    const double centres = f.axle[at(e)].wheel[0].wheel_centre.y() + f.axle[at(e)].wheel[1].wheel_centre.y();
    EXPECT_GT(width, centres + car.axle(e).tyre.width_mm - 0.1);
    EXPECT_LT(width, centres + car.axle(e).tyre.width_mm + 6.0);
  }
  EXPECT_TRUE(broken_limits(*model, *pose, {}).empty());
  const auto broken =
      broken_limits(*model, *pose, {.least_mass_g = 1351, .least_ride_height_mm = 5.5, .most_width_mm = 300});
  ASSERT_EQ(broken.size(), 2u);
  EXPECT_EQ(broken[0].kind, LimitKind::mass);
  EXPECT_EQ(broken[1].kind, LimitKind::ride_height);
  EXPECT_EQ(broken[1].end, End::front) << "5.4 mm; the rear stands at 5.6";
}

TEST(FourScales, GiveCrossLeftAndFront) {  // arithmetic by hand
  BenchRun run = fresh(test::touring());
  EXPECT_FALSE(weight_summary(run));
  run.records["weight:front"].readings = {std::vector<double>{340.0, 344.0}, std::vector<double>{330.0}};
  EXPECT_FALSE(weight_summary(run)) << "the rear is not read yet";
  run.records["weight:rear"].readings = {std::vector<double>{335.0}, std::vector<double>{345.0}};
  const auto w = weight_summary(run);
  ASSERT_TRUE(w);
  EXPECT_NEAR(w->total_g, 1352.0, 1e-9);
  EXPECT_NEAR(w->cross_percent, 100.0 * (342.0 + 345.0) / 1352.0, 1e-9);
  EXPECT_NEAR(w->left_percent, 100.0 * (342.0 + 335.0) / 1352.0, 1e-9);
  EXPECT_NEAR(w->front_percent, 100.0 * (342.0 + 330.0) / 1352.0, 1e-9);
}

}  // namespace
}  // namespace lowkite
