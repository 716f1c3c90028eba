// One step of the bench run: why, how, what it should read, what was read, and what to do about it. Large enough for
// oily hands at arm's length.
#pragma once

#include <array>

#include <QFrame>

#include "app/bench/bench_model.h"
#include "app/bench/instruments.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;

namespace lowkite::app {

class PullPage;
class SidedField;
class SketchLabel;

class UsualRanges;

class StepCard : public QFrame {
  Q_OBJECT
 public:
  StepCard(BenchModel& model, Instruments& instruments, const UsualRanges& usual, QWidget* parent = nullptr);

  /// Takes what the gauges show for the step in hand, where they stand still. False: none does.
  bool takeFromGauges();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  struct SideBox {
    QWidget* box = nullptr;
    QLabel* title = nullptr;
    QLabel* target = nullptr;
    QLabel* expected = nullptr;
    SidedField* field = nullptr;
    QPushButton* take = nullptr;
    QPushButton* back = nullptr;
    QWidget* live = nullptr;
    QLabel* shows = nullptr;
    QPushButton* takeLive = nullptr;
    QLabel* taken = nullptr;
    QLabel* verdict = nullptr;
    QPushButton* turned = nullptr;
    QWidget* asks = nullptr;  ///< whether the side of zero was mistaken
    QPushButton* sure = nullptr;
    QPushButton* mistaken = nullptr;
  };
  SideBox makeSide(Side side);
  QWidget* makeButtons();
  void refresh();
  void refreshSide(Side side, const BenchStep& step);
  void refreshLive();
  void enlarge();
  /// What was read, and before a turn; what it should read since then.
  [[nodiscard]] QString takenText(const BenchStep& step, Side side, const SideVerdict& verdict) const;
  /// What the four scales ask of collars and weights, and what a lean does.
  [[nodiscard]] QStringList scaleWords(const WeightAnswer& weights) const;
  [[nodiscard]] QStringList leanWords(const LeanAnswer& lean) const;
  [[nodiscard]] std::optional<Instruments::Live> liveOf(Side side) const;
  /// Enter in a number: takes it as read, and puts the hand where the next one is typed.
  void takeByKey(Side side);
  void typeInto(Side side);
  /// The first side that is read at the step in hand.
  [[nodiscard]] bool reads(Side side) const { return !sides_[at(side)].box->isHidden(); }

  BenchModel& model_;
  Instruments& instruments_;
  const UsualRanges& usual_;
  QLabel* phase_;
  QLabel* title_;
  QLabel* why_;
  QLabel* how_;
  QLabel* named_;
  QScrollArea* area_;
  QLabel* caution_;
  SketchLabel* sketch_;
  double enlarged_ = 1.0;  ///< times the usual size
  std::array<SideBox, 2> sides_;
  PullPage* pull_;
  QLabel* even_;
  QLabel* besides_;
  std::array<QPushButton*, 2> together_{};  ///< collars turned against each other: at the front, at the rear
  QPushButton* levelled_ = nullptr;
  QLineEdit* reason_;
  QPushButton* skip_;
  QPushButton* done_;
  std::string shownStep_;
};

}  // namespace lowkite::app
