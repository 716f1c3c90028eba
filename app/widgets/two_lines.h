// Two texts over each other in whatever room there is. They are placed by hand instead of by a layout, so that new
// words repaint these lines and lay out nothing else in the window.
#pragma once

#include <QLabel>
#include <QWidget>

namespace lowkite::app {

class TwoLines : public QWidget {
  Q_OBJECT
 public:
  explicit TwoLines(QWidget* parent = nullptr);

  [[nodiscard]] QLabel& first() { return *first_; }
  [[nodiscard]] QLabel& second() { return *second_; }
  /// Puts both texts; without a second one the first takes the whole height.
  void tell(const QString& first, const QString& second);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void place();

  QLabel* first_;
  QLabel* second_;
};

}  // namespace lowkite::app
