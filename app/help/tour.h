// Five minutes on the demo car: a few sentences, each beside what it is about. Ends at any moment.
#pragma once

#include <functional>
#include <vector>

#include <QFrame>
#include <QPointer>

class QLabel;
class QPushButton;

namespace lowkite::app {

class Tour : public QFrame {
  Q_OBJECT
 public:
  struct Stop {
    QString about;  ///< object name of what it points to
    QString text;
    std::function<void()> before;  ///< what is brought into sight first; may be empty
  };

  /// Lies over `window`, whose widgets the stops name.
  Tour(std::vector<Stop> stops, QWidget* window);

  [[nodiscard]] int stop() const { return stop_; }
  void goTo(int stop);

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void place();

  std::vector<Stop> stops_;
  int stop_ = -1;
  QPointer<QWidget> about_;
  QLabel* text_;
  QLabel* count_;
  QPushButton* back_;
  QPushButton* next_;
};

}  // namespace lowkite::app
