#include "core/bench/instrument.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numeric>
#include <vector>

#include <fmt/format.h>

#include "core/stats/statistics.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array sent_kinds{&gauge::corner_scale, &gauge::ride_height, &gauge::down_stop, &gauge::camber,
                                &gauge::toe};
constexpr std::string_view protocol = "LK1";
/// Beyond this no gauge on the bench can be, in any unit.
constexpr double beyond_sense = 1e6;

unsigned checksum(std::string_view text) {
  unsigned sum = 0;
  for (const char c : text) sum ^= static_cast<unsigned char>(c);
  return sum;
}

std::vector<std::string_view> words_of(std::string_view text) {
  std::vector<std::string_view> words;
  std::size_t from = 0;
  while (from <= text.size()) {
    const std::size_t to = std::min(text.find(' ', from), text.size());
    words.push_back(text.substr(from, to - from));
    from = to + 1;
  }
  return words;
}

template <class T>
bool parsed(std::string_view text, T& value) {
  const auto r = std::from_chars(text.data(), text.data() + text.size(), value);
  return r.ec == std::errc{} && r.ptr == text.data() + text.size();
}

/// What came in, fit to be shown: nothing but printable letters, and not much of it.
std::string shown(std::string_view text) {
  std::string out;
  for (const char c : text.substr(0, 24)) out += c >= ' ' && c <= '~' ? c : '?';
  return out;
}

}  // namespace

std::span<const GaugeKind> instrument_kinds() {
  return sent_kinds;
}

std::string channel_of(const InstrumentPlace& p) {
  const char* end = p.end == End::front ? "f" : "r";
  if (!p.kind->per_wheel) return end;
  return fmt::format("{}{}", p.side == Side::left ? "l" : "r", end);
}

std::string write_line(const InstrumentReading& reading) {
  return write_line(reading, symbol(reading.place.kind->unit));
}

std::string write_line(const InstrumentReading& r, std::string_view unit) {
  const GaugeSpec& spec = *r.place.kind;
  const std::string body = fmt::format("{} {} {} {:.{}f} {} {}", protocol, spec.id, channel_of(r.place), r.value,
                                       spec.decimals + 2, unit, r.sequence);
  return fmt::format("{}*{:02X}", body, checksum(body));
}

tl::expected<InstrumentReading, std::string> parse_line(std::string_view line) {
  const std::size_t star = line.rfind('*');
  if (star == std::string_view::npos)
    return tl::unexpected(say("\"{}\" has no checksum; a line ends in * and two digits", shown(line)));
  const std::string_view body = line.substr(0, star);
  unsigned sum = 0;
  const std::string_view digits = line.substr(star + 1);
  const auto r = std::from_chars(digits.data(), digits.data() + digits.size(), sum, 16);
  if (digits.size() != 2 || r.ec != std::errc{} || r.ptr != digits.data() + digits.size() || sum != checksum(body))
    return tl::unexpected(say("\"{}\" came in damaged: its checksum is another", shown(body)));
  const std::vector<std::string_view> words = words_of(body);
  if (words.size() != 6 || words[0] != protocol)
    return tl::unexpected(say("\"{found}\" is no reading; expected: {protocol} instrument channel value unit number",
                              "found"_a = shown(body), "protocol"_a = protocol));
  InstrumentReading reading;
  const auto kind = std::find_if(sent_kinds.begin(), sent_kinds.end(), [&](GaugeKind k) { return k->id == words[1]; });
  if (kind == sent_kinds.end())
    return tl::unexpected(say("\"{}\" is no instrument that is known here", shown(words[1])));
  reading.place.kind = *kind;
  const GaugeSpec& spec = **kind;
  bool found = false;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const InstrumentPlace place{*kind, end, side};
      if (found || (!spec.per_wheel && side == Side::right) || channel_of(place) != words[2]) continue;
      reading.place = place;
      found = true;
    }
  if (!found)
    return tl::unexpected(say("{instrument}: \"{found}\" is no channel; allowed: {channels}",
                              "instrument"_a = word(spec.label), "found"_a = shown(words[2]),
                              "channels"_a = spec.per_wheel ? say("lf, rf, lr, rr") : "f, r"));
  if (!parsed(words[3], reading.value) || !std::isfinite(reading.value) || std::abs(reading.value) > beyond_sense)
    return tl::unexpected(say("{instrument} {channel}: \"{found}\" is no reading", "instrument"_a = word(spec.label),
                              "channel"_a = words[2], "found"_a = shown(words[3])));
  if (words[4] != symbol(spec.unit))
    return tl::unexpected(say("{instrument} {channel} sends {found}; switch it to {unit}",
                              "instrument"_a = word(spec.label), "channel"_a = words[2], "found"_a = shown(words[4]),
                              "unit"_a = symbol(spec.unit)));
  if (!parsed(words[5], reading.sequence))
    return tl::unexpected(say("{instrument} {channel}: \"{found}\" is no line number",
                              "instrument"_a = word(spec.label), "channel"_a = words[2], "found"_a = shown(words[5])));
  return reading;
}

void SteadyReading::push(const InstrumentReading& reading, std::int64_t now_ms) {
  if (!values_.empty()) {
    const std::uint32_t step = reading.sequence - sequence_;  // wraps as the sender's does
    // An old line that comes late, or a sender that was switched off and on: what went before no longer counts.
    if (step == 0) return;
    if (step > 1000 || now_ms - last_ms_ > stale_ms)
      values_.clear();
    else
      lost_ += step - 1;
  }
  sequence_ = reading.sequence;
  last_ms_ = now_ms;
  values_.push_back(reading.value);
  if (values_.size() > window) values_.pop_front();
}

double SteadyReading::mean() const {
  return std::accumulate(values_.begin(), values_.end(), 0.0) / static_cast<double>(values_.size());
}

double SteadyReading::spread() const {
  const auto [low, high] = std::minmax_element(values_.begin(), values_.end());
  return *high - *low;
}

bool SteadyReading::steady() const {
  if (values_.size() < window) return false;
  const std::vector<double> y(values_.begin(), values_.end());
  std::vector<double> x(y.size());
  std::iota(x.begin(), x.end(), 0.0);
  const auto line = fit_line(x, y);
  const auto all = summarise(y);
  return all->deviation <= resolution_ && std::abs(line->slope) * static_cast<double>(window) <= 0.5 * resolution_;
}

}  // namespace lowkite
