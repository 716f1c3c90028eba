// The day and the run in hand: conditions, tyres, battery, what broke, what was changed since the run before.
#pragma once

#include <vector>

#include <QWidget>

#include "app/track/track_model.h"
#include "core/log/fields.hpp"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QToolButton;

namespace lowkite::app {

class Segmented;

class RunPage : public QWidget {
  Q_OBJECT
 public:
  explicit RunPage(TrackModel& model, QWidget* parent = nullptr);

 Q_SIGNALS:
  void openInPlan(const Setup& setup);

 private:
  void refresh();
  void keepDay();
  void keepRun();
  /// Puts a habit's words into the notes, or takes them out.
  void touchHabit(const QString& words, bool on);
  /// What was typed, into the record; what cannot be is told, and the field shows again what was there.
  template <class Record>
  void take(QLineEdit& edit, const LogField<Record>& field, Record& record);

  TrackModel& model_;
  QWidget* dayBox_;
  QWidget* runBox_;
  QLineEdit* date_;
  QLineEdit* track_;
  QComboBox* surface_;
  QComboBox* grip_;
  QComboBox* bumps_;
  QLineEdit* air_;
  QLineEdit* ground_;
  QLineEdit* humidity_;
  QLineEdit* dayNotes_;
  QLineEdit* started_;
  QLineEdit* tyres_;
  QLineEdit* tyreRuns_;
  QLineEdit* additive_;
  QLineEdit* battery_;
  QLineEdit* length_;
  QLineEdit* broke_;
  QLineEdit* markedBy_;
  QPlainTextEdit* notes_;
  std::vector<QToolButton*> habits_;
  Segmented* verdict_;
  QLabel* setup_;
  QLabel* changes_;
  QPushButton* take_;
  QPushButton* plan_;
  QPushButton* attach_;
  bool filling_ = false;
};

}  // namespace lowkite::app
