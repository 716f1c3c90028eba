#include "app/plan/search/recipe_panel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>

#include <QAction>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/handling/handling_words.h"
#include "app/plan/search/aim_lines.h"
#include "app/plan/springs/fields.h"
#include "app/plan/springs/turn_fields.h"
#include "app/settings/my_boxes.h"
#include "app/settings/tyre_choice.h"
#include "app/widgets/beside_or_below.h"
#include "app/widgets/form_column.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/tables.h"
#include "app/words/box_words.h"
#include "app/words/recipe_words.h"
#include "app/words/wording.h"
#include "core/plan/load_sensitivity.hpp"

namespace lowkite::app {
namespace {

struct RecipeColumn {
  enum : int { parts, reached, minutes, count };
};

constexpr int tradeOffWidth = 220;
constexpr int lowHeight = 260;   ///< px; below that the page is low
constexpr int wideWidth = 1180;  ///< px; from that on the names of figures are whole
constexpr int figureWide = 250, figureNarrow = 190;
constexpr int startSteps = 4;  ///< how far "keep the same, but" offers a part to be moved
constexpr int tellEveryMs = 60;
/// Above this many combinations of an axle the search takes long enough to say so beforehand.
constexpr std::uint64_t longSearch = 1'000'000;

}  // namespace

RecipePanel::RecipePanel(PlanModel& model, MyBoxes& boxes, TyreChoice& tyres, QWidget* parent)
    : QFrame(parent), model_(model), boxes_(boxes), tyres_(tyres), weighing_(this) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("recipe"));
  const auto [column, across] = formColumn(this, 490);
  // Three lines are on show; more are scrolled to, and the steps of a result likewise.
  lines_ = new AimLines([this](const FigurePlace& place) { return present(place); }, this);
  aimScroll_ = scrolled(lines_, this);
  connect(lines_, &AimLines::changed, this, &RecipePanel::linesChanged);
  column->addWidget(aimScroll_);

  auto* more = new QPushButton(tr("One more figure"), this);
  more->setObjectName(QStringLiteral("recipe.more"));
  connect(more, &QPushButton::clicked, this, [this] {
    if (lines_->count() >= AimLines::most)
      news_->setText(tr("%1 figures at most.").arg(AimLines::most));
    else
      lines_->add();
  });
  auto* same = new QToolButton(this);
  same->setObjectName(QStringLiteral("recipe.same"));
  same->setText(tr("Keep the same, but ..."));
  same->setPopupMode(QToolButton::InstantPopup);
  same->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  sameMenu_ = new QMenu(same);
  sameMenu_->setObjectName(QStringLiteral("recipe.sameMenu"));
  same->setMenu(sameMenu_);
  auto* aimRow = new QHBoxLayout;
  aimRow->addWidget(more);
  aimRow->addWidget(same);
  besideOrBelow(*aimRow, 470);
  column->addLayout(aimRow);

  underRow_ = new QWidget(this);
  auto* underLine = new QHBoxLayout(underRow_);
  underLine->setContentsMargins(0, 0, 0, 0);
  turn_ = new TurnFields(QStringLiteral("recipe"), underRow_);
  underLine->addWidget(quietLabel(tr("Springs read at"), underRow_), 1);
  underLine->addWidget(turn_);
  besideOrBelow(*underLine, 490);
  connect(turn_, &TurnFields::changed, this, [this] {
    onSprings_.reset();
    lines_->readSpringsAgain();
  });
  column->addWidget(underRow_);

  feltRow_ = new QWidget(this);
  auto* feltLine = new QHBoxLayout(feltRow_);
  feltLine->setContentsMargins(0, 0, 0, 0);
  share_ = tyreShareField(feltRow_, QStringLiteral("recipe.share"), tr("felt on "));
  feltOver_ = quietLabel({}, feltRow_);
  feltOver_->setObjectName(QStringLiteral("recipe.feltOver"));
  feltOver_->setToolTip(tr("Tyres, ground and corner are those of Handling."));
  feltLine->addWidget(share_);
  feltLine->addWidget(feltOver_, 1);
  column->addWidget(feltRow_);
  connect(&tyres_, &TyreChoice::changed, this, [this] {
    if (asked_.wishes.asked() && ofThisCar() && tyres_.any()) {
      const WishOrder now = tyres_.wishOrder(*shownCar_);
      if (now.ask != asked_.wishes.ask || now.tyres != asked_.wishes.tyres) giveUp();
    }
    tellTyres();
  });

  parts_ = new QToolButton(this);
  parts_->setObjectName(QStringLiteral("recipe.parts"));
  parts_->setPopupMode(QToolButton::InstantPopup);
  parts_->setMinimumHeight(targetHeight);
  partMenu_ = new QMenu(parts_);
  partMenu_->setObjectName(QStringLiteral("recipe.partMenu"));
  parts_->setMenu(partMenu_);
  most_ = new QComboBox(this);
  most_->setObjectName(QStringLiteral("recipe.most"));
  most_->setAccessibleName(tr("How many parts may change at once"));
  most_->setMinimumHeight(targetHeight);
  most_->addItem(tr("one at a time"));
  for (int n = 2; n <= most_changes; ++n) most_->addItem(tr("at most %1 at once").arg(n));
  most_->setCurrentIndex(1);
  connect(most_, &QComboBox::currentIndexChanged, this, &RecipePanel::tellCount);
  auto* partRow = new QHBoxLayout;
  partRow->addWidget(parts_, 1);
  partRow->addWidget(most_);
  column->addLayout(partRow);

  robust_ = new QCheckBox(tr("good also"), this);
  robust_->setObjectName(QStringLiteral("recipe.robust"));
  robust_->setToolTip(
      tr("What the track does to a car. Each figure of an axle is told as the worst of: as set, so much ride height "
         "lost, tie rods so many turns longer, as many shorter."));
  heightLost_ = numberField(this, QStringLiteral("recipe.heightLost"), tr("Ride height lost, mm"), 0.0, 5.0,
                            usual_height_lost_mm, 1, 0.1, tr(" mm lower"));
  rodOff_ = numberField(this, QStringLiteral("recipe.rodOff"), tr("Tie rods off, turns, either way"), 0.0, 3.0,
                        usual_tie_rod_off_turns, 2, 0.25, tr(" turns of tie rod"));
  auto* robustRow = new QHBoxLayout;
  robustRow->addWidget(robust_);
  for (QDoubleSpinBox* by : {heightLost_, rodOff_}) {
    robustRow->addWidget(by, 1);
    by->setEnabled(false);
    connect(robust_, &QCheckBox::toggled, by, &QWidget::setEnabled);
  }
  column->addLayout(robustRow);
  boxOnly_ = new QCheckBox(tr("only what I own"), this);
  boxOnly_->setObjectName(QStringLiteral("recipe.boxOnly"));
  boxOnly_->setToolTip(
      tr("Only what lies in my boxes, is on the car, or is freed by the change itself. Kinds of parts that are not "
         "listed there are taken to be at hand."));
  auto* mine = new QPushButton(tr("My boxes \u2026"), this);
  mine->setObjectName(QStringLiteral("recipe.boxes"));
  mine->setMinimumHeight(targetHeight);
  connect(mine, &QPushButton::clicked, this, &RecipePanel::boxesWanted);
  connect(&boxes_, &MyBoxes::changed, this, [this] { fillTable(); });
  auto* boxRow = new QHBoxLayout;
  boxRow->addWidget(boxOnly_);
  boxRow->addStretch(1);
  boxRow->addWidget(mine);
  column->addLayout(boxRow);

  search_ = new QPushButton(tr("Search"), this);
  search_->setObjectName(QStringLiteral("recipe.search"));
  search_->setMinimumHeight(44);
  search_->setMinimumWidth(110);
  connect(search_, &QPushButton::clicked, this, &RecipePanel::search);
  progress_ = new QProgressBar(this);
  progress_->setObjectName(QStringLiteral("recipe.progress"));
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setMaximumHeight(6);
  // Its room is the list's while nothing is on its way.
  progress_->hide();
  connect(progress_, &QProgressBar::valueChanged, progress_,
          [bar = progress_](int done) { bar->setVisible(done > 0); });
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("recipe.news"));
  news_->setWordWrap(true);
  auto* searchRow = new QHBoxLayout;
  searchRow->addWidget(news_, 1);
  searchRow->addWidget(search_);

  byWork_ = new QPushButton(tr("What more work buys"), this);
  byWork_->setObjectName(QStringLiteral("recipe.byWork"));
  byWork_->setCheckable(true);
  byWork_->setMinimumHeight(targetHeight);
  byWork_->setToolTip(tr(
      "Only what is worth its time: each line takes longer than the one before and comes closer, up to the first that "
      "does it."));
  connect(byWork_, &QPushButton::toggled, this, [this](bool on) {
    byWork_->setText(on ? tr("All that was found") : tr("What more work buys"));
    fillTable();
  });
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("recipe.table"));
  dressTable(*table_, {{tr("Change")}, {tr("gives"), 110}, {tr("work"), 76}});
  table_->setWordWrap(true);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  connect(table_, &QTableWidget::currentCellChanged, this, &RecipePanel::showSteps);
  connect(table_, &QTableWidget::cellDoubleClicked, this, &RecipePanel::tryResult);
  column->addStretch(1);
  // Beside the results, where it stays in reach however many lines are asked.
  auto* found = new QVBoxLayout;
  found->addLayout(searchRow);
  found->addWidget(progress_);
  chart_ = new LineChart(QStringLiteral("recipe.chart"), this);
  chart_->setFixedWidth(tradeOffWidth);
  chart_->hide();
  auto* lists = new QHBoxLayout;
  lists->addWidget(table_, 1);
  lists->addWidget(chart_);
  found->addLayout(lists, 1);
  against_ = new QPushButton(tr("One want against the other"), this);
  against_->setObjectName(QStringLiteral("recipe.against"));
  against_->setMinimumHeight(targetHeight);
  against_->setToolTip(tr(
      "For two wants that pull apart: what each costs of the other, from the nearest to the one to the nearest to the "
      "other. None of the lines is beaten in both."));
  connect(against_, &QPushButton::clicked, this, &RecipePanel::weighWants);
  ways_ = new QHBoxLayout;
  ways_->addWidget(byWork_);
  ways_->addWidget(against_);
  found->addLayout(ways_);
  table_->installEventFilter(this);
  across->addLayout(found, 3);
  steps_ = new QLabel(this);
  steps_->setObjectName(QStringLiteral("recipe.steps"));
  steps_->setWordWrap(true);
  steps_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  steps_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  auto* stepScroll = scrolled(steps_, this);
  auto* chosen = new QVBoxLayout;
  chosen->addWidget(stepScroll, 1);
  across->addLayout(chosen);
  try_ = new QPushButton(tr("Take it over into the setup"), this);
  try_->setObjectName(QStringLiteral("recipe.try"));
  try_->setMinimumHeight(40);
  try_->setMinimumWidth(180);
  try_->setEnabled(false);
  connect(try_, &QPushButton::clicked, this, &RecipePanel::tryResult);
  chosen->addWidget(try_);
  connect(sameMenu_, &QMenu::aboutToShow, this, [this] {
    if (ofThisCar()) fillSame();
  });
  // What is in the menus means parts of the car that they were filled for.
  const auto forget = [this] {
    sameMenu_->clear();
    partMenu_->clear();
    giveUp();
  };
  connect(&model_.document(), &Document::replaced, this, forget);
  connect(&model_.document(), &Document::carEdited, this, forget);
  connect(&model_, &PlanModel::comparisonChanged, this, &RecipePanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &RecipePanel::refresh);
}

RecipePanel::~RecipePanel() {
  if (cancel_) *cancel_ = true;
}

bool RecipePanel::eventFilter(QObject* watched, QEvent* event) {
  if (watched == table_ && event->type() == QEvent::Resize) {
    fitRows();
    // In a low drawer the results need the height more than the buttons their words.
    besideOrBelow(*ways_,
                  height() < lowHeight ? QWIDGETSIZE_MAX : table_->width() + (chart_->isHidden() ? 0 : tradeOffWidth));
  }
  return QFrame::eventFilter(watched, event);
}

void RecipePanel::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  shareRoom();
}

void RecipePanel::shareRoom() {
  table_->horizontalHeader()->setVisible(height() >= lowHeight);
  // In a low drawer the lines alone have room.
  chart_->setVisible(tradeOff_ && tradeOff_->points.size() > 1 && height() >= lowHeight);
  lines_->giveFigures(width() < wideWidth || !chart_->isHidden() ? figureNarrow : figureWide);
}

void RecipePanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

std::optional<double> RecipePanel::present(const FigurePlace& place) const {
  const Comparison* c = model_.comparison();
  if (!c) return std::nullopt;
  if (!place.figure->of_load()) return place.read(c->changed->source);
  if (!onSprings_) {
    const auto loaded = put_on_springs(model_.document().car(), c->changed->setup, under());
    if (!loaded) return std::nullopt;
    onSprings_ = *loaded;
  }
  return place.read(*onSprings_);
}

std::optional<double> RecipePanel::baseline(const FigureSpec& figure) const {
  const Comparison* c = model_.comparison();
  return c ? figure.read(c->baseline->source, model_.end(), Side::left) : std::nullopt;
}

HeldTurn RecipePanel::under() const {
  return turn_->turn();
}

std::vector<PartHandle> RecipePanel::allParts() const {
  std::vector<PartHandle> parts = recipe_parts(*shownCar_, End::front);
  const std::vector<PartHandle> rear = recipe_parts(*shownCar_, End::rear);
  parts.insert(parts.end(), rear.begin(), rear.end());
  return parts;
}

/// The axle in hand first, then the other one, the car, the car on its springs, and what may be alike at both axles.
std::vector<AimPlace> RecipePanel::places() const {
  std::vector<AimPlace> all;
  onSprings_.reset();
  const auto add = [&](const FigurePlace& p) {
    if (present(p)) all.push_back({p});
  };
  const auto of_car = [](const FigureSpec& f) { return f.per == Per::car || f.is(adds_up); };
  for (const End end : {model_.end(), model_.end() == End::front ? End::rear : End::front})
    for (const FigureSpec& f : geometry_figures())
      if (!of_car(f) && applies(f, *shownCar_, end)) add({&f, end, std::nullopt});
  for (const FigureSpec& f : geometry_figures())
    if (of_car(f) && (applies(f, *shownCar_, End::front) || applies(f, *shownCar_, End::rear)))
      add({&f, std::nullopt, std::nullopt});
  for (const FigurePlace& p : places_of(load_figures())) add(p);
  for (const auto figures : {geometry_figures(), load_figures()})
    for (const FigureSpec& f : figures)
      if ((f.of_load() ? f.per == Per::axle : f.is(watched)) && can_be_alike(f, *shownCar_) &&
          present({&f, End::front, Side::left}) && present({&f, End::rear, Side::left}))
        all.push_back({{&f, std::nullopt, std::nullopt}, true});
  return all;
}

void RecipePanel::linesChanged() {
  const int inView = std::clamp(lines_->count(), 1, 3);
  aimScroll_->setFixedHeight(inView * (targetHeight + 6));
  underRow_->setVisible(lines_->asksOfSprings());
  feltRow_->setVisible(!lines_->wishes().empty());
  tellTyres();
  tellCount();
}

void RecipePanel::tellTyres() {
  if (feltRow_->isHidden() || !model_.document().hasCar()) return;
  const CornerAsk& ask = tyres_.ask();
  const TyreFamily& family = tyres_.family(model_.document().car());
  feltOver_->setText(
      tr("%1, %2 g, %3 m").arg(fromCore(family.name), number(ask.lateral_g, 1), number(ask.radius_m, 1)));
  tyres_.wantWeights(family.id);
}

void RecipePanel::refresh() {
  onSprings_.reset();
  if (!isVisible() || !model_.document().hasCar() || !model_.comparison()) return;
  const bool sameCar = shownCar_ == model_.document().sharedCar();
  if (sameCar && lines_->count() > 0 && (shownEnd_ == model_.end() || lines_->edited())) return;
  // Another car, or another axle under lines that nobody has touched: figures and parts of its own. While the same car
  // is edited the order stays: "keep the same, but with another tyre" is asked by editing the car under it.
  const bool carEdited = shownCar_ && shownCar_->id == model_.document().car().id && shownEnd_ == model_.end();
  shownCar_ = model_.document().sharedCar();
  turn_->setSteers(shownCar_->steering.spec);
  giveUp();
  if (carEdited) {
    fillParts();
    fillSame();
    tellCount();
    return;
  }
  shownEnd_ = model_.end();
  fillParts();
  fillSame();
  lines_->setPlaces(places(), tyres_.any());
  while (lines_->count() < 2) lines_->add();
  const bool linked = find_figure("roll_centre") && applies(*find_figure("roll_centre"), *shownCar_, shownEnd_);
  if (linked && lines_->count() == 2) {
    const auto now = [&](const char* id) { return present({find_figure(id), shownEnd_, std::nullopt}); };
    if (const auto v = now("roll_centre")) setAim(0, "roll_centre", false, *v + 1.0, 0.1);
    if (const auto v = now("camber_gain")) setAim(1, "camber_gain", true, *v, 0.02);
  }
  lines_->forgetEdits();
  tellCount();
}

void RecipePanel::giveUp() {
  // What was found, or is being looked for, is for another axle or car.
  weighing_.giveUp();
  against_->setText(tr("One want against the other"));
  tradeOff_.reset();
  if (cancel_) *cancel_ = true;
  cancel_.reset();
  search_->setText(tr("Search"));
  progress_->setValue(0);
  result_.reset();
  toBuy_.clear();
  fillTable();
}

void RecipePanel::setAim(int line, std::string_view figure, bool hold, double value, double tolerance,
                         std::optional<End> end) {
  lines_->set(line, figure, end.value_or(model_.end()), hold, value, tolerance);
}

void RecipePanel::setWish(int line, const HandlingWish& wish) {
  lines_->setWish(line, wish);
}

void RecipePanel::askOfSprings(const HeldTurn& under) {
  if (under != Acceleration{} && under != turn_->turn()) {
    turn_->setTurn(under);
    onSprings_.reset();
    lines_->readSpringsAgain();
  }
  // What the racer has asked stays; this is asked besides.
  const bool besides = lines_->edited();
  int line = besides ? lines_->count() : 0;
  constexpr std::array asked{std::pair("roll", false), std::pair("front_transfer", true)};
  if (lines_->asksOfSprings() || line + static_cast<int>(asked.size()) > AimLines::most) return;
  for (const auto& [id, hold] : asked) {
    const FigureSpec& f = *find_figure(id);
    if (const auto now = present({&f, End::front, Side::left}))
      setAim(line++, id, hold, *now, (hold ? 4.0 : 2.0) * f.resolution(), End::front);
  }
  if (!besides && line > 0) lines_->keepFirst(line);
}

void RecipePanel::setAlike(int line, std::string_view figure, bool hold, double tolerance) {
  lines_->setAlike(line, figure, hold, tolerance);
}

void RecipePanel::takeWishes(const std::vector<HandlingWish>& wishes, double share) {
  if (wishes.empty()) return;
  int line = 0;
  for (const HandlingWish& wish : wishes) setWish(line++, wish);
  lines_->keepFirst(line);
  share_->setValue(static_cast<int>(std::lround(100.0 * share)));
}

bool RecipePanel::ofThisCar() const {
  return shownCar_ && shownCar_ == model_.document().sharedCar();
}

void RecipePanel::asInBaseline() {
  if (!ofThisCar()) return;
  // The part that was changed stays as it is now; the others make up for it.
  for (const PartHandle i : allParts())
    if (model_.document().setup().of(i) != model_.document().baseline().of(i))
      forbidden_.insert(shownCar_->adjusters[i].id);
  fillParts();
  int line = 0;
  for (const FigureSpec* f : flagged(geometry_figures(), kept)) {
    if (!applies(*f, *shownCar_, shownEnd_)) continue;
    if (const auto v = baseline(*f)) setAim(line++, f->id, false, *v, 4.0 * f->resolution(), model_.end());
  }
  if (line > 0) lines_->keepFirst(line);
  tellCount();
}

void RecipePanel::startWith(PartHandle adjuster, double value) {
  if (!ofThisCar()) return;
  model_.document().setValue(adjuster, Sides::both, value);
  model_.flush();
  asInBaseline();
}

void RecipePanel::fillSame() {
  sameMenu_->clear();
  sameMenu_->addAction(tr("with the parts changed since the baseline"), this, &RecipePanel::asInBaseline);
  sameMenu_->addSeparator();
  const Car& car = *shownCar_;
  for (const PartHandle i : recipe_parts(car, model_.end())) {
    const Adjuster& a = car.adjusters[i];
    QMenu* values = sameMenu_->addMenu(tr("with another %1").arg(QString::fromStdString(a.name)));
    const double now = model_.document().setup().of(i).left;
    for (int step = -startSteps; step <= startSteps; ++step)
      if (const double v = a.stepped(now, step);
          step != 0 && v != now && std::abs(v - a.stepped(now, step - (step > 0 ? 1 : -1))) > 0.0)
        values->addAction(valueText(a, v), this, [this, i, v] { startWith(i, v); });
    if (values->isEmpty()) values->menuAction()->setVisible(false);
  }
  sameMenu_->addSeparator();
  QAction* hint = sameMenu_->addAction(tr("Another tyre, hub or arm: fill the lines first, then change it in Car"));
  hint->setEnabled(false);
}

void RecipePanel::letChange(const std::vector<PartHandle>& parts) {
  forbidden_.clear();
  for (const PartHandle i : allParts())
    if (std::find(parts.begin(), parts.end(), i) == parts.end()) forbidden_.insert(shownCar_->adjusters[i].id);
  fillParts();
  tellCount();
}

void RecipePanel::fillParts() {
  partMenu_->clear();
  const Car& car = *shownCar_;
  partMenu_->addAction(tr("All parts of the car"), this, [this] { letChange(allParts()); })
      ->setObjectName(QStringLiteral("recipe.allParts"));
  partMenu_->addAction(tr("Springs, bars and weights alone"), this, [this] { letChange(light_load_parts(*shownCar_)); })
      ->setObjectName(QStringLiteral("recipe.lightParts"));
  partMenu_->addSeparator();
  for (const End end : both_ends) {
    QMenu* menu = partMenu_->addMenu(end == End::front ? tr("Front") : tr("Rear"));
    menu->setObjectName(QStringLiteral("recipe.partMenu.") + QLatin1String(name_of(end).data()));
    const std::vector<PartHandle> parts = recipe_parts(car, end);
    const auto all = [this, menu](bool on) {
      for (QAction* a : menu->actions())
        if (a->isCheckable()) a->setChecked(on);
    };
    menu->addAction(tr("All of them"), this, [all] { all(true); });
    menu->addAction(tr("None of them"), this, [all] { all(false); });
    menu->addSeparator();
    for (const PartHandle i : parts) {
      const Adjuster& a = car.adjusters[i];
      QAction* action = menu->addAction(QString::fromStdString(a.name));
      action->setCheckable(true);
      action->setChecked(!forbidden_.contains(a.id));
      action->setData(i.number());
      connect(action, &QAction::toggled, this, [this, id = a.id](bool on) {
        if (on)
          forbidden_.erase(id);
        else
          forbidden_.insert(id);
        tellCount();
      });
    }
  }
}

std::optional<RecipeOrder> RecipePanel::order() {
  if (!model_.document().hasCar() || !ofThisCar()) return std::nullopt;
  const Car& car = model_.document().car();
  RecipeOrder o;
  o.reset = model_.holds();
  o.under = under();
  o.most_parts = most_->currentIndex() + 1;
  if (robust_->isChecked()) o.also_good_with = disturbances(heightLost_->value(), rodOff_->value());
  for (const PartHandle i : allParts())
    if (!forbidden_.contains(car.adjusters[i].id)) o.parts.push_back(i);
  o.aims = lines_->aims();
  if (const std::vector<HandlingWish> wishes = lines_->wishes(); !wishes.empty()) {
    o.wishes = tyres_.wishOrder(car);
    o.wishes.wishes = wishes;
    o.wishes.share = share_->value() / 100.0;
  }
  if (boxOnly_->isChecked()) o.boxes = boxes_.known();
  return o;
}

void RecipePanel::tellCount() {
  const auto o = order();
  if (!o || busy()) return;
  const Car& car = model_.document().car();
  const QString all = QLocale().toString(static_cast<qulonglong>(candidates_of(car, model_.document().setup(), *o)));
  against_->setEnabled(two_wants(*o).has_value());
  parts_->setText(tr("%1 of %2 parts may change").arg(o->parts.size()).arg(allParts().size()));
  news_->setText(axle_combinations_of(car, model_.document().setup(), *o) > longSearch
                     ? tr("%1 candidates: that takes a while.").arg(all)
                     : tr("%1 candidates.").arg(all));
}

void RecipePanel::search() {
  if (cancel_) {
    *cancel_ = true;
    return;
  }
  model_.flush();
  auto o = order();
  if (!o) return;
  giveUp();
  result_.reset();
  toBuy_.clear();
  from_ = model_.document().setup();
  fillTable();
  asked_ = *o;
  cancel_ = std::make_shared<std::atomic<bool>>(false);
  search_->setText(tr("Stop"));
  news_->setText(tr("Searching ..."));
  progress_->setValue(0);
  doElsewhere([self = QPointer<RecipePanel>(this), o = std::move(*o), cancel = cancel_,
               car = model_.document().sharedCar(), before = model_.document().baseline(),
               start = model_.document().setup()] {
    // What few changes can do costs next to nothing and stands there first; stopped, the last that was looked at whole
    // stays.
    std::optional<Recipe> whole;
    // What the driver feels of each part is worked out once; what is read of them comes in by itself.
    for (int most = o.wishes.asked() ? o.most_parts : 1; most <= o.most_parts; ++most) {
      const bool last = most == o.most_parts;
      if (*cancel && !last) continue;
      RecipeOrder fewer = o;
      fewer.most_parts = most;
      std::mutex telling;
      QElapsedTimer told;
      told.start();
      const auto tell = [&](const tl::expected<Recipe, CarFailure>& now, std::vector<WorthBuying> toBuy, bool done) {
        QMetaObject::invokeMethod(
            qApp,
            [self, cancel, car, done, now = tl::expected<Recipe, CarFailure>(now), toBuy = std::move(toBuy)]() mutable {
              if (self && self->cancel_ == cancel) self->take(car, std::move(now), std::move(toBuy), done);
            },
            Qt::QueuedConnection);
      };
      auto found = find_recipe(
          *car, before, start, fewer,
          [&](double share) {
            const std::scoped_lock lock(telling);
            if (last && told.elapsed() >= tellEveryMs) {
              told.restart();
              QMetaObject::invokeMethod(
                  qApp,
                  [self, cancel, share] {
                    if (self && self->cancel_ == cancel) self->progress_->setValue(static_cast<int>(1000.0 * share));
                  },
                  Qt::QueuedConnection);
            }
            return !*cancel;
          },
          [&](const Recipe& so_far) { tell(so_far, {}, false); });
      if (found && found->stopped && whole) {
        found->results = whole->results;
        found->front = whole->front;
      } else if (found && !found->stopped) {
        whole = *found;
      }
      const bool does = found && !found->results.empty() && found->results.front().meets();
      if (!last || !fewer.boxes || !found || does || *cancel) {
        tell(found, {}, last);
        continue;
      }
      // What is at hand does not do it: what else would?
      tell(found, {}, false);
      RecipeOrder all = fewer;
      all.boxes.reset();
      const auto with_all = find_recipe(*car, before, start, all, [&](double) { return !*cancel; });
      tell(found,
           with_all ? worth_buying(*found, *with_all, Stock(*fewer.boxes, *car, start)) : std::vector<WorthBuying>{},
           true);
    }
  });
}

void RecipePanel::take(std::shared_ptr<const Car> car, tl::expected<Recipe, CarFailure> found,
                       std::vector<WorthBuying> toBuy, bool last) {
  if (last) {
    cancel_.reset();
    search_->setText(tr("Search"));
    progress_->setValue(0);
  }
  if (!found) {
    if (last) news_->setText(QString::fromStdString(found.error().message));
    return;
  }
  // A row in hand stays in hand while better ones come in.
  const int row = table_->currentRow();
  std::optional<Setup> inHand;
  if (result_ && row >= 0 && row < static_cast<int>(rows_.size())) inHand = rows_[at(row)].result.setup;
  resultFor_ = std::move(car);
  result_ = std::move(*found);
  toBuy_ = std::move(toBuy);
  QString text = judgedText(*result_);
  if (!result_->results.empty() && result_->results.front().changes.empty() && !asked_.wishes.asked())
    text = result_->results.front().meets()
               ? tr("What sets it directly does it alone; no part need be changed.")
               : tr("%1 This is as near as it can be set; no part that may change brings it closer.").arg(text);
  if (const std::string none = why_none(*result_, asked_); !none.empty()) text += QLatin1Char(' ') + sentenceOf(none);
  if (!last) text = tr("So far: %1").arg(text);
  if (boxOnly_->isChecked() && !boxes_.known()) text += tr(" Nothing is listed in your boxes yet.");
  const bool met = !result_->results.empty() && result_->results.front().meets();
  if (last && boxOnly_->isChecked() && boxes_.known() && !met && toBuy_.empty() && !result_->stopped)
    text += tr(" What you own does not do it, and nothing else that the car file names comes closer.");
  if (!toBuy_.empty())
    text += tr(" What you own does not do it; the last lines would, or come closer, with what they name.");
  news_->setText(text);
  fillTable();
  for (std::size_t i = 0; inHand && i < rows_.size(); ++i)
    if (rows_[i].result.setup == *inHand) table_->setCurrentCell(static_cast<int>(i), 0);
}

void RecipePanel::fillRows() {
  rows_.clear();
  if ((!result_ && !tradeOff_) || !resultFor_ || !from_) return;
  std::optional<Stock> stock;
  if (const auto known = boxes_.known(); known && fits(*from_, *resultFor_)) stock.emplace(*known, *resultFor_, *from_);
  const bool byWork = !tradeOff_ && byWork_->isChecked();
  for (const RecipeResult& r : tradeOff_ ? tradeOff_->points : byWork ? result_->front : result_->results)
    rows_.push_back({r, stock ? stock->lacks(r.setup) : std::vector<Lack>{}});
  if (byWork || tradeOff_) return;
  for (const WorthBuying& w : toBuy_) rows_.push_back({w.result, w.lacks});
}

void RecipePanel::fillTable() {
  const QSignalBlocker quiet(table_);
  byWork_->setEnabled(result_ && !result_->front.empty());
  fillRows();
  table_->setRowCount(static_cast<int>(rows_.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const RecipeResult& r = rows_[at(row)].result;
    const auto& lacks = rows_[at(row)].lacks;
    QStringList changes;
    for (const PartChange& c : r.changes) changes << changeText(*resultFor_, c);
    if (r.changes.empty()) changes << settingLines(*resultFor_, *from_, r, false);
    if (changes.isEmpty()) changes << tr("Nothing to do: it is so already.");
    for (const Lack& l : lacks) changes << tr("not there: %1").arg(lackText(*resultFor_, l));
    QStringList gives;
    for (std::size_t i = 0; i < asked_.aims.size(); ++i)
      if (!asked_.aims[i].hold) gives << givenText(asked_.aims[i], r.gives[i]);
    for (std::size_t i = 0; r.felt && i < asked_.wishes.wishes.size(); ++i)
      if (!asked_.wishes.wishes[i].hold) gives << feltDifference(asked_.wishes.wishes[i].figure, r.felt->by[i]);
    const std::array<QString, RecipeColumn::count> texts{
        changes.join(QLatin1Char('\n')),
        (r.meets() ? QStringLiteral("\u2713 ") : QStringLiteral("\u2248 ")) + gives.join(QLatin1Char('\n')),
        tr("%1 min").arg(std::lround(r.work.minutes))};
    for (int i = 0; i < RecipeColumn::count; ++i) {
      auto* item = new QTableWidgetItem(texts[at(i)]);
      item->setFont(i == RecipeColumn::parts ? textFont(12) : figureFont(12, i == RecipeColumn::reached));
      item->setToolTip(texts[at(i)]);
      item->setTextAlignment(Qt::AlignLeft | Qt::AlignTop);  // in a low list the middle of a tall row is out of sight
      table_->setItem(row, i, item);
    }
  }
  table_->setCurrentCell(-1, -1);
  drawTradeOff();
  fitRows();
  showSteps();
}

/// In a small window, and beside the drawing, the list is narrow, and its lines are broken.
void RecipePanel::fitRows() {
  constexpr int apart = 5;  ///< px between two results
  table_->resizeRowsToContents();
  for (int row = 0; row < table_->rowCount(); ++row) table_->setRowHeight(row, table_->rowHeight(row) + apart);
}

void RecipePanel::weighWants() {
  if (weighing_.busy()) {
    giveUp();
    news_->setText(tr("Stopped."));
    return;
  }
  model_.flush();
  auto o = order();
  if (!o || !two_wants(*o)) {
    news_->setText(tr("Two wanted figures are weighed against each other; hold the others."));
    return;
  }
  giveUp();
  from_ = model_.document().setup();
  asked_ = *o;
  against_->setText(tr("Stop"));
  news_->setText(tr("Weighing the two wants ..."));
  const auto car = model_.document().sharedCar();
  const auto told = toldInWindow<double>(
      this, [this](const double& share) { progress_->setValue(static_cast<int>(1000.0 * share)); });
  weighing_.start(
      [o = std::move(*o), car, before = model_.document().baseline(), start = *from_,
       told](const std::atomic<bool>& cancelled) {
        std::mutex telling;
        QElapsedTimer since;
        since.start();
        return find_trade_off(*car, before, start, o, [&](double share) {
          const std::scoped_lock lock(telling);
          if (since.elapsed() >= tellEveryMs) {
            since.restart();
            told(share);
          }
          return !cancelled;
        });
      },
      [this, car](tl::expected<TradeOff, CarFailure> found) { takeTradeOff(car, std::move(found)); });
}

void RecipePanel::takeTradeOff(std::shared_ptr<const Car> car, tl::expected<TradeOff, CarFailure> found) {
  against_->setText(tr("One want against the other"));
  progress_->setValue(0);
  if (!found) {
    news_->setText(sentenceOf(found.error()));
    return;
  }
  resultFor_ = std::move(car);
  tradeOff_ = std::move(*found);
  const auto label = [&](std::size_t aim) { return aimLabel(asked_.aims[aim]); };
  const std::size_t n = tradeOff_->points.size();
  news_->setText(
      n == 0   ? tr("None can be done.")
      : n == 1 ? tr("The two do not pull apart: this one is the nearest to both.")
               : tr("%1 ways from the nearest to %2 to the nearest to %3; with exact turns none is beaten in both.%4")
                     .arg(n)
                     .arg(label(tradeOff_->first), label(tradeOff_->second),
                          tradeOff_->complete ? QString() : tr(" Not all candidates were judged.")));
  fillTable();
}

/// The front as a drawing: the one figure across, the other upright, with what is wanted and what is now.
void RecipePanel::drawTradeOff() {
  shareRoom();
  if (!tradeOff_ || tradeOff_->points.size() < 2) return;
  const RecipeAim &across = asked_.aims[tradeOff_->first], &upright = asked_.aims[tradeOff_->second];
  const auto title = [](const RecipeAim& a) { return tr("%1, %2").arg(aimLabel(a), unitText(a.figure->unit)); };
  // Where eighths of a turn put the car, as the lines tell it.
  QList<QPointF> front;
  for (const RecipeResult& r : tradeOff_->points)
    front << QPointF(r.gives[tradeOff_->first], r.gives[tradeOff_->second]);
  chart_->show(title(across), title(upright),
               {{LineKind::quiet, front, QString()},
                {LineKind::points, front, QString()},
                {LineKind::points, {QPointF(across.range().value, upright.range().value)}, tr("wanted")}});
}

void RecipePanel::showSteps() {
  const int row = table_->currentRow();
  const bool any = row >= 0 && row < static_cast<int>(rows_.size());
  try_->setEnabled(any);
  if (!any) {
    steps_->setText(tr("Choose a result: its steps stand here in bench order."));
    return;
  }
  const RecipeResult& r = rows_[at(row)].result;
  const auto& lacks = rows_[at(row)].lacks;
  if (tradeOff_) chart_->mark(r.gives[tradeOff_->first]);
  QStringList lines;
  QStringList off;
  if (r.work.wheels_off) off << tr("wheels off");
  if (r.work.shocks_off) off << tr("shocks off");
  if (r.work.balls > 0) off << tr("%1 balls off").arg(r.work.balls);
  if (!off.isEmpty()) lines << off.join(QStringLiteral(", "));
  for (const PartChange& c : r.changes) lines << changeText(*resultFor_, c);
  lines << settingLines(*resultFor_, *from_, r, true);
  QStringList numbered;
  for (qsizetype i = 0; i < lines.size(); ++i)
    numbered << QStringLiteral("%1. %2").arg(i + 1).arg(lines[i].left(1).toUpper() + lines[i].mid(1));
  QStringList then;
  for (std::size_t i = 0; r.felt && i < asked_.wishes.wishes.size(); ++i) {
    const HandlingWish& w = asked_.wishes.wishes[i];
    then << tr("%1 %2").arg(feltLabel(w.figure, w.phase), feltDifference(w.figure, r.felt->by[i]));
  }
  if (r.felt) then << tr("so felt on %1 % of the tyres").arg(std::lround(100.0 * r.felt->share));
  for (std::size_t i = 0; i < asked_.aims.size(); ++i)
    then << tr("%1 %2").arg(aimLabel(asked_.aims[i]), givenText(asked_.aims[i], r.gives[i]));
  // What it then stands on beside its springs.
  const bool ofLoad =
      std::any_of(asked_.aims.begin(), asked_.aims.end(), [](const RecipeAim& a) { return a.figure->of_load(); });
  if (const QString stand = ofLoad ? standNotesOf(*resultFor_, r.setup, asked_.under) : QString(); !stand.isEmpty())
    then << stand;
  const QString missing = lacks.empty() ? QString()
                                        : tr("\u26A0 Not in your boxes: %1").arg(lacksText(*resultFor_, lacks, true)) +
                                              QStringLiteral("\n\n");
  steps_->setText(missing + numbered.join(QLatin1Char('\n')) + QStringLiteral("\n\n") +
                  tr("Then: %1").arg(then.join(QStringLiteral(";\n"))));
}

void RecipePanel::tryResult() {
  const int row = table_->currentRow();
  if (row < 0 || row >= static_cast<int>(rows_.size()) || resultFor_ != model_.document().sharedCar()) return;
  model_.document().putSetup(rows_[at(row)].result.setup, tr("Recipe"));
}

}  // namespace lowkite::app
