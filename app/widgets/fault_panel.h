// Everything that is wrong with a file, in one panel: which field, what was found, what is allowed.
#pragma once

#include <QFrame>

#include "core/io/fault.hpp"

class QLabel;
class QTableWidget;

namespace lowkite::app {

class FaultPanel : public QFrame {
  Q_OBJECT
 public:
  explicit FaultPanel(QWidget* parent = nullptr);

  void show(const Faults& faults);
  /// What of a file was left out; the rest was taken.
  void showLeftOut(const Faults& faults);

 private:
  void fill(const Faults& faults, const QString& heading);
  void copy() const;

  Faults faults_;
  QLabel* heading_;
  QTableWidget* table_;
};

}  // namespace lowkite::app
