#include "app/plan/handling/wish_search.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <memory>

#include <QApplication>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/handling/handling_words.h"
#include "app/plan/springs/fields.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/recipe_words.h"
#include "app/words/wording.h"
#include "core/plan/wanted.hpp"

namespace lowkite::app {
namespace {

constexpr int none = -1;
constexpr std::size_t mostShown = 40;
constexpr int givesWide = 200, givesNarrow = 132, wideTable = 460, lowHeight = 220;  ///< px

}  // namespace

WishSearch::WishSearch(PlanModel& model, TyreChoice& tyres, QWidget* parent)
    : QWidget(parent), model_(model), tyres_(tyres), work_(this) {
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 0, 0, 0);
  across->setSpacing(12);
  // In a low drawer the wishes are scrolled to; what searches stays in reach.
  auto* asked = new QWidget(this);
  auto* left = new QVBoxLayout(asked);
  left->setContentsMargins(0, 0, 0, 0);
  left->setSpacing(3);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(2);
  for (int p = 0; p < phase_count; ++p) {
    auto* heading = new QLabel(phaseTitle(corner_phases[at(p)]), asked);
    heading->setProperty("role", "heading");
    grid->addWidget(heading, 0, p + 1);
  }
  for (int r = 0; r < rows; ++r) {
    const SignRow& row = signRows[at(r)];
    auto* title = new QLabel(handlingWords(row.title), asked);
    title->setFont(textFont(13, true));
    title->setToolTip(fromCore(spec_of(row.figure).meaning));
    grid->addWidget(title, r + 1, 0);
    for (int p = 0; p < phase_count; ++p) {
      auto* box = new QComboBox(asked);
      box->setObjectName(QStringLiteral("handling.wish.sign%1.%2").arg(r).arg(p));
      box->setAccessibleName(tr("%1, %2").arg(handlingWords(row.title), phaseTitle(corner_phases[at(p)])));
      box->setMinimumHeight(targetHeight);
      box->setMinimumWidth(104);
      fillWants(*box, row);
      box->insertItem(0, tr("any"), none);
      box->setCurrentIndex(0);
      grid->addWidget(box, r + 1, p + 1);
      wish_[at(r)][at(p)] = box;
      connect(box, &QComboBox::currentIndexChanged, this, &WishSearch::tellState);
    }
  }
  left->addLayout(grid);
  auto* how = new QHBoxLayout;
  share_ = tyreShareField(asked, QStringLiteral("handling.wish.share"), tr("for "));
  parts_ = new Segmented(QStringLiteral("handling.wish.parts"), {tr("1 part"), tr("2"), tr("3")}, asked);
  parts_->setCurrent(1);
  how->addWidget(share_);
  how->addWidget(parts_);
  how->addStretch(1);
  left->addLayout(how);
  left->addStretch(1);
  auto* go = new QHBoxLayout;
  auto* same = new QPushButton(tr("All grip as pinned"), this);
  same->setObjectName(QStringLiteral("handling.wish.same"));
  same->setMinimumHeight(targetHeight);
  same->setToolTip(
      tr("The balance of the baseline again: the parts that differ from it stay, others make up for them."));
  search_ = new QPushButton(tr("Search"), this);
  search_->setObjectName(QStringLiteral("handling.wish.go"));
  search_->setMinimumHeight(44);
  search_->setMinimumWidth(120);
  beside_ = new QPushButton(tr("And figures held \u2026"), this);
  beside_->setObjectName(QStringLiteral("handling.wish.beside"));
  beside_->setMinimumHeight(targetHeight);
  beside_->setToolTip(tr(
      "Takes these wishes into Recipe, where figures are wanted or held beside them, and boxes and more parts count."));
  go->addWidget(same);
  go->addWidget(beside_);
  go->addStretch(1);
  go->addWidget(search_);
  auto* column = new QVBoxLayout;
  column->setSpacing(3);
  column->addWidget(scrolled(asked, this), 1);
  column->addLayout(go);
  across->addLayout(column);

  auto* right = new QVBoxLayout;
  right->setSpacing(3);
  news_ = quietLabel({}, this);
  news_->setObjectName(QStringLiteral("handling.wish.news"));
  right->addWidget(news_);
  progress_ = new QProgressBar(this);
  progress_->setTextVisible(false);
  progress_->setMaximumHeight(6);
  progress_->setRange(0, 1000);
  progress_->hide();
  right->addWidget(progress_);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("handling.wish.found"));
  dressTable(
      *table_,
      {{tr("Change")}, {tr("gives"), givesWide}, {tr("tyres"), 52, Qt::AlignRight}, {tr("work"), 58, Qt::AlignRight}});
  table_->setWordWrap(true);
  right->addWidget(table_, 1);
  try_ = new QPushButton(tr("Take it over into the setup"), this);
  try_->setObjectName(QStringLiteral("handling.wish.try"));
  try_->setMinimumHeight(40);
  try_->setEnabled(false);
  right->addWidget(try_);
  across->addLayout(right, 1);

  connect(same, &QPushButton::clicked, this, &WishSearch::wishTheSame);
  connect(search_, &QPushButton::clicked, this, [this] {
    if (!busy()) return search();
    giveUp();
    tellState();
  });
  connect(beside_, &QPushButton::clicked, this, [this] { Q_EMIT recipeWanted(wishes(), share_->value() / 100.0); });
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) { try_->setEnabled(row >= 0); });
  connect(table_, &QTableWidget::cellDoubleClicked, this, &WishSearch::tryFind);
  connect(try_, &QPushButton::clicked, this, &WishSearch::tryFind);
  tellState();
}

std::vector<HandlingWish> WishSearch::wishes() const {
  std::vector<HandlingWish> all;
  for (std::size_t p = 0; p < phase_count; ++p)
    for (std::size_t r = 0; r < rows; ++r)
      if (const int want = wish_[r][p]->currentData().toInt(); want != none)
        all.push_back({signRows[r].figure, corner_phases[p], static_cast<HandlingWant>(want)});
  return all;
}

void WishSearch::wishTheSame() {
  for (std::size_t r = 0; r < rows; ++r)
    for (QComboBox* box : wish_[r])
      box->setCurrentIndex(box->findData(r < 2 ? static_cast<int>(HandlingWant::same) : none));
}

void WishSearch::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  table_->horizontalHeader()->setVisible(height() >= lowHeight);
  table_->setColumnWidth(1, table_->width() < wideTable ? givesNarrow : givesWide);
  table_->resizeRowsToContents();
}

void WishSearch::giveUp() {
  // Of a search that was stopped nobody knows what it would have found.
  stopped_ = work_.busy();
  if (stopped_ && found_.results.empty()) asked_.reset();
  work_.giveUp();
  search_->setText(tr("Search"));
  progress_->hide();
}

void WishSearch::setStudy(const HandlingStudy* study) {
  study_ = study && study->wrong.isEmpty() && study->after ? std::optional(*study) : std::nullopt;
  if (asked_ && (!study_ || study_->car != asked_->car || study_->before_setup != asked_->before ||
                 study_->ask != asked_->wishes.ask || study_->family != asked_->family)) {
    giveUp();
    asked_.reset();
    found_ = {};
    fill();
  }
  if (!busy()) tellState();
}

void WishSearch::tellState() {
  beside_->setEnabled(!wishes().empty());
  if (busy()) return;
  search_->setEnabled(study_.has_value() && !wishes().empty());
  if (asked_ && !found_.results.empty()) {
    const auto reach =
        std::count_if(found_.results.begin(), found_.results.end(), [](const RecipeResult& r) { return r.meets(); });
    const QLocale l;
    const QString share = number(100.0 * asked_->wishes.share, 0);
    const QString foretold = l.toString(static_cast<qulonglong>(found_.foretold));
    const QString read = l.toString(static_cast<qulonglong>(found_.read_whole));
    news_->setText(reach > 0 ? counted(static_cast<int>(reach),
                                       "%1 way that holds for %2 % of the tyres; the nearest after it. %3 combinations "
                                       "foretold, %4 worked out.",
                                       "%1 ways that hold for %2 % of the tyres, least work first; the nearest after "
                                       "them. %3 combinations foretold, %4 worked out.")
                                   .arg(share, foretold, read)
                             : tr("Nothing holds for %1 % of the tyres; these come nearest. %2 combinations foretold, "
                                  "%3 worked out.")
                                   .arg(share, foretold, read));
    if (stopped_) news_->setText(tr("Stopped. So far: ") + news_->text());
    return;
  }
  news_->setText(asked_ ? tr("No part of this car moves what is wished.")
                 : study_ && study_->differs()
                     ? tr("Wish against the pinned baseline. Parts that differ from it stay as they are.")
                     : tr("Wish against the setup as it is. Changes below what can be felt count as none."));
}

void WishSearch::search() {
  if (!study_ || !model_.document().hasCar()) return;
  model_.flush();  // an edit a moment ago
  const Document& d = model_.document();
  const auto car = d.sharedCar();
  RecipeOrder order;
  order.wishes = tyres_.wishOrder(*car);
  order.wishes.wishes = wishes();
  order.wishes.share = share_->value() / 100.0;
  order.most_parts = 1 + std::max(0, parts_->current());
  order.results = mostShown;
  order.reset = model_.holds();
  for (const End end : both_ends)
    for (const PartHandle part : recipe_parts(*car, end))
      if (d.baseline().of(part) == d.setup().of(part)) order.parts.push_back(part);
  asked_ = Asked{car, d.baseline(), tyres_.family(*car).id, order.wishes, d.setup(), d.setup()};
  found_ = {};
  fill();
  search_->setText(tr("Stop"));
  progress_->setValue(0);
  progress_->show();
  news_->setText(tr("Every part is being worked out alone ..."));
  auto tellShare = toldInWindow<double>(this, [this](const double& share) {
    if (busy()) progress_->setValue(static_cast<int>(1000.0 * share));
  });
  auto tellFound = toldInWindow<Recipe>(this, [this](const Recipe& found) {
    if (!busy()) return;
    found_ = found;
    fill();
  });
  work_.start(
      [car, before = d.baseline(), start = d.setup(), order = std::move(order), tellShare = std::move(tellShare),
       tellFound = std::move(tellFound)](const std::atomic<bool>& cancelled) {
        return find_recipe(
            *car, before, start, order,
            [&, told = std::make_shared<std::atomic<int>>(0)](double share) {
              constexpr int fine = 100;  // steps of the bar
              if (const int now = static_cast<int>(fine * share); told->exchange(now) != now) tellShare(share);
              return !cancelled;
            },
            tellFound);
      },
      [this](tl::expected<Recipe, CarFailure> found) {
        giveUp();
        if (!found) {
          asked_.reset();
          tellState();
          Q_EMIT told(sentenceOf(found.error()));
          return;
        }
        found_ = std::move(*found);
        fill();
        tellState();
      });
}

void WishSearch::fill() {
  const int chosen = table_->currentRow();
  table_->setRowCount(0);
  try_->setEnabled(false);
  if (!asked_) return;
  const Tokens& t = tokens(palette());
  for (const RecipeResult& r : found_.results) {
    QStringList steps, gives;
    for (const PartChange& c : r.changes) steps << changeText(*asked_->car, c);
    for (std::size_t k = 0; k < r.felt->by.size(); ++k) {
      const HandlingWish& w = asked_->wishes.wishes[k];
      gives << tr("%1 %2").arg(feltLabel(w.figure, w.phase), feltDifference(w.figure, r.felt->by[k]));
    }
    if (steps.isEmpty()) steps << tr("As it is now");
    const int at = table_->rowCount();
    table_->insertRow(at);
    putRow(*table_, at,
           {steps.join(QLatin1Char('\n')), gives.join(QLatin1Char('\n')),
            tr("%1 %").arg(std::lround(100.0 * r.felt->share)), tr("%1 min").arg(std::lround(r.work.minutes))},
           t, false);
    const bool reaches = r.meets();
    table_->item(at, 2)->setForeground(reaches ? t.good : t.soft);
    table_->item(at, 2)->setText(QStringLiteral("%1 %2").arg(
        reaches ? QStringLiteral("\u2713") : QStringLiteral("\u2248"), table_->item(at, 2)->text()));
    // In a low list the middle of a tall row is out of sight.
    for (int c = 0; c < table_->columnCount(); ++c)
      table_->item(at, c)->setTextAlignment((c < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignTop);
    table_->resizeRowToContents(at);
  }
  if (chosen >= 0 && chosen < table_->rowCount()) table_->setCurrentCell(chosen, 0);
}

void WishSearch::tryFind() {
  const int row = table_->currentRow();
  Document& d = model_.document();
  if (row < 0 || row >= static_cast<int>(found_.results.size()) || !asked_ || asked_->car != d.sharedCar()) return;
  // One result after the other is tried on the setup that was searched from; what the hand has changed since stays.
  Setup setup = d.setup() == asked_->tried ? asked_->document : d.setup();
  const std::vector<PartChange>& changes = found_.results[at(row)].changes;
  d.putSetup(changed_by_hand(d.car(), d.baseline(), std::move(setup), changes), tr("What the driver wishes"));
  asked_->tried = d.setup();
}

}  // namespace lowkite::app
