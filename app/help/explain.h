// What a figure, a gauge or a part is, told where it stands: a small drawing and a few lines, for tips and for notes
// that "What is this?" opens.
#pragma once

#include <QString>

#include "core/bench/gauges.hpp"

class QPalette;

namespace lowkite::app {

/// Rich text. The meaning is the guide's own sentence.
QString explainFigure(const FigureSpec& figure, const QPalette& palette);
/// How the gauge is laid and why, as the bench has it; nothing of it where no step of the bench reads it.
QString explainGauge(const Gauge& gauge, const QPalette& palette);
/// What one real step of the part does to the figures that racers watch, camber and toe put back, computed on the car
/// as it is set; what it is not computed from is said.
QString explainPart(const Car& car, const Setup& setup, PartHandle adjuster);

}  // namespace lowkite::app
