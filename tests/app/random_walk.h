// Whatever a hand can do in the window, in random order from a seed: actions, buttons, fields, tables, drags, keys,
// files opened and saved in between. Every step is written to a file before it is done, so that a walk that ends in a
// crash says where.
#pragma once

#include <cstdint>
#include <cstdio>
#include <map>
#include <memory>
#include <random>
#include <set>
#include <string>

#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTimer>
#include <QWidget>

#include "tests/app/stall_watch.h"

class QAbstractItemView;
class QAction;
class QMenu;

namespace lowkite::app {

class MainWindow;

class RandomWalk {
 public:
  /// `window` must outlive the walk. `trace`: where the steps are written.
  RandomWalk(MainWindow& window, std::uint32_t seed, const QString& folder, const QString& trace);
  ~RandomWalk();
  RandomWalk(const RandomWalk&) = delete;
  RandomWalk& operator=(const RandomWalk&) = delete;

  /// One act of the hand, and what the program makes of it until it waits again.
  void step();
  /// Undoes all that the document, the log and the bench can undo and does it again: whatever was edited must be there
  /// as it was, byte for byte. What differs, or nothing.
  [[nodiscard]] std::string undoneAndRedone();

  /// The longest that a step of one kind took the window away, ms, and in which step.
  struct Slowest {
    qint64 ms = 0;
    int step = 0;
    QString what;
  };
  [[nodiscard]] const std::map<QString, Slowest>& slowest() const { return slowest_; }
  /// What the step was, and the files that its questions were answered with as places to write to.
  [[nodiscard]] QString did() const { return kind_ + QLatin1Char(' ') + what_; }
  [[nodiscard]] const std::set<QString>& chosen() const { return chosen_; }
  void forgetChosen() { chosen_.clear(); }
  [[nodiscard]] int steps() const { return steps_; }
  [[nodiscard]] const std::map<QString, int>& counts() const { return counts_; }

 private:
  [[nodiscard]] int below(int n);
  [[nodiscard]] bool chance(double p);
  template <class T>
  const T& any(const std::vector<T>& of) {
    return of[static_cast<std::size_t>(below(static_cast<int>(of.size())))];
  }
  template <class W>
  std::vector<W*> seen() const;
  void replaceQuestions();
  void answerWhatWaits();
  [[nodiscard]] QString fileToOpen();
  [[nodiscard]] QString fileToSave(const QString& suffix);
  [[nodiscard]] QString words();
  [[nodiscard]] QString numberAsTyped();
  void say(const QString& kind, const QString& what);
  void wait(int ms);

  void trigger();
  void press();
  void type();
  void choose();
  void cell();
  void drag();
  void turnWheel();
  void slide();
  void strike();
  void openFile();
  void undoSome();
  void resize();

  MainWindow& window_;
  std::mt19937 random_;
  QString folder_;
  std::FILE* trace_;
  QTimer answer_;
  QElapsedTimer clock_;
  StallWatch stalls_;
  int steps_ = 0;
  bool stepping_ = false;
  bool looped_ = false;  ///< a menu or a question held the step up
  QString kind_, what_;
  std::set<QString> chosen_;
  std::map<QString, Slowest> slowest_;
  std::map<QString, int> counts_;
};

}  // namespace lowkite::app
