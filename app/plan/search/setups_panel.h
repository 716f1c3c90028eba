// The setups of the open car as a tree from the kit on, what each changed against the one it was made from and why, and
// the history of a part along the way.
#pragma once

#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/io/setup_family.hpp"

class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QTableWidget;
class QTreeWidget;
class QTreeWidgetItem;

namespace lowkite::app {

class Segmented;

class SetupsPanel : public QFrame {
  Q_OBJECT
 public:
  explicit SetupsPanel(PlanModel& model, QWidget* parent = nullptr);

 Q_SIGNALS:
  /// `path`: a setup file, or "" for the kit.
  void compareWanted(const QString& path);
  void openWanted(const QString& path);

 protected:
  void showEvent(QShowEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void readFamily();
  void showChosen();
  void showHistory();
  void keepWords();
  void showNoted(const Setup& setup, bool mine);
  void keepNoted();
  [[nodiscard]] int chosen() const;  ///< index in the family, or -1
  [[nodiscard]] bool chosenIsAtWork() const;
  [[nodiscard]] const Setup& setupOf(int member) const;

  PlanModel& model_;
  std::vector<FamilyMember> family_;
  int atWork_ = -1;  ///< the member that is open, in its state of now
  QTreeWidget* tree_;
  QLineEdit* name_;
  QLineEdit* date_;
  QLineEdit* track_;
  QLabel* left_;  ///< setups that do not fit the car any more
  Segmented* words_;
  QPlainTextEdit* why_;
  QTableWidget* noted_;
  QLabel* against_;
  QTableWidget* changes_;
  std::vector<PartHandle> changed_;  ///< adjuster by row
  QLabel* history_;
  QPushButton* open_;
  QPushButton* compare_;
  QPushButton* baseline_;
};

}  // namespace lowkite::app
