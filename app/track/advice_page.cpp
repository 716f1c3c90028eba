#include "app/track/advice_page.h"

#include <algorithm>

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/settings/my_boxes.h"
#include "app/track/feel_page.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/box_words.h"
#include "app/words/wording.h"
#include "core/io/car_edit.hpp"
#include "core/log/run_comparison.hpp"

namespace lowkite::app {
namespace {

QString shareText(const Tally& t) {
  if (t.trials == 0) return AdvicePage::tr("not tried yet");
  const Interval i = t.share();
  return AdvicePage::tr("%1 of %2 (%3 to %4 %)")
      .arg(t.agreed)
      .arg(t.trials)
      .arg(number(100.0 * i.low, 0), number(100.0 * i.high, 0));
}

QString stepText(const Car& car, const Advice& a) {
  if (a.step.adjuster) {
    const Adjuster& part = car.adjusters[a.step.adjuster];
    return AdvicePage::tr("%1: %2 \u2192 %3")
        .arg(partTitle(part), valueText(part, a.step.from), valueText(part, a.step.to));
  }
  if (a.rule->part.kind == RulePart::Kind::told) return fromCore(a.rule->part.told);
  const bool height = a.rule->part.hold == RulePart::Hold::ride_height;
  const bool lock = a.rule->part.hold == RulePart::Hold::lock;
  const FigureSpec* toe = find_figure("toe");
  const auto value = [&](double v) {
    return height                                     ? AdvicePage::tr("%1 mm").arg(number(v, 1))
           : a.rule->part.hold == RulePart::Hold::toe ? figureWithUnit(*toe, v, 0)
                                                      : AdvicePage::tr("%1 deg").arg(number(v, 1));
  };
  const QString what = height                                     ? AdvicePage::tr("ride height")
                       : lock                                     ? AdvicePage::tr("full lock, inside wheel")
                       : a.rule->part.hold == RulePart::Hold::toe ? AdvicePage::tr("toe")
                                                                  : AdvicePage::tr("camber");
  const QString end = a.rule->end == End::front ? AdvicePage::tr("Front") : AdvicePage::tr("Rear");
  return AdvicePage::tr("%1: %2: %3 \u2192 %4").arg(end, what, value(a.step.from), value(a.step.to));
}

QString modelText(const Advice& a) {
  if (a.rule->part.kind == RulePart::Kind::told) return AdvicePage::tr("not computed");
  if (a.claims.empty()) return AdvicePage::tr("no claim");
  QStringList words;
  if (a.confirmed() > 0) words << AdvicePage::tr("\u2713 %1").arg(a.confirmed());
  if (a.contradicted() > 0) words << AdvicePage::tr("\u2715 %1").arg(a.contradicted());
  const int rest = static_cast<int>(a.claims.size()) - a.confirmed() - a.contradicted();
  if (rest > 0) words << AdvicePage::tr("\u2013 %1").arg(rest);
  return words.join(QStringLiteral("  "));
}

}  // namespace

AdvicePage::AdvicePage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, MyBoxes& boxes, QWidget* parent)
    : QWidget(parent),
      model_(model),
      background_(this),
      tyres_(tyres),
      boxes_(boxes),
      weigher_(weigher),
      voiceWork_(this) {
  setObjectName(QStringLiteral("advicePage"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(6);
  choice_ =
      new Segmented(QStringLiteral("advice.page"),
                    {tr("What to change next"), tr("Score of the rules"), tr("My own rule"), tr("Your tyres")}, this);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  schools_ = new QToolButton(this);
  schools_->setObjectName(QStringLiteral("advice.schools"));
  schools_->setPopupMode(QToolButton::InstantPopup);
  schools_->setMinimumHeight(targetHeight);
  schoolMenu_ = new QMenu(schools_);
  schoolMenu_->setObjectName(QStringLiteral("advice.schoolMenu"));
  schools_->setMenu(schoolMenu_);
  auto* top = new QHBoxLayout;
  top->addWidget(choice_);
  top->addStretch(1);
  top->addWidget(schools_);
  column->addLayout(top);
  pages_ = new QStackedWidget(this);
  pages_->addWidget(makeAdvice());
  pages_->addWidget(makeScore());
  pages_->addWidget(scrolled(makeOwn(), pages_));
  tyreLog_ = new TyreLogPage(model_, tyres_, weigher_, pages_);
  pages_->addWidget(tyreLog_);
  column->addWidget(pages_, 1);
  showPage(Page::advice);
  connect(schoolMenu_, &QMenu::aboutToShow, this, &AdvicePage::fillSchools);
  connect(&model_, &TrackModel::chosen, this, &AdvicePage::refresh);
  connect(&model_, &TrackModel::rulesChanged, this, &AdvicePage::refresh);
  connect(&tyres_, &TyreChoice::changed, this, [this] {
    if (result_ && isVisible()) askVoices();
  });
}

void AdvicePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void AdvicePage::showPage(Page page) {
  choice_->setCurrent(static_cast<int>(page));
  pages_->setCurrentIndex(static_cast<int>(page));
  refresh();
}

QWidget* AdvicePage::makeAdvice() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  felt_ = new QLabel(box);
  felt_->setObjectName(QStringLiteral("advice.felt"));
  felt_->setWordWrap(true);
  table_ = new QTableWidget(box);
  table_->setObjectName(QStringLiteral("advice.table"));
  dressTable(*table_, {{tr("Change"), 0},
                       {tr("Rule"), 220},
                       {tr("Its claims"), 84},
                       {tr("Over tyres"), 150},
                       {tr("Your own runs"), 150}});
  reasons_ = new QLabel(box);
  reasons_->setObjectName(QStringLiteral("advice.reasons"));
  reasons_->setAccessibleName(tr("Why this is advised"));
  reasons_->setWordWrap(true);
  reasons_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  reasons_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  auto* why = scrolled(reasons_, box);
  passed_ = new QLabel(box);
  passed_->setObjectName(QStringLiteral("advice.passed"));
  passed_->setProperty("role", "quiet");
  passed_->setWordWrap(true);
  plan_ = new QPushButton(tr("Try it in Plan"), box);
  plan_->setObjectName(QStringLiteral("advice.plan"));
  plan_->setProperty("primary", true);
  plan_->setProperty("bench", true);
  plan_->setMinimumWidth(160);
  plan_->setEnabled(false);
  column->addWidget(felt_);
  column->addWidget(table_, 3);
  column->addWidget(why, 2);
  auto* foot = new QHBoxLayout;
  foot->addWidget(passed_, 1);
  foot->addWidget(plan_);
  column->addLayout(foot);
  connect(table_, &QTableWidget::currentCellChanged, this, &AdvicePage::fillReasons);
  const auto open = [this] {
    const int row = table_->currentRow();
    if (!result_ || row < 0 || at(row) >= result_->list.size() || model_.document().sharedCar() != car_) return;
    const Advice& a = result_->list[at(row)];
    if (a.rule->part.kind == RulePart::Kind::told) return;
    Q_EMIT tryInPlan(a.stepped, driven_, stepText(*car_, a),
                     !a.step.adjuster ? held_by(a.rule->part) : LinkHolds::nothing);
  };
  connect(plan_, &QPushButton::clicked, this, open);
  connect(table_, &QTableWidget::cellDoubleClicked, this, open);
  return box;
}

QWidget* AdvicePage::makeScore() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  scoreNews_ = new QLabel(box);
  scoreNews_->setObjectName(QStringLiteral("advice.scoreNews"));
  scoreNews_->setWordWrap(true);
  score_ = new QTableWidget(box);
  score_->setObjectName(QStringLiteral("advice.score"));
  dressTable(
      *score_,
      {{tr("Rule or school")}, {tr("agreed"), 90, Qt::AlignRight}, {tr("your runs let believe"), 190, Qt::AlignRight}});
  score_->setSelectionMode(QAbstractItemView::NoSelection);
  // Long questions take two lines.
  score_->verticalHeader()->setMinimumSectionSize(30);
  score_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  column->addWidget(scoreNews_);
  column->addWidget(score_, 1);
  return box;
}

QWidget* AdvicePage::makeOwn() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 8, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(6);
  auto* intro = new QLabel(tr("A rule of your own stands beside ours, is tried on the model like them, and your runs "
                              "keep its score. It lies in a file that may be "
                              "edited by hand as well; docs/formats tells its form."),
                           box);
  intro->setWordWrap(true);
  grid->addWidget(intro, 0, 0, 1, 4);
  const auto field = [&](int row, int at, int span, const QString& text, QWidget* w, const QString& name) {
    auto* l = new QLabel(text, box);
    l->setProperty("role", "quiet");
    l->setWordWrap(true);
    w->setObjectName(name);
    w->setMinimumHeight(targetHeight);
    w->setAccessibleName(text);
    grid->addWidget(l, 2 * row - 1, at, 1, span);
    grid->addWidget(w, 2 * row, at, 1, span);
  };
  auto* name = new QLineEdit(box);
  field(1, 0, 2, tr("What it is called"), name, QStringLiteral("own.name"));
  auto* why = new QLineEdit(box);
  field(1, 2, 2, tr("Why it should work"), why, QStringLiteral("own.why"));
  auto* end = new QComboBox(box);
  for (const End e : both_ends) end->addItem(endTitle(e));
  field(2, 0, 1, tr("End"), end, QStringLiteral("own.end"));
  auto* part = new QComboBox(box);
  struct Offer {
    const char* text;
    RulePart part;
    double step;
  };
  const auto point = [](const char* id, int axis = 2) {
    RulePart p{RulePart::Kind::point};
    p.point = id;
    p.axis = axis;
    return p;
  };
  const auto size = [](Size which) {
    RulePart p{RulePart::Kind::size};
    p.size = which;
    return p;
  };
  const auto hold = [](RulePart::Hold which) {
    RulePart p{RulePart::Kind::hold};
    p.hold = which;
    return p;
  };
  RulePart weight{RulePart::Kind::weight};
  weight.axis = 0;
  const std::vector<Offer> offers{
      {QT_TR_NOOP("camber link, inner ball"), point("link_inner"), 1.0},
      {QT_TR_NOOP("camber link, outer ball"), point("link_outer"), 1.0},
      {QT_TR_NOOP("arm mounts"), point("arm_inner_front"), 0.5},
      {QT_TR_NOOP("axle height at the hub"), point("wheel_centre"), 0.5},
      {QT_TR_NOOP("droop"), hold(RulePart::Hold::droop), 1.0},
      {QT_TR_NOOP("spring rate"), size(Size::spring_rate), 0.05},
      {QT_TR_NOOP("bar wire"), size(Size::bar_wire), 0.1},
      {QT_TR_NOOP("shock oil"), size(Size::oil_cst), 50.0},
      {QT_TR_NOOP("caster"), RulePart{RulePart::Kind::caster}, 2.0},
      {QT_TR_NOOP("weight, forward (more) or back (less)"), weight, 0.5},
      {QT_TR_NOOP("toe-in"), hold(RulePart::Hold::toe), 0.5},
      {QT_TR_NOOP("camber angle"), hold(RulePart::Hold::camber), 0.5},
      {QT_TR_NOOP("ride height"), hold(RulePart::Hold::ride_height), 0.5},
      {QT_TR_NOOP("full lock"), hold(RulePart::Hold::lock), 1.5},
      {QT_TR_NOOP("something else, in words only: what it is called"), RulePart{RulePart::Kind::told}, 1.0},
  };
  // What any car has, by its place in the list; then the parts of the car at hand, by theirs.
  const auto fillParts = [=, this, count = static_cast<int>(offers.size())] {
    // By its name: the place in the list is another part on another car.
    const QString before = part->currentText();
    QSignalBlocker quiet(part);
    part->clear();
    for (int i = 0; i < count; ++i) part->addItem(tr(offers[at(i)].text), i);
    const Document& d = model_.document();
    if (d.hasCar()) {
      const End chosen = end->currentIndex() == 0 ? End::front : End::rear;
      for (const PartHandle i : d.car().adjusters.handles()) {
        const Adjuster& a = d.car().adjusters[i];
        if (a.end == chosen && !(a.range() && a.range()->link)) part->addItem(partTitle(a), count + i.number());
      }
    }
    const int same = part->findText(before);
    part->setCurrentIndex(std::max(0, same));
    quiet.unblock();
    if (same < 0) Q_EMIT part->currentIndexChanged(0);
  };
  const auto takeInHand = [=, this](Rule& r) {
    const int chosen = part->currentData().toInt();
    const auto count = static_cast<int>(offers.size());
    if (chosen >= count) {
      const Document& d = model_.document();
      // A list that was filled for another car names nothing of this one.
      if (const auto of_car = PartHandle::numbered(chosen - count); d.hasPart(of_car)) take_in_hand(r, d.car(), of_car);
      return;
    }
    r.part = offers[at(chosen)].part;
    r.step = offers[at(chosen)].step;
    if (r.part.kind == RulePart::Kind::told) r.part.told = r.name;
  };
  fillParts();
  connect(end, &QComboBox::currentIndexChanged, part, fillParts);
  for (const auto told : {&Document::replaced, &Document::carEdited})
    connect(&model_.document(), told, part, fillParts);
  field(2, 1, 1, tr("Part"), part, QStringLiteral("own.part"));
  auto* way = new QComboBox(box);
  way->addItems({tr("up, more"), tr("down, less")});
  field(2, 2, 1, tr("Which way"), way, QStringLiteral("own.way"));
  auto* step = new QDoubleSpinBox(box);
  step->setRange(0.01, 1000000.0);
  step->setDecimals(2);
  step->setValue(1.0);
  field(2, 3, 1, tr("One usual step (mm, deg, N/mm, cSt)"), step, QStringLiteral("own.step"));
  connect(part, &QComboBox::currentIndexChanged, step, [step, way, takeInHand] {
    Rule r;
    takeInHand(r);
    step->setValue(r.step);
    for (QWidget* w : std::initializer_list<QWidget*>{step, way}) w->setEnabled(r.part.kind != RulePart::Kind::told);
  });
  auto* phase = new QComboBox(box);
  for (const auto& p : phases()) phase->addItem(fromCore(p.label));
  phase->setCurrentIndex(static_cast<int>(Phase::exit));
  field(3, 0, 1, tr("It helps in"), phase, QStringLiteral("own.phase"));
  auto* helps = new QComboBox(box);
  for (const SenseWords& w : senses())
    for (const bool minus : {true, false})
      if (!(minus && w.minus.empty()))
        helps->addItem(
            tr("when the car feels: %1 %2").arg(fromCore(w.label).toLower(), fromCore(minus ? w.minus : w.plus)),
            QPoint(static_cast<int>(w.sense), minus ? 1 : -1));
  field(3, 1, 3, tr("Against what"), helps, QStringLiteral("own.helps"));
  for (QComboBox* c : {end, part, way, phase, helps}) {
    c->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    c->setMinimumContentsLength(8);
  }
  auto* add = new QPushButton(tr("Keep this rule"), box);
  add->setObjectName(QStringLiteral("own.add"));
  add->setProperty("primary", true);
  add->setProperty("bench", true);
  grid->addWidget(add, 7, 3);
  grid->setRowStretch(8, 1);
  connect(add, &QPushButton::clicked, this, [=, this] {
    if (name->text().trimmed().isEmpty()) {
      Q_EMIT model_.told(tr("The rule needs a name."));
      return;
    }
    Rule r;
    r.name = name->text().trimmed().toStdString();
    std::string id = "my_" + id_from_name(r.name);
    std::replace(id.begin(), id.end(), '-', '_');
    r.id = id.substr(0, 80);
    r.why = why->text().trimmed().isEmpty() ? r.name : why->text().trimmed().toStdString();
    r.end = end->currentIndex() == 0 ? End::front : End::rear;
    takeInHand(r);
    r.part.way = way->currentIndex() == 0 ? 1.0 : -1.0;
    if (r.part.kind != RulePart::Kind::told) r.step = step->value();
    const QPoint against = helps->currentData().toPoint();
    r.helps = {{{static_cast<Phase>(phase->currentIndex())},
                static_cast<Sense>(against.x()),
                static_cast<double>(against.y())}};
    model_.addOwnRule(r);
  });
  return box;
}

void AdvicePage::fillSchools() {
  schoolMenu_->clear();
  for (const Question& q : model_.book().questions) {
    QMenu* one = schoolMenu_->addMenu(fromCore(q.text));
    one->setObjectName(QStringLiteral("school.%1").arg(QString::fromStdString(q.id)));
    const auto chosen = model_.schools().find(q.id);
    const QString now = chosen == model_.schools().end() ? QString() : QString::fromStdString(chosen->second);
    const auto add = [&](const QString& text, const QString& id) {
      QAction* a =
          one->addAction(text, this, [this, q = QString::fromStdString(q.id), id] { model_.setSchool(q, id); });
      a->setCheckable(true);
      a->setChecked(now == id);
    };
    add(tr("Both schools"), QString());
    for (const School& s : q.schools) {
      const auto tally = model_.score().schools.find(q.id + "/" + s.id);
      add(tr("%1   [your runs: %2]")
              .arg(fromCore(s.text), tally == model_.score().schools.end() ? tr("none yet") : shareText(tally->second)),
          QString::fromStdString(s.id));
    }
  }
}

void AdvicePage::refresh() {
  if (!isVisible()) return;
  const std::size_t chosen = model_.schools().size();
  schools_->setText(chosen == 0 ? tr("Schools: both everywhere") : tr("Schools: %1 chosen").arg(chosen));
  if (pages_->currentIndex() == static_cast<int>(Page::score))
    fillScore();
  else if (pages_->currentIndex() == static_cast<int>(Page::advice))
    ask();
}

void AdvicePage::ask() {
  const auto& record = model_.run();
  const Document& d = model_.document();
  table_->setRowCount(0);
  reasons_->clear();
  passed_->clear();
  plan_->setEnabled(false);
  result_.reset();
  background_.giveUp();
  voices_.clear();
  voiceWork_.giveUp();
  if (!record || !d.hasCar()) {
    felt_->setText(tr("Advice follows from how a run felt. There is no run in hand."));
    return;
  }
  QStringList list;
  for (const Feeling& f : record->run.feelings)
    if (f.amount != 0) list << feelingText(f);
  if (list.isEmpty()) {
    felt_->setText(tr("Nothing was felt to be wrong in the run of %1. Say how it felt under \u201CFeel\u201D, and the "
                      "rules answer here.")
                       .arg(QString::fromStdString(record->run.started)));
    return;
  }
  const auto day = model_.day();
  felt_->setText(
      tr("Felt \u2013 %1. Surface: %2. Trying the rules on the model ...")
          .arg(list.join(QStringLiteral("; ")), day ? fromCore(label_in(surfaces(), day->surface)) : tr("not said")));
  AdviceAsk ask;
  ask.feelings = record->run.feelings;
  if (day) {
    ask.surface = day->surface;
    ask.grip = day->grip;
  }
  ask.schools = model_.schools();
  ask.tallies = model_.score().rules;
  ask.boxes = boxes_.known();
  car_ = d.sharedCar();
  book_ = model_.book();
  driven_ = setup_of(record->run, *car_).value_or(d.setup());
  background_.start(
      [book = book_, car = car_, setup = driven_, ask](const std::atomic<bool>& cancelled) mutable {
        auto found = advise(book, *car, setup, ask, [&] { return !cancelled; });
        // The rules are looked up again in the page's own book: this one goes.
        std::vector<std::vector<std::string>> ids;
        std::vector<std::string> passed;
        if (found) {
          for (Advice& a : found->list) {
            ids.push_back({a.rule->id});
            for (const Rule* r : a.also) ids.back().push_back(r->id);
          }
          for (PassedOver& p : found->passed) passed.push_back(p.rule->id);
        }
        return std::tuple(std::move(found), std::move(ids), std::move(passed));
      },
      [this](auto got) {
        auto& [found, ids, passed] = got;
        if (found) {
          for (std::size_t i = 0; i < ids.size(); ++i) {
            Advice& a = found->list[i];
            a.rule = book_.rule(ids[i].front());
            for (std::size_t k = 0; k < a.also.size(); ++k) a.also[k] = book_.rule(ids[i][k + 1]);
          }
          for (std::size_t i = 0; i < passed.size(); ++i) found->passed[i].rule = book_.rule(passed[i]);
        }
        take(std::move(found));
      });
}

void AdvicePage::take(tl::expected<Advices, CarFailure> found) {
  if (!found) {
    felt_->setText(
        tr("The setup of this run cannot stand on the model: %1.").arg(QString::fromStdString(found.error().message)));
    return;
  }
  result_ = std::move(*found);
  felt_->setText(felt_->text().section(tr(" Trying"), 0, 0));
  fillAdvice();
  askVoices();
}

void AdvicePage::askVoices() {
  voices_.clear();
  voiceWork_.giveUp();
  const auto& record = model_.run();
  if (!result_ || result_->list.empty() || !record || !tyres_.any()) return;
  // The tyres of the day's ground, else those that are chosen.
  const auto day = model_.day();
  const TyreFamily& family = tyres_.familyOn(*car_, day ? id_in(surfaces(), day->surface) : std::string_view{});
  family_ = fromCore(family.name);
  std::vector<TyreDraw> tyres = draw_tyres(family, usual_draws, tyres_.warmth());
  tyres_.wantWeights(family.id);
  std::vector<double> weights = tyres_.weights(*car_, family.id, tyres);
  weighed_ = !weights.empty();
  std::vector<std::optional<Setup>> setups;
  for (const Advice& a : result_->list)
    setups.push_back(a.rule->part.kind == RulePart::Kind::told ? std::nullopt : std::optional(a.setup));
  voiceWork_.start(
      [car = car_, before = driven_, setups = std::move(setups), felt = record->run.feelings, ask = tyres_.ask(),
       tyres = std::move(tyres), weights = std::move(weights)](const std::atomic<bool>& cancelled) {
        std::vector<std::optional<ModelVoice>> voices(setups.size());
        const auto table = tabulate(*car, before, ask);
        if (!table) return voices;
        const Handling now = handling_over(*table, tyres);
        for (std::size_t i = 0; i < setups.size() && !cancelled; ++i)
          if (const auto then = setups[i] ? tabulate(*car, *setups[i], ask) : cannot({});
              then && then->toe_apart_rad(*table) < toe_beyond_this_rad)
            voices[i] = model_voice(felt, now, handling_over(*then, tyres), tyres, weights);
        return voices;
      },
      [this](std::vector<std::optional<ModelVoice>> found) {
        voices_ = std::move(found);
        const Tokens& t = tokens(palette());
        for (int row = 0; row < table_->rowCount(); ++row) {
          const QString text = voiceText(at(row));
          QTableWidgetItem* item = table_->item(row, 3);
          item->setText(text);
          item->setToolTip(text);
          const auto& v = voices_[at(row)];
          item->setForeground(!v ? t.soft : v->mends >= 0.5 ? t.good : v->worsens >= 0.5 ? t.bad : t.ink);
        }
        fillReasons();
      });
}

QString AdvicePage::voiceText(std::size_t row) const {
  if (row >= voices_.size()) return tr("...");
  const auto& v = voices_[row];
  if (!v) return tr("cannot tell");
  return tr("mends %1, worsens %2").arg(std::lround(usual_draws * v->mends)).arg(std::lround(usual_draws * v->worsens));
}

void AdvicePage::fillAdvice() {
  const Tokens& t = tokens(palette());
  for (const Advice& a : result_->list) {
    const int row = table_->rowCount();
    table_->insertRow(row);
    const std::array<QString, 5> cells{stepText(*car_, a),
                                       fromCore(a.rule->name) + (a.rule->own ? tr(" (yours)") : QString()),
                                       modelText(a), tr("..."), shareText(a.tally)};
    for (int c = 0; c < 5; ++c) {
      auto* item = new QTableWidgetItem(cells[at(c)]);
      item->setToolTip(cells[at(c)]);
      item->setFont(textFont(13, c == 0));
      if (c == 2) item->setForeground(a.contradicted() > 0 ? t.bad : a.confirmed() > 0 ? t.good : t.soft);
      table_->setItem(row, c, item);
    }
    table_->setRowHeight(row, 34);
  }
  QStringList passed;
  for (const PassedOver& p : result_->passed) passed << tr("%1 (%2)").arg(fromCore(p.rule->name), fromCore(p.why));
  passed_->setText(passed.isEmpty() ? QString()
                                    : tr("Passed over: %1.").arg(passed.mid(0, 4).join(QStringLiteral("; "))) +
                                          (passed.size() > 4 ? tr(" And %1 more.").arg(passed.size() - 4) : QString()));
  passed_->setToolTip(passed.join(QStringLiteral("\n")));
  if (result_->list.empty())
    reasons_->setText(tr("No rule answers this feeling on this car and surface."));
  else
    table_->setCurrentCell(0, 0);
}

QString AdvicePage::reasons(const Advice& a) const {
  QStringList p;
  p << QStringLiteral("<b>%1</b>").arg(fromCore(a.rule->why).toHtmlEscaped());
  QStringList answers;
  for (const Feeling& f : a.for_what) answers << feelingText(f);
  p << tr("Answers: %1.").arg(answers.join(QStringLiteral("; ")).toHtmlEscaped());
  if (const Question* q = book_.question(a.rule->question)) {
    QString school;
    for (const School& s : q->schools)
      if (s.id == a.rule->school) school = fromCore(s.text);
    p << tr("%1 \u2013 one school: %2").arg(fromCore(q->text), school).toHtmlEscaped();
  }
  for (const Rule* r : a.also)
    p << tr("The same step is also said to help by: %1. %2").arg(fromCore(r->name), fromCore(r->why)).toHtmlEscaped();
  const bool told = a.rule->part.kind == RulePart::Kind::told;
  if (told)
    p << tr(
        "\u2013 Not computed: the model has no such part, so nothing here confirms it. Change it alone, and say how "
        "the car felt before and after.");
  for (const TriedClaim& c : a.claims) {
    const QString label =
        c.claim.figure->of_load()
            ? placeLabel(
                  {c.claim.figure, c.claim.figure->per == Per::car ? std::nullopt : std::optional(c.claim.end), {}})
            : figureLabel(*c.claim.figure);
    const int decimals = c.claim.figure->decimals;
    const QString unit = unitText(c.claim.figure->unit);
    // Of a figure below nothing "more" would say the wrong thing.
    const bool below = c.before && *c.before < 0.0;
    const QString says = below               ? (c.claim.way > 0.0 ? tr("less negative") : tr("more negative"))
                         : c.claim.way > 0.0 ? tr("more")
                                             : tr("less");
    const QString values =
        c.before && c.after ? tr("%1 \u2192 %2 %3").arg(number(*c.before, decimals), number(*c.after, decimals), unit)
                            : QString();
    switch (c.verdict) {
      case ClaimVerdict::confirmed:
        p << tr("\u2713 It says %1 %2, and on this car it is: %3.").arg(says, label, values);
        break;
      case ClaimVerdict::contradicted:
        p << tr("\u2715 <b>It says %1 %2, but on this car it is the other way: %3.</b>").arg(says, label, values);
        break;
      case ClaimVerdict::too_small:
        p << tr("\u2013 It says %1 %2; on this car the step is too small to tell: %3.").arg(says, label, values);
        break;
      case ClaimVerdict::not_here:
        p << tr("\u2013 It says %1 %2; this car has no such figure.").arg(says, label);
        break;
    }
  }
  QStringList drags;
  for (std::size_t i = 0; i < std::min<std::size_t>(4, a.drags.size()); ++i) drags << figureLabel(*a.drags[i].first);
  if (!drags.isEmpty()) p << tr("It drags along: %1.").arg(drags.join(QStringLiteral(", ")));
  if (car_)
    if (const QStringList reset = resetSentences(*car_, a.alignment); !reset.isEmpty())
      p << tr("Re-set: %1").arg(reset.join(QLatin1Char(' ')));
  if (!a.rule->costs.empty()) {
    QStringList costs;
    for (const std::string& c : a.rule->costs) costs << fromCore(c);
    p << tr("Costs: %1.").arg(costs.join(QStringLiteral("; ")));
  }
  if (!a.lacks.empty() && car_)
    p << tr("\u26A0 Not in your boxes: %1.").arg(lacksText(*car_, a.lacks, true).toHtmlEscaped());
  for (const std::size_t k : a.against)
    if (result_ && k < result_->list.size())
      p << tr("\u26A0 Another rule in this list turns the same part the other way: %1.")
               .arg(fromCore(result_->list[k].rule->name));
  const auto row = at(&a - result_->list.data());
  p << tr("Three voices. The rule: %1. The model over %2 tyres (%3%4): %5. Your own runs: %6.")
           .arg(fromCore(a.rule->name).toHtmlEscaped())
           .arg(usual_draws)
           .arg(family_.toHtmlEscaped(), weighed_ ? tr(", weighed by your log") : QString(), voiceText(row),
                told ? tr("it stands in no setup, so no pair of runs tells") : shareText(a.tally));
  return p.join(QStringLiteral("<br>"));
}

void AdvicePage::fillReasons() {
  const int row = table_->currentRow();
  const bool there = result_ && row >= 0 && at(row) < result_->list.size();
  plan_->setEnabled(there && result_->list[at(row)].rule->part.kind != RulePart::Kind::told);
  reasons_->setText(there ? reasons(result_->list[at(row)]) : QString());
}

void AdvicePage::fillScore() {
  const ScoreBook& s = model_.score();
  score_->setRowCount(0);
  scoreNews_->setText(
      s.trials.empty() ? tr("No trial yet. A trial is two runs of one day that differ by one part, with how both felt.")
                       : tr("Trials: %1. Each is two runs of one day that differ by one part that a rule speaks about. "
                            "At the right, the share of agreement that so few runs let believe (80 %).")
                             .arg(s.trials.size()));
  const auto add = [&](const QString& what, const Tally& tally, bool bold) {
    const int row = score_->rowCount();
    score_->insertRow(row);
    const Interval i = tally.share();
    const std::array<QString, 3> cells{what, tr("%1 of %2").arg(tally.agreed).arg(tally.trials),
                                       tr("%1 to %2 %").arg(number(100.0 * i.low, 0), number(100.0 * i.high, 0))};
    for (int c = 0; c < 3; ++c) {
      auto* item = new QTableWidgetItem(cells[at(c)]);
      item->setFont(c == 0 ? textFont(13, bold) : figureFont(13));
      item->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setToolTip(cells[at(c)]);
      score_->setItem(row, c, item);
    }
  };
  for (const Question& q : model_.book().questions)
    for (const School& school : q.schools)
      if (const auto tally = s.schools.find(q.id + "/" + school.id); tally != s.schools.end())
        add(tr("%1: %2").arg(fromCore(q.text), fromCore(school.text)), tally->second, true);
  std::vector<std::pair<const Rule*, Tally>> rules;
  for (const Rule& r : model_.book().rules)
    if (const auto tally = s.rules.find(r.id); tally != s.rules.end()) rules.emplace_back(&r, tally->second);
  std::stable_sort(rules.begin(), rules.end(),
                   [](const auto& a, const auto& b) { return a.second.share().estimate > b.second.share().estimate; });
  for (const auto& [rule, tally] : rules) {
    QString school;
    if (const Question* q = model_.book().question(rule->question))
      school = tr(" \u2013 %1").arg(fromCore(q->text).toLower());
    add(fromCore(rule->name) + school, tally, false);
  }
}

}  // namespace lowkite::app
