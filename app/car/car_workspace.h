// Car: what the car is. Points beside the drawing, parts and adjusters with their real steps, the measuring guide, the
// check.
#pragma once

#include <QWidget>

#include "app/car/points_view.h"
#include "app/workspace.h"

class QFrame;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTableView;

namespace lowkite::app {

class AdjusterPage;
class BoxesPage;
class CheckPanel;
class MyBoxes;
class PlanModel;
class PointModel;
class Segmented;

class CarWorkspace : public Workspace {
  Q_OBJECT
 public:
  enum class Page { points, parts, adjusters, measure, check, boxes };

  /// `plan`: whose setup the check is about.
  CarWorkspace(Document& document, PlanModel& plan, MyBoxes& boxes, QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Car"); }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;
  /// The boxes' own while they are on show.
  [[nodiscard]] QUndoStack& undoStack() override;

  /// Puts the hand where a name for a car of one's own is typed.
  void askForOwn();
  [[nodiscard]] CarEditor& editor() { return editor_; }
  [[nodiscard]] AdjusterPage& adjusterPage() { return *adjusters_; }
  [[nodiscard]] BoxesPage& boxesPage() { return *boxesPage_; }
  void showPage(Page page);
  void showFrom(PointsView::From from);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* makeHead();
  QWidget* makeLeft(PlanModel& plan);
  QWidget* makePoints();
  QWidget* makeParts();
  QWidget* makeDrawing();
  void refresh();
  /// What the car weighs, what of it was on the scales, and what each wheel carries.
  void tellWeights();

  CarEditor editor_;
  MyBoxes& boxes_;
  BoxesPage* boxesPage_ = nullptr;
  QWidget* drawing_ = nullptr;
  QLabel* name_ = nullptr;
  QLabel* weights_ = nullptr;
  QLineEdit* ownName_ = nullptr;
  QPushButton* own_ = nullptr;
  Segmented* choice_ = nullptr;
  QStackedWidget* pages_ = nullptr;
  Segmented* groups_ = nullptr;
  Segmented* sides_ = nullptr;
  Segmented* from_ = nullptr;
  std::optional<CaliperReading> lookedFor_;  ///< the reading for which the view was chosen
  PointsView* view_ = nullptr;
  PointModel* points_ = nullptr;
  QTableView* pointTable_ = nullptr;
  QPushButton* mirror_ = nullptr;
  AdjusterPage* adjusters_ = nullptr;
};

}  // namespace lowkite::app
