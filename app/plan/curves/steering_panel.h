// Steering over the whole travel: a map of toe or camber over travel and servo, with the end points drawn in, and what
// ends the lock each way.
#pragma once

#include <memory>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "core/plan/bump_steer.hpp"
#include "core/plan/lock_cause.hpp"

class QLabel;
class QPushButton;

namespace lowkite::app {

class Segmented;

/// The map itself: servo across (left on the left), travel upward.
class LockMapView : public QWidget {
  Q_OBJECT
 public:
  enum class Shows { toeChange, toe, camber };

  explicit LockMapView(PlanModel& model, QWidget* parent = nullptr);

  void setShows(Shows shows);
  [[nodiscard]] const LockMap& map() const { return map_; }
  /// What the map shows at a place of its picture, in degrees; none outside or where the linkage does not close.
  [[nodiscard]] std::optional<double> valueAt(const QPointF& where) const;
  /// Where a place of the map is drawn; what lies far beyond its edges at most 20 of its heights and widths away.
  [[nodiscard]] QPointF toScreen(double servo_rad, double travel_mm) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  [[nodiscard]] QRectF frame() const;
  [[nodiscard]] std::optional<double> cell(std::size_t travel, std::size_t servo) const;
  void takeAttitudeFrom(const QPointF& where);

  PlanModel& model_;
  Shows shows_ = Shows::toeChange;
  LockMap map_;
  std::size_t level_ = 0;  ///< the row of the map that is ride height
  std::shared_ptr<const Variant> mapped_;
  Side mappedSide_ = Side::left;
};

class SteeringPanel : public QWidget {
  Q_OBJECT
 public:
  explicit SteeringPanel(PlanModel& model, QWidget* parent = nullptr);
  /// True while it looks for what makes the lock alike.
  [[nodiscard]] bool busy() const { return background_.busy(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void findShim();
  /// What to do about a lock that is unlike left and right; asked of the model in the background.
  QString whyTheyDiffer(const LockFigures& lock);

  PlanModel& model_;
  Segmented* shows_;
  LockMapView* map_;
  QLabel* words_;
  QLabel* shimWords_;
  QPushButton* shim_;  ///< looks for the shim with the least bump steer, then tries it
  std::optional<BumpSteerShim> found_;
  std::optional<std::pair<Setup, End>> told_;  ///< for which it was found
  InBackground background_;
  std::optional<LockExplanation> why_;
  std::optional<Setup> askedWhy_;  ///< the setup and car that `why_` is of, or will be
  std::shared_ptr<const Car> askedCar_;
};

}  // namespace lowkite::app
