// The figures beside the drawing: what moved stands out, what stayed is quiet.
#pragma once

#include <QFrame>

#include "app/plan/read/figure_model.h"

class QMenu;
class QTableView;
class QToolButton;

namespace lowkite::app {

class FigurePanel : public QFrame {
  Q_OBJECT
 Q_SIGNALS:
  void told(const QString& news);

 public:
  FigurePanel(PlanModel& model, UsualRanges& usual, QWidget* parent = nullptr);

  [[nodiscard]] const FigureModel& figures() const { return *figures_; }
  /// Lets the racer type a figure where it stands as changed; nothing happens where it takes no typing.
  void edit(std::string_view figure);
  /// px in which every word of a figure's name is whole.
  [[nodiscard]] int neededWidth() const;

 private:
  void setHeights();
  void hideWhatStayed();
  void fillPins();
  void tellUsual();
  void fillUsual();

  PlanModel& model_;
  UsualRanges& usual_;
  QToolButton* pins_;
  QMenu* pinMenu_;
  QToolButton* onlyMoved_;
  QToolButton* usualFor_;
  QMenu* usualMenu_;
  FigureModel* figures_;
  QTableView* table_;
};

}  // namespace lowkite::app
