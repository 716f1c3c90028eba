// Small drawings that say what a figure is or how a gauge is laid: no car to scale, only what is meant.
#pragma once

#include <optional>

#include <QLabel>
#include <QString>

#include "app/look/theme.h"
#include "core/bench/gauges.hpp"

class QPainter;

namespace lowkite::app {

enum class Sketch {
  camber,
  toe,
  caster,
  kingpin,
  scrub,
  trail,
  rideHeight,
  track,
  wheelbase,
  rollCentre,
  swingArm,
  antiDive,
  camberGain,
  bumpSteer,
  contactPath,
  ackermann,
  lock,
  steering,
  travel,
  shock,
  shaftOut,
  strokeLeft,
  motionRatio,
  collar,
  spring,
  roll,
  bar,
  scales,
  pullDown,
  shaftCup,
  downStop,
  tyreDroop,
  shockDroop,
  linkLength,
  toePressed,
  wheelPlay,
  endFloat,
  post
};
inline constexpr int sketch_count = static_cast<int>(Sketch::post) + 1;

constexpr double sketchWidth = 168.0, sketchHeight = 104.0;

/// Into a rectangle of any size, as large as it fits.
void paintSketch(QPainter& p, const QRectF& into, Sketch sketch, const Tokens& tokens);
/// None where a drawing would say nothing: laps, counts.
std::optional<Sketch> sketchOf(const FigureSpec& figure);
std::optional<Sketch> sketchOf(GaugeKind gauge);

/// The drawing as an image of rich text, for notes and tips.
QString sketchHtml(Sketch sketch, const QPalette& palette);

/// Shows one; hides itself where there is none.
class SketchLabel : public QWidget {
  Q_OBJECT
 public:
  explicit SketchLabel(const QString& name, QWidget* parent = nullptr);
  void show(const std::optional<Sketch>& sketch);
  [[nodiscard]] const std::optional<Sketch>& sketch() const { return sketch_; }
  /// So many times its usual size.
  void setEnlarged(double times);
  [[nodiscard]] QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::optional<Sketch> sketch_;
  double times_ = 1.0;
};

}  // namespace lowkite::app
