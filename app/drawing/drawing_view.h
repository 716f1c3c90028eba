// What every drawing of the car shares: parts that can be picked and stepped, a chassis that can be dragged.
#pragma once

#include <functional>
#include <optional>
#include <string_view>
#include <vector>

#include <QFont>
#include <QLineF>
#include <QMargins>
#include <QPainterPath>
#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/drawing/car_scene.h"
#include "app/look/marks.h"
#include "app/look/theme.h"

namespace lowkite::app {

class DrawingView : public QWidget {
  Q_OBJECT
 public:
  enum class Zoom { axle, leftCorner, rightCorner, car };

  DrawingView(PlanModel& model, const QString& name, QWidget* parent);

  /// What is fitted into the picture; fits it.
  virtual void setZoom(Zoom zoom) = 0;
  /// Room along the edges of the widget that others stand in, px.
  void setEdges(const QMargins& edges);
  /// Back to all of it in sight.
  void fit();
  /// Larger (positive) or smaller about a place of the widget, which stays where it is.
  void magnify(double steps, const QPointF& about);
  void pan(const QPointF& px);
  /// How much larger than fitted; 1 when all is in sight.
  [[nodiscard]] double magnification() const { return magnified_; }
  /// What the hand has magnified and moved, px.
  struct Look {
    double magnified = 1.0;
    QPointF panned;
  };
  [[nodiscard]] Look look() const { return {magnified_, panned_}; }
  void setLook(const Look& look);
  /// Where the handle of an adjuster is painted; `side` is passed over for parts of the steering.
  [[nodiscard]] std::optional<QPointF> gripAt(PartHandle adjuster, Side side) const;
  /// The present drawing painted on any device at any size (for export and pictures).
  virtual void paintOn(QPainter& painter) = 0;
  /// A text as it was last painted.
  struct Written {
    QRectF box;
    QString text;
    std::string_view figure;  ///< that may be typed there, or ""
    std::optional<Side> side;
  };
  [[nodiscard]] const std::vector<Written>& written() const { return written_; }
  /// Id of the figure that is written there; empty: none.
  [[nodiscard]] std::string_view figureAt(const QPointF& where) const;
  /// Everything that can be picked, as painted: what no text may lie over.
  [[nodiscard]] std::vector<QRectF> picks() const;

 Q_SIGNALS:
  void lookChanged();
  void figureAsked(std::string_view figure);  ///< a written figure was double-clicked: it is to be typed

 protected:
  struct GripOnScreen {
    PartHandle adjuster;
    Side side = Side::left;
    bool steering = false;
    QPointF at;
    double radius_px = 0.0;
  };
  /// Everything that can be picked, as painted.
  [[nodiscard]] virtual std::vector<GripOnScreen> grips() const = 0;
  /// The empty drawing was dragged by `px`.
  virtual void dragged(const QPointF& px) = 0;
  /// Puts scale_ and origin_ where the fit and the hand want them.
  virtual void rescale() = 0;
  /// The part of the widget that is the drawing's own.
  [[nodiscard]] QRectF room() const { return QRectF(rect().marginsRemoved(edges_)); }
  /// Takes a fit of scale and origin, and applies what the hand has magnified and moved.
  void placeAt(double scale, const QPointF& origin);

  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

  /// Fills the ground, or says why there is nothing to draw; false then. Begins the list of what is written.
  bool paintPaper(QPainter& p, bool anything);
  /// What the scale bar stands for, and its place: to be kept free before anything is written.
  struct ScaleBar {
    double mm = 0.0;
    QRectF box;
  };
  [[nodiscard]] ScaleBar scaleBar(double pxPerMm) const;
  void paintScaleBar(QPainter& p, double pxPerMm);
  struct Pen {
    QFont font;
    QColor colour;
    bool may_be_left_out = false;  ///< where there is no free place; else it is written over what is least in the way
    std::string_view figure{};
    std::optional<Side> side{};
  };
  /// Writes a text at the free place nearest to `at` (its middle): over no text and nothing that can be picked.
  void write(QPainter& p, const QString& text, const QPointF& at, const Pen& pen);
  /// A ring where something is at its end (bad) or near it, with what it is.
  void paintLimit(QPainter& p, const QPointF& at, const SceneLimit& limit);
  /// The part of a line that may be seen. Dashes of a line are laid to its very end, and what a car is drawn with may
  /// end kilometres away: an instant centre, a turn's centre.
  void drawWithin(QPainter& p, const QPointF& a, const QPointF& b) const;
  /// The same of a circle.
  void circleWithin(QPainter& p, const QPointF& centre, double radius) const;
  /// Keeps texts off a place.
  void keepFree(const QRectF& box) { keptFree_.push_back(box); }
  /// The lozenges around parts in hand and parts changed.
  void paintLozenges(QPainter& p) const;

  PlanModel& model_;
  double scale_ = 1.0;  ///< px per mm
  QPointF origin_;      ///< where the drawing's own nought lies, px

 private:
  [[nodiscard]] std::vector<PartHandle> partsNear(const QPointF& where) const;

  std::vector<Written> written_;
  std::vector<QRectF> keptFree_;
  QMargins edges_;
  double magnified_ = 1.0;
  QPointF panned_;  ///< px
  std::optional<QPointF> dragFrom_;
  bool panning_ = false;
};

/// The part of a line that lies in a rectangle; nothing where none does, or an end is no number. By Liang and Barsky
/// (1984), "A New Concept and Method for Line Clipping".
std::optional<QLineF> within(const QLineF& line, const QRectF& box);
/// A force: from where it works to its tip.
void paintArrow(QPainter& p, const QPointF& from, const QPointF& tip, const QColor& colour);
/// The centre of gravity: a disc in four quarters, as mechanics draws it.
void paintGravitySign(QPainter& p, const QPointF& at, const QColor& colour);
/// Millimetres of the drawing for a newton.
constexpr double mmPerNewton = 7.0;

/// A part of the linkage between two places of the paper, as a body: arms and cranks with their width, a shock with
/// body, shaft and spring (its shape is a likeness, its length is true), a pin with its ends.
void paintPart(QPainter& p, const QPointF& from, const QPointF& to, Stroke stroke, const Tokens& tokens,
               double pxPerMm);
/// The cup as what it is cut open, and the pin across the shaft's end, wherever the shaft stands.
void paintCup(QPainter& p, const SceneCup& cup, const std::function<QPointF(const Vec3&)>& toScreen, double pxPerMm,
              const Tokens& tokens);
/// A turnbuckle's hexagon, on its rod.
void paintHexagon(QPainter& p, const QPointF& at, const QPointF& along, const Tokens& tokens, double pxPerMm);

}  // namespace lowkite::app
