#include "app/plan/read/sensitivity_panel.h"

#include <algorithm>
#include <cmath>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/read/map_panel.h"
#include "app/plan/springs/fields.h"
#include "app/plan/springs/turn_fields.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct SensitivityColumn {
  enum : int { part, change, besides, count };
};

}  // namespace

SensitivityPanel::SensitivityPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model), loading_(this) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("sensitivity"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(1, 8, 1, 6);
  column->setSpacing(6);
  auto* top = new QHBoxLayout;
  top->setContentsMargins(10, 0, 10, 0);
  figure_ = new QComboBox(this);
  figure_->setObjectName(QStringLiteral("sensitivity.figure"));
  figure_->setAccessibleName(tr("The figure to move"));
  figure_->setMinimumHeight(targetHeight);
  figure_->setMaxVisibleItems(24);
  putBack_ = new QCheckBox(tr("re-set after"), this);
  putBack_->setObjectName(QStringLiteral("sensitivity.putBack"));
  putBack_->setChecked(true);
  turn_ = new TurnFields(QStringLiteral("sensitivity"), this);
  turn_->hide();
  top->addWidget(figure_, 1);
  top->addWidget(turn_);
  connect(turn_, &TurnFields::changed, this, [this] {
    steps_.reset();
    fillTable();
  });
  top->addWidget(putBack_);
  asMap_ = new QPushButton(tr("Map of two parts"), this);
  asMap_->setObjectName(QStringLiteral("sensitivity.asMap"));
  asMap_->setCheckable(true);
  asMap_->setMinimumHeight(targetHeight);
  top->addWidget(asMap_);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("sensitivity.table"));
  dressTable(*table_, {{tr("One step of"), 380}, {tr("moves it"), 130}, {tr("and besides")}});
  table_->setWordWrap(true);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("sensitivity.news"));
  news_->setContentsMargins(10, 0, 10, 0);
  news_->setWordWrap(true);
  try_ = new QPushButton(tr("Try this step"), this);
  try_->setObjectName(QStringLiteral("sensitivity.try"));
  try_->setMinimumHeight(44);
  try_->setEnabled(false);
  auto* foot = new QHBoxLayout;
  foot->setContentsMargins(10, 0, 10, 0);
  foot->addWidget(news_, 1);
  foot->addWidget(try_);
  auto* ranking = new QWidget(this);
  auto* ranked = new QVBoxLayout(ranking);
  ranked->setContentsMargins(0, 0, 0, 0);
  ranked->setSpacing(6);
  auto* inset = new QHBoxLayout;
  inset->setContentsMargins(7, 0, 7, 0);
  inset->addWidget(table_);
  ranked->addLayout(inset, 1);
  ranked->addLayout(foot);
  map_ = new MapPanel(model_, this);
  views_ = new QStackedWidget(this);
  views_->addWidget(ranking);
  views_->addWidget(map_);
  column->addLayout(top);
  column->addWidget(views_, 1);
  connect(asMap_, &QPushButton::toggled, this, [this](bool on) {
    asMap_->setText(on ? tr("Ranking of all parts") : tr("Map of two parts"));
    views_->setCurrentIndex(on ? 1 : 0);
    putBack_->setEnabled(on || !wanted_.figure->of_load());
    fillMap();
  });
  connect(figure_, &QComboBox::activated, this, [this](int row) {
    wanted_ = places_[at(figure_->itemData(row).toInt())];
    fillTable();
  });
  connect(putBack_, &QCheckBox::toggled, this, &SensitivityPanel::refresh);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
    try_->setEnabled(row >= 0);
    tellNews();
  });
  connect(table_, &QTableWidget::cellDoubleClicked, this, &SensitivityPanel::tryStep);
  connect(try_, &QPushButton::clicked, this, &SensitivityPanel::tryStep);
  connect(&model_, &PlanModel::comparisonChanged, this, &SensitivityPanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &SensitivityPanel::refresh);
}

SensitivityPanel::~SensitivityPanel() {
  if (cancel_) *cancel_ = true;
}

void SensitivityPanel::setFigure(std::string_view figure) {
  setFigure(FigurePlace{find_figure(figure), std::nullopt, std::nullopt});
}

void SensitivityPanel::setFigure(const FigurePlace& place) {
  wanted_ = place;
  fillFigures();
  fillTable();
}

void SensitivityPanel::askOfSprings(const HeldTurn& under) {
  if (under != Acceleration{}) turn_->setTurn(under);
  if (!wanted_.figure->of_load()) wanted_ = {find_figure("roll"), std::nullopt, std::nullopt};
  steps_.reset();
  fillFigures();
  fillTable();
}

void SensitivityPanel::showMap(bool on) {
  asMap_->setChecked(on);
}

/// The two parts that move it best are offered first.
void SensitivityPanel::fillMap() {
  if (views_->currentIndex() != 1 || !result_ || !isOfThisCar() || !wanted_.figure) return;
  std::vector<PartHandle> parts;
  for (const Line& line : shown_) parts.push_back(line.adjuster);
  map_->showMap(wanted_, putBack_->isChecked(), under(), parts);
}

void SensitivityPanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

void SensitivityPanel::refresh() {
  if (!isVisible() || !model_.document().hasCar()) return;
  const Asked wanted{model_.document().sharedCar(), model_.document().setup(), model_.end(), putBack_->isChecked()};
  if (asked_ == wanted) return;
  if (result_ && !isOfThisCar()) drop();
  turn_->setSteers(wanted.car->steering.spec);
  ask(wanted);
}

void SensitivityPanel::ask(const Asked& wanted) {
  if (cancel_) *cancel_ = true;
  asked_ = wanted;
  // What is told of the setup before is not taken for this one's.
  loading_.giveUp();
  steps_.reset();
  cancel_ = std::make_shared<std::atomic<bool>>(false);
  news_->setText(tr("Trying one step of every part ..."));
  // The worker has copies of its own; the window may close or ask again meanwhile.
  doElsewhere([self = QPointer<SensitivityPanel>(this), wanted, cancel = cancel_] {
    auto found = sensitivity(*wanted.car, wanted.setup, wanted.end, wanted.putBack, [&] { return !*cancel; });
    if (*cancel) return;
    std::optional<Sensitivity> result;
    if (found) result = std::move(*found);
    QMetaObject::invokeMethod(
        qApp,
        [self, wanted, cancel, result = std::move(result)]() mutable {
          if (self && !*cancel) self->take(wanted, std::move(result));
        },
        Qt::QueuedConnection);
  });
}

bool SensitivityPanel::isOfThisCar() const {
  return resultOf_ && resultOf_ == model_.document().sharedCar();
}

void SensitivityPanel::drop() {
  shown_.clear();
  loading_.giveUp();
  steps_.reset();
  result_.reset();
  resultOf_.reset();
  table_->setRowCount(0);
  try_->setEnabled(false);
}

void SensitivityPanel::take(const Asked& asked, std::optional<Sensitivity> result) {
  if (asked_ != asked) return;
  cancel_.reset();
  drop();
  result_ = std::move(result);
  resultOf_ = asked.car;
  if (!result_) {
    news_->setText(tr("The car cannot stand like this."));
    return;
  }
  fillFigures();
  fillTable();
}

void SensitivityPanel::fillFigures() {
  if (!result_) return;
  const QSignalBlocker quiet(figure_);
  figure_->clear();
  places_.clear();
  for (const FigureSpec* f : result_->figures) places_.push_back({f, std::nullopt, std::nullopt});
  const std::size_t geometry = places_.size();
  for (const FigurePlace& p : places_of(load_figures())) places_.push_back(p);
  int chosen = 0;
  for (std::size_t i = 0; i < places_.size(); ++i) {
    if (i == geometry) figure_->insertSeparator(figure_->count());
    if (places_[i] == wanted_) chosen = figure_->count();
    figure_->addItem(placeLabel(places_[i]), static_cast<int>(i));
  }
  figure_->setCurrentIndex(chosen);
  wanted_ = places_[at(figure_->currentData().toInt())];
}

HeldTurn SensitivityPanel::under() const {
  return turn_->turn();
}

std::vector<SensitivityPanel::Line> SensitivityPanel::linesOfGeometry() const {
  std::vector<Line> lines;
  const int figure = result_->find(wanted_.figure->id);
  if (figure < 0) return lines;
  for (const SensitivityRow* row : result_->ranked(figure)) {
    Line line{row->adjuster, row->step, row->value, *row->change[at(figure)]};
    // What it drags along most, two of them.
    const std::vector<int> others = result_->drags(*row, figure);
    for (std::size_t k = 0; k < std::min<std::size_t>(2, others.size()); ++k) {
      const auto other = at(others[k]);
      const FigureSpec& o = *result_->figures[other];
      line.besides
          << tr("%1 %2 %3").arg(figureLabel(o), signedNumber(*row->change[other], o.decimals), unitText(o.unit));
    }
    lines.push_back(std::move(line));
  }
  return lines;
}

std::vector<SensitivityPanel::Line> SensitivityPanel::linesOfLoad() const {
  std::vector<Line> lines;
  const std::vector<FigurePlace> all = places_of(load_figures());
  const auto figure = at(std::find(all.begin(), all.end(), wanted_) - all.begin());
  for (const LoadStep& s : *steps_) {
    if (!s.possible || !s.change[figure] || std::abs(*s.change[figure]) < wanted_.figure->resolution()) continue;
    const Adjuster& a = resultOf_->adjusters[s.adjuster];
    const double now = asked_->setup.of(s.adjuster).left;
    Line line{s.adjuster, a.stepped(now, 1) == s.value ? 1 : -1, s.value, *s.change[figure]};
    // What else moves most on the way through a corner, two of them.
    std::vector<std::pair<double, std::size_t>> others;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (i != figure && all[i].figure != wanted_.figure && all[i].figure->is(on_path) && !all[i].side && s.change[i])
        others.emplace_back(std::abs(*s.change[i]) / (2.0 * all[i].figure->resolution()), i);
    std::stable_sort(others.begin(), others.end(), [](const auto& x, const auto& y) { return x.first > y.first; });
    for (std::size_t k = 0; k < std::min<std::size_t>(2, others.size()) && others[k].first >= 0.5; ++k) {
      const FigurePlace& o = all[others[k].second];
      line.besides << tr("%1 %2").arg(placeLabel(o), signedNumber(*s.change[others[k].second], o.figure->decimals));
    }
    lines.push_back(std::move(line));
  }
  std::stable_sort(lines.begin(), lines.end(),
                   [](const Line& a, const Line& b) { return std::abs(a.change) > std::abs(b.change); });
  return lines;
}

/// One step of every part of the car on its springs; the table is filled once that is known.
void SensitivityPanel::putOnSprings() {
  news_->setText(tr("Trying one step of every part on its springs ..."));
  loading_.start(
      [asked = *asked_, under = under()](const std::atomic<bool>& cancelled) {
        return load_sensitivity(*asked.car, asked.setup, under, [&] { return !cancelled; });
      },
      [this](tl::expected<std::vector<LoadStep>, CarFailure> found) {
        if (!found) {
          news_->setText(sentenceOf(found.error()));
          fillMap();
          return;
        }
        steps_ = std::move(*found);
        fillTable();
      });
}

void SensitivityPanel::fillTable() {
  if (!result_ || !isOfThisCar()) return;
  const bool ofLoad = wanted_.figure->of_load();
  turn_->setVisible(ofLoad);
  // Links are put back in every step on the springs.
  putBack_->setEnabled(!ofLoad || views_->currentIndex() == 1);
  const QSignalBlocker quiet(table_);
  shown_.clear();
  if (!ofLoad)
    shown_ = linesOfGeometry();
  else if (steps_)
    shown_ = linesOfLoad();
  const FigureSpec& f = *wanted_.figure;
  table_->setRowCount(static_cast<int>(shown_.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const Line& line = shown_[at(row)];
    const Adjuster& a = resultOf_->adjusters[line.adjuster];
    const std::array<QString, SensitivityColumn::count> texts{
        tr("%1: %2").arg(ofLoad ? partTitle(a) : QString::fromStdString(a.name), valueText(a, line.value)),
        tr("%1 %2").arg(signedNumber(line.change, f.decimals + 1), unitText(f.unit)),
        line.besides.isEmpty() ? tr("nothing worth telling") : line.besides.join(QStringLiteral("\n"))};
    for (int i = 0; i < SensitivityColumn::count; ++i) {
      auto* item = new QTableWidgetItem(texts[at(i)]);
      item->setFont(i == SensitivityColumn::change ? figureFont(12, true)
                                                   : textFont(i == SensitivityColumn::part ? 12 : labelSize));
      if (i == SensitivityColumn::besides) item->setForeground(tokens(palette()).soft);
      table_->setItem(row, i, item);
    }
    table_->setRowHeight(row, 40);
  }
  table_->setCurrentCell(-1, -1);
  try_->setEnabled(false);
  if (ofLoad && !steps_) {
    putOnSprings();
    return;
  }
  loading_.giveUp();
  tellNews();
  fillMap();
}

/// How many there are; of the one in hand what the car then stands on, where that is not its springs alone: it is why a
/// step may do so much.
void SensitivityPanel::tellNews() {
  const int row = table_->currentRow();
  const bool ofLoad = wanted_.figure && wanted_.figure->of_load();
  if (ofLoad && row >= 0 && row < static_cast<int>(shown_.size()) && isOfThisCar()) {
    const Line& line = shown_[at(row)];
    Setup stepped = asked_->setup;
    stepped.of(line.adjuster) = {line.value, line.value};
    if (const QString notes = standNotesOf(*resultOf_, stepped, under()); !notes.isEmpty()) {
      news_->setText(notes);
      return;
    }
  }
  news_->setText(shown_.empty()
                     ? (ofLoad ? tr("No part moves it by itself.") : tr("No part of this axle moves it by itself."))
                 : shown_.size() == 1 ? tr("One part moves it.")
                 : ofLoad             ? tr("%1 parts move it; the most first.").arg(shown_.size())
                                      : tr("%1 parts move it; the best first.").arg(shown_.size()));
}

void SensitivityPanel::tryStep() {
  const int row = table_->currentRow();
  if (row < 0 || row >= static_cast<int>(shown_.size()) || !isOfThisCar()) return;
  const Line step = shown_[at(row)];
  model_.setPart(step.adjuster);
  model_.document().step(step.adjuster, Sides::both, step.step);
}

}  // namespace lowkite::app
