// Choices that exclude each other, as one quiet bar: axle, sides, view.
#pragma once

#include <QButtonGroup>
#include <QWidget>

namespace lowkite::app {

class Segmented : public QWidget {
  Q_OBJECT
 public:
  /// `name`: object name; the buttons are called name.0, name.1, ... `perRow`: how many stand beside each other; 0:
  /// all.
  Segmented(const QString& name, const QStringList& labels, QWidget* parent = nullptr, int perRow = 0);

  [[nodiscard]] int current() const { return group_.checkedId(); }
  void setCurrent(int index);
  /// None of them is chosen.
  void clearCurrent();
  void setLabel(int index, const QString& label);

 Q_SIGNALS:
  void chosen(int index);  ///< by the user

 private:
  QButtonGroup group_;
  bool setting_ = false;  ///< by the program, which is told to nobody
  int told_ = -1;         ///< by a toggle whose click is still to come
};

}  // namespace lowkite::app
