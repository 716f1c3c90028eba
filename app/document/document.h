// The document: a car, the setup being worked on and the pinned baseline. Inputs only; every result is derived from
// them.
//
// All edits go through the undo stack, whose clean state is the "*" of the title.
#pragma once

#include <memory>
#include <optional>

#include <QObject>
#include <QString>
#include <QUndoStack>

#include "core/io/atomic_file.hpp"
#include "core/io/setup_file.hpp"

namespace lowkite::app {

/// Which sides an edit is for.
enum class Sides { both, left, right };

/// What a document holds; copied by value for autosave and for opening into a fresh one before the old is given up.
struct DocumentState {
  std::shared_ptr<const Car> car;
  QString carPath;
  SetupFile file;                  ///< the setup at work, with the fields of others
  QString setupPath;               ///< empty: never saved
  std::optional<FileStamp> stamp;  ///< of the setup as it lies on the disk
  Setup baseline;
};

class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);

  [[nodiscard]] bool hasCar() const { return state_.car != nullptr; }
  [[nodiscard]] const Car& car() const { return *state_.car; }
  [[nodiscard]] std::shared_ptr<const Car> sharedCar() const { return state_.car; }
  [[nodiscard]] const Setup& setup() const { return state_.file.setup; }
  [[nodiscard]] const Setup& baseline() const { return state_.baseline; }
  [[nodiscard]] const DocumentState& state() const { return state_; }
  [[nodiscard]] QString title() const;
  [[nodiscard]] QUndoStack& undoStack() { return undo_; }
  [[nodiscard]] bool isModified() const { return !undo_.isClean(); }

  /// Takes over an opened document; nothing of the old one stays. `unsaved`: it holds work that is on no disk yet.
  void replace(DocumentState state, bool unsaved = false);

  /// Sets an adjuster's value; steps of the same part in a row become one undo step.
  void setValue(int adjuster, Sides sides, double value);
  /// Steps an adjuster by its real steps. True when anything moved.
  bool step(int adjuster, Sides sides, int steps);
  void setRideHeight(End end, double mm);
  /// Makes the present setup the baseline to compare with.
  void pinBaseline();
  /// Puts a whole setup in place of the present one as one edit (a re-set applied, a result taken over).
  void putSetup(const Setup& setup, const QString& what);

  /// Writes the setup. `path` empty: where it came from. Refuses to overwrite what somebody else changed.
  tl::expected<void, Fault> save(const QString& path = {});

 Q_SIGNALS:
  void replaced();       ///< another car or setup was opened
  void inputsChanged();  ///< setup or baseline changed
  void fileChanged();    ///< path or name changed

 private:
  friend class SetupCommand;
  friend class BaselineCommand;
  void restoreSetup(const Setup& setup);
  void restoreBaseline(const Setup& baseline);

  DocumentState state_;
  QUndoStack undo_;
};

}  // namespace lowkite::app
