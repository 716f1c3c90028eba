// Work in the background: on copies of its own, given up when something else is asked or the window closes.
#pragma once

#include <atomic>
#include <functional>
#include <memory>

#include <QApplication>
#include <QObject>
#include <QPointer>

#include "app/background/workers.h"

namespace lowkite::app {

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
    // Shared: what it holds is moved, and a function to be handed on must be one that can be copied.
    auto parts = std::make_shared<std::pair<Work, Take>>(std::move(work), std::move(take));
    doElsewhere([self = QPointer<InBackground>(this), cancel = cancel_, parts] {
      auto result = parts->first(*cancel);
      if (*cancel) return;
      QMetaObject::invokeMethod(
          qApp,
          [self, cancel, parts, result = std::move(result)]() mutable {
            if (!self || *cancel) return;
            self->cancel_.reset();
            parts->second(std::move(result));
          },
          Qt::QueuedConnection);
    });
  }

 private:
  std::shared_ptr<std::atomic<bool>> cancel_;
};

}  // namespace lowkite::app
