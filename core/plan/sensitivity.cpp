#include "core/plan/sensitivity.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/plan/settling.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

double difference(const FigureSpec& f, double from, double to) {
  // A figure that runs through infinity (a swing arm) has no sensible difference there.
  return f.runs_to_infinity() && std::abs(to - from) > 1e4 ? std::copysign(1e4, to - from) : to - from;
}

}  // namespace

int Sensitivity::find(std::string_view figure) const {
  for (std::size_t i = 0; i < figures.size(); ++i)
    if (figures[i]->id == figure) return static_cast<int>(i);
  return -1;
}

double Sensitivity::told(const SensitivityRow& row, int figure) const {
  const auto i = at(figure);
  if (!row.possible || i >= row.change.size() || !row.change[i]) return 0.0;
  const double steps = std::abs(*row.change[i]) / (2.0 * figures[i]->resolution());
  return steps < 0.5 ? 0.0 : steps;
}

double Sensitivity::dragged(const SensitivityRow& row, int figure) const {
  double sum = 0.0;
  for (int i = 0; i < static_cast<int>(figures.size()); ++i)
    if (i != figure && figures[at(i)]->is(watched)) sum += told(row, i);
  return sum;
}

std::vector<int> Sensitivity::drags(const SensitivityRow& row, int figure) const {
  std::vector<int> found;
  for (int i = 0; i < static_cast<int>(figures.size()); ++i)
    if (i != figure && figures[at(i)]->is(watched) && told(row, i) > 0.0) found.push_back(i);
  std::stable_sort(found.begin(), found.end(), [&](int a, int b) { return told(row, a) > told(row, b); });
  return found;
}

std::vector<const SensitivityRow*> Sensitivity::ranked(int figure) const {
  std::vector<std::pair<double, const SensitivityRow*>> scored;
  for (const SensitivityRow& row : rows) {
    const double own = told(row, figure);
    // The part of all that moves that is the wanted one, weighed by its size: a small clean step comes before a large
    // one that drags much along, since it can be taken twice.
    if (own > 0.0) scored.emplace_back(std::sqrt(own) * own / (own + dragged(row, figure)), &row);
  }
  std::stable_sort(scored.begin(), scored.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<const SensitivityRow*> order;
  for (const auto& [score, row] : scored) order.push_back(row);
  return order;
}

tl::expected<Sensitivity, CarFailure> sensitivity(const Car& car, const Setup& setup, End end, bool put_back,
                                                  const std::function<bool()>& go_on, std::optional<PartHandle> only) {
  const auto base = evaluate(car, setup, {}, coarse_curve);
  if (!base) return tl::unexpected(base.error());
  Sensitivity s;
  for (const FigureSpec& f : geometry_figures())
    if (applies(f, car, end)) s.figures.push_back(&f);
  const CarTargets targets = targets_of(base->source.standing);
  for (const PartHandle i : car.adjusters_from_the_wheel(end)) {
    if (go_on && !go_on()) break;
    if (only && i != *only) continue;
    const Adjuster& a = car.adjusters[i];
    if (a.only_kept()) continue;
    SensitivityRow row;
    row.adjuster = i;
    Setup stepped = setup;
    Setting& value = stepped.of(i);
    row.step = a.stepped(value.left, 1) != value.left ? 1 : -1;
    for (const Side side : both_sides) value.on(side) = a.stepped(value.on(side), row.step);
    row.value = value.left;
    // A turnbuckle's own step would only be turned back.
    const bool turns = put_back && !(a.range() && a.range()->link && !a.steering);
    auto work = reset_where_it_sits(
        car, *base, stepped, targets,
        {.hold_camber = turns, .hold_toe = turns, .hold_caster = turns, .hold_ride_height = true, .step_turns = 0.0});
    row.possible = work.has_value();
    if (work) stepped = std::move(work->setup);
    const auto after = row.possible ? evaluate(car, stepped, {}, coarse_curve, {&*base})
                                    : tl::expected<Variant, CarFailure>(tl::unexpect, CarFailure{});
    row.possible = after.has_value();
    for (const FigureSpec* f : s.figures) {
      const auto x = f->read(base->source, end, Side::left);
      const auto y = after ? f->read(after->source, end, Side::left) : std::nullopt;
      row.change.push_back(x && y ? std::optional(difference(*f, *x, *y)) : std::nullopt);
    }
    s.rows.push_back(std::move(row));
  }
  return s;
}

}  // namespace lowkite
