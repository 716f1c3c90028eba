// Parts drawn as what they are: a stack of shims, a row of holes, a turnbuckle, an insert's or a block's choices.
#pragma once

#include <optional>

#include <QWidget>

#include "core/car/adjuster.hpp"

namespace lowkite::app {

/// Draws one part with the value of each side, and lets positions be picked by a click.
class PartGlyph : public QWidget {
  Q_OBJECT
 public:
  explicit PartGlyph(const Adjuster& part, QWidget* parent = nullptr);

  void setValues(double left, double right, double baseline, bool changed);
  [[nodiscard]] QSize sizeHint() const override { return {150, 40}; }
  /// Where a position is drawn, for clicks; positions only.
  [[nodiscard]] QRectF positionRect(int index) const;

 Q_SIGNALS:
  void picked(double value);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  void paintShims(QPainter& p) const;
  void paintHoles(QPainter& p) const;
  void paintBoxes(QPainter& p) const;
  void paintTurnbuckle(QPainter& p) const;
  void paintScrew(QPainter& p) const;

  const Adjuster& part_;
  double left_ = 0.0;
  double right_ = 0.0;
  double baseline_ = 0.0;
  bool changed_ = false;
};

}  // namespace lowkite::app
