// What comes in from electronic gauges: lines of text, checked one by one, and when a row of readings has settled.
//
// The protocol is docs/formats/instruments.md. A sender may send anything at any speed: what is not a good line is
// refused with a reason and costs nothing but itself.
#pragma once

#include <cstdint>
#include <deque>
#include <string>
#include <string_view>
#include <tuple>

#include <tl/expected.hpp>

#include "core/bench/gauges.hpp"

namespace lowkite {

/// What an instrument can read: a gauge on one wheel. Gauges of a whole axle come as its left side.
struct InstrumentPlace {
  GaugeKind kind = &gauge::corner_scale;
  End end = End::front;
  Side side = Side::left;

  bool operator==(const InstrumentPlace&) const = default;
  /// By the gauges' names: an order that is the same in every run.
  bool operator<(const InstrumentPlace& o) const {
    return std::tuple(kind->id, end, side) < std::tuple(o.kind->id, o.end, o.side);
  }
};

struct InstrumentReading {
  InstrumentPlace place;
  double value = 0.0;          ///< in the gauge's unit; toe: positive = in
  std::uint32_t sequence = 0;  ///< counts up by one with each line of its place
};

/// The gauges that may send.
std::span<const GaugeKind> instrument_kinds();
/// "lf", "rf", "lr", "rr"; "f" and "r" for gauges of a whole axle.
std::string channel_of(const InstrumentPlace& place);

/// One line with its checksum, without its end.
std::string write_line(const InstrumentReading& reading);
/// The same in a unit of the caller's: what a wrongly set instrument would send.
std::string write_line(const InstrumentReading& reading, std::string_view unit);
/// A sentence that says what is wrong with the line, when it is no good.
tl::expected<InstrumentReading, std::string> parse_line(std::string_view line);

/// Cuts what comes in into lines. Holds at most one line's worth of bytes.
class LineCutter {
 public:
  static constexpr std::size_t longest = 96;

  /// Calls `each` for every line that is complete. A line longer than `longest` is passed over whole.
  template <class F>
  void feed(std::string_view bytes, F&& each) {
    for (const char c : bytes) {
      if (c == '\n') {
        if (too_long_)
          ++passed_over_;
        else
          each(std::string_view(line_));
        line_.clear();
        too_long_ = false;
      } else if (line_.size() >= longest) {
        too_long_ = true;
      } else if (c != '\r') {
        line_.push_back(c);
      }
    }
  }
  /// What was begun is no part of what comes next: after the connection was lost.
  void drop() {
    line_.clear();
    too_long_ = false;
  }
  [[nodiscard]] std::uint64_t passed_over() const { return passed_over_; }

 private:
  std::string line_;
  bool too_long_ = false;
  std::uint64_t passed_over_ = 0;
};

/// The latest readings of one place: their mean, and whether they stand still.
class SteadyReading {
 public:
  static constexpr std::size_t window = 12;       ///< readings that are averaged
  static constexpr std::int64_t stale_ms = 2000;  ///< older ones are no longer what the gauge shows

  explicit SteadyReading(double resolution = 0.1) : resolution_(resolution) {}

  /// `now_ms`: a clock that only goes forward.
  void push(const InstrumentReading& reading, std::int64_t now_ms);
  [[nodiscard]] bool fresh(std::int64_t now_ms) const { return !values_.empty() && now_ms - last_ms_ <= stale_ms; }
  [[nodiscard]] double latest() const { return values_.back(); }
  /// Of what is in the window. Precondition: something was pushed.
  [[nodiscard]] double mean() const;
  [[nodiscard]] double spread() const;
  /// A full window that scatters less than the gauge's resolution and goes nowhere by more than half of it.
  [[nodiscard]] bool steady() const;
  /// Lines that were counted by the sender but never came.
  [[nodiscard]] std::uint64_t lost() const { return lost_; }

 private:
  double resolution_;
  std::deque<double> values_;
  std::uint32_t sequence_ = 0;
  std::int64_t last_ms_ = 0;
  std::uint64_t lost_ = 0;
};

}  // namespace lowkite
