// What the racer's log says about his tyres: which properties its runs point to, and how much that rests on.
#pragma once

#include <QWidget>

#include "app/settings/tyre_choice.h"
#include "app/track/track_model.h"

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
  TyreLogPage(TrackModel& model, TyreChoice& tyres, QWidget* parent = nullptr);

  [[nodiscard]] bool busy() const { return background_.busy(); }
  /// Weighs the tyres of the chosen family by the log as it is now; it is weighed again when asked.
  void weigh();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void fill();
  /// The days that count: since the racer last started over.
  [[nodiscard]] std::vector<LoggedDay> counting();

  TrackModel& model_;
  TyreChoice& choice_;
  QLabel* news_;
  QCheckBox* uses_;
  QPushButton* weigh_;
  QPushButton* over_;
  QProgressBar* progress_;
  QTableWidget* table_;
  InBackground background_;
};

}  // namespace lowkite::app
