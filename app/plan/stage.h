// The stage: the drawing, as large as the window allows, with its tools on the upper edge and a ruler along each edge
// for how the car is held.
#pragma once

#include <array>
#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "app/drawing/drawing_view.h"

class QStackedWidget;
class QToolButton;

namespace lowkite::app {

class Ruler;
class Segmented;

class Stage : public QFrame {
  Q_OBJECT
 public:
  explicit Stage(PlanModel& model, QWidget* parent = nullptr);

  enum class View { front, above, side, around };
  void showView(View view);
  [[nodiscard]] View view() const;
  [[nodiscard]] DrawingView& drawing() const;
  /// What a fit shows; fits it.
  void setZoom(DrawingView::Zoom zoom);
  [[nodiscard]] DrawingView::Zoom zoom() const { return zoom_; }
  /// All of what is chosen in sight again.
  void fit();
  /// Larger (1) or smaller (-1), about the middle.
  void magnify(int steps);

 Q_SIGNALS:
  void figureAsked(std::string_view figure);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void makeRoomForTools();
  /// How near each view is, and where, is kept for each car.
  void keepLooks();
  void recallLooks();
  [[nodiscard]] QString lookKey(const DrawingView& drawing) const;
  enum Degree { bump, roll, steer, pitch, degreeCount };
  void makeTools();
  void apply();
  void refresh();
  void place();

  PlanModel& model_;
  DrawingView::Zoom zoom_ = DrawingView::Zoom::axle;
  std::vector<DrawingView*> drawings_;  ///< by View
  QString carOnShow_;                   ///< its id, once there is one
  QStackedWidget* pages_;
  QWidget* tools_;
  Segmented* view_;
  QToolButton* what_;
  QToolButton* level_;
  QToolButton* smaller_;
  QToolButton* larger_;
  std::array<Ruler*, degreeCount> rulers_{};
};

}  // namespace lowkite::app
