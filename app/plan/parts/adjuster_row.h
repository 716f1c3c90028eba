// One part in the list: its name, its value, its picture, and large steppers.
#pragma once

#include <QFrame>

#include "app/compute/plan_model.h"

class QLabel;
class QToolButton;

namespace lowkite::app {

class PartGlyph;

class AdjusterRow : public QFrame {
  Q_OBJECT
 public:
  AdjusterRow(PlanModel& model, int adjuster, QWidget* parent = nullptr);

  [[nodiscard]] int adjuster() const { return adjuster_; }
  void refresh();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void changeEvent(QEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  [[nodiscard]] const Adjuster& part() const;
  void step(int by);

  /// What the row shows; painted anew only when it differs.
  struct Shown {
    Setting now, was;
    Side side = Side::left;
    bool inHand = false;
    bool operator==(const Shown&) const = default;
  };

  PlanModel& model_;
  int adjuster_;
  std::optional<Shown> shown_;
  QLabel* value_;
  PartGlyph* glyph_ = nullptr;
  QToolButton* less_;
  QToolButton* more_;
};

}  // namespace lowkite::app
