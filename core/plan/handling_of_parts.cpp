#include "core/plan/handling_of_parts.hpp"

#include <algorithm>

#include "core/figures/variant.hpp"

namespace lowkite {

Setup with_angles_of(const Car& car, const Setup& like, const Setup& setup) {
  const auto model = build_model(car, like);
  if (!model) return setup;
  const auto figures = figures_at(*model, static_attitude(*model));
  if (!figures) return setup;
  const auto put_back = reset_alignment(car, setup, targets_of(*figures), {});
  return put_back ? put_back->setup : setup;
}

tl::expected<std::vector<PartHandling>, std::string> handling_of_parts(
    const Car& car, const Setup& setup, const CornerAsk& ask, std::span<const TyreDraw> tyres,
    std::span<const double> weights, unsigned threads, const std::function<bool(double)>& go_on) {
  const auto table = tabulate(car, setup, ask, threads);
  if (!table) return tl::unexpected(table.error());
  const Handling before = handling_over(*table, tyres, threads);
  std::vector<PartHandling> parts;
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    if (go_on && !go_on(static_cast<double>(i) / static_cast<double>(car.adjusters.size()))) return parts;
    const Adjuster& a = car.adjusters[i];
    const Range* range = a.range();
    if (range && range->link != no_point && !a.steering) continue;
    PartHandling p{static_cast<int>(i), setup.values[i].left, a.stepped(setup.values[i].left, 1), {}};
    if (p.to == p.from) p.to = a.stepped(p.from, -1);
    if (p.to == p.from) continue;
    Setup stepped = setup;
    stepped.values[i] = {p.to, p.to};
    const auto there = tabulate(car, with_angles_of(car, setup, stepped), ask, threads);
    if (!there) continue;
    bool differs = false;
    for (int c = 0; c < channel_count; ++c) differs = differs || table->differs(static_cast<Channel>(c), *there);
    if (!differs) continue;  // dampers and their like: nothing steady knows of them
    const Handling after = handling_over(*there, tyres, threads);
    for (const CornerPhase phase : corner_phases)
      for (const HandlingFigureSpec& f : handling_figures())
        p.by[static_cast<std::size_t>(phase)][static_cast<std::size_t>(f.figure)] =
            difference_of(f, phase, before, after, tyres, weights);
    parts.push_back(std::move(p));
  }
  return parts;
}

}  // namespace lowkite
