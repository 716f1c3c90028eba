#include "app/plan/read/sensitivity_panel.h"

#include <algorithm>
#include <cmath>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/background/in_background.h"
#include "app/look/theme.h"
#include "app/plan/read/map_panel.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct SensitivityColumn {
  enum : int { part, change, besides, count };
};

}  // namespace

SensitivityPanel::SensitivityPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
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
  top->addWidget(figure_, 1);
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
    fillMap();
  });
  connect(figure_, &QComboBox::activated, this, [this](int row) {
    wanted_ = figure_->itemData(row).toByteArray().toStdString();
    fillTable();
  });
  connect(putBack_, &QCheckBox::toggled, this, &SensitivityPanel::refresh);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) { try_->setEnabled(row >= 0); });
  connect(table_, &QTableWidget::cellDoubleClicked, this, &SensitivityPanel::tryStep);
  connect(try_, &QPushButton::clicked, this, &SensitivityPanel::tryStep);
  connect(&model_, &PlanModel::comparisonChanged, this, &SensitivityPanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &SensitivityPanel::refresh);
}

SensitivityPanel::~SensitivityPanel() {
  if (cancel_) *cancel_ = true;
}

void SensitivityPanel::setFigure(std::string_view figure) {
  wanted_ = figure;
  fillFigures();
  fillTable();
}

void SensitivityPanel::showMap(bool on) {
  asMap_->setChecked(on);
}

/// The two parts that move it best are offered first.
void SensitivityPanel::fillMap() {
  if (views_->currentIndex() != 1 || !result_ || !isOfThisCar()) return;
  const FigureSpec* figure = find_figure(wanted_);
  if (!figure) return;
  std::vector<int> parts;
  for (const SensitivityRow* row : shown_) parts.push_back(row->adjuster);
  map_->showMap(*figure, putBack_->isChecked(), parts);
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
  ask(wanted);
}

void SensitivityPanel::ask(const Asked& wanted) {
  if (cancel_) *cancel_ = true;
  asked_ = wanted;
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
  for (const FigureSpec* f : result_->figures) {
    const QByteArray id(f->id.data(), static_cast<qsizetype>(f->id.size()));
    figure_->addItem(tr("%1, %2").arg(figureLabel(*f), unitText(f->unit)), id);
    if (f->id == wanted_) figure_->setCurrentIndex(figure_->count() - 1);
  }
  wanted_ = figure_->currentData().toByteArray().toStdString();
}

void SensitivityPanel::fillTable() {
  if (!result_ || !isOfThisCar()) return;
  const int figure = result_->find(wanted_);
  if (figure < 0) return;
  const FigureSpec& f = *result_->figures[static_cast<std::size_t>(figure)];
  shown_ = result_->ranked(figure);
  const Car& car = *resultOf_;
  const QSignalBlocker quiet(table_);
  table_->setRowCount(static_cast<int>(shown_.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const SensitivityRow& s = *shown_[static_cast<std::size_t>(row)];
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(s.adjuster)];
    // What it drags along most, two of them.
    const std::vector<int> others = result_->drags(s, figure);
    QStringList dragged;
    for (std::size_t k = 0; k < std::min<std::size_t>(2, others.size()); ++k) {
      const auto other = static_cast<std::size_t>(others[k]);
      const FigureSpec& o = *result_->figures[other];
      dragged << tr("%1 %2 %3").arg(figureLabel(o), signedNumber(*s.change[other], o.decimals), unitText(o.unit));
    }
    const double change_ = *s.change[static_cast<std::size_t>(figure)];
    const std::array<QString, SensitivityColumn::count> texts{
        tr("%1: %2").arg(QString::fromStdString(a.name), valueText(a, s.value)),
        tr("%1 %2").arg(signedNumber(change_, f.decimals + 1), unitText(f.unit)),
        dragged.isEmpty() ? tr("nothing worth telling") : dragged.join(QStringLiteral("\n"))};
    for (int i = 0; i < SensitivityColumn::count; ++i) {
      auto* item = new QTableWidgetItem(texts[static_cast<std::size_t>(i)]);
      item->setFont(i == SensitivityColumn::change ? figureFont(12, true)
                                                   : textFont(i == SensitivityColumn::part ? 12 : labelSize));
      if (i == SensitivityColumn::besides) item->setForeground(tokens(palette()).soft);
      table_->setItem(row, i, item);
    }
    table_->setRowHeight(row, 40);
  }
  table_->setCurrentCell(-1, -1);
  try_->setEnabled(false);
  news_->setText(shown_.empty()       ? tr("No part of this axle moves it by itself.")
                 : shown_.size() == 1 ? tr("One part moves it.")
                                      : tr("%1 parts move it; the best first.").arg(shown_.size()));
  fillMap();
}

void SensitivityPanel::tryStep() {
  const int row = table_->currentRow();
  if (row < 0 || row >= static_cast<int>(shown_.size()) || !isOfThisCar()) return;
  const SensitivityRow step = *shown_[static_cast<std::size_t>(row)];
  model_.setPart(step.adjuster);
  model_.document().step(step.adjuster, Sides::both, step.step);
}

}  // namespace lowkite::app
