// The car from above, from its left side, or turned around by hand; to scale and alive.
#pragma once

#include <functional>

#include "app/drawing/car_scene.h"
#include "app/drawing/drawing_view.h"

namespace lowkite::app {

class CarView : public DrawingView {
  Q_OBJECT
 public:
  enum class From { above, side, around };

  CarView(PlanModel& model, From from, QWidget* parent = nullptr);

  void setZoom(Zoom zoom) override;
  /// Where a place over the ground (x forward, y left, z up) is painted.
  [[nodiscard]] QPointF toScreen(const Vec3& place) const;
  void paintOn(QPainter& painter) override;

 protected:
  [[nodiscard]] std::vector<GripOnScreen> grips() const override;
  /// From above: steering. From the side: bump and pitch. Around: turns the view.
  void dragged(const QPointF& px) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void rebuild();  ///< at once where somebody looks, else when somebody does
  void build();
  void rescale() override;
  /// Right and up on the paper, mm.
  [[nodiscard]] QPointF project(const Vec3& place) const;
  /// The corners that are drawn: all of them, or those of one axle or wheel.
  [[nodiscard]] std::vector<std::pair<End, Side>> shown() const;

  void paintGround(QPainter& p) const;
  void paintPlate(QPainter& p) const;
  void paintWheel(QPainter& p, const SceneWheel& wheel, bool ghost) const;
  void paintCorner(QPainter& p, const SceneCorner& corner) const;
  void paintLines(QPainter& p, const std::vector<SceneLine>& lines) const;
  void paintGhost(QPainter& p) const;
  void paintTurn(QPainter& p) const;
  void paintSideFigures(QPainter& p) const;
  /// Roll centres, the axis between them, the centre of gravity and its lever.
  void paintRollAxis(QPainter& p);
  void paintForces(QPainter& p) const;
  void paintLabels(QPainter& p);
  /// Which stop acts first either way, and a drive shaft that falls out or bottoms.
  void tellStops(const Comparison& c, Side side, const std::function<void(const QString&, const QColor&)>& tell) const;

  From from_;
  Zoom zoom_ = Zoom::axle;
  bool stale_ = true;
  std::optional<CarScene> now_;
  std::optional<CarScene> ghost_;
  double yaw_ = radians(35.0);  ///< of the view around
  double tilt_ = radians(24.0);
};

}  // namespace lowkite::app
