// Plan: try a change on the model first. Parts on the left, the drawing in the middle, figures on the right, the bench
// work along the bottom.
#pragma once

#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/workspace.h"

#include <vector>

class QStackedWidget;

namespace lowkite::app {

class ClubRules;
class UsualRanges;
class CurvePanel;
class DrawingView;
class AdjusterPanel;
class FigurePanel;
class GaugePanel;
class SpringsPanel;
class SprungCars;
class PageBook;
class Segmented;

class PlanWorkspace : public Workspace {
  Q_OBJECT
 public:
  PlanWorkspace(Document& document, ClubRules& club, UsualRanges& usual, QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Plan"); }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;
  [[nodiscard]] QUndoStack& undoStack() override { return model_.document().undoStack(); }

  [[nodiscard]] PlanModel& model() { return model_; }
  /// Which drawing is on show.
  enum class View { front, above, side, around };
  void showView(View view);
  /// What stands under the drawing.
  enum class Lower { curves, rollCentre, steering, springs };
  void showLower(Lower page);
  /// What stands beside it.
  enum class Column { figures, gauges, movers, check, recipe, compare, setups, springs };
  void showBeside(Column page);
  /// 0: axle, 1: left corner, 2: right corner, 3: car.
  void setZoom(int zoom);
  /// Writes the drawing on show as SVG or PDF, by the path's suffix; false when the file cannot be written.
  bool writeDrawing(const QString& path);
  [[nodiscard]] CurvePanel& curves() { return *curves_; }
  [[nodiscard]] SpringsPanel& springs() { return *springs_; }

 private:
  QWidget* makeToolRow();
  QWidget* makeMiddle();
  QWidget* makeRight();
  void makeShortcuts();
  [[nodiscard]] bool keysMoveParts() const;

  PlanModel model_;
  SprungCars* sprung_ = nullptr;
  SpringsPanel* springs_ = nullptr;
  std::vector<DrawingView*> drawings_;  ///< by View
  QStackedWidget* drawingPages_ = nullptr;
  AdjusterPanel* adjusters_ = nullptr;
  FigurePanel* figures_ = nullptr;
  UsualRanges& usual_;
  CurvePanel* curves_ = nullptr;
  Segmented* ends_ = nullptr;
  Segmented* view_ = nullptr;
  Segmented* zoom_ = nullptr;
  PageBook* lower_ = nullptr;
  PageBook* beside_ = nullptr;
};

}  // namespace lowkite::app
