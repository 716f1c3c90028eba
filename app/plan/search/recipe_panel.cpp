#include "app/plan/search/recipe_panel.h"

#include <algorithm>
#include <cmath>

#include <QAbstractItemView>
#include <QAction>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QMenu>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QThreadPool>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/background/in_background.h"
#include "app/look/theme.h"
#include "app/widgets/form_column.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/tables.h"
#include "app/widgets/toe_spin.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct RecipeColumn {
  enum : int { parts, reached, minutes, count };
};

const QString boxKey = QStringLiteral("recipe/box");
constexpr int mostParts = 4;
constexpr int startSteps = 4;  ///< how far "keep the same, but" offers a part to be moved
constexpr int tellEveryMs = 60;
/// Above this many candidates the search takes long enough to say so beforehand.
constexpr std::uint64_t longSearch = 3'000'000;

ToeSpin* figureField(QWidget* parent, const QString& name) {
  auto* s = new ToeSpin(parent);
  s->setObjectName(name);
  s->setRange(-100000.0, 100000.0);
  s->setButtonSymbols(QAbstractSpinBox::NoButtons);
  s->setMinimumHeight(targetHeight);
  s->setAlignment(Qt::AlignRight);
  return s;
}

const FigureSpec* figureOf(const QComboBox& box) {
  return find_figure(box.currentData().toByteArray().toStdString());
}

QString changeText(const Car& car, const RecipeChange& c) {
  const Adjuster& a = car.adjusters[static_cast<std::size_t>(c.adjuster)];
  // The unit once: "2 -> 2.5 mm".
  const QString to = valueText(a, c.to);
  QString from = valueText(a, c.from);
  const QString unit = QLatin1Char(' ') + unitText(Unit::mm);
  if (from.endsWith(unit) && to.endsWith(unit)) from.chop(unit.size());
  return QStringLiteral("%1: %2 \u2192 %3").arg(QString::fromStdString(a.name), from, to);
}

}  // namespace

RecipePanel::RecipePanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("recipe"));
  const auto [column, across] = formColumn(this, 430);
  // Three lines are on show; more are scrolled to, and the steps of a result likewise.
  auto* lines = new QWidget(this);
  aimColumn_ = new QVBoxLayout(lines);
  aimColumn_->setContentsMargins(0, 0, 0, 0);
  aimColumn_->setSpacing(3);
  aimScroll_ = scrolled(lines, this);
  column->addWidget(aimScroll_);

  auto* more = new QPushButton(tr("One more figure"), this);
  more->setObjectName(QStringLiteral("recipe.more"));
  connect(more, &QPushButton::clicked, this, &RecipePanel::addAim);
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
  column->addLayout(aimRow);

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
  for (int n = 2; n <= mostParts; ++n) most_->addItem(tr("at most %1 at once").arg(n));
  most_->setCurrentIndex(1);
  connect(most_, &QComboBox::currentIndexChanged, this, &RecipePanel::tellCount);
  auto* partRow = new QHBoxLayout;
  partRow->addWidget(parts_, 1);
  partRow->addWidget(most_);
  column->addLayout(partRow);

  boxOnly_ = new QCheckBox(tr("only shims from my box"), this);
  boxOnly_->setObjectName(QStringLiteral("recipe.boxOnly"));
  box_ = new QLineEdit(this);
  box_->setObjectName(QStringLiteral("recipe.box"));
  box_->setText(QSettings().value(boxKey, QStringLiteral("0.25x4  0.5x8  1x6  2x4")).toString());
  box_->setToolTip(tr("Thickness in mm and how many: 0.5x8 1x6. Those that a change frees count too."));
  box_->setAccessibleName(tr("Shims in the box"));
  box_->setMinimumHeight(targetHeight);
  box_->setEnabled(false);
  connect(boxOnly_, &QCheckBox::toggled, box_, &QWidget::setEnabled);
  auto* boxRow = new QHBoxLayout;
  boxRow->addWidget(boxOnly_);
  boxRow->addWidget(box_, 1);
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
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("recipe.news"));
  news_->setWordWrap(true);
  auto* searchRow = new QHBoxLayout;
  searchRow->addWidget(news_, 1);
  searchRow->addWidget(search_);
  column->addLayout(searchRow);
  column->addWidget(progress_);

  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("recipe.table"));
  dressTable(*table_, {{tr("Change")}, {tr("gives"), 110}, {tr("work"), 76}});
  table_->setWordWrap(true);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  connect(table_, &QTableWidget::currentCellChanged, this, &RecipePanel::showSteps);
  connect(table_, &QTableWidget::cellDoubleClicked, this, &RecipePanel::tryResult);
  column->addStretch(1);
  across->addWidget(table_, 3);
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
  try_->setFixedWidth(260);
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

void RecipePanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

std::optional<double> RecipePanel::present(const FigureSpec& figure) const {
  const Comparison* c = model_.comparison();
  return c ? figure.read(c->changed->source, model_.end(), Side::left) : std::nullopt;
}

std::optional<double> RecipePanel::baseline(const FigureSpec& figure) const {
  const Comparison* c = model_.comparison();
  return c ? figure.read(c->baseline->source, model_.end(), Side::left) : std::nullopt;
}

void RecipePanel::refresh() {
  if (!isVisible() || !model_.document().hasCar() || !model_.comparison()) return;
  if (shownCar_ == model_.document().sharedCar() && shownEnd_ == model_.end() && !aims_.empty()) return;
  // Another axle or car: its own figures and parts. While the same car is edited the order stays: "keep the same, but
  // with another tyre" is asked by editing the car under it.
  const bool edited = shownCar_ && shownEnd_ == model_.end() && shownCar_->id == model_.document().car().id;
  shownCar_ = model_.document().sharedCar();
  giveUp();
  if (edited) {
    fillParts();
    fillSame();
    tellCount();
    return;
  }
  shownEnd_ = model_.end();
  fillParts();
  fillSame();
  if (aims_.empty()) {
    addAim();
    addAim();
  }
  for (AimRow& row : aims_) fillFigures(row);
  const bool linked = find_figure("roll_centre") && applies(*find_figure("roll_centre"), *shownCar_, shownEnd_);
  if (linked && aims_.size() == 2) {
    if (const auto now = present(*find_figure("roll_centre"))) setAim(0, "roll_centre", false, *now + 1.0, 0.1);
    if (const auto now = present(*find_figure("camber_gain"))) setAim(1, "camber_gain", true, *now, 0.02);
  }
  tellCount();
}

void RecipePanel::giveUp() {
  // What was found, or is being looked for, is for another axle or car.
  if (cancel_) *cancel_ = true;
  cancel_.reset();
  search_->setText(tr("Search"));
  progress_->setValue(0);
  result_.reset();
  fillTable();
}

void RecipePanel::addAim() {
  if (static_cast<int>(aims_.size()) >= mostAims) {
    news_->setText(tr("%1 figures at most.").arg(mostAims));
    return;
  }
  AimRow row;
  const QString name = QStringLiteral("recipe.aim%1.").arg(aims_.size());
  row.box = new QWidget(this);
  auto* line = new QHBoxLayout(row.box);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(3);
  row.hold = new QToolButton(row.box);
  row.hold->setObjectName(name + QStringLiteral("hold"));
  row.hold->setCheckable(true);
  row.hold->setProperty("slim", true);
  row.hold->setFixedWidth(48);
  row.hold->setToolTip(tr("Want: come as close as can be. Hold: a candidate that leaves it is none."));
  connect(row.hold, &QToolButton::toggled, row.hold,
          [b = row.hold](bool on) { b->setText(on ? tr("hold") : tr("want")); });
  row.hold->setText(tr("want"));
  row.hold->setChecked(!aims_.empty());
  row.figure = new QComboBox(row.box);
  row.figure->setObjectName(name + QStringLiteral("figure"));
  row.figure->setMinimumHeight(targetHeight);
  row.figure->setMinimumWidth(90);
  row.figure->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  row.figure->setFont(textFont(12));
  row.figure->view()->setMinimumWidth(240);
  row.value = figureField(row.box, name + QStringLiteral("value"));
  row.value->setAccessibleName(tr("Value of line %1").arg(aims_.size() + 1));
  row.value->setFixedWidth(112);
  row.tolerance = figureField(row.box, name + QStringLiteral("tolerance"));
  row.tolerance->setPrefix(QStringLiteral("\u00B1 "));
  row.tolerance->setMinimum(0.0);
  row.tolerance->setAccessibleName(tr("How near is near enough, line %1").arg(aims_.size() + 1));
  row.tolerance->setFixedWidth(60);
  auto* away = new QToolButton(row.box);
  away->setObjectName(name + QStringLiteral("remove"));
  away->setText(QStringLiteral("\u00D7"));
  away->setAccessibleName(tr("Remove this line"));
  away->setProperty("slim", true);
  away->setFixedWidth(30);
  line->addWidget(row.hold);
  line->addWidget(row.figure, 1);
  line->addWidget(row.value);
  line->addWidget(row.tolerance);
  line->addWidget(away);
  aimColumn_->addWidget(row.box);
  connect(away, &QToolButton::clicked, this, [this, box = row.box] { removeAim(box); });
  connect(row.figure, &QComboBox::activated, this, [this, box = row.box] {
    for (const AimRow& r : aims_)
      if (r.box == box) figureChosen(r);
  });
  aims_.push_back(row);
  fitAims();
  if (shownCar_) fillFigures(aims_.back());
}

void RecipePanel::removeAim(QWidget* box) {
  if (aims_.size() < 2) return;
  std::erase_if(aims_, [&](const AimRow& r) { return r.box == box; });
  box->deleteLater();
  fitAims();
}

void RecipePanel::fitAims() {
  const int lines = std::min(3, static_cast<int>(aims_.size()));
  aimScroll_->setFixedHeight(lines * (targetHeight + 6));
}

void RecipePanel::fillFigures(AimRow& row) {
  const QByteArray before = row.figure->currentData().toByteArray();
  const QSignalBlocker quiet(row.figure);
  row.figure->clear();
  for (const FigureSpec& f : geometry_figures())
    if (applies(f, *shownCar_, shownEnd_) && present(f))
      row.figure->addItem(figureLabel(f), QByteArray(f.id.data(), static_cast<qsizetype>(f.id.size())));
  const int same = row.figure->findData(before);
  row.figure->setCurrentIndex(std::max(0, same));
  figureChosen(row);
}

void RecipePanel::figureChosen(const AimRow& row) {
  const FigureSpec* f = figureOf(*row.figure);
  if (!f) return;
  for (QDoubleSpinBox* s : std::initializer_list<QDoubleSpinBox*>{row.value, row.tolerance}) {
    s->setDecimals(std::max(1, f->decimals));
    s->setSingleStep(2.0 * f->resolution());
  }
  // A bare 1.1 does not say which way: toe is told as in or out.
  row.value->setToe(f->wording == Wording::toe, unitText(f->unit));
  row.value->setValue(present(*f).value_or(0.0));
  row.tolerance->setValue(2.0 * f->resolution());
  row.figure->setToolTip(tr("%1, %2").arg(figureLabel(*f), unitText(f->unit)));
}

void RecipePanel::setAim(int line, std::string_view figure, bool hold, double value, double tolerance) {
  while (static_cast<int>(aims_.size()) <= line) addAim();
  AimRow& row = aims_[static_cast<std::size_t>(line)];
  row.hold->setChecked(hold);
  row.figure->setCurrentIndex(row.figure->findData(QByteArray(figure.data(), static_cast<qsizetype>(figure.size()))));
  figureChosen(row);
  row.value->setValue(value);
  row.tolerance->setValue(tolerance);
}

bool RecipePanel::ofThisCar() const {
  return shownCar_ && shownCar_ == model_.document().sharedCar();
}

void RecipePanel::asInBaseline() {
  if (!ofThisCar()) return;
  // The part that was changed stays as it is now; the others make up for it.
  for (const int i : recipe_parts(*shownCar_, shownEnd_))
    if (model_.document().setup().at_index(i) != model_.document().baseline().at_index(i))
      forbidden_.insert(shownCar_->adjusters[static_cast<std::size_t>(i)].id);
  fillParts();
  int line = 0;
  for (const FigureSpec* f : flagged(geometry_figures(), kept)) {
    if (!applies(*f, *shownCar_, shownEnd_)) continue;
    if (const auto v = baseline(*f)) setAim(line++, f->id, false, *v, 4.0 * f->resolution());
  }
  while (line > 0 && static_cast<int>(aims_.size()) > line) removeAim(aims_.back().box);
  tellCount();
}

void RecipePanel::startWith(int adjuster, double value) {
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
  for (const int i : recipe_parts(car, shownEnd_)) {
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(i)];
    QMenu* values = sameMenu_->addMenu(tr("with another %1").arg(QString::fromStdString(a.name)));
    const double now = model_.document().setup().at_index(i).left;
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

void RecipePanel::fillParts() {
  partMenu_->clear();
  const Car& car = *shownCar_;
  for (const int i : recipe_parts(car, shownEnd_)) {
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(i)];
    QAction* action = partMenu_->addAction(QString::fromStdString(a.name));
    action->setCheckable(true);
    action->setChecked(!forbidden_.contains(a.id));
    action->setData(i);
    connect(action, &QAction::toggled, this, [this, id = a.id](bool on) {
      if (on)
        forbidden_.erase(id);
      else
        forbidden_.insert(id);
      tellCount();
    });
  }
}

std::optional<RecipeOrder> RecipePanel::order(QString* wrong) {
  if (!model_.document().hasCar()) return std::nullopt;
  const Car& car = model_.document().car();
  RecipeOrder o;
  o.end = model_.end();
  o.reset = model_.holds();
  o.most_parts = most_->currentIndex() + 1;
  for (const int i : recipe_parts(car, o.end))
    if (!forbidden_.contains(car.adjusters[static_cast<std::size_t>(i)].id)) o.parts.push_back(i);
  for (const AimRow& row : aims_) {
    const FigureSpec* f = figureOf(*row.figure);
    if (f) o.aims.push_back({f, row.value->value(), row.tolerance->value(), row.hold->isChecked()});
  }
  if (boxOnly_->isChecked()) {
    o.box = parse_shim_box(box_->text().toStdString());
    if (!o.box) {
      if (wrong) *wrong = tr("The box: found \"%1\"; allowed: thickness x number, such as 0.5x8 1x6").arg(box_->text());
      return std::nullopt;
    }
  }
  return o;
}

void RecipePanel::tellCount() {
  const auto o = order(nullptr);
  if (!o || busy()) return;
  const std::uint64_t all = candidates_of(model_.document().car(), model_.document().setup(), *o);
  parts_->setText(
      tr("%1 of %2 parts may change").arg(o->parts.size()).arg(recipe_parts(model_.document().car(), o->end).size()));
  news_->setText(all > longSearch ? tr("%1 candidates: that takes a while.").arg(QLocale().toString(all))
                                  : tr("%1 candidates.").arg(QLocale().toString(all)));
}

void RecipePanel::search() {
  if (cancel_) {
    *cancel_ = true;
    return;
  }
  QString wrong;
  model_.flush();
  auto o = order(&wrong);
  if (!o) {
    news_->setText(wrong);
    return;
  }
  QSettings().setValue(boxKey, box_->text());
  result_.reset();
  fillTable();
  asked_ = o->aims;
  cancel_ = std::make_shared<std::atomic<bool>>(false);
  search_->setText(tr("Stop"));
  news_->setText(tr("Searching ..."));
  progress_->setValue(0);
  QThreadPool::globalInstance()->start([self = QPointer<RecipePanel>(this), o = std::move(*o), cancel = cancel_,
                                        car = model_.document().sharedCar(), before = model_.document().baseline(),
                                        start = model_.document().setup()] {
    giveWay();
    QElapsedTimer told;
    told.start();
    auto found = find_recipe(*car, before, start, o, [&](double share) {
      if (told.elapsed() >= tellEveryMs) {
        told.restart();
        QMetaObject::invokeMethod(
            qApp,
            [self, cancel, share] {
              if (self && self->cancel_ == cancel) self->progress_->setValue(static_cast<int>(1000.0 * share));
            },
            Qt::QueuedConnection);
      }
      return !*cancel;
    });
    QMetaObject::invokeMethod(
        qApp,
        [self, cancel, car, found = std::move(found)]() mutable {
          if (self && self->cancel_ == cancel) self->take(car, std::move(found));
        },
        Qt::QueuedConnection);
  });
}

void RecipePanel::take(std::shared_ptr<const Car> car, tl::expected<Recipe, std::string> found) {
  cancel_.reset();
  search_->setText(tr("Search"));
  progress_->setValue(0);
  if (!found) {
    news_->setText(QString::fromStdString(found.error()));
    return;
  }
  resultFor_ = std::move(car);
  result_ = std::move(*found);
  const QLocale l;
  QString text = result_->stopped ? tr("Stopped after %1 of %2 candidates: not all were judged.")
                                        .arg(l.toString(result_->judged), l.toString(result_->of))
                                  : tr("All %1 candidates judged, %2 keep what is held.")
                                        .arg(l.toString(result_->judged), l.toString(result_->allowed));
  if (!result_->results.empty() && result_->results.front().changes.empty())
    text = tr("The link that holds it does it alone; no part need be changed.");
  if (result_->results.empty()) text += tr(" None can be done.");
  news_->setText(text);
  fillTable();
}

void RecipePanel::fillTable() {
  const QSignalBlocker quiet(table_);
  table_->setRowCount(result_ ? static_cast<int>(result_->results.size()) : 0);
  for (int row = 0; row < table_->rowCount(); ++row) {
    const RecipeResult& r = result_->results[static_cast<std::size_t>(row)];
    QStringList changes;
    for (const RecipeChange& c : r.changes) changes << changeText(*resultFor_, c);
    if (r.changes.empty()) changes << resetSentences(*resultFor_, r.alignment);
    QStringList gives;
    for (std::size_t i = 0; i < asked_.size(); ++i)
      if (!asked_[i].hold) gives << figureWithUnit(*asked_[i].figure, r.reached[i], 1);
    const std::array<QString, RecipeColumn::count> texts{
        changes.join(QLatin1Char('\n')),
        (r.meets() ? QStringLiteral("\u2713 ") : QStringLiteral("\u2248 ")) + gives.join(QLatin1Char('\n')),
        tr("%1 min").arg(std::lround(r.work.minutes))};
    for (int i = 0; i < RecipeColumn::count; ++i) {
      auto* item = new QTableWidgetItem(texts[static_cast<std::size_t>(i)]);
      item->setFont(i == RecipeColumn::parts ? textFont(12) : figureFont(12, i == RecipeColumn::reached));
      item->setToolTip(texts[static_cast<std::size_t>(i)]);
      table_->setItem(row, i, item);
    }
    table_->setRowHeight(row, 4 + 16 * static_cast<int>(std::max(changes.size(), gives.size())));
  }
  table_->setCurrentCell(-1, -1);
  showSteps();
}

void RecipePanel::showSteps() {
  const int row = table_->currentRow();
  const bool any = result_ && row >= 0 && row < static_cast<int>(result_->results.size());
  try_->setEnabled(any);
  if (!any) {
    steps_->setText(tr("Choose a result: its steps stand here in bench order."));
    return;
  }
  const RecipeResult& r = result_->results[static_cast<std::size_t>(row)];
  QStringList lines;
  QStringList off;
  if (r.work.wheels_off) off << tr("wheels off");
  if (r.work.shocks_off) off << tr("shocks off");
  if (r.work.balls > 0) off << tr("%1 balls off").arg(r.work.balls);
  if (!off.isEmpty()) lines << off.join(QStringLiteral(", "));
  for (const RecipeChange& c : r.changes) lines << changeText(*resultFor_, c);
  if (const QString collars = collarSentence(*shownCar_, r.bench, shownEnd_); !collars.isEmpty()) lines << collars;
  lines << droopSentences(*resultFor_, r.bench) << resetSentences(*resultFor_, r.alignment, true);
  if (const QString points = endPointSentence(r.bench); !points.isEmpty()) lines << points;
  QStringList numbered;
  for (qsizetype i = 0; i < lines.size(); ++i)
    numbered << QStringLiteral("%1. %2").arg(i + 1).arg(lines[i].left(1).toUpper() + lines[i].mid(1));
  steps_->setText(numbered.join(QLatin1Char('\n')));
}

void RecipePanel::tryResult() {
  const int row = table_->currentRow();
  if (!result_ || row < 0 || resultFor_ != model_.document().sharedCar()) return;
  model_.document().putSetup(result_->results[static_cast<std::size_t>(row)].setup, tr("Recipe"));
}

}  // namespace lowkite::app
