// Track: run, feel, log, decide. Days and runs on the left, what belongs to the run in hand on the right.
#pragma once

#include <QWidget>

#include "app/track/track_model.h"
#include "app/workspace.h"

class QLabel;
class QListWidget;
class QStackedWidget;

namespace lowkite::app {

class AdvicePage;
class AheadPage;
class LapsPage;
class LearnPage;
class RunsPage;
class Segmented;

class TrackWorkspace : public QWidget, public Workspace {
  Q_OBJECT
 public:
  TrackWorkspace(Document& document, const QString& logPath, QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Track"); }
  [[nodiscard]] QWidget* page() override { return this; }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;

  [[nodiscard]] TrackModel& model() { return model_; }
  enum class Page { run, feel, laps, runs, advice, ahead, learn };
  void showPage(Page page);
  [[nodiscard]] LapsPage& laps() { return *laps_; }
  [[nodiscard]] AdvicePage& advice() { return *advice_; }
  [[nodiscard]] LearnPage& learn() { return *learn_; }
  [[nodiscard]] AheadPage& ahead() { return *ahead_; }

 Q_SIGNALS:
  void told(const QString& news);
  /// A setup of the open car to be looked at in Plan, as one edit.
  void openInPlan(const Setup& setup, const QString& what);
  void tryInPlan(const Setup& setup, const Setup& baseline, const QString& what, LinkHolds letGo);
  void benchWanted();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fillDays();
  void fillRuns();

  TrackModel model_;
  QListWidget* days_;
  QListWidget* runs_;
  QLabel* wrong_;
  Segmented* choice_;
  QStackedWidget* pages_;
  LapsPage* laps_;
  AdvicePage* advice_;
  LearnPage* learn_;
  AheadPage* ahead_;
  bool filling_ = false;
};

}  // namespace lowkite::app
