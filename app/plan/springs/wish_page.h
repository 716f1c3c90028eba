// What is wanted of the car on its springs, and the parts that give it; or what one step of every part does to it.
#pragma once

#include <optional>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/plan/springs/sprung_cars.h"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/recipe.hpp"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class MyBoxes;

class WishPage : public QWidget {
  Q_OBJECT
 public:
  WishPage(SprungCars& cars, MyBoxes& boxes, QWidget* parent = nullptr);

  static constexpr int lines = 3;
  [[nodiscard]] bool busy() const { return background_.busy(); }
  [[nodiscard]] const std::optional<Recipe>& result() const { return recipe_; }
  /// Sets one line of the wish. `kind`: 0 not asked, 1 to have the value, 2 front and rear alike, 3 held.
  void setLine(int line, std::string_view figure, End end, int kind, double value, double tolerance);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct Line {
    QComboBox* figure;
    QComboBox* kind;
    QDoubleSpinBox* value;
    QDoubleSpinBox* tolerance;
  };
  void fillNow(Line& line);
  [[nodiscard]] RecipeOrder order() const;
  void tellCount();
  void search();
  void oneStep();
  void giveUp();
  void takeRecipe(tl::expected<Recipe, CarFailure> found);
  void takeSteps(tl::expected<std::vector<LoadStep>, CarFailure> found);
  void apply();

  SprungCars& cars_;
  MyBoxes& boxes_;
  QCheckBox* mine_;
  std::array<Line, lines> lines_{};
  QDoubleSpinBox* lateral_;
  QDoubleSpinBox* longitudinal_;
  QComboBox* parts_;
  QComboBox* most_;
  QPushButton* search_;
  QPushButton* steps_;
  QProgressBar* progress_;
  QLabel* news_;
  QTableWidget* table_;
  QPushButton* apply_;
  InBackground background_;
  std::shared_ptr<const Car> car_;  ///< that was asked about

  QLabel* notes_;
  std::optional<Recipe> recipe_;
  std::vector<Setup> rows_;  ///< what each row of the table would do
};

}  // namespace lowkite::app
