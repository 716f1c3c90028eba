#include "core/figures/figures.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {

std::string_view symbol(Unit unit) {
  switch (unit) {
    case Unit::mm:
      return "mm";
    case Unit::deg:
      return "deg";
    case Unit::deg_per_mm:
      return "deg/mm";
    case Unit::mm_per_deg:
      return "mm/deg";
    case Unit::deg_per_deg:
      return "deg/deg";
    case Unit::percent:
      return "%";
    case Unit::g:
      return "g";
    case Unit::mm_per_mm:
      return "mm/mm";
    case Unit::hz:
      return "Hz";
    case Unit::n:
      return "N";
    case Unit::n_per_mm:
      return "N/mm";
    case Unit::n_s_per_m:
      return "N s/m";
    case Unit::n_mm_per_deg:
      return "N mm/deg";
    case Unit::s:
      return "s";
    case Unit::s_per_lap:
      return "s/lap";
    case Unit::turns:
      return "turns";
    case Unit::count:
      return "";
  }
  return {};
}

bool FigureSpec::runs_to_infinity() const {
  return (group == FigureGroup::roll || group == FigureGroup::side) && !id.ends_with("swing_arm");
}

std::string_view FigureSpec::without() const {
  if (id.ends_with("swing_arm")) return marked("parallel");
  return runs_to_infinity() ? marked("at infinity") : marked("none here");
}

TravelRead FigureSpec::travel_read() const {
  if (!whole_travel) return TravelRead::none;
  return needs == Needs::servo || needs == Needs::shaft ? TravelRead::and_lock : TravelRead::straight;
}

double FigureSpec::resolution() const {
  return 0.5 * std::pow(10.0, -decimals);
}

std::optional<double> FigureSpec::read(const FigureSource& source, End end, Side side) const {
  const auto* f = std::get_if<GeometryRead>(&from);
  return f ? (*f)(source, end, side) : std::nullopt;
}
std::optional<double> FigureSpec::read(const LoadSource& source, End end, Side side) const {
  const auto* f = std::get_if<LoadRead>(&from);
  return f ? (*f)(source, end, side) : std::nullopt;
}
std::optional<double> FigureSpec::read(const LapFigures& laps) const {
  const auto* f = std::get_if<LapRead>(&from);
  return f ? (*f)(laps) : std::nullopt;
}

const FigureSpec* find_figure(std::string_view id) {
  for (const auto list : {geometry_figures(), load_figures(), lap_time_figures()})
    for (const FigureSpec& f : list)
      if (f.id == id) return &f;
  return nullptr;
}

std::vector<const FigureSpec*> flagged(std::span<const FigureSpec> list, FigureFlag flag) {
  std::vector<const FigureSpec*> found;
  for (const FigureSpec& f : list)
    if (f.is(flag)) found.push_back(&f);
  return found;
}

std::vector<FigurePlace> places_of(std::span<const FigureSpec> list) {
  std::vector<FigurePlace> places;
  for (const FigureSpec& f : list)
    if (f.per == Per::car) places.push_back({&f, {}, {}});
  for (const End end : both_ends)
    for (const FigureSpec& f : list) {
      if (f.per == Per::axle) places.push_back({&f, end, {}});
      if (f.per_wheel())
        for (const Side side : both_sides) places.push_back({&f, end, side});
    }
  return places;
}

std::span<const FigureGroup> figure_groups() {
  using G = FigureGroup;
  static constexpr std::array all{G::stance, G::tyre,  G::roll,  G::side,    G::steering, G::lock,
                                  G::travel, G::shock, G::shaft, G::springs, G::laps};
  return all;
}

bool applies(const FigureSpec& figure, const Car& car, End end) {
  const Axle& a = car.axle(end);
  const bool shock = a.mechanism->independent && a.has(attachment::shock_upper) && a.has(attachment::shock_lower);
  const auto known = [&](Size s) { return a.size_of(s) > 0.0; };
  switch (figure.needs) {
    case Needs::wheel:
      return true;
    case Needs::linkage:
      return a.mechanism->independent;
    case Needs::stops:
      return a.mechanism->independent ||
             (a.has(attachment::shock_upper) && a.has(attachment::shock_lower) && known(Size::shock_extended));
    case Needs::kingpin:
      return a.mechanism->steered;
    case Needs::servo:
      return a.mechanism->steered && car.steering.spec;
    case Needs::toe_link:
      return std::any_of(a.mechanism->links.begin(), a.mechanism->links.end(),
                         [](const LinkSpec& l) { return l.holds == LinkHolds::toe; });
    case Needs::shock:
      return shock;
    case Needs::shock_ends:
      return shock && known(Size::shock_extended) && known(Size::shock_compressed);
    case Needs::shaft:
      return a.cup.has_value() && a.has(attachment::shaft_cup) && a.has(attachment::shaft_joint);
    case Needs::braked:
      return a.mechanism->independent && car.cg_height_mm > 0.0 && a.braked_share > 0.0;
    case Needs::driven:
      return a.mechanism->independent && car.cg_height_mm > 0.0 && a.driven_share > 0.0;
  }
  return false;
}

}  // namespace lowkite
