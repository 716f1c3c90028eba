// Which part moves a figure: one real step of every part of this axle, ranked by what it moves for the least it drags
// along, or, for a figure of the car on its springs, of every part of the car; or that figure over every step of two
// parts. Computed beside the window.
#pragma once

#include <atomic>
#include <memory>
#include <optional>

#include <QFrame>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/sensitivity.hpp"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace lowkite::app {

class MapPanel;
class TurnFields;

class SensitivityPanel : public QFrame {
  Q_OBJECT
 public:
  explicit SensitivityPanel(PlanModel& model, QWidget* parent = nullptr);
  ~SensitivityPanel() override;

  void setFigure(std::string_view figure);
  /// A figure of the car on its springs.
  void setFigure(const FigurePlace& place);
  /// Of the car on its springs under this acceleration (none: as before): roll, unless such a figure is on show
  /// already.
  void askOfSprings(const HeldTurn& under);
  void showMap(bool on);
  [[nodiscard]] MapPanel& map() { return *map_; }
  [[nodiscard]] const std::optional<Sensitivity>& result() const { return result_; }
  [[nodiscard]] bool busy() const { return cancel_ != nullptr || loading_.busy(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  /// What a result was computed for.
  struct Asked {
    std::shared_ptr<const Car> car;
    Setup setup;
    End end = End::front;
    bool putBack = true;
    bool operator==(const Asked&) const = default;
  };
  void refresh();
  /// One line: a part's step, what it moves and what besides.
  struct Line {
    PartHandle adjuster;
    int step = 1;
    double value = 0.0;
    double change = 0.0;
    QStringList besides{};
  };
  void ask(const Asked& wanted);
  void take(const Asked& asked, std::optional<Sensitivity> result);
  /// Nothing is on show any more.
  void drop();
  void fillFigures();
  void fillTable();
  [[nodiscard]] std::vector<Line> linesOfGeometry() const;
  [[nodiscard]] std::vector<Line> linesOfLoad() const;
  void putOnSprings();
  [[nodiscard]] HeldTurn under() const;
  void tellNews();
  void tryStep();
  void fillMap();

  PlanModel& model_;
  QComboBox* figure_;
  TurnFields* turn_;
  QCheckBox* putBack_;
  QPushButton* asMap_;
  QStackedWidget* views_;
  MapPanel* map_;
  QTableWidget* table_;
  QLabel* news_;
  QPushButton* try_;
  /// True while what is on show belongs to the car that is open.
  [[nodiscard]] bool isOfThisCar() const;

  std::optional<Asked> asked_;
  std::optional<Sensitivity> result_;
  std::shared_ptr<const Car> resultOf_;  ///< the car that the result was computed for
  std::vector<Line> shown_;
  std::vector<FigurePlace> places_;  ///< that may be chosen, by the choice's number
  FigurePlace wanted_{find_figure("roll_centre"), std::nullopt, std::nullopt};
  InBackground loading_;
  std::optional<std::vector<LoadStep>> steps_;  ///< on its springs, of what is asked now; none: not asked, or not yet
  std::shared_ptr<std::atomic<bool>> cancel_;   ///< of the computation under way; nullptr: none
};

}  // namespace lowkite::app
