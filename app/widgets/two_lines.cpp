#include "app/widgets/two_lines.h"

#include <algorithm>

namespace lowkite::app {

TwoLines::TwoLines(QWidget* parent) : QWidget(parent), first_(new QLabel(this)), second_(new QLabel(this)) {
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
  for (QLabel* label : {first_, second_}) label->setWordWrap(true);
}

void TwoLines::tell(const QString& first, const QString& second) {
  first_->setText(first);
  second_->setText(second);
  place();
}

void TwoLines::resizeEvent(QResizeEvent*) {
  place();
}

void TwoLines::place() {
  const bool two = !second_->text().isEmpty();
  second_->setVisible(two);
  const int wanted = first_->heightForWidth(width());
  const int top = two ? std::clamp(wanted, height() / 3, height() * 2 / 3) : height();
  first_->setGeometry(0, 0, width(), top);
  second_->setGeometry(0, top, width(), height() - top);
}

}  // namespace lowkite::app
