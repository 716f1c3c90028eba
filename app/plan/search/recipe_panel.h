// Recipes: what is wanted and what is held, which parts may be changed, and the ranked lists of steps that do it.
// Searched beside the window.
#pragma once

#include <atomic>
#include <memory>
#include <optional>
#include <set>

#include <QFrame>

#include "app/compute/plan_model.h"
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
class QVBoxLayout;

namespace lowkite::app {

class ToeSpin;

class RecipePanel : public QFrame {
  Q_OBJECT
 public:
  explicit RecipePanel(PlanModel& model, QWidget* parent = nullptr);
  ~RecipePanel() override;

  [[nodiscard]] const std::optional<Recipe>& result() const { return result_; }
  [[nodiscard]] bool busy() const { return cancel_ != nullptr; }
  /// Sets one line of the order; lines are made as needed.
  void setAim(int line, std::string_view figure, bool hold, double value, double tolerance);

  static constexpr int mostAims = 5;

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct AimRow {
    QWidget* box = nullptr;
    QToolButton* hold = nullptr;
    QComboBox* figure = nullptr;
    ToeSpin* value = nullptr;
    QDoubleSpinBox* tolerance = nullptr;
  };
  void addAim();
  void removeAim(QWidget* box);
  void fitAims();
  void fillFigures(AimRow& row);
  void figureChosen(const AimRow& row);
  [[nodiscard]] std::optional<double> present(const FigureSpec& figure) const;
  [[nodiscard]] std::optional<double> baseline(const FigureSpec& figure) const;
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
  void take(std::shared_ptr<const Car> car, tl::expected<Recipe, std::string> found);
  void fillTable();
  void showSteps();
  void tryResult();

  PlanModel& model_;
  QScrollArea* aimScroll_;
  QVBoxLayout* aimColumn_;
  std::vector<AimRow> aims_;
  QToolButton* parts_;
  QMenu* partMenu_;
  QMenu* sameMenu_;
  std::set<std::string> forbidden_;  ///< ids of parts that may not be changed
  QComboBox* most_;
  QCheckBox* boxOnly_;
  QLineEdit* box_;
  QPushButton* search_;
  QProgressBar* progress_;
  QLabel* news_;
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
