// What the racer's log says about his tyres: which properties its runs point to, and how much that rests on.
#pragma once

#include <QWidget>

#include "app/track/tyre_weigher.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class TyreLogPage : public QWidget {
  Q_OBJECT
 public:
  TyreLogPage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void fill();

  TrackModel& model_;
  TyreChoice& choice_;
  TyreWeigher& weigher_;
  QComboBox* compound_;
  QLabel* news_;
  QCheckBox* uses_;
  QPushButton* weigh_;
  QPushButton* over_;
  QProgressBar* progress_;
  QTableWidget* table_;
};

}  // namespace lowkite::app
