// Lock gauge: the inside wheel with the car hanging, level and pressed down, and both wheels at the end point.
#include <algorithm>

#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

/// Inside wheel at what the servo may do at one of the travels that the lock was looked at.
template <class Which>
std::optional<double> at_travel(const GaugeView& v, Which which) {
  if (!v.source.travel.lock || v.source.travel.lock->over_travel.empty()) return std::nullopt;
  return degrees(which(v.source.travel.lock->over_travel).inside_rad[at(v.side)]);
}

using Samples = std::vector<LockSample>;

std::optional<double> hanging(const GaugeView& v) {
  return at_travel(v, [](const Samples& s) { return s.front(); });
}
std::optional<double> level(const GaugeView& v) {
  return at_travel(v, [](const Samples& s) {
    return *std::find_if(s.begin(), s.end(), [](const LockSample& l) { return l.travel_mm >= 0.0; });
  });
}
std::optional<double> pressed(const GaugeView& v) {
  return at_travel(v, [](const Samples& s) { return s.back(); });
}
template <PerSide<double> LockFigures::*angle>
std::optional<double> at_end_point(const GaugeView& v) {
  return v.source.travel.lock ? std::optional(degrees(((*v.source.travel.lock).*angle)[at(v.side)])) : std::nullopt;
}

tl::expected<void, CarFailure> by_end_point(const Car&, const Setup&, const Gauge&, Side, GaugeAnswer& a) {
  a.verdict = GaugeAnswer::Verdict::turn;
  a.end_point = true;
  a.change = a.told = -a.difference;
  return {};
}

constexpr GaugeSpec lock_gauge(std::string_view id, std::string_view label, decltype(GaugeSpec::read) read,
                               decltype(GaugeSpec::answer) answer = nullptr) {
  return {.id = id,
          .label = label,
          .unit = Unit::deg,
          .wording = Wording::plain,
          .decimals = 1,
          .resolution = 0.5,
          .per_wheel = true,
          .needs = GaugeNeeds::lock,
          .means_something = laid_on::steered,
          .read = read,
          .answer = answer};
}

}  // namespace

const GaugeSpec lock_hanging = lock_gauge("lock_hanging", marked("lock, wheels hanging"), hanging);
const GaugeSpec lock_level = lock_gauge("lock_level", marked("lock, at ride height"), level);
const GaugeSpec lock_pressed = lock_gauge("lock_pressed", marked("lock, pressed down"), pressed);
const GaugeSpec lock_inside =
    lock_gauge("lock_inside", marked("lock, inside wheel"), at_end_point<&LockFigures::inside_rad>, by_end_point);
const GaugeSpec lock_outside =
    lock_gauge("lock_outside", marked("lock, outside wheel"), at_end_point<&LockFigures::outside_rad>);

}  // namespace lowkite::gauge
