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
  return say("above {:.{}f}{}{} of {}: more for {:.0f} %, below: for {:.0f} %", s.at, p.decimals,
             p.unit.empty() ? "" : " ", p.unit, word(p.label), 100.0 * s.above, 100.0 * s.below);
}

Json json_of(const std::vector<HandlingReason>& reasons) {
  Json j = Json::object();
  for (const HandlingReason& r : reasons)
    for (const CornerPhase phase : corner_phases)
      for (const HandlingFigureSpec& f : handling_figures())
        if (const auto& by = r.by[static_cast<std::size_t>(phase)][static_cast<std::size_t>(f.figure)])
          j[std::string(label_of(r.channel))][std::string(name_of(phase))][std::string(f.id)] = *by;
  return j;
}

void print_reasons(const std::vector<HandlingReason>& reasons, const std::string& heading) {
  std::cout << "\n" << heading << say(", front and rear grip left at entry, in the middle, at exit, in %\n");
  for (const HandlingReason& r : reasons) {
    std::cout << fmt::format("  {:<28}", word(label_of(r.channel)));
    for (const auto& phase : r.by)
      std::cout << fmt::format("  {:+6.2f} {:+6.2f}",
                               phase[static_cast<std::size_t>(HandlingFigure::front_left)].value_or(0.0),
                               phase[static_cast<std::size_t>(HandlingFigure::rear_left)].value_or(0.0));
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
        "{} - {}{}\n{} tyres of the family {}; a {} turn of {:.1f} m, {:.2f} g, entry braking {:.2f} g, exit on power "
        "{:.2f} g\n",
        files->car.name, setups[0].name, setups.size() > 1 ? say(" against {}", setups[1].name) : "", usual_draws,
        word(family.name), ask.to_the_left ? say("left") : say("right"), ask.radius_m, ask.lateral_g, ask.braking_g,
        ask.power_g);
  for (const CornerPhase phase : corner_phases) {
    if (text) std::cout << "\n" << word(phase) << "\n";
    for (const HandlingFigureSpec& f : handling_figures()) {
      Json& j = out["phases"][std::string(name_of(phase))][std::string(f.id)];
      const auto s = spread_of(f, phase, over[0]);
      j["setup"] = s ? json_of(*s) : Json();
      if (text)
        std::cout << (s ? say("  {:<26} {:8.{}f} {:<7} ({:.{}f} to {:.{}f})", word(f.label), s->median, f.decimals,
                              f.unit, s->low, f.decimals, s->high, f.decimals)
                        : say("  {:<26} cannot be told", word(f.label)));
      if (setups.size() > 1) {
        const auto d = difference_of(f, phase, over[0], over[1], tyres);
        j["change"] = d ? json_of(*d) : Json();
        if (text && d) {
          std::cout << say("  {:+.{}f} ({:+.{}f} to {:+.{}f}), more for {:.0f}, less for {:.0f}", d->by.median,
                           f.decimals + 1, d->by.low, f.decimals + 1, d->by.high, f.decimals + 1,
                           std::round(usual_draws * d->more), std::round(usual_draws * d->less));
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
      std::cout << say("{}at the limit, {}: the front lets go first on {} of {} tyres, the rear on {}{}\n",
                       phase == corner_phases.front() ? "\n" : "", word(phase), by.front, by.tyres(), by.rear,
                       by.stand > 0 ? say("; on {} the car leaves its wheels before", by.stand) : "");
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
