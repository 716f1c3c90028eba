// Before a race day: a setup to start from, by the log or from the kit, and what to pack for the plans.
#pragma once

#include <QWidget>

#include "app/track/tyre_weigher.h"
#include "core/advice/race_day.hpp"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace lowkite::app {

class MyBoxes;

class AheadPage : public QWidget {
  Q_OBJECT
 public:
  AheadPage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, MyBoxes& boxes, QWidget* parent = nullptr);
  [[nodiscard]] bool busy() const { return work_.busy() || weigher_.busy(); }

  [[nodiscard]] const std::vector<StartProposal>& proposals() const { return proposals_; }

 Q_SIGNALS:
  void openInPlan(const Setup& setup, const QString& what);
  void benchWanted();  ///< the list of the bench before the first run

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void showProposal();
  void showPacking();
  /// What the driver would feel of the proposal against the setup in hand, over the tyres of that day's ground.
  void askHandling(const Setup& proposal);
  void tellReasons(const QString& handling);
  [[nodiscard]] const TyreFamily* familyAhead() const;
  void tick(QListWidgetItem* item, bool on);

  TrackModel& model_;
  TyreChoice& tyres_;
  MyBoxes& boxes_;
  TyreWeigher& weigher_;
  InBackground work_;
  QLineEdit* track_;
  QComboBox* surface_;
  QComboBox* grip_;
  QLineEdit* ground_;
  QListWidget* list_;
  QLabel* reasons_;
  QPushButton* plan_;
  QPushButton* bench_;
  QListWidget* plans_;
  QLabel* packing_;
  std::vector<StartProposal> proposals_;
  std::vector<Setup> family_;
  bool filling_ = false;
};

}  // namespace lowkite::app
