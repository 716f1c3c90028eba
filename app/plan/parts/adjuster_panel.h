// The parts of the axle, grouped as a hand meets them from the wheel inward, and its ride height. Groups are folded by
// a click on their heading; typing finds a part; what is changed may stand first.
#pragma once

#include <array>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/car/part_group.hpp"

class QDoubleSpinBox;
class QLineEdit;
class QVBoxLayout;
class QScrollArea;
class QToolButton;

namespace lowkite::app {

class AdjusterRow;
class GroupHead;
class Segmented;

class AdjusterPanel : public QFrame {
  Q_OBJECT
 public:
  static constexpr int leastWidth = 280;  ///< px

  explicit AdjusterPanel(PlanModel& model, QWidget* parent = nullptr);

  void refresh();

 Q_SIGNALS:
  void told(const QString& news);  ///< what was typed cannot be

 private:
  void rebuild();
  void followSelection();
  /// Puts the rows in their order, and shows those that are asked for.
  void arrange();
  [[nodiscard]] bool folded(PartGroup group) const { return folded_[at(group)]; }
  void takeChanged();
  void fold(PartGroup group, bool on);

  PlanModel& model_;
  Segmented* ends_;
  Segmented* sides_;
  QLineEdit* find_;
  QToolButton* changedFirst_;
  std::vector<GroupHead*> heads_;
  QVBoxLayout* list_ = nullptr;
  std::vector<int> order_;                       ///< as arranged last
  std::vector<PartGroup> groups_;                ///< of each row
  std::array<bool, part_group_count> folded_{};  ///< as in the settings
  /// Rows that stand on top. Taken when it is asked for: a row that left the hand which steps it would put another part
  /// under the next click.
  std::vector<bool> onTop_;
  QDoubleSpinBox* rideHeight_;
  QScrollArea* scroll_;
  std::vector<AdjusterRow*> rows_;
  std::shared_ptr<const Car> builtFor_;
  End builtEnd_ = End::front;
  PartHandle toldPart_;  ///< that was brought into sight last
};

}  // namespace lowkite::app
