// The front view of an axle, to scale and alive: drawn from behind, so that the car's left is on the left.
#pragma once

#include <functional>

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
  /// Where a figure is written on one side, in widget coordinates; empty: nowhere.
  [[nodiscard]] QRectF placeOfFigure(std::string_view figure, Side side) const;

 protected:
  [[nodiscard]] std::vector<GripOnScreen> grips() const override;
  /// Up and down is bump, left and right is roll.
  void dragged(const QPointF& px) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void rebuild();  ///< at once where somebody looks, else when somebody does
  void build();
  /// The origin is the centre plane at the ground.
  void rescale() override;
  void paintGround(QPainter& p) const;
  void paintSide(QPainter& p, const SceneSide& side) const;
  void paintTyre(QPainter& p, const SceneSide& side) const;
  void paintStrokes(QPainter& p, const std::vector<SceneStroke>& strokes) const;
  void paintShims(QPainter& p, const SceneSide& side) const;
  void paintGhost(QPainter& p) const;
  void paintConstruction(QPainter& p);
  void paintRollCentre(QPainter& p);
  /// The centre of gravity, and how far it lies over the roll axis.
  void paintGravity(QPainter& p);
  void paintForces(QPainter& p);
  void drawConstruction(QPainter& p, const WheelConstruction& c, const std::function<QPen(int)>& pen) const;
  /// Points to what lies outside the picture and says what it is; where the pointer begins.
  QPointF pointOutside(QPainter& p, const QPointF& at, const QString& text, const QColor& colour);
  void paintLabels(QPainter& p);
  /// Which axle it is, and how it is held.
  void paintCaption(QPainter& p);
  /// Left and right by their words, where there is room.
  void paintSides(QPainter& p);
  [[nodiscard]] QRectF tyreOnScreen(Side side) const;
  [[nodiscard]] double px(double mm) const { return mm * scale_; }

  Zoom zoom_ = Zoom::axle;
  bool stale_ = true;  ///< the comparison has changed while nobody looked
  std::optional<AxleScene> now_;
  std::optional<AxleScene> ghost_;
};

}  // namespace lowkite::app
