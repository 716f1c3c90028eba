// Plan: try a change on the model first. Parts on the left, the drawing in the middle, figures on the right, the bench
// work along the bottom.
#pragma once

#include <QPointer>
#include <QWidget>

#include "app/plan/plan_model.h"
#include "app/workspace.h"

class QStackedWidget;

namespace lowkite::app {

class AxleView;
class FigurePanel;
class Segmented;

class PlanWorkspace : public QWidget, public Workspace {
  Q_OBJECT
 public:
  explicit PlanWorkspace(Document& document, QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Plan"); }
  [[nodiscard]] QWidget* page() override { return this; }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;

  [[nodiscard]] PlanModel& model() { return model_; }
  /// 0: curves, 1: the roll centre explained.
  void showLower(int page);
  void setZoom(int zoom);

 private:
  QWidget* makeToolRow();
  QWidget* makeMiddle();
  void makeShortcuts();
  [[nodiscard]] bool keysMoveParts() const;

  PlanModel model_;
  AxleView* view_ = nullptr;
  FigurePanel* figures_ = nullptr;
  Segmented* ends_ = nullptr;
  Segmented* zoom_ = nullptr;
  Segmented* lower_ = nullptr;
  QStackedWidget* lowerPages_ = nullptr;
};

}  // namespace lowkite::app
