#include "app/grabs/screen_grabs.h"

#include <cstdio>
#include <functional>

#include <QAbstractButton>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QListWidget>
#include <QPixmap>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QToolButton>

#include "app/bench/bench_workspace.h"
#include "app/car/boxes_page.h"
#include "app/car/car_workspace.h"
#include "app/document/open_files.h"
#include "app/help/guide_window.h"
#include "app/help/tour.h"
#include "app/main_window.h"
#include "app/paper/setup_sheet.h"
#include "app/paper/track_sheets.h"
#include "app/plan/curves/steering_panel.h"
#include "app/plan/handling/handling_page.h"
#include "app/plan/plan_workspace.h"
#include "app/plan/read/map_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "app/plan/search/recipe_panel.h"
#include "app/plan/sheet/sheet_page.h"
#include "app/plan/springs/motion_page.h"
#include "app/plan/springs/springs_panel.h"
#include "app/settings/bench_tools.h"
#include "app/track/advice_page.h"
#include "app/track/ahead_page.h"
#include "app/track/learn_page.h"
#include "app/track/track_workspace.h"
#include "app/track/tyre_weigher.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

void settle(MainWindow& window) {
  window.plan().model().flush();
  for (int i = 0; i < 5; ++i) QApplication::processEvents();
}

/// As a racer would: chooses the camber gauge and puts in what it reads.
void readAGauge(MainWindow& window) {
  settle(window);
  auto* table = window.findChild<QTableWidget*>(QStringLiteral("gauges.table"));
  for (int row = 0; row < table->rowCount(); ++row)
    if (table->item(row, 0)->text().startsWith(QStringLiteral("camber"))) table->setCurrentCell(row, 0);
  window.findChild<QDoubleSpinBox*>(QStringLiteral("gauge.read.field"))->setValue(-1.8);
}

/// Until every part has been tried beside the window.
/// Until what is computed beside the window stands there, or a minute has gone.
void waitWhile(const std::function<bool()>& busy) {
  constexpr int most_ms = 60000;
  QElapsedTimer clock;
  clock.start();
  while (busy() && clock.elapsed() < most_ms) QApplication::processEvents(QEventLoop::AllEvents, 50);
}

void waitForMovers(MainWindow& window) {
  settle(window);
  auto* panel = window.findChild<SensitivityPanel*>(QStringLiteral("sensitivity"));
  waitWhile([&] { return panel->busy(); });
}

/// The first lines of the recipe's order, and no others.
void keepLines(MainWindow& window, int lines) {
  for (int line = 5; line >= lines; --line)
    if (auto* away = window.findChild<QToolButton*>(QStringLiteral("recipe.aim%1.remove").arg(line))) away->click();
}

/// A higher rear roll centre against more camber gain.
void weighTwoWants(MainWindow& window) {
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  const FigureSource& now = window.plan().model().comparison()->changed->source;
  const auto want = [&](int line, const char* id, double by, double tolerance) {
    panel->setAim(line, id, false, find_figure(id)->read(now, End::rear, Side::left).value_or(0.0) + by, tolerance,
                  End::rear);
  };
  want(0, "roll_centre", 1.5, 0.1);
  want(1, "camber_gain", 0.06, 0.01);
  keepLines(window, 2);
  window.findChild<QPushButton*>(QStringLiteral("recipe.against"))->click();
  waitWhile([&] { return panel->busy(); });
  window.findChild<QTableWidget*>(QStringLiteral("recipe.table"))->setCurrentCell(1, 0);
}

/// More front grip at entry with the rear as it is at exit, and its roll centre where it is.
void askWhatIsFelt(MainWindow& window) {
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  panel->takeWishes({{HandlingFigure::front_left, CornerPhase::entry, HandlingWant::more, false},
                     {HandlingFigure::rear_left, CornerPhase::exit, HandlingWant::not_less, true}},
                    0.8);
  const FigureSource& now = window.plan().model().comparison()->changed->source;
  panel->setAim(2, "roll_centre", true, find_figure("roll_centre")->read(now, End::rear, Side::left).value_or(0.0), 0.3,
                End::rear);
  window.findChild<QComboBox*>(QStringLiteral("recipe.most"))->setCurrentIndex(1);
  window.findChild<QPushButton*>(QStringLiteral("recipe.search"))->click();
  waitWhile([&] { return panel->busy(); });
  window.findChild<QTableWidget*>(QStringLiteral("recipe.table"))->setCurrentCell(1, 0);
}

/// Less roll in the turn on show, with the load transfer as it is and front and rear as quick: by springs and bars.
void askOfSprings(MainWindow& window) {
  window.plan().open(PlanWorkspace::Page::springs);
  window.plan().springs().showPage(SpringsPanel::Page::turn);
  settle(window);
  window.findChild<QPushButton*>(QStringLiteral("springs.recipe"))->click();
  settle(window);
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  const Document& document = window.plan().model().document();
  const auto load = put_on_springs(document.car(), document.setup(), panel->under());
  if (!load) return;
  const auto now = [&](const char* id) { return find_figure(id)->read(*load, End::front, Side::left).value_or(0.0); };
  panel->setAim(0, "roll", false, now("roll") - 0.3, 0.1);
  panel->setAim(1, "front_transfer", true, now("front_transfer"), 1.0);
  panel->setAlike(2, "ride_frequency", false, 0.2);
  keepLines(window, 3);
  window.findChild<QAction*>(QStringLiteral("recipe.lightParts"))->trigger();
  window.findChild<QComboBox*>(QStringLiteral("recipe.most"))->setCurrentIndex(2);
  window.findChild<QPushButton*>(QStringLiteral("recipe.search"))->click();
  waitWhile([&] { return panel->busy(); });
  window.findChild<QTableWidget*>(QStringLiteral("recipe.table"))->setCurrentCell(0, 0);
}

/// More of the roll held at the front than what lies in the boxes can give.
void askToBuy(MainWindow& window) {
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  const Document& document = window.plan().model().document();
  const auto load = put_on_springs(document.car(), document.setup(), panel->under());
  if (!load) return;
  const double now = find_figure("front_transfer")->read(*load, End::front, Side::left).value_or(0.0);
  panel->setAim(0, "front_transfer", false, now + 1.6, 0.1, End::front);
  const FigureSource& geometry = window.plan().model().comparison()->changed->source;
  for (const End end : both_ends)
    panel->setAim(1 + static_cast<int>(at(end)), "roll_centre", true,
                  find_figure("roll_centre")->read(geometry, end, Side::left).value_or(0.0), 0.1, end);
  keepLines(window, 3);
  window.findChild<QComboBox*>(QStringLiteral("recipe.most"))->setCurrentIndex(0);
  window.findChild<QCheckBox*>(QStringLiteral("recipe.boxOnly"))->setChecked(true);
  window.findChild<QPushButton*>(QStringLiteral("recipe.search"))->click();
  waitWhile([&] { return panel->busy(); });
  auto* table = window.findChild<QTableWidget*>(QStringLiteral("recipe.table"));
  table->setCurrentCell(table->rowCount() - static_cast<int>(panel->toBuy().size()), 0);
  table->scrollToBottom();
}

/// The demo car asked for a higher rear roll centre with the front's, the wheelbase and the load transfer as they are,
/// and answered.
void askRecipe(MainWindow& window) {
  window.plan().model().setEnd(End::rear);
  window.plan().open(PlanWorkspace::Page::recipe);
  settle(window);
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  const FigureSource& now = window.plan().model().comparison()->changed->source;
  const auto hold = [&](int line, const char* id, double tolerance) {
    panel->setAim(line, id, true, find_figure(id)->read(now, End::front, Side::left).value_or(0.0), tolerance,
                  End::front);
  };
  panel->setAim(0, "roll_centre", false,
                find_figure("roll_centre")->read(now, End::rear, Side::left).value_or(0.0) + 1.0, 0.1);
  hold(1, "roll_centre", 0.2);
  hold(2, "wheelbase", 0.5);
  const Document& document = window.plan().model().document();
  if (const auto load = put_on_springs(document.car(), document.setup(), panel->under()))
    panel->setAim(3, "front_transfer", true,
                  find_figure("front_transfer")->read(*load, End::front, Side::left).value_or(0.0), 0.5);
  window.findChild<QComboBox*>(QStringLiteral("recipe.most"))->setCurrentIndex(2);
  window.findChild<QPushButton*>(QStringLiteral("recipe.search"))->click();
  waitWhile([&] { return panel->busy(); });
  window.findChild<QTableWidget*>(QStringLiteral("recipe.table"))->setCurrentCell(0, 0);
}

/// Less droop and a higher car: what a hand sets by itself.
void askWhatIsSet(MainWindow& window) {
  window.plan().model().setEnd(End::rear);
  window.plan().open(PlanWorkspace::Page::recipe);
  settle(window);
  auto* panel = window.findChild<RecipePanel*>(QStringLiteral("recipe"));
  const FigureSource& now = window.plan().model().comparison()->changed->source;
  const auto want = [&](int line, const char* id, double by, double tolerance) {
    panel->setAim(line, id, false, find_figure(id)->read(now, End::rear, Side::left).value_or(0.0) + by, tolerance);
  };
  want(0, "droop", -0.8, 0.2);
  want(1, "ride_height", 0.4, 0.1);
  window.findChild<QPushButton*>(QStringLiteral("recipe.search"))->click();
  waitWhile([&] { return panel->busy(); });
  window.findChild<QTableWidget*>(QStringLiteral("recipe.table"))->setCurrentCell(0, 0);
}

/// The invented sheet that contradicts the model, led to its first question.
void readSheet(MainWindow& window) {
  window.take(openDemo());
  window.plan().open(PlanWorkspace::Page::sheet);
  settle(window);
  SheetPage& page = window.plan().sheet();
  page.work().open(QString::fromStdString((data_folder() / "sheets" / "tannery-sharper.pdf").string()));
  waitWhile([&] { return !page.work().isOpen(); });
  settle(window);
  window.findChild<QPushButton*>(QStringLiteral("sheet.next"))->click();
}

/// A bench run under way: some steps done, one camber reading off.
void benchRun(MainWindow& window) {
  window.showWorkspace(MainWindow::Job::bench);
  settle(window);
  BenchModel& bench = window.bench().model();
  bench.start(BenchList::full);
  while (bench.step() && bench.step()->id != "camber:front") {
    if (bench.step()->gauge && bench.verdict())
      for (const Side side : both_sides)
        if (const auto& target = bench.verdict()->side[at(side)].target) bench.takeReading(side, *target);
    bench.finishStep();
  }
  bench.takeReading(Side::left, -1.0);
  bench.takeReading(Side::left, -0.9);
  bench.takeReading(Side::right, -1.7);
}

/// Scales under the front axle of a car that has harder springs than its setup says.
void pullDown(MainWindow& window) {
  BenchModel& bench = window.bench().model();
  for (int i = 0; i < static_cast<int>(bench.steps().size()); ++i)
    if (bench.steps()[at(i)].id == "pull_down:front") bench.goTo(i);
  const Document& d = window.document();
  Setup real = d.setup();
  real.of(d.car().find_adjuster("front_spring")) = {2.0, 2.0};
  const auto model = build_model(d.car(), real);
  if (!model) return;
  const std::vector<double> depths{0.0, 1.0, 2.0, 3.0, 4.0};
  double slip = 6.0;
  for (const PullPoint& p : modelled_pull(*model, End::front, depths))
    bench.takePull({p.depth_mm, std::round(p.grams) + (slip = -0.8 * slip)});
}

/// A car of one's own with a few caliper readings, one of them a slip.
void measureCar(MainWindow& window) {
  window.document().replace(*ownCopy(window.document().state(), QStringLiteral("Bench heron")));
  window.showWorkspace(MainWindow::Job::car);
  CarEditor& editor = window.carWorkspace().editor();
  window.carWorkspace().showPage(CarWorkspace::Page::measure);
  settle(window);
  const std::vector<GuideStep> guide = editor.guide();
  // A link's length is checked by its neighbours: there a slip shows.
  const auto slip = at(std::find_if(guide.begin(), guide.end(),
                                    [](const GuideStep& s) { return s.reading.kind == ReadingKind::distance; }) -
                       guide.begin());
  for (std::size_t i = 0; i < guide.size() && i < 52; ++i)
    editor.takeReading(guide[i].reading,
                       guide[i].reading.mm + (i == slip ? 1.4 : 0.05 * (static_cast<double>(i % 5) - 2.0)));
  window.findChild<QAbstractButton*>(QStringLiteral("measure.order.2"))->click();
  auto* list = window.findChild<QListWidget*>(QStringLiteral("measure.list"));
  list->setCurrentRow(53);  // a distance: the caliper's jaws are drawn
}

/// Until work beside the window is done.
template <class Page>
void waitFor(MainWindow& window, const Page& page) {
  settle(window);
  waitWhile([&] { return page.busy(); });
}

/// A day of the invented season in hand, and a run of it that did not feel right.
void chooseRun(MainWindow& window) {
  window.showWorkspace(MainWindow::Job::track);
  settle(window);
  TrackModel& track = window.track().model();
  for (const DaySummary& d : track.days()) {
    track.chooseDay(d.day.id);
    // The second run or a later one, so that there is one before it.
    for (std::size_t i = 1; i < track.runs().size(); ++i) {
      const Run& run = track.runs()[i].run;
      const bool felt = std::any_of(run.feelings.begin(), run.feelings.end(),
                                    [](const Feeling& f) { return f.amount != 0 && f.sense == Sense::rear_grip; });
      if (run.car_id != window.document().car().id || !felt) continue;
      track.chooseRun(run.id);
      return;
    }
  }
}

Faults sampleFaults() {
  // A real car file with a few slips of the pen, checked by the real loader.
  const auto text = read_file(data_folder() / "cars" / "heron-tc190.kite-car.json");
  auto j = parse_json(*text, "");
  (*j)["axles"]["front"]["points"]["link_inner"] = {-6, 31.5};
  (*j)["axles"]["front"]["tyre"]["radius_mm"] = 3175;
  (*j)["adjusters"][0]["kind"] = "shims";
  const auto car = read_car(j->dump(), "my-car.kite-car.json");
  return car ? Faults{} : car.error();
}

}  // namespace

bool grabScreens(MainWindow& window, const QString& folder, const QSize& size) {
  QDir().mkpath(folder);
  bool good = true;
  const auto grab = [&](const QString& name) {
    settle(window);
    good &= window.grab().save(QDir(folder).filePath(name + QStringLiteral(".png")));
  };
  const auto stepped = [&](const char* id, int steps) {
    Document& d = window.document();
    PlanModel& m = window.plan().model();
    m.setPart(d.car().find_adjuster(id));
    for (int i = 0; i < std::abs(steps); ++i) m.stepPart(steps > 0 ? 1 : -1);
  };
  const auto openCar = [&](const char* id) {
    window.take(
        openFile(QString::fromStdString((data_folder() / "cars" / (std::string(id) + ".kite-car.json")).string())));
  };
  window.resize(size);
  window.show();
  window.take(openDemo());
  stepped("front_link_inner_shims", -4);
  grab(QStringLiteral("plan-front"));
  good &= !!writePdf(setupSheet(window.document().car(), *window.plan().model().comparison()->changed, savedBench()),
                     QPageSize::A4, QDir(folder).filePath(QStringLiteral("setup-sheet.pdf")));
  window.plan().open(PlanWorkspace::Page::curves);
  window.plan().open(PlanWorkspace::Page::springs);
  window.findChild<QSlider*>(QStringLiteral("load.lateral"))->setValue(14);
  window.findChild<QSlider*>(QStringLiteral("load.longitudinal"))->setValue(-3);
  window.findChild<QCheckBox*>(QStringLiteral("load.show"))->setChecked(true);
  window.plan().open(PlanWorkspace::Page::springs);
  stepped("rear_bar", 2);
  grab(QStringLiteral("plan-corner"));
  window.plan().springs().showPage(SpringsPanel::Page::motion);
  window.plan().springs().motion().setEvent(RoadEvent::steer_step);
  waitFor(window, window.plan().springs().motion());
  grab(QStringLiteral("plan-motion"));
  window.plan().springs().showPage(SpringsPanel::Page::dampers);
  grab(QStringLiteral("plan-dampers"));
  window.plan().springs().showPage(SpringsPanel::Page::collars);
  grab(QStringLiteral("plan-collars"));
  window.plan().open(PlanWorkspace::Page::handling);
  waitFor(window, window.plan().handling());
  grab(QStringLiteral("plan-handling"));
  for (const auto& [view, name] : {std::pair(HandlingPage::View::schools, "plan-handling-schools"),
                                   std::pair(HandlingPage::View::grip, "plan-handling-grip"),
                                   std::pair(HandlingPage::View::moments, "plan-handling-moments"),
                                   std::pair(HandlingPage::View::film, "plan-handling-film"),
                                   std::pair(HandlingPage::View::beliefs, "plan-handling-tyres")}) {
    window.plan().handling().showView(view);
    waitFor(window, window.plan().handling());
    grab(QString::fromLatin1(name));
  }
  window.findChild<QComboBox*>(QStringLiteral("handling.wish.sign0.0"))->setCurrentIndex(1);
  window.findChild<QComboBox*>(QStringLiteral("handling.wish.sign1.2"))->setCurrentIndex(2);
  window.plan().handling().showView(HandlingPage::View::wishes);
  window.findChild<QPushButton*>(QStringLiteral("handling.wish.go"))->click();
  waitFor(window, window.plan().handling());
  grab(QStringLiteral("plan-handling-wishes"));
  window.plan().handling().showView(HandlingPage::View::why);
  window.document().undoStack().undo();
  window.document().undoStack().undo();
  window.plan().drawer().putAway();
  window.findChild<QCheckBox*>(QStringLiteral("load.show"))->setChecked(false);
  window.plan().open(PlanWorkspace::Page::curves);
  stepped("front_tie_outer_shims", 2);
  window.plan().stage().showView(Stage::View::above);
  window.plan().open(PlanWorkspace::Page::lock);
  window.plan().model().setAttitude({.servo_rad = radians(22.0)});
  window.plan().model().flush();
  waitFor(window, *window.findChild<SteeringPanel*>());
  grab(QStringLiteral("plan-top-steering"));
  window.plan().stage().showView(Stage::View::side);
  window.plan().open(PlanWorkspace::Page::curves);
  window.plan().open(PlanWorkspace::Page::gauges);
  window.plan().model().setAttitude({});
  stepped("front_hub_shims", 1);
  readAGauge(window);
  grab(QStringLiteral("plan-side-gauges"));
  window.plan().drawer().putAway();
  window.plan().stage().showView(Stage::View::front);
  window.document().undoStack().setIndex(0);
  window.plan().model().setEnd(End::rear);
  stepped("rear_hub_shims", 1);
  window.plan().model().setAttitude({.bump_mm = 1.5, .roll_rad = radians(1.5)});
  window.setShade(Shade::dark);
  grab(QStringLiteral("plan-rear-dark"));
  window.setShade(Shade::light);
  window.take(
      openFile(QString::fromStdString((data_folder() / "setups" / "plover-loose-dirt.kite-setup.json").string())));
  window.plan().model().setEnd(End::front);
  stepped("front_caster_block", 1);
  grab(QStringLiteral("plan-buggy"));
  window.take(openDemo());
  benchRun(window);
  grab(QStringLiteral("bench-camber"));
  pullDown(window);
  grab(QStringLiteral("bench-pull-down"));
  window.showWorkspace(MainWindow::Job::plan);
  openCar("godwit-ta");
  window.plan().model().setEnd(End::rear);
  stepped("rear_toe_outer_shims", 2);
  window.plan().stage().showView(Stage::View::around);
  window.plan().stage().setZoom(DrawingView::Zoom::car);
  grab(QStringLiteral("plan-around"));
  window.plan().open(PlanWorkspace::Page::movers);
  window.plan().stage().showView(Stage::View::above);
  window.plan().stage().setZoom(DrawingView::Zoom::axle);
  waitForMovers(window);
  grab(QStringLiteral("plan-what-moves"));
  auto* movers = window.findChild<SensitivityPanel*>(QStringLiteral("sensitivity"));
  movers->showMap(true);
  waitWhile([&] { return movers->map().busy(); });
  grab(QStringLiteral("plan-map"));
  movers->setFigure(FigurePlace{find_figure("front_transfer"), std::nullopt, std::nullopt});
  waitWhile([&] { return movers->busy() || movers->map().busy(); });
  grab(QStringLiteral("plan-map-springs"));
  movers->showMap(false);
  grab(QStringLiteral("plan-moves-springs"));
  window.plan().stage().showView(Stage::View::front);
  window.take(openDemo());
  askWhatIsSet(window);
  grab(QStringLiteral("plan-recipe-set"));
  window.take(openDemo());
  askRecipe(window);
  grab(QStringLiteral("plan-recipe"));
  weighTwoWants(window);
  grab(QStringLiteral("plan-trade-off"));
  askWhatIsFelt(window);
  grab(QStringLiteral("plan-recipe-felt"));
  weighTwoWants(window);
  window.findChild<QPushButton*>(QStringLiteral("recipe.try"))->click();
  window.plan().open(PlanWorkspace::Page::compare);
  if (auto* figures = window.findChild<QToolButton*>(QStringLiteral("compare.page.1"))) figures->click();
  grab(QStringLiteral("plan-compare"));
  window.plan().open(PlanWorkspace::Page::setups);
  grab(QStringLiteral("plan-setups"));
  readSheet(window);
  grab(QStringLiteral("plan-sheet"));
  window.take(openDemo());
  askOfSprings(window);
  grab(QStringLiteral("plan-recipe-springs"));
  // The pictures that follow are of a recipe that nobody has touched.
  window.findChild<QAction*>(QStringLiteral("recipe.allParts"))->trigger();
  window.findChild<RecipePanel*>(QStringLiteral("recipe"))->askOfSprings({0.8, 0.0});
  window.plan().drawer().putAway();
  openCar("sanderling-12");
  window.plan().model().setEnd(End::front);
  stepped("front_saver_shims", 1);
  window.plan().stage().setZoom(DrawingView::Zoom::axle);
  window.plan().stage().showView(Stage::View::above);
  window.plan().model().setAttitude({.servo_rad = radians(-15.0)});
  grab(QStringLiteral("plan-pan-car"));
  window.plan().stage().showView(Stage::View::front);
  window.plan().model().setAttitude({});
  window.plan().model().setEnd(End::rear);
  window.plan().open(PlanWorkspace::Page::springs);
  window.findChild<QCheckBox*>(QStringLiteral("load.show"))->setChecked(true);
  window.plan().open(PlanWorkspace::Page::springs);
  window.plan().springs().showPage(SpringsPanel::Page::collars);
  grab(QStringLiteral("plan-pod"));
  window.findChild<QCheckBox*>(QStringLiteral("load.show"))->setChecked(false);
  window.plan().open(PlanWorkspace::Page::curves);
  openCar("wren-28");
  window.plan().model().setEnd(End::front);
  stepped("front_spring_spacers", 2);
  window.plan().springs().showPage(SpringsPanel::Page::corner);
  grab(QStringLiteral("plan-mini"));
  window.plan().drawer().putAway();
  window.take(openDemo());
  measureCar(window);
  grab(QStringLiteral("car-measure"));
  window.carWorkspace().editor().takeFit();
  window.carWorkspace().showPage(CarWorkspace::Page::points);
  window.carWorkspace().showFrom(PointsView::From::above);
  window.carWorkspace().editor().setPoint(window.carWorkspace().editor().points()[4]);
  grab(QStringLiteral("car-points"));
  window.carWorkspace().showPage(CarWorkspace::Page::adjusters);
  window.carWorkspace().showFrom(PointsView::From::front);
  window.findChild<QPushButton*>(QStringLiteral("car.addPart"))->click();
  auto* what = window.findChild<QComboBox*>(QStringLiteral("part.what"));
  what->setCurrentIndex(what->findData(QStringLiteral("insert")));
  grab(QStringLiteral("car-adjusters"));
  window.take(openDemo());
  chooseRun(window);
  grab(QStringLiteral("track-run"));
  window.track().showPage(TrackWorkspace::Page::feel);
  grab(QStringLiteral("track-feel"));
  window.track().showPage(TrackWorkspace::Page::laps);
  grab(QStringLiteral("track-laps"));
  window.track().showPage(TrackWorkspace::Page::runs);
  grab(QStringLiteral("track-compare"));
  window.track().showPage(TrackWorkspace::Page::advice);
  waitFor(window, window.track().advice());
  grab(QStringLiteral("track-advice"));
  window.track().advice().showPage(AdvicePage::Page::score);
  grab(QStringLiteral("track-score"));
  window.track().advice().showPage(AdvicePage::Page::own);
  grab(QStringLiteral("track-own-rule"));
  window.track().advice().showPage(AdvicePage::Page::tyres);
  window.track().weigher().weigh();
  waitFor(window, window.track().weigher());
  grab(QStringLiteral("track-tyres"));
  window.track().weigher().startOver();
  window.track().weigher().startOver();
  window.showWorkspace(MainWindow::Job::car);
  window.carWorkspace().showPage(CarWorkspace::Page::boxes);
  if (auto* example = window.findChild<QPushButton*>(QStringLiteral("boxes.example")); example->isVisible())
    example->click();
  window.carWorkspace().boxesPage().take(5);
  grab(QStringLiteral("car-boxes"));
  window.carWorkspace().showPage(CarWorkspace::Page::points);
  window.showWorkspace(MainWindow::Job::plan);
  window.plan().open(PlanWorkspace::Page::recipe);
  settle(window);
  askToBuy(window);
  grab(QStringLiteral("plan-to-buy"));
  window.plan().drawer().putAway();
  window.showWorkspace(MainWindow::Job::track);
  window.track().showPage(TrackWorkspace::Page::ahead);
  waitFor(window, window.track().ahead());
  grab(QStringLiteral("track-ahead"));
  window.track().showPage(TrackWorkspace::Page::learn);
  if (auto* topics = window.findChild<QListWidget*>(QStringLiteral("learn.topics"))) topics->setCurrentRow(5);
  window.findChild<QSlider*>(QStringLiteral("learn.slider"))->setValue(60);
  grab(QStringLiteral("track-learn"));
  window.track().learn().showPractice(true);
  window.track().learn().setSeed(11);
  window.findChild<QPushButton*>(QStringLiteral("learn.guess.2"))->click();
  grab(QStringLiteral("track-practice"));
  for (const LoggedDay& d : window.track().model().everything())
    if (window.track().model().day() && d.day.id == window.track().model().day()->id)
      good &= !!writePdf(daySheet(d, &window.document().car(), window.track().model().lapRule()), QPageSize::A4,
                         QDir(folder).filePath(QStringLiteral("day-sheet.pdf")));
  window.take(openDemo());
  window.startTour();
  grab(QStringLiteral("tour"));
  delete window.findChild<Tour*>();
  window.document().undoStack().setIndex(0);
  window.askWelcome();
  grab(QStringLiteral("start"));
  if (auto* skip = window.findChild<QPushButton*>(QStringLiteral("welcome.skip"))) skip->click();
  {
    GuideWindow guide(&window);
    guide.resize(size);
    guide.open(QStringLiteral("The first five minutes"));
    settle(window);
    good &= guide.grab().save(QDir(folder).filePath(QStringLiteral("guide.png")));
  }
  window.showWorkspace(MainWindow::Job::plan);
  window.take(openDemo());
  window.faultPanel().show(sampleFaults());
  grab(QStringLiteral("faults"));
  window.faultPanel().hide();
  return good;
}

bool drawTo(MainWindow& window, const QStringList& files, bool rear, const QString& path) {
  auto opened = files.isEmpty() ? openDemo() : openFiles(files);
  if (!opened) {
    for (const Fault& f : opened.error()) std::fprintf(stderr, "%s\n", f.line().c_str());
    return false;
  }
  window.show();
  window.take(std::move(opened));
  window.plan().model().setEnd(rear ? End::rear : End::front);
  settle(window);
  if (window.plan().writeDrawing(path)) return true;
  std::fprintf(stderr, "%s could not be written\n", qPrintable(path));
  return false;
}

}  // namespace lowkite::app
