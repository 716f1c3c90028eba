// Work in the background: on copies of its own, given up when something else is asked or the window closes.
#pragma once

#include <atomic>
#include <functional>
#include <memory>

#include <QApplication>
#include <QObject>
#include <QPointer>
#include <QThreadPool>

#include <sys/resource.h>
#include <unistd.h>

namespace lowkite::app {

/// Lets the window's thread go first wherever both want to run: called in a thread of work, for good. Threads that it
/// starts give way with it.
inline void giveWay() {
  thread_local const bool given = ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), 10) == 0;
  (void)given;
}

/// What work tells on its way, brought to the window's thread; nothing once `owner` is gone. Ask for it there.
template <class T>
std::function<void(T)> toldInWindow(QObject* owner, std::function<void(const T&)> tell) {
  return [owner = QPointer<QObject>(owner), tell = std::move(tell)](T what) {
    QMetaObject::invokeMethod(
        qApp,
        [owner, tell, what = std::move(what)] {
          if (owner) tell(what);
        },
        Qt::QueuedConnection);
  };
}

/// One piece of work at a time; a new one gives up the one before. Ask and receive in the window's thread.
class InBackground : public QObject {
 public:
  explicit InBackground(QObject* parent) : QObject(parent) {}
  ~InBackground() override { giveUp(); }

  [[nodiscard]] bool busy() const { return cancel_ != nullptr; }
  void giveUp() {
    if (cancel_) *cancel_ = true;
    cancel_.reset();
  }

  /// `work(cancelled)` runs elsewhere and must not touch the window; what it returns is handed to `take` here, unless
  /// it was given up meanwhile.
  template <class Work, class Take>
  void start(Work work, Take take) {
    giveUp();
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    QThreadPool::globalInstance()->start([self = QPointer<InBackground>(this), cancel = cancel_, work = std::move(work),
                                          take = std::move(take)]() mutable {
      giveWay();
      auto result = work(*cancel);
      if (*cancel) return;
      QMetaObject::invokeMethod(
          qApp,
          [self, cancel, take = std::move(take), result = std::move(result)]() mutable {
            if (!self || *cancel) return;
            self->cancel_.reset();
            take(std::move(result));
          },
          Qt::QueuedConnection);
    });
  }

 private:
  std::shared_ptr<std::atomic<bool>> cancel_;
};

}  // namespace lowkite::app
