// What the Track workspace shows: the log, which day and run are in hand, the rules and the score that the log keeps.
//
// Every edit of the log is a command on a stack of its own, so that the setup's "*" is not moved by it. A write that
// fails changes nothing and is told.
#pragma once

#include <map>
#include <optional>

#include <QObject>
#include <QString>
#include <QUndoStack>

#include "app/background/in_background.h"
#include "app/document/document.h"
#include "app/settings/own_file.h"
#include "core/advice/score.hpp"
#include "core/log/log_change.hpp"

namespace lowkite::app {

class TrackModel : public QObject {
  Q_OBJECT
 public:
  /// `path`: of the log; opened when first needed.
  TrackModel(Document& document, const QString& path, QObject* parent = nullptr);

  [[nodiscard]] Document& document() { return document_; }
  [[nodiscard]] QUndoStack& undoStack() { return undo_; }
  /// Has the pages put into the log what is typed there: before another run is in hand, an undo, an export.
  void keepTyped() { Q_EMIT typedWanted(); }
  /// Reads the log again when another window has written to it.
  void lookAgain();
  /// Opens the log, or says why it cannot; true when it is open.
  bool open();
  [[nodiscard]] bool isOpen() const { return store_.has_value(); }
  [[nodiscard]] const QString& failure() const { return failure_; }
  [[nodiscard]] LogStore* store() { return store_ ? &*store_ : nullptr; }
  [[nodiscard]] QString path() const { return path_; }

  [[nodiscard]] const std::vector<DaySummary>& days() const { return days_; }
  [[nodiscard]] const std::vector<RunSummary>& runs() const { return runs_; }
  [[nodiscard]] std::optional<Day> day() const;
  [[nodiscard]] const std::optional<RunRecord>& run() const { return run_; }
  /// The run before the one in hand, of the same car and day.
  [[nodiscard]] std::optional<RunRecord> runBefore() const;
  [[nodiscard]] std::optional<RunRecord> fetch(std::int64_t run) const;
  [[nodiscard]] std::optional<Day> dayOf(const Run& run) const;
  void chooseDay(std::int64_t id);
  void chooseRun(std::int64_t id);

  /// A car's name by its id: the open one's, one's own or a shipped one's; else the id, as there is nothing better.
  [[nodiscard]] QString carName(const std::string& id) const;
  /// A new day like the one in hand, of `date`, without what must be measured anew; it is then in hand.
  void addDay(const QString& date);
  void putDay(const Day& day, const QString& what);
  void removeDay();
  /// A new run of the day in hand with the setup at work on the car that is open; tyres and battery as in the run
  /// before.
  void addRun(const QString& started);
  /// `merge`: edits of the same thing in a row are undone as one (0: never).
  void putRun(const RunRecord& run, const QString& what, int merge = 0);
  void removeRun();
  /// The setup at work as the one that the run in hand was driven with.
  void takeSetup();

  [[nodiscard]] LapRule lapRule() const { return rule_; }
  void setLapRule(const LapRule& rule);

  /// The rules: ours and the racer's own. Faults of the racer's file are told, ours then stand alone.
  [[nodiscard]] const RuleBook& book();
  [[nodiscard]] const QString& ownRulesPath() const { return ownRules_.path(); }
  void rereadRules();
  void addOwnRule(const Rule& rule);
  [[nodiscard]] const Schools& schools() const { return schools_; }
  void setSchool(const QString& question, const QString& school);  ///< empty: both

  /// Everything in the log, oldest day first; read anew after each change.
  [[nodiscard]] const std::vector<LoggedDay>& everything();
  /// Runs of a car with how they felt and what they were driven with, oldest day first, without their laps: long logs
  /// are read fast.
  [[nodiscard]] std::vector<LoggedDay> runsWithoutLaps(const std::string& car_id) const;
  /// How many runs of a car were driven since a time (ISO).
  [[nodiscard]] int runsSince(const std::string& car_id, const QString& since);
  /// The score of the open car's runs.
  [[nodiscard]] const ScoreBook& score();

  /// Files of the log. Each says in the banner what came of it; false when nothing was written or read.
  enum class Export { everything, runs, laps, copy };
  bool exportTo(const QString& path, Export what);
  bool importFrom(const QString& path);
  /// Fills an empty log with the invented season.
  void fillWithDemo();

 Q_SIGNALS:
  void daysChanged();
  void runsChanged();  ///< the list of the day in hand
  void typedWanted();  ///< what is typed and not in the log yet is to be put there now
  void chosen();       ///< another day or run is in hand, or the one in hand was edited
  void rulesChanged();
  void told(const QString& news);

 private:
  friend class LogCommand;
  void refresh();
  /// False, and told, when what would be written is lost: the file is not there any more.
  bool mayWrite();
  /// Makes a change of the log as a command. Nothing is pushed when it cannot be made.
  void edit(const QString& what, LogChange change, int merge = 0);
  enum class Way { make, takeBack };
  enum class Outcome { done, failed, overtaken };
  /// What it touched is in hand afterwards. What went wrong is told.
  Outcome apply(LogChange& change, Way way);

  /// Reads the rules; what is wrong with the racer's own, which is told, too.
  QString readRules();

  Document& document_;
  QString path_;
  std::optional<LogStore> store_;
  QString failure_;
  QUndoStack undo_;
  bool puttingBack_ = false;  ///< the stack goes to where the log is, not the log to where the stack is
  std::vector<DaySummary> days_;
  mutable std::map<std::string, QString> names_;  ///< by car id, as they were found
  std::vector<RunSummary> runs_;
  std::int64_t day_ = 0;
  std::optional<RunRecord> run_;
  LapRule rule_;
  OwnFile ownRules_;
  std::optional<RuleBook> book_;
  Schools schools_;
  std::optional<std::vector<LoggedDay>> everything_;
  std::optional<ScoreBook> score_;
  std::shared_ptr<const Car> scoredFor_;
};

}  // namespace lowkite::app
