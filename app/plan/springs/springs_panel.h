// The car on its springs, page by page: held in a turn, through a corner, over bumps, dampers, collars and weights, and
// what is wanted.
#pragma once

#include <QFrame>

#include "app/plan/springs/sprung_cars.h"

class QStackedWidget;

namespace lowkite::app {

class CornerPage;
class MotionPage;
class Segmented;
class MyBoxes;
class WishPage;

class SpringsPanel : public QFrame {
  Q_OBJECT
 public:
  SpringsPanel(SprungCars& cars, MyBoxes& boxes, QWidget* parent = nullptr);

  enum class Page { turn, corner, motion, dampers, collars, wish };
  void showPage(Page page);
  [[nodiscard]] CornerPage& corner() { return *corner_; }
  [[nodiscard]] MotionPage& motion() { return *motion_; }
  [[nodiscard]] WishPage& wish() { return *wish_; }

 Q_SIGNALS:
  void told(const QString& news);

 private:
  Segmented* choice_;
  QStackedWidget* pages_;
  CornerPage* corner_;
  MotionPage* motion_;
  WishPage* wish_;
};

}  // namespace lowkite::app
