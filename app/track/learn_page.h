// What the figures mean, with a live drawing of this very car; and practice: what will this change do?
#pragma once

#include <optional>

#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/track/track_model.h"
#include "core/advice/quiz.hpp"

class QLabel;
class QListWidget;
class QPushButton;
class QSlider;
class QStackedWidget;

namespace lowkite::app {

class DrawingView;
class Segmented;

class LearnPage : public QWidget {
  Q_OBJECT
 public:
  explicit LearnPage(TrackModel& model, QWidget* parent = nullptr);

  [[nodiscard]] const std::optional<QuizQuestion>& question() const { return question_; }
  void showPractice(bool on);
  /// Asks by this seed from now on; for tests and pictures.
  void setSeed(std::uint32_t seed);
  [[nodiscard]] int asked() const { return asked_; }
  [[nodiscard]] int right() const { return right_; }

 Q_SIGNALS:
  void openInPlan(const Setup& setup, const QString& what);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  /// Lessons that nobody sees compute nothing.
  void setLessonsAwake(bool awake);
  QWidget* makeTopics();
  QWidget* makePractice();
  void showTopic();
  void move();
  void ask();
  void answer(Guess guess);
  void showQuestion(bool answered);
  /// The three drawings of a model in one frame, in the order of View.
  QStackedWidget* makeDrawings(PlanModel& plan, const QString& name, QWidget* parent);

  TrackModel& model_;
  PlanModel plan_;      ///< of its own: looking here moves nothing in Plan
  PlanModel practice_;  ///< shows the car asked about, and once answered what the change does to it
  Segmented* choice_;
  QStackedWidget* pages_;
  QListWidget* topics_;
  QLabel* text_;
  QLabel* figures_;
  QSlider* slider_;
  QLabel* sliderText_;
  QStackedWidget* drawings_;
  QStackedWidget* quizDrawings_;
  QLabel* quiz_;
  QLabel* result_;
  QPushButton* next_;
  QPushButton* show_;
  std::vector<QPushButton*> guesses_;
  std::optional<QuizQuestion> question_;
  std::uint32_t seed_ = 1;
  int asked_ = 0;
  int right_ = 0;
};

}  // namespace lowkite::app
