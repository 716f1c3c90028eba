// Track: run, feel, log, decide. Days and runs on the left, what belongs to the run in hand on the right.
#pragma once

#include <QWidget>

#include "app/track/track_model.h"
#include "app/workspace.h"

class QLabel;
class QListWidget;

namespace lowkite::app {

class AdvicePage;
class MyBoxes;
class TyreChoice;
class TyreWeigher;
class AheadPage;
class LapsPage;
class LearnPage;
class RunsPage;
class PageBook;
class Segmented;

class TrackWorkspace : public Workspace {
  Q_OBJECT
 public:
  TrackWorkspace(Document& document, TyreChoice& tyres, MyBoxes& boxes, const QString& logPath,
                 QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Track"); }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;
  [[nodiscard]] QUndoStack& undoStack() override { return model_.undoStack(); }
  void keepTyped() override { model_.keepTyped(); }

  [[nodiscard]] TrackModel& model() { return model_; }
  enum class Page { run, feel, laps, runs, advice, ahead, learn };
  void showPage(Page page);
  [[nodiscard]] LapsPage& laps() { return *laps_; }
  [[nodiscard]] AdvicePage& advice() { return *advice_; }
  [[nodiscard]] LearnPage& learn() { return *learn_; }
  [[nodiscard]] AheadPage& ahead() { return *ahead_; }
  [[nodiscard]] TyreWeigher& weigher() { return *weigher_; }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fillDays();
  void fillRuns();
  /// True for runs of a car that the lists are asked for.
  [[nodiscard]] bool isAsked(const std::string& car) const;

  const Document& document_;
  TrackModel model_;
  QListWidget* days_;
  QListWidget* runs_;
  QLabel* wrong_;
  Segmented* whose_ = nullptr;
  PageBook* pages_;
  LapsPage* laps_;
  TyreWeigher* weigher_;
  AdvicePage* advice_;
  LearnPage* learn_;
  AheadPage* ahead_;
  bool filling_ = false;
};

}  // namespace lowkite::app
