#include "app/plan/springs/wish_page.h"

#include <algorithm>
#include <cmath>

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/springs/fields.h"
#include "app/settings/my_boxes.h"
#include "app/widgets/choices.h"
#include "app/widgets/form_column.h"
#include "app/widgets/tables.h"
#include "app/words/recipe_words.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

enum Kind { notAsked, toHave, alike, held };

/// What the box has chosen; its figure is never null once it is filled.
FigurePlace chosenIn(const QComboBox& box) {
  const std::vector<FigurePlace> places = places_of(load_figures());
  const auto i = static_cast<std::size_t>(std::max(0, box.currentIndex()));
  return places[std::min(i, places.size() - 1)];
}

int indexOf(std::string_view figure, End end) {
  const std::vector<FigurePlace> places = places_of(load_figures());
  const auto found = std::find_if(places.begin(), places.end(), [&](const FigurePlace& p) {
    return p.figure->id == figure && p.end.value_or(end) == end;
  });
  return found == places.end() ? -1 : static_cast<int>(found - places.begin());
}

QString changesText(const Car& car, const std::vector<PartChange>& changes) {
  QStringList list;
  for (const PartChange& c : changes) list << changeText(car, c);
  return list.join(QStringLiteral("\n"));
}

}  // namespace

WishPage::WishPage(SprungCars& cars, MyBoxes& boxes, QWidget* parent)
    : QWidget(parent), cars_(cars), boxes_(boxes), background_(this) {
  setObjectName(QStringLiteral("wish"));
  const auto [column, across] = formColumn(this, 490);
  lateral_ = numberField(this, QStringLiteral("wish.lateral"), tr("Cornering in which it is read"), 0.0, 3.0, 1.0, 1,
                         0.1, tr(" g corner"));
  longitudinal_ =
      numberField(this, QStringLiteral("wish.longitudinal"), tr("Speeding up (+) or braking (-) in which it is read"),
                  -1.5, 1.5, 0.0, 1, 0.1, tr(" g power"));
  auto* under = new QHBoxLayout;
  under->addWidget(quietLabel(tr("What is wanted, at"), this), 1);
  for (QDoubleSpinBox* s : {lateral_, longitudinal_}) {
    s->setFixedWidth(128);
    under->addWidget(s);
  }
  column->addLayout(under);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(4);
  grid->setVerticalSpacing(3);
  for (int i = 0; i < lines; ++i) {
    Line& l = lines_[static_cast<std::size_t>(i)];
    l.figure = new QComboBox(this);
    l.figure->setObjectName(QStringLiteral("wish.%1.figure").arg(i));
    l.figure->setAccessibleName(tr("Figure %1").arg(i + 1));
    l.figure->setMinimumHeight(targetHeight);
    l.figure->setMinimumContentsLength(10);
    l.figure->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    l.figure->setMaxVisibleItems(24);
    for (const FigurePlace& p : places_of(load_figures())) l.figure->addItem(placeLabel(p));
    l.figure->setMinimumWidth(widthOfChoices(*l.figure, 240));
    l.kind = new QComboBox(this);
    l.kind->setObjectName(QStringLiteral("wish.%1.kind").arg(i));
    l.kind->setAccessibleName(tr("What is asked of it"));
    l.kind->setMinimumHeight(targetHeight);
    l.kind->addItems({tr("not asked"), tr("to be"), tr("front = rear"), tr("stays")});
    l.value =
        numberField(this, QStringLiteral("wish.%1.value").arg(i), tr("The value wanted"), -1e5, 1e5, 0.0, 2, 0.1, {});
    l.tolerance = numberField(this, QStringLiteral("wish.%1.tolerance").arg(i), tr("How near is near enough"), 1e-3,
                              1e5, 0.1, 2, 0.05, {});
    l.tolerance->setPrefix(tr("\u00B1 "));
    for (QDoubleSpinBox* s : {l.value, l.tolerance}) {
      s->setButtonSymbols(QAbstractSpinBox::NoButtons);
      s->setFixedWidth(70);
    }
    grid->addWidget(l.figure, i, 0);
    grid->addWidget(l.kind, i, 1);
    grid->addWidget(l.value, i, 2);
    grid->addWidget(l.tolerance, i, 3);
    connect(l.figure, &QComboBox::currentIndexChanged, this,
            [this, i] { fillNow(lines_[static_cast<std::size_t>(i)]); });
    connect(l.kind, &QComboBox::currentIndexChanged, this, [this, i] { fillNow(lines_[static_cast<std::size_t>(i)]); });
  }
  grid->setColumnStretch(0, 1);
  column->addLayout(grid);
  parts_ = new QComboBox(this);
  parts_->setObjectName(QStringLiteral("wish.parts"));
  parts_->setAccessibleName(tr("Parts that may change"));
  parts_->addItems({tr("springs, bars, weights"), tr("all parts but links")});
  most_ = new QComboBox(this);
  most_->setObjectName(QStringLiteral("wish.most"));
  most_->setAccessibleName(tr("How many parts may change at once"));
  most_->addItems({tr("one at a time"), tr("at most 2 at once"), tr("at most 3 at once")});
  most_->setCurrentIndex(1);
  auto* partRow = new QHBoxLayout;
  for (QComboBox* b : {parts_, most_}) {
    b->setMinimumHeight(targetHeight);
    partRow->addWidget(b, 1);
    connect(b, &QComboBox::currentIndexChanged, this, &WishPage::tellCount);
  }
  column->addLayout(partRow);
  mine_ = new QCheckBox(tr("only what I own"), this);
  mine_->setObjectName(QStringLiteral("wish.mine"));
  mine_->setToolTip(tr("Only what lies in my boxes (Car, My boxes), is on the car, or is freed by the change itself."));
  column->addWidget(mine_, 0, Qt::AlignLeft);
  search_ = new QPushButton(tr("Search"), this);
  search_->setObjectName(QStringLiteral("wish.search"));
  search_->setMinimumHeight(44);
  steps_ = new QPushButton(tr("One step of every part"), this);
  steps_->setObjectName(QStringLiteral("wish.steps"));
  steps_->setMinimumHeight(44);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(steps_, 1);
  buttons->addWidget(search_, 1);
  column->addLayout(buttons);
  progress_ = new QProgressBar(this);
  progress_->setObjectName(QStringLiteral("wish.progress"));
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setMaximumHeight(6);
  column->addWidget(progress_);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("wish.news"));
  news_->setWordWrap(true);
  column->addWidget(news_);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("wish.table"));
  dressTable(*table_, {{tr("Change")}, {tr("gives"), 92, Qt::AlignRight}, {tr("work"), 60, Qt::AlignRight}});
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  column->addStretch(1);
  auto* found = new QVBoxLayout;
  found->addWidget(table_, 1);
  across->addLayout(found, 1);
  apply_ = new QPushButton(tr("Take it over into the setup"), this);
  apply_->setObjectName(QStringLiteral("wish.apply"));
  apply_->setMinimumHeight(40);
  apply_->setEnabled(false);
  notes_ = new QLabel(this);
  notes_->setObjectName(QStringLiteral("wish.notes"));
  notes_->setWordWrap(true);
  found->addWidget(notes_);
  found->addWidget(apply_);
  connect(search_, &QPushButton::clicked, this, &WishPage::search);
  connect(steps_, &QPushButton::clicked, this, &WishPage::oneStep);
  connect(apply_, &QPushButton::clicked, this, &WishPage::apply);
  connect(table_, &QTableWidget::cellDoubleClicked, this, &WishPage::apply);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
    const bool any = row >= 0 && static_cast<std::size_t>(row) < rows_.size();
    apply_->setEnabled(any);
    notes_->setText(any ? standNotesOf(*car_, rows_[static_cast<std::size_t>(row)], order().under) : QString());
  });
  const auto start = [&](int i, const char* id, End end, Kind kind) {
    Line& l = lines_[static_cast<std::size_t>(i)];
    l.figure->setCurrentIndex(indexOf(id, end));
    l.kind->setCurrentIndex(kind);
  };
  start(0, "roll", End::front, toHave);
  start(1, "front_transfer", End::front, held);
  start(2, "ride_frequency", End::front, notAsked);
  for (QDoubleSpinBox* s : {lateral_, longitudinal_})
    connect(s, &QDoubleSpinBox::valueChanged, this, [this] {
      for (Line& l : lines_) fillNow(l);
    });
  connect(&cars_, &SprungCars::changed, this, [this] {
    if (isVisible() && car_ != cars_.model().document().sharedCar()) giveUp();
  });
}

void WishPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  for (Line& l : lines_) fillNow(l);
  tellCount();
}

/// The value as it stands, and a tolerance that the figure can tell; a value that was typed is overwritten only when
/// the figure is another one.
void WishPage::fillNow(Line& l) {
  const FigurePlace c = chosenIn(*l.figure);
  const int kind = l.kind->currentIndex();
  l.value->setEnabled(kind == toHave);
  l.tolerance->setEnabled(kind != notAsked);
  const SprungCar& sprung = cars_.now();
  if (!c.figure || !sprung.car) return;
  const QSignalBlocker v(l.value), t(l.tolerance);
  l.value->setDecimals(c.figure->decimals);
  l.tolerance->setDecimals(c.figure->decimals + 1);
  const QByteArray asked =
      l.figure->currentData().toByteArray() + QByteArray::number(kind) + QByteArray::number(lateral_->value());
  if (l.value->property("asked").toByteArray() == asked) return;
  l.value->setProperty("asked", asked);
  const auto source = read_load(*sprung.car, {lateral_->value(), longitudinal_->value()});
  const auto now = source ? c.read(*source) : std::nullopt;
  if (now) l.value->setValue(*now);
  l.tolerance->setValue(kind == held ? 4.0 * c.figure->resolution() : 2.0 * c.figure->resolution());
}

void WishPage::setLine(int line, std::string_view figure, End end, int kind, double value, double tolerance) {
  Line& l = lines_[static_cast<std::size_t>(line)];
  l.figure->setCurrentIndex(indexOf(figure, end));
  l.kind->setCurrentIndex(kind);
  if (kind == toHave) l.value->setValue(value);
  l.tolerance->setValue(tolerance);
}

RecipeOrder WishPage::order() const {
  RecipeOrder o;
  o.under = {lateral_->value(), longitudinal_->value()};
  for (const Line& l : lines_) {
    const FigurePlace c = chosenIn(*l.figure);
    const int kind = l.kind->currentIndex();
    if (kind == notAsked || !c.figure) continue;
    RecipeAim aim;
    aim.figure = c.figure;
    aim.end = c.end.value_or(End::front);
    aim.side = c.side.value_or(Side::left);
    aim.kind = kind == alike ? RecipeAim::Kind::alike : RecipeAim::Kind::value;
    aim.value = l.value->value();
    aim.tolerance = l.tolerance->value();
    aim.hold = kind == held;
    o.aims.push_back(aim);
  }
  const Document& d = cars_.model().document();
  if (d.hasCar()) o.parts = parts_->currentIndex() == 0 ? light_load_parts(d.car()) : load_parts(d.car());
  o.most_parts = most_->currentIndex() + 1;
  if (mine_->isChecked()) o.boxes = boxes_.known();
  return o;
}

void WishPage::tellCount() {
  const Document& d = cars_.model().document();
  if (!d.hasCar() || busy()) return;
  if (!cars_.now().car) {
    news_->setText(cars_.now().wrong);
    search_->setEnabled(false);
    steps_->setEnabled(false);
    return;
  }
  search_->setEnabled(true);
  steps_->setEnabled(true);
  const std::uint64_t n = candidates_of(d.car(), d.setup(), order());
  news_->setText(tr("%1 candidates, each a whole car put on its springs with camber, toe and droop put back.")
                     .arg(QLocale().toString(static_cast<qulonglong>(n))));
}

void WishPage::giveUp() {
  background_.giveUp();
  search_->setText(tr("Search"));
  progress_->setValue(0);
  recipe_.reset();
  rows_.clear();
  table_->setRowCount(0);
  tellCount();
}

void WishPage::search() {
  if (busy()) {
    giveUp();
    news_->setText(tr("Stopped."));
    return;
  }
  const Document& d = cars_.model().document();
  if (!d.hasCar()) return;
  car_ = d.sharedCar();
  search_->setText(tr("Stop"));
  news_->setText(tr("Searching ..."));
  apply_->setEnabled(false);
  background_.start(
      [car = car_, setup = d.setup(), order = order(), page = QPointer<QObject>(this),
       self = this](const std::atomic<bool>& cancelled) {
        std::atomic<int> told = 0;
        return find_recipe(*car, setup, setup, order, [&](double share) {
          const int now = static_cast<int>(1000.0 * share);
          if (now >= told + 10) {
            told = now;
            QMetaObject::invokeMethod(
                qApp,
                [page, self, now] {
                  if (page && self->busy()) self->progress_->setValue(now);
                },
                Qt::QueuedConnection);
          }
          return !cancelled;
        });
      },
      [this](tl::expected<Recipe, CarFailure> found) { takeRecipe(std::move(found)); });
}

void WishPage::takeRecipe(tl::expected<Recipe, CarFailure> found) {
  search_->setText(tr("Search"));
  progress_->setValue(0);
  rows_.clear();
  table_->setRowCount(0);
  recipe_.reset();
  if (!found) {
    news_->setText(sentenceOf(found.error()));
    return;
  }
  recipe_ = std::move(*found);
  const RecipeOrder asked = order();
  const Tokens& t = tokens(palette());
  for (const RecipeResult& r : recipe_->results) {
    QStringList gives;
    for (std::size_t i = 0; i < r.gives.size() && i < asked.aims.size(); ++i)
      gives << tr("%1 %2").arg(number(r.gives[i], asked.aims[i].figure->decimals),
                               unitText(asked.aims[i].figure->unit));
    const int row = table_->rowCount();
    table_->insertRow(row);
    putRow(
        *table_, row,
        {changesText(*car_, r.changes), gives.join(QStringLiteral("\n")), tr("%1 min").arg(number(r.work.minutes, 0))},
        t, false);
    table_->item(row, 1)->setForeground(r.meets() ? t.good : t.ink);
    table_->setRowHeight(row, 8 + 17 * static_cast<int>(std::max(r.changes.size(), r.gives.size())));
    rows_.push_back(r.setup);
  }
  const bool met = !recipe_->results.empty() && recipe_->results.front().meets();
  news_->setText(tr("%1 %2").arg(judgedText(*recipe_), recipe_->results.empty() ? sentenceOf(why_none(*recipe_, asked))
                                                       : met                    ? tr("\u2713 Met; least work first.")
                                                             : tr("None meets it; the nearest come first.")));
}

void WishPage::oneStep() {
  const Document& d = cars_.model().document();
  if (!d.hasCar() || busy()) return;
  car_ = d.sharedCar();
  news_->setText(tr("Trying one step of every part ..."));
  background_.start(
      [car = car_, setup = d.setup(), under = order().under](const std::atomic<bool>& cancelled) {
        return load_sensitivity(*car, setup, under, [&] { return !cancelled; });
      },
      [this](tl::expected<std::vector<LoadStep>, CarFailure> found) { takeSteps(std::move(found)); });
}

void WishPage::takeSteps(tl::expected<std::vector<LoadStep>, CarFailure> found) {
  rows_.clear();
  table_->setRowCount(0);
  recipe_.reset();
  if (car_ != cars_.model().document().sharedCar()) {
    news_->setText(tr("Another car was opened meanwhile: ask again."));
    return;
  }
  if (!found) {
    news_->setText(sentenceOf(found.error()));
    return;
  }
  const FigurePlace c = chosenIn(*lines_[0].figure);
  const auto index = static_cast<std::size_t>(std::max(0, lines_[0].figure->currentIndex()));
  std::vector<std::pair<double, const LoadStep*>> moved;
  for (const LoadStep& s : *found)
    if (const auto& v = s.change[index]; v && std::abs(*v) >= c.figure->resolution()) moved.emplace_back(*v, &s);
  std::stable_sort(moved.begin(), moved.end(),
                   [](const auto& a, const auto& b) { return std::abs(a.first) > std::abs(b.first); });
  const Tokens& t = tokens(palette());
  const Setup& setup = cars_.model().document().setup();
  for (const auto& [by, step] : moved) {
    const int row = table_->rowCount();
    const double from = setup.of(step->adjuster).left;
    table_->insertRow(row);
    putRow(*table_, row,
           {changesText(*car_, {{step->adjuster, from, step->value}}), signedNumber(by, c.figure->decimals),
            tr("%1 min").arg(number(work_for(*car_, std::array{step->adjuster}, 0).minutes, 0))},
           t, false);
    Setup next = setup;
    next.of(step->adjuster) = {step->value, step->value};
    rows_.push_back(std::move(next));
  }
  news_->setText(tr("What one step of a part does to %1, the most first.").arg(lines_[0].figure->currentText()));
}

void WishPage::apply() {
  const int row = table_->currentRow();
  Document& d = cars_.model().document();
  if (row < 0 || static_cast<std::size_t>(row) >= rows_.size() || d.sharedCar() != car_) return;
  Setup next = rows_[static_cast<std::size_t>(row)];
  next.name = d.setup().name;
  d.putSetup(next, tr("What is wanted on its springs"));
}

}  // namespace lowkite::app
