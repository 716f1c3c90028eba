// The edits that a document knows. Each keeps the whole setup before and after: a setup is a few hundred bytes.
#pragma once

#include <QUndoCommand>

#include "app/document/document.h"

namespace lowkite::app {

class SetupCommand : public QUndoCommand {
 public:
  /// `part`: the adjuster whose steps in a row are merged, or -1 for an edit that stands alone.
  SetupCommand(Document& document, Setup after, int part, const QString& text);

  void undo() override { document_.restoreSetup(before_); }
  void redo() override { document_.restoreSetup(after_); }
  [[nodiscard]] int id() const override { return part_ < 0 ? -1 : part_ + 1; }
  bool mergeWith(const QUndoCommand* other) override;

 private:
  Document& document_;
  Setup before_;
  Setup after_;
  int part_;
};

class BaselineCommand : public QUndoCommand {
 public:
  BaselineCommand(Document& document, Setup after, const QString& text);

  void undo() override { document_.restoreBaseline(before_); }
  void redo() override { document_.restoreBaseline(after_); }

 private:
  Document& document_;
  Setup before_;
  Setup after_;
};

}  // namespace lowkite::app
