// Which parts to change for what the driver wishes: a grid of wishes, a search in the background, what it found.
#pragma once

#include <array>
#include <memory>
#include <optional>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "app/plan/handling/handling_study.h"
#include "app/settings/tyre_choice.h"
#include "core/plan/recipe.hpp"

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QSpinBox;
class QTableWidget;

namespace lowkite::app {

class Segmented;

class WishSearch : public QWidget {
  Q_OBJECT
 public:
  WishSearch(PlanModel& model, TyreChoice& tyres, QWidget* parent);
  /// What is known now; none: nothing. Results of another car, corner or baseline go.
  void setStudy(const HandlingStudy* study);
  void giveUp();
  [[nodiscard]] bool busy() const { return work_.busy(); }
  [[nodiscard]] const Recipe& found() const { return found_; }
  [[nodiscard]] std::vector<HandlingWish> wishes() const;
  /// Wishes all grip to be as pinned.
  void wishTheSame();

 Q_SIGNALS:
  void told(const QString& message);
  /// The same wishes beside figures that are wanted or held.
  void recipeWanted(const std::vector<HandlingWish>& wishes, double share);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  static constexpr int rows = 4;
  void search();
  void fill();
  void tellState();
  void tryFind();

  PlanModel& model_;
  TyreChoice& tyres_;
  InBackground work_;
  std::array<std::array<QComboBox*, phase_count>, rows> wish_{};
  QSpinBox* share_;
  Segmented* parts_;
  QPushButton* search_;
  QPushButton* beside_;
  QProgressBar* progress_;
  QLabel* news_;
  QTableWidget* table_;
  QPushButton* try_;

  std::optional<HandlingStudy> study_;
  /// What the results are of.
  struct Asked {
    std::shared_ptr<const Car> car;
    Setup before;
    std::string family;
    WishOrder wishes;
    Setup document, tried;  ///< the setup as it was in hand, and the last result that was put into it
  };
  std::optional<Asked> asked_;
  Recipe found_;
  bool stopped_ = false;  ///< before it was through
};

}  // namespace lowkite::app
