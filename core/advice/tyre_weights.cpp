#include "core/advice/tyre_weights.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>

#include <fmt/format.h>

#include "core/advice/score.hpp"
#include "core/log/run_comparison.hpp"
#include "core/threads/crew.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// Which computed figure a feeling is about, which way it counts, and how much of it can just be felt.
struct Felt {
  Sense sense;
  HandlingFigure figure;
  double way;   ///< +1: more of the feeling is more of the figure
  double just;  ///< in the figure's unit: a guess
};
constexpr std::array felt_rows{Felt{Sense::front_grip, HandlingFigure::front_left, 1.0, 0.3},
                               Felt{Sense::rear_grip, HandlingFigure::rear_left, 1.0, 0.3},
                               Felt{Sense::response, HandlingFigure::reaction, -1.0, 1.5}};

const Felt* row_of(Sense sense) {
  for (const Felt& f : felt_rows)
    if (f.sense == sense) return &f;
  return nullptr;
}

std::optional<CornerPhase> corner_phase(Phase phase) {
  switch (phase) {
    case Phase::braking:
    case Phase::entry:
      return CornerPhase::entry;
    case Phase::middle:
      return CornerPhase::middle;
    case Phase::exit:
      return CornerPhase::exit;
    case Phase::straight:
    case Phase::bumps:
    case Phase::jumps:
      return std::nullopt;
  }
  return std::nullopt;
}

/// The sum of what a run says of a sense in a phase of the corner; none: nothing.
std::optional<int> said(const Run& run, CornerPhase phase, Sense sense) {
  std::optional<int> sum;
  for (const Feeling& f : run.feelings)
    if (f.sense == sense && corner_phase(f.phase) == phase) sum = sum.value_or(0) + f.amount;
  return sum;
}

FeltSetups::ByTyre by_tyre(const HandlingFigureSpec& figure, CornerPhase phase, double unit, const Handling& handling) {
  FeltSetups::ByTyre all(handling.size());
  for (std::size_t i = 0; i < handling.size(); ++i) {
    if (!handling[i]) continue;
    if (const auto v = figure.read(handling[i]->phase[at(phase)])) all[i] = *v / unit;
  }
  return all;
}

FeltSetups::ByTyre moved_by(const FeltSetups::ByTyre& before, const FeltSetups::ByTyre& after) {
  FeltSetups::ByTyre moved(before.size());
  for (std::size_t i = 0; i < before.size(); ++i)
    if (before[i] && after[i]) moved[i] = *after[i] - *before[i];
  return moved;
}

/// Days since some day long ago; 0 where the text is no date.
double day_number(const std::string& date) {
  int y = 0, m = 0, d = 0;
  if (std::sscanf(date.c_str(), "%d-%d-%d", &y, &m, &d) != 3) return 0.0;
  // Howard Hinnant's days from civil (from memory).
  y -= m <= 2;
  const int era = y / 400;
  const int yoe = y - era * 400;
  const int doy = (153 * (m + (m > 2 ? -3 : 9)) + 2) / 5 + d - 1;
  const int in_era = yoe * 365 + yoe / 4 - yoe / 100 + doy;
  return era * 146097.0 + in_era;
}

double logistic(double x) {
  return 1.0 / (1.0 + std::exp(-x));
}

std::string what_differs(const Car& car, const Setup& a, const Setup& b) {
  std::string text;
  for (const PartHandle i : parts_changed(car, a, b)) text += (text.empty() ? "" : ", ") + car.adjusters[i].name;
  return text.empty() ? say("heights or links") : text;
}

}  // namespace

namespace {

/// By what a setup is known: all that moves a figure.
std::string key_of(const Setup& setup) {
  std::string key = fmt::format("{} {}", setup.ride_height_mm[0], setup.ride_height_mm[1]);
  for (const Setting& s : setup.values) key += fmt::format(" {} {}", s.left, s.right);
  return key;
}

}  // namespace

FeltSetups::Wanted FeltSetups::Wanted::beyond(const Wanted& known) const {
  Wanted lacks{{}, limit && !known.limit};
  for (std::size_t i = 0; i < phase_count; ++i) lacks.phases[i] = phases[i] && !known.phases[i];
  return lacks;
}

std::shared_ptr<const FeltSetups::Felt> FeltSetups::felt(const Setup& setup, const Wanted& wanted,
                                                         const std::shared_ptr<const Felt>& known,
                                                         const std::function<bool()>& go_on) const {
  auto felt = known ? std::make_shared<Felt>(*known) : std::make_shared<Felt>();
  const Wanted lacks = wanted.beyond(felt->known);
  constexpr auto middle = at(CornerPhase::middle);
  auto phases = lacks.phases;
  phases[middle] = phases[middle] || lacks.limit;
  PhaseReach reach = reach_without_limits(ask_);
  for (std::size_t i = 0; i < phase_count; ++i)
    if (!phases[i]) reach[i] = 0.0;
  if (lacks.limit) reach[middle] = to_the_end;
  const auto table = tabulate(*car_, setup, ask_, 1, reach);
  for (const CornerPhase phase : corner_phases) {
    const auto in = at(phase);
    if (!phases[in]) continue;
    const bool limit = phase == CornerPhase::middle && lacks.limit;
    for (std::size_t f = 0; f < felt_rows.size(); ++f) felt->figure[f][in].assign(tyres_.size(), std::nullopt);
    if (limit) felt->limit_g.assign(tyres_.size(), std::nullopt);
    for (std::size_t i = 0; table && i < tyres_.size(); ++i) {
      if (go_on && !go_on()) return nullptr;
      const auto handling = phase_on(*table, tyres_[i], phase, limit);
      if (!handling) continue;
      for (std::size_t f = 0; f < felt_rows.size(); ++f)
        if (const auto v = spec_of(felt_rows[f].figure).read(*handling))
          felt->figure[f][in][i] = *v / felt_rows[f].just;
      if (limit) felt->limit_g[i] = handling->limit_g;
    }
    felt->known.phases[in] = true;
    felt->known.limit = felt->known.limit || limit;
  }
  return felt;
}

bool FeltSetups::work_out(const std::vector<std::pair<Setup, Wanted>>& setups, unsigned threads,
                          const std::function<bool(double)>& go_on) {
  struct Task {
    const Setup* setup;
    Wanted wanted;
  };
  std::map<std::string, Task> tasks;
  for (const auto& [setup, wanted] : setups) {
    const auto [task, fresh] = tasks.try_emplace(key_of(setup), Task{&setup, wanted});
    if (fresh) continue;
    Wanted& all = task->second.wanted;
    for (std::size_t i = 0; i < phase_count; ++i) all.phases[i] = all.phases[i] || wanted.phases[i];
    all.limit = all.limit || wanted.limit;
  }
  if (tasks.empty()) return true;
  std::mutex hands;  // of the tasks and of `go_on`
  auto next = tasks.begin();
  std::size_t done = 0;
  std::atomic<bool> stopped = false;
  by_hands(threads, [&](unsigned) {
    for (;;) {
      auto mine = tasks.end();
      {
        const std::lock_guard lock(hands);
        if (!stopped && go_on && !go_on(static_cast<double>(done) / static_cast<double>(tasks.size()))) stopped = true;
        if (stopped || next == tasks.end()) return;
        mine = next++;
      }
      const auto& [key, task] = *mine;
      std::shared_ptr<const Felt> known;
      {
        const std::lock_guard lock(mutex_);
        if (const auto found = known_.find(key); found != known_.end()) known = found->second;
      }
      if (!known || task.wanted.beyond(known->known).any()) {
        known = felt(*task.setup, task.wanted, known, [&] { return !stopped; });
        if (!known) return;
        const std::lock_guard lock(mutex_);
        known_[key] = known;
      }
      const std::lock_guard lock(hands);
      ++done;
    }
  });
  return !stopped;
}

std::shared_ptr<const FeltSetups::Felt> FeltSetups::of(const Setup& setup) const {
  const std::lock_guard lock(mutex_);
  const auto found = known_.find(key_of(setup));
  return found == known_.end() ? nullptr : found->second;
}

std::size_t FeltSetups::worked_out() const {
  const std::lock_guard lock(mutex_);
  return known_.size();
}

std::optional<TyreEvidence> tyre_evidence(const std::vector<LoggedDay>& days, const Car& car, Surface surface,
                                          const std::string& compound, const CornerAsk& ask,
                                          std::span<const TyreDraw> tyres, unsigned threads,
                                          const std::function<bool(double)>& go_on) {
  FeltSetups setups({&car, [](const Car*) {}}, ask, {tyres.begin(), tyres.end()});
  return tyre_evidence(days, surface, compound, setups, threads, go_on);
}

std::optional<TyreEvidence> tyre_evidence(const std::vector<LoggedDay>& days, Surface surface,
                                          const std::string& compound, FeltSetups& setups, unsigned threads,
                                          const std::function<bool(double)>& go_on) {
  const Car& car = setups.car();
  struct Word {
    CornerPhase phase;
    std::size_t row;  ///< of what is felt
    int by;
  };
  struct Pair {
    const LoggedDay* day;
    const RunRecord *before, *after;
    Setup from, to;
    std::vector<Word> words{};
    LapVerdict laps = LapVerdict::cannot_be_told;
  };
  std::vector<Pair> pairs;
  double newest = 0.0;
  for (const LoggedDay& day : days) {
    if (surface != Surface::unknown && day.day.surface != surface) continue;
    std::optional<Setup> before;
    const RunRecord* last = nullptr;
    for (const RunRecord& record : day.runs) {
      if (record.run.car_id != car.id) continue;
      auto after = setup_of(record.run, car);
      const bool ours = compound.empty() || record.run.tyres.find(compound) != std::string::npos;
      if (before && after && last && ours && before->values != after->values && last->run.tyres == record.run.tyres &&
          record.run.broke.empty()) {
        pairs.push_back({&day, last, &record, *before, *after});
        newest = std::max(newest, day_number(day.day.date));
      }
      before = std::move(after);
      last = &record;
    }
  }
  std::vector<std::pair<Setup, FeltSetups::Wanted>> wanted;
  for (Pair& p : pairs) {
    FeltSetups::Wanted w;
    for (const CornerPhase phase : corner_phases)
      for (std::size_t row = 0; row < felt_rows.size(); ++row) {
        const auto a = said(p.before->run, phase, felt_rows[row].sense);
        const auto b = said(p.after->run, phase, felt_rows[row].sense);
        // Nothing said of it in either run says nothing; a fault that is gone was not said again.
        if (!a && !b) continue;
        p.words.push_back({phase, row, b.value_or(0) - a.value_or(0)});
        w.phases[at(phase)] = true;
      }
    p.laps = laps_say(*p.before, *p.after);
    w.limit = p.laps != LapVerdict::cannot_be_told;
    if (p.words.empty() && !w.limit) continue;
    wanted.emplace_back(p.from, w);
    wanted.emplace_back(p.to, w);
  }
  if (!setups.work_out(wanted, threads, go_on)) return std::nullopt;
  TyreEvidence evidence;
  for (const Pair& p : pairs) {
    const bool by_laps = p.laps != LapVerdict::cannot_be_told;
    if (p.words.empty() && !by_laps) continue;
    ++evidence.pairs;
    const auto before = setups.of(p.from);
    const auto after = setups.of(p.to);
    const double days_ago = std::max(0.0, newest - day_number(p.day->day.date));
    for (const Word& word : p.words) {
      const Felt& f = felt_rows[word.row];
      FeltChange c;
      c.before = p.before->run.id;
      c.after = p.after->run.id;
      c.date = p.day->day.date;
      c.what = what_differs(car, p.from, p.to);
      c.phase = word.phase;
      c.figure = f.figure;
      c.felt = static_cast<int>(std::copysign(1.0, f.way)) * (word.by > 0 ? 1 : word.by < 0 ? -1 : 0);
      c.days_ago = days_ago;
      const auto in = at(word.phase);
      c.moved = moved_by(before->figure[word.row][in], after->figure[word.row][in]);
      evidence.felt.push_back(std::move(c));
    }
    if (by_laps)
      evidence.laps.push_back({p.laps == LapVerdict::faster, days_ago, moved_by(before->limit_g, after->limit_g)});
  }
  return evidence;
}

TyreWeights weigh_tyres(const TyreEvidence& evidence, std::size_t tyres, const FeelingTrust& trust) {
  constexpr double steep = 2.5;
  constexpr double lap_unit_g = 0.005;
  const auto fades = [&](double days) { return std::pow(0.5, days / trust.half_life_days); };
  TyreWeights w;
  w.pairs = evidence.pairs;
  w.felt = static_cast<int>(evidence.felt.size());
  if (tyres == 0) return w;
  // By how often feelings mean nothing: what each tyre makes of the log then. How often that is, every word says for
  // itself; which tyre it is, words about one change say together.
  std::vector<double> weight(tyres, 0.0);
  std::vector<std::vector<double>> by_rate;
  std::vector<double> evidence_of;
  for (const double wrong : trust.wrong_share) {
    std::vector<double> logs(tyres, 0.0), whole(tyres, 0.0);
    for (const FeltChange& c : evidence.felt) {
      const double fading = fades(c.days_ago);
      for (std::size_t i = 0; i < tyres && i < c.moved.size(); ++i) {
        if (!c.moved[i]) continue;
        const double up = logistic(steep * (*c.moved[i] - 0.5 * trust.certain_at));
        const double down = logistic(steep * (-*c.moved[i] - 0.5 * trust.certain_at));
        const double same = std::max(0.0, 1.0 - up - down);
        const double agrees = c.felt > 0 ? up : c.felt < 0 ? down : same;
        const double says = fading * std::log((1.0 - wrong) * agrees + wrong / 3.0);
        whole[i] += says;
        logs[i] += trust.word_counts * says;
      }
    }
    const auto likely = [&](std::vector<double>& l) {
      const double top = *std::max_element(l.begin(), l.end());
      double sum = 0.0;
      for (double& one : l) sum += one = std::exp(one - top);
      for (double& one : l) one /= sum;
      return top + std::log(sum);
    };
    evidence_of.push_back(likely(whole));
    likely(logs);
    by_rate.push_back(std::move(logs));
  }
  const auto likeliest = std::max_element(evidence_of.begin(), evidence_of.end());
  w.wrong_share = trust.wrong_share[at(likeliest - evidence_of.begin())];
  for (std::size_t r = 0; r < by_rate.size(); ++r)
    for (std::size_t i = 0; i < tyres; ++i) weight[i] += std::exp(evidence_of[r] - *likeliest) * by_rate[r][i];
  std::vector<double> logs(tyres, 0.0);
  for (std::size_t i = 0; i < tyres; ++i) logs[i] = std::log(weight[i]);
  for (const LapWord& l : evidence.laps) {
    const double share = fades(l.days_ago);
    for (std::size_t i = 0; i < tyres && i < l.limit_moved.size(); ++i)
      if (l.limit_moved[i])
        logs[i] += share *
                   std::log(0.5 + trust.lap_word * (l.faster ? 1.0 : -1.0) * std::tanh(*l.limit_moved[i] / lap_unit_g));
  }
  const double most = *std::max_element(logs.begin(), logs.end());
  double sum = 0.0, squares = 0.0;
  const auto weigh = [&](double sharp) {
    w.weight.clear();
    sum = squares = 0.0;
    for (const double l : logs) {
      w.weight.push_back(std::exp(sharp * (l - most)));
      sum += w.weight.back();
      squares += w.weight.back() * w.weight.back();
    }
    return sum * sum / squares;
  };
  double sharp = 1.0;
  for (int i = 0; i < 40 && weigh(sharp) < std::min(trust.least_left, 0.99 * static_cast<double>(tyres)); ++i)
    sharp *= 0.85;
  for (double& one : w.weight) one *= static_cast<double>(tyres) / sum;
  w.left = squares > 0.0 ? sum * sum / squares : 0.0;
  return w;
}

std::vector<LearnedProperty> learned(std::span<const TyreDraw> tyres, const TyreWeights& weights) {
  std::vector<LearnedProperty> all;
  std::vector<std::size_t> order(tyres.size());
  for (const TyreParameterSpec& spec : tyre_parameters()) {
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::sort(order.begin(), order.end(),
              [&](std::size_t a, std::size_t b) { return tyres[a][spec.parameter] < tyres[b][spec.parameter]; });
    const auto spread = [&](bool weighed) {
      const auto at_share = [&](double share) {
        double sum = 0.0;
        for (const std::size_t i : order) {
          sum += weighed ? weights.weight[i] : 1.0;
          if (sum >= share * static_cast<double>(tyres.size()) - 1e-9) return tyres[i][spec.parameter];
        }
        return tyres[order.back()][spec.parameter];
      };
      return Spread{at_share(0.5), at_share(0.1), at_share(0.9), static_cast<int>(tyres.size())};
    };
    all.push_back({spec.parameter, spread(false), spread(true)});
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const LearnedProperty& a, const LearnedProperty& b) { return a.narrower() > b.narrower(); });
  return all;
}

std::optional<ModelVoice> model_voice(std::span<const Feeling> felt, const Handling& before, const Handling& after,
                                      std::span<const TyreDraw> tyres, std::span<const double> weights) {
  ModelVoice voice;
  double total = 0.0;
  std::vector<double> towards(tyres.size(), 0.0);
  for (const Feeling& f : felt) {
    const Felt* row = row_of(f.sense);
    const auto phase = corner_phase(f.phase);
    if (!row || !phase || f.amount == 0) continue;
    ++voice.asked;
    const auto moved = moved_by(by_tyre(spec_of(row->figure), *phase, row->just, before),
                                by_tyre(spec_of(row->figure), *phase, row->just, after));
    // What lacks is to grow, what is too much is to shrink.
    const double wanted = f.amount < 0 ? row->way : -row->way;
    for (std::size_t i = 0; i < tyres.size(); ++i)
      if (moved[i]) towards[i] += std::abs(f.amount) * wanted * std::clamp(*moved[i], -3.0, 3.0);
  }
  if (voice.asked == 0) return std::nullopt;
  constexpr double felt_at = 0.5;
  for (std::size_t i = 0; i < tyres.size(); ++i) {
    const double w = weights.empty() ? 1.0 : weights[i];
    total += w;
    if (towards[i] >= felt_at) voice.mends += w;
    if (towards[i] <= -felt_at) voice.worsens += w;
  }
  voice.mends /= total;
  voice.worsens /= total;
  return voice;
}

}  // namespace lowkite
