#include "core/plan/load_recipe.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <thread>

#include <fmt/format.h>

namespace lowkite {
namespace {

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
                                                    double step_turns, const Acceleration& under,
                                                    const TyreAssumption& tyre) {
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
  auto source = read_load(*loaded, under, tyre);
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

struct Judged {
  std::vector<double> reached;
  double miss = 0.0;
};

/// None when a value is missing or something held is not.
std::optional<Judged> judge(const LoadOrder& order, const LoadSource& source) {
  Judged j;
  double squares = 0.0;
  for (const LoadAim& aim : order.aims) {
    const auto v = read_aim(aim, source);
    if (!v) return std::nullopt;
    const double off = (*v - wanted_of(aim)) / aim.tolerance;
    if (aim.hold && std::abs(off) > 1.0) return std::nullopt;
    if (!aim.hold) squares += off * off;
    j.reached.push_back(*v);
  }
  j.miss = std::sqrt(squares);
  return j;
}

/// Every combination of other values of at most so many parts.
std::vector<std::vector<RecipeChange>> combinations(const Car& car, const Setup& start, const LoadOrder& order) {
  std::vector<std::vector<RecipeChange>> all;
  std::vector<RecipeChange> hand;
  const auto go = [&](const auto& self, std::size_t from) -> void {
    for (std::size_t i = from; i < order.parts.size(); ++i) {
      const int part = order.parts[i];
      const double now = start.at_index(part).left;
      for (const double v : car.adjusters[static_cast<std::size_t>(part)].values_besides(now)) {
        hand.push_back({part, now, v});
        all.push_back(hand);
        if (static_cast<int>(hand.size()) < order.most_parts) self(self, i + 1);
        hand.pop_back();
      }
    }
  };
  go(go, 0);
  return all;
}

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
  RecipeOrder same;
  same.parts = order.parts;
  same.most_parts = order.most_parts;
  return candidates_of(car, start, same);
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
  const auto now = put_on_springs(car, start, nullptr, 0.0, order.under, order.tyre);
  if (!now) return tl::unexpected(now.error());
  LoadRecipe recipe;
  recipe.of = load_candidates(car, start, order);
  if (recipe.of > most_load_candidates)
    return tl::unexpected(fmt::format("{} candidates are too many: allow fewer parts, or fewer at once (at most {})",
                                      recipe.of, most_load_candidates));
  const auto all = combinations(car, start, order);
  struct Scored {
    std::size_t index;
    Judged judged;
    double minutes;
  };
  std::vector<Scored> found;
  std::mutex lock;
  std::atomic<std::size_t> next = 0;
  std::atomic<std::uint64_t> judged = 0;
  std::atomic<bool> stop = false;
  const auto work = [&] {
    for (std::size_t i = next++; i < all.size() && !stop; i = next++) {
      Setup setup = start;
      std::vector<int> changed;
      for (const RecipeChange& c : all[i]) {
        setup.at_index(c.adjuster) = {c.to, c.to};
        changed.push_back(c.adjuster);
      }
      const auto on =
          put_on_springs(car, setup, any_geometric(car, all[i]) ? &*targets : nullptr, 0.0, order.under, order.tyre);
      ++judged;
      const auto result = on ? judge(order, on->source) : std::nullopt;
      const std::scoped_lock hold(lock);
      if (result) found.push_back({i, *result, work_for(car, changed, 0).minutes});
      if (progress && !stop && !progress(static_cast<double>(judged) / static_cast<double>(all.size()))) stop = true;
    }
  };
  const unsigned hands = order.threads > 0 ? order.threads : std::max(1u, std::thread::hardware_concurrency());
  {
    std::vector<std::jthread> threads;
    for (unsigned i = 1; i < hands; ++i) threads.emplace_back(work);
    work();
  }
  recipe.judged = judged;
  recipe.allowed = found.size();
  recipe.stopped = stop;
  const auto better = [](const Scored& a, const Scored& b) {
    const bool a_meets = a.judged.miss <= 1.0;
    const bool b_meets = b.judged.miss <= 1.0;
    if (a_meets != b_meets) return a_meets;
    if (a_meets && a.minutes != b.minutes) return a.minutes < b.minutes;
    if (a.judged.miss != b.judged.miss) return a.judged.miss < b.judged.miss;
    return a.index < b.index;
  };
  std::sort(found.begin(), found.end(), better);
  const auto does_nothing = [&](const Scored& s) {
    for (std::size_t k = 0; k < order.aims.size(); ++k) {
      const auto before = read_aim(order.aims[k], now->source);
      if (!before || std::abs(*before - s.judged.reached[k]) > 1e-6) return false;
    }
    return true;
  };
  const auto same_without_one = [&](const Scored& s) {
    // The same figures by fewer changes: whoever reads the list need not see it again.
    return std::any_of(found.begin(), found.end(), [&](const Scored& o) {
      if (all[o.index].size() >= all[s.index].size()) return false;
      for (std::size_t k = 0; k < s.judged.reached.size(); ++k)
        if (std::abs(o.judged.reached[k] - s.judged.reached[k]) > 1e-6) return false;
      return std::all_of(all[o.index].begin(), all[o.index].end(), [&](const RecipeChange& c) {
        return std::any_of(all[s.index].begin(), all[s.index].end(),
                           [&](const RecipeChange& d) { return c.adjuster == d.adjuster && c.to == d.to; });
      });
    });
  };
  for (const Scored& s : found) {
    if (recipe.results.size() >= order.results) break;
    if (does_nothing(s) || same_without_one(s)) continue;
    LoadResult r;
    r.changes = all[s.index];
    Setup setup = start;
    std::vector<int> changed;
    for (const RecipeChange& c : r.changes) {
      setup.at_index(c.adjuster) = {c.to, c.to};
      changed.push_back(c.adjuster);
    }
    auto on =
        put_on_springs(car, setup, any_geometric(car, r.changes) ? &*targets : nullptr, 0.125, order.under, order.tyre);
    if (!on) continue;
    if (std::any_of(on->alignment.steps.begin(), on->alignment.steps.end(),
                    [](const ResetStep& t) { return t.thread_ends; }))
      continue;
    const auto done = judge(order, on->source);
    if (!done) continue;  // rounding to what a hand can do breaks what was to be held
    r.alignment = std::move(on->alignment);
    r.setup = r.alignment.setup;
    r.reached = done->reached;
    r.miss = done->miss;
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
  const auto base = put_on_springs(car, setup, nullptr, 0.0, under, {});
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
    const auto after = put_on_springs(car, stepped, a.moves_geometry() ? &*targets : nullptr, 0.0, under, {});
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
