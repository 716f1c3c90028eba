// What the driver will feel: one setup over many tyres, or two over the same ones.
#include <algorithm>
#include <cmath>
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/handling/over_tyres.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "core/plan/handling_search.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

constexpr std::size_t reason_tyres = 64;
constexpr std::size_t wish_tyres = 32;

Json json_of(const Spread& s) {
  return {{"median", s.median}, {"low", s.low}, {"high", s.high}, {"tyres", s.tyres}};
}

std::string in_words(const TyreSplit& s) {
  const TyreParameterSpec& p = spec_of(s.parameter);
  return say("above {:.{}f}{}{} of {}: more for {:.0f} %, below: for {:.0f} %", s.at, p.decimals,
             p.unit.empty() ? "" : " ", p.unit, word(p.label), 100.0 * s.above, 100.0 * s.below);
}

Json json_of(const HandlingDifference& d) {
  Json j{{"by", json_of(d.by)}, {"more", d.more}, {"less", d.less}};
  if (d.split)
    j["split"] = {{"parameter", std::string(spec_of(d.split->parameter).id)},
                  {"at", d.split->at},
                  {"more_above", d.split->above},
                  {"more_below", d.split->below},
                  {"explains", d.split->explains}};
  return j;
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

tl::expected<HandlingWish, Fault> wish_of(const std::string& text) {
  const auto wrong = [&](const std::string& what, const std::string& allowed) {
    return tl::unexpected(Fault{"", "--wish", fmt::format("\"{}\": {}", text, what), allowed});
  };
  const std::size_t at = text.find('@'), is = text.find('=');
  if (at == std::string::npos || is == std::string::npos || is < at)
    return wrong(say("is no wish"), say("figure@phase=want, as front_left@entry=more"));
  HandlingWish wish;
  const HandlingFigureSpec* figure = find_handling_figure(text.substr(0, at));
  if (!figure) {
    std::string known;
    for (const HandlingFigureSpec& f : handling_figures()) known += (known.empty() ? "" : ", ") + std::string(f.id);
    return wrong(say("there is no such figure"), say("one of {}", known));
  }
  wish.figure = figure->figure;
  const std::string phase = text.substr(at + 1, is - at - 1), want = text.substr(is + 1);
  const auto named =
      std::find_if(corner_phases.begin(), corner_phases.end(), [&](CornerPhase p) { return name_of(p) == phase; });
  if (named == corner_phases.end()) return wrong(say("there is no such phase"), say("entry, middle or exit"));
  wish.phase = *named;
  for (int i = 0; i < handling_want_count; ++i)
    if (id_of(static_cast<HandlingWant>(i)) == want) {
      wish.want = static_cast<HandlingWant>(i);
      return wish;
    }
  return wrong(say("that cannot be wished"), say("more, not_less, same, not_more or less"));
}

int search_wishes(const HandlingOptions& options, const Car& car, const std::vector<Setup>& setups,
                  std::span<const TyreDraw> tyres) {
  HandlingSearch search;
  search.share = options.share_percent / 100.0;
  search.most_parts = options.most;
  for (const std::string& text : options.wishes) {
    const auto wish = wish_of(text);
    if (!wish) return refuse({wish.error()});
    search.wishes.push_back(*wish);
  }
  search.may.assign(car.adjusters.size(), 1);
  for (const PartHandle part : car.adjusters.handles())
    if (setups.front().of(part) != setups.back().of(part)) search.may[part] = 0;
  const auto finds = search_handling(car, setups.front(), setups.back(), options.ask,
                                     tyres.first(std::min(wish_tyres, tyres.size())), {}, search);
  if (!finds)
    return refuse({fault_of(options.inputs, "", finds.error().message, say("a wish for more or less of something"))});
  const auto value_text = [&](const Adjuster& a, double value) {
    const Positions* p = a.positions();
    return p ? p->list[static_cast<std::size_t>(std::lround(value))].label : fmt::format("{:g}", value);
  };
  Json out{{"foretold", finds->foretold}, {"worked_out", finds->worked_out}, {"found", Json::array()}};
  if (options.format != Format::json)
    std::cout << say("{} combinations foretold, {} worked out; tyres of {} for which every wish holds\n",
                     finds->foretold, finds->worked_out, wish_tyres);
  for (const HandlingFind& f : finds->found) {
    std::string steps;
    Json changed = Json::object();
    for (const HandlingFind::Step& s : f.steps) {
      const Adjuster& a = car.adjusters[s.adjuster];
      steps +=
          fmt::format("{}{} {} -> {}", steps.empty() ? "" : "; ", a.id, value_text(a, s.from), value_text(a, s.to));
      changed[a.id] = {{"from", s.from}, {"to", s.to}};
    }
    Json by = Json::array();
    for (const HandlingDifference& d : f.by) by.push_back(json_of(d));
    out["found"].push_back({{"steps", changed}, {"share", f.share}, {"minutes", f.minutes}, {"by", by}});
    if (options.format != Format::json)
      std::cout << say("  {:>3.0f} {} {:>3.0f} min  {}\n", f.share * static_cast<double>(wish_tyres),
                       f.share >= search.share ? "*" : " ", f.minutes, steps.empty() ? say("as it is now") : steps);
  }
  if (options.format == Format::json) std::cout << out.dump(2) << "\n";
  return done;
}

}  // namespace

int handling(const HandlingOptions& options) {
  const auto book = load_tyres(data_folder() / "tyres" / "tyres.json", options.tyre_file);
  if (!book) return refuse(book.error());
  const TyreFamily* family = options.tyres.empty() ? &book->families.front() : book->find(options.tyres);
  if (!family) {
    std::string known;
    for (const TyreFamily& f : book->families) known += (known.empty() ? "" : ", ") + f.id;
    return refuse(
        {Fault{"", "--tyres", say("there is no tyre family \"{}\"", options.tyres), say("one of {}", known)}});
  }
  const auto files = load(options.inputs);
  if (!files) return refuse(files.error());
  std::vector<Setup> setups{files->setup};
  if (!options.changed.empty()) {
    const auto changed = load({options.inputs.car, options.changed});
    if (!changed) return refuse(changed.error());
    setups.push_back(changed->setup);
  }
  const auto tyres = draw_tyres(*family, usual_draws, options.warmth);
  if (!options.wishes.empty()) return search_wishes(options, files->car, setups, tyres);
  std::vector<SetupTable> tables;
  std::vector<Handling> over;
  for (const Setup& setup : setups) {
    auto table = tabulate(files->car, setup, options.ask);
    if (!table)
      return refuse({fault_of(options.inputs, "", table.error().message, say("a car that stands and turns"))});
    over.push_back(handling_over(*table, tyres));
    tables.push_back(std::move(*table));
  }
  const bool text = options.format != Format::json;
  Json out{{"tyres", family->id}, {"count", usual_draws}};
  if (text)
    std::cout << say(
        "{} - {}{}\n{} tyres of the family {}; a {} turn of {:.1f} m, {:.2f} g, entry braking {:.2f} g, exit on power "
        "{:.2f} g\n",
        files->car.name, setups[0].name, setups.size() > 1 ? say(" against {}", setups[1].name) : "", usual_draws,
        word(family->name), options.ask.to_the_left ? say("left") : say("right"), options.ask.radius_m,
        options.ask.lateral_g, options.ask.braking_g, options.ask.power_g);
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
