// Before a race day: a setup to start from, by the log or from the kit, and what to pack for the plans.
#pragma once

#include <QWidget>

#include "app/track/track_model.h"
#include "core/advice/race_day.hpp"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace lowkite::app {

class AheadPage : public QWidget {
  Q_OBJECT
 public:
  explicit AheadPage(TrackModel& model, QWidget* parent = nullptr);

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
  void tick(QListWidgetItem* item, bool on);

  TrackModel& model_;
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
