#include "app/plan/plan_workspace.h"

#include <QAbstractItemView>
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

#include "app/check/check_panel.h"
#include "app/drawing/axle_view.h"
#include "app/drawing/car_view.h"
#include "app/plan/attitude_bar.h"
#include "app/plan/curves/construction_panel.h"
#include "app/plan/curves/curve_panel.h"
#include "app/plan/curves/load_panel.h"
#include "app/plan/curves/steering_panel.h"
#include "app/plan/parts/adjuster_panel.h"
#include "app/plan/read/figure_panel.h"
#include "app/plan/read/gauge_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "app/plan/reset_strip.h"
#include "app/plan/search/compare_panel.h"
#include "app/plan/search/recipe_panel.h"
#include "app/plan/search/setups_panel.h"
#include "app/plan/springs/springs_panel.h"
#include "app/widgets/page_book.h"
#include "app/widgets/scrolled.h"

namespace lowkite::app {

PlanWorkspace::PlanWorkspace(Document& document, ClubRules& club, UsualRanges& usual, QWidget* parent)
    : Workspace(parent), model_(document), usual_(usual) {
  setObjectName(QStringLiteral("plan"));
  sprung_ = new SprungCars(model_, this);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  adjusters_ = new AdjusterPanel(model_, this);
  adjusters_->setFixedWidth(288);
  connect(adjusters_, &AdjusterPanel::told, this, &PlanWorkspace::told);
  row->addWidget(adjusters_);
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
  for (DrawingView* d : drawings_) {
    drawingPages_->addWidget(d);
    connect(d, &DrawingView::figureAsked, this, [this](std::string_view figure) {
      showBeside(Column::figures);
      figures_->edit(figure);
    });
  }
  curves_ = new CurvePanel(model_, panel);
  connect(curves_, &CurvePanel::told, this, &PlanWorkspace::told);
  lower_ = new PageBook(
      QStringLiteral("lower"),
      {{tr("Curves"), tr("&Curves"), Qt::CTRL | Qt::Key_K, curves_},
       {tr("Roll centre, step by step"), tr("Roll centre, &step by step"), Qt::CTRL | Qt::Key_R,
        new ConstructionPanel(model_, panel)},
       {tr("Steering and lock"), tr("Steering and loc&k"), Qt::CTRL | Qt::Key_T, new SteeringPanel(model_, panel)},
       {tr("On its springs"), tr("On its s&prings"), Qt::CTRL | Qt::SHIFT | Qt::Key_L, new LoadPanel(*sprung_, panel)}},
      panel);
  connect(lower_, &PageBook::pageShown, this, [this](int page) {
    // The construction is drawn in the front view.
    const bool construction = static_cast<Lower>(page) == Lower::rollCentre;
    if (construction) showView(View::front);
    model_.setConstructionStep(construction ? 0 : -1);
  });
  // As high as it needs to be where there is room for it, and less while a list of faults takes some.
  lower_->setMinimumHeight(140);
  lower_->setMaximumHeight(208);
  auto* tabs = new QHBoxLayout;
  tabs->setContentsMargins(8, 0, 8, 0);
  tabs->addWidget(lower_->bar());
  tabs->addStretch(1);
  column->addWidget(drawingPages_, 4);
  column->addWidget(new AttitudeBar(model_, panel));
  column->addLayout(tabs);
  column->addWidget(lower_, 3);
  return panel;
}

QWidget* PlanWorkspace::makeRight() {
  auto* box = new QWidget(this);
  box->setFixedWidth(418);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  figures_ = new FigurePanel(model_, usual_, box);
  connect(figures_, &FigurePanel::told, this, &PlanWorkspace::told);
  auto* compare = new ComparePanel(model_, box);
  auto* setups = new SetupsPanel(model_, box);
  springs_ = new SpringsPanel(*sprung_, box);
  connect(springs_, &SpringsPanel::told, this, &PlanWorkspace::told);
  auto* check = new CheckPanel(model_, box);
  auto* gauges = new GaugePanel(model_, box);
  connect(gauges, &GaugePanel::told, this, &PlanWorkspace::told);
  connect(gauges, &GaugePanel::benchChanged, adjusters_, &AdjusterPanel::refresh);
  beside_ = new PageBook(
      QStringLiteral("beside"),
      {{tr("Figures"), tr("Fi&gures"), Qt::CTRL | Qt::Key_F, figures_},
       {tr("Gauges"), tr("Gau&ges"), Qt::CTRL | Qt::Key_G, gauges},
       {tr("What moves it"), tr("What &moves a figure"), Qt::CTRL | Qt::Key_M, new SensitivityPanel(model_, box)},
       {tr("Check"), tr("C&heck of the car"), Qt::CTRL | Qt::Key_E, check},
       {tr("Recipe"), tr("Reci&pe"), Qt::CTRL | Qt::Key_I, scrolled(new RecipePanel(model_, box), box)},
       {tr("Compare"), tr("C&ompare two setups"), Qt::CTRL | Qt::SHIFT | Qt::Key_O, compare},
       {tr("Setups"), tr("Set&ups of this car"), Qt::CTRL | Qt::Key_U, setups},
       {tr("Springs"), tr("Springs, dampers, &weights"), Qt::CTRL | Qt::SHIFT | Qt::Key_W, springs_}},
      box, 4);
  connect(setups, &SetupsPanel::compareWanted, this, [this, compare](const QString& path) {
    compare->choose(path);
    showBeside(Column::compare);
  });
  connect(setups, &SetupsPanel::openWanted, this, &PlanWorkspace::openWanted);
  connect(check, &CheckPanel::counted, this, [this](int findings) {
    beside_->bar()->setLabel(static_cast<int>(Column::check),
                             findings == 0 ? tr("Check \u2713") : tr("Check: %1").arg(findings));
  });
  column->addWidget(beside_->bar());
  column->addWidget(beside_, 1);
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
  lower_->showPage(static_cast<int>(page));
}

void PlanWorkspace::showBeside(Column page) {
  beside_->showPage(static_cast<int>(page));
}

bool PlanWorkspace::keysMoveParts() const {
  // Sliders and number fields keep their own arrow keys.
  const QWidget* focus = QApplication::focusWidget();
  return !QApplication::activePopupWidget() && !qobject_cast<const QSlider*>(focus) &&
         !qobject_cast<const QAbstractSpinBox*>(focus) && !qobject_cast<const QComboBox*>(focus) &&
         !qobject_cast<const QAbstractItemView*>(focus);
}

void PlanWorkspace::makeShortcuts() {
  const auto onKey = [this](const QKeySequence& key, const QString& said, auto run) {
    auto* action = new QAction(said, this);
    action->setShortcut(key);
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    connect(action, &QAction::triggered, this, run);
    addAction(action);
    return action;
  };
  std::vector<QAction*> arrows;
  arrows.push_back(onKey(Qt::Key_Up, tr("Step the part in hand up"), [this] {
    if (keysMoveParts()) model_.stepPart(1);
  }));
  arrows.push_back(onKey(Qt::Key_Down, tr("Step the part in hand down"), [this] {
    if (keysMoveParts()) model_.stepPart(-1);
  }));
  arrows.push_back(onKey(Qt::Key_PageDown, tr("Take the next part in hand"), [this] { model_.walkParts(1); }));
  arrows.push_back(onKey(Qt::Key_PageUp, tr("Take the part before in hand"), [this] { model_.walkParts(-1); }));
  connect(qApp, &QApplication::focusChanged, this, [this, arrows] {
    for (QAction* a : arrows) a->setEnabled(keysMoveParts());
  });
  const auto nudges = [&](const QKeySequence& key, const QString& said, const ViewAttitude& by) {
    onKey(key, said, [this, by] { model_.nudge(by); });
  };
  nudges(Qt::ALT | Qt::Key_Down, tr("Lower the chassis"), {.bump_mm = 0.5});
  nudges(Qt::ALT | Qt::Key_Up, tr("Lift the chassis"), {.bump_mm = -0.5});
  nudges(Qt::ALT | Qt::Key_Right, tr("Roll to the right"), {.roll_rad = radians(0.1)});
  nudges(Qt::ALT | Qt::Key_Left, tr("Roll to the left"), {.roll_rad = radians(-0.1)});
  nudges(Qt::CTRL | Qt::Key_Left, tr("Steer to the left"), {.servo_rad = radians(1.0), .rack_mm = 0.25});
  nudges(Qt::CTRL | Qt::Key_Right, tr("Steer to the right"), {.servo_rad = radians(-1.0), .rack_mm = -0.25});
  nudges(Qt::CTRL | Qt::Key_Down, tr("Nose down"), {.pitch_rad = radians(0.1)});
  nudges(Qt::CTRL | Qt::Key_Up, tr("Nose up"), {.pitch_rad = radians(-0.1)});
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
  lower_->fillMenu(menu, true);
  beside_->fillMenu(menu, true);
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
