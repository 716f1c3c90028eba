// What may go wrong around the window: disks that are full, folders that are gone, odd names, other programs and other
// windows at the same files, kills in the middle.
#include <chrono>
#include <condition_variable>
#include <csignal>
#include <mutex>

#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPrinter>
#include <QProcess>
#include <QRandomGenerator>
#include <QStandardPaths>
#include <QTableWidget>
#include <QTextStream>
#include <QThread>
#include <QValueAxis>

#include <sys/resource.h>

#include "app/background/workers.h"
#include "app/bench/bench_workspace.h"
#include "app/document/open_files.h"
#include "app/plan/curves/curve_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "app/settings/own_file.h"
#include "app/settings/tyre_choice.h"
#include "app/settings/usual_ranges.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/line_chart.h"
#include "core/io/bench_file.hpp"
#include "core/io/car_file.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

using Job = MainWindow::Job;

/// While it lives, no file of this process grows beyond a few bytes: what a full disk does.
class FullDisk {
 public:
  FullDisk() {
    before_ = std::signal(SIGXFSZ, SIG_IGN);
    ::getrlimit(RLIMIT_FSIZE, &limit_);
    const rlimit small{16, limit_.rlim_max};
    ::setrlimit(RLIMIT_FSIZE, &small);
  }
  ~FullDisk() {
    ::setrlimit(RLIMIT_FSIZE, &limit_);
    std::signal(SIGXFSZ, before_);
  }
  FullDisk(const FullDisk&) = delete;
  FullDisk& operator=(const FullDisk&) = delete;

 private:
  rlimit limit_{};
  void (*before_)(int) = nullptr;
};

/// On to the next step at which something is read.
void toAGauge(BenchModel& bench) {
  do bench.goTo((bench.current() + 1) % static_cast<int>(bench.steps().size()));
  while (!bench.step()->gauge);
}

class HardToBreak : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
    window_->track().model().fillWithDemo();
    QDir().mkpath(files());
  }
  QString files() { return folder_.filePath(QStringLiteral("files")); }
  QStringList there() { return QDir(files()).entryList(QDir::Files | QDir::Hidden | QDir::NoDotAndDotDot, QDir::Name); }
  QString said() { return window_->banner().isVisible() ? window_->banner().text() : QString(); }

  /// Everything that writes a file of the racer's choice: with its suffix, and what it says (empty: nothing wrong).
  struct Writer {
    const char* name;
    const char* suffix;
    std::function<QString(const QString& path)> write;
  };
  std::vector<Writer> writers() {
    const auto action = [this](const char* menu, int entry) {
      return [this, menu, entry](const QString& path) {
        window_->banner().clear();
        window_->askExportPath = [path](const QString&) { return path; };
        find<QMenu>(QLatin1String(menu))->actions().at(entry)->trigger();
        return said();
      };
    };
    const auto curve = [this](auto what) {
      return [this, what](const QString& path) {
        const auto done = (window_->plan().curves().*what)(path);
        return done ? QString() : QString::fromStdString(done.error().line());
      };
    };
    return {
        {"setup", ".kite-setup.json",
         [this](const QString& path) {
           window_->banner().clear();
           return window_->saveTo(path) ? QString() : said();
         }},
        {"car", ".kite-car.json",
         [this](const QString& path) {
           const auto done = document().saveCar(path);
           return done ? QString() : QString::fromStdString(done.error().line());
         }},
        {"sheet, A4", ".pdf", action("menu.sheet", 0)},
        {"sheet, Letter", ".pdf", action("menu.sheet", 1)},
        {"table", ".csv", action("menu.table", 0)},
        {"drawing, SVG", ".svg", action("menu.drawing", 0)},
        {"drawing, PDF", ".pdf", action("menu.drawing", 1)},
        {"log", ".json", action("menu.log", 0)},
        {"runs", ".csv", action("menu.log", 1)},
        {"laps", ".csv", action("menu.log", 2)},
        {"copy of the log", ".sqlite", action("menu.log", 3)},
        {"day", ".pdf", action("menu.log", 6)},
        {"history", ".pdf", action("menu.log", 7)},
        {"curves, CSV", ".csv", curve(&CurvePanel::exportCsv)},
        {"curves, JSON", ".json", curve(&CurvePanel::exportJson)},
        {"curves, SVG", ".svg", curve(&CurvePanel::exportSvg)},
        {"curves, PNG", ".png", curve(&CurvePanel::exportPng)},
        {"bench sheet", ".pdf",
         [this](const QString& path) {
           window_->banner().clear();
           window_->bench().askSheetPath = [path] { return path; };
           find<QMenu>(QStringLiteral("menu.benchSheet"))->actions().at(0)->trigger();
           return said();
         }},
    };
  }
  /// Another window at the log that this one shows.
  std::unique_ptr<MainWindow> secondAtTheLog() {
    window_->showWorkspace(Job::track);
    settle();
    auto other = newWindow();
    EXPECT_TRUE(other->track().model().open());
    return other;
  }
  void openAll() {
    openPage(PlanWorkspace::Page::curves);
    window_->makeOwn(QStringLiteral("Mine"));
    window_->bench().model().start(BenchList::full);
    settle();
  }
};

TEST_F(HardToBreak, EveryWriterTakesEveryName) {
  openAll();
  const QStringList names{QStringLiteral("plain"),
                          QStringLiteral("with spaces  and a tab\t"),
                          QStringLiteral("quotes \" ' `"),
                          QString::fromUtf8("\xC3\xA4\xC3\xB6\xC3\xBC \xE2\x82\xAC \xD0\xBC\xD0\xBE\xD0\xB9"),
                          QStringLiteral("line\nbreak"),
                          QStringLiteral("-rf *"),
                          QStringLiteral("%1 %n 100%"),
                          QStringLiteral("<img src=x>"),
                          QString(200, QLatin1Char('n'))};
  for (const Writer& w : writers())
    for (const QString& name : names) {
      const QString path = files() + QLatin1Char('/') + name + QLatin1String(w.suffix);
      const QString told = w.write(path);
      EXPECT_GT(QFileInfo(path).size(), 100) << w.name << ": " << name.toStdString() << ": " << told.toStdString();
      EXPECT_EQ(there(), QStringList{QFileInfo(path).fileName()}) << w.name << " leaves nothing beside it";
      QFile::remove(path);
    }
}

TEST_F(HardToBreak, EveryWriterSaysWhyItCannotAndLeavesWhatWasThere) {
  openAll();
  for (const Writer& w : writers()) {
    SCOPED_TRACE(w.name);
    // A folder that is gone, one that nobody may write to, a folder in the place of the file.
    for (const QString& folder : {folder_.filePath(QStringLiteral("gone")), QStringLiteral("/proc/self")}) {
      const QString told = w.write(folder + QStringLiteral("/x") + QLatin1String(w.suffix));
      // A copy of the log makes its folder.
      if (QFile::exists(folder + QStringLiteral("/x") + QLatin1String(w.suffix))) {
        QDir(folder).removeRecursively();
        continue;
      }
      EXPECT_FALSE(told.isEmpty() || told.startsWith(QStringLiteral("Written"))) << told.toStdString();
    }
    const QString path = files() + QStringLiteral("/x") + QLatin1String(w.suffix);
    QDir().mkpath(path + QStringLiteral("/kept"));
    const QString in_the_way = w.write(path);
    EXPECT_FALSE(in_the_way.isEmpty() || in_the_way.startsWith(QStringLiteral("Written")));
    EXPECT_TRUE(QDir(path).exists(QStringLiteral("kept")));
    QDir(path).removeRecursively();
    writeTo(path, "precious");
    QString told;
    {
      const FullDisk full;
      told = w.write(path);
    }
    EXPECT_FALSE(told.isEmpty() || told.startsWith(QStringLiteral("Written"))) << told.toStdString();
    EXPECT_EQ(contentOf(path), "precious") << "what was there is untouched";
    EXPECT_EQ(there().size(), 1) << there().join(QLatin1Char(' ')).toStdString();
    QFile::remove(path);
  }
}

TEST_F(HardToBreak, WhatIsKeptByItselfSaysSoWhenTheDiskIsFull) {
  openAll();
  // A reading on the bench: kept in hand, told, and on the disk as soon as there is room.
  BenchModel& bench = window_->bench().model();
  toAGauge(bench);
  {
    const FullDisk full;
    bench.takeReading(Side::left, 5.0);
    EXPECT_TRUE(said().contains(QStringLiteral("Not on the disk yet"))) << said().toStdString();
  }
  EXPECT_EQ(bench.record(bench.step()->id).readings[0], (std::vector<double>{5.0}));
  bench.takeReading(Side::left, 5.1);
  const auto run = load_run(bench.path().toStdString(), document().car());
  ASSERT_TRUE(run);
  EXPECT_EQ(run->records.at(bench.step()->id).readings[0], (std::vector<double>{5.0, 5.1}));
  // The copy against a crash: told once.
  window_->showWorkspace(Job::plan);
  window_->banner().clear();
  {
    const FullDisk full;
    click(QStringLiteral("adjuster.front_link_inner_shims.less"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return said().contains(QStringLiteral("against a crash")); }, 5000));
  }
  // The log: the old state, and a sentence.
  window_->showWorkspace(Job::track);
  settle();
  TrackModel& track = window_->track().model();
  ASSERT_TRUE(track.run());
  const std::string notes = track.run()->run.notes;
  {
    const FullDisk full;
    RunRecord run_now = *track.run();
    run_now.run.notes = std::string(3'900, 'x');
    window_->banner().clear();
    track.putRun(run_now, QStringLiteral("notes"));
    EXPECT_TRUE(said().contains(QStringLiteral("disk"))) << said().toStdString();
  }
  EXPECT_EQ(track.fetch(track.run()->run.id)->run.notes, notes);
}

TEST_F(HardToBreak, ASetupChangedInAnotherWindowIsToldAndNothingIsOverwrittenUnseen) {
  const QString file = files() + QStringLiteral("/shared.kite-setup.json");
  ASSERT_TRUE(window_->saveTo(file));
  const auto second = newWindow();
  second->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(second->open(file));
  second->document().step(part("front_tie_rod"), Sides::both, 2);
  ASSERT_TRUE(second->save());
  const QByteArray theirs = contentOf(file);
  EXPECT_TRUE(QTest::qWaitFor([&] { return said().contains(QStringLiteral("changed by another program")); }, 5000))
      << "it is told without being asked";
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_FALSE(window_->save()) << "and the save refuses";
  EXPECT_EQ(contentOf(file), theirs);

  // Told again for another change; this time what is here is kept on purpose.
  second->document().step(part("front_tie_rod"), Sides::both, 2);
  ASSERT_TRUE(second->save());
  ASSERT_TRUE(QTest::qWaitFor([&] { return said().contains(QStringLiteral("changed by another program")); }, 5000));
  click(QStringLiteral("banner.action.1"));
  EXPECT_TRUE(window_->save());
  EXPECT_NE(contentOf(file), theirs);

  // And the other way round: theirs is opened again.
  second->document().step(part("front_tie_rod"), Sides::both, 1);
  EXPECT_FALSE(second->save());
  EXPECT_TRUE(QTest::qWaitFor([&] { return second->banner().isVisibleTo(second.get()); }, 5000));
  ASSERT_TRUE(second->open(file));
  EXPECT_EQ(second->document().setup(), document().setup());
}

TEST_F(HardToBreak, AFileThatIsRemovedIsToldAndWrittenAgain) {
  const QString file = files() + QStringLiteral("/mine.kite-setup.json");
  ASSERT_TRUE(window_->saveTo(file));
  QFile::remove(file);
  EXPECT_TRUE(QTest::qWaitFor([&] { return said().contains(QStringLiteral("no longer on the disk")); }, 5000));
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(window_->save());
  EXPECT_TRUE(QFile::exists(file));
}

TEST_F(HardToBreak, WhatIsGoneIsSavedAgainThoughNothingIsChangedInIt) {
  const auto canSave = [&] {
    auto* menu = find<QMenu>(QStringLiteral("top.setup.menu"));
    Q_EMIT menu->aboutToShow();
    for (QAction* a : menu->actions())
      if (a->text() == QStringLiteral("Save")) return a->isEnabled();
    return false;
  };
  const QString setup = files() + QStringLiteral("/mine.kite-setup.json");
  const QString car = files() + QStringLiteral("/mine.kite-car.json");
  ASSERT_TRUE(QFile::copy(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json")), car));
  QFile::setPermissions(car, QFile::ReadOwner | QFile::WriteOwner);
  ASSERT_TRUE(window_->open(car));
  ASSERT_TRUE(window_->saveTo(setup));
  EXPECT_FALSE(canSave()) << "nothing to save";
  for (const auto& lost : {QStringList{setup}, QStringList{car}, QStringList{setup, car}}) {
    for (const QString& file : lost) QFile::remove(file);
    EXPECT_TRUE(canSave()) << lost.join(QLatin1Char(' ')).toStdString();
    EXPECT_TRUE(window_->save());
    for (const QString& file : lost) EXPECT_TRUE(QFile::exists(file)) << file.toStdString();
    EXPECT_FALSE(canSave());
  }
  EXPECT_TRUE(load_car(car.toStdString()));
}

TEST_F(HardToBreak, TwoWindowsAtOneRunOnTheBenchLoseNoReading) {
  window_->bench().model().start(BenchList::full);
  BenchModel& first = window_->bench().model();
  toAGauge(first);
  first.takeReading(Side::left, 5.0);
  const auto other = newWindow();
  ASSERT_TRUE(other->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
  BenchModel& second = other->bench().model();
  ASSERT_TRUE(second.resume(first.path()));
  const std::string id = first.step()->id;
  while (second.step()->id != id) toAGauge(second);
  second.takeReading(Side::left, 5.2);
  first.takeReading(Side::left, 4.9);
  EXPECT_TRUE(said().contains(QStringLiteral("another window"))) << said().toStdString();
  EXPECT_NE(first.path(), second.path());
  first.takeReading(Side::right, 4.8);
  second.takeReading(Side::right, 5.3);
  const auto mine = load_run(first.path().toStdString(), document().car());
  const auto theirs = load_run(second.path().toStdString(), document().car());
  ASSERT_TRUE(mine && theirs);
  EXPECT_EQ(mine->records.at(id).readings[0], (std::vector<double>{5.0, 4.9}));
  EXPECT_EQ(theirs->records.at(id).readings[0], (std::vector<double>{5.0, 5.2}));
}

TEST_F(HardToBreak, TwoWindowsAtOneLogOverwriteNothingUnseen) {
  const auto other = secondAtTheLog();
  TrackModel& first = window_->track().model();
  TrackModel& second = other->track().model();
  ASSERT_EQ(first.run()->run.id, second.run()->run.id);
  const auto noted = [](TrackModel& m, const char* notes) {
    RunRecord r = *m.run();
    r.run.notes = notes;
    m.putRun(r, QStringLiteral("notes"));
  };
  noted(first, "from the first");
  noted(second, "from the second");
  EXPECT_EQ(first.fetch(first.run()->run.id)->run.notes, "from the first") << "it was there before";
  EXPECT_TRUE(other->banner().text().contains(QStringLiteral("another window")))
      << other->banner().text().toStdString();
  EXPECT_EQ(second.run()->run.notes, "from the first") << "and is read again";
  noted(second, "from the second, now that the first's was seen");
  EXPECT_EQ(second.run()->run.notes, "from the second, now that the first's was seen");
  // Coming to the front, the first one reads it.
  first.lookAgain();
  EXPECT_EQ(first.run()->run.notes, "from the second, now that the first's was seen");
  // An undo would bring back what is over: it is refused, and what the second one noted stays.
  ASSERT_TRUE(first.undoStack().canUndo());
  first.undoStack().undo();
  EXPECT_TRUE(said().startsWith(QStringLiteral("Nothing was undone: the run of"))) << said().toStdString();
  EXPECT_TRUE(said().contains(QStringLiteral("changed by another window since"))) << said().toStdString();
  EXPECT_EQ(first.run()->run.notes, "from the second, now that the first's was seen");
  EXPECT_FALSE(first.undoStack().canUndo());
}

TEST_F(HardToBreak, WhatAnotherWindowDoesToAnotherRunLeavesTheUndoOfThisOne) {
  const auto other = secondAtTheLog();
  TrackModel& first = window_->track().model();
  TrackModel& second = other->track().model();
  const std::string was = first.run()->run.notes;
  const std::int64_t mine = first.run()->run.id;
  RunRecord noted = *first.run();
  noted.run.notes = "mine";
  first.putRun(noted, QStringLiteral("notes"));
  second.addRun(QStringLiteral("23:10"));
  first.lookAgain();
  EXPECT_TRUE(said().contains(QStringLiteral("read again"))) << said().toStdString();
  first.undoStack().undo();
  EXPECT_EQ(first.fetch(mine)->run.notes, was);
  first.undoStack().redo();
  EXPECT_EQ(first.fetch(mine)->run.notes, "mine");
  EXPECT_EQ(first.runs().back().run.started, "23:10") << "and theirs is there";
}

// Notes that are being typed are nobody's yet: what another window writes meanwhile stands, and so do they.
TEST_F(HardToBreak, NotesTypedInTwoWindowsAreBothKept) {
  const auto other = secondAtTheLog();
  TrackModel& first = window_->track().model();
  TrackModel& second = other->track().model();
  auto* notes = find<QPlainTextEdit>(QStringLiteral("run.notes"));
  const auto elsewhere = [&](const std::string& text) {
    second.lookAgain();
    RunRecord r = *second.run();
    r.run.notes = text;
    second.putRun(r, QStringLiteral("notes"));
  };
  notes->setPlainText(QStringLiteral("mine"));
  elsewhere("theirs");
  window_->keepTyped();
  EXPECT_EQ(first.fetch(first.run()->run.id)->run.notes, "theirs\nmine");
  EXPECT_EQ(notes->toPlainText(), QStringLiteral("theirs\nmine"));
  EXPECT_TRUE(said().contains(QStringLiteral("yours stand below them"))) << said().toStdString();
  // The same where the log was read again before the hand rested.
  notes->moveCursor(QTextCursor::End);
  notes->insertPlainText(QStringLiteral("\nmore of mine"));
  elsewhere("theirs\nmine\nmore of theirs");
  first.lookAgain();
  EXPECT_EQ(notes->toPlainText(), QStringLiteral("theirs\nmine\nmore of theirs\nmore of mine"));
  window_->keepTyped();
  EXPECT_EQ(first.fetch(first.run()->run.id)->run.notes, "theirs\nmine\nmore of theirs\nmore of mine");
  // Without room on the disk they stay in the field, and are written when there is.
  const std::string was = first.run()->run.notes;
  notes->setPlainText(QStringLiteral("again"));
  {
    const FullDisk full;
    window_->banner().clear();
    window_->keepTyped();
    EXPECT_FALSE(said().isEmpty());
    EXPECT_EQ(first.fetch(first.run()->run.id)->run.notes, was);
    EXPECT_EQ(notes->toPlainText(), QStringLiteral("again"));
  }
  window_->keepTyped();
  EXPECT_EQ(first.fetch(first.run()->run.id)->run.notes, "again");
}

TEST_F(HardToBreak, AnUndoForWhichTheDiskHasNoRoomCanBeDoneLater) {
  window_->showWorkspace(Job::track);
  settle();
  TrackModel& track = window_->track().model();
  RunRecord noted = *track.run();
  const std::string was = noted.run.notes;
  const std::int64_t id = noted.run.id;
  noted.run.notes = "longer than the disk has room for";
  track.putRun(noted, QStringLiteral("notes"));
  {
    const FullDisk full;
    window_->banner().clear();
    track.undoStack().undo();
    EXPECT_FALSE(said().isEmpty());
    settle();
  }
  EXPECT_EQ(track.fetch(id)->run.notes, noted.run.notes);
  ASSERT_TRUE(track.undoStack().canUndo());
  track.undoStack().undo();
  EXPECT_EQ(track.fetch(id)->run.notes, was);
  EXPECT_TRUE(track.undoStack().canRedo());
}

TEST_F(HardToBreak, TwoWindowsThatBelieveOtherThingsOfTheirTyresKeepBoth) {
  const QString path = TyreChoice::ownPath();
  QFile::remove(path);
  TyreChoice first, second;
  const Car& car = document().car();
  const auto belief = [&](const TyreChoice& c, int i) { return c.family(car).belief[at(i)]; };
  const auto narrower = [&](TyreChoice& c, int i) {
    const TyreBelief b = belief(c, i);
    return c.setBelief(car, static_cast<TyreParameter>(i), b.least, 0.5 * (b.least + b.most));
  };
  EXPECT_EQ(narrower(first, 0), QString());
  EXPECT_EQ(narrower(second, 1), QString());
  const TyreChoice third;
  EXPECT_EQ(belief(third, 0).most, belief(first, 0).most);
  EXPECT_EQ(belief(third, 1).most, belief(second, 1).most);
  EXPECT_NE(belief(third, 1).most, belief(first, 1).most) << "the first has not looked since";

  // A file that was spoiled by hand is the racer's work all the same.
  const QByteArray spoiled = contentOf(path).replace("\"families\"", "\"famillies\"");
  writeTo(path, spoiled);
  for (TyreChoice* c : {&first, &second}) {
    EXPECT_TRUE(narrower(*c, 2).contains(QStringLiteral("until their file is mended")));
    EXPECT_TRUE(c->forgetOwn(car).contains(QStringLiteral("until their file is mended")));
  }
  EXPECT_EQ(contentOf(path), spoiled);
  QFile::remove(path);
  EXPECT_EQ(narrower(first, 2), QString()) << "and with the file gone work goes on";
  QFile::remove(path);
}

TEST_F(HardToBreak, WhatCannotBeReadIsNeverWrittenOver) {
  // Longer than anything that is read.
  const QString path = files() + QStringLiteral("/own.json");
  const QByteArray long_one(5 << 20, 'x');
  writeTo(path, long_one);
  OwnFile file(path);
  EXPECT_FALSE(file.read());
  EXPECT_FALSE(file.write("short"));
  EXPECT_FALSE(file.remove());
  EXPECT_EQ(contentOf(path), long_one);
}

TEST_F(HardToBreak, RulesThatAnotherWindowAddedOrAHandSpoiledStay) {
  window_->showWorkspace(Job::track);
  const auto other = newWindow();
  TrackModel& first = window_->track().model();
  TrackModel& second = other->track().model();
  ASSERT_FALSE(first.book().rules.empty());
  Rule a = second.book().rules.front(), b = a;
  a.id = "from_the_first";
  b.id = "from_the_second";
  first.addOwnRule(a);
  second.addOwnRule(b);
  EXPECT_TRUE(contentOf(first.ownRulesPath()).contains("from_the_first"));
  EXPECT_TRUE(contentOf(first.ownRulesPath()).contains("from_the_second"));
  const QByteArray spoiled = contentOf(first.ownRulesPath()).replace("from_the_first", "from the first\": 1, \"");
  writeTo(first.ownRulesPath(), spoiled);
  b.id = "a_third";
  first.addOwnRule(b);
  EXPECT_TRUE(said().contains(QStringLiteral("until their file is mended"))) << said().toStdString();
  EXPECT_EQ(contentOf(first.ownRulesPath()), spoiled);
}

TEST_F(HardToBreak, ALogThatIsRemovedWhileOpenIsNotWrittenIntoNothing) {
  window_->showWorkspace(Job::track);
  settle();
  TrackModel& track = window_->track().model();
  ASSERT_TRUE(track.run());
  QFile::rename(track.path(), track.path() + QStringLiteral(".moved"));
  RunRecord r = *track.run();
  r.run.notes = "lost?";
  track.putRun(r, QStringLiteral("notes"));
  EXPECT_TRUE(said().contains(QStringLiteral("removed or replaced"))) << said().toStdString();
  EXPECT_NE(track.run()->run.notes, "lost?");
}

TEST_F(HardToBreak, WhatKilledProgramsLeftIsClearedAtTheStart) {
  const QDir autosave(folder_.filePath(QStringLiteral("autosave")));
  const QByteArray of_the_dead = "999999\nlowkite\n" + QSysInfo::machineHostName().toUtf8() + "\n";
  // A lock whose copy is gone, one whose copy is there, and a file half written.
  writeTo(autosave.filePath(QStringLiteral("dead.kite-recovery.json.lock")), of_the_dead);
  writeTo(autosave.filePath(QStringLiteral("kept.kite-recovery.json.lock")), of_the_dead);
  writeTo(autosave.filePath(QStringLiteral("kept.kite-recovery.json")), "{}");
  writeTo(autosave.filePath(QStringLiteral(".lowkite-part-abcdef")), "{");
  QFile half(autosave.filePath(QStringLiteral(".lowkite-part-abcdef")));
  ASSERT_TRUE(half.open(QIODevice::ReadWrite));
  half.setFileTime(QDateTime::currentDateTime().addSecs(-60), QFileDevice::FileModificationTime);
  half.close();
  const auto next = newWindow();
  const QStringList left = autosave.entryList(QDir::Files | QDir::Hidden);
  EXPECT_FALSE(left.contains(QStringLiteral("dead.kite-recovery.json.lock")));
  EXPECT_FALSE(left.contains(QStringLiteral(".lowkite-part-abcdef")));
  EXPECT_TRUE(left.contains(QStringLiteral("kept.kite-recovery.json"))) << "work is offered, not cleared";
  int locks = 0;
  for (const QString& name : left) locks += name.endsWith(QStringLiteral(".lock"));
  EXPECT_EQ(locks, 3) << "of two running windows and of the copy that is offered";
}

TEST_F(HardToBreak, PaintingDoesNotWaitForWorkInTheBackground) {
  // Every thread of work is held until the window is painted, or for some seconds at most.
  struct Held {
    std::mutex mutex;
    std::condition_variable painted;
    bool done = false, waited = false;
    int begun = 0;
  };
  const auto held = std::make_shared<Held>();
  const int threads = 2 * QThread::idealThreadCount();
  for (int i = 0; i < threads; ++i)
    doElsewhere([held] {
      std::unique_lock lock(held->mutex);
      ++held->begun;
      held->waited |= !held->painted.wait_for(lock, std::chrono::seconds(10), [&] { return held->done; });
    });
  ASSERT_TRUE(QTest::qWaitFor([&] {
    const std::scoped_lock lock(held->mutex);
    return held->begun >= QThread::idealThreadCount();
  }));
  for (const auto job : {Job::plan, Job::bench, Job::track}) {
    window_->showWorkspace(job);
    window_->grab();
  }
  {
    const std::scoped_lock lock(held->mutex);
    EXPECT_FALSE(held->waited) << "the window was painted when the work was over";
    held->done = true;
  }
  held->painted.notify_all();
}

TEST_F(HardToBreak, WhatAPartMovesDiesWithItsCar) {
  openPage(PlanWorkspace::Page::movers);
  auto* panel = find<SensitivityPanel>(QStringLiteral("sensitivity"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return panel->result() && !panel->busy(); }, 30000));
  // The other car has fewer parts, and its own answer is not there yet.
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/wren-28.kite-car.json"))));
  for (const char* figure : {"camber", "roll_centre", "toe"}) panel->setFigure(figure);
  settle();
  EXPECT_FALSE(panel->result().has_value() && panel->busy());
  ASSERT_TRUE(QTest::qWaitFor([&] { return panel->result() && !panel->busy(); }, 30000));
  EXPECT_GT(find<QTableWidget>(QStringLiteral("sensitivity.table"))->rowCount(), 0);
}

TEST_F(HardToBreak, WhatTheBenchHasIsTakenBackByAnUndo) {
  BenchModel& bench = window_->bench().model();
  bench.start(BenchList::full);
  const BenchRun before = bench.run();
  BenchKit kit = before.bench;
  kit.ride_points_apart_mm = 100.0;
  bench.setBench(kit);
  ASSERT_NE(bench.run(), before);
  bench.undoStack().undo();
  EXPECT_EQ(bench.run(), before);
  bench.undoStack().redo();
  EXPECT_EQ(bench.run().bench, kit);
}

TEST(LineChartTest, FromAWideRangeToANarrowOneItNeverLaysOutMoreTicksThanItShows) {
  LineChart chart(QStringLiteral("chart"), nullptr);
  double most = 0.0;
  for (QAbstractAxis* a : chart.chart()->axes()) {
    auto* axis = qobject_cast<QValueAxis*>(a);
    const auto count = [axis, &most] {
      if (axis->tickType() == QValueAxis::TicksDynamic && axis->tickInterval() > 0.0)
        most = std::max(most, (axis->max() - axis->min()) / axis->tickInterval());
    };
    QObject::connect(axis, &QValueAxis::tickIntervalChanged, axis, count);
    QObject::connect(axis, &QValueAxis::rangeChanged, axis, count);
    QObject::connect(axis, &QValueAxis::tickTypeChanged, axis, count);
  }
  const auto show = [&](double scale) {
    chart.show(QStringLiteral("x"), QStringLiteral("y"),
               {{LineKind::now, {{-scale, -scale}, {0.0, 0.5 * scale}, {scale, scale}}, {}}});
  };
  for (const double scale : {1.0, 1e4, 1e-4, 1e5, 3e-3, 7e2, 1e-5, 1.0}) show(scale);
  EXPECT_LT(most, 40.0);
  // What is no number draws nothing and breaks nothing.
  const double nan = std::numeric_limits<double>::quiet_NaN(), inf = std::numeric_limits<double>::infinity();
  chart.show({}, {}, {{LineKind::now, {{nan, 1.0}, {0.0, inf}, {1.0, 1.0}, {2.0, 3.0}, {1e308, -1e308}}, {}}});
  EXPECT_LT(most, 40.0);
}

TEST(LineChartTest, AnAxisOfNoLengthHasTicksThatEnd) {
  // Ends as close as they may come when a curve has one point: the chart's layout adds the interval until it is past
  // the end, which with an interval of nothing took all memory.
  for (const auto& [low, high] : {std::pair(3.0, 3.0),
                                  {0.0, 0.0},
                                  {-0.0, 0.0},
                                  {5.0, 5.0 + 1e-15},
                                  {1e9, 1e9 + 1e-7},
                                  {-1e4, -1e4},
                                  {7.0, 6.0}}) {
    QValueAxis axis;
    setAxis(axis, low, high, 3);
    EXPECT_GT(axis.tickInterval(), 0.0) << low;
    EXPECT_GT(axis.min() + axis.tickInterval(), axis.min()) << low;
    EXPECT_LT((axis.max() - axis.min()) / axis.tickInterval(), 40.0) << low;
    EXPECT_LE(axis.min(), std::min(low, high));
    EXPECT_GE(axis.max(), std::max(low, high));
  }
}

/// Run in a process of its own by the test below: takes readings until it is killed, and says each one once the window
/// would show it.
TEST(BenchChild, DISABLED_TakesReadingsUntilItIsKilled) {
  Document document;
  auto opened = openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")));
  ASSERT_TRUE(opened);
  document.replace(std::move(*opened));
  BenchModel bench(document, qEnvironmentVariable("LOWKITE_BENCH_FOLDER"));
  bench.start(BenchList::full);
  toAGauge(bench);
  int taken = 0;
  QObject::connect(&bench, &BenchModel::changed, &bench, [&] {
    std::printf("%d\n", taken);
    std::fflush(stdout);
  });
  for (;;) {
    ++taken;
    bench.takeReading(Side::left, 0.01 * taken);
    if (taken % 40 == 0) toAGauge(bench);
  }
}

TEST(BenchKilled, NoReadingThatWasShownIsMissing) {
  const Car car = *load_car(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")).toStdString());
  int shown_in_all = 0;
  for (int kill = 0; kill < 12; ++kill) {
    QTemporaryDir folder;
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("LOWKITE_BENCH_FOLDER"), folder.path());
    for (const char* shard : {"GTEST_TOTAL_SHARDS", "GTEST_SHARD_INDEX", "GTEST_SHARD_STATUS_FILE"})
      environment.remove(QLatin1String(shard));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(),
                {QStringLiteral("--gtest_filter=BenchChild.*"), QStringLiteral("--gtest_also_run_disabled_tests")});
    QByteArray came;
    while (!came.contains("\n20\n")) {
      ASSERT_TRUE(child.waitForReadyRead(20000)) << child.errorString().toStdString() << ", signal " << child.exitCode()
                                                 << came.toStdString() << child.readAllStandardError().toStdString();
      came += child.readAllStandardOutput();
    }
    QTest::qSleep(10 + 17 * kill);
    child.kill();
    child.waitForFinished();
    int shown = 0;
    came += child.readAllStandardOutput();
    for (const QByteArray& line : came.split('\n')) {
      bool number = false;
      const int n = line.toInt(&number);
      // Half a line may be the last thing that came through.
      if (number) shown = std::max(shown, n);
    }
    const QStringList runs = QDir(folder.path()).entryList({QStringLiteral("*.kite-bench.json")}, QDir::Files);
    ASSERT_EQ(runs.size(), 1);
    const auto run = load_run(folder.filePath(runs.front()).toStdString(), car);
    ASSERT_TRUE(run) << run.error().front().line();
    int kept = 0;
    for (const auto& [id, record] : run->records) kept += static_cast<int>(record.readings[0].size());
    EXPECT_GE(kept, shown);
    EXPECT_LE(kept, shown + 1) << "one may have been written and not yet shown";
    shown_in_all += shown;
  }
  std::printf("%d readings shown, none missing\n", shown_in_all);
}

}  // namespace
}  // namespace lowkite::app
