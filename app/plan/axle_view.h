// The front view of an axle, to scale and alive: drawn from behind, so that the car's left is on the left.
#pragma once

#include <QWidget>

#include "app/plan/axle_scene.h"
#include "app/plan/plan_model.h"

namespace lowkite::app {

class AxleView : public QWidget {
  Q_OBJECT
 public:
  enum class Zoom { axle, leftCorner, rightCorner };

  explicit AxleView(PlanModel& model, QWidget* parent = nullptr);

  void setZoom(Zoom zoom);
  /// Where a place of the front view is painted, in widget coordinates.
  [[nodiscard]] QPointF toScreen(const FrontPlace& place) const;
  /// Where the handle of an adjuster is painted, on the given side; for clicks.
  [[nodiscard]] std::optional<QPointF> handleAt(int adjuster, Side side) const;
  /// The present drawing painted on any device at any size (for export and pictures).
  void paintOn(QPainter& painter);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  void rebuild();
  void rescale();
  void paintGround(QPainter& p) const;
  void paintSide(QPainter& p, const SceneSide& side, Side which) const;
  void paintShims(QPainter& p, const SceneSide& side) const;
  void paintHandles(QPainter& p, const SceneSide& side) const;
  void paintGhost(QPainter& p) const;
  void paintConstruction(QPainter& p) const;
  void paintRollCentre(QPainter& p) const;
  void paintLabels(QPainter& p) const;
  void paintScaleBar(QPainter& p) const;
  [[nodiscard]] double px(double mm) const { return mm * scale_; }
  /// The handles within reach of a click, nearest first.
  [[nodiscard]] std::vector<int> handlesNear(const QPointF& where) const;

  PlanModel& model_;
  Zoom zoom_ = Zoom::axle;
  std::optional<AxleScene> now_;
  std::optional<AxleScene> ghost_;
  double scale_ = 3.0;
  QPointF origin_;  ///< of the centre plane at the ground, on the screen
};

}  // namespace lowkite::app
