// The bench work along the bottom: which turnbuckles to turn, which way, how far, and what is left.
#pragma once

#include <QFrame>

#include "app/compute/plan_model.h"

class QCheckBox;
class QPushButton;

namespace lowkite::app {

class ClubRules;
class TwoLines;

class ResetStrip : public QFrame {
  Q_OBJECT
 public:
  ResetStrip(PlanModel& model, ClubRules& club, QWidget* parent = nullptr);

 private:
  void refresh();
  static QString spacerSentence(const Comparison& c, End end, double lower);

  PlanModel& model_;
  ClubRules& club_;
  TwoLines* words_;  ///< the work, and what is left
  QCheckBox* camber_;
  QCheckBox* toe_;
  QCheckBox* droop_ = nullptr;
  QPushButton* apply_;
};

}  // namespace lowkite::app
