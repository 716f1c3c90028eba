// Files: open, save, save as, recent, faults, unsaved work.
#include <QAction>
#include <QFile>
#include <QFileInfo>
#include <QMenu>
#include <QPrinter>
#include <QSvgRenderer>
#include <QTableWidget>

#include "app/document/open_files.h"
#include "app/document/recent_files.h"
#include "app/paper/setup_sheet.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Files : public WindowTest {
 protected:
  QString path(const QString& name) { return folder_.filePath(name); }
};

TEST_F(Files, EveryCarThatComesWithTheProgramOpensFromTheMenu) {
  auto* menu = find<QMenu>(QStringLiteral("top.car.menu"));
  Q_EMIT menu->aboutToShow();
  int cars = 0;
  for (const ShippedFile& file : shippedFiles()) cars += file.isCar ? 1 : 0;
  EXPECT_EQ(cars, 6);
  int opened = 0;
  QStringList titles;
  for (const ShippedFile& file : shippedFiles())
    if (file.isCar) titles << file.title;
  for (int i = 0; i < cars; ++i) {
    // Filled anew each time it opens.
    Q_EMIT menu->aboutToShow();
    const auto entries = menu->actions();
    const auto found =
        std::find_if(entries.begin(), entries.end(), [&](const QAction* a) { return a->text() == titles[i]; });
    ASSERT_NE(found, entries.end()) << titles[i].toStdString();
    QAction* entry = *found;
    entry->trigger();
    settle();
    EXPECT_TRUE(model().failure().isEmpty()) << entry->text().toStdString();
    EXPECT_FALSE(find<QWidget>(QStringLiteral("faults"))->isVisible()) << entry->text().toStdString();
    ++opened;
  }
  EXPECT_EQ(opened, cars);
  // And each setup of the car that is open.
  auto* setups = find<QMenu>(QStringLiteral("top.setup.menu"));
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  Q_EMIT setups->aboutToShow();
  QAction* carpet = nullptr;
  for (QAction* a : setups->actions())
    if (a->text().trimmed() == QStringLiteral("Club evening, carpet")) carpet = a;
  ASSERT_NE(carpet, nullptr);
  carpet->trigger();
  settle();
  EXPECT_EQ(document().setup().name, "Club evening, carpet");
}

TEST_F(Files, WhatComesWithTheProgramIsNeverWritten) {
  const QString shipped = dataPath(QStringLiteral("setups/heron-club-carpet.kite-setup.json"));
  const QByteArray before = contentOf(shipped);
  ASSERT_TRUE(window_->open(shipped));
  settle();
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  QString suggested;
  const QString mine = path(QStringLiteral("mine.kite-setup.json"));
  window_->askSavePath = [&](const QString& suggestion) {
    suggested = suggestion;
    return mine;
  };
  key(Qt::Key_S, Qt::ControlModifier);
  EXPECT_TRUE(suggested.startsWith(ownSetupsFolder())) << suggested.toStdString();
  EXPECT_TRUE(suggested.endsWith(QStringLiteral("heron-club-carpet.kite-setup.json")));
  EXPECT_EQ(contentOf(shipped), before);
  EXPECT_TRUE(QFile::exists(mine));
  EXPECT_FALSE(window_->isWindowModified());
  // Chosen all the same in the dialog, it is refused, and nothing is lost.
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_FALSE(document().save(shipped));
  EXPECT_EQ(contentOf(shipped), before);
  EXPECT_TRUE(window_->isWindowModified());
}

TEST_F(Files, StepSaveReloadGivesTheSameSetup) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(window_->isWindowModified());
  const QString file = path(QStringLiteral("trial.kite-setup.json"));
  window_->askSavePath = [&](const QString&) { return file; };
  key(Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(window_->isWindowModified());
  const lowkite::Setup saved = document().setup();
  EXPECT_EQ(saved.name, "trial") << "saved under a name of its own it is no longer the kit";
  click(QStringLiteral("adjuster.front_link_inner_shims.more"));
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(file));
  settle();
  EXPECT_EQ(document().setup(), saved);
  EXPECT_EQ(document().baseline(), saved) << "what was opened is what one compares with";
}

TEST_F(Files, ASetupOpensWithItsCar) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("setups/plover-loose-dirt.kite-setup.json"))));
  settle();
  EXPECT_EQ(document().car().id, "plover-2wd");
  EXPECT_TRUE(window_->windowTitle().contains(QStringLiteral("Loose dirt")));
  find<QWidget>(QStringLiteral("adjuster.front_kick_up"));
}

TEST_F(Files, SaveAsLeavesTheFirstFileAlone) {
  const QString first = path(QStringLiteral("first.kite-setup.json"));
  ASSERT_TRUE(window_->saveTo(first));
  const QByteArray before = contentOf(first);
  click(QStringLiteral("adjuster.front_tie_rod.more"));
  window_->askSavePath = [&](const QString&) { return path(QStringLiteral("second")); };
  key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(contentOf(first), before);
  EXPECT_TRUE(QFile::exists(path(QStringLiteral("second.kite-setup.json")))) << "the ending is added";
}

TEST_F(Files, ABadFileShowsEveryFaultAndLeavesTheWorkOpen) {
  const QString bad = path(QStringLiteral("bad.kite-car.json"));
  QByteArray text = contentOf(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")));
  text.replace("\"radius_mm\": 31.75", "\"radius_mm\": -1");
  text.replace("\"name\": \"Heron TC\"", "\"name\": 7");
  writeTo(bad, text);
  EXPECT_FALSE(window_->open(bad));
  EXPECT_TRUE(window_->faultPanel().isVisible());
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("faults.table"))->rowCount(), 3) << "two tyres and a name";
  EXPECT_EQ(document().car().id, "heron-tc190");
  click(QStringLiteral("faults.close"));
  EXPECT_FALSE(window_->faultPanel().isVisible());
}

TEST_F(Files, AFileChangedBySomebodyElseIsNotOverwritten) {
  const QString file = path(QStringLiteral("shared.kite-setup.json"));
  ASSERT_TRUE(window_->saveTo(file));
  writeTo(file, contentOf(file) + "\n");
  click(QStringLiteral("adjuster.front_tie_rod.more"));
  EXPECT_FALSE(window_->save());
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("changed by somebody else")));
  EXPECT_TRUE(document().isModified()) << "nothing is lost";
  window_->askSavePath = [&](const QString&) { return path(QStringLiteral("mine.kite-setup.json")); };
  click(QStringLiteral("banner.action.0"));
  EXPECT_FALSE(document().isModified());
}

TEST_F(Files, UnsavedWorkIsAskedAboutAndCancelKeepsIt) {
  click(QStringLiteral("adjuster.front_tie_rod.more"));
  int asked = 0;
  window_->askUnsaved = [&](const QString&) {
    ++asked;
    return MainWindow::Unsaved::cancel;
  };
  EXPECT_FALSE(window_->open(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json"))));
  EXPECT_FALSE(window_->close());
  EXPECT_EQ(asked, 2);
  EXPECT_EQ(document().car().id, "heron-tc190");
  window_->askUnsaved = [&](const QString&) { return MainWindow::Unsaved::discard; };
  EXPECT_TRUE(window_->close());
}

TEST_F(Files, RecentFilesAreListedNewestFirstAndOpen) {
  const QString setup = dataPath(QStringLiteral("setups/heron-club-carpet.kite-setup.json"));
  ASSERT_TRUE(window_->open(setup));
  EXPECT_TRUE(RecentFiles::list().front().endsWith(QStringLiteral("heron-club-carpet.kite-setup.json")));
  auto* menu = find<QMenu>(QStringLiteral("menu.recent"));
  Q_EMIT menu->aboutToShow();
  ASSERT_EQ(menu->actions().size(), 2);
  menu->actions().at(1)->trigger();
  EXPECT_EQ(document().setup().name, "Kit");
}

TEST_F(Files, ACarAndItsSetupOpenTogetherFromTheCommandLine) {
  auto opened = openFiles({dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")),
                           dataPath(QStringLiteral("setups/heron-club-carpet.kite-setup.json"))});
  ASSERT_TRUE(opened);
  EXPECT_EQ(opened->file.setup.name, "Club evening, carpet");
  const auto wrong = openFiles({dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")),
                                dataPath(QStringLiteral("setups/plover-loose-dirt.kite-setup.json"))});
  ASSERT_FALSE(wrong);
}

TEST_F(Files, SavingIntoAFolderThatIsGoneSaysSoAndKeepsTheWork) {
  click(QStringLiteral("adjuster.front_tie_rod.more"));
  EXPECT_FALSE(window_->saveTo(path(QStringLiteral("gone/x.kite-setup.json"))));
  EXPECT_TRUE(window_->banner().isVisible());
  EXPECT_EQ(document().setup().name, "Kit") << "a save that failed changes nothing";
  EXPECT_TRUE(document().isModified());
}

TEST_F(Files, TheSetupSheetIsPaperWithDrawingsAndEveryPart) {
  const Comparison* c = model().comparison();
  ASSERT_TRUE(c);
  const Sheet sheet = setupSheet(document().car(), *c->changed, BenchKit{});
  ASSERT_EQ(sheet.drawings.size(), 2U);
  for (const auto& [name, drawing] : sheet.drawings) {
    int inked = 0;
    for (int y = 0; y < drawing.height(); y += 4)
      for (int x = 0; x < drawing.width(); x += 4) inked += qGray(drawing.pixel(x, y)) < 200 ? 1 : 0;
    EXPECT_GT(inked, 500) << name.toStdString();
  }
  for (const Adjuster& a : document().car().adjusters)
    EXPECT_TRUE(sheet.html.contains(QString::fromStdString(a.name).toHtmlEscaped())) << a.id;
  for (const Gauge& g : gauges_of(document().car()))
    EXPECT_TRUE(sheet.html.contains(QString::fromStdString(g.label))) << g.label;
}

TEST_F(Files, TheSetupSheetComesInBothPageSizes) {
  QMenu* menu = find<QMenu>(QStringLiteral("menu.sheet"));
  QStringList sizes;
  for (int i = 0; i < 2; ++i) {
    const QString path = folder_.filePath(QStringLiteral("sheet%1.pdf").arg(i));
    window_->askExportPath = [&](const QString&) { return path; };
    menu->actions()[i]->trigger();
    QFile f(path);
    ASSERT_TRUE(f.open(QIODevice::ReadOnly));
    const QByteArray pdf = f.readAll();
    EXPECT_TRUE(pdf.startsWith("%PDF-"));
    const auto box = pdf.indexOf("/MediaBox");
    ASSERT_GE(box, 0);
    sizes << QString::fromLatin1(pdf.mid(box, 34));
  }
  EXPECT_TRUE(sizes[0].contains(QStringLiteral("595"))) << sizes[0].toStdString();
  EXPECT_TRUE(sizes[1].contains(QStringLiteral("612"))) << sizes[1].toStdString();
}

TEST_F(Files, APrinterGetsTheSheet) {
  const QString path = folder_.filePath(QStringLiteral("printed.pdf"));
  window_->askPrinter = [&](QPrinter& p) {
    p.setOutputFormat(QPrinter::PdfFormat);
    p.setOutputFileName(path);
    return true;
  };
  QAction* toPrinter = find<QMenu>(QStringLiteral("menu.sheet"))->actions()[2];
  const auto lineAfterPrinting = [&] {
    const QString before = QStringLiteral("before");
    window_->banner().tell(before);
    toPrinter->trigger();
    // It is painted elsewhere: the window goes on meanwhile.
    EXPECT_TRUE(QTest::qWaitFor([&] { return text(QStringLiteral("banner.text")) != before; }, 10000));
    return text(QStringLiteral("banner.text"));
  };
  EXPECT_TRUE(lineAfterPrinting().contains(path));
  EXPECT_TRUE(contentOf(path).trimmed().endsWith("%%EOF"));
  EXPECT_GT(QFileInfo(path).size(), 10'000);

  window_->askPrinter = [](QPrinter& p) {
    p.setOutputFileName(QStringLiteral("/nowhere/at/all.pdf"));
    return true;
  };
  EXPECT_TRUE(lineAfterPrinting().contains(QStringLiteral("cannot write in this folder")));
  window_->askPrinter = [](QPrinter& p) {
    p.setOutputFormat(QPrinter::PdfFormat);  // what Qt falls back on where the system has no printer
    return true;
  };
  EXPECT_TRUE(lineAfterPrinting().startsWith(QStringLiteral("Nothing was printed")));
}

TEST_F(Files, TheDrawingOnShowIsExported) {
  QMenu* menu = find<QMenu>(QStringLiteral("menu.drawing"));
  const QString svg = folder_.filePath(QStringLiteral("drawing.svg"));
  window_->askExportPath = [&](const QString&) { return svg; };
  menu->actions()[0]->trigger();
  QSvgRenderer renderer(svg);
  EXPECT_TRUE(renderer.isValid());
  const QString pdf = folder_.filePath(QStringLiteral("drawing.pdf"));
  window_->askExportPath = [&](const QString&) { return pdf; };
  menu->actions()[1]->trigger();
  EXPECT_GT(QFileInfo(pdf).size(), 2'000);
  window_->askExportPath = [&](const QString&) { return QStringLiteral("/nowhere/at/all.pdf"); };
  menu->actions()[1]->trigger();
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("cannot write in this folder")));
}

TEST_F(Files, ADrawingThatWasNeverOnTheScreenIsExportedFromTheSetupAlone) {
  QMenu* menu = find<QMenu>(QStringLiteral("menu.drawing"));
  const auto svgOf = [&](Stage::View view) {
    window_->plan().stage().showView(view);
    const QString path = folder_.filePath(QStringLiteral("drawing.svg"));
    window_->askExportPath = [&](const QString&) { return path; };
    menu->actions()[0]->trigger();
    const QString pdf = folder_.filePath(QStringLiteral("drawing.pdf"));
    window_->askExportPath = [&](const QString&) { return pdf; };
    menu->actions()[1]->trigger();
    EXPECT_GT(QFileInfo(pdf).size(), 2'000);
    return contentOf(path);
  };
  window_->showWorkspace(MainWindow::Job::bench);
  ASSERT_TRUE(part("rear_hub_shims"));
  for (const Stage::View view : {Stage::View::front, Stage::View::above, Stage::View::side, Stage::View::around}) {
    const QByteArray before = svgOf(view);
    EXPECT_GT(before.size(), 4'000) << static_cast<int>(view);
    ASSERT_TRUE(document().step(part("rear_hub_shims"), Sides::both, 1));
    EXPECT_TRUE(svgOf(view) != before) << "what was changed while nobody looked is drawn: " << static_cast<int>(view);
    document().undoStack().undo();
  }
}

TEST_F(Files, ASetupOfAnotherCarIsTakenNowhere) {
  const lowkite::Setup ours = document().setup();
  lowkite::Setup shorter = ours;
  shorter.values.pop_back();
  lowkite::Setup foreign = ours;
  foreign.car_id = "another";
  for (const lowkite::Setup& s : {shorter, foreign}) {
    document().putSetup(s, QStringLiteral("test"));
    document().putBaseline(s, QStringLiteral("test"));
  }
  document().setValue(PartHandle(1'000), Sides::both, 1.0);
  EXPECT_FALSE(document().step({}, Sides::both, 1));
  EXPECT_EQ(document().setup(), ours);
  EXPECT_EQ(document().baseline(), ours);
  EXPECT_FALSE(document().undoStack().canUndo());
  // A pair to look at that waits while another car comes.
  model().compareInstead(PlanModel::Pair{ours, ours});
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json"))));
  settle();
  EXPECT_EQ(model().comparison()->changed->setup, document().setup());
}

}  // namespace
}  // namespace lowkite::app
