// The measuring guide: the car as a whole first, then one reading after the other, each with how to take it and what
// the car file would give; what the readings make of the points, and which of them contradict each other.
#pragma once

#include <QWidget>

#include "app/car/car_editor.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QListWidget;
class QPushButton;
class QStackedWidget;

namespace lowkite::app {

class FieldModel;
class Segmented;

class MeasurePage : public QWidget {
  Q_OBJECT
 public:
  explicit MeasurePage(CarEditor& editor, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  /// What is gone through: the car as a whole, the readings that tell most, or all in order.
  enum class Way { whole, useful, inOrder };

  QWidget* makeWhole();
  QWidget* makeReadings();
  QWidget* makeConventions();
  void go(Way way);
  void refresh();
  void show(int row);
  void take();
  void goToNext();
  /// What the caliper shows against the value that is kept, at the step on show.
  [[nodiscard]] double conventionOffset() const;
  [[nodiscard]] QString fitText() const;
  [[nodiscard]] QString knownText();
  [[nodiscard]] Way way() const;

  CarEditor& editor_;
  std::vector<GuideStep> steps_;
  QListWidget* list_;
  QLabel* title_;
  QLabel* how_;
  QLabel* expected_;
  QDoubleSpinBox* field_;
  QPushButton* take_;
  QPushButton* back_;
  QComboBox* caliper_ = nullptr;
  QDoubleSpinBox* cup_ = nullptr;
  QDoubleSpinBox* blocks_ = nullptr;
  QLabel* known_;
  Segmented* order_;
  QStackedWidget* pages_;
  FieldModel* whole_ = nullptr;
  std::string startedFor_;  ///< the car for which the way in was chosen
  QLabel* fit_;
  QPushButton* apply_;
  bool filling_ = false;
};

}  // namespace lowkite::app
