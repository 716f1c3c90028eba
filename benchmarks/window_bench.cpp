// From an adjuster step to every visible view repainted, in a real window without a monitor; and the start of the
// window. Run: QT_QPA_PLATFORM=offscreen build/release/bin/window_bench. Goal: 16 ms at the 99th percentile.
#include <algorithm>
#include <atomic>
#include <filesystem>
#include <memory>
#include <thread>
#include <vector>

#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <QAbstractButton>
#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QMenu>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QThread>

#include <benchmark/benchmark.h>

#include "app/background/workers.h"
#include "app/bench/bench_workspace.h"
#include "app/document/open_files.h"
#include "app/main_window.h"
#include "app/plan/handling/handling_page.h"
#include "app/plan/plan_workspace.h"
#include "core/bench/instrument.hpp"
#include "core/io/car_file.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite::app {
namespace {

/// One on, or back from where there is no further one.
void step(PlanModel& model, int& direction) {
  if (!model.stepPart(direction)) {
    direction = -direction;
    model.stepPart(direction);
  }
  model.flush();
}

/// Keeps every thread of work in the background at work while it lives, as a search does.
class BusyElsewhere {
 public:
  explicit BusyElsewhere(const Document& document) {
    for (int i = 0; i < QThread::idealThreadCount(); ++i)
      doElsewhere([stop = stop_, car = document.sharedCar(), setup = document.setup()] {
        while (!*stop) benchmark::DoNotOptimize(evaluate(*car, setup, {}, 25));
      });
  }
  ~BusyElsewhere() { *stop_ = true; }
  BusyElsewhere(const BusyElsewhere&) = delete;
  BusyElsewhere& operator=(const BusyElsewhere&) = delete;

 private:
  std::shared_ptr<std::atomic<bool>> stop_ = std::make_shared<std::atomic<bool>>(false);
};

/// With an argument of 1: while a search goes on.
void stepToRepaint(benchmark::State& state) {
  const QTemporaryDir folder;
  MainWindow window(folder.path());
  window.take(openFile(QStringLiteral(LOWKITE_BENCH_DATA "/cars/heron-tc190.kite-car.json")));
  window.show();
  PlanModel& model = window.plan().model();
  model.setPart(window.document().car().find_adjuster("front_link_inner_shims"));
  model.flush();
  for (int i = 0; i < 20; ++i) QApplication::processEvents();
  const auto busy = state.range(0) ? std::make_unique<BusyElsewhere>(window.document()) : nullptr;
  std::vector<double> ms;
  int direction = -1;
  for (auto _ : state) {
    QElapsedTimer clock;
    clock.start();
    step(model, direction);
    // Deliver the updates and paint them, as the event loop does.
    QApplication::sendPostedEvents();
    QApplication::processEvents();
    ms.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
  }
  std::sort(ms.begin(), ms.end());
  state.counters["median_ms"] = ms[ms.size() / 2];
  state.counters["p99_ms"] = ms[std::min(ms.size() - 1, ms.size() * 99 / 100)];
}
BENCHMARK(stepToRepaint)->Arg(0)->Arg(1)->Iterations(400)->Unit(benchmark::kMillisecond);

// Goal: 100 ms until the page Handling tells of the step over 256 tyres, the window staying free meanwhile.
void handlingFollowsAStep(benchmark::State& state) {
  const QTemporaryDir folder;
  MainWindow window(folder.path());
  window.take(openFile(QStringLiteral(LOWKITE_BENCH_DATA "/cars/heron-tc190.kite-car.json")));
  window.plan().open(PlanWorkspace::Page::handling);
  window.show();
  PlanModel& model = window.plan().model();
  const HandlingPage& page = window.plan().handling();
  const auto told = [&] {
    return page.study() && model.comparison() && page.study()->after_setup == model.comparison()->reset->setup;
  };
  model.setPart(window.document().car().find_adjuster("front_link_inner_shims"));
  model.flush();
  while (!told()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
  std::vector<double> ms;
  double longest_ms = 0.0;  // that the window was busy with one round of events
  int direction = -1;
  for (auto _ : state) {
    QElapsedTimer clock;
    clock.start();
    step(model, direction);
    while (!told()) {
      QThread::usleep(300);
      QElapsedTimer round;
      round.start();
      QApplication::processEvents();
      longest_ms = std::max(longest_ms, static_cast<double>(round.nsecsElapsed()) * 1e-6);
    }
    ms.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
  }
  std::sort(ms.begin(), ms.end());
  state.counters["best_ms"] = ms.front();
  state.counters["median_ms"] = ms[ms.size() / 2];
  state.counters["window_busy_ms"] = longest_ms;
}
BENCHMARK(handlingFollowsAStep)->Iterations(40)->Unit(benchmark::kMillisecond)->UseRealTime();

void startToFirstPaint(benchmark::State& state) {
  const QTemporaryDir folder;
  for (auto _ : state) {
    MainWindow window(folder.path());
    window.take(openDemo());
    window.plan().model().flush();
    window.show();
    for (int i = 0; i < 3; ++i) QApplication::processEvents();
  }
}
BENCHMARK(startToFirstPaint)->Iterations(10)->Unit(benchmark::kMillisecond);

void anotherShade(benchmark::State& state) {
  const QTemporaryDir folder;
  MainWindow window(folder.path());
  window.take(openDemo());
  window.plan().model().flush();
  window.show();
  QApplication::processEvents();
  bool dark = false;
  for (auto _ : state) {
    window.setShade((dark = !dark) ? Shade::dark : Shade::light);
    QApplication::processEvents();
  }
  window.setShade(Shade::light);
}
BENCHMARK(anotherShade)->Iterations(20)->Unit(benchmark::kMillisecond);

/// Sends readings as fast as they are taken, from a thread of its own.
class Flood {
 public:
  explicit Flood(const QString& path) {
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    qstrncpy(address.sun_path, path.toLocal8Bit().constData(), sizeof address.sun_path);
    listening_ = ::socket(AF_UNIX, SOCK_STREAM, 0);
    ::bind(listening_, reinterpret_cast<const sockaddr*>(&address), sizeof address);
    ::listen(listening_, 1);
    thread_ = std::jthread([this] {
      const int to = ::accept(listening_, nullptr, nullptr);
      std::uint32_t n = 0;
      while (to >= 0) {
        std::string lines;
        while (lines.size() < 60'000) lines += write_line({{&gauge::camber, End::front, Side::left}, -1.5, n++}) + "\n";
        if (::send(to, lines.data(), lines.size(), MSG_NOSIGNAL) < 0) break;
        sent_ = n;
      }
      ::close(to);
    });
  }
  ~Flood() { ::close(listening_); }
  Flood(const Flood&) = delete;
  Flood& operator=(const Flood&) = delete;
  [[nodiscard]] std::uint32_t sent() const { return sent_; }

 private:
  int listening_ = -1;
  std::atomic<std::uint32_t> sent_{0};
  std::jthread thread_;
};

// Goal: frames of 16 ms at the 99th percentile, whatever comes in from the gauges.
void frameUnderAFlood(benchmark::State& state) {
  const QTemporaryDir folder;
  const QString socket = folder.filePath(QStringLiteral("gauges"));
  std::vector<double> ms;
  {
    const Flood flood(socket);
    MainWindow window(folder.path());
    window.take(openDemo());
    window.showWorkspace(MainWindow::Job::bench);
    window.bench().model().start(BenchList::full);
    window.show();
    window.findChild<QLineEdit*>(QStringLiteral("gauges.socket"))->setText(socket);
    window.findChild<QAbstractButton*>(QStringLiteral("gauges.listen"))->click();
    while (flood.sent() == 0) QApplication::processEvents();
    const std::uint32_t before = flood.sent();
    for (auto _ : state) {
      QElapsedTimer clock;
      clock.start();
      window.bench().update();
      QApplication::processEvents();
      ms.push_back(static_cast<double>(clock.nsecsElapsed()) * 1e-6);
    }
    state.counters["readings_per_frame"] = static_cast<double>(flood.sent() - before) / static_cast<double>(ms.size());
  }
  std::sort(ms.begin(), ms.end());
  state.counters["median_ms"] = ms[ms.size() / 2];
  state.counters["p99_ms"] = ms[std::min(ms.size() - 1, ms.size() * 99 / 100)];
}
BENCHMARK(frameUnderAFlood)->Iterations(400)->Unit(benchmark::kMillisecond);

// The menu of cars as it opens, against reading what it lists: every car and every setup.
void menuOfCars(benchmark::State& state) {
  const QTemporaryDir folder;
  MainWindow window(folder.path());
  auto* menu = window.findChild<QMenu*>(QStringLiteral("top.car.menu"));
  for (auto _ : state) Q_EMIT menu->aboutToShow();
}
BENCHMARK(menuOfCars)->Iterations(20)->Unit(benchmark::kMillisecond);

void everyCarRead(benchmark::State& state) {
  std::vector<std::filesystem::path> files;
  for (const ShippedFile& f : shippedFiles())
    if (f.isCar) files.emplace_back(f.path.toStdString());
  for (auto _ : state)
    for (const auto& file : files) benchmark::DoNotOptimize(load_car(file));
}
BENCHMARK(everyCarRead)->Iterations(20)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace lowkite::app

int main(int argc, char** argv) {
  QStandardPaths::setTestModeEnabled(true);
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("lowkite-bench"));
  lowkite::app::applyTheme(app, lowkite::app::Shade::light);
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
