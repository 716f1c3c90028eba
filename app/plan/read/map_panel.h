// A figure over two parts, of its axle or, where it hears of both or of the springs, of the car, every step of both:
// where the same figure lies, and what the way there costs. Camber and toe are put back in every field, where that is
// asked. Painted row by row as it is computed beside the window.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class MapPanel : public QWidget {
  Q_OBJECT
 public:
  explicit MapPanel(PlanModel& model, QWidget* parent = nullptr);

  /// What is mapped; `under`: in which a figure of load is read; `parts`: the two that are offered where none have been
  /// chosen for a figure of this axle, or of the car.
  void showMap(const FigurePlace& place, bool putBack, const HeldTurn& under, const std::vector<PartHandle>& parts);
  [[nodiscard]] bool busy() const { return background_.busy(); }
  /// The figure in a field; none: the car cannot stand so, or it is not computed yet.
  [[nodiscard]] std::optional<double> at(int row, int column) const;
  [[nodiscard]] double downValue(int row) const { return down_.values[static_cast<std::size_t>(row)]; }
  [[nodiscard]] double acrossValue(int column) const { return across_.values[static_cast<std::size_t>(column)]; }

 protected:
  void changeEvent(QEvent* event) override;

 private:
  struct Ruler {
    PartHandle part = {};
    std::vector<double> values;  ///< all, in order
    int now = 0;                 ///< index of the present one
  };
  using Row = std::vector<std::optional<double>>;

  void fillParts(const std::vector<PartHandle>& offered);
  [[nodiscard]] Ruler rulerOf(PartHandle part) const;
  void compute();
  void paintRow(int row, const Row& figures);
  void tell();
  void takeOver();

  PlanModel& model_;
  QComboBox* downPart_ = nullptr;
  QComboBox* acrossPart_ = nullptr;
  QTableWidget* table_ = nullptr;
  QLabel* news_ = nullptr;
  QPushButton* take_ = nullptr;
  InBackground background_;
  std::shared_ptr<const Car> car_;
  End end_ = End::front;
  FigurePlace place_;  ///< no figure: nothing is mapped yet
  HeldTurn under_{};
  std::vector<PartHandle> offered_;  ///< the parts that may be chosen
  bool putBack_ = true;
  Ruler down_;
  Ruler across_;
  int asked_ = 0;  ///< maps so far: what is told of an earlier one is not painted
  std::vector<Row> rows_;
  std::optional<Setup> mapped_;  ///< of which the map is
};

}  // namespace lowkite::app
