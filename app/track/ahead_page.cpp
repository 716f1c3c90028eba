#include "app/track/ahead_page.h"

#include <algorithm>

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/document/open_files.h"
#include "app/look/theme.h"
#include "app/settings/my_boxes.h"
#include "app/widgets/scrolled.h"
#include "app/words/box_words.h"
#include "app/words/wording.h"
#include "core/handling/over_tyres.hpp"
#include "core/io/library.hpp"
#include "core/io/setup_family.hpp"

namespace lowkite::app {
namespace {

/// For so many of the tyres, by weight, it must say the same to be told as one.
constexpr double mostOf = 0.6;

QString endWords(HandlingFigure figure) {
  return figure == HandlingFigure::front_left ? AheadPage::tr("front grip") : AheadPage::tr("rear grip");
}

}  // namespace

AheadPage::AheadPage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, MyBoxes& boxes, QWidget* parent)
    : QWidget(parent), model_(model), tyres_(tyres), boxes_(boxes), weigher_(weigher), work_(this) {
  setObjectName(QStringLiteral("aheadPage"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(8);
  const auto heading = [&](const QString& text) {
    auto* l = new QLabel(text, this);
    l->setFont(textFont(15, true));
    return l;
  };
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(2);
  track_ = new QLineEdit(this);
  track_->setObjectName(QStringLiteral("ahead.track"));
  surface_ = new QComboBox(this);
  surface_->setObjectName(QStringLiteral("ahead.surface"));
  for (const auto& s : surfaces()) surface_->addItem(fromCore(s.label), static_cast<int>(s.value));
  grip_ = new QComboBox(this);
  grip_->setObjectName(QStringLiteral("ahead.grip"));
  for (const auto& g : grips()) grip_->addItem(fromCore(g.label), static_cast<int>(g.value));
  ground_ = new QLineEdit(this);
  ground_->setObjectName(QStringLiteral("ahead.ground"));
  int at = 0;
  for (const auto& [text, field] : {std::pair<QString, QWidget*>(tr("Track"), track_),
                                    {tr("Surface"), surface_},
                                    {tr("Grip"), grip_},
                                    {tr("Ground expected, \u00B0C"), ground_}}) {
    auto* l = new QLabel(text, this);
    l->setProperty("role", "quiet");
    field->setProperty("bench", true);
    field->setMinimumHeight(46);
    field->setAccessibleName(text);
    grid->addWidget(l, 0, at);
    grid->addWidget(field, 1, at++);
  }
  grid->setColumnStretch(0, 2);
  column->addWidget(heading(tr("The day ahead")));
  column->addLayout(grid);
  auto* row = new QHBoxLayout;
  row->setSpacing(16);
  auto* left = new QVBoxLayout;
  left->addWidget(heading(tr("A setup to start from")));
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("ahead.list"));
  list_->setMaximumHeight(220);
  left->addWidget(list_, 2);
  reasons_ = new QLabel(this);
  reasons_->setObjectName(QStringLiteral("ahead.reasons"));
  reasons_->setWordWrap(true);
  reasons_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  left->addWidget(reasons_, 1);
  plan_ = new QPushButton(tr("Take it into Plan"), this);
  plan_->setObjectName(QStringLiteral("ahead.plan"));
  plan_->setProperty("primary", true);
  plan_->setProperty("bench", true);
  bench_ = new QPushButton(tr("Bench list before the first run"), this);
  bench_->setObjectName(QStringLiteral("ahead.bench"));
  bench_->setProperty("bench", true);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(plan_);
  buttons->addWidget(bench_);
  left->addLayout(buttons);
  auto* right = new QVBoxLayout;
  right->addWidget(heading(tr("To pack for these plans")));
  plans_ = new QListWidget(this);
  plans_->setObjectName(QStringLiteral("ahead.plans"));
  right->addWidget(plans_, 2);
  packing_ = new QLabel(this);
  packing_->setObjectName(QStringLiteral("ahead.packing"));
  packing_->setWordWrap(true);
  packing_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  packing_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  right->addWidget(scrolled(packing_, this), 2);
  row->addLayout(left, 1);
  row->addLayout(right, 1);
  column->addLayout(row, 1);
  connect(track_, &QLineEdit::editingFinished, this, &AheadPage::refresh);
  connect(ground_, &QLineEdit::editingFinished, this, &AheadPage::refresh);
  for (QComboBox* b : {surface_, grip_}) connect(b, &QComboBox::activated, this, &AheadPage::refresh);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    if (!filling_) showProposal();
  });
  connect(plans_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
    tick(item, !item->data(Qt::UserRole).toBool());
    showPacking();
  });
  connect(plans_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
    tick(item, !item->data(Qt::UserRole).toBool());
    showPacking();
  });
  connect(plan_, &QPushButton::clicked, this, [this] {
    const int i = list_->currentRow();
    if (i < 0 || static_cast<std::size_t>(i) >= proposals_.size()) return;
    // Handling is then told over the tyres of that ground, with the weights that the log gives them.
    if (const TyreFamily* family = familyAhead()) tyres_.setFamily(family->id);
    Q_EMIT openInPlan(proposals_[static_cast<std::size_t>(i)].setup, tr("Setup to start from"));
  });
  connect(bench_, &QPushButton::clicked, this, &AheadPage::benchWanted);
  connect(&model_, &TrackModel::chosen, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&tyres_, &TyreChoice::changed, this, [this] {
    if (isVisible()) showProposal();
  });
  connect(&boxes_, &MyBoxes::changed, this, [this] {
    if (isVisible()) showPacking();
  });
}

void AheadPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (surface_->currentIndex() <= 0)
    if (const auto d = model_.day()) {
      // The next day is mostly like the last one.
      track_->setText(QString::fromStdString(d->track));
      surface_->setCurrentIndex(surface_->findData(static_cast<int>(d->surface)));
      grip_->setCurrentIndex(grip_->findData(static_cast<int>(d->grip)));
      ground_->setText(d->ground_celsius ? QString::number(*d->ground_celsius) : QString());
    }
  refresh();
}

void AheadPage::refresh() {
  const Document& d = model_.document();
  filling_ = true;
  list_->clear();
  plans_->clear();
  proposals_.clear();
  family_.clear();
  if (d.hasCar()) {
    DayAhead ahead;
    ahead.track = track_->text().toStdString();
    ahead.surface = static_cast<Surface>(surface_->currentData().toInt());
    ahead.grip = static_cast<Grip>(grip_->currentData().toInt());
    bool good = false;
    const double celsius = QString(ground_->text()).replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&good);
    if (good) ahead.ground_celsius = celsius;
    proposals_ = starting_setups(model_.everything(), d.car(), ahead, 4, model_.lapRule());
    for (const StartProposal& p : proposals_) {
      auto* item = new QListWidgetItem(
          p.from == StartProposal::From::log
              ? tr("%1 \u2013 %2, driven on %3")
                    .arg(QString::fromStdString(p.setup.name), tr("%1 % alike").arg(number(100.0 * p.likeness, 0)),
                         QString::fromStdString(p.date))
              : tr("%1").arg(QString::fromStdString(p.setup.name)),
          list_);
      item->setSizeHint({0, 40});
      family_.push_back(p.setup);
      if (!p.date.empty()) family_.back().name += " (" + p.date + ")";
    }
    for (const FamilyMember& m : setup_family(d.car(), {(data_folder() / "setups"), ownSetupsFolder().toStdString()}))
      if (!m.path.empty()) family_.push_back(m.setup);
    for (std::size_t i = 0; i < family_.size(); ++i) {
      auto* item = new QListWidgetItem(plans_);
      item->setSizeHint({0, 40});
      tick(item, i < proposals_.size());
    }
  }
  filling_ = false;
  list_->setCurrentRow(0);
  showProposal();
  showPacking();
}

void AheadPage::showProposal() {
  const int i = list_->currentRow();
  const bool there = i >= 0 && at(i) < proposals_.size();
  plan_->setEnabled(there);
  bench_->setEnabled(model_.document().hasCar());
  if (!there) {
    reasons_->setText(tr("Open a car first."));
    return;
  }
  tellReasons({});
  askHandling(proposals_[at(i)].setup);
}

const TyreFamily* AheadPage::familyAhead() const {
  const auto surface = static_cast<Surface>(surface_->currentData().toInt());
  if (!tyres_.any() || surface == Surface::unknown || !model_.document().hasCar()) return nullptr;
  return &tyres_.familyOn(model_.document().car(), id_in(surfaces(), surface));
}

void AheadPage::askHandling(const Setup& proposal) {
  work_.giveUp();
  const TyreFamily* family = familyAhead();
  if (!family || proposal == model_.document().setup()) return;
  tyres_.wantWeights(family->id);
  auto tyres = draw_tyres(*family, usual_draws, tyres_.warmth());
  auto weights = tyres_.weights(model_.document().car(), family->id, tyres);
  const TyreChoice::Weighed* weighed = tyres_.weighed(model_.document().car(), family->id);
  const QString over =
      weights.empty()
          ? tr("over %1 tyres (%2), all alike likely").arg(tyres.size()).arg(fromCore(family->name))
          : counted(weighed ? weighed->weights.pairs : 0, "over the tyres (%2) that %1 pair of your runs leaves",
                    "over the tyres (%2) that %1 pairs of your runs leave")
                .arg(fromCore(family->name));
  work_.start(
      [car = model_.document().sharedCar(), now = model_.document().setup(), proposal, ask = tyres_.ask(),
       tyres = std::move(tyres), weights = std::move(weights), over](const std::atomic<bool>& cancelled) {
        const auto goOn = [&] { return !cancelled; };
        const auto before = tabulate(*car, now, ask), after = tabulate(*car, proposal, ask);
        if (!before || !after) return sentenceOf(before ? after.error() : before.error());
        const Handling from = handling_over(*before, tyres, 2, goOn), to = handling_over(*after, tyres, 2, goOn);
        QStringList says;
        for (const CornerPhase phase : corner_phases)
          for (const HandlingFigure figure : {HandlingFigure::front_left, HandlingFigure::rear_left}) {
            const HandlingFigureSpec& f = spec_of(figure);
            const auto d = difference_of(f, phase, from, to, tyres, weights);
            if (!d || std::max(d->more, d->less) < mostOf) continue;
            says << tr("%1 %2 %3 % (for %4 % of them)")
                        .arg(fromCore(name_of(phase)), endWords(figure), signedNumber(d->by.median, f.decimals),
                             number(100.0 * std::max(d->more, d->less), 0));
          }
        return tr("Against the setup in hand, %1: %2.")
            .arg(over, says.isEmpty() ? tr("no grip moves for most of them") : says.join(QStringLiteral(", ")));
      },
      [this](const QString& text) { tellReasons(text); });
}

void AheadPage::tellReasons(const QString& handling) {
  const int i = list_->currentRow();
  if (i < 0 || at(i) >= proposals_.size()) return;
  const StartProposal& p = proposals_[at(i)];
  QStringList lines;
  for (const std::string& r : p.reasons) lines << QString::fromStdString(r);
  if (proposals_.size() == 1) lines << tr("The log holds no run of this car on this surface.");
  if (!handling.isEmpty()) lines << handling;
  reasons_->setText(lines.join(QLatin1Char('\n')));
}

/// A tick that a wet thumb hits: the whole row.
void AheadPage::tick(QListWidgetItem* item, bool on) {
  const QString name = QString::fromStdString(family_[at(plans_->row(item))].name);
  item->setData(Qt::UserRole, on);
  item->setText(on ? tr("\u2611  %1").arg(name) : tr("\u2610  %1").arg(name));
}

void AheadPage::showPacking() {
  const Document& d = model_.document();
  if (!d.hasCar()) return;
  std::vector<Setup> chosen;
  for (int i = 0; i < plans_->count(); ++i)
    if (plans_->item(i)->data(Qt::UserRole).toBool()) chosen.push_back(family_[at(i)]);
  const auto known = boxes_.known();
  QStringList lines;
  for (const PackLine& l : packing_list(d.car(), d.setup(), chosen, known)) {
    QStringList why;
    for (const std::string& w : l.why) why << QString::fromStdString(w);
    why.removeDuplicates();
    QString line =
        tr("%1 \u00D7 %2   (%3)").arg(l.count).arg(QString::fromStdString(l.what), why.join(QStringLiteral(", ")));
    if (l.missing) line += *l.missing == 0 ? tr("   \u2713 in your boxes") : tr("   \u26A0 %1 missing").arg(*l.missing);
    lines << line;
  }
  if (known && !chosen.empty()) {
    const auto names = [](const std::vector<std::string>& of) {
      QStringList all;
      for (const std::string& n : of) all << QString::fromStdString(n);
      all.removeDuplicates();
      return all.join(QStringLiteral(", "));
    };
    const auto buys = what_to_buy(d.car(), d.setup(), chosen, *known);
    if (!buys.empty()) lines << QString() << tr("To buy or to borrow, what opens most plans first:");
    for (const Purchase& b : buys) {
      QString line = tr("%1 \u2192 %2").arg(lacksText(d.car(), b.lacks, true), names(b.opens));
      if (!b.helps.empty()) line += tr("; helps %1").arg(names(b.helps));
      lines << line;
    }
  }
  packing_->setText(chosen.empty()    ? tr("Tick the setups that you may want to try.")
                    : lines.isEmpty() ? tr("Nothing that is not on the car already.")
                                      : lines.join(QLatin1Char('\n')));
}

}  // namespace lowkite::app
