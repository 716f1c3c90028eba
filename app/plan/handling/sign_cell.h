// One cell of what a change does to handling: a large line and a small one below it.
#pragma once

#include <QWidget>

#include "app/look/theme.h"

namespace lowkite::app {

/// Painted by hand: rich text is laid out anew, and its grid with it, at every step of a part.
class SignCell : public QWidget {
  Q_OBJECT

 public:
  explicit SignCell(QWidget* parent = nullptr);

  /// `colour`: of the large line, in either shade. Both empty: nothing is told.
  void tell(const QString& large, QColor Tokens::*colour, const QString& small);
  /// Both lines, one below the other.
  [[nodiscard]] QString text() const;

  [[nodiscard]] QSize sizeHint() const override;
  [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void changeEvent(QEvent* event) override;

 private:
  QString large_, small_;
  QColor Tokens::*colour_ = &Tokens::ink;
  int wide_;  ///< px that the texts so far take: a cell grows, and does not shrink under the reader's eyes
};

}  // namespace lowkite::app
