// News along the top of the window, with what can be done about it. Never a dialog.
#pragma once

#include <functional>

#include <QFrame>
#include <QLabel>

class QHBoxLayout;

namespace lowkite::app {

class Banner : public QFrame {
  Q_OBJECT
 public:
  struct Action {
    QString label;
    std::function<void()> run;
  };

  explicit Banner(QWidget* parent = nullptr);

  /// `sign` stands before the text, so that the kind of news does not hang on its colour.
  void tell(const QString& text, const std::vector<Action>& actions = {},
            const QString& sign = QStringLiteral("\u25C6"));
  void clear();
  [[nodiscard]] QString text() const { return text_->text(); }

 private:
  QLabel* sign_;
  QLabel* text_;
  QHBoxLayout* row_;
  std::vector<QWidget*> buttons_;
};

}  // namespace lowkite::app
