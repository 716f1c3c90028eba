#include "app/key_list.h"

#include <QAction>
#include <QHeaderView>
#include <QLineEdit>
#include <QMainWindow>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"

namespace lowkite::app {

KeyList::KeyList(QMainWindow& window) : QDialog(&window), window_(window) {
  setObjectName(QStringLiteral("keyList"));
  setWindowTitle(tr("Keys"));
  resize(520, 600);
  auto* column = new QVBoxLayout(this);
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("keyList.words"));
  words_->setPlaceholderText(tr("Find a key or what it does"));
  words_->setAccessibleName(words_->placeholderText());
  words_->setMinimumHeight(targetHeight);
  table_ = new QTableWidget(0, 2, this);
  table_->setObjectName(QStringLiteral("keyList.table"));
  table_->setAccessibleName(tr("Keys and what they do"));
  table_->setHorizontalHeaderLabels({tr("Key"), tr("What it does")});
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  table_->verticalHeader()->hide();
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setShowGrid(false);
  column->addWidget(words_);
  column->addWidget(table_, 1);
  connect(words_, &QLineEdit::textChanged, this, &KeyList::find);
}

void KeyList::fill() {
  table_->setRowCount(0);
  for (const QAction* action : window_.findChildren<QAction*>()) {
    const QString what = action->text().remove(QLatin1Char('&')).remove(QStringLiteral("..."));
    if (action->shortcut().isEmpty() || what.isEmpty()) continue;
    const int row = table_->rowCount();
    table_->insertRow(row);
    table_->setItem(row, 0, new QTableWidgetItem(action->shortcut().toString(QKeySequence::NativeText)));
    table_->setItem(row, 1, new QTableWidgetItem(what));
  }
  table_->sortItems(1);
  find(words_->text());
}

void KeyList::find(const QString& words) {
  for (int row = 0; row < table_->rowCount(); ++row)
    table_->setRowHidden(row, !table_->item(row, 0)->text().contains(words, Qt::CaseInsensitive) &&
                                  !table_->item(row, 1)->text().contains(words, Qt::CaseInsensitive));
}

}  // namespace lowkite::app
