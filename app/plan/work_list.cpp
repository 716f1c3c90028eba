#include "app/plan/work_list.h"

#include <algorithm>
#include <cmath>

#include <QAction>
#include <QCheckBox>
#include <QFontMetrics>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/settings/club_rules.h"
#include "app/settings/my_boxes.h"
#include "app/widgets/beside_or_below.h"
#include "app/widgets/scrolled.h"
#include "app/words/box_words.h"
#include "app/words/wording.h"
#include "app/words/work_lines.h"

namespace lowkite::app {
namespace {

constexpr int twoColumns = 720;  ///< px from which two lines stand beside each other
constexpr int rowHeight = targetHeight;

}  // namespace

/// The lines, placed by hand in one or two columns: new words must not lay out the window anew.
class WorkRows : public QWidget {
 public:
  explicit WorkRows(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("work.rows")); }

  struct Row {
    QCheckBox* box;
    QLabel* text;
  };

  void show(const std::vector<WorkLine>& lines, const std::set<QString>& ticked,
            const std::function<void(const QString&, bool)>& tick) {
    lines_ = lines;
    while (rows_.size() < lines.size()) addRow(tick);
    int jobs = 0;
    const Tokens& t = tokens(palette());
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      const bool used = i < lines.size();
      rows_[i].box->setVisible(used && lines[i].kind == WorkLine::Kind::job);
      rows_[i].text->setVisible(used);
      if (!used) continue;
      const WorkLine& l = lines[i];
      const bool done = ticked.contains(l.text);
      const QSignalBlocker quiet(rows_[i].box);
      rows_[i].box->setChecked(done);
      rows_[i].box->setAccessibleName(l.text);
      QString text = l.text.toHtmlEscaped();
      switch (l.kind) {
        case WorkLine::Kind::job:
          text = QStringLiteral("%1.&nbsp; %2 %3")
                     .arg(++jobs)
                     .arg(done ? coloured(t.soft, text) : text,
                          coloured(t.soft, WorkList::tr("&nbsp;%1&nbsp;min").arg(QString::number(l.minutes))));
          break;
        case WorkLine::Kind::stays:
          text = coloured(t.soft, QStringLiteral("\u2248&nbsp; %1").arg(text));
          break;
        case WorkLine::Kind::cannot:
          text = coloured(t.warn, QStringLiteral("!&nbsp; %1").arg(text));
          break;
      }
      if (rows_[i].text->text() != text) rows_[i].text->setText(text);
      rows_[i].text->setToolTip(l.tip);
    }
    place();
  }

  [[nodiscard]] int heightWanted() const { return wanted_; }

 protected:
  void resizeEvent(QResizeEvent*) override { place(); }

 private:
  void addRow(const std::function<void(const QString&, bool)>& tick) {
    const std::size_t i = rows_.size();
    auto* box = new QCheckBox(this);
    box->setObjectName(QStringLiteral("work.tick.%1").arg(i));
    QObject::connect(box, &QCheckBox::toggled, this, [this, i, tick](bool on) { tick(lines_[i].text, on); });
    auto* text = new QLabel(this);
    text->setObjectName(QStringLiteral("work.line.%1").arg(i));
    text->setWordWrap(true);
    text->setTextFormat(Qt::RichText);
    text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    rows_.push_back({box, text});
  }

  void place() {
    const int count = static_cast<int>(lines_.size());
    const int columns = width() >= twoColumns && count > 1 ? 2 : 1;
    const int down = (count + columns - 1) / columns;
    const int wide = width() / columns;
    std::array<int, 2> y{0, 0};
    for (int i = 0; i < count; ++i) {
      const int column = down > 0 ? i / down : 0;
      Row& r = rows_[at(i)];
      const int x = column * wide;
      const int room = std::max(60, wide - 40 - 12);
      const int high = std::max(rowHeight, r.text->heightForWidth(room) + 4);
      int& top = y[at(column)];
      r.box->setGeometry(x, top + (high - targetHeight) / 2, targetHeight, targetHeight);
      r.text->setGeometry(x + 40, top, room, high);
      top += high;
    }
    wanted_ = std::max({y[0], y[1], rowHeight});
  }

  std::vector<WorkLine> lines_;
  std::vector<Row> rows_;
  int wanted_ = rowHeight;
};

WorkList::WorkList(PlanModel& model, ClubRules& club, MyBoxes& boxes, QWidget* parent)
    : QFrame(parent), model_(model), club_(club), boxes_(boxes) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("work"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 4, 10, 4);
  row->setSpacing(16);
  row->addWidget(makeHead(), 0, Qt::AlignTop);
  rows_ = new WorkRows(this);
  scroll_ = scrolled(rows_, this);
  scroll_->setFocusPolicy(Qt::NoFocus);
  row->addWidget(scroll_, 1);
  pin_ = new QPushButton(tr("Pin as baseline"), this);
  pin_->setObjectName(QStringLiteral("pin"));
  pin_->setProperty("quiet", true);
  pin_->setToolTip(tr("Compare with this setup from now on (Ctrl+B)"));
  pin_->setEnabled(false);
  pin_->hide();
  connect(pin_, &QPushButton::clicked, &model_.document(), &Document::pinBaseline);
  connect(&model_.document(), &Document::inputsChanged, this, [this] {
    const bool differs = model_.document().hasCar() && model_.document().baseline() != model_.document().setup();
    pin_->setEnabled(differs);
    pin_->setVisible(differs);
  });
  apply_ = new QPushButton(tr("Done on the bench"), this);
  apply_->setObjectName(QStringLiteral("work.apply"));
  apply_->setProperty("primary", true);
  apply_->setToolTip(tr("Takes these turns over into the setup (Ctrl+Return)"));
  connect(apply_, &QPushButton::clicked, this, &WorkList::takeOver);
  there_ = new QPushButton(this);
  there_->setObjectName(QStringLiteral("work.there"));
  there_->setMinimumHeight(targetHeight);
  there_->hide();
  connect(there_, &QPushButton::clicked, this, [this] {
    if (const auto end = model_.failedAt()) model_.setEnd(*end);
  });
  connect(&model_, &PlanModel::selectionChanged, this, &WorkList::tellWhere);
  auto* what = new QVBoxLayout;
  what->setSpacing(2);
  what->addWidget(apply_);
  what->addWidget(there_);
  what->addWidget(pin_);
  what->addStretch(1);
  row->addLayout(what);
  connect(&model_, &PlanModel::comparisonChanged, this, &WorkList::refresh);
  connect(&model_.document(), &Document::replaced, this, [this] {
    ticked_.clear();
    doneUpTo_.reset();
  });
  connect(&club_, &ClubRules::changed, this, &WorkList::refresh);
  connect(&boxes_, &MyBoxes::changed, this, &WorkList::refresh);
  tellHolds();
}

constexpr int headWidth = 184;

QWidget* WorkList::makeHead() {
  auto* head = new QWidget(this);
  auto* column = new QVBoxLayout(head);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  heading_ = new QLabel(tr("Bench work"), head);
  heading_->setFont(textFont(textSize, true));
  minutes_ = new QLabel(head);
  minutes_->setObjectName(QStringLiteral("work.minutes"));
  minutes_->setProperty("role", QStringLiteral("quiet"));
  // Of one size: a text that changes at every step would have the whole window laid out anew.
  minutes_->setFixedSize(QFontMetrics(textFont(textSize)).size(Qt::TextSingleLine, tr("about 999 min")));
  auto* line = new QHBoxLayout;
  line->setSpacing(8);
  line->addWidget(heading_);
  line->addWidget(minutes_);
  besideOrBelow(*line, headWidth);
  line->addStretch(1);
  column->addLayout(line);
  holds_ = new QToolButton(head);
  holds_->setObjectName(QStringLiteral("work.holds"));
  holds_->setProperty("quiet", true);
  holds_->setPopupMode(QToolButton::InstantPopup);
  holds_->setToolTip(tr("What is put back after a change, and what is let go"));
  auto* menu = new QMenu(holds_);
  menu->setObjectName(QStringLiteral("work.holds.menu"));
  const auto entry = [&](const QString& name, const QString& text, auto set) {
    QAction* a = menu->addAction(text);
    a->setObjectName(name);
    a->setCheckable(true);
    a->setChecked(true);
    connect(a, &QAction::toggled, this, [this, set](bool on) {
      set(on);
      tellHolds();
    });
    held_.push_back(a);
  };
  entry(QStringLiteral("hold.camber"), tr("camber"), [this](bool on) { model_.setHolds(on, model_.holds().hold_toe); });
  entry(QStringLiteral("hold.toe"), tr("toe"), [this](bool on) { model_.setHolds(model_.holds().hold_camber, on); });
  entry(QStringLiteral("hold.droop"), tr("droop"), [this](bool on) { model_.setHoldsDroop(on); });
  entry(QStringLiteral("hold.ride"), tr("ride height, by the collars"),
        [this](bool on) { model_.setHoldsRideHeight(on); });
  entry(QStringLiteral("hold.caster"), tr("caster, by two upper links where there are"),
        [this](bool on) { model_.setHoldsCaster(on); });
  entry(QStringLiteral("hold.endPoints"), tr("end points, at the transmitter"),
        [this](bool on) { model_.setHoldsEndPoints(on); });
  holds_->setMenu(menu);
  column->addWidget(holds_, 0, Qt::AlignLeft);
  head->setFixedWidth(headWidth);
  return head;
}

void WorkList::tellWhere() {
  const auto end = model_.failure().isEmpty() ? std::nullopt : model_.failedAt();
  there_->setText(end == End::rear ? tr("Show the rear axle") : tr("Show the front axle"));
  there_->setVisible(end && *end != model_.end());
}

void WorkList::tellHolds() {
  const auto held = std::count_if(held_.begin(), held_.end(), [](const QAction* a) { return a->isChecked(); });
  const auto all = static_cast<std::ptrdiff_t>(held_.size());
  if (held == all) {
    holds_->setText(tr("Put back: all \u25BE"));
  } else if (held == 0) {
    holds_->setText(tr("Put back: nothing \u25BE"));
  } else {
    QStringList gone;
    for (const QAction* a : held_)
      if (!a->isChecked()) gone << a->text().section(QLatin1Char(','), 0, 0);
    holds_->setText(gone.size() < 3 ? tr("Let go: %1 \u25BE").arg(gone.join(tr(", ")))
                                    : tr("Let go: %1 of %2 \u25BE").arg(gone.size()).arg(all));
  }
}

void WorkList::takeOver() {
  const Comparison* c = model_.comparison();
  if (!c) return;
  model_.applyReset();
  doneUpTo_ = model_.document().setup();
}

void WorkList::refresh() {
  const Comparison* c = model_.comparison();
  const bool valid = c && model_.failure().isEmpty();
  const auto asReset = model_.asReset();
  apply_->setEnabled(asReset && *asReset != c->changed->setup);
  const ResetOptions& holds = model_.holds();
  for (const auto& [name, on] :
       {std::pair("hold.camber", holds.hold_camber), std::pair("hold.toe", holds.hold_toe),
        std::pair("hold.droop", holds.hold_droop), std::pair("hold.ride", holds.hold_ride_height),
        std::pair("hold.caster", holds.hold_caster), std::pair("hold.endPoints", holds.hold_end_points)})
    for (QAction* a : held_)
      if (a->objectName() == QLatin1String(name)) {
        const QSignalBlocker quiet(a);
        a->setChecked(on);
      }
  tellHolds();
  tellWhere();
  using Kind = WorkLine::Kind;
  std::vector<WorkLine> lines;
  double minutes = 0.0;
  if (!valid) {
    lines.push_back({Kind::cannot, model_.failure().isEmpty() ? tr("No car is open") : model_.failure(), {}, 0.0});
    lines.push_back({Kind::stays, tr("Step the last part back, or undo."), {}, 0.0});
  } else {
    const Car& car = *c->changed->model.car;
    lines = workLines(car, *c, holds);
    for (const WorkLine& l : lines) minutes += l.minutes;
    if (doneUpTo_ && *doneUpTo_ == c->changed->setup)
      for (const WorkLine& l : lines)
        if (l.kind == Kind::job) ticked_.insert(l.text);
    const bool anyHold = std::any_of(held_.begin(), held_.end(), [](const QAction* a) { return a->isChecked(); });
    const bool turns = c->reset->setup != c->changed->setup;
    if (c->baseline->setup == c->changed->setup && !turns)
      lines.push_back(
          {Kind::stays, tr("Nothing is changed. Step a part, and the work that follows stands here."), {}, 0.0});
    else if (!anyHold)
      lines.push_back({Kind::stays, tr("Nothing is held, so nothing is put back."), {}, 0.0});
    else if (c->work.steps.empty() && c->bench->droop.empty())
      lines.push_back({Kind::stays, tr("Nothing has to be put back."), {}, 0.0});
    if (const auto known = boxes_.known(); known && fits(c->baseline->setup, car) && fits(c->changed->setup, car)) {
      const auto lacks = Stock(*known, car, c->baseline->setup).lacks(c->reset->setup);
      if (!lacks.empty())
        lines.push_back({Kind::cannot, tr("Not in your boxes: %1").arg(lacksText(car, lacks)), {}, 0.0});
    }
    if (const QString against = club_.warning(c->reset->model); !against.isEmpty())
      lines.push_back({Kind::cannot, against, {}, 0.0});
  }
  std::erase_if(ticked_, [&](const QString& t) {
    return std::none_of(lines.begin(), lines.end(), [&](const WorkLine& l) { return l.text == t; });
  });
  minutes_->setText(minutes > 0.0 ? tr("about %1 min").arg(number(std::ceil(minutes), 0)) : QString());
  rows_->show(lines, ticked_, [this](const QString& text, bool on) {
    if (on)
      ticked_.insert(text);
    else
      ticked_.erase(text);
    refresh();
  });
  fit();
}

void WorkList::setTight(bool tight) {
  if (tight_ == tight) return;
  tight_ = tight;
  fit();
}

void WorkList::fit() {
  // Two lines a column and both buttons always have their place, so that a first change moves nothing.
  const int least = 84;
  const int most = std::max(least, window()->height() / (tight_ ? 6 : 3));
  const int wanted = std::clamp(rows_->heightWanted() + 10, least, most);
  rows_->setMinimumHeight(rows_->heightWanted());
  if (wanted != minimumHeight()) setFixedHeight(wanted);
}

void WorkList::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  fit();
}

}  // namespace lowkite::app
