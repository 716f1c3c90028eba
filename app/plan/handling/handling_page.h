// What the driver will feel: the change at hand over many tyres, at entry, in the middle and at exit of a corner, with
// the reasons, the assumptions, and what one step of every part would do.
#pragma once

#include <array>
#include <memory>
#include <optional>

#include <QFrame>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "app/plan/handling/handling_study.h"
#include "app/settings/tyre_choice.h"
#include "core/handling/diagrams.hpp"
#include "core/plan/handling_of_parts.hpp"
#include "core/plan/wishes.hpp"

class QComboBox;
class QDoubleSpinBox;
class QHBoxLayout;
class QLabel;
class QProgressBar;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace lowkite::app {

class FilmPage;
class LineChart;
class Segmented;
class SignCell;
class WishSearch;

class HandlingPage : public QFrame {
  Q_OBJECT
 public:
  HandlingPage(PlanModel& model, TyreChoice& tyres, QWidget* parent = nullptr);

  enum class View { why, schools, grip, moments, parts, beliefs, film, wishes };
  void showView(View view);
  [[nodiscard]] bool busy() const;
  [[nodiscard]] const std::optional<HandlingStudy>& study() const { return now_; }
  [[nodiscard]] const std::vector<PartHandling>& parts() const { return parts_; }
  [[nodiscard]] FilmPage& film() { return *film_; }
  [[nodiscard]] WishSearch& wishSearch() { return *wishes_; }

 Q_SIGNALS:
  void told(const QString& message);
  void recipeWanted(const std::vector<HandlingWish>& wishes, double share);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  static constexpr int signs = 4;  ///< front grip, rear grip, steering, reaction
  void makeForm(class QVBoxLayout* column);
  void fillFamilies();
  void readForm();
  void refresh();
  void take(HandlingStudy study);
  void tellNews();
  void showSigns(bool stale);
  void showMore();
  void askMore();
  /// What the two diagrams are drawn from; those of the baseline are empty where nothing is changed.
  struct Diagrams {
    std::vector<GripPoint> grip_before, grip_after;
    std::optional<MomentDiagram> moments_before, moments_after;
  };
  void askDiagram(View view);
  void drawGrip(const Diagrams& d);
  void drawMoments(const Diagrams& d);
  void askParts();
  void fillParts();
  void tryPart();
  void fillBeliefs();
  void shareRoom();
  [[nodiscard]] View view() const;
  [[nodiscard]] CornerPhase phase() const;
  [[nodiscard]] std::optional<HandlingDifference> difference(HandlingFigure figure, CornerPhase phase) const;

  PlanModel& model_;
  TyreChoice& choice_;
  QComboBox* family_;
  Segmented* warmth_;
  Segmented* way_;
  std::array<QDoubleSpinBox*, 4> asked_{};
  QLabel* news_;
  std::array<std::array<SignCell*, phase_count>, signs> sign_{};
  QWidget* narrow_;
  QWidget* signArea_;
  QHBoxLayout* chooseRow_;
  Segmented* phase_;
  Segmented* view_;
  QStackedWidget* book_;
  QLabel* why_;
  LineChart* schools_;
  LineChart* grip_;
  LineChart* moments_;
  QTableWidget* partTable_;
  QComboBox* partFigure_;
  QPushButton* try_;
  QProgressBar* progress_;
  QTableWidget* beliefTable_;
  QPushButton* ours_;
  FilmPage* film_;
  WishSearch* wishes_;
  bool filling_ = false;

  InBackground study_, more_, partWork_, diagramWork_;
  std::optional<HandlingStudy> now_;
  std::vector<HandlingReason> reasons_;  ///< of the change, or what each channel is worth
  bool reasonsKnown_ = false;
  bool viewGivenUp_ = false;  ///< what the view shows was not worked out to its end
  std::vector<PartHandling> parts_;
  std::optional<std::pair<std::shared_ptr<const Car>, Setup>> partsFor_;
};

}  // namespace lowkite::app
