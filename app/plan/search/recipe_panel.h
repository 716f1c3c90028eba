// Recipes: what is wanted of either axle, of the car and of the car on its springs, and what is held; which parts may
// be changed; and the ranked lists of steps that do it, or what more work buys. Searched beside the window: what few
// changes can do stands there first.
#pragma once

#include <atomic>
#include <memory>
#include <optional>
#include <set>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/figures/load_source.hpp"
#include "core/plan/recipe.hpp"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QMenu;
class QProgressBar;
class QPushButton;
class QScrollArea;
class QTableWidget;
class QToolButton;

namespace lowkite::app {

class AimLines;

class RecipePanel : public QFrame {
  Q_OBJECT
 public:
  explicit RecipePanel(PlanModel& model, QWidget* parent = nullptr);
  ~RecipePanel() override;

  [[nodiscard]] const std::optional<Recipe>& result() const { return result_; }
  [[nodiscard]] bool busy() const { return cancel_ != nullptr; }
  /// Sets one line of the order; lines are made as needed. Of the axle in hand, unless told otherwise.
  void setAim(int line, std::string_view figure, bool hold, double value, double tolerance,
              std::optional<End> end = std::nullopt);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  /// What a figure is now, of the car as it stands or on its springs.
  [[nodiscard]] std::optional<double> present(const FigurePlace& place) const;
  [[nodiscard]] std::optional<double> baseline(const FigureSpec& figure) const;
  [[nodiscard]] std::vector<int> allParts() const;
  [[nodiscard]] Acceleration under() const;
  [[nodiscard]] std::vector<FigurePlace> places() const;
  void linesChanged();
  [[nodiscard]] const std::vector<RecipeResult>& shown() const;
  /// Whether what is on show was filled for the car that is open; it is not while another one is being opened.
  [[nodiscard]] bool ofThisCar() const;
  void asInBaseline();
  void startWith(int adjuster, double value);
  void fillSame();
  void fillParts();
  void refresh();
  void tellCount();
  [[nodiscard]] std::optional<RecipeOrder> order(QString* wrong);
  void search();
  void giveUp();
  /// `last`: of all that were asked; before it, with fewer changes at once, while the search goes on.
  void take(std::shared_ptr<const Car> car, tl::expected<Recipe, std::string> found, bool last);
  void fillTable();
  void showSteps();
  void tryResult();

  PlanModel& model_;
  QScrollArea* aimScroll_;
  AimLines* lines_;
  QWidget* underRow_;
  QDoubleSpinBox* lateral_;
  QDoubleSpinBox* longitudinal_;
  mutable std::optional<LoadSource> onSprings_;  ///< the setup as it is now, once asked for
  QToolButton* parts_;
  QMenu* partMenu_;
  QMenu* sameMenu_;
  std::set<std::string> forbidden_;  ///< ids of parts that may not be changed
  QComboBox* most_;
  QCheckBox* robust_;
  QCheckBox* boxOnly_;
  QLineEdit* box_;
  QPushButton* search_;
  QProgressBar* progress_;
  QLabel* news_;
  QPushButton* byWork_;
  QTableWidget* table_;
  QLabel* steps_;
  QPushButton* try_;
  std::optional<Recipe> result_;
  std::shared_ptr<const Car> resultFor_;
  std::vector<RecipeAim> asked_;  ///< of the search that runs or ran: the lines may be edited meanwhile
  End shownEnd_ = End::front;
  std::shared_ptr<const Car> shownCar_;
  std::shared_ptr<std::atomic<bool>> cancel_;
};

}  // namespace lowkite::app
