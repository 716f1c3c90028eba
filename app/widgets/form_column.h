// What is asked, on the left of a wide and low page; what comes of it takes the rest.
#pragma once

#include <algorithm>

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/widgets/scrolled.h"

namespace lowkite::app {

constexpr int formWidth = 408;

/// As wide as was asked, and wider where words are longer, up to half as much again.
class FormArea : public UpDownArea {
 public:
  FormArea(QWidget* form, int width, QWidget* parent) : UpDownArea(form, parent), width_(width) {
    setFixedWidth(width);
  }

 protected:
  void widthChanged() override { setFixedWidth(std::clamp(neededWidth(), width_, 3 * width_ / 2)); }

 private:
  int width_;
};

/// A column of `width` px at the left of `page`, which scrolls where the page is low. The rest goes into the layout
/// that is handed back with it.
struct FormColumn {
  QVBoxLayout* form;
  QHBoxLayout* across;
};
inline FormColumn formColumn(QWidget* page, int width = formWidth) {
  auto* across = new QHBoxLayout(page);
  across->setContentsMargins(8, 2, 8, 4);
  across->setSpacing(12);
  auto* form = new QWidget(page);
  auto* column = new QVBoxLayout(form);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(4);
  across->addWidget(new FormArea(form, width, page));
  return {column, across};
}

}  // namespace lowkite::app
