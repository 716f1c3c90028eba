// Plan: try a change on the model first. Parts on the left, the drawing in the middle, figures on the right, the bench
// work along the bottom.
#pragma once

#include <QWidget>

#include "app/plan/plan_model.h"
#include "app/workspace.h"

#include <vector>

class QStackedWidget;

namespace lowkite::app {

class ClubRules;
class CurvePanel;
class DrawingView;
class FigurePanel;
class GaugePanel;
class SpringsPanel;
class SprungCars;
class Segmented;

class PlanWorkspace : public QWidget, public Workspace {
  Q_OBJECT
 public:
  PlanWorkspace(Document& document, ClubRules& club, QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Plan"); }
  [[nodiscard]] QWidget* page() override { return this; }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;

  [[nodiscard]] PlanModel& model() { return model_; }
  /// Which drawing is on show.
  enum class View { front, above, side, around };
  void showView(View view);
  /// What stands under the drawing.
  enum class Lower { curves, rollCentre, steering, springs };
  void showLower(Lower page);
  /// What stands beside it.
  enum class Beside { figures, gauges, movers, check, recipe, compare, setups, springs };
  void showBeside(Beside page);
  /// 0: axle, 1: left corner, 2: right corner, 3: car.
  void setZoom(int zoom);
  /// Writes the drawing on show as SVG or PDF, by the path's suffix; false when the file cannot be written.
  bool writeDrawing(const QString& path);
  [[nodiscard]] CurvePanel& curves() { return *curves_; }
  [[nodiscard]] SpringsPanel& springs() { return *springs_; }

 Q_SIGNALS:
  void told(const QString& news);
  void openWanted(const QString& path);

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
  FigurePanel* figures_ = nullptr;
  CurvePanel* curves_ = nullptr;
  Segmented* ends_ = nullptr;
  Segmented* view_ = nullptr;
  Segmented* zoom_ = nullptr;
  Segmented* lower_ = nullptr;
  Segmented* beside_ = nullptr;
  QStackedWidget* lowerPages_ = nullptr;
  QStackedWidget* besidePages_ = nullptr;
};

}  // namespace lowkite::app
