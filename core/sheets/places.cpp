#include "core/sheets/places.hpp"

#include <algorithm>
#include <array>
#include <cctype>

#include <fmt/format.h>

#include "core/figures/variant.hpp"
#include "core/io/typed_text.hpp"
#include "core/plan/wanted.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

std::string with_end(End end, const std::string& text) {
  std::string small = text;
  if (!small.empty()) small[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(small[0])));
  return fmt::format("{}: {}", end == End::front ? say("Front") : say("Rear"), small);
}

/// Without spaces and what a racer leaves out: units, "hole", "no.".
std::string bare(const std::string& text) {
  static constexpr std::array<std::string_view, 10> left_out{"hole", "pos", "position", "no",     "nr",
                                                             "mm",   "deg", "degrees",  "degree", "cst"};
  std::string small = text, bare;
  for (char& c : small) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  for (const std::string& word : plain_words(small))
    if (std::find(left_out.begin(), left_out.end(), word) == left_out.end()) bare += (bare.empty() ? "" : " ") + word;
  return bare;
}

/// A sign before the first digit counts: "-1 tooth" is not "+1 tooth".
char sign_of(const std::string& text) {
  const std::size_t digit = text.find_first_of("0123456789");
  if (digit == std::string::npos || digit == 0) return '+';
  return text[digit - 1] == '-' ? '-' : '+';
}

}  // namespace

std::vector<SheetPlace> sheet_places(const Car& car) {
  using K = SheetPlaceKind;
  std::vector<SheetPlace> places;
  const auto word = [&](const char* id, K kind, const std::string& label) {
    SheetPlace p;
    p.id = id;
    p.kind = kind;
    p.label = label;
    places.push_back(p);
  };
  word("name", K::name, "Name of the setup");
  word("date", K::date, "Date");
  word("track", K::track, "Track");
  word("notes", K::notes, "Notes: why it was made");
  word("noted", K::noted, "Also noted, under its own name");
  const std::vector<Gauge> gauges = gauges_of(car);
  const auto kit = evaluate(car, kit_setup(car), {}, coarse_curve);
  const auto on_the_kit = [&](const Gauge& g) {
    return kit ? reading(g, kit->model, kit->source, BenchKit{}, Side::left) : std::nullopt;
  };
  for (const End end : both_ends) {
    const auto add = [&](const std::string& id, K kind, const std::string& label, const std::string& unit, bool sides) {
      SheetPlace p;
      p.id = id;
      p.kind = kind;
      p.end = end;
      p.label = with_end(end, label);
      p.unit = unit;
      p.sides = sides;
      places.push_back(p);
      return &places.back();
    };
    const std::string at_end(name_of(end));
    add("ride_height/" + at_end, K::ride_height, say("Ride height"), "mm", false);
    for (const Gauge& g : gauges) {
      if (g.end != end || g.kind == &gauge::ride_height || g.kind == &gauge::pull_down) continue;
      const auto angle = [&](const char* id, K kind, const std::string& label) {
        add(id + ("/" + at_end), kind, label, "deg", true)->gauge = g;
      };
      if (g.kind == &gauge::camber) {
        angle("camber", K::camber, say("Camber, with its sign"));
        angle("camber_minus", K::camber_minus, say("Camber, minus left out"));
      } else if (g.kind == &gauge::toe) {
        angle("toe", K::toe, say("Toe, with in or out written"));
        angle("toe_in", K::toe_in, say("Toe, plus is in"));
        angle("toe_out", K::toe_out, say("Toe, plus is out"));
      } else {
        std::string id = fmt::format("gauge/{}/{}", g.spec().id, at_end);
        if (g.link) id += fmt::format("/{}", car.axle(end).mechanism->links[g.link].id);
        add(id, K::gauge, g.label, std::string(symbol(g.spec().unit)), g.spec().per_wheel);
        places.back().gauge = g;
        places.back().kit_reads = on_the_kit(g);
      }
    }
    if (can_set(car, end, WheelAngle::caster)) add("caster/" + at_end, K::caster, say("Caster"), "deg", true);
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      // Threads are told by what a caliper or a gauge reads.
      if (a.end != end || a.threaded()) continue;
      SheetPlace* p = add("part/" + a.id, K::part, a.name, a.positions() ? "" : "mm", !a.steering && !a.one_piece());
      p->adjuster = i;
    }
  }
  return places;
}

int find_place(const std::vector<SheetPlace>& places, const std::string& id) {
  for (std::size_t i = 0; i < places.size(); ++i)
    if (places[i].id == id) return static_cast<int>(i);
  return -1;
}

std::optional<double> sheet_number(const std::string& text) {
  std::string plain = text;
  // A real minus sign and a degree sign, as word processors set them.
  for (const auto& [from, to] : {std::pair<std::string, std::string>("\u2212", "-"), {"\u00B0", " "}, {"\u2013", "-"}})
    for (std::size_t i = plain.find(from); i != std::string::npos; i = plain.find(from, i + to.size()))
      plain.replace(i, from.size(), to);
  std::string numbers;
  for (std::size_t i = 0; i < plain.size(); ++i) {
    const char c = plain[i];
    const auto digit_at = [&](std::size_t k) {
      return k < plain.size() && std::isdigit(static_cast<unsigned char>(plain[k])) != 0;
    };
    // A point belongs to a number only where a digit stands at it: "approx. 3".
    if ((c == '.' || c == ',') && !digit_at(i + 1) && !(i > 0 && digit_at(i - 1))) {
      if (!numbers.empty() && numbers.back() != ' ') numbers += ' ';
      continue;
    }
    if (std::isdigit(static_cast<unsigned char>(c)) || c == '.' || c == ',' || c == '+' || c == '-')
      numbers += c;
    else if (!numbers.empty() && numbers.back() != ' ')
      numbers += ' ';
  }
  while (!numbers.empty() && (numbers.back() == ' ' || numbers.back() == '.' || numbers.back() == ','))
    numbers.pop_back();
  if (numbers.empty()) return std::nullopt;
  if (const auto one = number_in(numbers)) return one;
  // "1 + 0.5": what lies on each other. A difference is no stack.
  double sum = 0.0;
  std::string part;
  int parts = 0;
  for (const char c : numbers + "+") {
    if (c != '+') {
      part += c;
      continue;
    }
    const auto v = number_in(trimmed(part));
    if (!v || *v < 0.0) return std::nullopt;
    sum += *v;
    ++parts;
    part.clear();
  }
  return parts > 1 ? std::optional(sum) : std::nullopt;
}

PerSide<std::string> sheet_sides(const std::string& text) {
  for (const char mark : {'/', '|'})
    if (const std::size_t at = text.find(mark);
        at != std::string::npos && text.find(mark, at + 1) == std::string::npos) {
      const std::string left = trimmed(text.substr(0, at)), right = trimmed(text.substr(at + 1));
      if (!left.empty() && !right.empty()) return {left, right};
    }
  return {text, text};
}

std::optional<int> sheet_position(const Positions& positions, const std::string& text) {
  const std::string wanted = bare(text);
  std::optional<int> found;
  const auto only = [&](auto fits) {
    found.reset();
    for (std::size_t i = 0; i < positions.list.size(); ++i) {
      if (!fits(positions.list[i].label)) continue;
      if (found) return false;
      found = static_cast<int>(i);
    }
    return found.has_value();
  };
  if (only([&](const std::string& label) { return label == trimmed(text); })) return found;
  if (!wanted.empty() &&
      only([&](const std::string& label) { return bare(label) == wanted && sign_of(label) == sign_of(text); }))
    return found;
  const auto number = sheet_number(text);
  if (number && only([&](const std::string& label) { return sheet_number(label) == number; })) return found;
  return std::nullopt;
}

}  // namespace lowkite
