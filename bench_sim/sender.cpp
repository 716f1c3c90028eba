#include "bench_sim/sender.hpp"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "core/plan/comparison.hpp"

namespace lowkite {
namespace {

/// What such a gauge says when its unit button was pressed.
std::pair<std::string_view, double> other_unit(Unit unit) {
  if (unit == Unit::g) return {"oz", 1.0 / 28.349523125};
  if (unit == Unit::mm) return {"in", 1.0 / 25.4};
  return {"rad", radians(1.0)};
}

}  // namespace

tl::expected<Sender, std::string> Sender::on(const Car& car, const Setup& setup, const SenderOptions& options) {
  const auto stands = evaluate(car, setup, {}, 5);
  if (!stands) return tl::unexpected(stands.error().message);
  Sender sender;
  sender.options_ = options;
  sender.random_.seed(options.seed);
  for (const Gauge& g : gauges_of(car)) {
    const auto kinds = instrument_kinds();
    if (std::find(kinds.begin(), kinds.end(), g.kind) == kinds.end()) continue;
    for (const Side side : both_sides) {
      if (side == Side::right && !g.spec().per_wheel) continue;
      const InstrumentPlace place{g.kind, g.end, side};
      const auto value = reading(g, stands->model, stands->source, BenchKit{}, side);
      const auto off = options.off.find(place);
      if (value) sender.truth_[place] = *value + (off == options.off.end() ? 0.0 : off->second);
    }
  }
  return sender;
}

Sender Sender::on(const BenchCar& car, const SenderOptions& options) {
  Sender sender;
  sender.options_ = options;
  sender.random_.seed(options.seed);
  sender.look(car);
  return sender;
}

void Sender::look(const BenchCar& car) {
  const auto kinds = instrument_kinds();
  for (const Gauge& g : gauges_of(car.car())) {
    if (std::find(kinds.begin(), kinds.end(), g.kind) == kinds.end()) continue;
    for (const Side side : both_sides)
      if (side == Side::left || g.spec().per_wheel)
        if (const auto value = car.truth(g, {}, side)) truth_[{g.kind, g.end, side}] = *value;
  }
}

std::vector<std::string> Sender::lines(double seconds) {
  std::vector<std::string> all;
  std::normal_distribution<double> noise(0.0, 1.0);
  std::uniform_real_distribution<double> chance(0.0, 1.0);
  for (const auto& [place, value] : truth_) {
    const GaugeSpec& spec = *place.kind;
    InstrumentReading r{place, 0.0, sent_[place]++};
    r.value = value + spec.resolution * (options_.noise * noise(random_) + options_.drift * seconds);
    if (chance(random_) < options_.drop) continue;
    std::string line;
    if (options_.wrong_unit == spec.id) {
      const auto [unit, factor] = other_unit(spec.unit);
      r.value *= factor;
      line = write_line(r, unit);
    } else {
      line = write_line(r);
    }
    if (chance(random_) < options_.damage)
      line[static_cast<std::size_t>(chance(random_) * static_cast<double>(line.size()))] = '#';
    all.push_back(line + "\n");
  }
  return all;
}

tl::expected<std::pair<InstrumentPlace, double>, std::string> parse_off(std::string_view text) {
  const std::size_t colon = text.find(':');
  const std::size_t equals = text.find('=');
  const std::string bad =
      fmt::format("\"{}\" is no misadjustment; allowed: instrument:channel=amount such as camber:lf=-0.6", text);
  if (colon == std::string_view::npos || equals == std::string_view::npos || equals < colon) return tl::unexpected(bad);
  const std::string_view amount = text.substr(equals + 1);
  double value = 0.0;
  const auto r = std::from_chars(amount.data(), amount.data() + amount.size(), value);
  if (r.ec != std::errc{} || r.ptr != amount.data() + amount.size()) return tl::unexpected(bad);
  for (const GaugeKind kind : instrument_kinds())
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const InstrumentPlace place{kind, end, side};
        if (kind->id == text.substr(0, colon) && channel_of(place) == text.substr(colon + 1, equals - colon - 1))
          return std::pair(place, value);
      }
  return tl::unexpected(bad);
}

}  // namespace lowkite
