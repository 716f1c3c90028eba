#include "app/plan/plan_workspace.h"

#include <QAction>
#include <QApplication>
#include <QBuffer>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPdfWriter>
#include <QPushButton>
#include <QSaveFile>
#include <QShortcut>
#include <QSlider>
#include <QStackedWidget>
#include <QSvgGenerator>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/adjuster_panel.h"
#include "app/plan/attitude_bar.h"
#include "app/plan/axle_view.h"
#include "app/plan/car_view.h"
#include "app/plan/check_panel.h"
#include "app/plan/compare_panel.h"
#include "app/plan/construction_panel.h"
#include "app/plan/curve_panel.h"
#include "app/plan/figure_panel.h"
#include "app/plan/gauge_panel.h"
#include "app/plan/load_panel.h"
#include "app/plan/recipe_panel.h"
#include "app/plan/reset_strip.h"
#include "app/plan/sensitivity_panel.h"
#include "app/plan/setups_panel.h"
#include "app/plan/springs/springs_panel.h"
#include "app/plan/steering_panel.h"
#include "app/shared/scrolled.h"
#include "app/shared/segmented.h"

namespace lowkite::app {

PlanWorkspace::PlanWorkspace(Document& document, ClubRules& club, QWidget* parent) : QWidget(parent), model_(document) {
  setObjectName(QStringLiteral("plan"));
  sprung_ = new SprungCars(model_, this);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  auto* parts = new AdjusterPanel(model_, this);
  parts->setFixedWidth(288);
  row->addWidget(parts);
  row->addWidget(makeMiddle(), 1);
  row->addWidget(makeRight());
  column->addWidget(makeToolRow());
  column->addLayout(row, 1);
  column->addWidget(new ResetStrip(model_, club, this));
  makeShortcuts();
  drawings_.front()->setFocus();
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
  view_ = new Segmented(QStringLiteral("view"), {tr("Front"), tr("Top"), tr("Side"), tr("Around")}, bar);
  connect(view_, &Segmented::chosen, this, [this](int i) { showView(static_cast<View>(i)); });
  zoom_ = new Segmented(QStringLiteral("zoom"), {tr("Axle"), tr("Left"), tr("Right"), tr("Car")}, bar);
  connect(zoom_, &Segmented::chosen, this, &PlanWorkspace::setZoom);
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
  row->addWidget(view_);
  row->addWidget(zoom_);
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
  drawingPages_ = new QStackedWidget(panel);
  drawings_ = {new AxleView(model_, drawingPages_), new CarView(model_, CarView::From::above, drawingPages_),
               new CarView(model_, CarView::From::side, drawingPages_),
               new CarView(model_, CarView::From::around, drawingPages_)};
  for (DrawingView* d : drawings_) drawingPages_->addWidget(d);
  lower_ = new Segmented(QStringLiteral("lower"),
                         {tr("Curves"), tr("Roll centre, step by step"), tr("Steering and lock"), tr("On its springs")},
                         panel);
  connect(lower_, &Segmented::chosen, this, [this](int i) { showLower(static_cast<Lower>(i)); });
  lowerPages_ = new QStackedWidget(panel);
  curves_ = new CurvePanel(model_, lowerPages_);
  connect(curves_, &CurvePanel::told, this, &PlanWorkspace::told);
  lowerPages_->addWidget(curves_);
  lowerPages_->addWidget(new ConstructionPanel(model_, lowerPages_));
  lowerPages_->addWidget(new SteeringPanel(model_, lowerPages_));
  lowerPages_->addWidget(new LoadPanel(*sprung_, lowerPages_));
  // As high as it needs to be where there is room for it, and less while a list of faults takes some.
  lowerPages_->setMinimumHeight(140);
  lowerPages_->setMaximumHeight(208);
  auto* tabs = new QHBoxLayout;
  tabs->setContentsMargins(8, 0, 8, 0);
  tabs->addWidget(lower_);
  tabs->addStretch(1);
  column->addWidget(drawingPages_, 4);
  column->addWidget(new AttitudeBar(model_, panel));
  column->addLayout(tabs);
  column->addWidget(lowerPages_, 3);
  return panel;
}

QWidget* PlanWorkspace::makeRight() {
  auto* box = new QWidget(this);
  box->setFixedWidth(418);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  beside_ = new Segmented(QStringLiteral("beside"),
                          {tr("Figures"), tr("Gauges"), tr("What moves it"), tr("Check"), tr("Recipe"), tr("Compare"),
                           tr("Setups"), tr("Springs")},
                          box, 4);
  connect(beside_, &Segmented::chosen, this, [this](int i) { showBeside(static_cast<Beside>(i)); });
  besidePages_ = new QStackedWidget(box);
  figures_ = new FigurePanel(model_, besidePages_);
  besidePages_->addWidget(figures_);
  besidePages_->addWidget(new GaugePanel(model_, besidePages_));
  besidePages_->addWidget(new SensitivityPanel(model_, besidePages_));
  besidePages_->addWidget(new CheckPanel(model_, besidePages_));
  auto* compare = new ComparePanel(model_, besidePages_);
  auto* setups = new SetupsPanel(model_, besidePages_);
  besidePages_->addWidget(scrolled(new RecipePanel(model_, besidePages_), besidePages_));
  besidePages_->addWidget(compare);
  besidePages_->addWidget(setups);
  springs_ = new SpringsPanel(*sprung_, besidePages_);
  connect(springs_, &SpringsPanel::told, this, &PlanWorkspace::told);
  besidePages_->addWidget(springs_);
  connect(setups, &SetupsPanel::compareWanted, this, [this, compare](const QString& path) {
    compare->choose(path);
    showBeside(Beside::compare);
  });
  connect(setups, &SetupsPanel::openWanted, this, &PlanWorkspace::openWanted);
  column->addWidget(beside_);
  column->addWidget(besidePages_, 1);
  return box;
}

void PlanWorkspace::setZoom(int zoom) {
  zoom_->setCurrent(zoom);
  for (DrawingView* d : drawings_) d->setZoom(static_cast<DrawingView::Zoom>(zoom));
}

bool PlanWorkspace::writeDrawing(const QString& path) {
  DrawingView* drawing = drawings_[static_cast<std::size_t>(drawingPages_->currentIndex())];
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  if (path.endsWith(QStringLiteral(".svg"))) {
    QSvgGenerator svg;
    svg.setOutputDevice(&buffer);
    svg.setSize(drawing->size());
    svg.setViewBox(drawing->rect());
    svg.setTitle(tr("Low Kite: drawing"));
    QPainter painter(&svg);
    drawing->paintOn(painter);
  } else {
    QPdfWriter pdf(&buffer);
    pdf.setTitle(tr("Low Kite: drawing"));
    pdf.setResolution(96);
    pdf.setPageSize(QPageSize(QSizeF(drawing->size()) * 72.0 / 96.0, QPageSize::Point));
    pdf.setPageMargins(QMarginsF());
    QPainter painter(&pdf);
    drawing->paintOn(painter);
  }
  QSaveFile file(path);
  return file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size() && file.commit();
}

void PlanWorkspace::showView(View view) {
  view_->setCurrent(static_cast<int>(view));
  drawingPages_->setCurrentIndex(static_cast<int>(view));
}

void PlanWorkspace::showLower(Lower page) {
  lower_->setCurrent(static_cast<int>(page));
  lowerPages_->setCurrentIndex(static_cast<int>(page));
  // The construction is drawn in the front view.
  if (page == Lower::rollCentre) showView(View::front);
  model_.setConstructionStep(page == Lower::rollCentre ? 0 : -1);
}

void PlanWorkspace::showBeside(Beside page) {
  beside_->setCurrent(static_cast<int>(page));
  besidePages_->setCurrentIndex(static_cast<int>(page));
}

bool PlanWorkspace::keysMoveParts() const {
  // Sliders and number fields keep their own arrow keys.
  const QWidget* focus = QApplication::focusWidget();
  return !qobject_cast<const QSlider*>(focus) && !qobject_cast<const QAbstractSpinBox*>(focus) &&
         !qobject_cast<const QComboBox*>(focus) && !qobject_cast<const QTableWidget*>(focus);
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
  const auto nudges = [&](const QKeySequence& key, const ViewAttitude& by) {
    onKey(key, [this, by] { model_.nudge(by); });
  };
  nudges(Qt::ALT | Qt::Key_Down, {.bump_mm = 0.5});
  nudges(Qt::ALT | Qt::Key_Up, {.bump_mm = -0.5});
  nudges(Qt::ALT | Qt::Key_Right, {.roll_rad = radians(0.1)});
  nudges(Qt::ALT | Qt::Key_Left, {.roll_rad = radians(-0.1)});
  nudges(Qt::CTRL | Qt::Key_Left, {.servo_rad = radians(1.0), .rack_mm = 0.25});
  nudges(Qt::CTRL | Qt::Key_Right, {.servo_rad = radians(-1.0), .rack_mm = -0.25});
  nudges(Qt::CTRL | Qt::Key_Down, {.pitch_rad = radians(0.1)});
  nudges(Qt::CTRL | Qt::Key_Up, {.pitch_rad = radians(-0.1)});
}

void PlanWorkspace::fillViewMenu(QMenu& menu) {
  const auto entry = [&](const QString& text, const QKeySequence& key, auto run) {
    QAction* action = menu.addAction(text, key, this, run);
    return action;
  };
  entry(tr("&Front axle"), Qt::CTRL | Qt::Key_1, [this] { model_.setEnd(End::front); });
  entry(tr("&Rear axle"), Qt::CTRL | Qt::Key_2, [this] { model_.setEnd(End::rear); });
  menu.addSeparator();
  entry(tr("From the fro&nt"), Qt::CTRL | Qt::Key_3, [this] { showView(View::front); });
  entry(tr("From a&bove"), Qt::CTRL | Qt::Key_4, [this] { showView(View::above); });
  entry(tr("From the s&ide"), Qt::CTRL | Qt::Key_5, [this] { showView(View::side); });
  entry(tr("&Turned around by hand"), Qt::CTRL | Qt::Key_6, [this] { showView(View::around); });
  menu.addSeparator();
  entry(tr("The whole &car"), Qt::CTRL | Qt::Key_7, [this] { setZoom(3); });
  entry(tr("&Whole axle"), Qt::CTRL | Qt::Key_0, [this] { setZoom(0); });
  entry(tr("&Left corner"), Qt::CTRL | Qt::Key_8, [this] { setZoom(1); });
  entry(tr("R&ight corner"), Qt::CTRL | Qt::Key_9, [this] { setZoom(2); });
  menu.addSeparator();
  entry(tr("&Curves"), Qt::CTRL | Qt::Key_K, [this] { showLower(Lower::curves); });
  entry(tr("Roll centre, &step by step"), Qt::CTRL | Qt::Key_R, [this] { showLower(Lower::rollCentre); });
  entry(tr("Steering and loc&k"), Qt::CTRL | Qt::Key_T, [this] { showLower(Lower::steering); });
  entry(tr("On its s&prings"), Qt::CTRL | Qt::SHIFT | Qt::Key_L, [this] { showLower(Lower::springs); });
  entry(tr("Fi&gures"), Qt::CTRL | Qt::Key_F, [this] { showBeside(Beside::figures); });
  entry(tr("Gau&ges"), Qt::CTRL | Qt::Key_G, [this] { showBeside(Beside::gauges); });
  entry(tr("What &moves a figure"), Qt::CTRL | Qt::Key_M, [this] { showBeside(Beside::movers); });
  entry(tr("C&heck of the car"), Qt::CTRL | Qt::Key_E, [this] { showBeside(Beside::check); });
  entry(tr("Reci&pe"), Qt::CTRL | Qt::Key_I, [this] { showBeside(Beside::recipe); });
  entry(tr("C&ompare two setups"), Qt::CTRL | Qt::SHIFT | Qt::Key_O, [this] { showBeside(Beside::compare); });
  entry(tr("Set&ups of this car"), Qt::CTRL | Qt::Key_U, [this] { showBeside(Beside::setups); });
  entry(tr("Springs, dampers, &weights"), Qt::CTRL | Qt::SHIFT | Qt::Key_W, [this] { showBeside(Beside::springs); });
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
