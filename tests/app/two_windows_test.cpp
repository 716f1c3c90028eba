// Two windows at the same setups, cars, bench runs and log, both walked at random, and another program that changes and
// removes files between them. Whatever a window writes over it has seen before, or has been told of and asked about.
// LOWKITE_WALK_SEED and LOWKITE_WALK_STEPS make one walk as long as is wanted, as with tools/random-walk.
#include <array>

#include <QFile>

#include <gtest/gtest.h>

#include "app/bench/bench_workspace.h"
#include "app/document/open_files.h"
#include "app/kept/kept.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "core/log/log_exchange.hpp"
#include "tests/app/random_walk.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

/// What stands on the disk, by file; none: no such file.
using Content = std::map<QString, QByteArray>;
/// What stands in the log, by "day 3" and "run 7".
using Things = std::map<std::string, std::string>;

Content filesIn(const QStringList& folders) {
  Content all;
  for (const QString& folder : folders)
    for (const QFileInfo& f : QDir(folder).entryInfoList(QDir::Files))
      if (f.suffix() == QStringLiteral("json")) all[f.filePath()] = contentOf(f.filePath());
  return all;
}

QByteArray at(const Content& all, const QString& path) {
  const auto found = all.find(path);
  return found == all.end() ? QByteArray() : found->second;
}
std::string at(const Things& all, const std::string& name) {
  const auto found = all.find(name);
  return found == all.end() ? std::string() : found->second;
}

std::string text(const RunRecord& r) {
  return std::to_string(r.run.day) + write_log({{{}, {r}}});
}

Things thingsIn(const LogStore& log) {
  Things all;
  const auto days = everything_in(log);
  if (!days) return all;
  for (const LoggedDay& d : *days) {
    all["day " + std::to_string(d.day.id)] = write_log({{d.day, {}}});
    for (const RunRecord& r : d.runs) all["run " + std::to_string(r.run.id)] = text(r);
  }
  return all;
}

/// The log as it was last seen by anybody, and who has seen what of it.
class LogWatch {
 public:
  explicit LogWatch(LogStore log) : log_(std::move(log)), stands_(thingsIn(log_)) {}

  void watch(MainWindow& window) {
    Things& known = known_[&window];
    TrackModel& model = window.track().model();
    // Whatever a window does to the log, it reads it again.
    QObject::connect(&model, &TrackModel::daysChanged, &window, [this, &window, &known] { look(window, known); });
    // A run that is chosen is read from the log as it is then.
    QObject::connect(&model, &TrackModel::chosen, &window, [&known, &model] {
      if (const auto& run = model.run()) known["run " + std::to_string(run->run.id)] = text(*run);
    });
    known = stands_;
  }
  /// What was written over unseen since the last question.
  QString wrong() { return std::exchange(wrong_, {}); }
  [[nodiscard]] int written() const { return written_; }
  /// While an undo or redo goes on: it touches only what stands as the same window has left it, seen or not.
  bool goesBack = false;

 private:
  void look(const MainWindow& window, Things& known) {
    if (log_.changed_elsewhere()) {
      Things now = thingsIn(log_);
      Things either = now;
      either.insert(stands_.begin(), stands_.end());
      for (const auto& [name, whatever] : either) {
        const std::string was = at(stands_, name), is = at(now, name);
        if (was == is) continue;
        ++written_;
        std::set<std::string>& own = left_[{&window, name}];
        if (at(known, name) != was || (goesBack && !own.contains(was)))
          wrong_ += QString::fromStdString("log, " + name + "; ");
        own.insert({was, is});
      }
      stands_ = std::move(now);
    }
    known = stands_;
  }

  LogStore log_;
  Things stands_;
  std::map<MainWindow*, Things> known_;
  std::map<std::pair<const MainWindow*, std::string>, std::set<std::string>> left_;
  QString wrong_;
  int written_ = 0;
};

/// One of the two, and what it has seen of the files.
struct Walked {
  /// Another run of the day in hand, and a word on it.
  void note(std::mt19937& random) {
    TrackModel& model = window->track().model();
    if (model.runs().empty()) return;
    model.chooseRun(model.runs()[random() % model.runs().size()].run.id);
    if (!model.run()) return;
    RunRecord r = *model.run();
    r.run.notes = std::to_string(random());
    model.putRun(r, QStringLiteral("Note"));
  }

  Walked(const QString& autosave, LogWatch& log) : window(std::make_unique<MainWindow>(autosave)) {
    window->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
    window->track().model().open();
    log.watch(*window);
    window->resize(1280, 800);
    window->show();
    QObject::connect(&window->document(), &Document::replaced, window.get(), [this] { opened = true; });
  }
  /// A part is stepped, and saved where it came from.
  void changeAndSave(std::mt19937& random) {
    Document& d = window->document();
    if (!d.hasCar()) return;
    d.step(PartHandle(random() % d.car().adjusters.size()), Sides::both, random() % 2 ? 1 : -1);
    if (!d.state().setupPath.isEmpty() && !isShipped(d.state().setupPath)) window->save();
  }
  /// A reading of the run that lies there unfinished, or of a new one.
  void read(std::mt19937& random) {
    BenchModel& bench = window->bench().model();
    if (!window->document().hasCar()) return;
    if (!bench.hasRun()) {
      const QString there = bench.unfinished();
      if (there.isEmpty() || !bench.resume(there)) bench.start(BenchList::full);
    }
    if (bench.steps().empty()) return;
    for (int i = 0; i < 40 && !bench.step()->gauge; ++i) bench.goTo(static_cast<int>(random() % bench.steps().size()));
    bench.takeReading(random() % 2 ? Side::left : Side::right, 1.0 + static_cast<double>(random() % 1000) / 100.0);
  }
  /// The files that it has in hand.
  [[nodiscard]] std::set<QString> inHand() const {
    const DocumentState& state = window->document().state();
    return {state.setupPath, state.carPath, window->bench().model().path()};
  }

  std::unique_ptr<MainWindow> window;
  std::unique_ptr<RandomWalk> walk;
  Content seen;
  bool opened = false;
};

void walkTwo(std::uint32_t seed, int steps) {
  Kept().clear();
  for (const QString& own : {ownCarsFolder(), ownSetupsFolder()}) QDir(own).removeRecursively();
  QTemporaryDir folder, files;
  const QString autosave = folder.filePath(QStringLiteral("autosave"));
  QString logPath;
  {
    MainWindow first(autosave);
    first.track().model().fillWithDemo();
    logPath = first.track().model().path();
  }
  auto log = LogStore::open(logPath.toStdString());
  ASSERT_TRUE(log);
  LogWatch watch(std::move(*log));
  std::array<std::unique_ptr<Walked>, 2> two;
  for (std::size_t i = 0; i < two.size(); ++i) {
    two[i] = std::make_unique<Walked>(autosave, watch);
    ASSERT_TRUE(QTest::qWaitForWindowExposed(two[i]->window.get()));
    const QString trace = QDir::temp().filePath(QStringLiteral("lowkite-two-%1-%2.txt").arg(seed).arg(i));
    two[i]->walk =
        std::make_unique<RandomWalk>(*two[i]->window, seed * 2 + static_cast<std::uint32_t>(i), files.path(), trace);
  }
  // One that both come back to.
  const QString shared = files.filePath(QStringLiteral("walk 0.kite-setup.json"));
  ASSERT_TRUE(two[0]->window->saveTo(shared));
  two[0]->seen[shared] = contentOf(shared);
  const QStringList folders{files.path(), ownCarsFolder(), ownSetupsFolder(), autosave + QStringLiteral("/bench")};
  std::mt19937 random(seed);
  Content before = filesIn(folders);
  int written = 0, told = 0;
  std::map<QString, std::string> history;
  for (int step = 1; step <= steps; ++step) {
    if (random() % 40 == 0 && !before.empty()) {
      // Another program: it removes a file, or leaves another's content in it.
      const auto any = [&] { return std::next(before.begin(), static_cast<long>(random() % before.size()))->first; };
      const QString path = any();
      const QByteArray other = at(before, any());
      const bool remove = random() % 3 == 0;
      if (!isShipped(path)) remove ? (void)QFile::remove(path) : writeTo(path, other);
      history[path] += std::to_string(step) + (remove ? " removed by another program\n" : " by another program\n");
      before = filesIn(folders);
    }
    Walked& w = *two[random() % 2];
    w.opened = false;
    for (const auto& each : two) each->walk->forgetChosen();
    const std::set<QString> had = w.inHand();
    QApplication::setActiveWindow(w.window.get());
    QString did = QStringLiteral("a note");
    switch (random() % 16) {
      case 0:
        w.note(random);
        break;
      case 1:
        did = QStringLiteral("a save");
        w.changeAndSave(random);
        break;
      case 2:
        did = QStringLiteral("a reading");
        w.read(random);
        break;
      case 3:
        did = QStringLiteral("the shared setup");
        w.window->open(shared);
        break;
      case 4:
        did = QStringLiteral("undo or redo");
        watch.goesBack = true;
        random() % 3 > 0 ? w.window->track().model().undoStack().undo() : w.window->track().model().undoStack().redo();
        watch.goesBack = false;
        break;
      default:
        w.walk->step();
        did = w.walk->did();
        break;
    }
    const Content after = filesIn(folders);
    const std::set<QString> has = w.inHand();
    // What it has in hand since this step it has read in this step.
    for (const QString& path : has)
      if (w.opened || !had.contains(path)) w.seen[path] = at(before, path);
    // "Keep what is here" is the answer to being told.
    if (did.contains(QStringLiteral("banner.action")))
      for (const QString& path : had) w.seen[path] = at(before, path);
    for (const auto& [path, is] : after) {
      const QByteArray was = at(before, path);
      if (is == was) continue;
      history[path] +=
          std::to_string(step) + (&w == two[0].get() ? " first: " : " second: ") + did.toStdString() + "\n";
      ++written;
      EXPECT_TRUE(was.isEmpty() || two[0]->walk->chosen().contains(path) || two[1]->walk->chosen().contains(path) ||
                  w.seen[path] == was)
          << "seed " << seed << " step " << step << ": " << path.toStdString() << " written over unseen\n"
          << history[path];
      w.seen[path] = is;
    }
    for (const auto& [path, was] : before)
      EXPECT_TRUE(after.contains(path)) << path.toStdString() << " removed by " << did.toStdString();
    const QString wrong = watch.wrong();
    EXPECT_TRUE(wrong.isEmpty()) << "seed " << seed << " step " << step
                                 << ": written over unseen: " << wrong.toStdString() << "by " << did.toStdString();
    for (const QString& path : has)
      if (w.opened && at(after, path) == at(before, path)) w.seen[path] = at(after, path);
    before = after;
    told += w.window->banner().text().contains(QStringLiteral("another"));
    if (testing::Test::HasFailure()) return;
  }
  std::printf("seed %u: %d steps, %d files and %d days and runs written, %d steps with news of another program\n", seed,
              steps, written, watch.written(), told);
  if (steps >= 400) {
    EXPECT_GT(written, 0);
    EXPECT_GT(watch.written(), 0);
  }
}

class TwoWindows : public testing::TestWithParam<int> {};

TEST_P(TwoWindows, WriteOverNothingUnseen) {
  walkTwo(static_cast<std::uint32_t>(GetParam()), 400);
}

INSTANTIATE_TEST_SUITE_P(TwoSeeds, TwoWindows, testing::Values(1, 2));

TEST(TwoWindowsAsked, DISABLED_AsLongAsWanted) {
  walkTwo(static_cast<std::uint32_t>(qEnvironmentVariableIntValue("LOWKITE_WALK_SEED")),
          qEnvironmentVariableIntValue("LOWKITE_WALK_STEPS"));
}

}  // namespace
}  // namespace lowkite::app
