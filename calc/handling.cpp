// What the driver will feel: one setup over many tyres, or two over the same ones.
#include <algorithm>
#include <cmath>
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "calc/tyres.hpp"
#include "core/handling/over_tyres.hpp"
#include "core/io/json_document.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

constexpr std::size_t reason_tyres = 64;

std::string in_words(const TyreSplit& s) {
  const TyreParameterSpec& p = spec_of(s.parameter);
  return say("above {threshold:.{decimals}f}{space}{unit} of {figure}: more for {more:.0f} %, below: for {less:.0f} %",
             "threshold"_a = s.at, "decimals"_a = p.decimals, "space"_a = p.unit.empty() ? "" : " ", "unit"_a = p.unit,
             "figure"_a = word(p.label), "more"_a = 100.0 * s.above, "less"_a = 100.0 * s.below);
}

Json json_of(const std::vector<HandlingReason>& reasons) {
  Json j = Json::object();
  for (const HandlingReason& r : reasons)
    for (const CornerPhase phase : corner_phases)
      for (const HandlingFigureSpec& f : handling_figures())
        if (const auto& by = r.by[at(phase)][at(f.figure)])
          j[std::string(label_of(r.channel))][std::string(name_of(phase))][std::string(f.id)] = *by;
  return j;
}

void print_reasons(const std::vector<HandlingReason>& reasons, const std::string& heading) {
  std::cout << "\n" << heading << say(", front and rear grip left at entry, in the middle, at exit, in %\n");
  for (const HandlingReason& r : reasons) {
    std::cout << fmt::format("  {:<28}", word(label_of(r.channel)));
    for (const auto& phase : r.by)
      std::cout << fmt::format("  {:+6.2f} {:+6.2f}", phase[at(HandlingFigure::front_left)].value_or(0.0),
                               phase[at(HandlingFigure::rear_left)].value_or(0.0));
    std::cout << "\n";
  }
}

}  // namespace

int handling(const HandlingOptions& options) {
  const auto found = tyres_of(options.over);
  if (!found) return refuse(found.error());
  const TyreFamily& family = found->family;
  const std::vector<TyreDraw>& tyres = found->draws;
  const CornerAsk& ask = options.over.ask;
  const auto files = load(options.inputs);
  if (!files) return refuse(files.error());
  std::vector<Setup> setups{files->setup};
  if (!options.changed.empty()) {
    const auto changed = load({options.inputs.car, options.changed});
    if (!changed) return refuse(changed.error());
    setups.push_back(changed->setup);
  }
  std::vector<SetupTable> tables;
  std::vector<Handling> over;
  for (const Setup& setup : setups) {
    auto table = tabulate(files->car, setup, ask);
    if (!table)
      return refuse({fault_of(options.inputs, "", table.error().message, say("a car that stands and turns"))});
    over.push_back(handling_over(*table, tyres));
    tables.push_back(std::move(*table));
  }
  const bool text = options.format != Format::json;
  Json out{{"tyres", family.id}, {"count", usual_draws}};
  if (text)
    std::cout << say(
        "{car} - {setup}{against}\n{tyres} tyres of the family {family}; a {way} turn of {radius:.1f} m, {lateral:.2f} "
        "g, entry braking {braking:.2f} g, exit on power "
        "{power:.2f} g\n",
        "car"_a = files->car.name, "setup"_a = setups[0].name,
        "against"_a = setups.size() > 1 ? say(" against {}", setups[1].name) : "", "tyres"_a = usual_draws,
        "family"_a = word(family.name), "way"_a = ask.to_the_left ? say("left") : say("right"),
        "radius"_a = ask.radius_m, "lateral"_a = ask.lateral_g, "braking"_a = ask.braking_g, "power"_a = ask.power_g);
  for (const CornerPhase phase : corner_phases) {
    if (text) std::cout << "\n" << word(phase) << "\n";
    for (const HandlingFigureSpec& f : handling_figures()) {
      Json& j = out["phases"][std::string(name_of(phase))][std::string(f.id)];
      const auto s = spread_of(f, phase, over[0]);
      j["setup"] = s ? json_of(*s) : Json();
      if (text)
        std::cout
            << (s ? say("  {figure:<26} {median:8.{decimals}f} {unit:<7} ({low:.{decimals}f} to {high:.{decimals}f})",
                        "figure"_a = word(f.label), "median"_a = s->median, "decimals"_a = f.decimals,
                        "unit"_a = f.unit, "low"_a = s->low, "high"_a = s->high)
                  : say("  {:<26} cannot be told", word(f.label)));
      if (setups.size() > 1) {
        const auto d = difference_of(f, phase, over[0], over[1], tyres);
        j["change"] = d ? json_of(*d) : Json();
        if (text && d) {
          std::cout << say(
              "  {by:+.{decimals}f} ({low:+.{decimals}f} to {high:+.{decimals}f}), more for {more:.0f}, less for "
              "{less:.0f}",
              "by"_a = d->by.median, "decimals"_a = f.decimals + 1, "low"_a = d->by.low, "high"_a = d->by.high,
              "more"_a = std::round(usual_draws * d->more), "less"_a = std::round(usual_draws * d->less));
          if (d->split) std::cout << "\n      " << in_words(*d->split);
        }
      }
      if (text) std::cout << "\n";
    }
  }
  for (const CornerPhase phase : corner_phases) {
    const LimitBy by = limit_by(phase, over[0]);
    out["phases"][std::string(name_of(phase))]["limit"]["by"] = {
        {"front", by.front}, {"rear", by.rear}, {"stand", by.stand}};
    if (text)
      std::cout << say(
          "{gap}at the limit, {phase}: the front lets go first on {front} of {tyres} tyres, the rear on {rear}{away}\n",
          "gap"_a = phase == corner_phases.front() ? "\n" : "", "phase"_a = word(phase), "front"_a = by.front,
          "tyres"_a = by.tyres(), "rear"_a = by.rear,
          "away"_a = by.stand > 0 ? say("; on {} the car leaves its wheels before", by.stand) : "");
  }
  const auto few = std::span(tyres).first(reason_tyres);
  const auto reasons = setups.size() > 1 ? reasons_for(tables[0], tables[1], few) : worth_of(tables[0], few);
  out[setups.size() > 1 ? "reasons" : "worth"] = json_of(reasons);
  if (text) {
    print_reasons(reasons,
                  setups.size() > 1 ? say("by what it reaches the tyres") : say("what each is worth to this setup"));
    std::cout << say(
        "\nSteady states over assumed tyres; no lap time follows. The assumptions: data/tyres/tyres.json\n");
  } else {
    std::cout << out.dump(2) << "\n";
  }
  return done;
}

}  // namespace lowkite::calc
