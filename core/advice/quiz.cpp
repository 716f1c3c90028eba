#include "core/advice/quiz.hpp"

#include <cmath>
#include <random>

#include "core/plan/settling.hpp"

namespace lowkite {
Guess QuizQuestion::answer() const {
  if (std::abs(after - before) < figure->resolution()) return Guess::stays;
  return after > before ? Guess::rises : Guess::falls;
}

std::optional<QuizQuestion> ask_about(const Car& car, const Setup& setup, std::uint32_t seed) {
  std::mt19937 random(seed);
  const auto base = evaluate(car, setup, {}, coarse_curve);
  if (!base || car.adjusters.empty()) return std::nullopt;
  const CarTargets targets = targets_of(base->source.standing);
  const std::vector<const FigureSpec*> asked = flagged(geometry_figures(), in_quiz);
  for (int tries = 0; tries < 60; ++tries) {
    const PartHandle part(random() % car.adjusters.size());
    const Adjuster& a = car.adjusters[part];
    if (a.threaded() || a.steering || !a.moves_geometry()) continue;
    const auto others = a.values_besides(setup.of(part).left);
    if (others.empty()) continue;
    QuizQuestion q;
    q.adjuster = part;
    q.end = a.end;
    q.from = setup.of(part).left;
    q.to = others[random() % others.size()];
    Setup changed = setup;
    changed.of(part) = {q.to, q.to};
    auto work = reset_where_it_sits(car, *base, changed, targets, {.step_turns = 0.0});
    if (!work) continue;
    q.setup = std::move(work->setup);
    const auto after = evaluate(car, q.setup, {}, coarse_curve);
    if (!after) continue;
    const FigureSpec* figure = asked[random() % asked.size()];
    if (!applies(*figure, car, q.end)) continue;
    const auto x = figure->read(base->source, q.end, Side::left);
    const auto y = figure->read(after->source, q.end, Side::left);
    if (!x || !y) continue;
    q.figure = figure;
    q.before = *x;
    q.after = *y;
    // "Stays" is an answer, but not the usual one.
    if (q.answer() == Guess::stays && random() % 4 != 0) continue;
    return q;
  }
  return std::nullopt;
}

}  // namespace lowkite
