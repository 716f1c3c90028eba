// The bench work along the bottom: a numbered list in the order of the bench, with minutes and ticks, and what cannot
// be put back. As high as it needs, within a third of the window.
#pragma once

#include <set>
#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"

class QAction;
class QLabel;
class QPushButton;
class QScrollArea;
class QToolButton;

namespace lowkite::app {

class ClubRules;
class MyBoxes;
class WorkRows;

class WorkList : public QFrame {
  Q_OBJECT
 public:
  WorkList(PlanModel& model, ClubRules& club, MyBoxes& boxes, QWidget* parent = nullptr);

  /// Takes what is turned over into the setup; its lines stay, ticked.
  void takeOver();
  /// A drawer is open above: the drawing needs the room more.
  void setTight(bool tight);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* makeHead();
  void refresh();
  void tellHolds();
  void tellWhere();
  void fit();

  PlanModel& model_;
  ClubRules& club_;
  MyBoxes& boxes_;
  QLabel* heading_;
  QLabel* minutes_;
  QToolButton* holds_;
  std::vector<QAction*> held_;
  WorkRows* rows_;
  QScrollArea* scroll_;
  QPushButton* pin_;
  QPushButton* there_;  ///< leads to the axle that cannot be
  QPushButton* apply_;
  bool tight_ = false;
  std::set<QString> ticked_;       ///< by their text
  std::optional<Setup> doneUpTo_;  ///< taken over as done: a part that stands there is fitted
};

}  // namespace lowkite::app
