// Gauge readings and what to do about them, in a racer's words.
#pragma once

#include <QString>

#include "app/look/theme.h"
#include "core/bench/gauges.hpp"

namespace lowkite::app {

/// A reading without its unit: "1.0 out", "5.2".
QString gaugeNumber(const GaugeSpec& spec, double value);
/// The same with its unit: "1.0 deg out", "5.2 mm".
QString gaugeText(const GaugeSpec& spec, double value);

/// What it should read: "5.2 mm"; of play, from where to where.
QString targetText(const GaugeSpec& spec, double value);
/// To what the gauge can tell: "tells ± 0.1 mm"; of play nothing is said.
QString tellsText(const GaugeSpec& spec);

/// The verdict on a reading and what to do, as rich text: a sign, the difference, then part, way and turns.
QString answerText(const Car& car, const Gauge& gauge, Side side, const GaugeAnswer& answer, const Tokens& tokens);

}  // namespace lowkite::app
