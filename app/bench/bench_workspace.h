// Bench: measure and set in order. The steps on the left, the one in hand in the middle, what stands at the end below.
#pragma once

#include <functional>

#include <QPageSize>
#include <QWidget>

#include "app/bench/bench_model.h"
#include "app/bench/instruments.h"
#include "app/workspace.h"

class QDoubleSpinBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPrinter;
class QPushButton;
class QToolButton;

namespace lowkite::app {

class ClubRules;
class UsualRanges;
class Segmented;
class StepCard;

class BenchWorkspace : public Workspace {
  Q_OBJECT
 public:
  /// `folder`: where runs are kept.
  BenchWorkspace(Document& document, ClubRules& club, const UsualRanges& usual, const QString& folder,
                 QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Bench"); }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;
  [[nodiscard]] QUndoStack& undoStack() override { return model_.undoStack(); }

  [[nodiscard]] BenchModel& model() { return model_; }
  [[nodiscard]] Instruments& instruments() { return instruments_; }
  /// Asks where the sheet should go; answerable by tests.
  std::function<QString()> askSheetPath;
  /// How many runs of a car the log has since a time; none: there is no log to ask.
  std::function<int(const std::string& car, const QString& since)> runsSince;
  std::function<bool(QPrinter&)> askPrinter;

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* makeLeft();
  QWidget* makeFoot();
  QWidget* makeOlder();
  QWidget* makeKit();
  QWidget* makeClub();
  QWidget* makeInstruments();
  void refreshInstruments();
  void takeClub();
  void refresh();
  void refreshList();
  void tellShocks();
  void takeKit();
  void writeSheet(QPageSize::PageSizeId page);

  BenchModel model_;
  Instruments instruments_;
  ClubRules& club_;
  StepCard* card_ = nullptr;
  QLineEdit* socket_ = nullptr;
  QPushButton* listen_ = nullptr;
  QLabel* gauges_ = nullptr;
  Segmented* lists_ = nullptr;
  QPushButton* start_ = nullptr;
  QPushButton* resume_ = nullptr;
  QLabel* shocks_ = nullptr;
  QListWidget* steps_ = nullptr;
  QDoubleSpinBox* blocks_ = nullptr;
  QDoubleSpinBox* play_ = nullptr;
  QDoubleSpinBox* cup_ = nullptr;
  QComboBox* caliper_ = nullptr;
  QDoubleSpinBox* leastMass_ = nullptr;
  QDoubleSpinBox* leastHeight_ = nullptr;
  QDoubleSpinBox* mostWidth_ = nullptr;
  QDoubleSpinBox* leastBattery_ = nullptr;
  QDoubleSpinBox* mostBattery_ = nullptr;
  QComboBox* droopFrom_ = nullptr;
  QDoubleSpinBox* line_ = nullptr;
  QDoubleSpinBox* points_ = nullptr;
  QWidget* older_ = nullptr;
  QLabel* progress_ = nullptr;
  QPushButton* measured_ = nullptr;
  QToolButton* sheet_ = nullptr;
};

}  // namespace lowkite::app
