#include "core/measure/sweep.hpp"

#include <cmath>

#include "core/linkage/in_order.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array<SweepSpec, 4> sweep_rows{{
    {SweepOver::travel, "travel", "bump", "mm"},
    {SweepOver::roll, "roll", marked("roll to the right"), "deg"},
    {SweepOver::pitch, "pitch", marked("nose down"), "deg"},
    {SweepOver::steer, "steer", marked("servo to the left"), "deg"},
}};
static_assert(in_order(sweep_rows, &SweepSpec::over));

}  // namespace

std::span<const SweepSpec> sweep_specs() {
  return sweep_rows;
}

const SweepSpec& spec_of(SweepOver over) {
  return sweep_rows[at(over)];
}

Attitude pitched(const Car& car, const Attitude& level, double pitch_rad) {
  Attitude a = level;
  const double half = 0.5 * (car.gauge_x_mm[at(End::front)] - car.gauge_x_mm[at(End::rear)]);
  a.ride_height_mm[at(End::front)] -= half * std::sin(pitch_rad);
  a.ride_height_mm[at(End::rear)] += half * std::sin(pitch_rad);
  return a;
}

Attitude swept(const CarModel& model, const Attitude& level, SweepOver over, double x) {
  Attitude a = level;
  switch (over) {
    case SweepOver::travel:
      for (double& h : a.ride_height_mm) h -= x;
      return a;
    case SweepOver::roll:
      a.roll_rad = radians(x);
      return a;
    case SweepOver::pitch:
      return pitched(*model.car, level, radians(x));
    case SweepOver::steer:
      (model.steering ? a.servo_rad : a.rack_mm) = model.steering ? radians(x) : x;
      return a;
  }
  return a;
}

std::vector<SweepPoint> sweep(const CarModel& model, const Attitude& attitude, const Sweep& s) {
  std::vector<SweepPoint> points;
  points.reserve(at(s.samples));
  for (int i = 0; i < s.samples; ++i) {
    SweepPoint p;
    p.x = s.from + (s.to - s.from) * i / (s.samples - 1);
    if (const auto f = figures_at(model, swept(model, attitude, s.over, p.x))) p.figures = *f;
    points.push_back(std::move(p));
  }
  return points;
}

}  // namespace lowkite
