#include "app/document/commands.h"

namespace lowkite::app {

SetupCommand::SetupCommand(Document& document, Setup after, int part, const QString& text)
    : QUndoCommand(text), document_(document), before_(document.setup()), after_(std::move(after)), part_(part) {}

bool SetupCommand::mergeWith(const QUndoCommand* other) {
  const auto* next = static_cast<const SetupCommand*>(other);
  after_ = next->after_;
  // Stepped up and back down again: nothing happened, and nothing is left to undo.
  setObsolete(after_ == before_);
  return true;
}

BaselineCommand::BaselineCommand(Document& document, Setup after, const QString& text)
    : QUndoCommand(text), document_(document), before_(document.baseline()), after_(std::move(after)) {}

}  // namespace lowkite::app
