#include "app/main_window.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QLocale>
#include <QMenuBar>
#include <QMessageBox>
#include <QPrintDialog>
#include <QPrinter>
#include <QScreen>
#include <QStackedWidget>
#include <QToolTip>
#include <QVBoxLayout>
#include <QWhatsThis>

#include "app/bench/bench_workspace.h"
#include "app/car/car_workspace.h"
#include "app/document/commands.h"
#include "app/document/open_files.h"
#include "app/document/recent_files.h"
#include "app/document/write_file.h"
#include "app/drawing/car_picture.h"
#include "app/help/asking.h"
#include "app/help/guide_window.h"
#include "app/help/tour.h"
#include "app/kept/kept.h"
#include "app/key_list.h"
#include "app/paper/setup_sheet.h"
#include "app/paper/track_sheets.h"
#include "app/plan/plan_workspace.h"
#include "app/plan/springs/springs_panel.h"
#include "app/settings/bench_tools.h"
#include "app/top_line.h"
#include "app/track/track_workspace.h"
#include "app/welcome.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/setup_family.hpp"
#include "core/io/setup_table.hpp"

namespace lowkite::app {
namespace {

const QString geometryKey = QStringLiteral("window/geometry");
const QString jobKey = QStringLiteral("window/workspace");
const QString setupSuffix = QStringLiteral(".kite-setup.json");

/// Beside the folder of unsaved work: what outlives it.
QString beside(const QString& autosaveFolder, const QString& name) {
  return QFileInfo(QDir(autosaveFolder).absolutePath()).dir().filePath(name);
}

/// It was on the disk, and another program took it away.
bool isGone(const QString& path) {
  return !path.isEmpty() && !QFileInfo::exists(path);
}

}  // namespace

MainWindow::MainWindow(const QString& autosaveFolder, QWidget* parent)
    : QMainWindow(parent),
      autosave_(document_, autosaveFolder),
      watch_(document_),
      boxes_(beside(autosaveFolder, QStringLiteral("my-boxes.json"))) {
  setObjectName(QStringLiteral("mainWindow"));
  auto* page = new QWidget(this);
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  banner_ = new Banner(page);
  faults_ = new FaultPanel(page);
  pages_ = new QStackedWidget(page);
  pages_->setObjectName(QStringLiteral("workspaces"));
  const QDir kept(autosaveFolder);
  const QString log = beside(autosaveFolder, QStringLiteral("log/log.sqlite"));
  autosave_.clearLeftovers();
  for (const QString& folder : {kept.filePath(QStringLiteral("bench")), QFileInfo(log).path(),
                                beside(autosaveFolder, {}), ownCarsFolder(), ownSetupsFolder()})
    clear_half_written(folder.toStdString());
  // Made in the order of who needs whom, added in the order of the job.
  plan_ = new PlanWorkspace(document_, club_, usual_, tyres_, boxes_, pages_);
  car_ = add(new CarWorkspace(document_, plan_->model(), boxes_, pages_));
  bench_ = add(new BenchWorkspace(document_, club_, usual_, kept.filePath(QStringLiteral("bench")), pages_));
  add(plan_);
  track_ = add(new TrackWorkspace(document_, tyres_, boxes_, log, pages_));
  QStringList titles;
  for (const Workspace* w : workspaces_) titles << w->title();
  top_ = new TopLine(titles, undo_, page);
  connect(top_, &TopLine::undoWanted, this, [this] {
    keepTyped();
    undo_.undo();
  });
  connect(top_, &TopLine::redoWanted, this, [this] {
    keepTyped();
    undo_.redo();
  });
  connect(&top_->workspaces(), &Segmented::chosen, this, [this](int i) { showWorkspace(static_cast<Job>(i)); });
  connect(&top_->cars(), &QMenu::aboutToShow, this, &MainWindow::fillCars);
  connect(&top_->setups(), &QMenu::aboutToShow, this, &MainWindow::fillSetups);
  connect(top_, &TopLine::checkWanted, this, [this] {
    showWorkspace(Job::plan);
    plan_->open(PlanWorkspace::Page::check);
  });
  connect(plan_, &PlanWorkspace::checkCounted, top_, &TopLine::tellCheck);
  bench_->runsSince = [this](const std::string& car, const QString& since) {
    return track_->model().runsSince(car, since);
  };
  connect(plan_, &PlanWorkspace::refused, this, [this](const Fault& fault) { faults_->show({fault}); });
  column->addWidget(top_);
  column->addWidget(banner_);
  column->addWidget(faults_);
  column->addWidget(pages_, 1);
  setCentralWidget(page);
  makeFileMenu();
  makeEditMenu();
  makeViewMenu();
  makeHelpMenu();
  showWorkspace(Job::plan);  // a first look is at what a change would do
  Kept::tellFailures(this, [this](const QString& path) {
    banner_->tell(
        tr("Your choices (widths, bench kit, limits) cannot be kept: %1 cannot be written. They hold until the "
           "program ends; each further choice tries again.")
            .arg(path));
  });
  if (!usual_.fault().isEmpty()) banner_->tell(usual_.fault());
  if (!tyres_.fault().isEmpty()) banner_->tell(tyres_.fault());
  if (!boxes_.fault().isEmpty()) banner_->tell(boxes_.fault());
  setMinimumSize(1100, 640);
  const QSize screen =
      QGuiApplication::primaryScreen() ? QGuiApplication::primaryScreen()->availableSize() : QSize(1280, 800);
  resize(QSize(1280, 800).boundedTo(screen));
  tellOfOthers();
  connect(&document_, &Document::fileChanged, this, &MainWindow::refreshTitle);
  connect(&document_.undoStack(), &QUndoStack::cleanChanged, this, &MainWindow::refreshTitle);
  askExportPath = [this](const QString& suggestion) {
    return QFileDialog::getSaveFileName(this, tr("Export"), suggestion,
                                        QStringLiteral("*.") + QFileInfo(suggestion).suffix());
  };
  askPrinter = [this](QPrinter& printer) { return QPrintDialog(&printer, this).exec() == QDialog::Accepted; };
  askUnsaved = [this](const QString& title) {
    const auto answer =
        QMessageBox::question(this, tr("Unsaved changes"), tr("%1 has changes that are not saved.").arg(title),
                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    return answer == QMessageBox::Save      ? Unsaved::save
           : answer == QMessageBox::Discard ? Unsaved::discard
                                            : Unsaved::cancel;
  };
  askOpenPath = [this] {
    return QFileDialog::getOpenFileName(this, tr("Open a car or a setup"), {},
                                        tr("Cars and setups (*.kite-car.json *.kite-setup.json)"));
  };
  askLogPath = [this] {
    QStringList kinds;
    for (const LogImport& each : log_imports()) kinds << QStringLiteral("*") + fromCore(each.suffix);
    return QFileDialog::getOpenFileName(this, tr("A log to add"), {},
                                        tr("Logs (%1)").arg(kinds.join(QLatin1Char(' '))));
  };
  askTablePath = [this] {
    return QFileDialog::getOpenFileName(this, tr("A setup as a table"), {}, tr("Tables (*.csv *.txt)"));
  };
  askSavePath = [this](const QString& suggestion) {
    return QFileDialog::getSaveFileName(this, tr("Save the setup"), suggestion, tr("Setups (*.kite-setup.json)"));
  };
  refreshTitle();
  qApp->installEventFilter(this);
}

MainWindow::~MainWindow() {
  // The stack tells of its end when there is no line left to write it in.
  document_.undoStack().disconnect(this);
  document_.disconnect(this);
  delete takeCentralWidget();  // pages that are hidden as they go still ask the document
}

template <class W>
W* MainWindow::add(W* made) {
  Workspace* w = made;
  workspaces_.push_back(w);
  pages_->addWidget(w);
  undo_.addStack(&w->undoStack());
  undo_.addStack(&boxes_.undoStack());
  connect(w, &Workspace::undoStackChanged, this, [this] { undo_.setActiveStack(&shown().undoStack()); });
  connect(w, &Workspace::boxesWanted, this, [this] {
    showWorkspace(Job::car);
    car_->showPage(CarWorkspace::Page::boxes);
  });
  connect(w, &Workspace::told, this, [this](const QString& news) { banner_->tell(news); });
  connect(w, &Workspace::openWanted, this, [this](const QString& path) { open(path); });
  connect(w, &Workspace::ownCopyWanted, this, &MainWindow::makeOwn);
  connect(w, &Workspace::planWanted, this, &MainWindow::lookAtInPlan);
  connect(w, &Workspace::benchWanted, this, [this] {
    showWorkspace(Job::bench);
    bench_->model().start(BenchList::full);
  });
  return made;
}

void MainWindow::showWorkspace(Job job) {
  top_->workspaces().setCurrent(static_cast<int>(job));
  pages_->setCurrentIndex(static_cast<int>(job));
  undo_.setActiveStack(&shown().undoStack());
}

namespace {

/// Shows a tip as it is written where Qt would take it for markup: it may hold a name that somebody gave.
bool showAsWritten(QObject* watched, const QHelpEvent& asked) {
  auto* w = qobject_cast<QWidget*>(watched);
  if (!w) return false;
  QString tip = w->toolTip();
  if (const auto* view = qobject_cast<QAbstractItemView*>(w->parentWidget()); view && view->viewport() == w)
    tip = view->indexAt(asked.pos()).data(Qt::ToolTipRole).toString();
  if (!Qt::mightBeRichText(tip)) return false;
  QToolTip::showText(asked.globalPos(), Qt::convertFromPlainText(tip), w);
  return true;
}

}  // namespace

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::ToolTip && showAsWritten(watched, *static_cast<QHelpEvent*>(event))) return true;
  // A number field would take Undo for its own letters, and the edit that it made would stay.
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    auto* number = qobject_cast<QDoubleSpinBox*>(watched);
    if (!number) number = qobject_cast<QDoubleSpinBox*>(watched->parent());
    if (number && (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo))) {
      // What is typed and not yet taken is let go first.
      const bool half_typed = number->cleanText() != number->textFromValue(number->value());
      if (half_typed) number->setValue(number->value());
      event->setAccepted(half_typed);
      return true;
    }
  }
  return QMainWindow::eventFilter(watched, event);
}

Workspace& MainWindow::shown() const {
  // The questions of the first start are no workspace; Plan stands behind them.
  const auto page = at(pages_->currentIndex());
  return page < workspaces_.size() ? *workspaces_[page] : *plan_;
}

void MainWindow::makeFileMenu() {
  QMenu* menu = top_->menus().addMenu(tr("&File"));
  menu->addAction(tr("&Open..."), QKeySequence::Open, this, [this] {
    if (const QString path = askOpenPath(); !path.isEmpty()) open(path);
  });
  recent_ = menu->addMenu(tr("Open &recent"));
  recent_->setObjectName(QStringLiteral("menu.recent"));
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
  menu->addAction(tr("Open the &demo car"), this, [this] {
    if (maySpoil()) take(openDemo());
  });
  menu->addSeparator();
  menu->addAction(tr("&Save"), QKeySequence::Save, this, &MainWindow::save);
  menu->addAction(tr("Save setup &as..."), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S), this, [this] {
    if (!document_.hasCar()) return;
    if (const QString path = askSavePath(document_.state().setupPath); !path.isEmpty()) saveTo(path);
  });
  menu->addSeparator();
  QMenu* sheet = menu->addMenu(tr("Setup s&heet"));
  sheet->setObjectName(QStringLiteral("menu.sheet"));
  sheet->addAction(tr("PDF, A4..."), this, [this] { exportSheet(QPageSize::A4); });
  sheet->addAction(tr("PDF, Letter..."), this, [this] { exportSheet(QPageSize::Letter); });
  sheet->addAction(tr("Print..."), QKeySequence::Print, this, &MainWindow::printSheet);
  sheet->addAction(tr("Read in, or fill in, a form of others..."), this, [this] {
    showWorkspace(Job::plan);
    plan_->open(PlanWorkspace::Page::sheet);
  });
  QMenu* table = menu->addMenu(tr("Setup as a &table"));
  table->setObjectName(QStringLiteral("menu.table"));
  table->addAction(tr("Export CSV..."), this, &MainWindow::exportTable);
  table->addAction(tr("Import CSV..."), this, &MainWindow::importTable);
  QMenu* drawing = menu->addMenu(tr("&Drawing on show"));
  drawing->setObjectName(QStringLiteral("menu.drawing"));
  drawing->addAction(tr("SVG..."), this, [this] { exportDrawing(QStringLiteral("svg")); });
  drawing->addAction(tr("PDF..."), this, [this] { exportDrawing(QStringLiteral("pdf")); });
  QMenu* log = menu->addMenu(tr("&Log"));
  log->setObjectName(QStringLiteral("menu.log"));
  fillLogMenu(*log);
  menu->addSeparator();
  menu->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
}

void MainWindow::makeEditMenu() {
  QMenu* menu = top_->menus().addMenu(tr("&Edit"));
  QAction* undo = undo_.createUndoAction(this, tr("&Undo"));
  undo->setShortcut(QKeySequence::Undo);
  QAction* redo = undo_.createRedoAction(this, tr("&Redo"));
  redo->setShortcut(QKeySequence::Redo);
  menu->addAction(undo);
  menu->addAction(redo);
  menu->addSeparator();
  menu->addAction(tr("&Pin as baseline"), QKeySequence(Qt::CTRL | Qt::Key_B), this, [this] {
    if (document_.hasCar()) document_.pinBaseline();
  });
  menu->addAction(tr("Take the re-set &over into the setup"), QKeySequence(Qt::CTRL | Qt::Key_Return), this,
                  [this] { plan_->takeOver(); });
  menu->addSeparator();
  menu->addAction(tr("&Copy figures"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_C), this, [this] {
    QApplication::clipboard()->setText(shown().figuresAsText());
    banner_->tell(tr("The figures are on the clipboard as a table."));
  });
}

void MainWindow::makeViewMenu() {
  QMenu* menu = top_->menus().addMenu(tr("&View"));
  for (int i = 0; i < static_cast<int>(workspaces_.size()); ++i)
    menu->addAction(workspaces_[at(i)]->title(), QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)), this,
                    [this, i] { showWorkspace(static_cast<Job>(i)); });
  menu->addSeparator();
  for (Workspace* w : workspaces_) {
    w->fillViewMenu(*menu);
    menu->addSeparator();
  }
  QAction* dark = menu->addAction(tr("&Dark"));
  dark->setObjectName(QStringLiteral("action.dark"));
  dark->setCheckable(true);
  dark->setShortcut(Qt::CTRL | Qt::SHIFT | Qt::Key_D);
  connect(dark, &QAction::toggled, this, [this](bool on) { setShade(on ? Shade::dark : Shade::light); });
}

void MainWindow::makeHelpMenu() {
  QMenu* menu = top_->menus().addMenu(tr("&Help"));
  menu->addAction(tr("&Guide, at what has the focus"), QKeySequence(Qt::Key_F1), this, &MainWindow::showGuide);
  new Asking(this);
  QAction* what = QWhatsThis::createAction(menu);
  what->setObjectName(QStringLiteral("action.whatIsThis"));
  what->setText(tr("&What is this? Then click it"));
  menu->addAction(what);
  menu->addAction(tr("&Keys"), QKeySequence(Qt::CTRL | Qt::Key_F1), this, &MainWindow::showKeys);
  menu->addAction(tr("&Tour of five minutes, on the demo car"), this, [this] {
    if (maySpoil() && take(openDemo())) startTour();
  });
  menu->addAction(tr("&About Low Kite"), this, [this] {
    banner_->tell(
        tr("Low Kite %1. Free software under the GNU General Public License, version 3 or later, without any warranty.")
            .arg(QStringLiteral(LOWKITE_VERSION)));
  });
}

void MainWindow::showKeys() {
  if (!keys_) keys_ = new KeyList(*this);
  keys_->fill();
  keys_->show();
  keys_->raise();
  keys_->activateWindow();
}

void MainWindow::showGuide() {
  const QString section = GuideWindow::sectionFor(QApplication::focusWidget());
  if (!guide_) guide_ = new GuideWindow(this);
  guide_->open(section);
}

void MainWindow::startTour() {
  delete findChild<Tour*>();
  showWorkspace(Job::plan);
  PlanWorkspace& plan = *plan_;
  const auto part = [&plan, this](const char* id) { plan.model().setPart(document_.car().find_adjuster(id)); };
  new Tour({{QStringLiteral("stage"),
             tr("This is the front axle of an invented touring car, seen from behind and to scale. Every ball, screw "
                "and link can be "
                "picked. The rulers along the edges lower, roll, pitch and steer the car."),
             [&plan] {
               plan.drawer().putAway();
               plan.stage().showView(Stage::View::front);
             }},
            {QStringLiteral("adjusters"),
             tr("The parts, as a hand meets them from the wheel inward. The camber link's inner ball is in hand now: "
                "press Down, or "
                "its minus button, and a shim comes out."),
             [part] { part("front_link_inner_shims"); }},
            {QStringLiteral("figures"),
             tr("What moved stands here in the warm colour: the baseline, the car now, and the car once camber and toe "
                "are put back. "
                "Camber, toe and ride height can also be typed: double-click."),
             [&plan, this] {
               if (document_.setup() == document_.baseline()) plan.model().stepPart(-2);
             }},
            {QStringLiteral("work"),
             tr("What to do on the bench for it, in its order, with minutes. Tick what is done; Done on the bench "
                "takes the turns "
                "over into the setup."),
             {}},
            {QStringLiteral("drawer.frame"),
             tr("What needs width opens from here: curves, which part moves a figure most, recipes for a wanted "
                "figure, two setups "
                "compared, the car on its springs. F9 puts it away."),
             [&plan] { plan.open(PlanWorkspace::Page::curves); }},
            {QStringLiteral("topLine"),
             tr("Here are your cars and setups, undo, and what Check finds wrong. Car makes a car of your own, Bench "
                "leads through the "
                "work gauge by gauge, Track keeps the log that tells which change was right."),
             [&plan] { plan.drawer().putAway(); }}},
           this);
}

void MainWindow::fillRecent() {
  recent_->clear();
  for (const QString& path : RecentFiles::list())
    recent_->addAction(withoutKeys(QDir::toNativeSeparators(path)), this, [this, path] { open(path); });
  if (recent_->isEmpty()) recent_->addAction(tr("Nothing yet"))->setEnabled(false);
}

namespace {

/// "3 setups, last used 12.10.2026": what helps to find a car again.
QString carHint(const OwnCar& car) {
  QStringList hints;
  if (car.setups > 0) hints << counted(car.setups, "%1 setup", "%1 setups");
  if (car.lastUsed.isValid())
    hints << MainWindow::tr("last used %1").arg(QLocale().toString(car.lastUsed.date(), QLocale::ShortFormat));
  return hints.isEmpty() ? QString() : QStringLiteral(" (%1)").arg(hints.join(MainWindow::tr(", ")));
}

}  // namespace

void MainWindow::fillCars() {
  QMenu& menu = top_->cars();
  menu.clear();
  menu.addSection(tr("My cars"));
  const std::vector<OwnCar> own = ownCars();
  for (const OwnCar& car : own)
    menu.addAction(carPicture(*car.car, palette()), withoutKeys(car.title + carHint(car)), this,
                   [this, path = car.path] { open(path); });
  if (own.empty())
    menu.addAction(tr("Make this car my own ..."), this,
                   [this] {
                     showWorkspace(Job::car);
                     car_->askForOwn();
                   })
        ->setEnabled(document_.hasCar());
  menu.addSection(tr("Cars that come with it"));
  for (const ShippedFile& file : shippedFiles()) {
    if (!file.isCar) continue;
    menu.addAction(carPicture(*file.car, palette()), withoutKeys(file.title), this,
                   [this, path = file.path] { open(path); });
  }
  menu.addSeparator();
  menu.addAction(tr("Another file ..."), this, [this] {
    if (const QString path = askOpenPath(); !path.isEmpty()) open(path);
  });
}

void MainWindow::fillSetups() {
  QMenu& menu = top_->setups();
  menu.clear();
  if (!document_.hasCar()) return;
  for (const FamilyMember& m : setup_family(document_.car(), setupFolders(document_.state()))) {
    const QString path = m.path.empty() ? document_.state().carPath : QString::fromStdString(m.path.string());
    QAction* a =
        menu.addAction(QString(4 * m.depth, QLatin1Char(' ')) + withoutKeys(QString::fromStdString(m.setup.name)), this,
                       [this, path] { open(path); });
    a->setCheckable(true);
    a->setChecked(!document_.state().setupPath.isEmpty() && path == document_.state().setupPath);
  }
  menu.addSeparator();
  const DocumentState& state = document_.state();
  menu.addAction(tr("Save"), this, &MainWindow::save)
      ->setEnabled(document_.isModified() || document_.carModified() || isGone(state.setupPath) ||
                   isGone(state.carPath));
  menu.addAction(tr("Save as ..."), this, [this] {
    if (const QString path = askSavePath(document_.state().setupPath); !path.isEmpty()) saveTo(path);
  });
}

void MainWindow::setShade(Shade shade) {
  shade_ = shade;
  applyTheme(*qApp, shade);
  if (auto* dark = findChild<QAction*>(QStringLiteral("action.dark"))) dark->setChecked(shade == Shade::dark);
  Kept().setValue(QStringLiteral("look/dark"), shade == Shade::dark);
}

void MainWindow::refreshTitle() {
  const QString name = document_.title();
  setWindowTitle(name.isEmpty() ? tr("Low Kite") : tr("%1[*] \u2013 Low Kite").arg(name));
  setWindowModified(document_.isModified() || document_.carModified());
  if (document_.hasCar())
    top_->tell(QString::fromStdString(document_.car().name), document_.carModified(),
               QString::fromStdString(document_.setup().name), document_.isModified());
  else
    top_->tell({}, false, {}, false);
}

bool MainWindow::take(tl::expected<DocumentState, Faults> opened) {
  if (!opened) {
    faults_->show(opened.error());
    return false;
  }
  faults_->hide();
  banner_->clear();
  const QString path = opened->setupPath.isEmpty() ? opened->carPath : opened->setupPath;
  document_.replace(std::move(*opened));
  RecentFiles::add(path);
  return true;
}

bool MainWindow::open(const QString& path) {
  return maySpoil() && take(openFile(path));
}

void MainWindow::tellOfOthers() {
  connect(&autosave_, &Autosave::failed, this, [this](const QString& why) {
    banner_->tell(
        tr("The copy against a crash could not be written: %1 Save your work by hand until it can.").arg(why));
  });
  connect(&watch_, &FileWatch::changed, this, [this](const QString& path) {
    banner_->tell(tr("%1 was changed by another program after it was opened here.").arg(QFileInfo(path).fileName()),
                  {{tr("Open it again"), [this, path] { open(path); }},
                   {tr("Keep mine"), [this, path] { document_.keepOverDisk(path); }}});
  });
  connect(&watch_, &FileWatch::gone, this, [this](const QString& path) {
    banner_->tell(tr("%1 is no longer on the disk: another program removed or moved it. What is open here is whole; "
                     "Save writes it again.")
                      .arg(path));
  });
}

void MainWindow::changeEvent(QEvent* event) {
  QMainWindow::changeEvent(event);
  if (event->type() != QEvent::ActivationChange || !isActiveWindow()) return;
  watch_.look();
  track_->model().lookAgain();
}

bool MainWindow::maySpoil() {
  if (!document_.isModified() && !document_.carModified()) return true;
  switch (askUnsaved(document_.title())) {
    case Unsaved::save:
      return save();
    case Unsaved::discard:
      return true;
    case Unsaved::cancel:
      return false;
  }
  return false;
}

void MainWindow::makeOwn(const QString& name) {
  if (!document_.hasCar()) return;
  if (QFile::exists(ownCarPath(name))) {
    banner_->tell(tr("There is a car of that name already. Give it another one, or open it with File, Open."));
    return;
  }
  if (!maySpoil()) return;
  auto own = ownCopy(document_.state(), name);
  if (!own) {
    faults_->show(own.error());
    return;
  }
  const CopiedSetups setups = copied_setups(*document_.state().car, *own->car, setupFolders(document_.state()));
  document_.replace(std::move(*own));
  if (!saveCar()) return;
  QString told =
      tr("%1 is yours now. What is measured, taken over or set by hand stays visible at every point.").arg(name);
  Faults left = setups.left;
  int along = 0;
  QDir().mkpath(ownSetupsFolder());
  for (const CopiedSetup& s : setups.fit) {
    const QString path = ownSetupsFolder() + QLatin1Char('/') + QString::fromStdString(s.file_name);
    if (QFileInfo::exists(path)) {
      left.push_back({s.file_name, {}, "a setup of that name lies there already", "another name for the car"});
    } else if (const auto written = writeFile(path, QByteArray::fromStdString(s.text)); written) {
      ++along;
    } else {
      left.push_back(written.error());
    }
  }
  if (along > 0) told += tr(" %1 came along.").arg(counted(along, "%1 setup", "%1 setups"));
  banner_->tell(told);
  if (!left.empty()) faults_->showLeftOut(left);
}

bool MainWindow::saveCar() {
  QString path = document_.state().carPath;
  if (path.isEmpty()) {
    QDir().mkpath(ownCarsFolder());
    path = ownCarPath(QString::fromStdString(document_.car().name));
  }
  const auto saved = document_.saveCar(path);
  if (!saved) banner_->tell(QString::fromStdString(saved.error().line()), {}, QStringLiteral("\u2715"));
  return saved.has_value();
}

bool MainWindow::save() {
  if (!document_.hasCar()) return false;
  if (document_.carModified() || isGone(document_.state().carPath)) {
    if (!saveCar()) return false;
    refreshTitle();
    if (!document_.isModified() && !isGone(document_.state().setupPath)) return true;  // the setup is as it was
  }
  if (const QString here = document_.state().setupPath; here.isEmpty() || isShipped(here)) {
    // What comes with the program stays as it is: the first save makes a setup of one's own.
    QDir().mkpath(ownSetupsFolder());
    const QString name = here.isEmpty() ? QStringLiteral("my-setup.kite-setup.json") : QFileInfo(here).fileName();
    const QString path = askSavePath(ownSetupsFolder() + QLatin1Char('/') + name);
    return !path.isEmpty() && saveTo(path);
  }
  return saveTo(document_.state().setupPath);
}

bool MainWindow::saveTo(const QString& chosen) {
  const QString path = chosen.endsWith(QStringLiteral(".json")) ? chosen : chosen + setupSuffix;
  const auto saved = document_.save(path);
  if (!saved) {
    banner_->tell(QString::fromStdString(saved.error().line()),
                  {{tr("Save as..."),
                    [this] {
                      if (const QString other = askSavePath(document_.state().setupPath); !other.isEmpty())
                        saveTo(other);
                    }}},
                  QStringLiteral("\u2715"));
    return false;
  }
  RecentFiles::add(path);
  banner_->clear();
  return true;
}

std::optional<Sheet> MainWindow::setupOnPaper() {
  const Comparison* c = plan_->model().comparison();
  if (!document_.hasCar() || !c) {
    banner_->tell(tr("There is no setup that could be computed, so there is nothing to put on paper."));
    return std::nullopt;
  }
  return setupSheet(document_.car(), *c->changed, savedBench());
}

void MainWindow::told(const tl::expected<void, Fault>& written, const QString& path) {
  banner_->tell(toldOf(written, path), {}, written ? QStringLiteral("\u2713") : QStringLiteral("\u2715"));
}

void MainWindow::exportSheet(QPageSize::PageSizeId page) {
  const auto sheet = setupOnPaper();
  if (!sheet) return;
  if (const QString path = askExportPath(tr("setup-sheet.pdf")); !path.isEmpty())
    told(writePdf(*sheet, page, path), path);
}

void MainWindow::printSheet() {
  auto sheet = setupOnPaper();
  if (!sheet) return;
  const auto printer = std::make_shared<QPrinter>(QPrinter::HighResolution);
  if (askPrinter(*printer))
    print(std::move(*sheet), printer, this, [this](const QString& line) { banner_->tell(line); });
}

void MainWindow::exportDrawing(const QString& suffix) {
  if (!document_.hasCar()) return;
  if (const QString path = askExportPath(tr("drawing.%1").arg(suffix)); !path.isEmpty())
    told(plan_->writeDrawing(path), path);
}

void MainWindow::exportTable() {
  if (!document_.hasCar()) return;
  const QString path = askExportPath(tr("setup.csv"));
  if (path.isEmpty()) return;
  told(writeFile(path, QByteArray::fromStdString(write_setup_table(document_.setup(), document_.car()))), path);
}

void MainWindow::importTable() {
  if (!document_.hasCar()) return;
  const QString path = askTablePath();
  if (path.isEmpty()) return;
  const std::string name = QFileInfo(path).fileName().toStdString();
  const auto text = read_file(path.toStdString());
  const auto read = text ? read_setup_table(*text, name, document_.car()) : tl::unexpected(Faults{text.error()});
  if (!read) {
    faults_->show(read.error());
    return;
  }
  // What has no place on this car is told, and what was wanted of parts stays readable under what is noted.
  if (read->left_out.empty())
    faults_->hide();
  else
    faults_->showLeftOut(read->left_out);
  Setup taken = read->setup;
  taken.based_on = document_.setup().based_on;
  document_.putSetup(taken, tr("Import %1").arg(QFileInfo(path).fileName()));
  QString told = tr("%1 was taken over as one change: Undo brings back what was.").arg(QFileInfo(path).fileName());
  if (!read->left_out.empty())
    told += tr(" %1 without a place on this car: kept under Also noted, in Setups.")
                .arg(counted(static_cast<int>(read->left_out.size()), "%1 row", "%1 rows"));
  banner_->tell(told);
}

void MainWindow::fillLogMenu(QMenu& menu) {
  using Export = TrackModel::Export;
  const auto to = [&](Export what, const QString& text, const QString& suggestion) {
    menu.addAction(text, this, [this, what, suggestion] {
      if (const QString path = askExportPath(suggestion); !path.isEmpty()) track_->model().exportTo(path, what);
    });
  };
  to(Export::everything, tr("Export everything, JSON..."), tr("log.json"));
  to(Export::runs, tr("Export the runs, CSV..."), tr("runs.csv"));
  to(Export::laps, tr("Export the laps, CSV..."), tr("laps.csv"));
  to(Export::copy, tr("Back it up..."), tr("log-copy.sqlite"));
  menu.addAction(tr("Add a log, JSON or CSV of runs or laps..."), this, [this] {
    if (const QString path = askLogPath(); !path.isEmpty()) track_->model().importFrom(path);
  });
  menu.addSeparator();
  menu.addAction(tr("The day on one page, PDF..."), this, [this] { exportDay(false); });
  menu.addAction(tr("History of the setup, PDF..."), this, [this] { exportDay(true); });
}

void MainWindow::exportDay(bool history) {
  TrackModel& track = track_->model();
  if (!track.open() || !track.day()) {
    banner_->tell(tr("There is no day in the log yet."));
    return;
  }
  if (history && !document_.hasCar()) return;
  const QString path = askExportPath(history ? tr("history.pdf") : tr("day.pdf"));
  if (path.isEmpty()) return;
  const Car* car = document_.hasCar() ? &document_.car() : nullptr;
  if (history) {
    told(writePdf(historySheet(track.everything(), *car, track.lapRule()), QPageSize::A4, path), path);
    return;
  }
  for (const LoggedDay& d : track.everything())
    if (d.day.id == track.day()->id) told(writePdf(daySheet(d, car, track.lapRule()), QPageSize::A4, path), path);
}

void MainWindow::lookAtInPlan(const PlanRequest& request) {
  if (!document_.hasCar()) return;
  Setup next = request.setup;
  next.name = document_.setup().name;
  if (!request.baseline) {
    document_.putSetup(next, request.what);
    showWorkspace(Job::plan);
    banner_->tell(tr("%1: put into the setup as one change. Undo brings back what was.").arg(request.what));
    return;
  }
  // As it was driven is what the change is held against; one step back undoes both.
  Setup before = *request.baseline;
  before.name = next.name;
  document_.undoStack().beginMacro(request.what);
  document_.putBaseline(before, request.what);
  document_.putSetup(next, request.what);
  PlanModel& plan = plan_->model();
  const ResetOptions held = plan.holds();
  document_.undoStack().push(new ActCommand(
      request.what,
      [&plan, letGo = request.letGo] { plan.setHolds(letGo != LinkHolds::camber, letGo != LinkHolds::toe); },
      [&plan, held] { plan.setHolds(held.hold_camber, held.hold_toe); }));
  document_.undoStack().endMacro();
  showWorkspace(Job::plan);
  banner_->tell(
      request.letGo == LinkHolds::nothing
          ? tr("%1. What is to be put back after it stands along the bottom; Undo brings back what was.")
                .arg(request.what)
          : tr("%1. The angle that it sets is let go along the bottom; Undo brings back what was.").arg(request.what));
}

void MainWindow::openLast() {
  for (const QString& path : RecentFiles::list())
    if (auto opened = openFile(path)) {
      take(std::move(opened));
      return;
    }
  take(openDemo());
  if (Welcome::isWanted()) askWelcome();
}

void MainWindow::askWelcome() {
  auto* welcome = new Welcome(pages_);
  const int place = pages_->addWidget(welcome);
  const auto leave = [this, welcome] {
    pages_->removeWidget(welcome);
    welcome->deleteLater();
  };
  connect(welcome, &Welcome::skipped, this, [this, leave] {
    leave();
    showWorkspace(Job::plan);
  });
  connect(welcome, &Welcome::answered, this, [this, leave](const Welcome::Answers& answers) {
    leave();
    open(answers.carPath);
    usual_.setSurface(answers.surface);
    showWorkspace(Job::plan);
    if (answers.tools.caliper) {
      // With a caliper the racer's own car is an evening away; its name is all that is asked now.
      showWorkspace(Job::car);
      car_->askForOwn();
      banner_->tell(
          tr("This car is of your kind. Give it your car's name and press Make it my own: the guide then asks for "
             "readings, one at a time."));
    } else if (answers.tools.scales) {
      plan_->open(PlanWorkspace::Page::springs);
      plan_->springs().showPage(SpringsPanel::Page::collars);
      banner_->tell(tr("This car is of your kind. Collars and weights: what a turn of a collar does to your scales."));
    } else if (answers.tools.gauges) {
      showWorkspace(Job::bench);
      banner_->tell(
          tr("This car is of your kind. Start leads through the bench work, with what each gauge should read."));
    } else {
      banner_->tell(
          tr("This car is of your kind. Step a part on the left: what moves stands on the right, and what to put "
             "back along the bottom."));
    }
  });
  pages_->setCurrentIndex(place);
}

void MainWindow::offerRecovery() {
  const QStringList copies = autosave_.leftBehind();
  if (copies.isEmpty()) return;
  const QString& copy = copies.front();
  banner_->tell(tr("Low Kite did not end properly last time. The work of %1 was kept.")
                    .arg(QLocale().toString(QFileInfo(copy).lastModified(), QLocale::ShortFormat)),
                {{tr("Recover it"),
                  [this, copy] {
                    if (!maySpoil()) return;
                    auto state = Autosave::recover(copy);
                    if (!state) {
                      faults_->show(state.error());
                      return;
                    }
                    document_.replace(std::move(*state), true);
                    autosave_.writeNow();
                    Autosave::discard(copy);
                  }},
                 {tr("Discard it"), [copy] { Autosave::discard(copy); }}});
}

void MainWindow::keepTyped() {
  for (Workspace* w : workspaces_) w->keepTyped();
}

void MainWindow::closeEvent(QCloseEvent* event) {
  keepTyped();
  if (!maySpoil()) {
    event->ignore();
    return;
  }
  Kept settings;
  settings.setValue(geometryKey, saveGeometry());
  settings.setValue(jobKey, pages_->currentIndex());
  event->accept();
}

void MainWindow::asLastTime() {
  const Kept settings;
  // Qt keeps what it restores within the screens that there are.
  restoreGeometry(settings.value(geometryKey).toByteArray());
  const int job = settings.value(jobKey, static_cast<int>(Job::plan)).toInt();
  if (job >= 0 && job < static_cast<int>(workspaces_.size())) showWorkspace(static_cast<Job>(job));
}

}  // namespace lowkite::app
