#include "app/background/workers.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QPointer>
#include <QThreadPool>

#include <sys/resource.h>
#include <unistd.h>

namespace lowkite::app {
namespace {

/// Lets the window's thread go first wherever both want to run, for good. Threads that this one starts give way with
/// it.
void giveWay() {
  thread_local const bool given = ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), 10) == 0;
  (void)given;
}

QThreadPool& pool() {
  static QPointer<QThreadPool> pool;
  if (!pool) {
    pool = new QThreadPool(qApp);
    // While there still is an application to bring results to.
    qAddPostRoutine([] {
      if (pool) pool->waitForDone();
    });
  }
  return *pool;
}

}  // namespace

void doElsewhere(std::function<void()> work) {
  pool().start([work = std::move(work)] {
    giveWay();
    work();
  });
}

bool waitElsewhere(int ms) {
  QElapsedTimer clock;
  clock.start();
  do {
    QCoreApplication::processEvents();
    if (!pool().waitForDone(10)) continue;
    QCoreApplication::processEvents();
    // What has been received may have asked for more.
    if (pool().activeThreadCount() == 0) return true;
  } while (clock.elapsed() < ms);
  return false;
}

}  // namespace lowkite::app
