#include "app/plan/plan_workspace.h"

#include <algorithm>

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QAction>
#include <QApplication>
#include <QBuffer>
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPdfWriter>
#include <QPlainTextEdit>
#include <QSlider>
#include <QSplitter>
#include <QSvgGenerator>
#include <QVBoxLayout>

#include "app/check/check_panel.h"
#include "app/document/write_file.h"
#include "app/kept/kept.h"
#include "app/plan/curves/construction_panel.h"
#include "app/plan/curves/curve_panel.h"
#include "app/plan/curves/steering_panel.h"
#include "app/plan/handling/handling_page.h"
#include "app/plan/parts/adjuster_panel.h"
#include "app/plan/read/figure_panel.h"
#include "app/plan/read/gauge_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "app/plan/search/compare_panel.h"
#include "app/plan/search/recipe_panel.h"
#include "app/plan/search/setups_panel.h"
#include "app/plan/sheet/sheet_page.h"
#include "app/plan/springs/springs_panel.h"
#include "app/plan/work_list.h"

namespace lowkite::app {
namespace {

constexpr QSize leastPaper(640, 480);  ///< of a drawing that was never on the screen
constexpr int partsWidth = AdjusterPanel::leastWidth;
constexpr int figuresWidth = 352;
const QString widthsKey = QStringLiteral("plan/columns");

}  // namespace

PlanWorkspace::PlanWorkspace(Document& document, ClubRules& club, UsualRanges& usual, TyreChoice& tyres, MyBoxes& boxes,
                             QWidget* parent)
    : Workspace(parent),
      model_(document),
      sprung_(new SprungCars(model_, this)),
      usual_(usual),
      tyres_(tyres),
      boxes_(boxes) {
  setObjectName(QStringLiteral("plan"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  rows_ = new QSplitter(Qt::Vertical, this);
  rows_->setHandleWidth(1);
  columns_ = new QSplitter(Qt::Horizontal, rows_);
  columns_->setHandleWidth(1);
  adjusters_ = new AdjusterPanel(model_, columns_);
  adjusters_->setMinimumWidth(partsWidth);
  stage_ = new Stage(model_, columns_);
  figures_ = new FigurePanel(model_, usual, columns_);
  figures_->setMinimumWidth(std::max(figuresWidth, figures_->neededWidth()));
  columns_->setChildrenCollapsible(false);
  columns_->setStretchFactor(1, 1);
  columns_->setMinimumHeight(200);
  rows_->setCollapsible(0, false);
  drawer_ = new Drawer(QStringLiteral("drawer"), QStringLiteral("plan/drawer"), makePages(), rows_);
  rows_->setStretchFactor(0, 1);
  rows_->setStretchFactor(1, 0);
  work_ = new WorkList(model_, club, boxes_, this);
  column->addWidget(rows_, 1);
  column->addWidget(work_);
  connect(adjusters_, &AdjusterPanel::told, this, &PlanWorkspace::told);
  connect(figures_, &FigurePanel::told, this, &PlanWorkspace::told);
  connect(stage_, &Stage::figureAsked, figures_, &FigurePanel::edit);
  connect(drawer_, &Drawer::placed, this, [this] { work_->setTight(drawer_->isBelow()); });
  connect(drawer_, &Drawer::pageChanged, this, [this](int page) {
    // The construction is drawn in the front view.
    const bool construction = page == static_cast<int>(Page::rollCentre);
    if (construction) stage_->showView(Stage::View::front);
    model_.setConstructionStep(construction ? 0 : -1);
  });
  connect(columns_, &QSplitter::splitterMoved, this, &PlanWorkspace::keepWidths);
  if (const QByteArray kept = Kept().value(widthsKey).toByteArray(); !kept.isEmpty())
    columns_->restoreState(kept);
  else
    columns_->setSizes({partsWidth, 4000, figuresWidth});
  drawer_->widget(static_cast<int>(Page::check));  // it counts, seen or not
  makeShortcuts();
  stage_->drawing().setFocus();
}

void PlanWorkspace::keepWidths() {
  Kept().setValue(widthsKey, columns_->saveState());
}

std::vector<DrawerPage> PlanWorkspace::makePages() {
  const auto plain = [this](auto make) { return [this, make](QWidget* parent) -> QWidget* { return make(parent); }; };
  return {
      {tr("Curves"), tr("&Curves"), Qt::CTRL | Qt::Key_K, plain([this](QWidget* p) {
         auto* curves = new CurvePanel(model_, p);
         connect(curves, &CurvePanel::told, this, &PlanWorkspace::told);
         return curves;
       })},
      {tr("What moves"), tr("What &moves a figure"), Qt::CTRL | Qt::Key_M,
       plain([this](QWidget* p) { return new SensitivityPanel(model_, p); })},
      {tr("Recipe"), tr("Reci&pe"), Qt::CTRL | Qt::Key_I, plain([this](QWidget* p) {
         auto* recipe = new RecipePanel(model_, boxes_, tyres_, p);
         connect(recipe, &RecipePanel::boxesWanted, this, &PlanWorkspace::boxesWanted);
         return recipe;
       }),
       340},
      {tr("Compare"), tr("C&ompare two setups"), Qt::CTRL | Qt::SHIFT | Qt::Key_O,
       plain([this](QWidget* p) { return new ComparePanel(model_, p); })},
      {tr("Setups"), tr("Set&ups of this car"), Qt::CTRL | Qt::Key_U, plain([this](QWidget* p) {
         auto* setups = new SetupsPanel(model_, p);
         connect(setups, &SetupsPanel::compareWanted, this, [this](const QString& path) {
           open(Page::compare);
           page<ComparePanel>(Page::compare).choose(path);
         });
         connect(setups, &SetupsPanel::openWanted, this, &PlanWorkspace::openWanted);
         return setups;
       })},
      {tr("Sheet"), tr("A setup shee&t, in or out"), Qt::CTRL | Qt::SHIFT | Qt::Key_P, plain([this](QWidget* p) {
         auto* sheet = new SheetPage(model_, p);
         connect(sheet, &SheetPage::told, this, &PlanWorkspace::told);
         connect(sheet, &SheetPage::failed, this, &PlanWorkspace::refused);
         return sheet;
       }),
       420},
      {tr("Springs"), tr("On its s&prings: turns, bumps, dampers, weights"), Qt::CTRL | Qt::SHIFT | Qt::Key_W,
       plain([this](QWidget* p) {
         auto* springs = new SpringsPanel(*sprung_, p);
         connect(springs, &SpringsPanel::told, this, &PlanWorkspace::told);
         connect(springs, &SpringsPanel::stepsWanted, this, [this](const HeldTurn& under) {
           open(Page::movers);
           page<SensitivityPanel>(Page::movers).askOfSprings(under);
         });
         connect(springs, &SpringsPanel::recipeWanted, this, [this](const HeldTurn& under) {
           open(Page::recipe);
           page<RecipePanel>(Page::recipe).askOfSprings(under);
         });
         return springs;
       }),
       320},
      {tr("Handling"), tr("&Handling: what the driver will feel"), Qt::CTRL | Qt::Key_H, plain([this](QWidget* p) {
         auto* handling = new HandlingPage(model_, tyres_, p);
         connect(handling, &HandlingPage::told, this, &PlanWorkspace::told);
         connect(handling, &HandlingPage::recipeWanted, this,
                 [this](const std::vector<HandlingWish>& wishes, double share) {
                   open(Page::recipe);
                   page<RecipePanel>(Page::recipe).takeWishes(wishes, share);
                 });
         return handling;
       }),
       320},
      {tr("Lock"), tr("Steering and loc&k"), Qt::CTRL | Qt::Key_T,
       plain([this](QWidget* p) { return new SteeringPanel(model_, p); })},
      {tr("Gauges"), tr("Gau&ges"), Qt::CTRL | Qt::Key_G, plain([this](QWidget* p) {
         auto* gauges = new GaugePanel(model_, p);
         connect(gauges, &GaugePanel::told, this, &PlanWorkspace::told);
         connect(gauges, &GaugePanel::benchChanged, adjusters_, &AdjusterPanel::refresh);
         return gauges;
       }),
       300},
      {tr("Roll centre"), tr("Roll centre, &step by step"), Qt::CTRL | Qt::Key_R,
       plain([this](QWidget* p) { return new ConstructionPanel(model_, p); }), 168},
      {tr("Check"), tr("C&heck of the car"), Qt::CTRL | Qt::Key_E, plain([this](QWidget* p) {
         check_ = new CheckPanel(model_, p);
         connect(check_, &CheckPanel::counted, this, [this](int findings) {
           drawer_->bar().setLabel(static_cast<int>(Page::check),
                                   findings == 0 ? tr("Check \u2713") : tr("Check: %1").arg(findings));
           Q_EMIT checkCounted(findings);
         });
         return check_;
       })},
  };
}

CurvePanel& PlanWorkspace::curves() {
  return page<CurvePanel>(Page::curves);
}

SpringsPanel& PlanWorkspace::springs() {
  return page<SpringsPanel>(Page::springs);
}

SheetPage& PlanWorkspace::sheet() {
  return page<SheetPage>(Page::sheet);
}

HandlingPage& PlanWorkspace::handling() {
  return page<HandlingPage>(Page::handling);
}

void PlanWorkspace::takeOver() {
  work_->takeOver();
}

tl::expected<void, Fault> PlanWorkspace::writeDrawing(const QString& path) {
  // Of what the document says now, whether or not anybody has looked at it yet.
  model_.flush();
  DrawingView* drawing = &stage_->drawing();
  if (drawing->width() < leastPaper.width() || drawing->height() < leastPaper.height()) drawing->resize(leastPaper);
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
  return writeFile(path, bytes);
}

bool PlanWorkspace::keysMoveParts() const {
  // Sliders and number fields keep their own arrow keys.
  const QWidget* focus = QApplication::focusWidget();
  return !QApplication::activePopupWidget() && !qobject_cast<const QSlider*>(focus) &&
         !qobject_cast<const QAbstractSpinBox*>(focus) && !qobject_cast<const QComboBox*>(focus) &&
         !qobject_cast<const QAbstractItemView*>(focus) && !qobject_cast<const QLineEdit*>(focus) &&
         !qobject_cast<const QPlainTextEdit*>(focus);
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
  arrows.push_back(onKey(Qt::Key_F, tr("All of the drawing in sight"), [this] {
    if (keysMoveParts()) stage_->fit();
  }));
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
  using View = Stage::View;
  using Zoom = DrawingView::Zoom;
  entry(tr("From the fro&nt"), Qt::CTRL | Qt::Key_3, [this] { stage_->showView(View::front); });
  entry(tr("From a&bove"), Qt::CTRL | Qt::Key_4, [this] { stage_->showView(View::above); });
  entry(tr("From the s&ide"), Qt::CTRL | Qt::Key_5, [this] { stage_->showView(View::side); });
  entry(tr("&Turned around by hand"), Qt::CTRL | Qt::Key_6, [this] { stage_->showView(View::around); });
  menu.addSeparator();
  entry(tr("The whole &car"), Qt::CTRL | Qt::Key_7, [this] { stage_->setZoom(Zoom::car); });
  entry(tr("&Whole axle"), Qt::CTRL | Qt::Key_0, [this] { stage_->setZoom(Zoom::axle); });
  entry(tr("&Left corner"), Qt::CTRL | Qt::Key_8, [this] { stage_->setZoom(Zoom::leftCorner); });
  entry(tr("R&ight corner"), Qt::CTRL | Qt::Key_9, [this] { stage_->setZoom(Zoom::rightCorner); });
  entry(tr("Lar&ger"), QKeySequence::ZoomIn, [this] { stage_->magnify(1); });
  entry(tr("S&maller"), QKeySequence::ZoomOut, [this] { stage_->magnify(-1); });
  menu.addSeparator();
  drawer_->fillMenu(menu);
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
