// Toe plate at the rear with the car pressed down onto its stop: what the wheels do as it squats.
#include <cmath>

#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec toe_pressed{
    .id = "toe_pressed",
    .label = marked("toe plate, pressed down"),
    .unit = Unit::deg,
    .wording = Wording::toe,
    .decimals = 1,
    .resolution = 0.25,
    .per_wheel = true,
    .zero = ZeroSides::in_out,
    .means_something = [](const Car& car, End end) { return end == End::rear && car.axle(end).mechanism->independent; },
    .read = [](const GaugeView& v) -> std::optional<double> {
      const CornerModel& corner = v.model.corner(v.gauge.end, v.side);
      const CornerStops& stops = v.source.travel.corner[at(v.gauge.end)][at(v.side)].stops;
      const auto pressed = corner.linkage->solve(stops.bump.arm_angle, {});
      if (!pressed) return std::nullopt;
      return degrees(std::atan2(pressed->spin_axis.x(), pressed->spin_axis.y()));
    }};

}  // namespace lowkite::gauge
