#include "core/plan/load_sensitivity.hpp"

#include "core/plan/bench_reset.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

std::vector<PartHandle> load_parts(const Car& car) {
  std::vector<PartHandle> parts;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (!a.threaded() && !a.steering) parts.push_back(i);
  }
  return parts;
}

std::vector<PartHandle> light_load_parts(const Car& car) {
  std::vector<PartHandle> parts = load_parts(car);
  std::erase_if(parts, [&](PartHandle part) {
    const Adjuster& a = car.adjusters[part];
    return a.moves_geometry() || !a.moves_load();
  });
  return parts;
}

tl::expected<std::vector<LoadStep>, CarFailure> load_sensitivity(const Car& car, const Setup& setup,
                                                                 const HeldTurn& under,
                                                                 const std::function<bool()>& go_on) {
  const auto stood = evaluate_stand(car, setup);
  if (!stood) return tl::unexpected(stood.error());
  const CarTargets targets = targets_of(stood->source.standing);
  const auto base = put_on_springs(car, setup, under);
  if (!base) return tl::unexpected(base.error());
  std::vector<LoadStep> steps;
  for (const PartHandle part : load_parts(car)) {
    if (go_on && !go_on()) break;
    const Adjuster& a = car.adjusters[part];
    Setup stepped = setup;
    Setting& value = stepped.of(part);
    const int way = a.stepped(value.left, 1) != value.left ? 1 : -1;
    for (const Side side : both_sides) value.on(side) = a.stepped(value.on(side), way);
    LoadStep s;
    s.adjuster = part;
    s.value = value.left;
    // On a car that settles, a spring moves where the linkage stands.
    if (a.moves_geometry() || settles_anywhere(car, {})) {
      const std::vector<PartChange> change{{part, setup.of(part).left, s.value}};
      auto back = put_back_exactly(
          car, *stood, may_stop_droop(car, part) ? changed_for_droop(car, setup, setup, change) : stepped, targets, {});
      if (!back) {
        s.possible = false;
        s.change.assign(places_of(load_figures()).size(), std::nullopt);
        steps.push_back(std::move(s));
        continue;
      }
      stepped = std::move(*back);
    }
    const auto after = put_on_springs(car, stepped, under);
    s.possible = after.has_value();
    for (const FigurePlace& p : places_of(load_figures())) {
      const auto x = p.read(*base);
      const auto y = after ? p.read(*after) : std::nullopt;
      s.change.push_back(x && y ? std::optional(*y - *x) : std::nullopt);
    }
    steps.push_back(std::move(s));
  }
  return steps;
}

}  // namespace lowkite
