// The car on its springs, page by page: held in a turn, through a corner, over bumps, dampers, collars and weights.
// What moves a figure of it, and what gives a wanted one, is told where that is told of all figures.
#pragma once

#include <QFrame>

#include "app/plan/springs/sprung_cars.h"

class QPushButton;
class QStackedWidget;

namespace lowkite::app {

class CornerPage;
class LoadPanel;
class MotionPage;
class Segmented;

class SpringsPanel : public QFrame {
  Q_OBJECT
 public:
  explicit SpringsPanel(SprungCars& cars, QWidget* parent = nullptr);

  enum class Page { turn, corner, motion, dampers, collars };
  void showPage(Page page);
  [[nodiscard]] CornerPage& corner() { return *corner_; }
  [[nodiscard]] MotionPage& motion() { return *motion_; }

 Q_SIGNALS:
  void told(const QString& news);
  /// With the acceleration of the turn on show.
  void stepsWanted(const HeldTurn& under);
  void recipeWanted(const HeldTurn& under);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  SprungCars& cars_;
  Segmented* choice_;
  QPushButton* moves_;
  QPushButton* recipe_;
  QStackedWidget* pages_;
  LoadPanel* turn_;
  CornerPage* corner_;
  MotionPage* motion_;
};

}  // namespace lowkite::app
