#include "app/settings/bench_tools.h"

#include <algorithm>

#include "app/kept/kept.h"

namespace lowkite::app {
namespace {

QString benchKey(const char* what) {
  return QStringLiteral("bench/%1").arg(QLatin1String(what));
}

}  // namespace

BenchKit savedBench() {
  const Kept s;
  BenchKit b;
  b.down_stop_blocks_mm = b.droop_blocks_mm = s.value(benchKey("blocks_mm"), b.down_stop_blocks_mm).toDouble();
  b.slop_mm = s.value(benchKey("slop_mm"), b.slop_mm).toDouble();
  b.cup_mm = s.value(benchKey("cup_mm"), b.cup_mm).toDouble();
  b.caliper = static_cast<Caliper>(std::clamp(s.value(benchKey("caliper"), 2).toInt(), 0, 2));
  b.droop_from = static_cast<DroopFrom>(std::clamp(s.value(benchKey("droop_from"), 0).toInt(), 0, 1));
  b.droop_line_mm = s.value(benchKey("droop_line_mm"), b.droop_line_mm).toDouble();
  b.ride_points_apart_mm = s.value(benchKey("ride_points_apart_mm"), b.ride_points_apart_mm).toDouble();
  return b;
}

void keepBench(const BenchKit& b) {
  Kept s;
  s.setValue(benchKey("blocks_mm"), b.down_stop_blocks_mm);
  s.setValue(benchKey("slop_mm"), b.slop_mm);
  s.setValue(benchKey("cup_mm"), b.cup_mm);
  s.setValue(benchKey("caliper"), static_cast<int>(b.caliper));
  s.setValue(benchKey("droop_from"), static_cast<int>(b.droop_from));
  s.setValue(benchKey("droop_line_mm"), b.droop_line_mm);
  s.setValue(benchKey("ride_points_apart_mm"), b.ride_points_apart_mm);
}

}  // namespace lowkite::app
