// From what was felt to what could be changed next: rules of both schools, tried on the model, with the score that the
// racer's own runs keep. A racer's own rules stand beside ours.
#pragma once

#include <optional>

#include <QWidget>

#include "app/settings/tyre_choice.h"
#include "app/track/track_model.h"
#include "app/track/tyre_log_page.h"

class QLabel;
class QLineEdit;
class QMenu;
class QPushButton;
class QStackedWidget;
class QTableWidget;
class QToolButton;

namespace lowkite::app {

class MyBoxes;

class Segmented;

class AdvicePage : public QWidget {
  Q_OBJECT
 public:
  AdvicePage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, MyBoxes& boxes, QWidget* parent = nullptr);

  [[nodiscard]] bool busy() const { return background_.busy() || voiceWork_.busy() || weigher_.busy(); }
  [[nodiscard]] const std::optional<Advices>& result() const { return result_; }
  enum class Page { advice, score, own, tyres };
  void showPage(Page page);

 Q_SIGNALS:
  /// The change as a setup of the open car, and the one it is compared with: the re-set is then told in Plan. `letGo`:
  /// the angle that the change itself sets.
  void tryInPlan(const Setup& setup, const Setup& baseline, const QString& what, LinkHolds letGo);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* makeAdvice();
  QWidget* makeScore();
  QWidget* makeOwn();
  void refresh();
  void ask();
  void take(tl::expected<Advices, CarFailure> found);
  void fillAdvice();
  /// The model over many tyres is asked of each advice, beside the window.
  void askVoices();
  [[nodiscard]] QString voiceText(std::size_t row) const;
  void fillReasons();
  void fillSchools();
  void fillScore();
  [[nodiscard]] QString reasons(const Advice& a) const;

  TrackModel& model_;
  Segmented* choice_;
  QStackedWidget* pages_;
  QLabel* felt_;
  QToolButton* schools_;
  QMenu* schoolMenu_;
  QTableWidget* table_;
  QLabel* reasons_;
  QLabel* passed_;
  QPushButton* plan_;
  QTableWidget* score_;
  QLabel* scoreNews_;
  InBackground background_;
  TyreChoice& tyres_;
  MyBoxes& boxes_;
  TyreWeigher& weigher_;
  TyreLogPage* tyreLog_;
  InBackground voiceWork_;
  std::vector<std::optional<ModelVoice>> voices_;  ///< by row; shorter while they are asked
  bool weighed_ = false;                           ///< they are counted by the log
  QString family_;                                 ///< of the tyres that they are over
  std::shared_ptr<const Car> car_;
  RuleBook book_;  ///< that the advice points into
  Setup driven_;   ///< what the advice starts from
  std::optional<Advices> result_;
};

}  // namespace lowkite::app
