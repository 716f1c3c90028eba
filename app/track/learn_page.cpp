#include "app/track/learn_page.h"

#include <algorithm>

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QRandomGenerator>
#include <QSignalBlocker>
#include <QSlider>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/drawing/axle_view.h"
#include "app/drawing/car_view.h"
#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/figures/load_source.hpp"

namespace lowkite::app {
namespace {

enum View { front, above, side };
enum Motion { none, bump, roll, pitch, steering };

struct Topic {
  const char* title;
  const char* text;
  View view;
  Motion motion;
  Lesson lesson;  ///< whose figures are told, as far as they mean something on the axle
  bool construction = false;
};

constexpr auto topicList = std::to_array<Topic>({
    {QT_TR_NOOP("Toe"),
     QT_TR_NOOP(
         "Which way a wheel points, seen from above, each wheel by itself. In: the fronts of the tyres point to each "
         "other. Out: away. It is set with the tie rod, "
         "or at a solid rear hub with the arm pin's inserts. Move the slider: where the tie rod swings on another arc "
         "than "
         "the wheel, toe changes with travel."),
     above, bump, Lesson::toe},
    {QT_TR_NOOP("Camber"),
     QT_TR_NOOP("How far a wheel leans. Negative: its top leans inward. In a corner the body rolls and takes the outer "
                "wheel's "
                "top outward with it; camber gain takes "
                "some of that back. Roll the car with the slider and watch the outer tyre."),
     front, roll, Lesson::camber},
    {QT_TR_NOOP("Caster"),
     QT_TR_NOOP("The kingpin leans back at its top. Steered, the outer wheel then leans into the turn and the inner "
                "one out; the "
                "wheel also wants to run straight, since "
                "the ground pushes behind the kingpin. Steer with the slider."),
     side, steering, Lesson::caster},
    {QT_TR_NOOP("Kingpin and scrub"),
     QT_TR_NOOP("The line about which a front wheel steers. Seen from the front it leans inward (kingpin inclination); "
                "where it "
                "meets the ground beside the "
                "tyre's middle is the scrub radius: the lever of a bump or the brakes on your steering."),
     front, steering, Lesson::kingpin},
    {QT_TR_NOOP("Trail"),
     QT_TR_NOOP(
         "How far the kingpin's line meets the ground ahead of the tyre's contact. It is the lever with which the tyre "
         "steers itself straight. More caster, more trail."),
     side, none, Lesson::trail},
    {QT_TR_NOOP("Roll centre"),
     QT_TR_NOOP("Seen from the front, each wheel swings about an instant centre: where its arm's line and its camber "
                "link's line "
                "meet. A line from there to the "
                "contact of the same wheel crosses the car's middle at the roll centre. The farther below the weight "
                "it lies, the "
                "longer the lever that rolls the car."),
     front, roll, Lesson::roll_centre, true},
    {QT_TR_NOOP("Ackermann"),
     QT_TR_NOOP("In a turn the inner wheel runs on a smaller circle than the outer one. 100 % means that both point "
                "along their "
                "circles; less means that the inner one "
                "is steered less than that. Steer with the slider."),
     above, steering, Lesson::ackermann},
    {QT_TR_NOOP("Bump steer"),
     QT_TR_NOOP("Toe that changes as the wheel rises. Least where the tie rod points at the wheel's instant centre and "
                "has the "
                "length that goes with it; shims under "
                "its balls turn it there."),
     front, bump, Lesson::bump_steer},
    {QT_TR_NOOP("Anti-dive and anti-squat"),
     QT_TR_NOOP("On the brake the weight moves forward; how much of it the links carry by themselves, without the "
                "springs, is the "
                "anti-dive of the front. "
                "At the rear on power it is anti-squat. The lean of the arm's pins seen from the side makes it."),
     side, pitch, Lesson::anti},
    {QT_TR_NOOP("Droop"),
     QT_TR_NOOP("How far a wheel can hang below its place at ride height, until the droop screw stops the arm. More "
                "droop at one "
                "end lets weight move to the other end before "
                "a wheel lifts."),
     front, bump, Lesson::droop},
    {QT_TR_NOOP("Roll stiffness"),
     QT_TR_NOOP(
         "What holds the body against rolling: springs through their lever, and the bar. The end that is stiffer moves "
         "more load from its inner to its outer "
         "tyre, and two unevenly loaded tyres hold less than two even ones: stiffer takes grip from that end and gives "
         "it "
         "to the other."),
     front, roll, Lesson::roll_stiffness},
    {QT_TR_NOOP("Heave and roll"),
     QT_TR_NOOP(
         "Both wheels rising alike is heave; one up and one down is roll. Springs work in both, a bar in roll alone, a "
         "third spring in heave alone: so the "
         "car can be soft in roll and yet not touch the ground."),
     front, bump, Lesson::heave},
});

}  // namespace

LearnPage::LearnPage(TrackModel& model, QWidget* parent)
    : QWidget(parent), model_(model), plan_(model.document()), practice_(model.document()) {
  setObjectName(QStringLiteral("learnPage"));
  setLessonsAwake(false);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(8);
  choice_ = new Segmented(QStringLiteral("learn.page"), {tr("What it means"), tr("Practice")}, this);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPractice(i == 1); });
  column->addWidget(choice_, 0, Qt::AlignLeft);
  pages_ = new QStackedWidget(this);
  pages_->addWidget(makeTopics());
  pages_->addWidget(makePractice());
  column->addWidget(pages_, 1);
  choice_->setCurrent(0);
  seed_ = QRandomGenerator::global()->generate();
  connect(&plan_, &PlanModel::comparisonChanged, this, [this] {
    if (isVisible()) showTopic();
  });
}

QWidget* LearnPage::makeTopics() {
  auto* box = new QWidget(this);
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(12);
  topics_ = new QListWidget(box);
  topics_->setObjectName(QStringLiteral("learn.topics"));
  topics_->setFixedWidth(190);
  for (const Topic& t : topicList) (new QListWidgetItem(tr(t.title), topics_))->setSizeHint({0, 40});
  row->addWidget(topics_);
  auto* right = new QVBoxLayout;
  text_ = new QLabel(box);
  text_->setObjectName(QStringLiteral("learn.text"));
  text_->setWordWrap(true);
  text_->setFont(textFont(15));
  right->addWidget(text_);
  auto* frame = new QFrame(box);
  frame->setProperty("panel", true);
  auto* inside = new QVBoxLayout(frame);
  inside->setContentsMargins(1, 1, 1, 1);
  drawings_ = makeDrawings(plan_, QStringLiteral("learn"), frame);
  inside->addWidget(drawings_);
  right->addWidget(frame, 1);
  auto* slide = new QHBoxLayout;
  sliderText_ = new QLabel(box);
  sliderText_->setObjectName(QStringLiteral("learn.sliderText"));
  sliderText_->setFont(figureFont(15));
  sliderText_->setMinimumWidth(190);
  slider_ = new QSlider(Qt::Horizontal, box);
  slider_->setObjectName(QStringLiteral("learn.slider"));
  slider_->setAccessibleName(tr("Moves the car"));
  slider_->setRange(-100, 100);
  slider_->setMinimumHeight(48);
  slide->addWidget(sliderText_);
  slide->addWidget(slider_, 1);
  right->addLayout(slide);
  figures_ = new QLabel(box);
  figures_->setObjectName(QStringLiteral("learn.figures"));
  figures_->setFont(figureFont(16, true));
  figures_->setWordWrap(true);
  right->addWidget(figures_);
  row->addLayout(right, 1);
  connect(slider_, &QSlider::valueChanged, this, &LearnPage::move);
  connect(topics_, &QListWidget::currentRowChanged, this, [this] {
    const QSignalBlocker quiet(slider_);
    slider_->setValue(0);
    plan_.setAttitude({});
    showTopic();
  });
  return box;
}

QStackedWidget* LearnPage::makeDrawings(PlanModel& plan, const QString& name, QWidget* parent) {
  auto* stack = new QStackedWidget(parent);
  stack->setObjectName(name + QStringLiteral(".drawings"));
  const std::array<std::pair<DrawingView*, const char*>, 3> all{
      {{new AxleView(plan, stack), "front"},
       {new CarView(plan, CarView::From::above, stack), "above"},
       {new CarView(plan, CarView::From::side, stack), "side"}}};
  for (const auto& [view, from] : all) {
    view->setObjectName(name + QLatin1Char('.') + QLatin1String(from));
    stack->addWidget(view);
  }
  return stack;
}

QWidget* LearnPage::makePractice() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(12);
  quiz_ = new QLabel(box);
  quiz_->setObjectName(QStringLiteral("learn.quiz"));
  quiz_->setWordWrap(true);
  quiz_->setFont(textFont(20));
  column->addWidget(quiz_);
  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  const std::array<std::pair<Guess, QString>, 3> guesses{{{Guess::falls, tr("\u25BC It falls")},
                                                          {Guess::stays, tr("\u25A0 It stays")},
                                                          {Guess::rises, tr("\u25B2 It rises")}}};
  for (const auto& [guess, text] : guesses) {
    auto* b = new QPushButton(text, box);
    b->setObjectName(QStringLiteral("learn.guess.%1").arg(static_cast<int>(guess)));
    b->setProperty("big", true);
    b->setFont(textFont(20, true));
    connect(b, &QPushButton::clicked, this, [this, g = guess] { answer(g); });
    guesses_.push_back(b);
    row->addWidget(b);
  }
  column->addLayout(row);
  auto* frame = new QFrame(box);
  frame->setProperty("panel", true);
  auto* inside = new QVBoxLayout(frame);
  inside->setContentsMargins(1, 1, 1, 1);
  quizDrawings_ = makeDrawings(practice_, QStringLiteral("practice"), frame);
  // It shows the question; stepping parts here would change the racer's setup.
  quizDrawings_->setAttribute(Qt::WA_TransparentForMouseEvents);
  quizDrawings_->setFocusPolicy(Qt::NoFocus);
  inside->addWidget(quizDrawings_);
  column->addWidget(frame, 1);
  result_ = new QLabel(box);
  result_->setObjectName(QStringLiteral("learn.result"));
  result_->setWordWrap(true);
  result_->setFont(textFont(18));
  column->addWidget(result_);
  next_ = new QPushButton(tr("Another one"), box);
  next_->setObjectName(QStringLiteral("learn.next"));
  next_->setProperty("primary", true);
  show_ = new QPushButton(tr("See it in Plan"), box);
  show_->setObjectName(QStringLiteral("learn.show"));
  auto* foot = new QHBoxLayout;
  for (QPushButton* b : {next_, show_}) {
    b->setProperty("big", true);
    b->setMinimumWidth(180);
    foot->addWidget(b);
  }
  foot->addStretch(1);
  column->addLayout(foot);
  connect(next_, &QPushButton::clicked, this, &LearnPage::ask);
  connect(show_, &QPushButton::clicked, this, [this] {
    if (question_) Q_EMIT openInPlan(question_->setup, tr("A change from practice"));
  });
  return box;
}

void LearnPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  setLessonsAwake(true);
  if (topics_->currentRow() < 0) topics_->setCurrentRow(0);
  showTopic();
}

void LearnPage::setSeed(std::uint32_t seed) {
  seed_ = seed;
  ask();
}

void LearnPage::showPractice(bool on) {
  choice_->setCurrent(on ? 1 : 0);
  pages_->setCurrentIndex(on ? 1 : 0);
  if (on && !question_) ask();
}

void LearnPage::move() {
  const Topic& t = topicList[at(std::max(0, topics_->currentRow()))];
  const double share = slider_->value() / 100.0;
  const PlanModel::Reach reach = plan_.reach();
  ViewAttitude a;
  switch (t.motion) {
    case bump:
      a.bump_mm = share > 0.0 ? share * reach.bump_mm : share * reach.droop_mm;
      break;
    case roll:
      a.roll_rad = share * reach.roll_rad;
      break;
    case pitch:
      a.pitch_rad = share * reach.pitch_rad;
      break;
    case steering:
      if (reach.servo_rad > 0.0)
        a.servo_rad = share * std::min(reach.servo_rad, radians(40.0));
      else
        a.rack_mm = share * reach.rack_mm;
      break;
    case none:
      break;
  }
  plan_.setAttitude(a);
  plan_.flush();
  showTopic();
}

void LearnPage::showTopic() {
  const int row = topics_->currentRow();
  const Comparison* c = plan_.comparison();
  if (row < 0) return;
  const Topic& t = topicList[at(row)];
  text_->setText(tr(t.text));
  drawings_->setCurrentIndex(t.view);
  plan_.setConstructionStep(t.construction ? 0 : -1);
  slider_->setEnabled(t.motion != none && c != nullptr);
  if (!c) {
    figures_->setText(tr("Open a car to see it on its own drawing."));
    return;
  }
  const ViewAttitude& a = plan_.attitude();
  switch (t.motion) {
    case bump:
      sliderText_->setText(tr("pressed down by %1 mm").arg(number(a.bump_mm, 1)));
      break;
    case roll:
      sliderText_->setText(tr("rolled by %1 deg").arg(number(degrees(a.roll_rad), 1)));
      break;
    case pitch:
      sliderText_->setText(tr("nose down by %1 deg").arg(number(degrees(a.pitch_rad), 1)));
      break;
    case steering:
      sliderText_->setText(a.rack_mm != 0.0 ? tr("steered by %1 mm").arg(number(a.rack_mm, 1))
                                            : tr("servo at %1 deg").arg(number(degrees(a.servo_rad), 0)));
      break;
    case none:
      sliderText_->setText(QString());
      break;
  }
  const Car& car = *c->changed->model.car;
  QStringList lines;
  for (const FigureSpec& each : geometry_figures()) {
    const FigureSpec* f = each.explains(t.lesson) ? &each : nullptr;
    if (!f) continue;
    for (const End end : both_ends) {
      if (!applies(*f, car, end)) continue;
      const auto l = f->read(c->changed->source, end, Side::left);
      const auto r = f->read(c->changed->source, end, Side::right);
      const QString left = figureWithUnit(*f, l, 0);
      lines << (f->per_wheel() && figureWithUnit(*f, r, 0) != left
                    ? tr("%1 %2: left %3, right %4").arg(endTitle(end), figureLabel(*f), left, figureWithUnit(*f, r, 0))
                    : tr("%1 %2: %3").arg(endTitle(end), figureLabel(*f), left));
    }
  }
  if (t.lesson == Lesson::roll_stiffness) {
    if (const auto loaded = LoadedCar::of(c->changed->model))
      for (const End end : both_ends) {
        const AxleRates rates = loaded->rates(end);
        lines << tr("%1: %2 N mm/deg, %3 of it by the bar")
                     .arg(endTitle(end), number(rates.roll_n_mm_per_deg, 0), number(rates.roll_by_bar_n_mm_per_deg, 0));
      }
  }
  figures_->setText(lines.join(QStringLiteral("     ")));
}

void LearnPage::ask() {
  const Document& d = model_.document();
  question_ = d.hasCar() ? ask_about(d.car(), d.setup(), seed_++) : std::nullopt;
  result_->clear();
  show_->setEnabled(false);
  for (QPushButton* b : guesses_) b->setEnabled(question_.has_value());
  if (!question_) {
    quiz_->setText(tr("Open a car to practise on it."));
    return;
  }
  showQuestion(false);
  const Adjuster& a = d.car().adjusters[question_->adjuster];
  quiz_->setText(tr("<b>%1</b>: %2 \u2192 %3, camber and toe put back.<br>What does the <b>%4</b> of the %5 do?")
                     .arg(partTitle(a), valueText(a, question_->from), valueText(a, question_->to),
                          figureLabel(*question_->figure),
                          question_->end == End::front ? tr("front axle") : tr("rear axle")));
}

void LearnPage::setLessonsAwake(bool awake) {
  plan_.setAwake(awake);
  practice_.setAwake(awake);
}

void LearnPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  setLessonsAwake(false);
}

void LearnPage::showQuestion(bool answered) {
  const Setup& now = model_.document().setup();
  practice_.setEnd(question_->end);
  practice_.setPart(question_->adjuster);
  practice_.compareInstead(PlanModel::Pair{now, answered ? question_->setup : now});
  practice_.flush();
  const FigureSpec& figure = *question_->figure;
  quizDrawings_->setCurrentIndex(figure.is(from_above) ? above : figure.is(from_the_side) ? side : front);
}

void LearnPage::answer(Guess guess) {
  if (!question_) return;
  showQuestion(true);
  const Guess truth = question_->answer();
  ++asked_;
  right_ += guess == truth;
  const QString words = truth == Guess::rises   ? tr("it rises")
                        : truth == Guess::falls ? tr("it falls")
                                                : tr("it stays");
  const FigureSpec& f = *question_->figure;
  const Tokens& t = tokens(palette());
  setInk(*result_, guess == truth ? t.good : t.bad);
  result_->setText(tr("%1: %2, from %3 to %4. %5 of %6 right so far.")
                       .arg(guess == truth ? tr("\u2713 Right") : tr("\u2715 No"), words,
                            figureWithUnit(f, question_->before, 0), figureWithUnit(f, question_->after, 0))
                       .arg(right_)
                       .arg(asked_));
  for (QPushButton* b : guesses_) b->setEnabled(false);
  show_->setEnabled(true);
}

}  // namespace lowkite::app
