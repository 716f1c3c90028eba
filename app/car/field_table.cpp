#include "app/car/field_table.h"

#include <QComboBox>
#include <QHeaderView>
#include <QStyledItemDelegate>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int tableRowHeight = 30;

/// Offers the choices of an entry that has some, a line to type into otherwise.
class FieldDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;

  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const QStringList choices = index.data(Qt::UserRole).toStringList();
    if (choices.isEmpty()) return QStyledItemDelegate::createEditor(parent, option, index);
    auto* box = new QComboBox(parent);
    for (const QString& c : choices) box->addItem(fromCore(c.toStdString()), c);
    return box;
  }
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    if (auto* box = qobject_cast<QComboBox*>(editor))
      box->setCurrentIndex(box->findData(index.data(Qt::EditRole)));
    else
      QStyledItemDelegate::setEditorData(editor, index);
  }
  void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override {
    if (auto* box = qobject_cast<QComboBox*>(editor)) {
      // Nothing chosen where the file says nothing, or something else: left as it is.
      if (box->currentIndex() >= 0) model->setData(index, box->currentData());
    } else {
      QStyledItemDelegate::setModelData(editor, model, index);
    }
  }
};

}  // namespace

QTableView* fieldTable(QAbstractItemModel* model, const QString& name, QWidget* parent) {
  auto* table = new QTableView(parent);
  table->setObjectName(name);
  table->setModel(model);
  table->setItemDelegate(new FieldDelegate(table));
  table->setFrameShape(QFrame::NoFrame);
  table->setSelectionMode(QAbstractItemView::SingleSelection);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::SelectedClicked |
                         QAbstractItemView::EditKeyPressed | QAbstractItemView::AnyKeyPressed);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(tableRowHeight);
  table->horizontalHeader()->setHighlightSections(false);
  table->setWordWrap(false);
  table->setShowGrid(false);
  table->setAlternatingRowColors(true);
  return table;
}

QPushButton* carButton(const QString& name, const QString& text, QWidget* parent) {
  auto* b = new QPushButton(text, parent);
  b->setObjectName(name);
  b->setMinimumHeight(targetHeight);
  return b;
}

}  // namespace lowkite::app
