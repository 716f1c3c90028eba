// "What is this?" asked at a cell that has no answer.
#pragma once

#include <QObject>

namespace lowkite::app {

/// Watches the program while it lives. A view of Qt's, asked at a cell without a text, leaves the mode of asking at
/// once, within the event by which that mode asks: Qt 6.4 then writes into the mode's object, which is gone. The
/// question is passed on to what lies around the view instead.
class Asking : public QObject {
  Q_OBJECT
 public:
  explicit Asking(QObject* parent);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace lowkite::app
