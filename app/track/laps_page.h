// The laps of a run: typed, pasted or read from a timing system's table; which count, and what they say.
#pragma once

#include <functional>
#include <map>
#include <optional>

#include <QWidget>

#include "app/track/track_model.h"
#include "core/log/lap_import.hpp"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class LineChart;

class LapsPage : public QWidget {
  Q_OBJECT
 public:
  explicit LapsPage(TrackModel& model, QWidget* parent = nullptr);

  /// Reads a timing system's table; the columns are shown to be confirmed unless its heading is remembered.
  bool openTable(const QString& path);
  std::function<QString()> askTable;

 private:
  void refresh();
  void addTyped();
  void fillMapping();
  void takeTable();
  [[nodiscard]] LapMapping mapping() const;

  TrackModel& model_;
  QTableWidget* table_;
  QPlainTextEdit* typed_;
  QPushButton* add_;
  QLabel* wrong_;
  QWidget* mapBox_;
  QComboBox* time_;
  QComboBox* number_;
  QComboBox* driverColumn_;
  QComboBox* driver_;
  QLabel* preview_;
  QDoubleSpinBox* slower_;
  QLabel* figures_;
  LineChart* chart_;
  std::optional<TimingTable> read_;
  QString readName_;
  bool heading_ = true;
  bool filling_ = false;
};

}  // namespace lowkite::app
