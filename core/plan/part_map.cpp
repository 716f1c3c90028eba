#include "core/plan/part_map.hpp"

#include <algorithm>

#include "core/plan/axle_judge.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/recipe.hpp"

namespace lowkite {
namespace {

bool of_the_car(const FigureSpec& figure) {
  return figure.of_load() || figure.is(between_ends);
}

RecipeAim aim_of(const MapAsk& ask) {
  RecipeAim aim = RecipeAim::of(*ask.place.figure, ask.place.end.value_or(ask.end), 0.0, 1.0, false);
  aim.side = ask.place.side.value_or(Side::left);
  return aim;
}

}  // namespace

std::vector<PartHandle> map_parts(const Car& car, const FigurePlace& place, End end) {
  if (place.figure->of_load()) return load_parts(car);
  std::vector<PartHandle> parts;
  for (const End e : both_ends) {
    if (e != end && !of_the_car(*place.figure)) continue;
    for (const PartHandle part : recipe_parts(car, e))
      if (car.adjusters[part].moves_geometry()) parts.push_back(part);
  }
  return parts;
}

struct PartMap::Work {
  const Car& car;
  const Setup& setup;
  MapAsk ask;
  Variant stands;
  CarTargets targets;
  ResetOptions reset;
  AxleOrder order;  ///< of a figure that hears of its own axle alone
  std::optional<AxleJudge> axle;
  std::optional<CarJudge> whole;

  Work(const Car& c, const Setup& s, const MapAsk& a, Variant v)
      : car(c), setup(s), ask(a), stands(std::move(v)), targets(targets_of(stands.source.standing)) {
    reset.hold_camber = reset.hold_toe = ask.put_back;
    reset.hold_droop = reset.hold_caster = false;
    if (of_the_car(*ask.place.figure)) {
      whole.emplace(car, stands, setup, targets, reset, ask.under, std::vector<RecipeAim>{aim_of(ask)});
      return;
    }
    order.end = ask.end;
    order.aims = {aim_of(ask)};
    order.parts = {ask.down, ask.across};
    order.reset = reset;
    order.hung_as = &stands;
    axle.emplace(car, setup, targets, order);
  }
};

PartMap::PartMap(std::unique_ptr<Work> work) : work_(std::move(work)) {}
PartMap::PartMap(PartMap&&) noexcept = default;
PartMap::~PartMap() = default;

tl::expected<PartMap, CarFailure> PartMap::of(const Car& car, const Setup& setup, const MapAsk& ask) {
  auto stands = evaluate_stand(car, setup);
  if (!stands) return tl::unexpected(stands.error());
  if (ask.place.figure->of_load())
    if (const auto on_springs = put_on_springs(car, setup, ask.under); !on_springs)
      return tl::unexpected(on_springs.error());
  return PartMap(std::make_unique<Work>(car, setup, ask, std::move(*stands)));
}

std::vector<std::optional<double>> PartMap::row(double down, std::span<const double> across) {
  Work& w = *work_;
  std::vector<std::optional<double>> fields;
  if (w.whole) {
    for (const double v : across) {
      std::vector<PartChange> changes;
      for (const auto& [part, value] : {std::pair(w.ask.down, down), std::pair(w.ask.across, v)})
        if (const double now = w.setup.of(part).left; value != now) changes.push_back({part, now, value});
      const auto read = w.whole->read(changes);
      fields.push_back(read ? std::optional(read->front()) : std::nullopt);
    }
    return fields;
  }
  std::vector<double> values;
  for (const double v : across) {
    values.push_back(down);
    values.push_back(v);
  }
  std::vector<char> stands;
  std::vector<double> figures;
  w.axle->judge_all(values, stands, figures);
  for (std::size_t i = 0; i < stands.size(); ++i)
    fields.push_back(stands[i] != 0 ? std::optional(figures[i]) : std::nullopt);
  return fields;
}

}  // namespace lowkite
