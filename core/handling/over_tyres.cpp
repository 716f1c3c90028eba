#include "core/handling/over_tyres.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

using F = HandlingFigure;
using Value = std::optional<double>;

constexpr double band = 0.1;  ///< left out at either end
constexpr double least_answers = 0.1;
constexpr double least_side = 0.1;  ///< of the tyres on either side of a split
constexpr double least_disagree = 0.08;
constexpr double least_explained = 0.12;

constexpr std::array figure_rows = std::to_array<HandlingFigureSpec>({
    {F::front_left, "front_left", marked("front grip left"), "%", 1, 0.25,
     marked("how much more the front could hold sideways than this corner asks of it"),
     [](const PhaseHandling& p) -> Value { return 100.0 * p.left[0]; }},
    {F::rear_left, "rear_left", marked("rear grip left"), "%", 1, 0.25,
     marked("how much more the rear could hold sideways than this corner asks of it"),
     [](const PhaseHandling& p) -> Value { return 100.0 * p.left[1]; }},
    {F::limit, "limit", marked("most lateral acceleration"), "g", 2, 0.003,
     marked("where the first end has nothing left, or the car leaves its wheels"),
     [](const PhaseHandling& p) -> Value { return p.limit_g; }},
    {F::steering, "steering", marked("steering needed"), "deg", 1, 0.05, marked("of the servo, from its middle"),
     [](const PhaseHandling& p) -> Value { return p.servo_deg; }},
    {F::understeer, "understeer", marked("understeer gradient"), "deg/g", 1, 0.1,
     marked("how much more servo the same radius takes as the car goes faster; negative: less, it turns in by itself"),
     [](const PhaseHandling& p) { return p.understeer_deg_per_g; }},
    {F::reaction, "reaction", marked("time to turn"), "ms", 0, 0.5,
     marked("until the car turns nine tenths as fast as a sudden turn of the servo asks"),
     [](const PhaseHandling& p) -> Value {
       return p.answers && p.answers->rise_s ? Value(1000.0 * *p.answers->rise_s) : std::nullopt;
     }},
    {F::margin, "margin", marked("static margin"), "%", 1, 0.1,
     marked("how far behind the centre of gravity a push would not turn the car, of the wheelbase; negative: it turns "
            "further "
            "in"),
     [](const PhaseHandling& p) -> Value {
       return p.answers ? Value(100.0 * p.answers->static_margin) : std::nullopt;
     }},
    {F::damping, "damping", marked("yaw damping"), "N mm s", 0, 0.5,
     marked("what holds the car back that turns faster than asked"),
     [](const PhaseHandling& p)
         -> Value { return p.answers ? Value(1000.0 * p.answers->yaw_damping_nms) : std::nullopt; }},
    {F::keeps, "keeps", marked("grip kept beyond its best"), "%", 1, 0.1,
     marked("of its most, what the end that lets go still holds six degrees further: how gently it lets go"),
     [](const PhaseHandling& p) -> Value { return 100.0 * p.keeps; }},
    {F::least_load, "least_load", marked("lightest wheel carries"), "g", 0, 1.0, marked("of the four"),
     [](const PhaseHandling& p) -> Value { return p.servo_deg ? Value(grams(p.least_load_n)) : std::nullopt; }},
});
static_assert(figure_rows.size() == handling_figure_count, "every figure has its row");

double weight_at(std::span<const double> weights, std::size_t i) {
  return weights.empty() ? 1.0 : weights[i];
}

Value read(const HandlingFigureSpec& f, CornerPhase phase, const std::optional<TyreHandling>& h) {
  return h ? f.read(h->phase[at(phase)]) : std::nullopt;
}

/// A value with the tyre that gave it.
struct Answer {
  double value = 0.0;
  double weight = 1.0;
  std::size_t tyre = 0;
};

/// Weighted quantile, in steps: a tyre's answer, not one between two of them.
double quantile(const std::vector<Answer>& sorted, double share, double total) {
  double sum = 0.0;
  for (const Answer& a : sorted) {
    sum += a.weight;
    if (sum >= share * total) return a.value;
  }
  return sorted.back().value;
}

std::optional<Spread> spread(std::vector<Answer>& answers, std::span<const double> weights, std::size_t all) {
  double total = 0.0;
  for (const Answer& a : answers) total += a.weight;
  double whole = 0.0;
  for (std::size_t i = 0; i < all; ++i) whole += weight_at(weights, i);
  if (answers.empty() || !(total >= least_answers * whole) || !(total > 0.0)) return std::nullopt;
  std::sort(answers.begin(), answers.end(), [](const Answer& a, const Answer& b) { return a.value < b.value; });
  return Spread{quantile(answers, 0.5, total), quantile(answers, band, total), quantile(answers, 1.0 - band, total),
                static_cast<int>(answers.size())};
}

/// Of more (+1), less (-1) and neither: the one cut through one property that leaves least disagreement.
std::optional<TyreSplit> split_of(std::vector<Answer> says, std::span<const TyreDraw> tyres) {
  double total = 0.0, sum = 0.0, squares = 0.0;
  for (const Answer& a : says) {
    total += a.weight;
    sum += a.weight * a.value;
    squares += a.weight * a.value * a.value;
  }
  const double disagreement = squares - sum * sum / total;
  if (!(disagreement > 1e-9 * total)) return std::nullopt;
  std::optional<TyreSplit> best;
  for (const TyreParameterSpec& spec : tyre_parameters()) {
    const auto property = [&](const Answer& a) { return tyres[a.tyre][spec.parameter]; };
    std::sort(says.begin(), says.end(), [&](const Answer& a, const Answer& b) { return property(a) < property(b); });
    double w = 0.0, s = 0.0;
    for (std::size_t i = 0; i + 1 < says.size(); ++i) {
      w += says[i].weight;
      s += says[i].weight * says[i].value;
      if (w < least_side * total || total - w < least_side * total || property(says[i]) == property(says[i + 1]))
        continue;
      const double between = s * s / w + (sum - s) * (sum - s) / (total - w) - sum * sum / total;
      const double explains = between / disagreement;
      if (best && explains <= best->explains) continue;
      TyreSplit t{spec.parameter, 0.5 * (property(says[i]) + property(says[i + 1])), 0.0, 0.0, explains};
      PerSide<double> more{}, any{};
      for (std::size_t k = 0; k < says.size(); ++k) {
        const std::size_t side = k <= i ? 0 : 1;
        if (says[k].value > 0.0) more[side] += says[k].weight;
        if (says[k].value != 0.0) any[side] += says[k].weight;
      }
      t.below = any[0] > 0.0 ? more[0] / any[0] : 0.5;
      t.above = any[1] > 0.0 ? more[1] / any[1] : 0.5;
      best = t;
    }
  }
  if (!best || best->explains < least_explained) return std::nullopt;
  return best;
}

std::vector<HandlingReason> reasons(const Handling& from, std::span<const TyreDraw> tyres, unsigned threads,
                                    const std::function<bool()>& go_on,
                                    const std::function<std::optional<SetupTable>(Channel)>& other, double sign) {
  std::vector<HandlingReason> found;
  for (int c = 0; c < channel_count; ++c) {
    const auto channel = static_cast<Channel>(c);
    const auto table = other(channel);
    if (!table) continue;
    const Handling moved = handling_over(*table, tyres, threads, go_on);
    if (go_on && !go_on()) return found;
    HandlingReason r{channel, {}};
    for (const CornerPhase phase : corner_phases)
      for (const HandlingFigureSpec& f : figure_rows)
        if (const auto d = difference_of(f, phase, from, moved, tyres))
          r.by[at(phase)][at(f.figure)] = sign * d->by.median;
    found.push_back(r);
  }
  return found;
}

}  // namespace

std::span<const HandlingFigureSpec> handling_figures() {
  return figure_rows;
}

const HandlingFigureSpec& spec_of(HandlingFigure figure) {
  return figure_rows[at(figure)];
}

const HandlingFigureSpec* find_handling_figure(std::string_view id) {
  for (const HandlingFigureSpec& f : figure_rows)
    if (f.id == id) return &f;
  return nullptr;
}

LimitBy limit_by(CornerPhase phase, const Handling& handling) {
  LimitBy by;
  for (const auto& h : handling) {
    if (!h) continue;
    const PhaseHandling& p = h->phase[at(phase)];
    ++(p.by_its_stand ? by.stand : p.lets_go == End::front ? by.front : by.rear);
  }
  return by;
}

std::optional<Spread> spread_of(const HandlingFigureSpec& figure, CornerPhase phase, const Handling& handling,
                                std::span<const double> weights) {
  std::vector<Answer> answers;
  for (std::size_t i = 0; i < handling.size(); ++i)
    if (const auto v = read(figure, phase, handling[i])) answers.push_back({*v, weight_at(weights, i), i});
  return spread(answers, weights, handling.size());
}

std::optional<HandlingDifference> difference_of(const HandlingFigureSpec& figure, CornerPhase phase,
                                                const Handling& before, const Handling& after,
                                                std::span<const TyreDraw> tyres, std::span<const double> weights) {
  std::vector<Answer> answers;
  for (std::size_t i = 0; i < before.size() && i < after.size(); ++i) {
    const auto a = read(figure, phase, before[i]);
    const auto b = read(figure, phase, after[i]);
    if (a && b) answers.push_back({*b - *a, weight_at(weights, i), i});
  }
  const auto s = spread(answers, weights, before.size());
  if (!s) return std::nullopt;
  HandlingDifference d;
  d.by = *s;
  double total = 0.0;
  for (Answer& a : answers) {
    total += a.weight;
    const double says = a.value >= figure.felt ? 1.0 : a.value <= -figure.felt ? -1.0 : 0.0;
    if (says > 0.0) d.more += a.weight;
    if (says < 0.0) d.less += a.weight;
    a.value = says;
  }
  d.more /= total;
  d.less /= total;
  if (std::min(d.more, d.less) >= least_disagree) d.split = split_of(std::move(answers), tyres);
  return d;
}

std::optional<DifferenceByTyre> difference_by_tyre(const HandlingFigureSpec& figure, CornerPhase phase,
                                                   const Handling& before, const Handling& after,
                                                   std::span<const TyreDraw> tyres) {
  DifferenceByTyre d;
  for (std::size_t i = 0; i < before.size() && i < after.size(); ++i) {
    const auto a = read(figure, phase, before[i]);
    const auto b = read(figure, phase, after[i]);
    if (a && b) d.points.push_back({0.0, *b - *a, i});
  }
  if (d.points.size() < 3) return std::nullopt;
  const auto correlation = [&](TyreParameter p) {
    double x = 0.0, y = 0.0, xx = 0.0, yy = 0.0, xy = 0.0;
    for (const auto& point : d.points) {
      const double v = tyres[point.tyre][p];
      x += v;
      y += point.by;
      xx += v * v;
      yy += point.by * point.by;
      xy += v * point.by;
    }
    const auto n = static_cast<double>(d.points.size());
    const double spread = (n * xx - x * x) * (n * yy - y * y);
    return spread > 0.0 ? (n * xy - x * y) / std::sqrt(spread) : 0.0;
  };
  const auto told = difference_of(figure, phase, before, after, tyres);
  if (told && told->split) {
    d.parameter = told->split->parameter;
  } else {
    double most = -1.0;
    for (const TyreParameterSpec& p : tyre_parameters())
      if (const double r = std::abs(correlation(p.parameter)); r > most) {
        most = r;
        d.parameter = p.parameter;
      }
  }
  d.goes_with = correlation(d.parameter);
  for (auto& point : d.points) point.property = tyres[point.tyre][d.parameter];
  return d;
}

std::vector<HandlingReason> reasons_for(const SetupTable& before, const SetupTable& after,
                                        std::span<const TyreDraw> tyres, unsigned threads,
                                        const std::function<bool()>& go_on) {
  const Handling from = handling_over(before, tyres, threads, go_on);
  return reasons(
      from, tyres, threads, go_on,
      [&](Channel c) -> std::optional<SetupTable> {
        if (!before.differs(c, after)) return std::nullopt;
        return before.with(c, after);
      },
      1.0);
}

std::vector<HandlingReason> worth_of(const SetupTable& table, std::span<const TyreDraw> tyres, unsigned threads,
                                     const std::function<bool()>& go_on) {
  const Handling is = handling_over(table, tyres, threads, go_on);
  return reasons(
      is, tyres, threads, go_on,
      [&](Channel c) -> std::optional<SetupTable> {
        if (c == Channel::weight) return std::nullopt;
        return table.without(c);
      },
      -1.0);
}

}  // namespace lowkite
