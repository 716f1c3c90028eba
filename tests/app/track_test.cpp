// Track, driven by real widgets: days, runs, feelings, laps, comparison, advice, the day ahead, practice.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QToolButton>

#include "app/bench/bench_workspace.h"
#include "app/document/open_files.h"
#include "app/track/advice_page.h"
#include "app/track/ahead_page.h"
#include "app/track/laps_page.h"
#include "app/track/learn_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/line_chart.h"
#include "core/log/run_comparison.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class TrackTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_->showWorkspace(MainWindow::Job::track);
    settle();
  }
  TrackModel& track() { return window_->track().model(); }
  void page(TrackWorkspace::Page p) { click(QStringLiteral("track.page.%1").arg(static_cast<int>(p))); }
  void type(const QString& field, const QString& text) {
    auto* e = find<QLineEdit>(field);
    e->setFocus();
    e->selectAll();
    QTest::keyClick(e, Qt::Key_Delete);
    QTest::keyClicks(e, text);
    QTest::keyClick(e, Qt::Key_Return);
    settle();
  }
  void typeLaps(const QString& text) {
    page(TrackWorkspace::Page::laps);
    auto* box = find<QPlainTextEdit>(QStringLiteral("laps.typed"));
    box->setFocus();
    QTest::keyClicks(box, text);
    click(QStringLiteral("laps.add"));
  }
  /// What lies on the disk, read by a store of its own.
  std::vector<LoggedDay> onDisk() {
    const auto store = LogStore::open(track().path().toStdString());
    EXPECT_TRUE(store);
    return *everything_in(*store);
  }
  template <class Page>
  bool waitFor(const Page& p) {
    return QTest::qWaitFor([&] { return !p.busy(); }, 60000);
  }
  /// The touring car after a day on which one thing was changed.
  void twoRuns() {
    click(QStringLiteral("track.newRun"));
    typeLaps(QStringLiteral("15.0 15.1 15.05 14.95 15.02 15.08 "));
    page(TrackWorkspace::Page::feel);
    click(QStringLiteral("feel.phase.4"));
    click(QStringLiteral("feel.rear_grip.0"));
    document().setValue(part("rear_bar"), Sides::both, 0.0);
    settle();
    click(QStringLiteral("track.newRun"));
    typeLaps(QStringLiteral("14.7 14.8 14.75 14.65 14.72 14.78 "));
  }
};

TEST_F(TrackTest, ADayAndARunAreBegunAndFilledIn) {
  EXPECT_TRUE(track().days().empty());
  click(QStringLiteral("track.newDay"));
  type(QStringLiteral("day.date"), QStringLiteral("2026-10-09"));
  type(QStringLiteral("day.track"), QStringLiteral("Old Tannery hall"));
  type(QStringLiteral("day.ground"), QStringLiteral("21,5"));
  auto* surface = find<QComboBox>(QStringLiteral("day.surface"));
  surface->setFocus();
  QTest::keyClicks(surface, QStringLiteral("carpet"));
  Q_EMIT surface->activated(surface->currentIndex());
  settle();
  click(QStringLiteral("track.newRun"));
  type(QStringLiteral("run.started"), QStringLiteral("9:05"));
  type(QStringLiteral("run.tyres"), QStringLiteral("set 3"));
  type(QStringLiteral("run.tyreRuns"), QStringLiteral("4"));
  auto* notes = find<QPlainTextEdit>(QStringLiteral("run.notes"));
  notes->setFocus();
  QTest::keyClicks(notes, QStringLiteral("good"));
  settle();
  click(QStringLiteral("run.verdict.3"));
  const auto days = onDisk();
  ASSERT_EQ(days.size(), 1u);
  EXPECT_EQ(days[0].day.date, "2026-10-09");
  EXPECT_EQ(days[0].day.surface, Surface::carpet);
  EXPECT_DOUBLE_EQ(*days[0].day.ground_celsius, 21.5);
  ASSERT_EQ(days[0].runs.size(), 1u);
  const auto& r = days[0].runs[0].run;
  EXPECT_EQ(r.started, "09:05");
  EXPECT_EQ(r.tyre_runs, 4);
  EXPECT_EQ(r.notes, "good");
  EXPECT_EQ(r.verdict, Verdict::better);
  EXPECT_EQ(r.car_id, "heron-tc190");
  EXPECT_FALSE(r.setup.empty()) << "the setup at work goes along";
}

TEST_F(TrackTest, AWrongDateIsRefusedInWords) {
  click(QStringLiteral("track.newDay"));
  const std::string before = track().day()->date;
  type(QStringLiteral("day.date"), QStringLiteral("soon"));
  EXPECT_EQ(track().day()->date, before);
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("year-month-day")));
  click(QStringLiteral("track.newRun"));
  type(QStringLiteral("run.started"), QStringLiteral("noon"));
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("hours:minutes")));
}

TEST_F(TrackTest, EveryEditOfTheLogIsUndoneAndLeavesTheSetupAlone) {
  click(QStringLiteral("track.newDay"));
  click(QStringLiteral("track.newRun"));
  typeLaps(QStringLiteral("15.0 15.1 "));
  ASSERT_EQ(track().run()->laps.size(), 2u);
  EXPECT_FALSE(document().isModified()) << "the log is not the setup";
  click(QStringLiteral("undo"));
  EXPECT_TRUE(track().run()->laps.empty());
  click(QStringLiteral("redo"));
  EXPECT_EQ(track().run()->laps.size(), 2u);
  click(QStringLiteral("track.removeDay"));
  EXPECT_TRUE(track().days().empty());
  EXPECT_TRUE(onDisk().empty());
  key(Qt::Key_Z, Qt::ControlModifier);
  ASSERT_EQ(track().days().size(), 1u) << "Ctrl+Z undoes in the workspace that is shown";
  EXPECT_EQ(onDisk()[0].runs[0].laps.size(), 2u);
  for (int i = 0; i < 3; ++i) click(QStringLiteral("undo"));
  EXPECT_TRUE(track().days().empty());
  EXPECT_TRUE(onDisk().empty());
}

TEST_F(TrackTest, FeelingsAreAFewTouches) {
  page(TrackWorkspace::Page::feel);
  EXPECT_TRUE(text(QStringLiteral("feel.summary")).contains(QStringLiteral("no run")));
  click(QStringLiteral("track.newRun"));
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.turn.1"));
  click(QStringLiteral("feel.rear_grip.0"));
  click(QStringLiteral("feel.turn.0"));
  click(QStringLiteral("feel.response.3"));
  click(QStringLiteral("feel.response.4"));
  const auto runs = onDisk();
  const auto& f = runs[0].runs[0].run.feelings;
  ASSERT_EQ(f.size(), 2u) << "a second touch corrects the first";
  EXPECT_EQ(f[0], (Feeling{Phase::exit, Sense::rear_grip, TurnWay::left, -2}));
  EXPECT_EQ(f[1], (Feeling{Phase::exit, Sense::response, TurnWay::both, 2}));
  EXPECT_TRUE(text(QStringLiteral("feel.summary")).contains(QStringLiteral("steps out (a lot)")));
  for (const QString& name : {QStringLiteral("feel.rear_grip.0"), QStringLiteral("feel.phase.1")})
    EXPECT_GE(find<QAbstractButton>(name)->height(), 48) << name.toStdString();
}

TEST_F(TrackTest, AWheelThatLiftsIsFeltOnOneSideAndWhatIsOnlyToldIsNotTried) {
  page(TrackWorkspace::Page::feel);
  click(QStringLiteral("track.newRun"));
  for (const QString& one : {QStringLiteral("tip"), QStringLiteral("lift"), QStringLiteral("fade")}) {
    EXPECT_FALSE(window_->findChild<QAbstractButton*>(QStringLiteral("feel.%1.1").arg(one)));
    EXPECT_TRUE(window_->findChild<QAbstractButton*>(QStringLiteral("feel.%1.2").arg(one)));
  }
  click(QStringLiteral("feel.fade.4"));
  EXPECT_TRUE(text(QStringLiteral("feel.summary")).contains(QStringLiteral("grip fades (a lot)")));
  page(TrackWorkspace::Page::advice);
  AdvicePage& advice = window_->track().advice();
  ASSERT_TRUE(waitFor(advice));
  ASSERT_TRUE(advice.result());
  auto* table = find<QTableWidget>(QStringLiteral("advice.table"));
  int told = 0;
  int tried = 0;
  for (int row = 0; row < table->rowCount(); ++row) {
    table->setCurrentCell(row, 0);
    const bool only = advice.result()->list[at(row)].rule->part.kind == RulePart::Kind::told;
    EXPECT_EQ(find<QAbstractButton>(QStringLiteral("advice.plan"))->isEnabled(), !only);
    EXPECT_EQ(table->item(row, 2)->text() == QStringLiteral("not computed"), only);
    EXPECT_EQ(text(QStringLiteral("advice.reasons")).contains(QStringLiteral("the model has no such part")), only);
    ++(only ? told : tried);
  }
  EXPECT_GT(told, 0);
  EXPECT_GT(tried, 0);
}

TEST_F(TrackTest, TypedLapsGiveFiguresAndMarksSetThemAside) {
  click(QStringLiteral("track.newRun"));
  typeLaps(QStringLiteral("15.0 15.1 15.2 15.1 19.9 "));
  EXPECT_TRUE(text(QStringLiteral("laps.figures")).contains(QStringLiteral("Best 15.00 s")));
  EXPECT_TRUE(text(QStringLiteral("laps.figures")).contains(QStringLiteral("count: 4, set aside: 1")));
  auto* table = find<QTableWidget>(QStringLiteral("laps.table"));
  ASSERT_EQ(table->rowCount(), 5);
  EXPECT_TRUE(table->item(4, 2)->text().contains(QStringLiteral("slow")));
  table->setCurrentCell(0, 0);
  click(QStringLiteral("laps.mark.crash"));
  EXPECT_EQ(track().run()->laps[0].mark, LapMark::crash);
  EXPECT_TRUE(text(QStringLiteral("laps.figures")).contains(QStringLiteral("Best 15.10 s")));
  typeLaps(QStringLiteral("quick "));
  EXPECT_TRUE(text(QStringLiteral("laps.wrong")).contains(QStringLiteral("no lap time")));
  EXPECT_EQ(track().run()->laps.size(), 5u);
}

TEST_F(TrackTest, ATimingTableIsMappedOnceAndRemembered) {
  click(QStringLiteral("track.newRun"));
  page(TrackWorkspace::Page::laps);
  const QString path = folder_.filePath(QStringLiteral("heat.csv"));
  const auto write = [&](const QByteArray& text) {
    QFile f(path);
    ASSERT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(text);
  };
  write("Fahrer;Nr;Runde\nAda;1;14,8\nBo;1;15,9\nAda;2;14,7\nBo;2;16,0\n");
  window_->track().laps().askTable = [&] { return path; };
  click(QStringLiteral("laps.import"));
  auto* driver = find<QComboBox>(QStringLiteral("laps.map.driver"));
  EXPECT_TRUE(text(QStringLiteral("laps.map.preview")).contains(QStringLiteral("2 laps")))
      << text(QStringLiteral("laps.map.preview")).toStdString();
  driver->setCurrentIndex(driver->findText(QStringLiteral("Bo")));
  settle();
  click(QStringLiteral("laps.map.take"));
  ASSERT_EQ(track().run()->laps.size(), 2u);
  EXPECT_DOUBLE_EQ(track().run()->laps[0].seconds, 15.9);
  write("Fahrer;Nr;Runde\nCy;1;17,0\nBo;1;15,5\nBo;2;15,4\nBo;3;15,3\n");
  click(QStringLiteral("laps.import"));
  EXPECT_EQ(driver->currentText(), QStringLiteral("Bo")) << "the mapping is remembered";
  click(QStringLiteral("laps.map.take"));
  EXPECT_EQ(track().run()->laps.size(), 3u);
  write("words\nonly\n");
  click(QStringLiteral("laps.import"));
  EXPECT_TRUE(text(QStringLiteral("laps.wrong")).contains(QStringLiteral("no column holds lap times")));
}

TEST_F(TrackTest, TwoRunsAreComparedEffectFirst) {
  twoRuns();
  page(TrackWorkspace::Page::runs);
  EXPECT_TRUE(text(QStringLiteral("runs.verdict")).contains(QStringLiteral("0.30 s a lap faster")))
      << text(QStringLiteral("runs.verdict")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("runs.changes")).contains(QStringLiteral("Rear: Bar wire")));
  EXPECT_TRUE(text(QStringLiteral("runs.back")).contains(QStringLiteral("go back")));
  page(TrackWorkspace::Page::run);
  EXPECT_TRUE(text(QStringLiteral("run.changes")).contains(QStringLiteral("Bar wire")));
  // There and back: the old setup once more.
  document().setValue(part("rear_bar"), Sides::both, 1.0);
  settle();
  click(QStringLiteral("track.newRun"));
  typeLaps(QStringLiteral("15.0 15.1 15.05 14.95 15.02 15.08 "));
  page(TrackWorkspace::Page::runs);
  EXPECT_TRUE(text(QStringLiteral("runs.back")).contains(QStringLiteral("There and back")))
      << text(QStringLiteral("runs.back")).toStdString();
}

TEST_F(TrackTest, SeveralChangesAtOnceAreReminded) {
  twoRuns();
  document().setValue(part("front_spring"), Sides::both, 2.0);
  document().setValue(part("rear_spring"), Sides::both, 2.0);
  settle();
  page(TrackWorkspace::Page::run);
  click(QStringLiteral("run.takeSetup"));
  EXPECT_TRUE(text(QStringLiteral("run.changes")).contains(QStringLiteral("One thing at a time")))
      << text(QStringLiteral("run.changes")).toStdString();
}

TEST_F(TrackTest, AdviceFollowsFromWhatWasFeltAndOpensInPlan) {
  click(QStringLiteral("track.newRun"));
  page(TrackWorkspace::Page::advice);
  EXPECT_TRUE(text(QStringLiteral("advice.felt")).contains(QStringLiteral("Nothing was felt")));
  page(TrackWorkspace::Page::feel);
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.0"));
  page(TrackWorkspace::Page::advice);
  AdvicePage& advice = window_->track().advice();
  ASSERT_TRUE(waitFor(advice));
  ASSERT_TRUE(advice.result());
  ASSERT_GT(advice.result()->list.size(), 4u);
  auto* table = find<QTableWidget>(QStringLiteral("advice.table"));
  EXPECT_EQ(table->rowCount(), static_cast<int>(advice.result()->list.size()));
  EXPECT_TRUE(text(QStringLiteral("advice.reasons")).contains(QStringLiteral("Answers: exit: rear steps out")));
  const Advice wanted = advice.result()->list[0];
  const auto before = document().setup();
  click(QStringLiteral("advice.plan"));
  EXPECT_EQ(document().setup().values, wanted.stepped.values);
  EXPECT_TRUE(window_->plan().isVisible());
  settle();
  // The re-set that the advice told is the one that Plan tells.
  EXPECT_EQ(model().comparison()->work.setup.values, wanted.setup.values);
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(document().setup(), before);
}

TEST_F(TrackTest, ASchoolIsChosenAndKept) {
  click(QStringLiteral("track.newRun"));
  page(TrackWorkspace::Page::feel);
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.0"));
  page(TrackWorkspace::Page::advice);
  AdvicePage& advice = window_->track().advice();
  ASSERT_TRUE(waitFor(advice));
  const auto has = [&](const char* id) {
    return std::any_of(advice.result()->list.begin(), advice.result()->list.end(),
                       [&](const Advice& a) { return a.rule->id == id; });
  };
  EXPECT_TRUE(has("rear_inner_link_up_lever"));
  auto* menu = find<QMenu>(QStringLiteral("advice.schoolMenu"));
  Q_EMIT menu->aboutToShow();
  auto* one = find<QMenu>(QStringLiteral("school.inner_link"));
  ASSERT_EQ(one->actions().size(), 3);
  one->actions().at(1)->trigger();
  settle();
  ASSERT_TRUE(waitFor(advice));
  EXPECT_FALSE(has("rear_inner_link_up_lever"));
  EXPECT_EQ(track().schools().at("inner_link"), "gain");
}

TEST_F(TrackTest, TheLogKeepsScore) {
  twoRuns();
  page(TrackWorkspace::Page::feel);
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.2"));
  page(TrackWorkspace::Page::advice);
  click(QStringLiteral("advice.page.1"));
  auto* table = find<QTableWidget>(QStringLiteral("advice.score"));
  bool found = false;
  for (int i = 0; i < table->rowCount(); ++i)
    if (table->item(i, 0)->text() == QLatin1String("Thinner bar at the rear")) {
      found = true;
      EXPECT_EQ(table->item(i, 1)->text(), QStringLiteral("1 of 1"));
    }
  EXPECT_TRUE(found);
}

TEST_F(TrackTest, AnOwnRuleStandsBesideOurs) {
  page(TrackWorkspace::Page::advice);
  click(QStringLiteral("advice.page.2"));
  type(QStringLiteral("own.name"), QStringLiteral("My bar trick"));
  find<QComboBox>(QStringLiteral("own.end"))->setCurrentIndex(1);
  find<QComboBox>(QStringLiteral("own.part"))->setCurrentIndex(6);
  find<QComboBox>(QStringLiteral("own.way"))->setCurrentIndex(1);
  find<QComboBox>(QStringLiteral("own.helps"))->setCurrentIndex(2);
  click(QStringLiteral("own.add"));
  EXPECT_TRUE(QFile::exists(track().ownRulesPath()));
  const Rule* mine = track().book().rule("my_my_bar_trick");
  ASSERT_TRUE(mine);
  EXPECT_TRUE(mine->own);
  EXPECT_EQ(mine->part.size, Size::bar_wire);
  EXPECT_GT(track().book().rules.size(), 40u);
  // A part of this very car, by the name that it has there; and what no car file has.
  auto* part = find<QComboBox>(QStringLiteral("own.part"));
  const Car& car = window_->document().car();
  const auto& tower = car.adjusters[car.find_adjuster("rear_shock_upper_hole")];
  part->setCurrentIndex(part->findText(partTitle(tower)));
  ASSERT_EQ(part->currentText(), partTitle(tower));
  type(QStringLiteral("own.name"), QStringLiteral("Tower trick"));
  click(QStringLiteral("own.add"));
  const Rule* trick = track().book().rule("my_tower_trick");
  ASSERT_TRUE(trick);
  EXPECT_EQ(trick->part.point, "shock_upper");
  EXPECT_EQ(trick->end, End::rear);
  part->setCurrentIndex(14);
  EXPECT_FALSE(find<QWidget>(QStringLiteral("own.step"))->isEnabled()) << "what is only told has no step";
  type(QStringLiteral("own.name"), QStringLiteral("Two turns of tape on the body"));
  click(QStringLiteral("own.add"));
  const Rule* told = track().book().rule("my_two_turns_of_tape_on_the_body");
  ASSERT_TRUE(told);
  EXPECT_EQ(told->part.told, "Two turns of tape on the body");
  find<QComboBox>(QStringLiteral("own.end"))->setCurrentIndex(0);
  EXPECT_EQ(part->findText(partTitle(tower)), -1) << "the front has parts of its own";
  // The last part of a long list, and a car that has fewer: the list is that car's, and the step may be typed again.
  part->setCurrentIndex(part->count() - 1);
  const int parts = part->count();
  window_->open(dataPath(QStringLiteral("setups/wren-carpet.kite-setup.json")));
  settle();
  ASSERT_NE(window_->document().car().id, "heron-tc190");
  EXPECT_LT(part->count(), parts);
  EXPECT_TRUE(find<QWidget>(QStringLiteral("own.step"))->isEnabled());
  part->setCurrentIndex(part->count() - 1);
  type(QStringLiteral("own.name"), QStringLiteral("On the small car"));
  click(QStringLiteral("own.add"));
  EXPECT_TRUE(track().book().rule("my_on_the_small_car"));
  // A file that is broken by hand is said, and ours stand.
  QFile f(track().ownRulesPath());
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write("{ nonsense");
  f.close();
  track().rereadRules();
  EXPECT_GT(track().book().rules.size(), 40u);
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("my-rules.json")))
      << window_->banner().text().toStdString();
}

TEST_F(TrackTest, TheDayAheadProposesAndPacks) {
  track().fillWithDemo();
  settle();
  page(TrackWorkspace::Page::ahead);
  ASSERT_GT(window_->track().ahead().proposals().size(), 1u);
  EXPECT_FALSE(text(QStringLiteral("ahead.reasons")).isEmpty());
  auto* plans = find<QListWidget>(QStringLiteral("ahead.plans"));
  const QString packed = text(QStringLiteral("ahead.packing"));
  for (int i = 0; i < plans->count(); ++i)
    if (plans->item(i)->data(Qt::UserRole).toBool())
      QTest::mouseClick(plans->viewport(), Qt::LeftButton, {}, plans->visualItemRect(plans->item(i)).center());
  settle();
  EXPECT_NE(text(QStringLiteral("ahead.packing")), packed);
  find<QListWidget>(QStringLiteral("ahead.list"))->setCurrentRow(0);
  click(QStringLiteral("ahead.plan"));
  EXPECT_TRUE(window_->plan().isVisible());
  EXPECT_EQ(document().setup().values, window_->track().ahead().proposals()[0].setup.values);
  window_->showWorkspace(MainWindow::Job::track);
  click(QStringLiteral("ahead.bench"));
  EXPECT_TRUE(window_->bench().model().hasRun());
}

TEST_F(TrackTest, LearnMovesItsOwnDrawingAndPracticeKnowsTheAnswer) {
  page(TrackWorkspace::Page::learn);
  auto* topics = find<QListWidget>(QStringLiteral("learn.topics"));
  for (int i = 0; i < topics->count(); ++i) {
    topics->setCurrentRow(i);
    settle();
    EXPECT_FALSE(text(QStringLiteral("learn.text")).isEmpty());
    EXPECT_FALSE(text(QStringLiteral("learn.figures")).isEmpty()) << i;
  }
  topics->setCurrentRow(1);
  const QString level = text(QStringLiteral("learn.figures"));
  find<QSlider>(QStringLiteral("learn.slider"))->setValue(80);
  settle();
  EXPECT_NE(text(QStringLiteral("learn.figures")), level);
  EXPECT_EQ(model().attitude(), ViewAttitude{}) << "Plan is not moved";
  LearnPage& learn = window_->track().learn();
  click(QStringLiteral("learn.page.1"));
  learn.setSeed(5);
  ASSERT_TRUE(learn.question());
  click(QStringLiteral("learn.guess.%1").arg(static_cast<int>(learn.question()->answer())));
  EXPECT_TRUE(text(QStringLiteral("learn.result")).contains(QStringLiteral("Right")));
  EXPECT_EQ(learn.right(), 1);
  click(QStringLiteral("learn.next"));
  const int wrong = learn.question()->answer() == Guess::rises ? 0 : 2;
  click(QStringLiteral("learn.guess.%1").arg(wrong));
  EXPECT_EQ(learn.asked(), 2);
  EXPECT_EQ(learn.right(), 1);
}

TEST_F(TrackTest, TheLogGoesOutAndComesInThroughTheMenu) {
  twoRuns();
  const auto trigger = [&](int i) { find<QMenu>(QStringLiteral("menu.log"))->actions().at(i)->trigger(); };
  const auto exported = [&](const char* name, int entry) {
    const QString path = folder_.filePath(QString::fromLatin1(name));
    window_->askExportPath = [&](const QString&) { return path; };
    trigger(entry);
    settle();
    QFile f(path);
    EXPECT_TRUE(f.open(QIODevice::ReadOnly)) << name;
    return f.readAll();
  };
  const QByteArray json = exported("log.json", 0);
  EXPECT_TRUE(json.contains("lowkite-log"));
  EXPECT_EQ(exported("runs.csv", 1).count('\n'), 3);
  EXPECT_EQ(exported("laps.csv", 2).count('\n'), 13);
  EXPECT_TRUE(exported("copy.sqlite", 3).startsWith("SQLite format 3"));
  EXPECT_TRUE(exported("day.pdf", 6).startsWith("%PDF"));
  EXPECT_TRUE(exported("history.pdf", 7).startsWith("%PDF"));
  window_->askLogPath = [&] { return folder_.filePath(QStringLiteral("log.json")); };
  trigger(4);
  settle();
  EXPECT_EQ(track().days().size(), 1u) << "the same day is not added again";
  click(QStringLiteral("track.removeDay"));
  trigger(4);
  settle();
  EXPECT_EQ(track().days().size(), 1u);
  // The same from the two tables, one after the other.
  click(QStringLiteral("track.removeDay"));
  for (const char* table : {"runs.csv", "laps.csv"}) {
    window_->askLogPath = [&, table] { return folder_.filePath(QLatin1String(table)); };
    trigger(4);
    settle();
  }
  ASSERT_EQ(track().everything().size(), 1u);
  ASSERT_EQ(track().everything()[0].runs.size(), 2u);
  EXPECT_EQ(track().everything()[0].runs[0].laps.size() + track().everything()[0].runs[1].laps.size(), 12u);
  track().undoStack().undo();
  settle();
  EXPECT_TRUE(track().everything()[0].runs[0].laps.empty()) << "an undo takes the laps back";
  track().undoStack().redo();
  settle();
  EXPECT_FALSE(track().everything()[0].runs[0].laps.empty());
  window_->askExportPath = [](const QString&) { return QStringLiteral("/proc/no/log.json"); };
  trigger(0);
  settle();
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("log.json")));
}

TEST_F(TrackTest, ALogThatCannotBeOpenedIsSaidAndLeftAlone) {
  const QString path = track().path();
  window_.reset();
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write(QByteArray(4096, 'x'));
  f.close();
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
  window_->show();
  window_->showWorkspace(MainWindow::Job::track);
  settle();
  EXPECT_TRUE(find<QLabel>(QStringLiteral("track.wrong"))->isVisible());
  EXPECT_TRUE(text(QStringLiteral("track.wrong")).contains(QStringLiteral("no log")));
  click(QStringLiteral("track.newRun"));
  ASSERT_TRUE(f.open(QIODevice::ReadOnly));
  EXPECT_EQ(f.readAll(), QByteArray(4096, 'x'));
}

TEST_F(TrackTest, TheShippedSeasonIsWholeAndItsSetupsFit) {
  track().fillWithDemo();
  settle();
  EXPECT_GE(track().days().size(), 15u);
  int runs = 0;
  for (const LoggedDay& d : track().everything())
    for (const RunRecord& r : d.runs) {
      ++runs;
      if (r.run.car_id == document().car().id) {
        EXPECT_TRUE(setup_of(r.run, document().car())) << d.day.date << " " << r.run.started;
      }
      EXPECT_TRUE(lap_figures(r.laps)) << d.day.date;
    }
  EXPECT_GE(runs, 80);
  EXPECT_GE(track().score().trials.size(), 30u);
}

TEST_F(TrackTest, AKillLosesNothingThatWasTouched) {
  twoRuns();
  // The window goes without a word, as in a kill: nothing is saved on the way out.
  const auto before = onDisk();
  auto fresh = newWindow();
  ASSERT_TRUE(fresh->track().model().open());
  const auto& again = fresh->track().model().everything();
  ASSERT_EQ(again.size(), 1u);
  EXPECT_EQ(again[0].runs.size(), 2u);
  EXPECT_EQ(again[0].runs[1].laps, before[0].runs[1].laps);
}

TEST_F(TrackTest, ANewDayTakesOverNothingThatMustBeMeasured) {
  click(QStringLiteral("track.newDay"));
  Day day = *track().day();
  day.track = "Old Tannery hall";
  day.air_celsius = 21.0;
  day.ground_celsius = 24.0;
  day.humidity_percent = 40.0;
  track().putDay(day, QStringLiteral("weather"));
  click(QStringLiteral("track.newDay"));
  const Day next = *track().day();
  EXPECT_EQ(next.track, "Old Tannery hall");
  EXPECT_FALSE(next.air_celsius || next.ground_celsius || next.humidity_percent);
}

TEST_F(TrackTest, TheLogIsReadForOneCarOrAll) {
  track().fillWithDemo();
  settle();
  auto* days = find<QListWidget>(QStringLiteral("track.days"));
  const int all = days->count();
  EXPECT_TRUE(days->item(0)->text().contains(QStringLiteral("Heron"))) << days->item(0)->text().toStdString();
  for (int i = 0; i < all; ++i)
    EXPECT_FALSE(days->item(i)->text().contains(QStringLiteral("heron-tc190"))) << "a name, no id";
  click(QStringLiteral("track.whose.1"));
  int mine = 0;
  for (const DaySummary& d : track().days())
    mine += d.cars.empty() || std::count(d.cars.begin(), d.cars.end(), document().car().id) > 0;
  EXPECT_EQ(days->count(), mine);
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/wren-28.kite-car.json"))));
  settle();
  EXPECT_LT(days->count(), all);
  click(QStringLiteral("track.whose.0"));
  EXPECT_EQ(days->count(), all);
}

// Letters are not written one by one: the log has them when the hand rests, goes elsewhere or undoes.
TEST_F(TrackTest, NotesAreWrittenWhenTheHandRests) {
  click(QStringLiteral("track.newRun"));
  page(TrackWorkspace::Page::run);
  auto* notes = find<QPlainTextEdit>(QStringLiteral("run.notes"));
  const auto inLog = [&] { return track().fetch(track().run()->run.id)->run.notes; };
  const int edits = track().undoStack().count();
  notes->setFocus();
  QTest::keyClicks(notes, QStringLiteral("loose on power"));
  EXPECT_EQ(track().undoStack().count(), edits);
  EXPECT_EQ(inLog(), "");
  ASSERT_TRUE(QTest::qWaitFor([&] { return inLog() == "loose on power"; }, 5000));
  EXPECT_EQ(track().undoStack().count(), edits + 1);
  EXPECT_TRUE(notes->hasFocus());
  EXPECT_EQ(notes->textCursor().position(), 14) << "the hand may go on";
  QTest::keyClicks(notes, QStringLiteral(", better late"));
  find<QLineEdit>(QStringLiteral("run.tyres"))->setFocus();
  EXPECT_EQ(inLog(), "loose on power, better late") << "at once when the hand goes elsewhere";
  // Another run, an undo and the window's end do not wait for the hand to rest.
  const std::int64_t first = track().run()->run.id;
  notes->setFocus();
  QTest::keyClicks(notes, QStringLiteral("!"));
  track().addRun(QStringLiteral("11:11"));
  settle();
  EXPECT_EQ(track().fetch(first)->run.notes, "loose on power, better late!");
  EXPECT_EQ(notes->toPlainText(), QString());
  QTest::keyClicks(notes, QStringLiteral("second"));
  click(QStringLiteral("undo"));
  EXPECT_EQ(inLog(), "");
  EXPECT_EQ(notes->toPlainText(), QString());
  click(QStringLiteral("redo"));
  EXPECT_EQ(notes->toPlainText(), QStringLiteral("second"));
  notes->setFocus();
  notes->moveCursor(QTextCursor::End);
  QTest::keyClicks(notes, QStringLiteral(" one"));
  window_->close();
  EXPECT_EQ(inLog(), "second one");
}

// One touch writes a habit into the notes, another takes it out; both are undone.
TEST_F(TrackTest, AHabitIsNotedWithOneTouch) {
  click(QStringLiteral("track.newRun"));
  page(TrackWorkspace::Page::run);
  const auto notes = [&] { return find<QPlainTextEdit>(QStringLiteral("run.notes"))->toPlainText(); };
  find<QPlainTextEdit>(QStringLiteral("run.notes"))->setPlainText(QStringLiteral("hot"));
  settle();
  click(QStringLiteral("run.habit.hurried"));
  EXPECT_EQ(notes(), QStringLiteral("hot\nhurried"));
  click(QStringLiteral("run.habit.safe"));
  EXPECT_EQ(notes(), QStringLiteral("hot\nhurried\nsafe line"));
  EXPECT_TRUE(find<QToolButton>(QStringLiteral("run.habit.hurried"))->isChecked());
  click(QStringLiteral("run.habit.hurried"));
  EXPECT_EQ(notes(), QStringLiteral("hot\nsafe line"));
  EXPECT_FALSE(find<QToolButton>(QStringLiteral("run.habit.hurried"))->isChecked());
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(notes(), QStringLiteral("hot\nhurried\nsafe line"));
  EXPECT_TRUE(find<QToolButton>(QStringLiteral("run.habit.hurried"))->isChecked());
}

}  // namespace
}  // namespace lowkite::app
