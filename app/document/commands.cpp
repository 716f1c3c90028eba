#include "app/document/commands.h"

namespace lowkite::app {

SetupCommand::SetupCommand(Document& document, Setup after, int merged_as, const QString& text)
    : QUndoCommand(text),
      document_(document),
      before_(document.setup()),
      after_(std::move(after)),
      merged_as_(merged_as) {}

bool SetupCommand::mergeWith(const QUndoCommand* other) {
  const auto* next = static_cast<const SetupCommand*>(other);
  after_ = next->after_;
  // Stepped up and back down again: nothing happened, and nothing is left to undo.
  setObsolete(after_ == before_);
  return true;
}

CarCommand::CarCommand(Document& document, CarFile after, int merge, const QString& text)
    : QUndoCommand(text),
      document_(document),
      before_{document.sharedCar(), document.state().carSource},
      after_(std::move(after)),
      setupBefore_(document.setup()),
      setupAfter_(carried_over(*before_.car, setupBefore_, *after_.car)),
      baselineBefore_(document.baseline()),
      baselineAfter_(carried_over(*before_.car, baselineBefore_, *after_.car)),
      merge_(merge) {}

void CarCommand::undo() {
  document_.restoreCar(before_, setupBefore_, baselineBefore_);
}

void CarCommand::redo() {
  document_.restoreCar(after_, setupAfter_, baselineAfter_);
}

bool CarCommand::mergeWith(const QUndoCommand* other) {
  const auto* next = static_cast<const CarCommand*>(other);
  after_ = next->after_;
  setupAfter_ = next->setupAfter_;
  baselineAfter_ = next->baselineAfter_;
  setObsolete(after_.source == before_.source);
  return true;
}

BaselineCommand::BaselineCommand(Document& document, Setup after, const QString& text)
    : QUndoCommand(text), document_(document), before_(document.baseline()), after_(std::move(after)) {}

}  // namespace lowkite::app
