#include "core/log/run_comparison.hpp"

#include <cmath>

#include <fmt/format.h>

#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

std::string value_words(const Adjuster& a, double value) {
  if (const Positions* p = a.positions()) return p->list[at(std::lround(value))].label;
  return a.threaded() ? say("{:g} turns", value) : say("{:g} mm", value);
}

std::string both_words(const Adjuster& a, const Setting& s) {
  if (s.left == s.right) return value_words(a, s.left);
  return say("left {left}, right {right}", "left"_a = value_words(a, s.left), "right"_a = value_words(a, s.right));
}

/// Without the car: whatever stands under "values" and the ride heights, as it is written.
std::vector<SetupChange> changes_by_id(const Json& a, const Json& b) {
  std::vector<SetupChange> list;
  static const Json none;
  const auto part = [](const Json& j, const char* key) -> const Json& { return j.contains(key) ? j[key] : none; };
  const auto text = [](const Json& j) {
    return j.is_null() ? say("kit") : j.is_string() ? j.get<std::string>() : j.dump();
  };
  for (const char* group : {"ride_height_mm", "values"}) {
    const Json& x = part(a, group);
    const Json& y = part(b, group);
    const bool of_height = group == std::string_view("ride_height_mm");
    const auto add = [&](const std::string& id) {
      const Json& from = x.is_object() && x.contains(id) ? x[id] : none;
      const Json& to = y.is_object() && y.contains(id) ? y[id] : none;
      if (from != to) list.push_back({of_height ? say("ride height, {}", id) : id, text(from), text(to), {}});
    };
    if (x.is_object())
      for (const auto& [id, value] : x.items()) add(id);
    if (y.is_object())
      for (const auto& [id, value] : y.items())
        if (!x.is_object() || !x.contains(id)) add(id);
  }
  return list;
}

LapVerdict verdict_of(const std::optional<Interval>& i) {
  if (!i || i->holds(0.0)) return LapVerdict::cannot_be_told;
  return i->estimate < 0.0 ? LapVerdict::faster : LapVerdict::slower;
}

}  // namespace

std::optional<Setup> setup_of(const Run& run, const Car& car) {
  if (run.car_id != car.id || run.setup.empty()) return std::nullopt;
  auto file = read_setup(run.setup, "", car);
  return file ? std::optional(std::move(file->setup)) : std::nullopt;
}

std::vector<SetupChange> setup_changes(const std::string& before, const std::string& after, const Car* car) {
  if (before.empty() || after.empty()) return {};
  if (car) {
    const auto a = read_setup(before, "", *car);
    const auto b = read_setup(after, "", *car);
    if (a && b) {
      std::vector<SetupChange> list;
      for (const End end : both_ends) {
        const double x = a->setup.ride_height_mm[at(end)];
        const double y = b->setup.ride_height_mm[at(end)];
        if (std::abs(x - y) > 1e-6)
          list.push_back({say("{} ride height", end == End::front ? say("Front") : say("Rear")),
                          say("{:g} mm", x),
                          say("{:g} mm", y),
                          {}});
      }
      for (const PartHandle i : car->adjusters.handles()) {
        const Adjuster& part = car->adjusters[i];
        const Setting& x = a->setup.values[i];
        const Setting& y = b->setup.values[i];
        if (x == y) continue;
        list.push_back({fmt::format("{}: {}", part.end == End::front ? say("Front") : say("Rear"), part.name),
                        both_words(part, x), both_words(part, y), i});
      }
      return list;
    }
  }
  const Json a = Json::parse(before, nullptr, false);
  const Json b = Json::parse(after, nullptr, false);
  return a.is_object() && b.is_object() ? changes_by_id(a, b) : std::vector<SetupChange>{};
}

LapVerdict laps_say(const RunRecord& a, const RunRecord& b, const LapRule& rule) {
  return verdict_of(difference_of_means(counting(a.laps, rule), counting(b.laps, rule)));
}

RunComparison compare_runs(const DatedRun& a, const DatedRun& b, const Car* car, const LapRule& rule) {
  RunComparison c;
  c.a = lap_figures(a.record.laps, rule);
  c.b = lap_figures(b.record.laps, rule);
  const std::vector<double> x = counting(a.record.laps, rule);
  const std::vector<double> y = counting(b.record.laps, rule);
  c.mean_s = difference_of_means(x, y);
  c.median_s = difference_of_medians(x, y);
  c.verdict = verdict_of(c.mean_s);
  const Run& ra = a.record.run;
  const Run& rb = b.record.run;
  if (ra.car_id == rb.car_id) c.changes = setup_changes(ra.setup, rb.setup, car);
  const auto caution = [&](CautionKind kind, std::string text) { c.cautions.push_back({kind, std::move(text)}); };
  const auto differs = [&](CautionKind kind, const std::string& what, const std::string& p, const std::string& q) {
    if (p != q && !(p.empty() && q.empty()))
      caution(kind, say("{what}: {first} against {second}.", "what"_a = what,
                        "first"_a = p.empty() ? say("not said") : p, "second"_a = q.empty() ? say("not said") : q));
  };
  differs(CautionKind::other_car, say("Another car"), ra.car_id, rb.car_id);
  if (a.day.track != b.day.track) differs(CautionKind::other_track, say("Another track"), a.day.track, b.day.track);
  if (a.day.surface != b.day.surface)
    differs(CautionKind::other_surface, say("Another surface"), std::string(label_in(surfaces(), a.day.surface)),
            std::string(label_in(surfaces(), b.day.surface)));
  if (a.day.date != b.day.date) differs(CautionKind::other_day, say("Another day"), a.day.date, b.day.date);
  const auto warmer = [&](const std::string& what, const std::optional<double>& p, const std::optional<double>& q) {
    if (p && q && std::abs(*p - *q) >= other_temperature)
      caution(CautionKind::temperature,
              say("{what}: {first:.0f} against {second:.0f} deg C.", "what"_a = what, "first"_a = *p, "second"_a = *q));
  };
  warmer(say("The track's temperature"), a.day.ground_celsius, b.day.ground_celsius);
  warmer(say("The air's temperature"), a.day.air_celsius, b.day.air_celsius);
  differs(CautionKind::tyres, say("Other tyres"), ra.tyres, rb.tyres);
  if (ra.tyres == rb.tyres && ra.tyre_runs && rb.tyre_runs && std::abs(*ra.tyre_runs - *rb.tyre_runs) > 1)
    caution(CautionKind::tyre_age, say("Tyres of another age: {first} runs against {second}.",
                                       "first"_a = *ra.tyre_runs, "second"_a = *rb.tyre_runs));
  differs(CautionKind::additive, say("Another additive"), ra.additive, rb.additive);
  differs(CautionKind::battery, say("Another battery"), ra.battery, rb.battery);
  if (c.changes.size() > 1)
    caution(CautionKind::several_changes,
            say("{} things were changed at once: which of them did it cannot be told.", c.changes.size()));
  const int fewest = std::min(c.a ? c.a->counted : 0, c.b ? c.b->counted : 0);
  if (fewest < few_laps)
    caution(CautionKind::few_laps,
            say_counted(static_cast<unsigned long>(std::max(0, fewest)), "Only {} lap counts in one of the runs.",
                        "Only {} laps count in one of the runs.", fewest));
  for (const Run* r : {&ra, &rb})
    if (!r->broke.empty())
      caution(CautionKind::broke,
              say("Something broke in the run of {run}: {what}.", "run"_a = r->started, "what"_a = r->broke));
  return c;
}

std::optional<BackToBack> back_to_back(const RunRecord& first, const RunRecord& middle, const RunRecord& last,
                                       const LapRule& rule) {
  const std::vector<double> a1 = counting(first.laps, rule);
  const std::vector<double> b = counting(middle.laps, rule);
  const std::vector<double> a2 = counting(last.laps, rule);
  const std::array<Weighed, 3> groups{{{-0.5, a1}, {1.0, b}, {-0.5, a2}}};
  const auto effect = contrast_of_means(groups);
  const auto drift = difference_of_means(a1, a2);
  if (!effect || !drift) return std::nullopt;
  BackToBack r;
  r.effect_s = *effect;
  r.drift_s = *drift;
  r.drifted = !drift->holds(0.0);
  r.same_setups = setup_changes(first.run.setup, last.run.setup, nullptr).empty();
  r.verdict = verdict_of(effect);
  return r;
}

std::vector<std::array<std::size_t, 3>> back_to_backs(const std::vector<RunRecord>& runs, const Car* car) {
  std::vector<std::array<std::size_t, 3>> found;
  const auto changed = [&](std::size_t i, std::size_t k) {
    return !setup_changes(runs[i].run.setup, runs[k].run.setup, car).empty();
  };
  for (std::size_t i = 0; i + 2 < runs.size(); ++i) {
    const auto& car_id = runs[i].run.car_id;
    if (runs[i].run.setup.empty() || runs[i + 1].run.car_id != car_id || runs[i + 2].run.car_id != car_id) continue;
    if (changed(i, i + 1) && !changed(i, i + 2) && !runs[i + 1].run.setup.empty() && !runs[i + 2].run.setup.empty())
      found.push_back({i, i + 1, i + 2});
  }
  return found;
}

}  // namespace lowkite
