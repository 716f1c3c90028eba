#include "core/plan/load_sensitivity.hpp"

#include "core/plan/bench_reset.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

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

tl::expected<std::vector<LoadStep>, std::string> load_sensitivity(const Car& car, const Setup& setup,
                                                                  const Acceleration& under,
                                                                  const std::function<bool()>& go_on) {
  const auto stood = evaluate_stand(car, setup);
  if (!stood) return tl::unexpected(stood.error().message);
  const CarTargets targets = targets_of(stood->source.standing);
  const auto base = put_on_springs(car, setup, under);
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
    // On a car that settles, a spring moves where the linkage stands.
    if (a.moves_geometry() || settles_anywhere(car, {})) {
      const std::vector<PartChange> change{{part, setup.at_index(part).left, s.value}};
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
