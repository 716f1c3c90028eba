#include "app/plan/handling/handling_page.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include <QApplication>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include "app/plan/handling/film_page.h"
#include "app/plan/handling/handling_words.h"
#include "app/plan/handling/sign_cell.h"
#include "app/plan/handling/wish_search.h"
#include "app/plan/springs/fields.h"
#include "app/widgets/beside_or_below.h"
#include "app/widgets/form_column.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"
#include "core/handling/corner_film.hpp"

namespace lowkite::app {
namespace {

constexpr int fewTyres = 64;   ///< for reasons and curves
constexpr int partTyres = 32;  ///< for one step of every part
constexpr double sure = 0.8;   ///< of the tyres: the sign stands without reserve
constexpr double leans = 0.5;
constexpr double leastTold = 0.02;  ///< % and deg together: less of a reason is none
constexpr double nobody = 0.25;     ///< fewer than that say anything: not felt

QString parameterValue(const TyreParameterSpec& p, double value) {
  return QStringLiteral("%1 %2").arg(number(value, p.decimals), fromCore(p.unit)).trimmed();
}

QString splitText(const TyreSplit& s) {
  const TyreParameterSpec& p = spec_of(s.parameter);
  return HandlingPage::tr("more for %1 % of those with %2 above %3, for %4 % below")
      .arg(number(100.0 * s.above, 0), fromCore(p.label), parameterValue(p, s.at), number(100.0 * s.below, 0));
}

}  // namespace

HandlingPage::HandlingPage(PlanModel& model, TyreChoice& tyres, QWidget* parent)
    : QFrame(parent), model_(model), choice_(tyres), study_(this), more_(this), partWork_(this), diagramWork_(this) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("handling"));
  const auto [column, across] = formColumn(this, 262);
  makeForm(column);

  auto* table = new QWidget(this);
  auto* grid = new QGridLayout(table);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(14);
  grid->setVerticalSpacing(2);
  for (int p = 0; p < phase_count; ++p) {
    auto* heading = new QLabel(phaseTitle(corner_phases[at(p)]), table);
    heading->setProperty("role", "heading");
    grid->addWidget(heading, 0, p + 1);
    grid->setColumnStretch(p + 1, 1);
  }
  for (int r = 0; r < signs; ++r) {
    const SignRow& row = signRows[at(r)];
    auto* title = new QLabel(handlingWords(row.title), table);
    title->setFont(textFont(13, true));
    title->setToolTip(fromCore(spec_of(row.figure).meaning));
    grid->addWidget(title, r + 1, 0);
    for (int p = 0; p < phase_count; ++p) {
      auto* sign = new SignCell(table);
      sign->setObjectName(QStringLiteral("handling.sign%1.%2").arg(r).arg(p));
      grid->addWidget(sign, r + 1, p + 1);
      sign_[at(r)][at(p)] = sign;
    }
  }
  grid->setRowStretch(signs + 1, 1);
  signArea_ = scrolled(table, this);
  table->setMinimumWidth(474);
  auto* main = new QVBoxLayout;
  main->setSpacing(3);
  narrow_ = new QWidget(this);
  auto* below = new QHBoxLayout(narrow_);
  below->setContentsMargins(0, 0, 0, 0);
  below->setSpacing(12);
  below->addWidget(signArea_, 3);

  auto* right = new QVBoxLayout;
  right->setSpacing(3);
  view_ = new Segmented(QStringLiteral("handling.view"),
                        {tr("Why"), tr("Which tyres"), tr("Grip left"), tr("Moments"), tr("Every part"), tr("Tyres"),
                         tr("Film"), tr("Wishes")},
                        this);
  view_->setCurrent(0);
  phase_ = new Segmented(QStringLiteral("handling.phase"), {tr("Entry"), tr("Middle"), tr("Exit")}, this);
  phase_->setCurrent(1);
  main->addWidget(view_);
  main->addWidget(narrow_, 1);
  across->addLayout(main, 1);
  chooseRow_ = new QHBoxLayout;
  chooseRow_->addWidget(phase_);
  partFigure_ = new QComboBox(this);
  partFigure_->setObjectName(QStringLiteral("handling.partFigure"));
  partFigure_->setAccessibleName(tr("What the parts are ordered by"));
  partFigure_->setMinimumHeight(targetHeight);
  for (const SignRow& row : signRows) partFigure_->addItem(handlingWords(row.title));
  chooseRow_->addWidget(partFigure_, 1);
  right->addLayout(chooseRow_);
  book_ = new QStackedWidget(this);
  book_->setMinimumWidth(300);
  why_ = new QLabel(this);
  why_->setObjectName(QStringLiteral("handling.why"));
  why_->setAccessibleName(tr("Why, by what the change reaches the tyres"));
  why_->setTextFormat(Qt::RichText);
  why_->setWordWrap(true);
  why_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  why_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  book_->addWidget(scrolled(why_, book_));
  schools_ = new LineChart(QStringLiteral("handling.schools"), this);
  book_->addWidget(schools_);
  grip_ = new LineChart(QStringLiteral("handling.grip"), this);
  book_->addWidget(grip_);
  moments_ = new LineChart(QStringLiteral("handling.moments"), this);
  book_->addWidget(moments_);
  auto* partPage = new QWidget(book_);
  auto* partColumn = new QVBoxLayout(partPage);
  partColumn->setContentsMargins(0, 0, 0, 0);
  partTable_ = new QTableWidget(partPage);
  partTable_->setObjectName(QStringLiteral("handling.parts"));
  dressTable(*partTable_,
             {{tr("One step of")}, {tr("by"), 84, Qt::AlignRight}, {tr("tyres: more, less"), 116, Qt::AlignRight}});
  progress_ = new QProgressBar(partPage);
  progress_->setTextVisible(false);
  progress_->setMaximumHeight(6);
  progress_->setRange(0, 1000);
  try_ = new QPushButton(tr("Try this step"), partPage);
  try_->setObjectName(QStringLiteral("handling.try"));
  try_->setMinimumHeight(targetHeight);
  try_->setEnabled(false);
  partColumn->addWidget(partTable_, 1);
  partColumn->addWidget(progress_);
  partColumn->addWidget(try_);
  book_->addWidget(partPage);
  auto* beliefPage = new QWidget(book_);
  auto* beliefColumn = new QVBoxLayout(beliefPage);
  beliefColumn->setContentsMargins(0, 0, 0, 0);
  beliefTable_ = new QTableWidget(beliefPage);
  beliefTable_->setObjectName(QStringLiteral("handling.beliefs"));
  dressTable(*beliefTable_, {{tr("What is believed"), 170},
                             {tr("least"), 58, Qt::AlignRight},
                             {tr("most"), 58, Qt::AlignRight},
                             {tr("why")}});
  beliefTable_->setWordWrap(true);
  beliefTable_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
  ours_ = new QPushButton(tr("Back to what was believed before"), beliefPage);
  ours_->setObjectName(QStringLiteral("handling.ours"));
  ours_->setMinimumHeight(targetHeight);
  beliefColumn->addWidget(beliefTable_, 1);
  beliefColumn->addWidget(ours_);
  book_->addWidget(beliefPage);
  right->addWidget(book_, 1);
  below->addLayout(right, 3);
  // A film and a list of wishes take the room of the signs, too.
  film_ = new FilmPage(this);
  main->addWidget(film_, 1);
  wishes_ = new WishSearch(model_, choice_, this);
  connect(wishes_, &WishSearch::told, this, &HandlingPage::told);
  connect(wishes_, &WishSearch::recipeWanted, this, &HandlingPage::recipeWanted);
  main->addWidget(wishes_, 1);

  connect(view_, &Segmented::chosen, this, [this](int i) { showView(static_cast<View>(i)); });
  connect(phase_, &Segmented::chosen, this, &HandlingPage::showMore);
  connect(partFigure_, &QComboBox::currentIndexChanged, this, &HandlingPage::showMore);
  connect(partTable_, &QTableWidget::currentCellChanged, this, [this](int row) { try_->setEnabled(row >= 0); });
  connect(partTable_, &QTableWidget::cellDoubleClicked, this, &HandlingPage::tryPart);
  connect(try_, &QPushButton::clicked, this, &HandlingPage::tryPart);
  connect(beliefTable_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (filling_ || !model_.document().hasCar()) return;
    const int row = item->row();
    bool least = false, most = false;
    const double a = QLocale().toDouble(beliefTable_->item(row, 1)->text(), &least);
    const double b = QLocale().toDouble(beliefTable_->item(row, 2)->text(), &most);
    QString wrong = least && most ? choice_.setBelief(model_.document().car(), static_cast<TyreParameter>(row), a, b)
                                  : tr("\"%1\" is no number.").arg(item->text());
    if (!wrong.isEmpty()) Q_EMIT told(wrong);
    fillBeliefs();
  });
  connect(ours_, &QPushButton::clicked, this, [this] {
    if (const QString wrong = choice_.forgetOwn(model_.document().car()); !wrong.isEmpty()) Q_EMIT told(wrong);
  });
  connect(&choice_, &TyreChoice::changed, this, [this] {
    fillFamilies();
    fillBeliefs();
    partsFor_.reset();
    refresh();
  });
  // What was asked of the setup before serves nobody, and holds up what the step is compared by.
  connect(&model_.document(), &Document::inputsChanged, this, [this] {
    study_.giveUp();
    more_.giveUp();
  });
  connect(&model_, &PlanModel::compared, this, &HandlingPage::refresh);
  fillFamilies();
  fillBeliefs();
  showView(View::why);
}

void HandlingPage::makeForm(QVBoxLayout* column) {
  family_ = new QComboBox(this);
  family_->setObjectName(QStringLiteral("handling.family"));
  family_->setAccessibleName(tr("Tyres and ground"));
  family_->setMinimumHeight(targetHeight);
  column->addWidget(family_);
  warmth_ = new Segmented(QStringLiteral("handling.warmth"), {tr("Cold"), tr("Right"), tr("Hot")}, this);
  warmth_->setCurrent(static_cast<int>(choice_.warmth()));
  column->addWidget(warmth_);
  const CornerAsk& a = choice_.ask();
  const auto field = [&](int i, const char* name, const QString& said, double least, double most, double value,
                         double step, int decimals, const QString& unit) {
    asked_[at(i)] = numberField(this, QStringLiteral("handling.%1").arg(QLatin1String(name)), said, least, most, value,
                                decimals, step, unit);
    connect(asked_[at(i)], &QDoubleSpinBox::valueChanged, this, &HandlingPage::readForm);
  };
  field(0, "lateral", tr("What the corner asks of the car sideways"), 0.1, 3.0, a.lateral_g, 0.1, 1, tr(" g"));
  field(1, "radius", tr("Radius of the corner"), 0.5, 50.0, a.radius_m, 0.5, 1, tr(" m"));
  field(2, "braking", tr("Braking while it already turns, at entry"), 0.0, 1.5, a.braking_g, 0.05, 2, tr(" g"));
  field(3, "power", tr("Power while it still turns, at exit"), 0.0, 1.5, a.power_g, 0.05, 2, tr(" g"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(1);
  const std::array<QString, 4> titles{tr("corner"), tr("radius"), tr("brake"), tr("power")};
  for (int i = 0; i < 4; ++i) {
    grid->addWidget(quietLabel(titles[at(i)], this), 2 * (i / 2), i % 2);
    grid->addWidget(asked_[at(i)], 2 * (i / 2) + 1, i % 2);
  }
  column->addLayout(grid);
  way_ = new Segmented(QStringLiteral("handling.way"), {tr("Left turn"), tr("Right turn")}, this);
  way_->setCurrent(a.to_the_left ? 0 : 1);
  column->addWidget(way_);
  news_ = quietLabel({}, this);
  news_->setObjectName(QStringLiteral("handling.news"));
  column->addWidget(news_);
  column->addStretch(1);
  connect(family_, &QComboBox::activated, this,
          [this](int row) { choice_.setFamily(family_->itemData(row).toString().toStdString()); });
  connect(warmth_, &Segmented::chosen, this, [this](int i) { choice_.setWarmth(static_cast<TyreWarmth>(i)); });
  connect(way_, &Segmented::chosen, this, &HandlingPage::readForm);
}

void HandlingPage::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  fillFamilies();
  fillBeliefs();
  refresh();
}

void HandlingPage::hideEvent(QHideEvent* event) {
  QFrame::hideEvent(event);
  // Nobody waits for it; what was given up is asked again when the page is opened.
  if (study_.busy()) now_.reset();
  if (more_.busy()) reasonsKnown_ = false;
  if (partWork_.busy()) partsFor_.reset();
  viewGivenUp_ = diagramWork_.busy() || film_->busy();
  study_.giveUp();
  more_.giveUp();
  partWork_.giveUp();
  diagramWork_.giveUp();
  film_->giveUp();
  wishes_->giveUp();
}

void HandlingPage::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  shareRoom();
}

void HandlingPage::shareRoom() {
  constexpr int apart = 12;
  layout()->activate();  // what was hidden until now has its width
  const int beside = narrow_->width() - signArea_->minimumSizeHint().width() - apart;
  // What is believed is a table of sentences: where little is left for it, it takes the room of the signs, too.
  constexpr int forSentences = 480;
  signArea_->setVisible(view() != View::beliefs || beside >= forSentences);
  besideOrBelow(*chooseRow_, beside);
  if (view() == View::beliefs) QTimer::singleShot(0, beliefTable_, [this] { beliefTable_->resizeRowsToContents(); });
}

void HandlingPage::showView(View view) {
  view_->setCurrent(static_cast<int>(view));
  film_->setVisible(view == View::film);
  wishes_->setVisible(view == View::wishes);
  narrow_->setVisible(view != View::film && view != View::wishes);
  if (static_cast<int>(view) < book_->count()) book_->setCurrentIndex(static_cast<int>(view));
  phase_->setVisible(view != View::moments && view != View::beliefs);
  partFigure_->setVisible(view == View::parts || view == View::schools);
  shareRoom();
  showMore();
  if (view == View::parts) askParts();
}

bool HandlingPage::busy() const {
  return study_.busy() || more_.busy() || partWork_.busy() || diagramWork_.busy() || film_->busy() || wishes_->busy();
}

HandlingPage::View HandlingPage::view() const {
  return static_cast<View>(std::max(0, view_->current()));
}

CornerPhase HandlingPage::phase() const {
  return corner_phases[at(std::max(0, phase_->current()))];
}

void HandlingPage::fillFamilies() {
  if (!choice_.any() || !model_.document().hasCar()) return;
  const QSignalBlocker quiet(family_);
  family_->clear();
  for (const TyreFamily& f : choice_.book().families)
    family_->addItem(f.own ? tr("%1 (yours)").arg(fromCore(f.name)) : fromCore(f.name), QString::fromStdString(f.id));
  family_->setCurrentIndex(family_->findData(QString::fromStdString(choice_.family(model_.document().car()).id)));
}

void HandlingPage::readForm() {
  CornerAsk a = choice_.ask();
  a.lateral_g = asked_[0]->value();
  a.radius_m = asked_[1]->value();
  a.braking_g = asked_[2]->value();
  a.power_g = asked_[3]->value();
  a.to_the_left = way_->current() != 1;
  choice_.setAsk(a);
}

void HandlingPage::refresh() {
  if (!isVisible() || !model_.document().hasCar() || !choice_.any()) return;
  const Comparison* c = model_.comparison();
  if (!c || !model_.failure().isEmpty()) {
    study_.giveUp();
    more_.giveUp();
    now_.reset();
    wishes_->setStudy(nullptr);
    news_->setText(model_.failure().isEmpty() ? QString() : tr("The setup cannot stand."));
    showSigns(false);
    showMore();
    return;
  }
  HandlingStudy s;
  s.car = model_.document().sharedCar();
  s.before_setup = c->baseline->setup;
  s.after_setup = c->reset->setup;
  s.ask = choice_.ask();
  const TyreFamily& family = choice_.family(*s.car);
  s.family = family.id;
  s.tyres = draw_tyres(family, usual_draws, choice_.warmth());
  s.weights = choice_.weights(*s.car, s.family, s.tyres);
  choice_.wantWeights(s.family);
  if (now_ && now_->weights != s.weights) {
    // Only how the tyres count is another: what is known of them stays.
    now_->weights = s.weights;
    if (now_->wrong.isEmpty() && !study_.busy()) {
      tellNews();
      showMore();
    }
    showSigns(false);
  }
  if (now_ && now_->wrong.isEmpty() && now_->car == s.car && now_->ask == s.ask && now_->tyres == s.tyres) {
    if (now_->before_setup == s.before_setup && now_->after_setup == s.after_setup && !study_.busy()) {
      showSigns(false);
      if (!reasonsKnown_ && !more_.busy()) askMore();
      if (std::exchange(viewGivenUp_, false)) showMore();
      if (view() == View::parts) askParts();
      return;
    }
    if (now_->before_setup == s.before_setup) {
      s.before = now_->before;
      s.over_before = now_->over_before;
    }
  }
  more_.giveUp();
  showSigns(true);
  study_.start(
      [s = std::move(s)](const std::atomic<bool>& cancelled) mutable {
        const auto goOn = [&] { return !cancelled; };
        const auto look = [&](const Setup& setup, std::shared_ptr<const SetupTable>& table,
                              std::shared_ptr<const Handling>& over) {
          if (table || cancelled) return;
          auto made = tabulate(*s.car, setup, s.ask);
          if (!made) {
            s.wrong = sentenceOf(made.error());
            return;
          }
          table = std::make_shared<const SetupTable>(std::move(*made));
          over = std::make_shared<const Handling>(handling_over(*table, s.tyres, 2, goOn));
        };
        look(s.before_setup, s.before, s.over_before);
        if (s.wrong.isEmpty()) {
          if (!s.differs()) {
            s.after = s.before;
            s.over_after = s.over_before;
          } else {
            look(s.after_setup, s.after, s.over_after);
          }
        }
        return std::move(s);
      },
      [this](HandlingStudy found) { take(std::move(found)); });
}

void HandlingPage::take(HandlingStudy study) {
  now_ = std::move(study);
  wishes_->setStudy(&*now_);
  reasonsKnown_ = false;
  reasons_.clear();
  tellNews();
  showSigns(false);
  askMore();
  // Reasons of the step before stand greyed until the new ones are known: two texts laid out for one step keep the
  // window from following the next.
  if (!now_->wrong.isEmpty() || view() != View::why || why_->text().isEmpty()) showMore();
  if (view() == View::parts) askParts();
}

void HandlingPage::tellNews() {
  if (!now_->wrong.isEmpty()) {
    news_->setText(tr("Handling cannot be told: %1").arg(now_->wrong));
    return;
  }
  QString text = now_->differs()
                     ? tr("The change over %1 tyres: pinned baseline against the car put back. Steady states; "
                          "no lap time follows.")
                           .arg(now_->tyres.size())
                     : tr("Nothing is changed: the setup over %1 tyres, in the middle and for eight in ten "
                          "of them.")
                           .arg(now_->tyres.size());
  const TyreChoice::Weighed* weighed = choice_.weighed(*now_->car, now_->family);
  if (!now_->weights.empty() && weighed)
    text += tr(" <b>Weighed by your log: %1 pairs of runs leave %2 of them.</b>")
                .arg(weighed->weights.pairs)
                .arg(std::lround(weighed->weights.left));
  news_->setText(text);
}

std::optional<HandlingDifference> HandlingPage::difference(HandlingFigure figure, CornerPhase phase) const {
  if (!now_ || !now_->over_before || !now_->over_after) return std::nullopt;
  return difference_of(spec_of(figure), phase, *now_->over_before, *now_->over_after, now_->tyres, now_->weights);
}

void HandlingPage::showSigns(bool stale) {
  why_->setEnabled(!stale && reasonsKnown_);
  for (int r = 0; r < signs; ++r)
    for (int p = 0; p < phase_count; ++p) {
      const SignRow& row = signRows[at(r)];
      const CornerPhase phase = corner_phases[at(p)];
      SignCell& cell = *sign_[at(r)][at(p)];
      const HandlingFigureSpec& f = spec_of(row.figure);
      // Grey until the present change is known: what stands there is the one before.
      cell.setEnabled(!stale);
      if (stale) continue;
      if (!now_ || !now_->wrong.isEmpty() || !now_->over_after) {
        cell.tell({}, &Tokens::ink, {});
        cell.setToolTip({});
        continue;
      }
      if (!now_->differs()) {
        const auto s = spread_of(f, phase, *now_->over_after, now_->weights);
        if (s)
          cell.tell(withUnit(s->median, f.decimals, f.unit, false), &Tokens::ink,
                    tr("%1 to %2").arg(number(s->low, f.decimals), number(s->high, f.decimals)));
        else
          cell.tell(tr("?"), &Tokens::soft, tr("cannot be told"));
        cell.setToolTip(fromCore(f.meaning));
        continue;
      }
      const auto d = difference(row.figure, phase);
      if (!d) {
        cell.tell(tr("?"), &Tokens::soft, tr("cannot be told"));
        cell.setToolTip({});
        continue;
      }
      const std::size_t all = now_->tyres.size();
      const double up = row.sense > 0.0 ? d->more : d->less;
      const double down = row.sense > 0.0 ? d->less : d->more;
      const QString by = withUnit(d->by.median, f.decimals + (f.decimals == 0 ? 0 : 1), f.unit, true);
      const bool moreUp = up >= down;
      const double most = std::max(up, down);
      const QString says = handlingWords(moreUp ? row.up : row.down);
      const QString parted = tr("%1 %2, %3 %4")
                                 .arg(tyresOf(up, all))
                                 .arg(handlingWords(row.up))
                                 .arg(tyresOf(down, all))
                                 .arg(handlingWords(row.down));
      if (most < nobody)
        cell.tell(QStringLiteral("\u2248 %1").arg(tr("not felt")), &Tokens::soft, parted);
      else if (most < leans || std::min(up, down) > 0.5 * most)
        cell.tell(QStringLiteral("\u25C6 %1").arg(tr("depends")), &Tokens::warn, parted);
      else
        cell.tell(QStringLiteral("%1 %2").arg(moreUp ? QStringLiteral("\u25B2") : QStringLiteral("\u25BC"),
                                              most >= sure ? by : tr("%1 ?").arg(by)),
                  most >= sure ? &Tokens::kite : &Tokens::ink,
                  tr("%1 for %2 of %3").arg(says).arg(tyresOf(most, all)).arg(all));
      QString tip = tr("%1: %2, for eight in ten tyres %3 to %4")
                        .arg(fromCore(f.label), by, signedNumber(d->by.low, f.decimals + 1),
                             signedNumber(d->by.high, f.decimals + 1));
      if (d->split) tip += QStringLiteral("\n") + splitText(*d->split);
      cell.setToolTip(tip);
    }
}

void HandlingPage::askMore() {
  if (!now_ || !now_->wrong.isEmpty()) return;
  more_.start(
      [s = *now_](const std::atomic<bool>& cancelled) {
        const auto few = std::span(s.tyres).first(std::min<std::size_t>(fewTyres, s.tyres.size()));
        const auto goOn = [&] { return !cancelled; };
        return s.differs() ? reasons_for(*s.before, *s.after, few, 2, goOn) : worth_of(*s.after, few, 2, goOn);
      },
      [this](std::vector<HandlingReason> found) {
        reasons_ = std::move(found);
        reasonsKnown_ = true;
        if (view() == View::why) showMore();
      });
}

void HandlingPage::askDiagram(View view) {
  const CornerPhase in = phase();
  diagramWork_.start(
      [s = *now_, in, view](const std::atomic<bool>& cancelled) {
        Diagrams d;
        if (view == View::moments) {
          const TyreDraw tyre = middle_of(s.tyres, s.weights);
          if (s.differs()) d.moments_before = moment_diagram(*s.before, tyre);
          if (!cancelled) d.moments_after = moment_diagram(*s.after, tyre);
          return d;
        }
        const auto few = std::span(s.tyres).first(std::min<std::size_t>(fewTyres, s.tyres.size()));
        if (s.differs()) d.grip_before = grip_over_lateral(*s.before, few, in);
        if (!cancelled) d.grip_after = grip_over_lateral(*s.after, few, in);
        return d;
      },
      [this, view](const Diagrams& d) {
        if (!now_) return;
        view == View::grip ? drawGrip(d) : drawMoments(d);
      });
}

void HandlingPage::drawGrip(const Diagrams& d) {
  std::vector<ChartLine> lines;
  const auto add = [&](const std::vector<GripPoint>& points, bool before) {
    for (const End end : both_ends) {
      ChartLine middle{before              ? LineKind::before
                       : end == End::front ? LineKind::now
                                           : LineKind::second,
                       {},
                       before ? QString() : endTitle(end)};
      ChartLine low{LineKind::quiet, {}, {}}, high{LineKind::quiet, {}, {}};
      for (const GripPoint& p : points)
        if (const auto& s = p.left[lowkite::at(end)]; s && s->median < 150.0) {
          middle.points << QPointF(p.lateral_g, s->median);
          low.points << QPointF(p.lateral_g, s->low);
          high.points << QPointF(p.lateral_g, s->high);
        }
      lines.push_back(std::move(middle));
      if (!before) {
        lines.push_back(std::move(low));
        lines.push_back(std::move(high));
      }
    }
  };
  if (!d.grip_before.empty()) add(d.grip_before, true);
  add(d.grip_after, false);
  grip_->show(tr("lateral acceleration, g"), tr("grip left, %"), lines, 40.0);
  grip_->mark(now_->ask.lateral_g);
}

void HandlingPage::drawMoments(const Diagrams& d) {
  std::vector<ChartLine> lines;
  const auto add = [&](const MomentDiagram& m, bool before) {
    const auto line = [&](const MomentDiagram::Line& l, LineKind kind, const QString& name) {
      ChartLine c{kind, {}, name};
      for (const MomentPoint& p : l.points) c.points << QPointF(p.lateral_g, 100.0 * p.moment);
      lines.push_back(std::move(c));
    };
    for (const auto& l : m.steer)
      line(l, before ? LineKind::before : LineKind::now, before ? QString() : tr("servo %1").arg(number(l.deg, 0)));
    if (!before)
      for (const auto& l : m.slip) line(l, LineKind::quiet, {});
  };
  if (d.moments_before) add(*d.moments_before, true);
  if (d.moments_after) add(*d.moments_after, false);
  moments_->show(tr("lateral acceleration, g"), tr("yaw moment, % of weight x wheelbase"), lines, 10.0);
}

void HandlingPage::showMore() {
  const View view = this->view();
  if (view == View::parts) {
    fillParts();
    return;
  }
  why_->setEnabled(!study_.busy());
  diagramWork_.giveUp();
  if (!now_ || !now_->wrong.isEmpty() || !now_->after) {
    why_->clear();
    schools_->show({}, {}, {});
    grip_->show({}, {}, {});
    moments_->show({}, {}, {});
    film_->clear();
    return;
  }
  if (view == View::film) {
    film_->drive(*now_);
    return;
  }
  const CornerPhase in = phase();
  if (view == View::schools) {
    // Each tyre a point: what the change does on it, over the property that decides.
    const SignRow& row = signRows[at(std::max(0, partFigure_->currentIndex()))];
    const HandlingFigureSpec& f = spec_of(row.figure);
    const auto d =
        now_->differs() ? difference_by_tyre(f, in, *now_->over_before, *now_->over_after, now_->tyres) : std::nullopt;
    if (!d) {
      schools_->show(tr("change something, and the tyres part here"), {}, {});
      return;
    }
    const TyreParameterSpec& p = spec_of(d->parameter);
    ChartLine points{LineKind::points, {}, {}}, nought{LineKind::quiet, {}, {}};
    double low = d->points.front().property, high = low;
    for (const auto& point : d->points) {
      points.points << QPointF(point.property, point.by);
      low = std::min(low, point.property);
      high = std::max(high, point.property);
    }
    nought.points << QPointF(low, 0.0) << QPointF(high, 0.0);
    const QString unit = fromCore(p.unit);
    schools_->show(unit.isEmpty() ? fromCore(p.label) : tr("%1, %2").arg(fromCore(p.label), unit),
                   tr("%1 by the change, %2").arg(fromCore(f.label), fromCore(f.unit)), {nought, points});
    // Where the racer's own runs put him.
    std::optional<double> mine;
    if (const auto* weighed = choice_.weighed(*now_->car, now_->family); !now_->weights.empty() && weighed)
      for (const LearnedProperty& l : learned(now_->tyres, weighed->weights))
        if (l.parameter == d->parameter && l.narrower() > 0.15) mine = l.now.median;
    schools_->mark(mine);
    return;
  }
  if (view == View::grip || view == View::moments) {
    askDiagram(view);
    return;
  }
  if (view != View::why) return;
  // Reasons: what moved, the largest first, and where tyres disagree, what decides.
  const auto p = at(in);
  QStringList html;
  html << QStringLiteral("<b>%1</b>")
              .arg(now_->differs() ? tr("By what the change reaches the tyres")
                                   : tr("What each is worth to this setup"));
  if (!reasonsKnown_) {
    html << tr("... being worked out");
  } else {
    struct Line {
      double size;
      QString text;
    };
    std::vector<Line> lines;
    for (const HandlingReason& r : reasons_) {
      const auto by = [&](HandlingFigure f) { return r.by[p][at(f)].value_or(0.0); };
      const double front = by(HandlingFigure::front_left), rear = by(HandlingFigure::rear_left);
      const double steering = by(HandlingFigure::steering);
      const double size = std::abs(front) + std::abs(rear) + std::abs(steering);
      if (size < leastTold) continue;
      lines.push_back({size, tr("%1: front %2 %, rear %3 %, steering %4 deg")
                                 .arg(fromCore(label_of(r.channel)), signedNumber(front, 2), signedNumber(rear, 2),
                                      signedNumber(steering, 2))});
    }
    std::stable_sort(lines.begin(), lines.end(), [](const Line& a, const Line& b) { return a.size > b.size; });
    for (const Line& l : lines) html << l.text;
    if (lines.empty()) html << tr("It reaches them in no way that is counted here.");
  }
  if (now_->differs()) {
    bool any = false;
    for (const SignRow& row : signRows)
      if (const auto d = difference(row.figure, in); d && d->split) {
        if (!any) html << QStringLiteral("<b>%1</b>").arg(tr("Where tyres disagree"));
        any = true;
        html << tr("%1: %2").arg(fromCore(spec_of(row.figure).label), splitText(*d->split));
      }
  }
  if (now_->differs() && now_->after->toe_apart_rad(*now_->before) >= toe_beyond_this_rad)
    html << QStringLiteral("<b>%1</b>")
                .arg(tr("Toe: a steady state sees only that two wheels pull against each other. The calm that racers "
                        "have from "
                        "toe-in at the rear is not in these signs."));
  if (const auto s = spread_of(spec_of(HandlingFigure::limit), in, *now_->over_after, now_->weights)) {
    const LimitBy by = limit_by(in, *now_->over_after);
    html << QStringLiteral("<b>%1</b>").arg(tr("The limit"));
    html << tr("%1 g (%2 to %3); the front lets go first on %4 of %5 tyres, the rear on %6")
                    .arg(number(s->median, 2), number(s->low, 2), number(s->high, 2))
                    .arg(by.front)
                    .arg(by.tyres())
                    .arg(by.rear) +
                (by.stand > 0 ? tr(", on %1 the car leaves its wheels before").arg(by.stand) : QString());
  }
  html << QStringLiteral("<span style='color:%1'>%2</span>")
              .arg(tokens(palette()).soft.name(),
                   tr("Left out: tyres' temperature but as chosen, bumps, a chassis that flexes, air."));
  why_->setText(html.join(QStringLiteral("<br>")));
}

void HandlingPage::askParts() {
  if (!isVisible() || !now_ || !now_->wrong.isEmpty()) return;
  if (partsFor_ && partsFor_->first == now_->car && partsFor_->second == now_->after_setup) return;
  partsFor_ = std::pair(now_->car, now_->after_setup);
  parts_.clear();
  fillParts();
  progress_->setValue(0);
  progress_->show();
  partWork_.start(
      [s = *now_, tell = toldInWindow<double>(
                      this, [this](double share) { progress_->setValue(static_cast<int>(1000.0 * share)); })](
          const std::atomic<bool>& cancelled) {
        const auto few = std::span(s.tyres).first(std::min<std::size_t>(partTyres, s.tyres.size()));
        return handling_of_parts(*s.car, s.after_setup, s.ask, few, {}, 2, [&](double share) {
          tell(share);
          return !cancelled;
        });
      },
      [this](tl::expected<std::vector<PartHandling>, CarFailure> found) {
        progress_->hide();
        if (!found) {
          Q_EMIT told(sentenceOf(found.error()));
          return;
        }
        parts_ = std::move(*found);
        fillParts();
      });
}

void HandlingPage::fillParts() {
  partTable_->setRowCount(0);
  try_->setEnabled(false);
  if (!partsFor_) return;
  const Car& car = *partsFor_->first;
  const auto& row = signRows[at(std::max(0, partFigure_->currentIndex()))];
  const HandlingFigureSpec& f = spec_of(row.figure);
  struct Row {
    const PartHandling* part;
    HandlingDifference by;
  };
  std::vector<Row> rows;
  for (const PartHandling& p : parts_)
    if (const auto& d = p.by[at(phase())][at(row.figure)]; d && d->more + d->less > 0.05) rows.push_back({&p, *d});
  std::stable_sort(rows.begin(), rows.end(),
                   [](const Row& a, const Row& b) { return std::abs(a.by.by.median) > std::abs(b.by.by.median); });
  const Tokens& t = tokens(palette());
  for (const Row& r : rows) {
    const Adjuster& a = car.adjusters[r.part->adjuster];
    partTable_->insertRow(partTable_->rowCount());
    const int at = partTable_->rowCount() - 1;
    putRow(*partTable_, at,
           {tr("%1, %2 \u2192 %3").arg(partTitle(a), valueText(a, r.part->from), valueText(a, r.part->to)),
            withUnit(r.by.by.median, f.decimals + 1, f.unit, true),
            tr("%1, %2 of %3").arg(tyresOf(r.by.more, partTyres)).arg(tyresOf(r.by.less, partTyres)).arg(partTyres)},
           t, false);
    partTable_->item(at, 0)->setData(Qt::UserRole, r.part->adjuster.number());
    partTable_->item(at, 0)->setData(Qt::UserRole + 1, r.part->to);
  }
}

void HandlingPage::tryPart() {
  const int row = partTable_->currentRow();
  Document& d = model_.document();
  if (row < 0 || !partsFor_ || partsFor_->first != d.sharedCar()) return;
  d.setValue(PartHandle::numbered(partTable_->item(row, 0)->data(Qt::UserRole).toInt()), Sides::both,
             partTable_->item(row, 0)->data(Qt::UserRole + 1).toDouble());
}

void HandlingPage::fillBeliefs() {
  if (!choice_.any() || !model_.document().hasCar()) return;
  filling_ = true;
  const TyreFamily& family = choice_.family(model_.document().car());
  beliefTable_->setRowCount(tyre_parameter_count);
  for (const TyreParameterSpec& p : tyre_parameters()) {
    const int row = static_cast<int>(p.parameter);
    const TyreBelief& b = family.belief[at(row)];
    const QString unit = fromCore(p.unit);
    const std::array<QString, 4> cells{unit.isEmpty() ? fromCore(p.label) : tr("%1, %2").arg(fromCore(p.label), unit),
                                       number(b.least, p.decimals), number(b.most, p.decimals), fromCore(b.reason)};
    for (int c = 0; c < 4; ++c) {
      auto* item = new QTableWidgetItem(cells[at(c)]);
      const bool typed = c == 1 || c == 2;
      item->setFlags(typed ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable
                           : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      item->setFont(typed ? figureFont(12) : textFont(12));
      item->setTextAlignment((typed ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignTop);
      item->setToolTip(typed ? tr("Double-click to type what you believe; %1 to %2").arg(p.least).arg(p.most)
                             : cells[at(c)]);
      beliefTable_->setItem(row, c, item);
    }
  }
  beliefTable_->resizeRowsToContents();
  ours_->setEnabled(family.own);
  filling_ = false;
}

}  // namespace lowkite::app
