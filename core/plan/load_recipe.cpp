#include "core/plan/load_recipe.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/plan/search.hpp"

namespace lowkite {
namespace {

constexpr double balance_tells = 1e-6;  ///< figures of two balances closer than this are the same
constexpr std::size_t spare = 4;        ///< more are kept than asked for: some fall out with whole turns

/// A setup with its alignment put back, on its springs.
struct OnSprings {
  ResetResult alignment;
  LoadSource source;
};

bool any_geometric(const Car& car, const std::vector<RecipeChange>& changes) {
  return std::any_of(changes.begin(), changes.end(), [&](const RecipeChange& c) {
    return car.adjusters[static_cast<std::size_t>(c.adjuster)].moves_geometry();
  });
}

tl::expected<OnSprings, std::string> put_on_springs(const Car& car, const Setup& setup, const CarTargets* targets,
                                                    double step_turns, const Acceleration& under) {
  OnSprings on;
  on.alignment.setup = setup;
  if (targets) {
    auto work = reset_alignment(car, setup, *targets, {.step_turns = step_turns});
    if (!work) return tl::unexpected(work.error().message);
    on.alignment = std::move(*work);
  }
  const auto model = build_model(car, on.alignment.setup);
  if (!model) return tl::unexpected(model.error().message);
  const auto loaded = LoadedCar::of(*model);
  if (!loaded) return tl::unexpected(loaded.error());
  auto source = read_load(*loaded, under);
  if (!source) return tl::unexpected(source.error());
  on.source = std::move(*source);
  return on;
}

std::optional<double> read_aim(const LoadAim& aim, const LoadSource& source) {
  if (aim.kind == LoadAim::Kind::value) return aim.figure->read(source, aim.end, aim.side);
  const auto front = aim.figure->read(source, End::front, aim.side);
  const auto rear = aim.figure->read(source, End::rear, aim.side);
  return front && rear ? std::optional(*rear - *front) : std::nullopt;
}

double wanted_of(const LoadAim& aim) {
  return aim.kind == LoadAim::Kind::alike ? 0.0 : aim.value;
}

std::vector<AimRange> ranges_of(const std::vector<LoadAim>& aims) {
  std::vector<AimRange> ranges;
  for (const LoadAim& a : aims) ranges.push_back({wanted_of(a), a.tolerance, a.hold});
  return ranges;
}

/// The figures that are asked for; false where one has no value.
bool read_aims(const LoadOrder& order, const LoadSource& source, std::vector<double>& figures) {
  figures.clear();
  for (const LoadAim& aim : order.aims) {
    const auto v = read_aim(aim, source);
    if (!v) return false;
    figures.push_back(*v);
  }
  return true;
}

/// Puts each candidate on its springs whole.
class SprungJudge {
 public:
  SprungJudge(const Car& car, const Setup& start, const CarTargets& targets, const LoadOrder& order)
      : car_(car), start_(start), targets_(targets), order_(order) {}

  bool judge(const std::vector<double>& values, std::vector<double>& figures) {
    Setup setup = start_;
    std::vector<RecipeChange> changes;
    for (std::size_t i = 0; i < values.size(); ++i) {
      const int part = order_.parts[i];
      const double now = start_.at_index(part).left;
      if (values[i] == now) continue;
      setup.at_index(part) = {values[i], values[i]};
      changes.push_back({part, now, values[i]});
    }
    const auto on = put_on_springs(car_, setup, any_geometric(car_, changes) ? &targets_ : nullptr, 0.0, order_.under);
    return on && read_aims(order_, on->source, figures);
  }

 private:
  const Car& car_;
  const Setup& start_;
  const CarTargets& targets_;
  const LoadOrder& order_;
};

tl::expected<CarTargets, std::string> targets_as_it_stands(const Car& car, const Setup& setup) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error().message);
  const auto figures = figures_at(*model, static_attitude(*model));
  if (!figures) return tl::unexpected(figures.error().message);
  return targets_of(*figures);
}

}  // namespace

std::vector<int> load_parts(const Car& car) {
  std::vector<int> parts;
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Adjuster& a = car.adjusters[i];
    if (!a.threaded() && !a.steering) parts.push_back(static_cast<int>(i));
  }
  return parts;
}

std::vector<int> light_load_parts(const Car& car) {
  std::vector<int> parts = load_parts(car);
  std::erase_if(parts, [&](int i) {
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(i)];
    return a.moves_geometry() || !a.moves_load();
  });
  return parts;
}

std::uint64_t load_candidates(const Car& car, const Setup& start, const LoadOrder& order) {
  return candidates_in(car, start, {.parts = order.parts, .most_parts = order.most_parts});
}

tl::expected<LoadRecipe, std::string> find_load_recipe(const Car& car, const Setup& start, const LoadOrder& order,
                                                       const std::function<bool(double)>& progress) {
  if (std::none_of(order.aims.begin(), order.aims.end(), [](const LoadAim& a) { return !a.hold; }))
    return tl::unexpected(std::string("nothing is wanted; choose a figure and the value it should have"));
  for (const LoadAim& a : order.aims) {
    if (!(a.tolerance > 0.0))
      return tl::unexpected(fmt::format("{}: the tolerance is {}; allowed: more than 0", a.figure->label, a.tolerance));
    if (a.kind == LoadAim::Kind::alike && a.figure->per == Per::car)
      return tl::unexpected(
          fmt::format("{} is one figure of the car; front and rear cannot be alike in it", a.figure->label));
  }
  if (order.parts.empty()) return tl::unexpected(std::string("no part may be changed; allow at least one"));
  const auto targets = targets_as_it_stands(car, start);
  if (!targets) return tl::unexpected(targets.error());
  const auto now = put_on_springs(car, start, nullptr, 0.0, order.under);
  if (!now) return tl::unexpected(now.error());
  LoadRecipe recipe;
  recipe.of = load_candidates(car, start, order);
  if (recipe.of > most_load_candidates)
    return tl::unexpected(fmt::format("{} candidates are too many: allow fewer parts, or fewer at once (at most {})",
                                      recipe.of, most_load_candidates));
  const SearchSpace space{.parts = order.parts, .most_parts = order.most_parts};
  SearchOrder wanted{.aims = ranges_of(order.aims),
                     .keep = spare * order.results,
                     .threads = order.threads,
                     .same = balance_tells,
                     .tell_every = 1};
  if (std::vector<double> before; read_aims(order, now->source, before)) wanted.unchanged = std::move(before);
  const SearchResult found = search_parts<SprungJudge>(
      car, start, space, wanted, [&] { return SprungJudge(car, start, *targets, order); }, progress);
  recipe.judged = found.judged;
  recipe.allowed = found.allowed;
  recipe.stopped = found.stopped;
  for (const Found& s : found.best) {
    if (recipe.results.size() >= order.results) break;
    LoadResult r;
    r.changes = s.changes;
    Setup setup = start;
    std::vector<int> changed;
    for (const RecipeChange& c : r.changes) {
      setup.at_index(c.adjuster) = {c.to, c.to};
      changed.push_back(c.adjuster);
    }
    auto on = put_on_springs(car, setup, any_geometric(car, r.changes) ? &*targets : nullptr, 0.125, order.under);
    if (!on) continue;
    if (std::any_of(on->alignment.steps.begin(), on->alignment.steps.end(),
                    [](const ResetStep& t) { return t.thread_ends; }))
      continue;
    // Rounding to what a hand can do may break what was to be held.
    if (!read_aims(order, on->source, r.reached) || !keeps_what_is_held(wanted.aims, r.reached)) continue;
    r.alignment = std::move(on->alignment);
    r.setup = r.alignment.setup;
    r.miss = miss_of(wanted.aims, r.reached);
    r.work = work_for(car, changed, static_cast<int>(r.alignment.steps.size()));
    recipe.results.push_back(std::move(r));
  }
  return recipe;
}

tl::expected<std::vector<LoadStep>, std::string> load_sensitivity(const Car& car, const Setup& setup,
                                                                  const Acceleration& under,
                                                                  const std::function<bool()>& go_on) {
  const auto targets = targets_as_it_stands(car, setup);
  if (!targets) return tl::unexpected(targets.error());
  const auto base = put_on_springs(car, setup, nullptr, 0.0, under);
  if (!base) return tl::unexpected(base.error());
  std::vector<LoadStep> steps;
  for (const int part : load_parts(car)) {
    if (go_on && !go_on()) break;
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(part)];
    Setup stepped = setup;
    Setting& value = stepped.at_index(part);
    const int way = a.stepped(value.left, 1) != value.left ? 1 : -1;
    for (const Side side : both_sides) value.on(side) = a.stepped(value.on(side), way);
    LoadStep s;
    s.adjuster = part;
    s.value = value.left;
    const auto after = put_on_springs(car, stepped, a.moves_geometry() ? &*targets : nullptr, 0.0, under);
    s.possible = after.has_value();
    for (const FigurePlace& p : places_of(load_figures())) {
      const auto x = p.read(base->source);
      const auto y = after ? p.read(after->source) : std::nullopt;
      s.change.push_back(x && y ? std::optional(*y - *x) : std::nullopt);
    }
    steps.push_back(std::move(s));
  }
  return steps;
}

}  // namespace lowkite
