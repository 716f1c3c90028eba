// The day and the run in hand: conditions, tyres, battery, what broke, what was changed since the run before.
#pragma once

#include <optional>
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
class QTimer;
class QToolButton;

namespace lowkite::app {

class Segmented;

class RunPage : public QWidget {
  Q_OBJECT
 public:
  explicit RunPage(TrackModel& model, QWidget* parent = nullptr);

 Q_SIGNALS:
  void openInPlan(const Setup& setup);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void refresh();
  void keepDay();
  void keepRun();
  /// Writes the notes that were typed and are not in the log yet; what they stood beside meanwhile stays.
  /// What cannot be written stays in the field.
  void keepNotes();
  /// The notes of the run in hand: what the log has, and what was typed and is not there yet.
  [[nodiscard]] QString notesNow() const;
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
  /// Notes are written when the hand rests: a write at each letter would have the hand wait for the disk.
  struct Typing {
    std::int64_t run = 0;
    QString over;  ///< what stood there before
  };
  std::optional<Typing> typing_;
  QTimer* rest_;
  bool filling_ = false;
};

}  // namespace lowkite::app
