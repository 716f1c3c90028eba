// The front view of an axle, to scale and alive: drawn from behind, so that the car's left is on the left.
#pragma once

#include "app/drawing/axle_scene.h"
#include "app/drawing/drawing_view.h"

namespace lowkite::app {

class AxleView : public DrawingView {
  Q_OBJECT
 public:
  explicit AxleView(PlanModel& model, QWidget* parent = nullptr);

  void setZoom(Zoom zoom) override;
  /// Where a place of the front view is painted, in widget coordinates.
  [[nodiscard]] QPointF toScreen(const FrontPlace& place) const;
  void paintOn(QPainter& painter) override;
  [[nodiscard]] std::string_view figureAt(const QPointF& where) const override;
  /// Where a figure is written on one side, in widget coordinates; empty: nowhere.
  [[nodiscard]] QRectF placeOfFigure(std::string_view figure, Side side) const;

 protected:
  [[nodiscard]] std::vector<Handle> handles() const override;
  /// Up and down is bump, left and right is roll.
  void dragged(const QPointF& px) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void rebuild();
  void rescale();
  void paintGround(QPainter& p) const;
  void paintSide(QPainter& p, const SceneSide& side) const;
  void paintStrokes(QPainter& p, const std::vector<SceneStroke>& strokes) const;
  void paintShims(QPainter& p, const SceneSide& side) const;
  void paintGhost(QPainter& p) const;
  void paintConstruction(QPainter& p) const;
  void paintRollCentre(QPainter& p) const;
  void paintForces(QPainter& p) const;
  void paintLabels(QPainter& p) const;
  [[nodiscard]] QRectF tyreOnScreen(Side side) const;
  [[nodiscard]] double px(double mm) const { return mm * scale_; }
  /// The wheels stand close to each other on the paper: no room for a label between theirs.
  [[nodiscard]] bool narrow() const { return 2.0 * px(now_->halfWidth) < 420.0; }

  Zoom zoom_ = Zoom::axle;
  bool stale_ = true;  ///< the comparison has changed while nobody looked
  std::optional<AxleScene> now_;
  std::optional<AxleScene> ghost_;
  double scale_ = 3.0;
  QPointF origin_;  ///< of the centre plane at the ground, on the screen
};

}  // namespace lowkite::app
