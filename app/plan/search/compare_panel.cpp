#include "app/plan/search/compare_panel.h"

#include <cmath>

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/document/open_files.h"
#include "app/document/recent_files.h"
#include "app/look/theme.h"
#include "app/settings/bench_tools.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"
#include "core/figures/load_source.hpp"
#include "core/io/setup_family.hpp"

namespace lowkite::app {
namespace {

struct CompareColumn {
  enum : int { what, a, b, difference, count };
};
const QString atWork = QStringLiteral("at work");
const QString pinned = QStringLiteral("pinned");
const QString kit = QStringLiteral("kit");
/// Of what a reading can tell: a smaller difference is not even shown faintly.
constexpr double worthShowing = 0.1;

}  // namespace

ComparePanel::ComparePanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("compare"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 0, 8, 4);
  column->setSpacing(4);
  auto* choices = new QHBoxLayout;
  column->addLayout(choices);
  const auto choice = [&](const QString& letter, const QString& name) {
    auto* row = new QHBoxLayout;
    row->setContentsMargins(10, 0, 10, 0);
    auto* label = new QLabel(letter, this);
    label->setFont(textFont(textSize, true));
    auto* box = new QComboBox(this);
    box->setObjectName(name);
    box->setMinimumHeight(targetHeight);
    box->setMaxVisibleItems(24);
    label->setBuddy(box);
    label->setFixedWidth(14);
    row->addWidget(label);
    row->addWidget(box, 1);
    choices->addLayout(row, 1);
    connect(box, &QComboBox::activated, this, &ComparePanel::refresh);
    return box;
  };
  first_ = choice(tr("A"), QStringLiteral("compare.a"));
  second_ = choice(tr("B"), QStringLiteral("compare.b"));
  pages_ = new Segmented(QStringLiteral("compare.page"), {tr("Parts"), tr("Figures"), tr("Gauges"), tr("1 g")}, this);
  connect(pages_, &Segmented::chosen, this, &ComparePanel::refresh);
  onlyDifferent_ = new QCheckBox(tr("only what differs"), this);
  onlyDifferent_->setObjectName(QStringLiteral("compare.onlyDifferent"));
  onlyDifferent_->setChecked(true);
  connect(onlyDifferent_, &QCheckBox::toggled, this, &ComparePanel::refresh);
  auto* pageRow = new QHBoxLayout;
  pageRow->setContentsMargins(10, 0, 10, 0);
  pageRow->addWidget(pages_);
  pageRow->addStretch(1);
  pageRow->addWidget(onlyDifferent_);
  column->addLayout(pageRow);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("compare.table"));
  dressTable(*table_, {{QString()},
                       {tr("A"), 200, Qt::AlignRight},
                       {tr("B"), 200, Qt::AlignRight},
                       {tr("B less A"), 140, Qt::AlignRight}});
  column->addWidget(table_, 1);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("compare.news"));
  news_->setWordWrap(true);
  take_ = new QPushButton(tr("Show both in the drawing"), this);
  take_->setObjectName(QStringLiteral("compare.take"));
  take_->setToolTip(tr("A becomes the baseline, B the setup at work; drawing and curves show both"));
  take_->setMinimumHeight(40);
  connect(take_, &QPushButton::clicked, this, &ComparePanel::takeOver);
  auto* foot = new QHBoxLayout;
  foot->setContentsMargins(10, 0, 10, 0);
  foot->addWidget(news_, 1);
  foot->addWidget(take_);
  column->addLayout(foot);
  connect(&model_, &PlanModel::comparisonChanged, this, &ComparePanel::refresh);
  connect(&model_.document(), &Document::replaced, this, &ComparePanel::fillChoices);
  connect(&model_.document(), &Document::fileChanged, this, &ComparePanel::fillChoices);
}

void ComparePanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  fillChoices();
}

void ComparePanel::fillChoices() {
  if (!isVisible() || !model_.document().hasCar()) return;
  const Document& d = model_.document();
  opened_.clear();
  // Read once for both boxes: files of other cars, and setups of this one that lie elsewhere.
  struct Choice {
    QString title, path;
  };
  std::vector<Choice> mine, others;
  QStringList known;
  for (const FamilyMember& m : setup_family(d.car(), setupFolders(d.state()))) {
    const QString path = QString::fromStdString(m.path.string());
    known << path;
    mine.push_back(
        {QString(2 * m.depth, QLatin1Char(' ')) + QString::fromStdString(m.setup.name), path.isEmpty() ? kit : path});
  }
  const auto offer = [&](const Car& car, const std::string& setup, const QString& path) {
    others.push_back({tr("%1: %2").arg(QString::fromStdString(car.name), QString::fromStdString(setup)), path});
    known << QFileInfo(path).canonicalFilePath();
  };
  for (const QString& path : RecentFiles::list()) {
    if (isShipped(path) || known.contains(QFileInfo(path).canonicalFilePath())) continue;
    const auto state = openFile(path);
    if (!state || (state->setupPath.isEmpty() && state->car->id == d.car().id)) continue;
    offer(*state->car, state->file.setup.name, path);
  }
  for (const ShippedFile& f : shippedFiles()) {
    if (known.contains(QFileInfo(f.path).canonicalFilePath()) || (f.isCar && f.car->id == d.car().id)) continue;
    offer(*f.car, f.isCar ? kit_setup(*f.car).name : f.title.toStdString(), f.path);
  }
  for (QComboBox* box : {first_, second_}) {
    const QString before = box->currentData().toString();
    const QSignalBlocker quiet(box);
    box->clear();
    box->addItem(tr("Setup at work: %1").arg(d.title()), atWork);
    box->addItem(tr("Pinned baseline: %1").arg(QString::fromStdString(d.baseline().name)), pinned);
    for (const auto* list : {&mine, &others})
      for (const Choice& c : *list) box->addItem(c.title, c.path);
    const int same = box->findData(before);
    box->setCurrentIndex(same >= 0 ? same : box == first_ ? 1 : 0);
  }
  refresh();
}

void ComparePanel::choose(const QString& path) {
  fillChoices();
  const int row = first_->findData(path.isEmpty() ? kit : path);
  if (row >= 0) first_->setCurrentIndex(row);
  second_->setCurrentIndex(0);
  refresh();
}

ComparePanel::Compared ComparePanel::load(const QComboBox& box) {
  const QString chosen = box.currentData().toString();
  const Document& d = model_.document();
  Compared c;
  c.car = d.sharedCar();
  if (chosen == atWork) {
    c.setup = d.setup();
  } else if (chosen == pinned) {
    c.setup = d.baseline();
  } else if (chosen == kit) {
    c.setup = kit_setup(*c.car);
  } else {
    if (!opened_.contains(chosen)) opened_.emplace(chosen, openFile(chosen));
    const auto& state = opened_.at(chosen);
    if (!state) {
      c.wrong = QString::fromStdString(state.error().front().line());
      return c;
    }
    // A setup of the open car is read against the car as it is open, edits and all.
    if (state->car->id == c.car->id) {
      c.setup = carried_over(*state->car, state->file.setup, *c.car);
    } else {
      c.car = state->car;
      c.setup = state->file.setup;
    }
  }
  auto variant = evaluate(*c.car, c.setup, {}, PlanModel::curveSamples);
  if (variant)
    c.variant = std::move(*variant);
  else
    c.wrong = QString::fromStdString(variant.error().message);
  return c;
}

void ComparePanel::refresh() {
  if (!isVisible() || !model_.document().hasCar() || first_->count() == 0) return;
  a_ = load(*first_);
  b_ = load(*second_);
  table_->setRowCount(0);
  const bool oneCar = a_.car == b_.car;
  take_->setEnabled(oneCar && a_.variant && b_.variant);
  if (!a_.variant || !b_.variant) {
    news_->setText(a_.variant ? b_.wrong : a_.wrong);
    return;
  }
  switch (static_cast<Page>(pages_->current())) {
    case Page::parts:
      fillParts();
      break;
    case Page::figures:
      fillFigures();
      break;
    case Page::gauges:
      fillGauges();
      break;
    case Page::springs:
      fillSprings();
      break;
  }
}

void ComparePanel::addHeading(const QString& text) {
  const int row = table_->rowCount();
  table_->insertRow(row);
  auto* item = new QTableWidgetItem(text);
  item->setFont(textFont(labelSize, true));
  item->setForeground(tokens(palette()).soft);
  item->setFlags(Qt::NoItemFlags);
  table_->setItem(row, CompareColumn::what, item);
  table_->setSpan(row, CompareColumn::what, 1, CompareColumn::count);
  table_->setRowHeight(row, 26);
}

void ComparePanel::addRow(const QString& text, const QString& inA, const QString& inB, const QString& apart, bool told,
                          const QString& reason) {
  const int row = table_->rowCount();
  table_->insertRow(row);
  const std::array<QString, CompareColumn::count> texts{text, inA, inB, apart};
  for (int i = 0; i < CompareColumn::count; ++i) {
    auto* item = new QTableWidgetItem(texts[at(i)]);
    item->setFont(i == CompareColumn::what ? textFont(12) : figureFont(12, told && i == CompareColumn::difference));
    item->setTextAlignment((i == CompareColumn::what ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    item->setForeground(told ? tokens(palette()).ink : tokens(palette()).soft);
    item->setToolTip(reason.isEmpty() && i == CompareColumn::what ? text : reason);
    table_->setItem(row, i, item);
  }
  table_->setRowHeight(row, 26);
}

void ComparePanel::fillParts() {
  if (a_.car != b_.car) {
    news_->setText(tr("Two different cars: they are compared by figures and gauges."));
    return;
  }
  const Car& car = *a_.car;
  for (const End end : both_ends) {
    const double x = a_.setup.ride_height_mm[at(end)];
    const double y = b_.setup.ride_height_mm[at(end)];
    if (x != y || !onlyDifferent_->isChecked())
      addRow(tr("%1: ride height, mm").arg(endTitle(end)), number(x, 2), number(y, 2),
             x == y ? QString() : signedNumber(y - x, 2), x != y, {});
  }
  const std::vector<PartHandle> apart = differing_parts(car, a_.setup, b_.setup);
  for (const PartHandle i : car.adjusters.handles()) {
    const bool differs = std::find(apart.begin(), apart.end(), i) != apart.end();
    if (!differs && onlyDifferent_->isChecked()) continue;
    const Adjuster& part = car.adjusters[i];
    const Setting& x = a_.setup.of(i);
    const Setting& y = b_.setup.of(i);
    const bool oneValue = x.left == x.right && y.left == y.right;
    for (const Side side : both_sides) {
      if (side == Side::right && oneValue) break;
      const QString name = partTitle(part);
      const double by = y.on(side) - x.on(side);
      addRow(oneValue ? name : tr("%1, %2").arg(name, sideTitle(side).toLower()), valueText(part, x.on(side)),
             valueText(part, y.on(side)),
             by == 0.0 || part.positions() ? QString() : signedNumber(by, part.threaded() ? 3 : 2), by != 0.0, {});
    }
  }
  fillNoted();
  news_->setText(apart.empty() ? tr("The same parts in both.") : tr("Parts that differ: %1").arg(apart.size()));
}

void ComparePanel::fillNoted() {
  std::vector<std::string> names;
  for (const Setup* s : {&a_.setup, &b_.setup})
    for (const NotedField& n : s->noted)
      if (std::find(names.begin(), names.end(), n.name) == names.end()) names.push_back(n.name);
  bool any = false;
  for (const std::string& name : names) {
    const std::string* x = noted_under(a_.setup, name);
    const std::string* y = noted_under(b_.setup, name);
    const bool differs = !x || !y || *x != *y;
    if (!differs && onlyDifferent_->isChecked()) continue;
    if (!any) addHeading(tr("Also noted"));
    any = true;
    const auto told = [&](const std::string* text) { return text ? QString::fromStdString(*text) : tr("nothing"); };
    addRow(QString::fromStdString(name), told(x), told(y), {}, differs, tr("%1\n%2").arg(told(x), told(y)));
  }
}

void ComparePanel::fillFigures() {
  std::optional<End> shown;
  int told = 0;
  for (const FigureDifference& d : figure_differences({*a_.car, *a_.variant}, {*b_.car, *b_.variant})) {
    const FigureSpec& f = *d.figure;
    const bool some = d.told || (d.a && d.b && std::abs(*d.b - *d.a) >= worthShowing * f.resolution());
    if (onlyDifferent_->isChecked() && !some) continue;
    if (shown != d.end) addHeading(endTitle(d.end));
    shown = d.end;
    told += d.told;
    QString name = tr("%1, %2").arg(figureLabel(f), unitText(f.unit));
    if (!d.both_sides) name = tr("%1 %2").arg(sideTitle(d.side).toLower(), name);
    const int extra = d.told ? 0 : 1;
    addRow(name, d.a ? figureText(f, d.a, extra) : tr("none"), d.b ? figureText(f, d.b, extra) : tr("none"),
           d.a && d.b && some ? signedNumber(*d.b - *d.a, f.decimals + extra) : QString(), d.told,
           d.told ? QString()
                  : tr("Less than %1 %2 apart: no reading could tell.")
                        .arg(QString::number(f.resolution()), unitText(f.unit)));
  }
  news_->setText(tr("Figures apart by more than a reading can tell: %1").arg(told));
}

void ComparePanel::fillGauges() {
  std::optional<End> shown;
  int told = 0;
  for (const GaugeDifference& d : gauge_differences({*a_.car, *a_.variant}, {*b_.car, *b_.variant}, savedBench())) {
    const GaugeSpec& g = d.gauge.spec();
    const bool some = d.told || (d.a && d.b && std::abs(*d.b - *d.a) >= worthShowing * g.resolution);
    if (onlyDifferent_->isChecked() && !some) continue;
    if (shown != d.gauge.end) addHeading(endTitle(d.gauge.end));
    shown = d.gauge.end;
    told += d.told;
    QString name = tr("%1, %2").arg(fromCore(d.gauge.label), unitText(g.unit));
    if (!d.both_sides) name = tr("%1 %2").arg(sideTitle(d.side).toLower(), name);
    addRow(name, d.a ? gaugeNumber(g, *d.a) : tr("none"), d.b ? gaugeNumber(g, *d.b) : tr("none"),
           d.a && d.b && some ? signedNumber(*d.b - *d.a, g.decimals + (d.told ? 0 : 1)) : QString(), d.told,
           d.told ? QString()
                  : tr("Less than %1 %2 apart: this gauge cannot tell.")
                        .arg(QString::number(g.resolution), unitText(g.unit)));
  }
  news_->setText(tr("Gauges that would read differently: %1").arg(told));
}

void ComparePanel::fillSprings() {
  std::array<std::optional<LoadSource>, 2> sources;
  for (std::size_t i = 0; i < sources.size(); ++i) {
    const auto loaded = LoadedCar::of((i == 0 ? a_ : b_).variant->model);
    auto source = loaded ? read_load(*loaded, {1.0, 0.0}) : tl::unexpected(loaded.error());
    if (!source) {
      news_->setText(tr("%1: %2").arg(i == 0 ? tr("A") : tr("B"), QString::fromStdString(source.error().message)));
      return;
    }
    sources[i] = std::move(*source);
  }
  int told = 0;
  for (const FigurePlace& p : places_of(load_figures())) {
    const FigureSpec& f = *p.figure;
    const auto x = p.read(*sources[0]);
    const auto y = p.read(*sources[1]);
    if (!x && !y) continue;
    const bool differs = !x || !y || std::abs(*y - *x) >= f.resolution();
    if (onlyDifferent_->isChecked() && !differs) continue;
    told += differs;
    addRow(placeLabel(p), x ? number(*x, f.decimals) : tr("none"), y ? number(*y, f.decimals) : tr("none"),
           differs && x && y ? signedNumber(*y - *x, f.decimals) : QString(), differs, {});
  }
  QStringList news{tr("In a left turn of 1 g. Figures apart: %1").arg(told)};
  for (std::size_t i = 0; i < sources.size(); ++i)
    if (const QString notes = standNotes((i == 0 ? a_ : b_).variant->model, sources[i]->balance); !notes.isEmpty())
      news << tr("%1: %2.").arg(i == 0 ? tr("A") : tr("B"), notes);
  news_->setText(news.join(QLatin1Char(' ')));
}

void ComparePanel::takeOver() {
  Document& d = model_.document();
  if (!a_.variant || !b_.variant || a_.car != d.sharedCar() || b_.car != d.sharedCar()) return;
  const Setup first = a_.setup;
  const Setup second = b_.setup;
  d.undoStack().beginMacro(tr("Show two setups"));
  d.putBaseline(first, tr("Baseline"));
  d.putSetup(second, tr("Setup"));
  d.undoStack().endMacro();
}

}  // namespace lowkite::app
