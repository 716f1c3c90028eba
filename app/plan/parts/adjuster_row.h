// One part in the list: its name, its value, its picture, and large steppers.
#pragma once

#include <QFrame>

#include "app/compute/plan_model.h"

class QDoubleSpinBox;
class QLabel;
class QToolButton;

namespace lowkite::app {

class PartGlyph;

class AdjusterRow : public QFrame {
  Q_OBJECT
 public:
  AdjusterRow(PlanModel& model, PartHandle adjuster, QWidget* parent = nullptr);

  [[nodiscard]] PartHandle adjuster() const { return adjuster_; }
  void refresh();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void changeEvent(QEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  bool event(QEvent* event) override;  ///< "What is this?": what a step of the part does

 Q_SIGNALS:
  void told(const QString& news);  ///< what was typed cannot be

 private:
  [[nodiscard]] const Adjuster& part() const;
  void step(int by);
  /// True for a rod that a caliper can be laid on.
  [[nodiscard]] bool isMeasured() const;
  /// Length of a turnbuckle's link as the caliper of the bench reads it, mm.
  [[nodiscard]] double caliperLength() const;
  void typeLength();
  void takeLength();

  /// What the row shows; painted anew only when it differs.
  struct Shown {
    Setting now, was;
    Side side = Side::left;
    bool inHand = false;
    double length_mm = 0.0;
    bool operator==(const Shown&) const = default;
  };

  PlanModel& model_;
  PartHandle adjuster_;
  std::optional<Shown> shown_;
  QLabel* value_;
  QLabel* end_ = nullptr;  ///< why it goes no further
  PartGlyph* glyph_ = nullptr;
  QToolButton* less_;
  QToolButton* more_;
  QDoubleSpinBox* length_ = nullptr;  ///< over the value while a length is typed
};

}  // namespace lowkite::app
