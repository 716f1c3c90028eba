// The window: menus, files, news, and the workspaces. What a workspace shows is its own business.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include <QMainWindow>
#include <QUndoGroup>

#include "app/document/autosave.h"
#include "app/document/document.h"
#include "app/document/file_watch.h"
#include "app/look/theme.h"
#include "app/paper/sheet.h"
#include "app/settings/club_rules.h"
#include "app/settings/my_boxes.h"
#include "app/settings/tyre_choice.h"
#include "app/settings/usual_ranges.h"
#include "core/linkage/corner.hpp"

class QMenu;
class QStackedWidget;

class QPrinter;

namespace lowkite::app {

class Banner;
class FaultPanel;
class GuideWindow;
class KeyList;
class TopLine;
class BenchWorkspace;
class CarWorkspace;
class PlanWorkspace;
class TrackWorkspace;
class Workspace;
struct PlanRequest;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  /// What to do with unsaved work before it would be given up.
  enum class Unsaved { save, discard, cancel };

  /// `autosaveFolder`: where unsaved work is kept against a crash.
  explicit MainWindow(const QString& autosaveFolder, QWidget* parent = nullptr);
  ~MainWindow() override;

  [[nodiscard]] Document& document() { return document_; }
  [[nodiscard]] PlanWorkspace& plan() { return *plan_; }
  [[nodiscard]] BenchWorkspace& bench() { return *bench_; }
  [[nodiscard]] CarWorkspace& carWorkspace() { return *car_; }
  [[nodiscard]] TrackWorkspace& track() { return *track_; }
  /// The workspaces in the order of the job.
  enum class Job { car, bench, plan, track };
  void showWorkspace(Job job);
  /// Keeps what a hand is typing, in every workspace.
  void keepTyped();
  [[nodiscard]] FaultPanel& faultPanel() { return *faults_; }
  [[nodiscard]] Banner& banner() { return *banner_; }

  /// Takes over what was opened, or shows what is wrong with it.
  bool take(tl::expected<DocumentState, Faults> opened);
  /// Opens a file in place of the present one; asks about unsaved work.
  bool open(const QString& path);
  /// Puts a copy of the open car with a name of its own in its place.
  void makeOwn(const QString& name);
  /// Writes what has changed: the car and the setup.
  bool save();
  bool saveCar();
  bool saveTo(const QString& path);
  void setShade(Shade shade);
  [[nodiscard]] Shade shade() const { return shade_; }
  /// Size, place and workspace of last time.
  void asLastTime();
  /// Opens what was open last time; the demo where there is nothing, with three questions on the first start.
  void openLast();
  /// The three questions of the first start.
  void askWelcome();
  /// Five minutes on the demo car.
  void startTour();
  /// Offers the work that a crashed program left behind.
  void offerRecovery();

  /// Questions that need an answer; replaced by tests.
  std::function<Unsaved(const QString& title)> askUnsaved;
  std::function<QString()> askOpenPath;
  std::function<QString(const QString& suggestion)> askSavePath;
  /// Where a sheet or drawing goes; the suffix is that of the kind.
  std::function<QString(const QString& suggestion)> askExportPath;
  std::function<QString()> askTablePath;
  std::function<bool(QPrinter&)> askPrinter;
  std::function<QString()> askLogPath;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  /// Coming to the front, the window looks whether its files are still what they were.
  void changeEvent(QEvent* event) override;

 private:
  void makeFileMenu();
  void makeEditMenu();
  void makeViewMenu();
  void makeHelpMenu();
  void fillRecent();
  /// The racer's own cars first, then the shipped ones.
  void fillCars();
  void fillSetups();
  void refreshTitle();
  bool maySpoil();
  void showKeys();
  /// At the page of what has the focus.
  void showGuide();
  [[nodiscard]] std::optional<Sheet> setupOnPaper();
  void exportSheet(QPageSize::PageSizeId page);
  void printSheet();
  void exportDrawing(const QString& suffix);
  void exportTable();
  void importTable();
  void told(const tl::expected<void, Fault>& written, const QString& path);
  void fillLogMenu(QMenu& menu);
  void exportDay(bool history);
  void tellOfOthers();
  void lookAtInPlan(const PlanRequest& request);
  /// Takes a workspace in: its page, its undo stack and what it asks of the window.
  template <class W>
  W* add(W* made);

  Document document_;
  Autosave autosave_;
  FileWatch watch_;
  ClubRules club_;
  UsualRanges usual_;
  TyreChoice tyres_;
  MyBoxes boxes_;
  Shade shade_ = Shade::light;
  [[nodiscard]] Workspace& shown() const;

  CarWorkspace* car_;
  BenchWorkspace* bench_;
  PlanWorkspace* plan_;
  TrackWorkspace* track_;
  QUndoGroup undo_;                     ///< the setup's edits, or the log's while Track is shown
  std::vector<Workspace*> workspaces_;  ///< in the order of the job
  QStackedWidget* pages_;
  TopLine* top_;
  Banner* banner_;
  FaultPanel* faults_;
  KeyList* keys_ = nullptr;
  GuideWindow* guide_ = nullptr;
  QMenu* recent_ = nullptr;
};

}  // namespace lowkite::app
