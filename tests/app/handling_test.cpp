// What the driver will feel, in the window: signs over many tyres, reasons, every part, what is believed, and the log's
// word on tyres.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSet>
#include <QSlider>
#include <QTableWidget>

#include "app/plan/handling/film_page.h"
#include "app/plan/handling/handling_page.h"
#include "app/plan/handling/sign_cell.h"
#include "app/plan/handling/wish_search.h"
#include "app/track/advice_page.h"
#include "app/track/ahead_page.h"
#include "app/track/track_workspace.h"
#include "app/track/tyre_weigher.h"
#include "app/widgets/line_chart.h"
#include "app/words/wording.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class HandlingWindow : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    openPage(PlanWorkspace::Page::handling);
    ready();
  }
  HandlingPage& page() { return window_->plan().handling(); }
  void ready() {
    settle();
    EXPECT_TRUE(QTest::qWaitFor([&] { return page().study() && !page().busy(); }, 60000));
  }
  QString sign(int row, int phase) { return cell(row, phase).text(); }
  SignCell& cell(int row, int phase) {
    return *find<SignCell>(QStringLiteral("handling.sign%1.%2").arg(row).arg(phase));
  }
  void stepPart(const char* id, int by) {
    model().setPart(part(id));
    model().stepPart(by);
  }
};

TEST_F(HandlingWindow, ASignFadesWhileItIsThatOfTheStepBefore) {
  SignCell cell;
  cell.tell(QStringLiteral("MMMM"), &Tokens::kite, QStringLiteral("more for 200 of 256"));
  cell.resize(cell.sizeHint());
  const QRgb strong = tokens(cell.palette()).kite.rgb();
  const auto dots = [&] {
    const QImage image = cell.grab().toImage();
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
      for (int x = 0; x < image.width(); ++x) n += image.pixel(x, y) == strong;
    return n;
  };
  EXPECT_GT(dots(), 50);
  cell.setEnabled(false);
  EXPECT_EQ(dots(), 0);
  EXPECT_EQ(cell.accessibleName(), cell.text());
  // It grows with what it says, and does not shrink under the reader's eyes.
  const int wide = cell.sizeHint().width();
  cell.tell(QStringLiteral("MMMM"), &Tokens::kite, QStringLiteral("more for 200 of 256, less for 20, and then some"));
  const int wider = cell.sizeHint().width();
  EXPECT_GT(wider, wide);
  cell.tell({}, &Tokens::ink, {});
  EXPECT_EQ(cell.sizeHint().width(), wider);
}

TEST_F(HandlingWindow, AStepTakenBackBeforeItIsKnownLeavesAllAsItWas) {
  stepPart("rear_bar", 1);
  ready();
  const auto* why = find<QLabel>(QStringLiteral("handling.why"));
  const QString reasons = why->text(), front = sign(0, 1);
  EXPECT_TRUE(why->isEnabled());
  stepPart("front_link_inner_shims", -1);
  settle();
  EXPECT_FALSE(why->isEnabled());
  EXPECT_FALSE(cell(0, 1).isEnabled());
  key(Qt::Key_Z, Qt::ControlModifier);
  settle();
  ready();
  EXPECT_TRUE(why->isEnabled());
  EXPECT_TRUE(cell(0, 1).isEnabled());
  EXPECT_EQ(why->text(), reasons);
  EXPECT_EQ(sign(0, 1), front);
}

TEST_F(HandlingWindow, AChangeIsToldAsTheCoreTellsItOverTheSameTyres) {
  ASSERT_TRUE(page().study());
  EXPECT_FALSE(page().study()->differs());
  EXPECT_TRUE(text(QStringLiteral("handling.news")).contains(QStringLiteral("Nothing is changed")));
  EXPECT_TRUE(sign(0, 1).contains(QStringLiteral("%"))) << sign(0, 1).toStdString();
  stepPart("rear_differential_oil", 2);
  settle();
  EXPECT_TRUE(page().busy());
  EXPECT_FALSE(cell(0, 0).isEnabled()) << "grey until the change is known";
  ready();
  EXPECT_TRUE(cell(0, 0).isEnabled());
  const HandlingStudy& s = *page().study();
  ASSERT_TRUE(s.differs());
  EXPECT_EQ(s.after_setup, model().comparison()->reset->setup);
  const auto d =
      difference_of(spec_of(HandlingFigure::steering), CornerPhase::entry, *s.over_before, *s.over_after, s.tyres);
  ASSERT_TRUE(d);
  EXPECT_GT(d->more, 0.8) << "thicker oil behind pushes at entry";
  EXPECT_TRUE(sign(2, 0).contains(QStringLiteral("more for %1 of 256").arg(std::lround(256 * d->more))))
      << sign(2, 0).toStdString();
  EXPECT_TRUE(text(QStringLiteral("handling.why")).contains(QStringLiteral("differential")));
  key(Qt::Key_Z, Qt::ControlModifier);
  ready();
  EXPECT_FALSE(page().study()->differs());
}

TEST_F(HandlingWindow, EveryViewAnswersForEveryPhase) {
  stepPart("rear_bar", 1);
  ready();
  for (int view = 0; view < 6; ++view) {
    click(QStringLiteral("handling.view.%1").arg(view));
    ready();
    if (view == 1) {
      auto* chart = find<LineChart>(QStringLiteral("handling.schools"));
      ASSERT_EQ(chart->lines().size(), 2u);
      EXPECT_EQ(chart->lines()[1].points.size(), 256);
    }
    if (view == 2 || view == 3) {
      auto* chart = find<LineChart>(view == 2 ? QStringLiteral("handling.grip") : QStringLiteral("handling.moments"));
      EXPECT_GT(chart->lines().size(), 3u);
      for (const ChartLine& l : chart->lines()) EXPECT_GT(l.points.size(), 1);
    }
    if (view < 3)
      for (int phase = 0; phase < 3; ++phase) click(QStringLiteral("handling.phase.%1").arg(phase));
  }
}

TEST_F(HandlingWindow, EveryPartIsTriedByOneStepAndTheChosenOneIsTaken) {
  click(QStringLiteral("handling.view.4"));
  ready();
  auto* table = find<QTableWidget>(QStringLiteral("handling.parts"));
  ASSERT_GT(table->rowCount(), 2);
  ASSERT_GT(page().parts().size(), 15u);
  const auto adjuster = PartHandle::numbered(table->item(0, 0)->data(Qt::UserRole).toInt());
  const double to = table->item(0, 0)->data(Qt::UserRole + 1).toDouble();
  const lowkite::Setup before = document().setup();
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("handling.try"))->isEnabled());
  table->setCurrentCell(0, 0);
  click(QStringLiteral("handling.try"));
  EXPECT_EQ(document().setup().of(adjuster).left, to);
  ready();
  EXPECT_TRUE(page().study()->differs());
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(document().setup(), before);
  // Another figure, another order; none of it is worked out again.
  find<QComboBox>(QStringLiteral("handling.partFigure"))->setCurrentIndex(2);
  ready();
  EXPECT_GT(table->rowCount(), 2);
}

TEST_F(HandlingWindow, WhatIsBelievedIsTypedKeptAndTakenBack) {
  click(QStringLiteral("handling.view.5"));
  auto* table = find<QTableWidget>(QStringLiteral("handling.beliefs"));
  ASSERT_EQ(table->rowCount(), tyre_parameter_count);
  const QString least = table->item(0, 1)->text();
  const Spread was = *spread_of(spec_of(HandlingFigure::limit), CornerPhase::middle, *page().study()->over_after);
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("handling.ours"))->isEnabled());
  table->item(0, 1)->setText(QStringLiteral("1.0"));
  table->item(0, 2)->setText(QStringLiteral("1.2"));
  ready();
  EXPECT_TRUE(QFile::exists(TyreChoice::ownPath()));
  EXPECT_TRUE(find<QComboBox>(QStringLiteral("handling.family"))->currentText().contains(QStringLiteral("yours")));
  const Spread is = *spread_of(spec_of(HandlingFigure::limit), CornerPhase::middle, *page().study()->over_after);
  EXPECT_LT(is.median, was.median) << "less friction, less of a limit";
  // Nonsense is refused and the old number stands again.
  table->item(0, 1)->setText(QStringLiteral("much"));
  EXPECT_EQ(table->item(0, 1)->text(), QStringLiteral("1.00"));
  table->item(0, 1)->setText(QStringLiteral("3"));
  EXPECT_EQ(table->item(0, 1)->text(), QStringLiteral("1.00")) << "a least above the most";
  click(QStringLiteral("handling.ours"));
  ready();
  EXPECT_EQ(table->item(0, 1)->text(), least);
  EXPECT_FALSE(QFile::exists(TyreChoice::ownPath()));
}

TEST_F(HandlingWindow, ChoicesAreKeptBetweenStarts) {
  auto* corner = find<QDoubleSpinBox>(QStringLiteral("handling.lateral"));
  corner->setValue(1.4);
  click(QStringLiteral("handling.way.1"));
  click(QStringLiteral("handling.warmth.0"));
  ready();
  EXPECT_FALSE(page().study()->ask.to_the_left);
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  window_->show();
  window_->plan().open(PlanWorkspace::Page::handling);
  ready();
  EXPECT_DOUBLE_EQ(page().study()->ask.lateral_g, 1.4);
  EXPECT_FALSE(page().study()->ask.to_the_left);
}

TEST_F(HandlingWindow, ACarThatDoesNotTellEnoughSaysWhatIsMissing) {
  ASSERT_TRUE(window_->open(samplePath(QStringLiteral("golden-v1.kite-car.json"))));
  ready();
  EXPECT_TRUE(text(QStringLiteral("handling.news")).contains(QStringLiteral("cannot be told")))
      << text(QStringLiteral("handling.news")).toStdString();
  EXPECT_TRUE(sign(0, 0).isEmpty());
}

TEST_F(HandlingWindow, ClosingWhileItComputesIsHarmless) {
  stepPart("rear_bar", 1);
  settle();
  putAway();
  EXPECT_FALSE(page().busy()) << "nobody looks: nothing is worked out";
  openPage(PlanWorkspace::Page::handling);
  settle();
  EXPECT_TRUE(page().busy());
  window_.reset();
  QTest::qWait(200);
}

TEST_F(HandlingWindow, PartsThatWereGivenUpAreTriedAgainWhenThePageIsOpened) {
  click(QStringLiteral("handling.view.4"));
  settle();
  ASSERT_TRUE(page().busy());
  putAway();
  EXPECT_FALSE(page().busy());
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("handling.parts"))->rowCount(), 0);
  openPage(PlanWorkspace::Page::handling);
  ready();
  EXPECT_GT(find<QTableWidget>(QStringLiteral("handling.parts"))->rowCount(), 2);
}

TEST_F(HandlingWindow, TheFilmIsDrivenAndStepsThroughByPlace) {
  click(QStringLiteral("handling.view.6"));
  ready();
  ASSERT_NE(page().film().films(), nullptr);
  EXPECT_FALSE(page().film().films()->film_before) << "nothing is changed, there is no ghost";
  stepPart("rear_bar", 2);
  ready();
  const FilmPair& films = *page().film().films();
  ASSERT_TRUE(films.film_before);
  // What the table says is what the core drives, at the place of the slider.
  const HandlingStudy& s = *page().study();
  const TyreDraw tyre = middle_of(s.tyres, s.weights);
  const CornerFilm again = drive_corner(*s.after, tyre, CornerLine::of(s.ask));
  ASSERT_EQ(again.moments.size(), films.film_after.moments.size());
  auto* place = find<QSlider>(QStringLiteral("handling.filmPlace"));
  auto* table = find<QTableWidget>(QStringLiteral("handling.filmFigures"));
  QSet<QString> titles;
  for (const int at : {0, 250, 500, 750, 1000}) {
    place->setValue(at);
    settle();
    const CornerMoment& m = again.at(films.line.length_m() * at / 1000.0);
    ASSERT_EQ(table->rowCount(), 10);
    EXPECT_EQ(table->item(0, 2)->text(), signedNumber(degrees(m.servo_rad), 1));
    EXPECT_EQ(table->item(3, 2)->text(), number(100.0 * m.end_used[0], 0));
    titles << text(QStringLiteral("handling.filmWhere")).section(QLatin1Char(','), 0, 0);
  }
  EXPECT_EQ(titles.size(), 3) << "entry, middle and exit";
  // It plays to its end, and stops when nobody looks.
  place->setValue(960);
  click(QStringLiteral("handling.filmPlay"));
  auto* play = find<QPushButton>(QStringLiteral("handling.filmPlay"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return !play->isChecked(); }, 5000));
  EXPECT_EQ(place->value(), place->maximum());
  click(QStringLiteral("handling.filmPlay"));
  EXPECT_LT(place->value(), place->maximum()) << "from the start again";
  click(QStringLiteral("handling.view.0"));
  EXPECT_FALSE(play->isChecked());
  // A right turn, and one that no tyre holds.
  click(QStringLiteral("handling.view.6"));
  click(QStringLiteral("handling.way.1"));
  find<QDoubleSpinBox>(QStringLiteral("handling.lateral"))->setValue(2.8);
  ready();
  EXPECT_NE(page().film().films()->film_after.end, FilmEnd::through);
  EXPECT_TRUE(text(QStringLiteral("handling.filmNews")).contains(QStringLiteral("Now the car")));
  place->setValue(1000);
  EXPECT_TRUE(text(QStringLiteral("handling.filmWhere")).contains(QStringLiteral("came to")))
      << "what is told is of where it ended";
  const QImage picture = page().film().grab().toImage();
  EXPECT_FALSE(picture.isNull());
}

TEST_F(HandlingWindow, AWishIsSearchedForTriedAndTakenBack) {
  click(QStringLiteral("handling.view.7"));
  auto* go = find<QPushButton>(QStringLiteral("handling.wish.go"));
  EXPECT_FALSE(go->isEnabled()) << "nothing is wished";
  find<QComboBox>(QStringLiteral("handling.wish.sign0.0"))->setCurrentIndex(1);
  find<QComboBox>(QStringLiteral("handling.wish.sign1.2"))->setCurrentIndex(2);
  find<QComboBox>(QStringLiteral("handling.wish.sign3.1"))->setCurrentIndex(2);
  const auto wishes = page().wishSearch().wishes();
  ASSERT_EQ(wishes.size(), 3u);
  EXPECT_EQ(wishes[0], (HandlingWish{HandlingFigure::front_left, CornerPhase::entry, HandlingWant::more}));
  EXPECT_EQ(wishes[1], (HandlingWish{HandlingFigure::reaction, CornerPhase::middle, HandlingWant::not_more}))
      << "not later is no more of its time";
  EXPECT_EQ(wishes[2], (HandlingWish{HandlingFigure::rear_left, CornerPhase::exit, HandlingWant::not_less}));
  ASSERT_TRUE(go->isEnabled());
  click(QStringLiteral("handling.wish.parts.0"));
  click(QStringLiteral("handling.wish.go"));
  EXPECT_TRUE(page().wishSearch().busy());
  EXPECT_EQ(go->text(), QStringLiteral("Stop"));
  ready();
  auto* table = find<QTableWidget>(QStringLiteral("handling.wish.found"));
  ASSERT_GT(table->rowCount(), 2);
  EXPECT_EQ(go->text(), QStringLiteral("Search"));
  const lowkite::Setup before = document().setup();
  for (const int row : {0, 2}) {
    table->setCurrentCell(row, 0);
    click(QStringLiteral("handling.wish.try"));
    const RecipeResult& r = page().wishSearch().found().results[at(row)];
    ASSERT_EQ(r.changes.size(), 1u);
    for (const PartHandle i : document().car().adjusters.handles())
      EXPECT_EQ(document().setup().of(i).left, i == r.changes[0].adjuster ? r.changes[0].to : before.of(i).left)
          << "one result after the other on the same setup";
    // The page's own signs, over all tyres, say the same.
    ready();
    const HandlingStudy& s = *page().study();
    const auto d =
        difference_of(spec_of(HandlingFigure::front_left), CornerPhase::entry, *s.over_before, *s.over_after, s.tyres);
    ASSERT_TRUE(d);
    EXPECT_NEAR(d->more, r.felt->by[0].more, 0.3);
    EXPECT_EQ(table->rowCount(), static_cast<int>(page().wishSearch().found().results.size()))
        << "what was found stays while it is tried";
  }
  document().undoStack().undo();
  document().undoStack().undo();
  EXPECT_EQ(document().setup().values, before.values);
  // Stopped, it keeps what it found; another corner makes it mean nothing.
  click(QStringLiteral("handling.wish.go"));
  click(QStringLiteral("handling.wish.go"));
  EXPECT_FALSE(page().wishSearch().busy());
  EXPECT_FALSE(text(QStringLiteral("handling.wish.news")).contains(QStringLiteral("No part")))
      << "stopped before anything was found, nothing is known";
  find<QDoubleSpinBox>(QStringLiteral("handling.radius"))->setValue(6.0);
  ready();
  EXPECT_EQ(table->rowCount(), 0);
}

TEST_F(HandlingWindow, OtherSpringsAreMadeUpForByOtherParts) {
  click(QStringLiteral("handling.view.7"));
  click(QStringLiteral("handling.wish.same"));
  EXPECT_EQ(page().wishSearch().wishes().size(), 6u);
  click(QStringLiteral("handling.wish.parts.0"));
  // Stopped at once, it is over.
  stepPart("front_spring", 1);
  click(QStringLiteral("handling.wish.go"));
  click(QStringLiteral("handling.wish.go"));
  EXPECT_FALSE(page().wishSearch().busy());
  ready();
  EXPECT_TRUE(page().wishSearch().found().results.empty());
  document().undoStack().undo();
  ready();
  // Pressed right after a step, it starts from that step.
  stepPart("front_spring", 1);
  click(QStringLiteral("handling.wish.go"));
  EXPECT_TRUE(page().wishSearch().busy());
  ready();
  const auto& found = page().wishSearch().found().results;
  ASSERT_FALSE(found.empty());
  bool told = false;
  const HandlingStudy& study = *page().study();
  for (const RecipeResult& r : found) {
    if (r.changes.empty()) {
      told = true;
      const auto few = [](const auto& of) { return std::span(of).first(32); };
      const Handling before(study.over_before->begin(), study.over_before->begin() + 32);
      const Handling after(study.over_after->begin(), study.over_after->begin() + 32);
      const HandlingWish wish = page().wishSearch().wishes()[0];
      EXPECT_DOUBLE_EQ(difference_of(spec_of(wish.figure), wish.phase, before, after, few(study.tyres))->by.median,
                       r.felt->by[0].by.median);
      EXPECT_NE(r.felt->by[0].by.median, 0.0);
    }
    for (const PartChange& c : r.changes) EXPECT_NE(c.adjuster, part("front_spring")) << "what was changed stays";
  }
  EXPECT_TRUE(told) << "as it is now is among them";
  auto* table = find<QTableWidget>(QStringLiteral("handling.wish.found"));
  bool shown = false;
  for (int row = 0; row < table->rowCount(); ++row)
    shown = shown || table->item(row, 0)->text() == QStringLiteral("As it is now");
  EXPECT_TRUE(shown);
}

TEST_F(HandlingWindow, TheLogWeighsTheTyresAndAdviceHasThreeVoices) {
  window_->showWorkspace(MainWindow::Job::track);
  settle();
  TrackWorkspace& track = window_->track();
  click(QStringLiteral("track.newRun"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::feel)));
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.0"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::advice)));
  AdvicePage& advice = track.advice();
  settle();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy(); }, 120000));
  auto* table = find<QTableWidget>(QStringLiteral("advice.table"));
  ASSERT_GT(table->rowCount(), 2);
  EXPECT_TRUE(table->item(0, 3)->text().contains(QStringLiteral("mends"))) << table->item(0, 3)->text().toStdString();
  EXPECT_TRUE(text(QStringLiteral("advice.reasons")).contains(QStringLiteral("Three voices")));
  advice.showPage(AdvicePage::Page::tyres);
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("all alike likely")));
  click(QStringLiteral("tyreLog.weigh"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy(); }, 120000));
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("of 256 tyres")) ||
              text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("No pair")))
      << text(QStringLiteral("tyreLog.news")).toStdString();
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("tyreLog.table"))->rowCount(), tyre_parameter_count);
  // Started over, nothing is left of it; the log itself is as it was.
  const std::size_t days = track.model().everything().size();
  click(QStringLiteral("tyreLog.over"));
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("all alike likely")));
  EXPECT_EQ(track.model().everything().size(), days);
}

TEST_F(HandlingWindow, WhatTheLogTaughtIsKeptUpToDateAndStartsTheDayAhead) {
  TrackWorkspace& track = window_->track();
  track.model().fillWithDemo();
  window_->showWorkspace(MainWindow::Job::track);
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::advice)));
  AdvicePage& advice = track.advice();
  const auto idle = [&] {
    settle();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy() && !track.weigher().busy(); }, 120000));
  };
  idle();
  advice.showPage(AdvicePage::Page::tyres);
  click(QStringLiteral("tyreLog.weigh"));
  idle();
  const auto news = [&] { return text(QStringLiteral("tyreLog.news")); };
  const QString all = news();
  EXPECT_TRUE(all.contains(QStringLiteral("pairs of runs"))) << all.toStdString();
  // A run that is only looked at weighs nothing anew; another word in it does.
  const std::int64_t first = track.model().runs().front().run.id;
  track.model().chooseRun(first);
  QTest::qWait(1800);
  EXPECT_FALSE(track.weigher().busy());
  EXPECT_EQ(news(), all);
  // A run on which something broke says nothing of the change before it.
  track.model().chooseRun(track.model().runs()[1].run.id);
  RunRecord other = *track.model().run();
  other.run.broke = "a front arm";
  track.model().putRun(other, QStringLiteral("what broke"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return track.weigher().busy(); }, 5000));
  idle();
  const auto pairs = [](const QString& told) { return told.section(QLatin1Char(' '), 0, 0).toInt(); };
  const int left = pairs(news());
  EXPECT_LT(left, pairs(all)) << news().toStdString();
  // Only the runs on one set of tyres.
  auto* compound = find<QComboBox>(QStringLiteral("tyreLog.compound"));
  ASSERT_GT(compound->count(), 2);
  compound->setCurrentIndex(1);
  Q_EMIT compound->activated(1);
  idle();
  EXPECT_LT(pairs(news()), left) << news().toStdString();
  compound->setCurrentIndex(0);
  Q_EMIT compound->activated(0);
  idle();
  EXPECT_EQ(pairs(news()), left);
  // Handling says by what it is weighed.
  window_->showWorkspace(MainWindow::Job::plan);
  ready();
  EXPECT_TRUE(text(QStringLiteral("handling.news")).contains(QStringLiteral("Weighed by your log")));
  EXPECT_FALSE(page().study()->weights.empty());
  // The day ahead is told over those tyres, and taken into Plan with them.
  window_->showWorkspace(MainWindow::Job::track);
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::ahead)));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !track.ahead().busy(); }, 120000));
  const auto& proposals = track.ahead().proposals();
  ASSERT_FALSE(proposals.empty());
  auto* list = find<QListWidget>(QStringLiteral("ahead.list"));
  int asked = -1;
  for (int i = 0; i < list->count(); ++i)
    if (proposals[at(i)].setup.values != document().setup().values) asked = i;
  ASSERT_GE(asked, 0);
  list->setCurrentRow(asked);
  ASSERT_TRUE(QTest::qWaitFor([&] { return !track.ahead().busy(); }, 120000));
  EXPECT_TRUE(text(QStringLiteral("ahead.reasons")).contains(QStringLiteral("Against the setup in hand")))
      << text(QStringLiteral("ahead.reasons")).toStdString();
  // Started over, all are alike likely again.
  track.weigher().startOver();
  window_->showWorkspace(MainWindow::Job::plan);
  ready();
  EXPECT_TRUE(page().study()->weights.empty());
}

}  // namespace
}  // namespace lowkite::app
