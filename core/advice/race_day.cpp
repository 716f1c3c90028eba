#include "core/advice/race_day.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double agreed_share = 0.6;
constexpr std::size_t few_changes = 4;

double likeness_of(const Day& day, const DayAhead& ahead, std::vector<std::string>& reasons) {
  double like = 0.3;
  reasons.push_back(say("On {}, as then.", word(label_in(surfaces(), day.surface))));
  if (!ahead.track.empty() && day.track == ahead.track) {
    like += 0.3;
    reasons.push_back(say("The same track, {}.", day.track));
  }
  if (ahead.grip != Grip::unknown && day.grip != Grip::unknown) {
    const int apart = std::abs(static_cast<int>(day.grip) - static_cast<int>(ahead.grip));
    like += apart == 0 ? 0.25 : apart == 1 ? 0.1 : 0.0;
    reasons.push_back(apart == 0 ? say("{} then too.", word(label_in(grips(), day.grip)))
                                 : say("{} then.", word(label_in(grips(), day.grip))));
  }
  if (ahead.ground_celsius && day.ground_celsius) {
    const double apart = std::abs(*ahead.ground_celsius - *day.ground_celsius);
    like += 0.15 * std::exp(-apart / 8.0);
    reasons.push_back(say("The track had {:.0f} deg C.", *day.ground_celsius));
  }
  for (std::string& r : reasons) r[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(r[0])));
  return like;
}

/// Some stack of shims under a ball, if there is one.
PartHandle any_ball(const Car& car) {
  for (const PartHandle i : car.adjusters.handles())
    if (const Adjuster& a = car.adjusters[i]; a.kind == AdjusterKind::shim_stack && !a.range()->moves_per_unit.empty())
      return i;
  return {};
}

std::string part_name(const Adjuster& a) {
  return fmt::format("{}: {}", a.end == End::front ? say("Front") : say("Rear"), a.name);
}

}  // namespace

std::vector<StartProposal> starting_setups(const std::vector<LoggedDay>& days, const Car& car, const DayAhead& ahead,
                                           std::size_t most, const LapRule& rule) {
  std::vector<StartProposal> found;
  const Setup kit = kit_setup(car);
  for (const LoggedDay& d : days) {
    if (ahead.surface == Surface::unknown || d.day.surface != ahead.surface) continue;
    double best = 0.0;
    for (const RunRecord& r : d.runs)
      if (const auto f = lap_figures(r.laps, rule); f && r.run.car_id == car.id && f->counted >= few_laps)
        best = best == 0.0 ? f->median_s : std::min(best, f->median_s);
    for (const RunRecord& r : d.runs) {
      auto setup = setup_of(r.run, car);
      const auto f = lap_figures(r.laps, rule);
      if (!setup || !f || f->counted < few_laps) continue;
      StartProposal p;
      p.setup = std::move(*setup);
      p.run = r.run.id;
      p.date = d.day.date;
      p.likeness = likeness_of(d.day, ahead, p.reasons);
      p.slower = f->median_s / best - 1.0;
      p.reasons.push_back(p.slower < 1e-9
                              ? say("The quickest of the car's runs that day.")
                              : say("{:.1f} % slower than the car's quickest run that day.", 100.0 * p.slower));
      if (r.run.verdict == Verdict::better) p.reasons.emplace_back(say("You called it better than the run before."));
      if (r.run.verdict == Verdict::worse) p.reasons.emplace_back(say("You called it worse than the run before."));
      found.push_back(std::move(p));
    }
  }
  const auto rank = [](const StartProposal& p) { return p.likeness * std::exp(-30.0 * p.slower); };
  std::stable_sort(found.begin(), found.end(),
                   [&](const StartProposal& a, const StartProposal& b) { return rank(a) > rank(b); });
  const auto same_car = [](const Setup& a, const Setup& b) {
    return a.values == b.values && a.ride_height_mm == b.ride_height_mm;
  };
  std::vector<StartProposal> list;
  for (const StartProposal& p : found) {
    if (list.size() >= most) break;
    if (std::none_of(list.begin(), list.end(), [&](const StartProposal& o) { return same_car(o.setup, p.setup); }))
      list.push_back(p);
  }
  // The other school: the kit, with what most of the good runs on such days have alike.
  StartProposal first;
  first.from = StartProposal::From::kit_first;
  first.setup = kit;
  first.setup.name = say("Kit, few changes");
  const std::size_t looked_at = std::min<std::size_t>(found.size(), 8);
  std::vector<std::pair<double, PartHandle>> agreed;
  for (const PartHandle i : car.adjusters.handles()) {
    if (looked_at < 2) break;
    std::map<double, int> votes;
    for (std::size_t k = 0; k < looked_at; ++k)
      if (found[k].setup.values[i].left == found[k].setup.values[i].right && !car.adjusters[i].threaded())
        ++votes[found[k].setup.values[i].left];
    for (const auto& [value, n] : votes) {
      const double share = static_cast<double>(n) / static_cast<double>(looked_at);
      if (value != car.adjusters[i].kit && share >= agreed_share) agreed.emplace_back(share, i);
    }
  }
  std::stable_sort(agreed.begin(), agreed.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  if (agreed.size() > few_changes) agreed.resize(few_changes);
  first.reasons.emplace_back(say("The other school: the kit setting, and few changes from it."));
  for (const auto& [share, i] : agreed) {
    const Adjuster& a = car.adjusters[i];
    for (std::size_t k = 0; k < looked_at; ++k)
      if (const Setting& s = found[k].setup.values[i]; s.left == s.right && s.left != a.kit) {
        first.setup.values[i] = s;
        break;
      }
    first.reasons.push_back(say("{part}: {share:.0f} % of the runs on such days have it so.", "part"_a = part_name(a),
                                "share"_a = 100.0 * share));
  }
  list.push_back(std::move(first));
  return list;
}

std::vector<PackLine> packing_list(const Car& car, const Setup& on_the_car, const std::vector<Setup>& plans,
                                   const std::optional<Boxes>& boxes) {
  std::optional<Stock> stock;
  if (boxes) stock.emplace(*boxes, car, on_the_car);
  std::vector<PackLine> lines;
  std::map<std::pair<PartHandle, double>, PackLine> shims;  // of one part alone, or (none) of any
  for (const Setup& plan : plans) {
    std::map<std::pair<PartHandle, double>, int> needed;
    std::map<std::string, int> missing_of_plan;  // by line
    // What one part of the plan lacks is told there, and not once more at the next part that takes the same.
    std::vector<Lack> lacks = stock ? stock->lacks(plan) : std::vector<Lack>{};
    for (const PartHandle adjuster : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[adjuster];
      const int sides = pieces_for(car, adjuster);
      for (int s = 0; s < sides; ++s) {
        const Side side = s == 0 ? Side::left : Side::right;
        const double now = on_the_car.of(adjuster).on(side);
        const double then = plan.of(adjuster).on(side);
        if (std::abs(now - then) < 1e-9 || a.threaded()) continue;
        if (a.kind == AdjusterKind::shim_stack) {
          // What comes off the car may be used elsewhere; rings that are no shims only in their own place.
          const PartHandle heap = a.range()->moves_per_unit.empty() ? adjuster : PartHandle();
          for (const double shim : shims_for(then, a.range()->shims_mm)) ++needed[{heap, shim}];
          for (const double shim : shims_for(now, a.range()->shims_mm)) --needed[{heap, shim}];
          continue;
        }
        if (a.kind == AdjusterKind::hole || a.kind == AdjusterKind::spline || !a.positions()) continue;
        const int position = static_cast<int>(std::lround(then));
        const auto takes = box_place(car, adjuster);
        if (takes && is_nothing(piece_at(car, adjuster, position))) continue;
        const std::string what = fmt::format("{}, {}", part_name(a), word(a.positions()->list[at(position)].label));
        auto line = std::find_if(lines.begin(), lines.end(), [&](const PackLine& l) { return l.what == what; });
        if (line == lines.end()) line = lines.insert(lines.end(), {what, 0, {}, {}});
        if (std::find(line->why.begin(), line->why.end(), plan.name) == line->why.end()) line->why.push_back(plan.name);
        line->count = std::max(line->count, s + 1);
        if (!stock || !stock->counts(adjuster)) continue;
        line->missing = line->missing.value_or(0);
        const BoxItem piece = piece_at(car, adjuster, position);
        for (Lack& l : lacks)
          if (l.count > 0 && alike(l.piece, piece) && (l.piece.part.empty() || l.piece.part == a.id)) {
            if (!a.poured()) --l.count;  // one bottle does for both ends
            ++missing_of_plan[what];
            break;
          }
        line->missing = std::max(*line->missing, missing_of_plan[what]);
      }
    }
    for (const auto& [key, n] : needed) {
      if (n <= 0) continue;
      const auto& [heap, shim] = key;
      const std::string what =
          heap ? say("{part}, {shim:g} mm", "part"_a = part_name(car.adjusters[heap]), "shim"_a = shim)
               : say("shim {:g} mm", shim);
      PackLine& line = shims.try_emplace(key, PackLine{what, 0, {}, {}}).first->second;
      line.count = std::max(line.count, n);
      line.why.push_back(plan.name);
      if (!stock) continue;
      const PartHandle asked = heap ? heap : any_ball(car);
      if (!asked || !stock->counts(asked)) continue;
      line.missing = line.missing.value_or(0);
      for (const Lack& l : lacks)
        if (l.piece.kind == BoxKind::shim && std::abs(l.piece.value - shim) < 1e-6 && l.adjuster == heap)
          line.missing = std::max(*line.missing, l.count);
    }
  }
  for (auto& [key, line] : shims) lines.push_back(std::move(line));
  return lines;
}

std::vector<Purchase> what_to_buy(const Car& car, const Setup& on_the_car, const std::vector<Setup>& plans,
                                  const Boxes& boxes) {
  const Stock stock(boxes, car, on_the_car);
  std::vector<std::pair<std::string, std::vector<Lack>>> missing;
  for (const Setup& plan : plans)
    if (auto lacks = stock.lacks(plan); !lacks.empty()) missing.emplace_back(plan.name, std::move(lacks));
  std::vector<Purchase> list;
  for (const auto& [name, lacks] : missing) {
    const bool known = std::any_of(list.begin(), list.end(), [&, &lacks = lacks](const Purchase& p) {
      return covers(p.lacks, lacks) && covers(lacks, p.lacks);
    });
    if (known) continue;
    Purchase p;
    p.lacks = lacks;
    for (const auto& [other, others] : missing) {
      if (covers(p.lacks, others))
        p.opens.push_back(other);
      else if (std::any_of(others.begin(), others.end(), [&](const Lack& l) { return covers(p.lacks, {l}); }))
        p.helps.push_back(other);
    }
    list.push_back(std::move(p));
  }
  std::stable_sort(list.begin(), list.end(), [](const Purchase& a, const Purchase& b) {
    if (a.opens.size() != b.opens.size()) return a.opens.size() > b.opens.size();
    if (a.helps.size() != b.helps.size()) return a.helps.size() > b.helps.size();
    return pieces_in(a.lacks) < pieces_in(b.lacks);
  });
  return list;
}

}  // namespace lowkite
