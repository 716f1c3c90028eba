#include "app/car/field_model.h"

#include <QGuiApplication>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {

FieldModel::FieldModel(CarEditor& editor, Fields fields, QObject* parent)
    : QAbstractTableModel(parent), editor_(editor), ask_(std::move(fields)) {
  connect(&editor_, &CarEditor::changed, this, &FieldModel::refresh);
  refresh();
}

void FieldModel::refresh() {
  std::vector<CarField> now = editor_.document().hasCar() ? ask_() : std::vector<CarField>{};
  const bool same = now.size() == fields_.size() &&
                    std::equal(now.begin(), now.end(), fields_.begin(),
                               [](auto& a, auto& b) { return a.pointer == b.pointer && a.label == b.label; });
  if (same) {
    fields_ = std::move(now);
    if (!fields_.empty()) Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columns - 1));
    return;
  }
  beginResetModel();
  fields_ = std::move(now);
  endResetModel();
}

int FieldModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(fields_.size());
}

int FieldModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(columns);
}

QVariant FieldModel::data(const QModelIndex& index, int role) const {
  if (!checkIndex(index, CheckIndexOption::IndexIsValid)) return {};
  const CarField& f = fields_[at(index.row())];
  if (role == Qt::TextAlignmentRole && index.column() == value)
    return QVariant::fromValue(Qt::AlignRight | Qt::AlignVCenter);
  if (role == Qt::FontRole && index.column() == value) return figureFont(textSize);
  if (role == Qt::ForegroundRole && index.column() == unit) return tokens(QGuiApplication::palette()).soft;
  if (role == Qt::UserRole && index.column() == value) {
    QStringList choices;
    for (const std::string& c : f.choices) choices << QString::fromStdString(c);
    return choices;
  }
  if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
  switch (index.column()) {
    case name:
      return tr("%1: %2").arg(QString::fromStdString(f.group), QString::fromStdString(f.label));
    case value: {
      const std::string text = field_text(editor_.source(), f);
      if (role == Qt::DisplayRole && text.empty()) return QStringLiteral("\u2013");
      return role == Qt::DisplayRole && !f.choices.empty() ? fromCore(text) : QString::fromStdString(text);
    }
    case unit:
      return QString::fromStdString(f.unit);
    default:
      return {};
  }
}

QVariant FieldModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  return section == name ? tr("What") : section == value ? tr("Value") : tr("Unit");
}

Qt::ItemFlags FieldModel::flags(const QModelIndex& index) const {
  Qt::ItemFlags f = QAbstractTableModel::flags(index);
  if (index.column() == value && editor_.editable()) f |= Qt::ItemIsEditable;
  return f;
}

bool FieldModel::setData(const QModelIndex& index, const QVariant& typed, int role) {
  if (role != Qt::EditRole || index.column() != value) return false;
  const CarField field = fields_[at(index.row())];
  return editor_.putField(field, typed.toString());
}

}  // namespace lowkite::app
