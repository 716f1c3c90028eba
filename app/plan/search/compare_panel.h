// Two setups side by side, of this car or of another: parts, figures and gauges that differ. What a gauge could not
// tell is shown faintly, with the reason.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/plan/difference.hpp"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class Segmented;

class ComparePanel : public QFrame {
  Q_OBJECT
 public:
  explicit ComparePanel(PlanModel& model, QWidget* parent = nullptr);

  /// Compares the setup at `path` ("" for the kit) with the one at work.
  void choose(const QString& path);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  enum class Page { parts, figures, gauges, springs };
  /// One of the two: a car with a setup, evaluated standing level at its ride height.
  struct Compared {
    std::shared_ptr<const Car> car;
    Setup setup;
    std::optional<Variant> variant;
    QString wrong;  ///< why there is none
  };
  void fillChoices();
  void refresh();
  [[nodiscard]] Compared load(const QComboBox& box);
  void fillParts();
  void fillNoted();
  void fillFigures();
  void fillGauges();
  void fillSprings();
  void addHeading(const QString& text);
  void addRow(const QString& what, const QString& a, const QString& b, const QString& difference, bool told,
              const QString& reason);
  void takeOver();

  PlanModel& model_;
  QComboBox* first_;
  QComboBox* second_;
  Segmented* pages_;
  QCheckBox* onlyDifferent_;
  QTableWidget* table_;
  QLabel* news_;
  QPushButton* take_;
  std::map<QString, tl::expected<DocumentState, Faults>> opened_;  ///< files read since the lists were filled
  Compared a_, b_;
};

}  // namespace lowkite::app
