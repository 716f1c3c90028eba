// Two columns whose shares the hand may move; where it left them is kept under a key.
#pragma once

#include <QSplitter>

#include "app/kept/kept.h"

namespace lowkite::app {

class KeptSplitter : public QSplitter {
 public:
  /// `left` has `leftWidth` px at least, and at first; the rest is `right`'s.
  KeptSplitter(const QString& name, QWidget* left, QWidget* right, int leftWidth, QWidget* parent)
      : QSplitter(Qt::Horizontal, parent) {
    setObjectName(name);
    setProperty("kept", true);
    setHandleWidth(8);
    setChildrenCollapsible(false);
    left->setMinimumWidth(leftWidth);
    addWidget(left);
    addWidget(right);
    setStretchFactor(1, 1);
    const QString key = name + QStringLiteral("/columns");
    if (!restoreState(Kept().value(key).toByteArray())) setSizes({leftWidth, 4000});
    connect(this, &QSplitter::splitterMoved, this, [this, key] { Kept().setValue(key, saveState()); });
  }
};

}  // namespace lowkite::app
