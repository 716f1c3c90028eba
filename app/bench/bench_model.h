// The run on the bench that is on show: kept on the disk after every reading, resumed after a crash or the next day.
#pragma once

#include <optional>

#include <functional>

#include <QObject>
#include <QStringList>
#include <QUndoStack>

#include "app/document/document.h"
#include "core/bench/verdict.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/bench_file.hpp"

namespace lowkite::app {

class BenchModel : public QObject {
  Q_OBJECT
 public:
  /// `folder`: where runs are kept; made when needed.
  BenchModel(Document& document, const QString& folder, QObject* parent = nullptr);

  [[nodiscard]] Document& document() { return document_; }
  [[nodiscard]] bool hasRun() const { return run_.has_value(); }
  [[nodiscard]] const BenchRun& run() const { return *run_; }
  [[nodiscard]] const std::vector<BenchStep>& steps() const { return steps_; }
  [[nodiscard]] int current() const { return current_; }
  [[nodiscard]] const BenchStep* step() const;
  /// The record of a step; an empty one when it was not touched.
  [[nodiscard]] StepRecord record(const std::string& id) const;
  [[nodiscard]] int stepsIn(StepState state) const;
  /// Steps that have ended, skipped ones not counted.
  [[nodiscard]] int stepsDone() const;
  [[nodiscard]] int stepsSkipped() const;
  [[nodiscard]] QUndoStack& undoStack() { return undo_; }

  /// Starts a run that sets the car to the document's setup.
  void start(BenchList list);
  /// An unfinished run of this car on the disk, newest first; empty when there is none.
  [[nodiscard]] QString unfinished() const;
  bool resume(const QString& path);

  void goTo(int step);
  void takeReading(Side side, double value);
  void takeBack(Side side);
  /// The racer did what was told, on this side or (none) on both: the car is in a new state.
  void turnedIt(std::optional<Side> side);
  /// The same for collars turned against each other: what four scales told at this end, or (none) what a lean told.
  void collarsTurned(std::optional<End> end);
  /// A reading on the other side of zero is what was read; or the side was mistaken.
  void confirmSide(Side side);
  void otherSide(Side side);
  /// True when the targets belong to another setup than the one at work.
  [[nodiscard]] bool planIsOlder() const;
  /// The run's targets are those of the setup at work from now on.
  void followSetup();
  /// Spring pressure: one depth of the step in hand.
  void takePull(const PullPoint& point);
  void takeBackPull();
  /// How depths and grams are typed: scales set to nothing first; the caliper's own readings from this one on.
  void setPullWay(bool tared, std::optional<double> caliperZero);
  /// Pull-downs in runs before this one, of any car, newest first.
  [[nodiscard]] std::vector<KeptPull> keptPulls() const;
  /// Ticks the step and goes on to the next open one.
  void finishStep();
  void skipStep(const QString& reason);
  /// Moves the current step earlier (-1) or later (+1) in the order.
  void moveStep(int by);
  void setBench(const BenchKit& bench);

  /// The verdict on the current step; none while nothing can be computed.
  [[nodiscard]] const std::optional<StepVerdict>& verdict() const { return verdict_; }
  [[nodiscard]] const QString& failure() const { return failure_; }
  /// What was read at this step in the run before this one, left and right; nothing when there was none.
  [[nodiscard]] PerSide<std::optional<double>> lastTime(const std::string& id) const;
  [[nodiscard]] const QString& lastStarted() const { return lastStarted_; }

  /// What is built by steps here: the shocks of an axle, or its third damper.
  enum class Dampers : std::uint8_t { shocks, third };
  /// When they were last built, and with what.
  struct Built {
    QString when;      ///< ISO date and time
    QStringList with;  ///< piston and oil, as the setup of then had them
  };
  using LastBuilt = std::array<PerEnd<std::optional<Built>>, 2>;  ///< by Dampers
  [[nodiscard]] LastBuilt lastBuilt() const;
  /// Whether the open setup has them.
  [[nodiscard]] bool hasDampers(Dampers which, End end) const;

  /// Puts the car as measured into the document, as one edit.
  void takeAsMeasured();
  /// Where the run is kept.
  [[nodiscard]] const QString& path() const { return path_; }

 Q_SIGNALS:
  void changed();  ///< anything on show
  void told(const QString& news);

 private:
  void adopt(BenchRun run, const QString& path, const std::optional<FileStamp>& stamp);
  /// A name in the folder that no run has yet.
  [[nodiscard]] QString freePath() const;
  void touch();
  void edit(const QString& what, const std::function<void(BenchRun&)>& change);
  friend class BenchEdit;
  void judgeStep();
  void save();
  void findLast();
  [[nodiscard]] QStringList files() const;

  Document& document_;
  QString folder_;
  QString path_;
  std::optional<FileStamp> stamp_;  ///< of the run as it lies on the disk
  std::optional<BenchRun> run_;
  std::shared_ptr<const Car> car_;  ///< that the run's plan was made for
  std::optional<BenchRun> last_;
  mutable std::optional<LastBuilt> built_;  ///< in the other runs on the disk; none: to be looked up
  QString lastStarted_;
  std::vector<BenchStep> steps_;
  int current_ = 0;
  std::optional<StepVerdict> verdict_;
  QString failure_;
  QUndoStack undo_;
};

}  // namespace lowkite::app
