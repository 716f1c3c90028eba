// A ruler along an edge of the stage: where the car is held, how far it goes, and where its stops are.
#pragma once

#include <vector>

#include <QSlider>

namespace lowkite::app {

/// Where something ends, in the ruler's unit.
struct RulerMark {
  double at = 0.0;
  QString what;
};

class Ruler : public QSlider {
  Q_OBJECT
 public:
  /// Along which edge of the stage it lies; its line is on the side of the drawing.
  enum class Edge { left, right, top, bottom };

  /// `low` and `high`: what its ends are called ("droop", "bump").
  Ruler(Edge edge, const QString& name, const QString& said, QWidget* parent);

  void setEnds(const QString& low, const QString& high);
  /// What one step means and how it is written.
  void setUnit(double perStep, const QString& unit, int decimals);
  void setMarks(std::vector<RulerMark> marks);
  /// The value as it is read: "bump 2.0 mm".
  void setReading(const QString& reading);
  [[nodiscard]] QString reading() const { return reading_; }

  static constexpr int thickness = 40;  ///< of a lying one
  static constexpr int thicknessUpright = 56;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  [[nodiscard]] bool lying() const { return orientation() == Qt::Horizontal; }
  /// Place along the ruler, px, of a value in steps, and back.
  [[nodiscard]] double along(double steps) const;
  [[nodiscard]] int stepsAt(const QPointF& where) const;
  void follow(const QPointF& where);

  Edge edge_;
  QString low_, high_, unit_, reading_;
  double perStep_ = 1.0;
  int decimals_ = 1;
  std::vector<RulerMark> marks_;
};

}  // namespace lowkite::app
