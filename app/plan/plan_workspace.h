// Plan: try a change on the model first. Parts on the left, the stage in the middle, figures on the right, what needs
// width in a drawer under them, the bench work along the bottom.
#pragma once

#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/plan/stage.h"
#include "app/widgets/drawer.h"
#include "app/workspace.h"

class QSplitter;

namespace lowkite::app {

class AdjusterPanel;
class CheckPanel;
class ClubRules;
class CurvePanel;
class FigurePanel;
class HandlingPage;
class MyBoxes;
class SpringsPanel;
class SprungCars;
class TyreChoice;
class SheetPage;
class UsualRanges;
class WorkList;

class PlanWorkspace : public Workspace {
  Q_OBJECT
 public:
  PlanWorkspace(Document& document, ClubRules& club, UsualRanges& usual, TyreChoice& tyres, MyBoxes& boxes,
                QWidget* parent = nullptr);

  [[nodiscard]] QString title() const override { return tr("Plan"); }
  void fillViewMenu(QMenu& menu) override;
  [[nodiscard]] QString figuresAsText() const override;
  [[nodiscard]] QUndoStack& undoStack() override { return model_.document().undoStack(); }

  [[nodiscard]] PlanModel& model() { return model_; }
  [[nodiscard]] Stage& stage() { return *stage_; }
  /// The pages of the drawer, in their order.
  enum class Page {
    curves,
    movers,
    recipe,
    compare,
    setups,
    sheet,
    springs,
    handling,
    lock,
    gauges,
    rollCentre,
    check
  };
  void open(Page page) { drawer_->openPage(static_cast<int>(page)); }
  [[nodiscard]] Drawer& drawer() { return *drawer_; }
  /// Takes the turns of the bench work over into the setup.
  void takeOver();
  /// Writes the drawing on show as SVG or PDF, by the path's suffix.
  tl::expected<void, Fault> writeDrawing(const QString& path);
  [[nodiscard]] CurvePanel& curves();
  [[nodiscard]] SpringsPanel& springs();
  [[nodiscard]] HandlingPage& handling();
  [[nodiscard]] SheetPage& sheet();

 Q_SIGNALS:
  void checkCounted(int findings);
  void refused(const lowkite::Fault& fault);  ///< a file that could not be read

 private:
  /// A page of the drawer, made when first asked for.
  template <class P>
  [[nodiscard]] P& page(Page which) {
    return *static_cast<P*>(drawer_->widget(static_cast<int>(which)));
  }
  std::vector<DrawerPage> makePages();
  void makeShortcuts();
  [[nodiscard]] bool keysMoveParts() const;
  void keepWidths();

  PlanModel model_;
  SprungCars* sprung_;
  UsualRanges& usual_;
  TyreChoice& tyres_;
  MyBoxes& boxes_;
  QSplitter* columns_;
  QSplitter* rows_;
  AdjusterPanel* adjusters_;
  Stage* stage_;
  FigurePanel* figures_;
  CheckPanel* check_;
  Drawer* drawer_;
  WorkList* work_;
};

}  // namespace lowkite::app
