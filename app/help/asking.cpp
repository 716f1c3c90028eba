#include "app/help/asking.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QHelpEvent>

namespace lowkite::app {

Asking::Asking(QObject* parent) : QObject(parent) {
  qApp->installEventFilter(this);
}

bool Asking::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::WhatsThis) return false;
  const auto* view = qobject_cast<const QAbstractItemView*>(watched->parent());
  if (!view || view->viewport() != watched) return false;
  const QModelIndex cell = view->indexAt(static_cast<QHelpEvent*>(event)->pos());
  if (!cell.data(Qt::WhatsThisRole).toString().isEmpty()) return false;
  event->ignore();
  return true;
}

}  // namespace lowkite::app
