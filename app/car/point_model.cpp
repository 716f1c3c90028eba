#include "app/car/point_model.h"

#include <algorithm>

#include <QCoreApplication>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {

PointModel::PointModel(CarEditor& editor, QObject* parent) : QAbstractTableModel(parent), editor_(editor) {
  connect(&editor_, &CarEditor::changed, this, &PointModel::refresh);
  connect(&editor_, &CarEditor::selectionChanged, this, &PointModel::refresh);
  refresh();
}

void PointModel::refresh() {
  std::vector<PointRef> now = editor_.points();
  if (now != points_) {
    beginResetModel();
    points_ = std::move(now);
    endResetModel();
  } else if (!points_.empty()) {
    Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columns - 1));
  }
}

int PointModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(points_.size());
}

int PointModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(columns);
}

int PointModel::rowOf(const PointRef& ref) const {
  const auto found = std::find(points_.begin(), points_.end(), ref);
  return found == points_.end() ? -1 : static_cast<int>(found - points_.begin());
}

QVariant PointModel::data(const QModelIndex& index, int role) const {
  if (!checkIndex(index, CheckIndexOption::IndexIsValid)) return {};
  const PointRef& r = ref(index.row());
  const Car& car = editor_.document().car();
  const int column = index.column();
  if (role == Qt::TextAlignmentRole && column >= x && column <= z)
    return QVariant::fromValue(Qt::AlignRight | Qt::AlignVCenter);
  if (role == Qt::FontRole && column >= x && column <= z) return figureFont(textSize);
  if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
  if (column == name) {
    const std::string_view label = spec_of(car, r).label;
    return fromCore(label);
  }
  if (column == origin) {
    if (editor_.side() == Side::right)
      return has_right_point(editor_.source(), car, r) ? tr("its own") : tr("mirrored");
    return originText(origin_of(editor_.source(), car, r));
  }
  return number(editor_.place(r, editor_.side())[column - x], 2);
}

QVariant PointModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation == Qt::Horizontal && role == Qt::ToolTipRole)
    return section == x   ? tr("forward of the nominal front axle")
           : section == y ? tr("left of the centre plane")
           : section == z ? tr("over the plate's underside")
                          : QVariant();
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  switch (section) {
    case name:
      return tr("Point");
    case x:
      return tr("x, mm");
    case y:
      return tr("y, mm");
    case z:
      return tr("z, mm");
    case origin:
      return tr("from");
    default:
      return {};
  }
}

Qt::ItemFlags PointModel::flags(const QModelIndex& index) const {
  Qt::ItemFlags f = QAbstractTableModel::flags(index);
  if (index.column() >= x && index.column() <= z && editor_.editable()) f |= Qt::ItemIsEditable;
  return f;
}

bool PointModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (role != Qt::EditRole || index.column() < x || index.column() > z) return false;
  QString typed = value.toString().trimmed();
  typed.replace(QLatin1Char(','), QLatin1Char('.')).replace(QChar(0x2212), QLatin1Char('-'));
  bool good = false;
  const double mm = typed.toDouble(&good);
  if (!good) {
    Q_EMIT editor_.told(tr("\"%1\" is no number; allowed: millimetres such as 31.5").arg(value.toString()));
    return false;
  }
  const PointRef r = ref(index.row());
  Vec3 place = editor_.place(r, editor_.side());
  place[index.column() - x] = mm;
  return editor_.movePoint(r, place);
}

}  // namespace lowkite::app
