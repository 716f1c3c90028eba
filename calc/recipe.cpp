// What is wanted and what is held, from the shell: the same search as the window's.
#include "core/plan/recipe.hpp"

#include <algorithm>
#include <iostream>
#include <regex>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "calc/inputs.hpp"
#include "calc/tyres.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/difference.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

constexpr std::size_t wish_tyres = 32;

/// What the car has now: its geometry, and the car on its springs where it can be put on them.
struct Present {
  FigureSource geometry;
  std::optional<LoadSource> load;
};

/// "rear.roll_centre+1~0.1" against what the car has now; `end`: of figures that name none. Fails with what is allowed.
tl::expected<RecipeAim, std::string> parse_aim(const std::string& text, bool hold, const Car& car,
                                               std::optional<End> end, const Present& now) {
  static const std::regex form(
      R"((?:(front|rear)\.)?([a-z_]+)(?:=(alike)|([=+-])(-?\d+(?:\.\d+)?))?(?:~(\d+(?:\.\d+)?))?)");
  std::smatch m;
  if (!std::regex_match(text, m, form) || (!hold && !m[3].matched && !m[4].matched))
    return tl::unexpected(
        say("found {found}; allowed: {allowed}", "found"_a = text,
            "allowed"_a = hold ? say("FIGURE~TOLERANCE or FIGURE=VALUE~TOLERANCE")
                               : say("FIGURE+BY~TOLERANCE, FIGURE-BY~TOLERANCE or FIGURE=VALUE~TOLERANCE")));
  if (m[1].matched) end = m[1] == "front" ? End::front : End::rear;
  const FigureSpec* f = find_figure(m[2].str());
  const bool of_car = f && (f->per == Per::car || f->is(adds_up) || m[3].matched);
  if (!end && of_car) end = End::front;
  if (!end)
    return tl::unexpected(
        say("found {found}; allowed: front.{figure} or rear.{figure}", "found"_a = text, "figure"_a = m[2].str()));
  if (!f || (f->of_load() ? !now.load : !applies(*f, car, *end))) {
    std::vector<std::string_view> known;
    for (const FigureSpec& spec : geometry_figures())
      if (applies(spec, car, *end)) known.push_back(spec.id);
    if (now.load)
      for (const FigureSpec& spec : load_figures()) known.push_back(spec.id);
    return tl::unexpected(say("found {found}; allowed on the {axle} axle: {figures}", "found"_a = m[2].str(),
                              "axle"_a = word(*end), "figures"_a = fmt::join(known, ", ")));
  }
  const auto value = f->of_load() ? f->read(*now.load, *end, Side::left) : f->read(now.geometry, *end, Side::left);
  RecipeAim aim = RecipeAim::of(*f, *end, value.value_or(0.0), 2.0 * f->resolution(), hold);
  if (m[3].matched) aim.kind = RecipeAim::Kind::alike;
  if (m[4].matched) {
    const double v = std::stod(m[5]);
    aim.value = m[4] == "=" ? v : m[4] == "+" ? aim.value + v : aim.value - v;
  }
  if (m[6].matched) aim.tolerance = std::stod(m[6]);
  return aim;
}

/// As an order names it: "rear.roll_centre", "wheelbase".
std::string key_of(const HandlingWish& wish) {
  return fmt::format("{}@{}", spec_of(wish.figure).id, name_of(wish.phase));
}

std::string key_of(const RecipeAim& aim) {
  const bool of_car = aim.figure->per == Per::car || aim.figure->is(adds_up) || aim.kind == RecipeAim::Kind::alike;
  return of_car ? std::string(aim.figure->id) : fmt::format("{}.{}", name_of(aim.end), aim.figure->id);
}

Json json_of(const Car& car, const Setup& start, const RecipeOrder& order, const RecipeResult& r) {
  Json j{{"meets", r.meets()}, {"minutes", r.work.minutes}, {"changes", Json::array()}, {"turns", Json::array()}};
  for (const PartChange& c : r.changes) {
    const Adjuster& a = car.adjusters[c.adjuster];
    j["changes"].push_back({{"adjuster", a.id}, {"from", value_to_json(a, c.from)}, {"to", value_to_json(a, c.to)}});
  }
  for (std::size_t i = 0; i < order.aims.size(); ++i) j["reached"][key_of(order.aims[i])] = r.gives[i];
  for (std::size_t i = 0; i < order.wishes.wishes.size(); ++i)
    j["felt"][key_of(order.wishes.wishes[i])] = calc::json_of(r.felt->by[i]);
  if (r.felt) j["share"] = r.felt->share;
  for (const ResetStep& s : r.alignment.steps)
    j["turns"].push_back(
        {{"adjuster", car.adjusters[s.adjuster].id}, {"side", name_of(s.side)}, {"turns", s.turns}, {"mm", s.mm}});
  for (const DroopStep& s : r.bench.droop) {
    const Adjuster& a = car.adjusters[s.adjuster];
    j["droop"].push_back({{"adjuster", a.id}, {"side", name_of(s.side)}, {"to", value_to_json(a, s.value)}});
  }
  for (const End end : both_ends)
    if (const double to = r.setup.ride_height_mm[at(end)]; to != start.ride_height_mm[at(end)])
      j["ride_height_mm"][std::string(name_of(end))] = to;
  if (r.setup.wanted_lock_deg != start.wanted_lock_deg && r.setup.wanted_lock_deg)
    j["lock_deg"] = *r.setup.wanted_lock_deg;
  return j;
}

/// What is set after the changes: heights, links, screws, spacers, the lock.
std::vector<std::string> settings_of(const Car& car, const Setup& start, const RecipeResult& r) {
  std::vector<std::string> lines;
  for (const End end : both_ends)
    if (const double from = start.ride_height_mm[at(end)], to = r.setup.ride_height_mm[at(end)]; from != to)
      lines.push_back(
          say("{axle}: ride height {from:.1f} -> {to:.1f} mm", "axle"_a = word(end), "from"_a = from, "to"_a = to));
  for (const PartHandle i : differing_parts(car, start, r.setup)) {
    if (std::any_of(r.changes.begin(), r.changes.end(), [&](const PartChange& c) { return c.adjuster == i; })) continue;
    const Adjuster& a = car.adjusters[i];
    const auto shown = [&](const Setup& s) {
      const Setting& v = s.of(i);
      return v.left == v.right
                 ? value_to_json(a, v.left).dump()
                 : fmt::format("{} | {}", value_to_json(a, v.left).dump(), value_to_json(a, v.right).dump());
    };
    lines.push_back(fmt::format("{}: {} {} -> {}", word(a.end), a.name, shown(start), shown(r.setup)));
  }
  if (r.setup.wanted_lock_deg && r.setup.wanted_lock_deg != start.wanted_lock_deg)
    lines.push_back(say("end points: inside wheel at {:.1f} deg", *r.setup.wanted_lock_deg));
  return lines;
}

void print(const Car& car, const Setup& start, const RecipeOrder& order, const RecipeResult& r) {
  std::vector<std::string> changes;
  for (const PartChange& c : r.changes) {
    const Adjuster& a = car.adjusters[c.adjuster];
    changes.push_back(fmt::format("{}: {} {} -> {}", word(a.end), a.name, value_to_json(a, c.from).dump(),
                                  value_to_json(a, c.to).dump()));
  }
  const std::vector<std::string> settings = settings_of(car, start, r);
  if (changes.empty() && settings.empty()) changes.push_back(say("nothing to do: it is so already"));
  std::vector<std::string> reached;
  for (std::size_t i = 0; i < order.aims.size(); ++i)
    reached.push_back(fmt::format("{} {:.{}f} {}", key_of(order.aims[i]), r.gives[i],
                                  order.aims[i].figure->decimals + 1, symbol(order.aims[i].figure->unit)));
  for (std::size_t i = 0; i < order.wishes.wishes.size(); ++i) {
    const HandlingFigureSpec& f = spec_of(order.wishes.wishes[i].figure);
    reached.push_back(
        fmt::format("{} {:+.{}f} {}", key_of(order.wishes.wishes[i]), r.felt->by[i].by.median, f.decimals + 1, f.unit));
  }
  if (r.felt) reached.push_back(say("on {:.0f} % of the tyres", 100.0 * r.felt->share));
  std::cout << say("{meets} {minutes:>3.0f} min  {changes}\n", "meets"_a = r.meets() ? say("meets") : say("near "),
                   "minutes"_a = r.work.minutes,
                   "changes"_a = changes.empty() ? say("set only") : fmt::format("{}", fmt::join(changes, "; ")));
  if (!settings.empty()) std::cout << say("             set: {}\n", fmt::join(settings, "; "));
  std::cout << fmt::format("             {}\n", fmt::join(reached, "; "));
}

}  // namespace

int recipe(const RecipeOptions& options) {
  const auto both = load(options.inputs);
  if (!both) return refuse(both.error());
  const Car& car = both->car;
  Setup before = both->setup;
  if (!options.baseline.empty()) {
    auto other = load_setup(options.baseline, car);
    if (!other) return refuse(other.error());
    before = std::move(other->setup);
  }
  const auto now = evaluate(car, both->setup, {}, fine_curve);
  if (!now)
    return refuse({fault_of(options.inputs, "", now.error().message, say("a setup with which the car can stand"))});
  const auto usage = [](const std::string& line) {
    std::cerr << line << "\n";
    return wrong_usage;
  };
  RecipeOrder order;
  const std::optional<End> end = options.axle == "both"    ? std::nullopt
                                 : options.axle == "front" ? std::optional(End::front)
                                                           : std::optional(End::rear);
  order.under = options.under;
  if (options.robust) order.also_good_with = disturbances(options.height_lost_mm, options.tie_rod_off_turns);
  Present present{now->source, std::nullopt};
  if (auto load = put_on_springs(car, both->setup, order.under)) present.load = std::move(*load);
  order.most_parts = options.most;
  order.results = at(options.results);
  for (const auto& [list, hold] : {std::pair(&options.want, false), std::pair(&options.hold, true)})
    for (const std::string& text : *list) {
      if (is_wish(text)) {
        auto wish = wish_of(text);
        if (!wish) return usage(fmt::format("{}: {}", hold ? "--hold" : "--want", wish.error()));
        wish->hold = hold;
        order.wishes.wishes.push_back(*wish);
        continue;
      }
      const auto aim = parse_aim(text, hold, car, end, present);
      if (!aim) return usage(fmt::format("{}: {}", hold ? "--hold" : "--want", aim.error()));
      order.aims.push_back(*aim);
    }
  if (order.wishes.asked()) {
    auto tyres = tyres_of(options.over);
    if (!tyres) return refuse(tyres.error());
    order.wishes.tyres = std::move(tyres->draws);
    order.wishes.tyres.resize(std::min(wish_tyres, order.wishes.tyres.size()));
    order.wishes.share = options.share_percent / 100.0;
    order.wishes.ask = options.over.ask;
  }
  std::vector<PartHandle> all;
  for (const End e : both_ends)
    if (!end || *end == e)
      for (const PartHandle part : recipe_parts(car, e)) all.push_back(part);
  const auto among_them = [&](const std::string& id) {
    const PartHandle i = car.find_adjuster(id);
    return std::find(all.begin(), all.end(), i) != all.end();
  };
  for (const auto* list : {&options.parts, &options.but})
    for (const std::string& id : *list)
      if (!among_them(id)) {
        std::vector<std::string_view> known;
        for (const PartHandle i : all) known.push_back(car.adjusters[i].id);
        return usage(say("--{option}: found {found}; allowed ({axle}): {parts}",
                         "option"_a = list == &options.parts ? "parts" : "but", "found"_a = id,
                         "axle"_a = word(options.axle), "parts"_a = fmt::join(known, ", ")));
      }
  for (const PartHandle i : all) {
    const std::string& id = car.adjusters[i].id;
    const auto in = [&](const std::vector<std::string>& list) {
      return std::find(list.begin(), list.end(), id) != list.end();
    };
    if ((options.parts.empty() || in(options.parts)) && !in(options.but)) order.parts.push_back(i);
  }
  if (!options.box.empty()) {
    order.boxes = shims_in(options.box);
    if (!order.boxes) return usage(say("--box: found {}; allowed: thickness x number, such as 0.5x8 1x6", options.box));
  }
  if (!options.boxes.empty()) {
    auto boxes = load_boxes(options.boxes);
    if (!boxes) return refuse(boxes.error());
    order.boxes = std::move(*boxes);
  }
  const auto found = find_recipe(car, before, both->setup, order);
  if (!found) return refuse({fault_of(options.inputs, "", found.error().message, say("a search that makes sense"))});
  if (options.format == Format::json) {
    Json out{{"of", found->of}, {"judged", found->judged}, {"complete", found->complete}, {"results", Json::array()}};
    if (found->allowed) out["allowed"] = *found->allowed;
    if (order.wishes.asked()) out.update({{"foretold", found->foretold}, {"read_whole", found->read_whole}});
    for (const RecipeResult& r : found->front) out["front"].push_back(json_of(car, both->setup, order, r));
    for (const RecipeResult& r : found->results) out["results"].push_back(json_of(car, both->setup, order, r));
    std::cout << out.dump(2) << "\n";
  } else {
    std::cout << say("{candidates} candidates, {judged} judged{proof}{kept}\n", "candidates"_a = found->of,
                     "judged"_a = found->judged,
                     "proof"_a = !found->complete            ? say("; there may be better ones")
                                 : found->judged < found->of ? say(", the rest left out by proof")
                                                             : "",
                     "kept"_a = found->allowed ? say("; {} keep what is held", *found->allowed) : "");
    if (order.wishes.asked())
      std::cout << say(
          "what the driver would feel: {foretold} foretold from each part alone, {read} read over {tyres} tyres\n",
          "foretold"_a = found->foretold, "read"_a = found->read_whole, "tyres"_a = order.wishes.tyres.size());
    for (const RecipeResult& r : found->results) print(car, both->setup, order, r);
    if (found->results.empty()) std::cout << why_none(*found, order) << "\n";
  }
  if (!options.out.empty()) {
    if (found->results.empty()) return usage(say("--out: {}; nothing was written", why_none(*found, order)));
    Setup best = found->results.front().setup;
    best.based_on = both->setup.name == say("Kit") ? "" : both->setup.name;
    best.name = say("{}, recipe", both->setup.name);
    if (const auto written = replace_file(options.out, write_setup(best, car, {}), std::nullopt); !written)
      return refuse({written.error()});
  }
  return done;
}

}  // namespace lowkite::calc
