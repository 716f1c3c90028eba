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
#include "core/io/car_edit.hpp"
#include "core/io/setup_file.hpp"

namespace lowkite::app {

/// True for a file among those that come with the program: they are read, never written.
bool isShipped(const QString& path);

/// Which sides an edit is for.
enum class Sides { both, left, right };

/// What a document holds; copied by value for autosave and for opening into a fresh one before the old is given up.
struct DocumentState {
  std::shared_ptr<const Car> car;
  KeptJson carSource;                 ///< the document that the car was read from, as edited
  QString carPath;                    ///< empty: a car of one's own that lies on no disk yet
  std::optional<FileStamp> carStamp;  ///< of the car as it lies on the disk
  SetupFile file;                     ///< the setup at work, with the fields of others
  QString setupPath;                  ///< empty: never saved
  std::optional<FileStamp> stamp;     ///< of the setup as it lies on the disk
  Setup baseline;
};

class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);

  [[nodiscard]] bool hasCar() const { return state_.car != nullptr; }
  /// Whether it is one of the open car's parts.
  [[nodiscard]] bool hasPart(PartHandle adjuster) const;
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
  void setValue(PartHandle adjuster, Sides sides, double value);
  /// Steps an adjuster by its real steps. True when anything moved.
  bool step(PartHandle adjuster, Sides sides, int steps);
  void setRideHeight(End end, double mm);
  /// Makes the present setup the baseline to compare with.
  void pinBaseline();
  /// Makes a setup of the open car the baseline. One of another car is not taken, here and below.
  void putBaseline(const Setup& setup, const QString& what);
  /// Puts a whole setup in place of the present one as one edit (a re-set applied, a result taken over).
  void putSetup(const Setup& setup, const QString& what);

  /// True for a car that comes with the program: it is not edited, but made one's own first.
  [[nodiscard]] bool carIsShipped() const;
  [[nodiscard]] bool carModified() const { return hasCar() && state_.carSource != savedCar_; }
  /// Puts an edited car in place of the present one, its setup and baseline brought over. The faults say why it cannot
  /// be; nothing has changed then. Edits with the same `merge` (not 0) in a row become one undo step.
  tl::expected<void, Faults> editCar(Json source, const QString& what, int merge = 0);
  /// Writes the car. `path` empty: where it came from.
  tl::expected<void, Fault> saveCar(const QString& path = {});

  /// The racer has been told that a file was changed by another program and keeps what he has: the next save may
  /// replace it.
  void keepOverDisk(const QString& path);

  /// Writes the setup. `path` empty: where it came from. Refuses to overwrite what somebody else changed.
  tl::expected<void, Fault> save(const QString& path = {});

 Q_SIGNALS:
  void replaced();       ///< another car or setup was opened
  void carEdited();      ///< the car is another than before, and with it the meaning of every value
  void inputsChanged();  ///< setup or baseline changed
  void fileChanged();    ///< path or name changed

 private:
  friend class SetupCommand;
  friend class BaselineCommand;
  friend class CarCommand;
  void restoreSetup(const Setup& setup);
  void restoreBaseline(const Setup& baseline);
  void restoreCar(const CarFile& car, const Setup& setup, const Setup& baseline);

  DocumentState state_;
  KeptJson savedCar_;  ///< as it lies on the disk
  Setup savedSetup_;   ///< as opened or last saved, for the car it was then
  std::shared_ptr<const Car> savedFor_;
  QUndoStack undo_;
};

}  // namespace lowkite::app
