// Tables of the Car workspace in which entries of the car file are edited in place.
#pragma once

#include <QPushButton>
#include <QTableView>

namespace lowkite::app {

/// Rows are tall enough for a hand; an entry with choices offers them.
QTableView* fieldTable(QAbstractItemModel* model, const QString& name, QWidget* parent);

QPushButton* carButton(const QString& name, const QString& text, QWidget* parent);

}  // namespace lowkite::app
