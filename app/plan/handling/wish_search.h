// Which parts to change for what the driver wishes: a grid of wishes, a search in the background, what it found.
#pragma once

#include <array>
#include <memory>
#include <optional>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "app/plan/handling/handling_study.h"
#include "core/plan/handling_search.hpp"

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
  WishSearch(PlanModel& model, QWidget* parent);
  /// What is known now; none: nothing. Results of another car, corner or baseline go.
  void setStudy(const HandlingStudy* study);
  /// Another one is being worked out: a search waits for it, so that it starts from the setup in hand.
  void studyComes() { coming_ = true; }
  void giveUp();
  [[nodiscard]] bool busy() const { return work_.busy() || due_; }
  [[nodiscard]] const HandlingFinds& finds() const { return finds_; }
  [[nodiscard]] std::vector<HandlingWish> wishes() const;
  /// Wishes all grip to be as pinned.
  void wishTheSame();

 Q_SIGNALS:
  void told(const QString& message);

 private:
  static constexpr int rows = 4;
  void search();
  void fill();
  void tellState();
  void tryFind();

  PlanModel& model_;
  InBackground work_;
  std::array<std::array<QComboBox*, phase_count>, rows> wish_{};
  QSpinBox* share_;
  Segmented* parts_;
  QPushButton* search_;
  QProgressBar* progress_;
  QLabel* news_;
  QTableWidget* table_;
  QPushButton* try_;

  std::optional<HandlingStudy> study_;
  /// What the results are of.
  struct Asked {
    std::shared_ptr<const Car> car;
    Setup before;
    CornerAsk ask;
    std::string family;
    std::vector<HandlingWish> wishes;
    double share = 0.8;
    Setup document, tried;  ///< the setup as it was in hand, and the last result that was put into it
  };
  std::optional<Asked> asked_;
  HandlingFinds finds_;
  bool stopped_ = false;  ///< before it was through
  bool coming_ = false;   ///< a study is being worked out
  bool due_ = false;      ///< a search waits for it
};

}  // namespace lowkite::app
