// The edits that a document knows. Each keeps the whole setup before and after: a setup is a few hundred bytes.
#pragma once

#include <functional>

#include <QUndoCommand>

#include "app/document/document.h"

namespace lowkite::app {

class SetupCommand : public QUndoCommand {
 public:
  /// Edits of the same `merged_as` that follow each other are one: a part's number, or one beyond the parts; -1: alone.
  SetupCommand(Document& document, Setup after, int merged_as, const QString& text);

  void undo() override { document_.restoreSetup(before_); }
  void redo() override { document_.restoreSetup(after_); }
  [[nodiscard]] int id() const override { return merged_as_ < 0 ? -1 : merged_as_ + 1; }
  bool mergeWith(const QUndoCommand* other) override;

 private:
  Document& document_;
  Setup before_;
  Setup after_;
  int merged_as_;
};

/// Something besides the document that goes with an edit, and is taken back with it.
class ActCommand : public QUndoCommand {
 public:
  ActCommand(const QString& text, std::function<void()> act, std::function<void()> back)
      : QUndoCommand(text), act_(std::move(act)), back_(std::move(back)) {}

  void undo() override { back_(); }
  void redo() override { act_(); }

 private:
  std::function<void()> act_;
  std::function<void()> back_;
};

class CarCommand : public QUndoCommand {
 public:
  /// `merge`: edits with the same number in a row are one; 0 stands alone.
  CarCommand(Document& document, CarFile after, int merge, const QString& text);

  void undo() override;
  void redo() override;
  [[nodiscard]] int id() const override { return merge_ == 0 ? -1 : firstId + merge_; }
  bool mergeWith(const QUndoCommand* other) override;

 private:
  static constexpr int firstId = 1 << 20;  ///< beyond the numbers of any car's adjusters
  Document& document_;
  CarFile before_, after_;
  Setup setupBefore_, setupAfter_;
  Setup baselineBefore_, baselineAfter_;
  int merge_;
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
