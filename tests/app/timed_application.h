// An application that knows how long it was busy with one event: that long the window did not answer.
#pragma once

#include <utility>

#include <QApplication>
#include <QElapsedTimer>
#include <QEvent>
#include <QPointer>
#include <QThread>

namespace lowkite::app {

class TimedApplication : public QApplication {
 public:
  using QApplication::QApplication;

  struct Busy {
    qint64 ms = 0;
    QString with;  ///< who got which event
  };
  /// The longest single event since this was last asked. Events of a loop within an event (a menu, a question) count by
  /// themselves; the event that holds the loop does not.
  static Busy takeLongest() { return std::exchange(longest(), {}); }

  bool notify(QObject* receiver, QEvent* event) override {
    if (QThread::currentThread() != thread()) return QApplication::notify(receiver, event);
    const int type = event->type();
    const QPointer<QObject> alive(receiver);
    const int loops = thread()->loopLevel();
    const int deepest_before = std::exchange(deepest_, loops);
    QElapsedTimer clock;
    clock.start();
    const bool taken = QApplication::notify(receiver, event);
    const qint64 ms = clock.elapsed();
    if (deepest_ == loops && ms > longest().ms)
      longest() = {ms, QStringLiteral("%1 %2 event %3")
                           .arg(alive ? QLatin1String(alive->metaObject()->className()) : QLatin1String("(gone)"),
                                alive ? alive->objectName() : QString())
                           .arg(type)};
    deepest_ = std::max(deepest_before, deepest_);
    return taken;
  }

 private:
  static Busy& longest() {
    static Busy busy;
    return busy;
  }
  int deepest_ = 0;  ///< loop that an event was seen in
};

}  // namespace lowkite::app
