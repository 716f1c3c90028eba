#include "app/plan/read/map_panel.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"
#include "core/plan/part_map.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite::app {
namespace {

constexpr int fieldWidth = 64;
constexpr int fieldHeight = 30;
/// As far from now as the farthest field: this much of the colour, so that the number stays readable on it.
constexpr double mostTint = 0.55;

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto part = [&](int x, int y) { return static_cast<int>(std::lround(x + (y - x) * share)); };
  return {part(a.red(), b.red()), part(a.green(), b.green()), part(a.blue(), b.blue())};
}

}  // namespace

MapPanel::MapPanel(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model), background_(this) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* top = new QHBoxLayout;
  top->setContentsMargins(10, 0, 10, 0);
  const auto partBox = [&](const QString& name, const QString& said) {
    auto* box = new QComboBox(this);
    box->setObjectName(name);
    box->setAccessibleName(said);
    box->setMinimumHeight(targetHeight);
    box->setMaxVisibleItems(24);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(box, &QComboBox::activated, this, &MapPanel::compute);
    return box;
  };
  downPart_ = partBox(QStringLiteral("map.down"), tr("The part whose steps go down"));
  acrossPart_ = partBox(QStringLiteral("map.across"), tr("The part whose steps go across"));
  top->addWidget(new QLabel(tr("down"), this));
  top->addWidget(downPart_, 1);
  top->addWidget(new QLabel(tr("across"), this));
  top->addWidget(acrossPart_, 1);
  // Up here: in a low drawer the fields need the height.
  take_ = new QPushButton(tr("Take both over"), this);
  take_->setObjectName(QStringLiteral("map.take"));
  take_->setMinimumHeight(targetHeight);
  take_->setEnabled(false);
  top->addWidget(take_);
  column->addLayout(top);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("map.table"));
  table_->setAccessibleName(tr("Map of a figure over two parts"));
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setCornerButtonEnabled(false);
  table_->horizontalHeader()->setDefaultSectionSize(fieldWidth);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Fixed);
  table_->verticalHeader()->setDefaultSectionSize(fieldHeight);
  table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
  column->addWidget(table_, 1);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("map.news"));
  news_->setWordWrap(true);
  news_->setContentsMargins(10, 0, 10, 0);
  column->addWidget(news_);
  connect(table_, &QTableWidget::currentCellChanged, this, &MapPanel::tell);
  connect(table_, &QTableWidget::cellDoubleClicked, this, &MapPanel::takeOver);
  connect(take_, &QPushButton::clicked, this, &MapPanel::takeOver);
}

void MapPanel::showMap(const FigurePlace& place, bool putBack, const HeldTurn& under,
                       const std::vector<PartHandle>& parts) {
  const Document& d = model_.document();
  const bool same = place_ == place && putBack_ == putBack && under_ == under && car_ == d.sharedCar() &&
                    end_ == model_.end() && mapped_ == d.setup();
  if (same) return;
  place_ = place;
  putBack_ = putBack;
  under_ = under;
  const std::vector<PartHandle> offered = map_parts(d.car(), place, model_.end());
  const bool other = car_ != d.sharedCar() || end_ != model_.end() || offered != offered_;
  car_ = d.sharedCar();
  end_ = model_.end();
  offered_ = offered;
  if (other) fillParts(parts);
  compute();
}

void MapPanel::fillParts(const std::vector<PartHandle>& best) {
  const QSignalBlocker quietDown(downPart_), quietAcross(acrossPart_);
  const bool oneAxle =
      std::all_of(offered_.begin(), offered_.end(), [&](PartHandle part) { return car_->adjusters[part].end == end_; });
  for (QComboBox* box : {downPart_, acrossPart_}) {
    box->clear();
    for (const PartHandle part : offered_) {
      const Adjuster& a = car_->adjusters[part];
      box->addItem(oneAxle ? QString::fromStdString(a.name) : partTitle(a), part.number());
    }
  }
  const auto choose = [&](QComboBox* box, std::size_t nth) {
    const int wanted = nth < best.size() ? box->findData(best[nth].number()) : -1;
    box->setCurrentIndex(wanted >= 0 ? wanted : std::min(static_cast<int>(nth), box->count() - 1));
  };
  choose(downPart_, 0);
  choose(acrossPart_, 1);
  // The second best may not be offered: not the same part twice.
  if (acrossPart_->currentIndex() == downPart_->currentIndex())
    acrossPart_->setCurrentIndex(downPart_->currentIndex() == 0 ? std::min(1, acrossPart_->count() - 1) : 0);
}

MapPanel::Ruler MapPanel::rulerOf(PartHandle part) const {
  Ruler ruler;
  ruler.part = part;
  const double now = model_.document().setup().of(part).left;
  ruler.values = car_->adjusters[part].values_besides(now);
  ruler.values.push_back(now);
  std::sort(ruler.values.begin(), ruler.values.end());
  ruler.now = static_cast<int>(std::find(ruler.values.begin(), ruler.values.end(), now) - ruler.values.begin());
  return ruler;
}

void MapPanel::compute() {
  const int asked = ++asked_;
  if (!car_ || !place_.figure || car_ != model_.document().sharedCar() || downPart_->count() < 2) {
    background_.giveUp();
    rows_.clear();
    mapped_.reset();
    table_->setRowCount(0);
    return;
  }
  down_ = rulerOf(PartHandle::numbered(downPart_->currentData().toInt()));
  across_ = rulerOf(PartHandle::numbered(acrossPart_->currentData().toInt()));
  mapped_ = model_.document().setup();
  const auto header = [&](const Ruler& ruler) {
    QStringList texts;
    for (const double v : ruler.values) texts << valueText(car_->adjusters[ruler.part], v);
    return texts;
  };
  const QSignalBlocker quiet(table_);
  table_->clear();
  table_->setRowCount(static_cast<int>(down_.values.size()));
  table_->setColumnCount(static_cast<int>(across_.values.size()));
  table_->setVerticalHeaderLabels(header(down_));
  table_->setHorizontalHeaderLabels(header(across_));
  table_->setCurrentCell(-1, -1);
  rows_.assign(down_.values.size(), Row(across_.values.size()));
  take_->setEnabled(false);
  if (down_.part == across_.part) {
    background_.giveUp();
    news_->setText(tr("Choose two parts."));
    return;
  }
  news_->setText(tr("Every step of both ..."));
  const auto told = toldInWindow<std::pair<int, Row>>(this, [this, asked](const std::pair<int, Row>& row) {
    if (asked == asked_) paintRow(row.first, row.second);  // else of a map that is not on show any more
  });
  background_.start(
      [car = car_, setup = *mapped_, down = down_, across = across_, told,
       ask = MapAsk{place_, end_, down_.part, across_.part, putBack_, under_}](
          const std::atomic<bool>& cancelled) -> tl::expected<void, CarFailure> {
        auto map = PartMap::of(*car, setup, ask);
        if (!map) return tl::unexpected(map.error());
        // The row in hand first, then those beside it.
        std::vector<int> rows;
        for (int i = 0; i < static_cast<int>(down.values.size()); ++i) rows.push_back(i);
        std::stable_sort(rows.begin(), rows.end(),
                         [&](int a, int b) { return std::abs(a - down.now) < std::abs(b - down.now); });
        for (const int r : rows) {
          if (cancelled) break;
          told({r, map->row(down.values[static_cast<std::size_t>(r)], across.values)});
        }
        return {};
      },
      [this](const tl::expected<void, CarFailure>& stands) {
        if (!stands) news_->setText(sentenceOf(stands.error()));
        for (std::size_t r = 0; stands && r < rows_.size(); ++r) paintRow(static_cast<int>(r), rows_[r]);
        if (stands) tell();
      });
}

std::optional<double> MapPanel::at(int row, int column) const {
  return rows_[static_cast<std::size_t>(row)][static_cast<std::size_t>(column)];
}

void MapPanel::paintRow(int row, const Row& figures) {
  rows_[static_cast<std::size_t>(row)] = figures;
  const auto now = at(down_.now, across_.now);
  double farthest = place_.figure->resolution();
  for (const Row& r : rows_)
    for (const auto& v : r)
      if (v && now) farthest = std::max(farthest, std::abs(*v - *now));
  const Tokens& t = tokens(palette());
  for (int c = 0; c < table_->columnCount(); ++c) {
    const auto& v = figures[static_cast<std::size_t>(c)];
    QTableWidgetItem* item = table_->item(row, c);
    if (!item) {
      item = new QTableWidgetItem;
      item->setTextAlignment(Qt::AlignCenter);
      table_->setItem(row, c, item);
    }
    const bool here = row == down_.now && c == across_.now;
    item->setFont(figureFont(12, here));
    item->setText(v ? figureText(*place_.figure, *v, 0) : QStringLiteral("\u2013"));
    item->setToolTip(v ? QString() : tr("The car cannot stand so, or a thread ends."));
    const double off = v && now ? (*v - *now) / farthest : 0.0;
    item->setForeground(v ? t.ink : t.soft);
    item->setBackground(here ? mixed(t.surface, t.line, 1.0)
                             : mixed(t.surface, off > 0.0 ? t.warn : t.base, mostTint * std::abs(off)));
  }
}

void MapPanel::changeEvent(QEvent* event) {
  // Tints are mixed from the colours of the shade.
  if (event->type() == QEvent::PaletteChange && table_)
    for (int r = 0; r < static_cast<int>(rows_.size()) && r < table_->rowCount(); ++r)
      if (table_->item(r, 0)) paintRow(r, Row(rows_[static_cast<std::size_t>(r)]));
  QWidget::changeEvent(event);
}

void MapPanel::tell() {
  const int row = table_->currentRow();
  const int column = table_->currentColumn();
  const bool any = row >= 0 && column >= 0 && row < static_cast<int>(rows_.size()) && at(row, column).has_value();
  take_->setEnabled(any && (row != down_.now || column != across_.now));
  if (busy()) return;
  if (!any) {
    news_->setText(tr("%1: each field one step of both, %2. Bold: now; sand: more than now; blue: less.")
                       .arg(placeLabel(place_), putBack_ ? tr("camber and toe put back") : tr("links as they are")));
    return;
  }
  const auto now = at(down_.now, across_.now);
  const auto part = [&](const Ruler& r, int i) {
    const Adjuster& a = car_->adjusters[r.part];
    return tr("%1 %2").arg(QString::fromStdString(a.name), valueText(a, r.values[static_cast<std::size_t>(i)]));
  };
  QString notes;
  if (place_.figure->of_load()) {
    Setup there = *mapped_;
    there.of(down_.part) = {downValue(row), downValue(row)};
    there.of(across_.part) = {acrossValue(column), acrossValue(column)};
    notes = standNotesOf(*car_, there, under_);
    if (!notes.isEmpty()) notes.prepend(QStringLiteral(". "));
  }
  const double v = *at(row, column);
  news_->setText(tr("%1; %2: %3%4")
                     .arg(part(down_, row), part(across_, column), figureWithUnit(*place_.figure, v, 1),
                          now ? tr(" (%1)").arg(signedNumber(v - *now, place_.figure->decimals + 1)) : QString()) +
                 notes);
}

void MapPanel::takeOver() {
  const int row = table_->currentRow();
  const int column = table_->currentColumn();
  Document& d = model_.document();
  if (row < 0 || column < 0 || !take_->isEnabled() || car_ != d.sharedCar()) return;
  const std::array changes{PartChange{down_.part, 0.0, downValue(row)},
                           PartChange{across_.part, 0.0, acrossValue(column)}};
  d.putSetup(changed_by_hand(d.car(), d.baseline(), d.setup(), changes), tr("Two parts off the map"));
}

}  // namespace lowkite::app
