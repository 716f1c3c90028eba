// Caliper on a shock: between its pins at ride height and pulled out; how much of its shaft shows pulled out, which is
// what sheets give, and how much of its stroke is left at ride height.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

constexpr GaugeSpec shock_gauge(std::string_view id, std::string_view label, decltype(GaugeSpec::means_something) meant,
                                decltype(GaugeSpec::read) read) {
  return {.id = id,
          .label = label,
          .unit = Unit::mm,
          .wording = Wording::plain,
          .decimals = 1,
          .resolution = 0.1,
          .per_wheel = true,
          .means_something = meant,
          .read = read};
}

const std::optional<ShockFigures>& shock_of(const GaugeView& v) {
  return v.source.standing.axle[at(v.gauge.end)].parts[at(v.side)].shock;
}

}  // namespace

const GaugeSpec shock_length = shock_gauge("shock_length", marked("shock, pin to pin"), laid_on::shock,
                                           [](const GaugeView& v) -> std::optional<double> {
                                             const auto& shock = shock_of(v);
                                             return shock ? std::optional(shock->length_mm) : std::nullopt;
                                           });
const GaugeSpec shock_pulled_out = shock_gauge(
    "shock_pulled_out", marked("shock, pulled out"),
    [](const Car& car, End end) { return laid_on::shock(car, end) && laid_on::known(car, end, Size::shock_extended); },
    [](const GaugeView& v) -> std::optional<double> {
      return v.model.corner(v.gauge.end, v.side).geometry.size_of(Size::shock_extended);
    });
const GaugeSpec shaft_exposed = shock_gauge(
    "shaft_exposed", marked("shaft exposed, out"),
    [](const Car& car, End end) {
      return laid_on::shock(car, end) && laid_on::known(car, end, Size::shock_compressed) &&
             laid_on::known(car, end, Size::shock_extended);
    },
    [](const GaugeView& v) -> std::optional<double> {
      // Pushed in, the eyelet meets the body: what is out then is taken to be nothing.
      const CornerGeometry& g = v.model.corner(v.gauge.end, v.side).geometry;
      return g.size_of(Size::shock_extended) - g.size_of(Size::shock_compressed);
    });
const GaugeSpec stroke_left = shock_gauge(
    "stroke_left", marked("stroke left, standing"),
    [](const Car& car, End end) {
      return laid_on::shock(car, end) && laid_on::known(car, end, Size::shock_compressed);
    },
    [](const GaugeView& v) -> std::optional<double> {
      const auto& shock = shock_of(v);
      return shock ? shock->left_in_bump_mm : std::nullopt;
    });

}  // namespace lowkite::gauge
