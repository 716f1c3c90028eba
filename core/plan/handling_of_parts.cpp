#include "core/plan/handling_of_parts.hpp"

#include <algorithm>

#include "core/plan/bench_reset.hpp"

namespace lowkite {

tl::expected<std::vector<PartHandling>, CarFailure> handling_of_parts(const Car& car, const Setup& setup,
                                                                      const CornerAsk& ask,
                                                                      std::span<const TyreDraw> tyres,
                                                                      std::span<const double> weights, unsigned threads,
                                                                      const std::function<bool(double)>& go_on) {
  const auto table = tabulate(car, setup, ask, threads);
  if (!table) return tl::unexpected(table.error());
  const Handling before = handling_over(*table, tyres, threads);
  std::vector<PartHandling> parts;
  for (const PartHandle i : car.adjusters.handles()) {
    if (go_on && !go_on(static_cast<double>(i.place()) / static_cast<double>(car.adjusters.size()))) break;
    const Adjuster& a = car.adjusters[i];
    const Range* range = a.range();
    if (a.only_kept() || (range && range->link && !a.steering)) continue;
    const double from = setup.of(i).left;
    const double up = a.stepped(from, 1);
    PartHandling p{i, from, up != from ? up : a.stepped(from, -1), {}};
    if (p.to == p.from) continue;
    Setup stepped = setup;
    stepped.of(i) = {p.to, p.to};
    const auto there = tabulate(car, put_back_by_hand(car, setup, stepped), ask, threads);
    bool differs = false;
    for (int c = 0; c < channel_count && there; ++c)
      differs = differs || table->differs(static_cast<Channel>(c), *there);
    // Dampers and their like: nothing steady knows of them.
    if (!differs) continue;
    const Handling after = handling_over(*there, tyres, threads);
    for (const CornerPhase phase : corner_phases)
      for (const HandlingFigureSpec& f : handling_figures())
        p.by[at(phase)][at(f.figure)] = difference_of(f, phase, before, after, tyres, weights);
    parts.push_back(std::move(p));
  }
  return parts;
}

}  // namespace lowkite
