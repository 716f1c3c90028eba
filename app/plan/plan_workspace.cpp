#include "app/plan/plan_workspace.h"

#include <QAction>
#include <QApplication>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QShortcut>
#include <QSlider>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/plan/adjuster_panel.h"
#include "app/plan/attitude_bar.h"
#include "app/plan/axle_view.h"
#include "app/plan/construction_panel.h"
#include "app/plan/curve_panel.h"
#include "app/plan/figure_panel.h"
#include "app/plan/reset_strip.h"
#include "app/shared/segmented.h"

namespace lowkite::app {

PlanWorkspace::PlanWorkspace(Document& document, QWidget* parent) : QWidget(parent), model_(document) {
  setObjectName(QStringLiteral("plan"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  auto* parts = new AdjusterPanel(model_, this);
  parts->setFixedWidth(288);
  figures_ = new FigurePanel(model_, this);
  figures_->setFixedWidth(418);
  row->addWidget(parts);
  row->addWidget(makeMiddle(), 1);
  row->addWidget(figures_);
  column->addWidget(makeToolRow());
  column->addLayout(row, 1);
  column->addWidget(new ResetStrip(model_, this));
  makeShortcuts();
  view_->setFocus();
}

QWidget* PlanWorkspace::makeToolRow() {
  auto* bar = new QWidget(this);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(16);
  ends_ = new Segmented(QStringLiteral("axle"), {tr("Front axle"), tr("Rear axle")}, bar);
  connect(ends_, &Segmented::chosen, this, [this](int i) { model_.setEnd(i == 0 ? End::front : End::rear); });
  connect(&model_, &PlanModel::selectionChanged, this,
          [this] { ends_->setCurrent(static_cast<int>(at(model_.end()))); });
  zoom_ = new Segmented(QStringLiteral("zoom"), {tr("Whole axle"), tr("Left corner"), tr("Right corner")}, bar);
  connect(zoom_, &Segmented::chosen, this, &PlanWorkspace::setZoom);
  lower_ = new Segmented(QStringLiteral("lower"), {tr("Curves"), tr("Roll centre, step by step")}, bar);
  connect(lower_, &Segmented::chosen, this, &PlanWorkspace::showLower);
  const auto button = [&](const QString& name, const QString& text, const QString& tip) {
    auto* b = new QPushButton(text, bar);
    b->setObjectName(name);
    b->setToolTip(tip);
    return b;
  };
  auto* undo = button(QStringLiteral("undo"), tr("Undo"), tr("Undo (Ctrl+Z)"));
  auto* redo = button(QStringLiteral("redo"), tr("Redo"), tr("Redo (Ctrl+Shift+Z)"));
  auto* pin = button(QStringLiteral("pin"), tr("Pin as baseline"), tr("Compare with this setup from now on (Ctrl+B)"));
  QUndoStack& stack = model_.document().undoStack();
  undo->setEnabled(false);
  redo->setEnabled(false);
  pin->setEnabled(false);
  connect(undo, &QPushButton::clicked, &stack, &QUndoStack::undo);
  connect(redo, &QPushButton::clicked, &stack, &QUndoStack::redo);
  connect(&stack, &QUndoStack::canUndoChanged, undo, &QWidget::setEnabled);
  connect(&stack, &QUndoStack::canRedoChanged, redo, &QWidget::setEnabled);
  connect(pin, &QPushButton::clicked, &model_.document(), &Document::pinBaseline);
  connect(&model_.document(), &Document::inputsChanged, pin, [this, pin] {
    pin->setEnabled(model_.document().hasCar() && model_.document().baseline() != model_.document().setup());
  });
  row->addWidget(ends_);
  row->addStretch(1);
  row->addWidget(zoom_);
  row->addWidget(lower_);
  row->addStretch(1);
  auto* edits = new QHBoxLayout;
  edits->setSpacing(4);
  for (QWidget* b : {undo, redo, pin}) edits->addWidget(b);
  row->addLayout(edits);
  return bar;
}

QWidget* PlanWorkspace::makeMiddle() {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  auto* column = new QVBoxLayout(panel);
  column->setContentsMargins(1, 4, 1, 4);
  column->setSpacing(2);
  view_ = new AxleView(model_, panel);
  lowerPages_ = new QStackedWidget(panel);
  lowerPages_->addWidget(new CurvePanel(model_, lowerPages_));
  lowerPages_->addWidget(new ConstructionPanel(model_, lowerPages_));
  lowerPages_->setFixedHeight(190);
  column->addWidget(view_, 1);
  column->addWidget(new AttitudeBar(model_, panel));
  column->addWidget(lowerPages_);
  return panel;
}

void PlanWorkspace::setZoom(int zoom) {
  zoom_->setCurrent(zoom);
  view_->setZoom(static_cast<AxleView::Zoom>(zoom));
}

void PlanWorkspace::showLower(int page) {
  lower_->setCurrent(page);
  lowerPages_->setCurrentIndex(page);
  model_.setConstructionStep(page == 1 ? 0 : -1);
}

bool PlanWorkspace::keysMoveParts() const {
  // Sliders and number fields keep their own arrow keys.
  const QWidget* focus = QApplication::focusWidget();
  return !qobject_cast<const QSlider*>(focus) && !qobject_cast<const QAbstractSpinBox*>(focus);
}

void PlanWorkspace::makeShortcuts() {
  const auto onKey = [this](const QKeySequence& key, auto run) {
    auto* action = new QAction(this);
    action->setShortcut(key);
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    connect(action, &QAction::triggered, this, run);
    addAction(action);
    return action;
  };
  std::vector<QAction*> arrows;
  arrows.push_back(onKey(Qt::Key_Up, [this] { model_.stepPart(1); }));
  arrows.push_back(onKey(Qt::Key_Down, [this] { model_.stepPart(-1); }));
  arrows.push_back(onKey(Qt::Key_PageDown, [this] { model_.walkParts(1); }));
  arrows.push_back(onKey(Qt::Key_PageUp, [this] { model_.walkParts(-1); }));
  connect(qApp, &QApplication::focusChanged, this, [this, arrows] {
    for (QAction* a : arrows) a->setEnabled(keysMoveParts());
  });
  const auto nudge = [this](double bump, double roll_deg) {
    ViewAttitude a = model_.attitude();
    a.bump_mm += bump;
    a.roll_rad += radians(roll_deg);
    const TravelRange& travel = model_.document().car().axle(model_.end()).travel;
    a.bump_mm = std::clamp(a.bump_mm, -travel.droop_mm, travel.bump_mm);
    a.roll_rad = std::clamp(a.roll_rad, radians(-4.0), radians(4.0));
    model_.setAttitude(a);
  };
  onKey(Qt::ALT | Qt::Key_Down, [nudge] { nudge(0.5, 0); });
  onKey(Qt::ALT | Qt::Key_Up, [nudge] { nudge(-0.5, 0); });
  onKey(Qt::ALT | Qt::Key_Right, [nudge] { nudge(0, 0.1); });
  onKey(Qt::ALT | Qt::Key_Left, [nudge] { nudge(0, -0.1); });
}

void PlanWorkspace::fillViewMenu(QMenu& menu) {
  const auto entry = [&](const QString& text, const QKeySequence& key, auto run) {
    QAction* action = menu.addAction(text, key, this, run);
    return action;
  };
  entry(tr("&Front axle"), Qt::CTRL | Qt::Key_1, [this] { model_.setEnd(End::front); });
  entry(tr("&Rear axle"), Qt::CTRL | Qt::Key_2, [this] { model_.setEnd(End::rear); });
  menu.addSeparator();
  entry(tr("&Whole axle"), Qt::CTRL | Qt::Key_0, [this] { setZoom(0); });
  entry(tr("&Left corner"), Qt::CTRL | Qt::Key_8, [this] { setZoom(1); });
  entry(tr("R&ight corner"), Qt::CTRL | Qt::Key_9, [this] { setZoom(2); });
  menu.addSeparator();
  entry(tr("&Curves"), Qt::CTRL | Qt::Key_K, [this] { showLower(0); });
  entry(tr("Roll centre, &step by step"), Qt::CTRL | Qt::Key_R, [this] { showLower(1); });
  entry(tr("Back to &level"), Qt::CTRL | Qt::Key_L, [this] { model_.setAttitude({}); });
  QAction* finer = entry(tr("One more &decimal"), Qt::CTRL | Qt::Key_D, [] {});
  finer->setObjectName(QStringLiteral("action.decimals"));
  finer->setCheckable(true);
  connect(finer, &QAction::toggled, this, [this](bool on) { model_.setExtraDecimals(on ? 1 : 0); });
}

QString PlanWorkspace::figuresAsText() const {
  return figures_->figures().asText();
}

}  // namespace lowkite::app
