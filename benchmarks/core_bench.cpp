// Speed of the core against the goals of docs/architecture.md. Run: build/release/bin/core_bench
#include <benchmark/benchmark.h>

#include "core/advice/advise.hpp"
#include "core/advice/tyre_weights.hpp"
#include "core/handling/over_tyres.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/tyre_file.hpp"
#include "core/load/corner_path.hpp"
#include "core/load/ride_motion.hpp"
#include "core/log/log_store.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/recipe.hpp"

namespace lowkite {
namespace {

const Car& car() {
  static const Car loaded = *load_car(LOWKITE_BENCH_DATA "/cars/heron-tc190.kite-car.json");
  return loaded;
}

const CarModel& model() {
  static const CarModel built = *build_model(car(), kit_setup(car()));
  return built;
}

// Goal: 0.25 us.
void CornerPoseClosedForm(benchmark::State& state) {
  const Corner& corner = *model().corner(End::front, Side::left).linkage;
  double angle = -0.05;
  for (auto _ : state) {
    auto pose = corner.solve(angle, SteerInput{});
    benchmark::DoNotOptimize(pose);
    angle = angle < 0.05 ? angle + 1e-4 : -0.05;
  }
}
BENCHMARK(CornerPoseClosedForm);

void CornerPoseAtTravel(benchmark::State& state) {
  const CornerModel& corner = model().corner(End::front, Side::left);
  double travel = -4.0;
  for (auto _ : state) {
    auto pose = pose_at_travel(corner, travel, SteerInput{});
    benchmark::DoNotOptimize(pose);
    travel = travel < 5.0 ? travel + 0.01 : -4.0;
  }
}
BENCHMARK(CornerPoseAtTravel);

void OneAxleAllFigures(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  const Ground ground = ground_under(car(), attitude);
  for (auto _ : state) {
    const auto pose = pose_axle(model(), End::front, attitude);
    auto figures = read_axle(model(), End::front, *pose, ground);
    benchmark::DoNotOptimize(figures);
  }
}
BENCHMARK(OneAxleAllFigures);

// Goal: 40 us from a stand nearby.
void AttitudeUnderLoad(benchmark::State& state) {
  static const LoadedCar loaded = *LoadedCar::of(model());
  const bool warm = state.range(0) != 0;
  double g = 0.8;
  auto near = loaded.balance(loaded.level_collars(), {g, -0.2});
  for (auto _ : state) {
    auto b = loaded.balance(loaded.level_collars(), {g, -0.2}, 0.0, warm ? &*near : nullptr);
    benchmark::DoNotOptimize(b);
    if (warm) near = std::move(b);
    g = g < 1.2 ? g + 0.01 : 0.8;
  }
}
BENCHMARK(AttitudeUnderLoad)->ArgName("warm")->Arg(0)->Arg(1)->Unit(benchmark::kMicrosecond);

// Goal: 20 us.
void WholeCarAllFigures(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  for (auto _ : state) {
    auto figures = figures_at(model(), attitude);
    benchmark::DoNotOptimize(figures);
  }
}
BENCHMARK(WholeCarAllFigures);

/// "Rear roll centre 1 mm up, camber gain as it is" with every part of the rear axle, three at most.
RecipeOrder order_for(int most_parts) {
  RecipeOrder o;
  o.parts = recipe_parts(car(), End::rear);
  o.most_parts = most_parts;
  const auto base = evaluate(car(), kit_setup(car()), {}, 9);
  const auto aim = [&](const char* id, double by, double tolerance, bool hold) {
    const FigureSpec* f = find_figure(id);
    o.aims.push_back(RecipeAim::of(*f, End::rear, *f->read(base->source, End::rear, Side::left) + by, tolerance, hold));
  };
  aim("roll_centre", 1.0, 0.1, false);
  aim("camber_gain", 0.0, 0.01, true);
  return o;
}

void OneRecipeCandidate(benchmark::State& state) {
  const RecipeOrder order = order_for(1);
  const Setup kit = kit_setup(car());
  const CarTargets targets = targets_of(*figures_at(model(), static_attitude(model())));
  const AxleOrder axle{End::rear, order.aims, order.parts, order.reset};
  AxleJudge judge(car(), kit, targets, axle);
  std::vector<double> values;
  for (const PartHandle part : order.parts) values.push_back(kit.of(part).left);
  std::vector<double> figures;
  const PartHandle shims = car().find_adjuster("rear_link_inner_shims");
  const auto at =
      static_cast<std::size_t>(std::find(order.parts.begin(), order.parts.end(), shims) - order.parts.begin());
  double shim = 0.0;
  for (auto _ : state) {
    values[at] = shim = shim < 2.5 ? shim + 0.5 : 0.5;
    bool good = judge.judge(values, figures);
    benchmark::DoNotOptimize(good);
  }
}
BENCHMARK(OneRecipeCandidate);

/// The same by the lanes of each instruction set that this machine has, on one core: 0 = one after the other, then the
/// narrowest first.
void CandidatesInLanes(benchmark::State& state) {
  const auto which = at(state.range(0));
  const LaneKernel* kernel = which == 0 ? nullptr : &lane_kernels()[which - 1];
  if (kernel && !kernel->here()) {
    state.SkipWithError("not on this machine");
    return;
  }
  const RecipeOrder order = order_for(1);
  const Setup kit = kit_setup(car());
  const CarTargets targets = targets_of(*figures_at(model(), static_attitude(model())));
  const AxleOrder axle{End::rear, order.aims, order.parts, order.reset};
  AxleJudge judge(car(), kit, targets, axle, kernel);
  // As a search comes to them: the last part changes from one to the next.
  std::vector<double> values;
  std::vector<double> row;
  for (const PartHandle part : order.parts) row.push_back(kit.of(part).left);
  const ChangeGroup group = ChangeGroup::of(car(), kit, order.parts);
  for (std::size_t i = 0; i < order.parts.size(); ++i)
    for (const double a : group.values[i])
      for (std::size_t j = i + 1; j < order.parts.size(); ++j)
        for (const double b : group.values[j]) {
          const std::vector<double> before = row;
          row[i] = a;
          row[j] = b;
          values.insert(values.end(), row.begin(), row.end());
          row = before;
        }
  std::vector<char> stands;
  std::vector<double> figures;
  for (auto _ : state) {
    judge.judge_all(values, stands, figures);
    benchmark::DoNotOptimize(figures.data());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * stands.size()));
  if (kernel) state.SetLabel(kernel->name);
}
BENCHMARK(CandidatesInLanes)->ArgName("kernel")->DenseRange(0, 3)->Unit(benchmark::kMillisecond);

// Goal: eight million candidates a second on two cores.
void RecipeSearch(benchmark::State& state) {
  const RecipeOrder order = order_for(static_cast<int>(state.range(0)));
  const Setup kit = kit_setup(car());
  std::uint64_t judged = 0;
  for (auto _ : state) {
    const auto found = find_recipe(car(), kit, kit, order);
    judged += found->of;
    benchmark::DoNotOptimize(found);
  }
  state.counters["candidates"] = benchmark::Counter(static_cast<double>(judged), benchmark::Counter::kIsRate);
}
BENCHMARK(RecipeSearch)->Arg(2)->Arg(3)->Arg(4)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A figure of the whole travel, for which each candidate is read by the common way: total bump steer of the front, two
/// parts at once.
void RecipeOverTheTravel(benchmark::State& state) {
  const Setup kit = kit_setup(car());
  const auto base = evaluate(car(), kit, {}, 9);
  const FigureSpec* f = find_figure("bump_steer_total");
  RecipeOrder order;
  order.parts = recipe_parts(car(), End::front);
  order.most_parts = 2;
  order.aims = {RecipeAim::of(*f, End::front, *f->read(base->source, End::front, Side::left) + 0.3, 0.05, false)};
  std::uint64_t judged = 0;
  for (auto _ : state) judged += find_recipe(car(), kit, kit, order)->judged;
  state.counters["candidates"] = benchmark::Counter(static_cast<double>(judged), benchmark::Counter::kIsRate);
}
BENCHMARK(RecipeOverTheTravel)->Unit(benchmark::kMillisecond)->UseRealTime();

// What the driver wishes beside a figure that is held, of all parts of both axles: more front grip at entry, the rear
// roll centre where it is.
void RecipeWithWishes(benchmark::State& state) {
  const Setup kit = kit_setup(car());
  RecipeOrder order;
  order.wishes.wishes = {{HandlingFigure::front_left, CornerPhase::entry, HandlingWant::more},
                         {HandlingFigure::rear_left, CornerPhase::exit, HandlingWant::not_less}};
  order.wishes.tyres = draw_tyres(load_tyres(LOWKITE_BENCH_DATA "/tyres/tyres.json")->for_surface("asphalt"), 32);
  const auto base = evaluate(car(), kit, {}, 9);
  const FigureSpec* f = find_figure("roll_centre");
  order.aims = {RecipeAim::of(*f, End::rear, *f->read(base->source, End::rear, Side::left), 0.3, true)};
  for (const End end : both_ends)
    for (const PartHandle part : recipe_parts(car(), end)) order.parts.push_back(part);
  for (auto _ : state) {
    const auto found = find_recipe(car(), kit, kit, order);
    benchmark::DoNotOptimize(found);
  }
}
BENCHMARK(RecipeWithWishes)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The ride height let go: every candidate stands where its springs then hold it. All parts of both axles, two at once.
void RecipeRideHeightLetGo(benchmark::State& state) {
  const Setup kit = kit_setup(car());
  const auto base = evaluate(car(), kit, {}, 9);
  RecipeOrder order;
  order.reset.hold_ride_height = false;
  order.most_parts = 2;
  const auto aim = [&](const char* id, End end, double by, double tolerance, bool hold) {
    const FigureSpec* f = find_figure(id);
    order.aims.push_back(RecipeAim::of(*f, end, *f->read(base->source, end, Side::left) + by, tolerance, hold));
  };
  aim("roll_centre", End::rear, 1.0, 0.3, false);
  aim("camber_gain", End::front, 0.0, 1.0, true);
  for (const End end : both_ends)
    for (const PartHandle part : recipe_parts(car(), end)) order.parts.push_back(part);
  std::uint64_t judged = 0;
  for (auto _ : state) judged += find_recipe(car(), kit, kit, order)->judged;
  state.counters["candidates"] = benchmark::Counter(static_cast<double>(judged), benchmark::Counter::kIsRate);
}
BENCHMARK(RecipeRideHeightLetGo)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(1);

/// Six parts at once of the six stacks of shims on each axle: both roll centres up, camber gains and wheelbase as they
/// are.
RecipeOrder whole_car_order() {
  RecipeOrder o;
  const auto base = evaluate(car(), kit_setup(car()), {}, 9);
  for (const End end : both_ends) {
    int stacks = 0;
    for (const PartHandle part : recipe_parts(car(), end))
      if (car().adjusters[part].kind == AdjusterKind::shim_stack && ++stacks <= 6) o.parts.push_back(part);
    const auto aim = [&](const char* id, double by, double tolerance, bool hold) {
      const FigureSpec* f = find_figure(id);
      o.aims.push_back(RecipeAim::of(*f, end, *f->read(base->source, end, Side::left) + by, tolerance, hold));
    };
    aim("roll_centre", end == End::front ? 0.5 : 1.0, 0.1, false);
    aim("camber_gain", 0.0, 0.01, true);
    if (end == End::front) aim("wheelbase", 0.0, 0.5, true);
  }
  o.most_parts = 6;
  return o;
}

// Goal: 10^9 candidates of a six-part search over both axles told, by proof, in 10 s on two cores.
void WholeCarSearch(benchmark::State& state) {
  const RecipeOrder order = whole_car_order();
  const Setup kit = kit_setup(car());
  std::uint64_t of = 0;
  std::uint64_t judged = 0;
  for (auto _ : state) {
    const auto found = find_recipe(car(), kit, kit, order);
    if (!found || !found->complete) state.SkipWithError("not complete");
    of += found->of;
    judged += found->judged;
  }
  state.counters["of"] = benchmark::Counter(static_cast<double>(of), benchmark::Counter::kAvgIterations);
  state.counters["judged"] = benchmark::Counter(static_cast<double>(judged), benchmark::Counter::kAvgIterations);
}
BENCHMARK(WholeCarSearch)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(3);

/// Springs, bars and weights, so many at once, for a load transfer at the same roll.
void SpringSearch(benchmark::State& state) {
  const Setup kit = kit_setup(car());
  RecipeOrder order;
  order.under = {0.8, 0.0};
  const auto now = put_on_springs(car(), kit, order.under);
  const auto aim = [&](const char* id, double by, double tolerance, bool hold) {
    const FigureSpec* f = find_figure(id);
    order.aims.push_back(RecipeAim::of(*f, End::front, *f->read(*now, End::front, Side::left) + by, tolerance, hold));
  };
  aim("front_transfer", 2.0, 0.1, false);
  aim("roll", 0.0, 0.05, true);
  order.parts = light_load_parts(car());
  order.most_parts = static_cast<int>(state.range(0));
  std::uint64_t judged = 0;
  for (auto _ : state) judged += find_recipe(car(), kit, kit, order)->judged;
  state.counters["candidates"] = benchmark::Counter(static_cast<double>(judged), benchmark::Counter::kIsRate);
}
BENCHMARK(SpringSearch)->Arg(2)->Arg(3)->Unit(benchmark::kMillisecond)->UseRealTime();

void AxleSweep25(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  for (auto _ : state) {
    auto curve = sweep_axle(model(), End::front, attitude, 25);
    benchmark::DoNotOptimize(curve);
  }
}
BENCHMARK(AxleSweep25);

void ResetOfAllFourWheels(benchmark::State& state) {
  Setup changed = kit_setup(car());
  changed.of(car().find_adjuster("front_link_inner_shims")) = {1.0, 1.0};
  const CarTargets targets = targets_of(*figures_at(model(), static_attitude(model())));
  for (auto _ : state) {
    auto result = reset_alignment(car(), changed, targets, {});
    benchmark::DoNotOptimize(result);
  }
}
BENCHMARK(ResetOfAllFourWheels);

// What the window computes for one step of a part.
void WholeComparison(benchmark::State& state) {
  Setup changed = kit_setup(car());
  changed.of(car().find_adjuster("front_link_inner_shims")) = {1.0, 1.0};
  for (auto _ : state) {
    auto result = compare(car(), kit_setup(car()), changed, {}, {}, 25);
    benchmark::DoNotOptimize(result);
  }
}
BENCHMARK(WholeComparison);

// Goal: 2,000 states of all four corners with the end points in 10 ms.
void TravelSteerMapWithEndPoints(benchmark::State& state) {
  const auto standing = pose_car(model(), static_attitude(model()));
  const auto centred = steer(model(), 0.0);
  constexpr int travels = 40;
  constexpr int servos = 50;
  for (auto _ : state) {
    PerEnd<PerSide<CornerStops>> stops;
    for (const End end : both_ends)
      for (const Side side : both_sides)
        stops[at(end)][at(side)] = find_stops(model(), end, side, standing->axle[at(end)].corner[at(side)],
                                              end == End::front ? centred->corner[at(side)] : SteerInput{});
    auto lock = find_lock(model(), standing->axle[0], stops[0], lock_samples);
    benchmark::DoNotOptimize(lock);
    for (const Side side : both_sides) {
      auto front = map_lock(model(), side, standing->axle[0].corner[at(side)], stops[0][at(side)], radians(35.0),
                            travels, servos);
      benchmark::DoNotOptimize(front);
      // The rear corners do not feel the steering: a pose a travel serves all servo angles.
      for (int i = 0; i < travels; ++i) {
        const CornerStops& s = stops[1][at(side)];
        const double travel = s.droop.travel_mm + (s.bump.travel_mm - s.droop.travel_mm) * i / (travels - 1);
        auto rear = pose_at_travel(model().corner(End::rear, side), travel, {});
        benchmark::DoNotOptimize(rear);
      }
    }
  }
  state.SetItemsProcessed(state.iterations() * travels * servos);
}
BENCHMARK(TravelSteerMapWithEndPoints);

void EndPointsOverTravel(benchmark::State& state) {
  const auto standing = pose_car(model(), static_attitude(model()));
  const auto centred = steer(model(), 0.0);
  PerSide<CornerStops> stops;
  for (const Side side : both_sides)
    stops[at(side)] =
        find_stops(model(), End::front, side, standing->axle[0].corner[at(side)], centred->corner[at(side)]);
  for (auto _ : state) {
    auto lock = find_lock(model(), standing->axle[0], stops, lock_samples);
    benchmark::DoNotOptimize(lock);
  }
}
BENCHMARK(EndPointsOverTravel);

// Goal: 25 ms for 1,000 accelerations on two cores.
void MapOfAThousandAccelerations(benchmark::State& state) {
  static const LoadedCar loaded = *LoadedCar::of(model());
  std::vector<Acceleration> map;
  for (int i = 0; i < 40; ++i)
    for (int k = 0; k < 25; ++k) {
      // To and fro, so that each lies beside the one before it.
      const int turned = i % 2 == 0 ? k : 24 - k;
      map.push_back({1.2 * turned / 24.0, -0.5 + 0.8 * i / 39.0});
    }
  for (auto _ : state) {
    auto stands = stands_under(loaded, loaded.level_collars(), map, static_cast<unsigned>(state.range(0)));
    benchmark::DoNotOptimize(stands);
  }
}
BENCHMARK(MapOfAThousandAccelerations)
    ->ArgName("threads")
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void MotionOverABump(benchmark::State& state) {
  static const LoadedCar loaded = *LoadedCar::of(model());
  for (auto _ : state) {
    auto m = drive_over(loaded, {.event = RoadEvent::bump, .seconds = 0.6});
    benchmark::DoNotOptimize(m);
  }
}
BENCHMARK(MotionOverABump)->Unit(benchmark::kMillisecond);

void AdviceOnOneFeeling(benchmark::State& state) {
  const RuleBook book = *load_rules(LOWKITE_BENCH_DATA "/rules/rules.json");
  const AdviceAsk ask{.feelings = {{Phase::exit, Sense::rear_grip, TurnWay::both, -2}}, .surface = Surface::carpet};
  for (auto _ : state) {
    auto a = advise(book, car(), kit_setup(car()), ask);
    benchmark::DoNotOptimize(a);
  }
}
BENCHMARK(AdviceOnOneFeeling)->Unit(benchmark::kMillisecond);

/// 10,000 runs of 100 laps on 1,000 days, written once.
const std::filesystem::path& long_log() {
  static const std::filesystem::path path = [] {
    const auto p = std::filesystem::temp_directory_path() / "lowkite-bench-log.sqlite";
    for (const char* more : {"", "-wal", "-shm"}) std::filesystem::remove(p.string() + more);
    auto log = *LogStore::open(p);
    std::vector<Lap> laps(100);
    for (int i = 0; i < 100; ++i) laps[at(i)] = {i + 1, 14.0 + 0.01 * (i % 17), LapMark::ordinary};
    (void)log.together([&]() -> tl::expected<void, Fault> {
      for (int d = 0; d < 1000; ++d) {
        Day day;
        day.date = "2026-01-01";
        const auto id = log.put(day);
        for (int r = 0; r < 10; ++r) {
          RunRecord record;
          record.run.day = *id;
          record.run.car_id = car().id;
          record.laps = laps;
          (void)log.put(record);
        }
      }
      return {};
    });
    return p;
  }();
  return path;
}

// Goal: 20 ms.
void TablesOfASetup(benchmark::State& state) {
  static const LoadedCar loaded = *LoadedCar::of(model());
  for (auto _ : state) {
    auto table = SetupTable::of(loaded, {}, static_cast<unsigned>(state.range(0)));
    benchmark::DoNotOptimize(table);
  }
}
BENCHMARK(TablesOfASetup)->ArgName("threads")->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

// A mini whose inner rear wheel lifts on power: its row ends where the side springs no longer hold the pod.
void TablesOnAPod(benchmark::State& state) {
  static const Car mini = *load_car(LOWKITE_BENCH_DATA "/cars/wren-28.kite-car.json");
  static const CarModel posed = *build_model(mini, kit_setup(mini));
  static const LoadedCar loaded = *LoadedCar::of(posed);
  for (auto _ : state) {
    auto table = SetupTable::of(loaded, {.power_g = 0.4}, 2);
    benchmark::DoNotOptimize(table);
  }
}
BENCHMARK(TablesOnAPod)->Unit(benchmark::kMillisecond)->UseRealTime();

// Goal: 60 ms on two cores: three rows of trims each, with their limits and answers.
void HandlingOverTyres(benchmark::State& state) {
  static const SetupTable table = *tabulate(car(), kit_setup(car()), {});
  static const auto tyres = draw_tyres(load_tyres(LOWKITE_BENCH_DATA "/tyres/tyres.json")->for_surface("asphalt"));
  for (auto _ : state) {
    auto over = handling_over(table, tyres, static_cast<unsigned>(state.range(0)));
    benchmark::DoNotOptimize(over);
  }
}
BENCHMARK(HandlingOverTyres)->ArgName("threads")->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

// Goal: 2 s for 100 runs. The demo's season in one car, nothing known before.
void WeightsOfASeason(benchmark::State& state) {
  static const std::vector<LoggedDay> days =
      *read_log(*read_file(LOWKITE_BENCH_DATA "/log/season.json", 64U << 20), "season.json");
  static const auto tyres = draw_tyres(load_tyres(LOWKITE_BENCH_DATA "/tyres/tyres.json")->for_surface("asphalt"));
  const std::shared_ptr<const Car> shared(&car(), [](const Car*) {});
  std::size_t setups = 0;
  for (auto _ : state) {
    FeltSetups felt(shared, {}, tyres);
    auto weights = weigh_tyres(*tyre_evidence(days, Surface::unknown, "", felt), tyres.size());
    benchmark::DoNotOptimize(weights);
    setups = felt.worked_out();
  }
  std::size_t runs = 0;
  for (const LoggedDay& day : days)
    for (const RunRecord& r : day.runs) runs += r.run.car_id == car().id;
  state.counters["runs"] = static_cast<double>(runs);
  state.counters["setups"] = static_cast<double>(setups);
}
BENCHMARK(WeightsOfASeason)->Unit(benchmark::kMillisecond)->UseRealTime();

// A log of 10,000 runs and a million laps: opened, its days listed, the newest day's runs and one run's laps read.
void OpenALongLog(benchmark::State& state) {
  const auto& path = long_log();
  for (auto _ : state) {
    auto log = LogStore::open(path);
    auto days = log->days();
    auto runs = log->runs(days->front().day.id);
    auto laps = log->laps(runs->back().run.id);
    benchmark::DoNotOptimize(laps);
  }
}
BENCHMARK(OpenALongLog)->Unit(benchmark::kMillisecond);

void StoreARunInALongLog(benchmark::State& state) {
  auto log = *LogStore::open(long_log());
  const auto runs = *log.runs(log.days()->front().day.id);
  const RunRecord record = **log.run(runs.back().run.id);
  for (auto _ : state) benchmark::DoNotOptimize(log.put(record));
}
BENCHMARK(StoreARunInALongLog)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace lowkite

BENCHMARK_MAIN();
