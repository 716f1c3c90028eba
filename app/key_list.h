// The list of keys, made from the actions that they belong to: it cannot tell of a key that does nothing.
#pragma once

#include <QDialog>

class QTableWidget;
class QLineEdit;
class QMainWindow;

namespace lowkite::app {

class KeyList : public QDialog {
  Q_OBJECT
 public:
  explicit KeyList(QMainWindow& window);

  /// Reads the window's actions anew.
  void fill();

 private:
  void find(const QString& words);

  QMainWindow& window_;
  QLineEdit* words_;
  QTableWidget* table_;
};

}  // namespace lowkite::app
