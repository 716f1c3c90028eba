// What every drawing of the car shares: parts that can be picked and stepped, a chassis that can be dragged.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include <QPainterPath>
#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/look/theme.h"

namespace lowkite::app {

class DrawingView : public QWidget {
  Q_OBJECT
 public:
  enum class Zoom { axle, leftCorner, rightCorner, car };

  DrawingView(PlanModel& model, const QString& name, QWidget* parent);

  virtual void setZoom(Zoom zoom) = 0;
  /// Where the handle of an adjuster is painted; `side` is passed over for parts of the steering.
  [[nodiscard]] std::optional<QPointF> handleAt(int adjuster, Side side) const;
  /// The present drawing painted on any device at any size (for export and pictures).
  virtual void paintOn(QPainter& painter) = 0;
  /// Id of the figure that is written there; empty: none.
  [[nodiscard]] virtual std::string_view figureAt(const QPointF&) const { return {}; }

 Q_SIGNALS:
  void figureAsked(std::string_view figure);  ///< a written figure was double-clicked: it is to be typed

 protected:
  struct Handle {
    int adjuster = -1;
    Side side = Side::left;
    bool steering = false;
    QPointF at;
    double radius_px = 0.0;
  };
  /// Everything that can be picked, as painted.
  [[nodiscard]] virtual std::vector<Handle> handles() const = 0;
  /// The empty drawing was dragged by `px`.
  virtual void dragged(const QPointF& px) = 0;

  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

  /// Fills the ground, or says why there is nothing to draw; false then.
  bool paintPaper(QPainter& p, bool anything) const;
  void paintScaleBar(QPainter& p, double pxPerMm, bool atTheLeft = false) const;
  /// The lozenges around parts in hand and parts changed.
  void paintLozenges(QPainter& p) const;

  PlanModel& model_;

 private:
  [[nodiscard]] std::vector<int> handlesNear(const QPointF& where) const;

  std::optional<QPointF> dragFrom_;
};

QPainterPath lozenge(const QPointF& centre, double r);
QColor faint(QColor c, double alpha);
/// A force: from where it works to its tip.
void paintArrow(QPainter& p, const QPointF& from, const QPointF& tip, const QColor& colour);
/// Millimetres of the drawing for a newton.
constexpr double mmPerNewton = 7.0;

/// The pen of a part of the linkage, at `pxPerMm`.
QPen penOf(Stroke stroke, const Tokens& tokens, double pxPerMm);

}  // namespace lowkite::app
