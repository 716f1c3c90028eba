#include "app/settings/my_boxes.h"

#include <utility>

#include <QFileInfo>
#include <QUndoCommand>

#include "app/kept/kept.h"
#include "core/io/box_file.hpp"

namespace lowkite::app {

class BoxesCommand : public QUndoCommand {
 public:
  /// Of an edit that is kept already.
  BoxesCommand(MyBoxes& boxes, Boxes before, Boxes after, const QString& what, int merge)
      : QUndoCommand(what), boxes_(boxes), before_(std::move(before)), after_(std::move(after)), merge_(merge) {}

  [[nodiscard]] int id() const override { return merge_ > 0 ? merge_ : -1; }
  bool mergeWith(const QUndoCommand* other) override {
    after_ = static_cast<const BoxesCommand*>(other)->after_;
    return true;
  }
  void undo() override { put(before_); }
  void redo() override {
    if (!std::exchange(kept_, false)) put(after_);
  }

 private:
  void put(const Boxes& next) {
    if (const QString wrong = boxes_.keep(next); !wrong.isEmpty()) Q_EMIT boxes_.news(wrong);
  }

  MyBoxes& boxes_;
  Boxes before_;
  Boxes after_;
  int merge_;
  bool kept_ = true;
};

MyBoxes::MyBoxes(QString path, QObject* parent) : QObject(parent), file_(std::move(path)) {
  read();
  // Shims were typed into a line of their own before there were boxes.
  const QString old = QStringLiteral("recipe/box");
  if (Kept settings; !file_.isThere() && settings.contains(old)) {
    if (const auto shims = shims_in(settings.value(old).toString().toStdString()); shims && keep(*shims).isEmpty())
      settings.remove(old);
  }
}

std::optional<Boxes> MyBoxes::known() const {
  return boxes_.items.empty() ? std::nullopt : std::optional(boxes_);
}

void MyBoxes::read() {
  fault_.clear();
  boxes_ = {};
  const auto text = file_.read();
  if (!text) fault_ = QString::fromStdString(text.error().line());
  if (!file_.isThere()) return;
  auto boxes = read_boxes(*text, QFileInfo(file_.path()).fileName().toStdString());
  if (boxes)
    boxes_ = std::move(*boxes);
  else
    fault_ = QString::fromStdString(boxes.error().front().line());
}

void MyBoxes::look() {
  if (!file_.changed()) return;
  read();
  undo_.clear();
  Q_EMIT news(fault_.isEmpty() ? tr("Your boxes were changed by another program and are read again.") : fault_);
  Q_EMIT changed();
}

QString MyBoxes::keep(const Boxes& next) {
  if (!fault_.isEmpty()) return tr("Your boxes are left as they are until their file is mended: %1").arg(fault_);
  if (const auto written = file_.write(write_boxes(next)); !written)
    return QString::fromStdString(written.error().line());
  boxes_ = next;
  Q_EMIT changed();
  return {};
}

QString MyBoxes::put(Boxes next, const QString& what, int merge) {
  if (next == boxes_) return {};
  Boxes before = boxes_;
  if (const QString wrong = keep(next); !wrong.isEmpty()) return wrong;
  undo_.push(new BoxesCommand(*this, std::move(before), std::move(next), what, merge));
  return {};
}

}  // namespace lowkite::app
