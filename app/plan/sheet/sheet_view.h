// The pages of a sheet below each other: the wheel brings the eye nearer about the pointer, a drag moves the paper, a
// click takes a field in hand or, on a picture, says where the one in hand is read.
#pragma once

#include <QAbstractScrollArea>

#include "app/plan/sheet/sheet_work.h"

namespace lowkite::app {

class SheetView : public QAbstractScrollArea {
  Q_OBJECT
 public:
  explicit SheetView(SheetWork& work, QWidget* parent = nullptr);

  /// All of the first page in sight.
  void fit();
  /// The field outlined, and near enough to be read.
  void showField(int field);
  void magnify(double factor) { zoom(factor, viewport()->rect().center()); }

 Q_SIGNALS:
  void fieldChosen(int field);
  void placeChosen(int page, const QPointF& at);  ///< in parts of the page

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  [[nodiscard]] QRectF pageRect(std::size_t page) const;  ///< on the paper roll, in its own dots times the scale
  [[nodiscard]] QRectF fieldRect(const FormField& field) const;
  [[nodiscard]] QPointF onRoll(const QPointF& inView) const;
  [[nodiscard]] QSizeF roll() const;
  void zoom(double factor, const QPointF& about);
  void place();

  SheetWork& work_;
  double scale_ = 0.0;  ///< 0: not fitted yet
  int field_ = -1;
  QPointF pressed_, scrolled_;
  bool dragged_ = false;
};

}  // namespace lowkite::app
