// What several gauges ask about a car before they can be laid on it.
#pragma once

#include "core/bench/gauges.hpp"
#include "core/load/spring_place.hpp"

namespace lowkite::laid_on {

inline bool any(const Car&, End) {
  return true;
}
inline bool known(const Car& car, End end, Size size) {
  return car.axle(end).size_of(size) > 0.0;
}
/// A shock between two mounts, with a collar.
inline bool shock(const Car& car, End end) {
  return spring_holder(car, end) == SpringHolder::collars && car.axle(end).has(attachment::shock_upper) &&
         car.axle(end).has(attachment::shock_lower);
}
inline bool weighed(const Car& car) {
  return car.mass_kg > 0.0 && car.cg_x_mm;
}
inline bool sprung(const Car& car, End end) {
  return shock(car, end) && weighed(car) && known(car, end, Size::spring_rate);
}
inline bool steered(const Car& car, End end) {
  return car.axle(end).mechanism->steered && car.steering.spec;
}

/// The droop screws, or the limiters in the shocks, as it is the one or the other that stops the hanging wheel.
std::vector<PartHandle> droop_parts(const Car& car, const Gauge& gauge, StopKind droop);

}  // namespace lowkite::laid_on
