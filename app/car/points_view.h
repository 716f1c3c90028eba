// The car's points in the kit state, to scale: from the front, from above or from the side. A point is picked with a
// click, moved by dragging it or with the arrow keys; so is a part while their list is on show. The reading asked for
// is drawn as a dimension.
#pragma once

#include <optional>

#include <QPainterPath>
#include <QWidget>

#include "app/car/car_editor.h"

namespace lowkite::app {

class PointsView : public QWidget {
  Q_OBJECT
 public:
  enum class From { front, above, side };

  explicit PointsView(CarEditor& editor, QWidget* parent = nullptr);

  void setFrom(From from);
  [[nodiscard]] From from() const { return from_; }
  /// The view in which a reading is seen well: this one, where it is.
  [[nodiscard]] static From bestFor(const Car& car, const CaliperReading& reading, From now);
  /// Where a place in chassis axes is painted.
  [[nodiscard]] QPointF toScreen(const Vec3& mm) const;

  static constexpr double nudge_mm = 0.1;  ///< an arrow key; drags are rounded to it

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void rescale();
  [[nodiscard]] QPointF project(const Vec3& mm) const;
  [[nodiscard]] static QPointF projected(const Vec3& mm, From from);
  /// The place `px` on the screen away from where it was, along the paper.
  [[nodiscard]] Vec3 movedBy(const Vec3& mm, const QPointF& px) const;
  [[nodiscard]] std::optional<PointRef> pointNear(const QPointF& where) const;
  void paintSide(QPainter& p, Side side) const;
  void paintSteering(QPainter& p) const;
  void paintPoint(QPainter& p, const PointRef& ref, const QPointF& at) const;
  void paintName(QPainter& p, const PointRef& ref) const;
  void paintDimension(QPainter& p) const;
  void paintSpots(QPainter& p) const;
  void paintBodies(QPainter& p) const;
  void paintPickable(QPainter& p) const;
  /// The pickable parts under a place of the screen, in their order.
  [[nodiscard]] std::vector<int> partsAt(const QPointF& where) const;
  [[nodiscard]] bool looksAt(const FoundAt& part) const;
  /// The outline of a body on the screen, on the side that is edited.
  [[nodiscard]] QPainterPath outline(const DrawnBody& body) const;
  void nudge(const QPointF& mm);

  CarEditor& editor_;
  From from_ = From::front;
  double scale_ = 3.0;
  QPointF origin_;
  std::optional<QPointF> dragFrom_;
  Vec3 dragged_ = Vec3::Zero();  ///< where the point in hand was when the drag began
  bool moved_ = false;
};

}  // namespace lowkite::app
