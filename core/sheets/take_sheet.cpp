#include "core/sheets/take_sheet.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/figures/variant.hpp"
#include "core/io/typed_text.hpp"
#include "core/plan/wanted.hpp"
#include "core/pose/pose.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

using Place = SheetPlaceKind;

constexpr double least_ride_height = 0.0, most_ride_height = 60.0;  ///< as setup files have it
constexpr double steepest_deg = 30.0;

bool stands(const Car& car, const Setup& setup) {
  const auto model = build_model(car, setup);
  return model && pose_car(*model, static_attitude(*model));
}

/// The angle a place speaks of, and how the sheet's sign goes with ours.
std::optional<WheelAngle> angle_of(Place kind) {
  if (kind == Place::camber || kind == Place::camber_minus) return WheelAngle::camber;
  if (kind == Place::toe || kind == Place::toe_in || kind == Place::toe_out) return WheelAngle::toe;
  return kind == Place::caster ? std::optional(WheelAngle::caster) : std::nullopt;
}
/// The words of a setup that a place stands for, and how long they may be.
struct SetupWords {
  Place kind;
  std::string Setup::*text;
  std::size_t longest;
};
constexpr std::array setup_words{SetupWords{Place::name, &Setup::name, 120}, SetupWords{Place::date, &Setup::date, 40},
                                 SetupWords{Place::track, &Setup::track, 120},
                                 SetupWords{Place::notes, &Setup::notes, 4000}};
const SetupWords* words_of(Place kind) {
  const auto found =
      std::find_if(setup_words.begin(), setup_words.end(), [&](const SetupWords& w) { return w.kind == kind; });
  return found == setup_words.end() ? nullptr : &*found;
}
/// Between the sheet's number and ours, both ways.
double turned_sign(Place kind, double v) {
  return kind == Place::camber_minus || kind == Place::toe_out ? -v : v;
}

/// "out" and "in" in the text itself overrule the place's sign.
Place kind_by_text(Place kind, const std::string& text) {
  if (kind != Place::toe && kind != Place::toe_in && kind != Place::toe_out) return kind;
  for (const std::string& word : plain_words(text)) {
    if (word == "out") return Place::toe_out;
    if (word == "in") return Place::toe_in;
  }
  return kind;
}

/// The first letters, cut between letters of UTF-8.
std::string shortened(const std::string& text, std::size_t bytes) {
  if (text.size() <= bytes) return text;
  while (bytes > 0 && (static_cast<unsigned char>(text[bytes]) & 0xC0u) == 0x80u) --bytes;
  return text.substr(0, bytes);
}

/// Under which name each field is noted: its title, with its end or a number where several have the same. Boxes of one
/// name are one.
std::vector<std::string> noted_names(const SheetForm& form) {
  constexpr std::size_t longest = 100;
  std::vector<std::string> names;
  std::map<std::string, std::string> owner;  // of a name: the field that has it
  for (const FormField& field : form.fields) {
    const std::string title = shortened(field.title(), longest);
    const auto free = [&](const std::string& name) {
      const auto found = owner.find(name);
      return found == owner.end() || (field.kind == FormFieldKind::box && found->second == field.name);
    };
    std::string name = title;
    if (!free(name) && field.end) name = fmt::format("{} {}", title, word(*field.end));
    for (int more = 2; !free(name); ++more) name = fmt::format("{} ({})", title, more);
    owner[name] = field.name;
    names.push_back(name);
  }
  return names;
}

std::string allowed_of(const Adjuster& a) {
  if (const Positions* p = a.positions()) {
    std::vector<std::string> labels;
    for (const Position& position : p->list) labels.push_back(position.label);
    return say("it can be {}", fmt::join(labels, ", "));
  }
  return say("it can be {least:g} to {most:g} mm from shims of {shims:g} mm", "least"_a = a.least(),
             "most"_a = a.most(), "shims"_a = fmt::join(a.range()->shims_mm, ", "));
}

/// What the place reads on the car, by the sheet's sign.
std::optional<double> read_place(const Variant& v, const SheetPlace& p, Place kind, Side side, const BenchKit& bench) {
  if (p.kind == Place::caster) {
    const auto& kingpin = v.source.standing.axle[at(*p.end)].wheel[at(side)].kingpin;
    return kingpin ? std::optional(degrees(kingpin->caster_rad)) : std::nullopt;
  }
  const auto reads = reading(p.gauge, v.model, v.source, bench, side);
  return reads ? std::optional(turned_sign(kind, *reads)) : std::nullopt;
}

class Taker {
 public:
  Taker(const Car& car, const Setup& base, const SheetForm& form, const std::vector<SheetMatch>& matches,
        const BenchKit& bench)
      : car_(car),
        base_(base),
        form_(form),
        matches_(matches),
        bench_(bench),
        places_(sheet_places(car)),
        noted_names_(noted_names(form)) {
    taken_.setup = base;
    taken_.lines.resize(form.fields.size());
  }

  TakenSheet take() {
    // Toe comes after camber, whose link moves it.
    for (const auto pass :
         {&Taker::words, &Taker::parts, &Taker::ride_heights, &Taker::lengths, &Taker::droop,
          &Taker::angles<WheelAngle::caster>, &Taker::angles<WheelAngle::camber>, &Taker::angles<WheelAngle::toe>})
      for (std::size_t f = 0; f < form_.fields.size(); ++f) {
        const SheetMatch& m = f < matches_.size() ? matches_[f] : none_;
        const int place = m.place.empty() ? -1 : find_place(places_, m.place);
        SheetLine& line = taken_.lines[f];
        if (place < 0) continue;
        if (!form_.fields[f].filled()) {
          line.outcome = SheetOutcome::empty;
          continue;
        }
        (this->*pass)(f, places_[at(place)], m, line);
      }
    compare();
    for (const PartHandle i : car_.adjusters.handles())
      if (!named_.contains(i)) taken_.not_named.push_back(i);
    for (const SheetLine& l : taken_.lines) {
      taken_.taken += l.outcome == SheetOutcome::taken || l.outcome == SheetOutcome::nearest;
      taken_.contradictions += l.contradicts;
    }
    return std::move(taken_);
  }

 private:
  static std::vector<Side> sides_of(const SheetMatch& m) {
    if (m.side) return {*m.side};
    return {Side::left, Side::right};
  }
  static PerSide<bool> as_flags(const SheetMatch& m) { return {m.side != Side::right, m.side != Side::left}; }
  void keep(std::size_t f, const std::string& text) { note(taken_.setup, noted_names_[f], text); }
  void refuse(std::size_t f, SheetLine& line, std::string why) {
    line.outcome = SheetOutcome::refused;
    line.why = std::move(why);
    keep(f, said(f));
  }
  [[nodiscard]] std::string said(std::size_t f) const {
    const FormField& field = form_.fields[f];
    return field.kind == FormFieldKind::box ? field.option : field.text;
  }

  void words(std::size_t f, const SheetPlace& p, const SheetMatch&, SheetLine& line) {
    if (const SetupWords* words = words_of(p.kind)) {
      taken_.setup.*words->text = shortened(form_.fields[f].text, words->longest);
      line.outcome = SheetOutcome::taken;
    } else if (p.kind == Place::noted) {
      line.outcome = SheetOutcome::kept;
      keep(f, said(f));
    }
  }

  void parts(std::size_t f, const SheetPlace& p, const SheetMatch& m, SheetLine& line) {
    if (p.kind != Place::part) return;
    const Adjuster& a = car_.adjusters[p.adjuster];
    named_.insert(p.adjuster);
    parts_.insert(p.adjuster);
    Setup changed = taken_.setup;
    const std::string text = form_.fields[f].kind == FormFieldKind::box ? m.option : form_.fields[f].text;
    const PerSide<std::string> apart = p.sides && !m.side ? sheet_sides(text) : PerSide<std::string>{text, text};
    bool nearest = false;
    for (const Side side : p.sides ? sides_of(m) : std::vector<Side>{Side::left, Side::right}) {
      const auto v = value_of(a, apart[at(side)], nearest);
      if (!v) return refuse(f, line, allowed_of(a));
      changed.of(p.adjuster).on(side) = *v;
    }
    if (!stands(car_, changed)) return refuse(f, line, say("with it the linkage does not close"));
    taken_.setup = std::move(changed);
    line.outcome = nearest ? SheetOutcome::nearest : SheetOutcome::taken;
    if (nearest) line.why = allowed_of(a);
  }

  static std::optional<double> value_of(const Adjuster& a, const std::string& text, bool& nearest) {
    if (const Positions* positions = a.positions()) {
      const auto i = sheet_position(*positions, text);
      return i ? std::optional(static_cast<double>(*i)) : std::nullopt;
    }
    const auto v = sheet_number(text);
    constexpr double hardly = 1e-6;
    constexpr double as_good_as = 0.13;  // mm: what two shims and a worn one differ by
    if (!v || *v < a.least() - hardly || *v > a.most() + hardly) return std::nullopt;
    const double stop = a.nearest_stop(*v);
    if (std::abs(stop - *v) > as_good_as) return std::nullopt;
    nearest = nearest || std::abs(stop - *v) > hardly;
    return stop;
  }

  void ride_heights(std::size_t f, const SheetPlace& p, const SheetMatch&, SheetLine& line) {
    if (p.kind != Place::ride_height) return;
    const auto v = sheet_number(form_.fields[f].text);
    Setup changed = taken_.setup;
    if (v) changed.ride_height_mm[at(*p.end)] = *v;
    if (!v || *v < least_ride_height || *v > most_ride_height || !stands(car_, changed))
      return refuse(f, line, say("a ride height in mm at which the car can stand"));
    taken_.setup = std::move(changed);
    line.outcome = SheetOutcome::taken;
  }

  /// How each side's number counts.
  [[nodiscard]] PerSide<Place> kinds(std::size_t f, Place kind) const {
    const PerSide<std::string> apart = sheet_sides(form_.fields[f].text);
    return {kind_by_text(kind, apart[0]), kind_by_text(kind, apart[1])};
  }

  /// The numbers of a field by side; none where one is missing.
  [[nodiscard]] std::optional<PerSide<double>> numbers(std::size_t f) const {
    const PerSide<std::string> apart = sheet_sides(form_.fields[f].text);
    const auto left = sheet_number(apart[0]), right = sheet_number(apart[1]);
    return left && right ? std::optional(PerSide<double>{*left, *right}) : std::nullopt;
  }

  void lengths(std::size_t f, const SheetPlace& p, const SheetMatch& m, SheetLine& line) {
    if (p.kind != Place::gauge || p.gauge.kind != &gauge::link_length) return;
    const PartHandle turnbuckle = car_.turnbuckle_of(p.gauge.end, p.gauge.link);
    const auto v = numbers(f);
    if (!turnbuckle || !v) return refuse(f, line, say("a length in mm"));
    named_.insert(turnbuckle);
    Setup changed = taken_.setup;
    for (const Side side : sides_of(m)) {
      PerSide<bool> only{};
      only[at(side)] = true;
      auto turned =
          turned_to_length(car_, base_, changed, only, turnbuckle, centres_from_caliper((*v)[at(side)], bench_));
      if (!turned) return refuse(f, line, turned.error().message);
      changed = std::move(*turned);
      caliper_[{p.gauge.end, side}].insert(p.gauge.link);
    }
    taken_.setup = std::move(changed);
    line.outcome = SheetOutcome::taken;
    line.said = (*v)[at(sides_of(m).front())];
  }

  void droop(std::size_t f, const SheetPlace& p, const SheetMatch& m, SheetLine& line) {
    if (p.kind != Place::gauge || p.gauge.kind == &gauge::link_length) return;
    const auto v = numbers(f);
    if (!v) return refuse(f, line, say("a number"));
    line.said = (*v)[at(sides_of(m).front())];
    if (p.gauge.kind == &gauge::lock_inside) {
      constexpr double least_lock = 5.0, most_lock = 60.0;
      if (*line.said < least_lock || *line.said > most_lock) return refuse(f, line, say("a lock of 5 to 60 deg"));
      taken_.setup.wanted_lock_deg = *line.said;
      line.outcome = SheetOutcome::taken;
      return;
    }
    const bool sets =
        p.gauge.kind == &gauge::down_stop || p.gauge.kind == &gauge::tyre_droop || p.gauge.kind == &gauge::shock_droop;
    line.outcome = SheetOutcome::compared;
    if (!sets) return;
    Setup changed = taken_.setup;
    for (const Side side : sides_of(m)) {
      const std::vector<PartHandle> screws = parts_answering(car_, changed, p.gauge, side);
      // What the sheet names itself, or another gauge of it has set, is compared by this one.
      for (const PartHandle screw : screws)
        if (droop_set_.contains({screw, side}) || parts_.contains(screw)) return;
      const auto off = parts_off_by(car_, changed, p.gauge, side, (*v)[at(side)], bench_);
      if (!off) return refuse(f, line, say("no place of the screw reads like that"));
      for (const PartHandle screw : screws) {
        const Adjuster& a = car_.adjusters[screw];
        double value = changed.of(screw).on(side) + *off;
        value = a.threaded() ? std::round(value * 8.0) / 8.0 : a.nearest_stop(value);
        if (a.threaded() && (value < a.least() || value > a.most()))
          return refuse(f, line, say("the screw's thread ends before that"));
        changed.of(screw).on(side) = value;
        droop_set_.insert({screw, side});
        named_.insert(screw);
      }
    }
    if (!stands(car_, changed)) return refuse(f, line, say("with it the linkage does not close"));
    taken_.setup = std::move(changed);
    line.outcome = SheetOutcome::taken;
  }

  template <WheelAngle which>
  void angles(std::size_t f, const SheetPlace& p, const SheetMatch& m, SheetLine& line) {
    const auto angle = angle_of(p.kind);
    if (angle != which) return;
    const auto v = numbers(f);
    if (!v || std::abs((*v)[0]) > steepest_deg || std::abs((*v)[1]) > steepest_deg)
      return refuse(f, line, say("an angle in deg"));
    const PerSide<Place> kind = kinds(f, p.kind);
    for (const Side side : both_sides)
      if (kind[at(side)] == Place::toe && (*v)[at(side)] != 0.0)
        return refuse(f, line, say("say whether plus is in or out on this sheet"));
    line.said = (*v)[at(sides_of(m).front())];
    line.outcome = SheetOutcome::compared;
    if (!can_set(car_, *p.end, *angle)) return;
    const LinkHolds holds = *angle == WheelAngle::toe ? LinkHolds::toe : LinkHolds::camber;
    Setup changed = taken_.setup;
    bool set = false;
    for (const Side side : sides_of(m)) {
      const auto& measured = caliper_[{*p.end, side}];
      const std::vector<PartHandle> links = car_.turnbuckles_holding(*p.end, holds);
      if (std::any_of(links.begin(), links.end(),
                      [&](PartHandle t) { return measured.contains(car_.adjusters[t].range()->link); }))
        continue;
      PerSide<bool> only{};
      only[at(side)] = true;
      auto turned = turned_to_angle(car_, changed, *p.end, only, *angle, turned_sign(kind[at(side)], (*v)[at(side)]));
      if (!turned) return refuse(f, line, turned.error().message);
      changed = std::move(*turned);
      named_.insert(links.begin(), links.end());
      set = true;
    }
    if (!set) return;
    taken_.setup = std::move(changed);
    line.outcome = SheetOutcome::taken;
  }

  /// Everything that can be read, read off the setup as taken.
  void compare() {
    const auto v = evaluate(car_, taken_.setup, {}, coarse_curve);
    if (!v) return;
    for (std::size_t f = 0; f < form_.fields.size(); ++f) {
      SheetLine& line = taken_.lines[f];
      if (!line.said || line.outcome == SheetOutcome::refused) continue;
      const SheetPlace& p = places_[at(find_place(places_, matches_[f].place))];
      const PerSide<Place> kind = kinds(f, p.kind);
      const auto numbers_said = numbers(f);
      const double told = p.kind == Place::caster ? 0.5 : p.gauge.spec().resolution;
      double furthest = -1.0;
      for (const Side side : sides_of(matches_[f])) {
        if (side == Side::right && !p.sides) continue;
        const auto reads = read_place(*v, p, kind[at(side)], side, bench_);
        if (!reads || !numbers_said) continue;
        const double apart = std::abs(*reads - (*numbers_said)[at(side)]);
        if (apart <= furthest) continue;
        furthest = apart;
        line.said = (*numbers_said)[at(side)];
        line.reads = reads;
        // A screw is set by eighths of a turn: what that leaves is no contradiction.
        constexpr double with_a_screw = 1.5;
        line.contradicts = apart > (line.outcome == SheetOutcome::taken ? with_a_screw : 1.0) * told + 1e-9;
      }
    }
  }

  const Car& car_;
  const Setup& base_;
  const SheetForm& form_;
  const std::vector<SheetMatch>& matches_;
  const BenchKit& bench_;
  std::vector<SheetPlace> places_;
  const SheetMatch none_;
  TakenSheet taken_;
  std::set<PartHandle> named_;
  std::set<PartHandle> parts_;  ///< that a field names
  std::vector<std::string> noted_names_;
  std::map<std::pair<End, Side>, std::set<LinkHandle>> caliper_;  ///< links whose length the sheet gives
  std::set<std::pair<PartHandle, Side>> droop_set_;
};

std::string plain_number(double v, int decimals) {
  std::string text = fmt::format("{:.{}f}", v, decimals);
  if (text.find_first_of("123456789") == std::string::npos && text[0] == '-') text.erase(0, 1);
  return text;
}

std::string part_text(const Adjuster& a, double v) {
  if (const Positions* p = a.positions()) return p->list[at(std::lround(v))].label;
  return fmt::format("{:g}", v);
}

}  // namespace

tl::expected<TakenSheet, CarFailure> take_sheet(const Car& car, const Setup& base, const SheetForm& form,
                                                const std::vector<SheetMatch>& matches, const BenchKit& bench) {
  const auto model = build_model(car, base);
  if (!model) return tl::unexpected(model.error());
  if (const auto pose = pose_car(*model, static_attitude(*model)); !pose) return tl::unexpected(pose.error());
  return Taker(car, base, form, matches, bench).take();
}

tl::expected<std::vector<SheetFill>, CarFailure> fill_sheet(const Car& car, const Setup& setup, const SheetForm& form,
                                                            const std::vector<SheetMatch>& matches,
                                                            const BenchKit& bench) {
  const auto v = evaluate(car, setup, {}, coarse_curve);
  if (!v) return tl::unexpected(v.error());
  const std::vector<SheetPlace> places = sheet_places(car);
  const std::vector<std::string> names = noted_names(form);
  std::vector<SheetFill> values(form.fields.size());
  // "left / right" where they differ and the field is for both.
  const auto by_side = [](const SheetMatch& m, bool sides, const std::string& left, const std::string& right) {
    if (m.side) return *m.side == Side::left ? left : right;
    return !sides || left == right ? left : fmt::format("{} / {}", left, right);
  };
  for (std::size_t f = 0; f < form.fields.size() && f < matches.size(); ++f) {
    const FormField& field = form.fields[f];
    const SheetMatch& m = matches[f];
    const int found = m.place.empty() ? -1 : find_place(places, m.place);
    if (found < 0 || field.read_only) continue;
    const SheetPlace& p = places[at(found)];
    SheetFill& value = values[f];
    if (const SetupWords* words = words_of(p.kind)) {
      value.text = setup.*words->text;
    } else if (p.kind == Place::noted) {
      const std::string* text = noted_under(setup, names[f]);
      if (!text && field.kind != FormFieldKind::box) continue;
      if (text) value = {*text, *text == field.option, false};
    } else if (p.kind == Place::ride_height) {
      value.text = fmt::format("{:g}", std::round(1000.0 * setup.ride_height_mm[at(*p.end)]) / 1000.0);
    } else if (p.kind == Place::part) {
      const Adjuster& a = car.adjusters[p.adjuster];
      const Setting& s = setup.of(p.adjuster);
      value.text = by_side(m, p.sides, part_text(a, s.left), part_text(a, s.right));
      value.tick = part_text(a, s.on(m.side.value_or(Side::left))) == m.option && (m.side || s.left == s.right);
    } else {
      const int decimals = p.kind == Place::caster ? 1 : p.gauge.spec().decimals;
      PerSide<std::string> told;
      for (const Side side : both_sides)
        if (const auto reads = read_place(*v, p, p.kind, side, bench)) {
          told[at(side)] = plain_number(p.kind == Place::toe ? std::abs(*reads) : *reads, decimals);
          if (p.kind == Place::toe && sheet_number(told[at(side)]) != 0.0)
            told[at(side)] += " " + (*reads > 0.0 ? say("in") : say("out"));
        }
      if (told[0].empty() && told[1].empty()) continue;
      value.text = by_side(m, p.sides, told[0], told[1]);
    }
    value.known = true;
    if (field.kind == FormFieldKind::choice && !field.choices.empty()) {
      // The form's own words for it.
      const auto same = std::find_if(field.choices.begin(), field.choices.end(), [&](const std::string& c) {
        if (c == value.text) return true;
        if (p.kind != Place::part) return false;
        const Adjuster& a = car.adjusters[p.adjuster];
        const double now = setup.of(p.adjuster).on(m.side.value_or(Side::left));
        if (const Positions* positions = a.positions())
          return sheet_position(*positions, c) == static_cast<int>(std::lround(now));
        return sheet_number(c) == std::optional(now);
      });
      if (same == field.choices.end()) {
        value.known = false;
        continue;
      }
      value.text = *same;
    }
  }
  return values;
}

}  // namespace lowkite
