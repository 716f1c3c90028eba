#include "app/plan/sheet/sheet_model.h"

#include <algorithm>

#include <QApplication>
#include <QBrush>
#include <QPalette>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {

SheetModel::SheetModel(SheetWork& work, QObject* parent) : QAbstractTableModel(parent), work_(work) {
  connect(&work_, &SheetWork::changed, this, &SheetModel::refresh);
}

void SheetModel::setOnlyFilled(bool only) {
  onlyFilled_ = only;
  refresh();
}

void SheetModel::refresh() {
  std::vector<int> rows;
  if (work_.isOpen()) {
    const auto& fields = work_.fields();
    const bool any = std::any_of(fields.begin(), fields.end(), [](const FormField& f) { return f.filled(); });
    for (int i = 0; i < static_cast<int>(fields.size()); ++i) {
      const FormField& f = fields[at(i)];
      if (f.read_only || (onlyFilled_ && any && !work_.isPicture() && !f.filled())) continue;
      rows.push_back(i);
    }
  }
  if (rows == rows_) {
    if (!rows_.empty()) Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columns - 1));
    return;
  }
  beginResetModel();
  rows_ = std::move(rows);
  endResetModel();
}

int SheetModel::rowOf(int field) const {
  const auto found = std::find(rows_.begin(), rows_.end(), field);
  return found == rows_.end() ? -1 : static_cast<int>(found - rows_.begin());
}

int SheetModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int SheetModel::columnCount(const QModelIndex&) const {
  return columns;
}

QString SheetModel::placeText(const SheetMatch& m) const {
  if (m.place.empty()) return tr("nothing: left alone");
  const int at = find_place(work_.places(), m.place);
  if (at < 0) return tr("nothing on this car");
  const SheetPlace& p = work_.places()[at];
  QString text = fromCore(p.label);
  if (!p.unit.empty()) text = tr("%1, %2").arg(text, QString::fromStdString(p.unit));
  if (m.side) text = tr("%1, %2").arg(text, sideTitle(*m.side).toLower());
  if (!m.option.empty()) text = tr("%1 = %2").arg(text, QString::fromStdString(m.option));
  return text;
}

std::vector<SheetModel::Choice> SheetModel::choices(int field) const {
  std::vector<Choice> all{{placeText({}), {}}};
  const bool box = work_.fields()[at(field)].kind == FormFieldKind::box;
  const auto add = [&](const SheetMatch& m) { all.push_back({placeText(m), m}); };
  for (const SheetPlace& p : work_.places()) {
    const Positions* positions = !p.adjuster ? nullptr : work_.document().car().adjusters[p.adjuster].positions();
    if (box && !positions && p.kind != SheetPlaceKind::noted) continue;
    std::vector<std::string> options{{}};
    if (box && positions) {
      options.clear();
      for (const Position& position : positions->list) options.push_back(position.label);
    }
    for (const std::string& option : options) {
      add({p.id, std::nullopt, option});
      if (!p.sides) continue;
      for (const Side side : both_sides) add({p.id, side, option});
    }
  }
  return all;
}

QString SheetModel::comesText(int field) const {
  if (!work_.taken()) return {};
  const SheetLine& line = work_.taken()->lines[at(field)];
  const SheetMatch& m = work_.matches()[at(field)];
  const int at = find_place(work_.places(), m.place);
  if (at < 0) return {};
  const SheetPlace& p = work_.places()[at];
  const Setup& setup = work_.taken()->setup;
  const QString why = sentenceOf(line.why);
  const auto number_of = [&](double v) {
    return tr("%1 %2").arg(number(v, p.unit == "g" ? 0 : 1), QString::fromStdString(p.unit)).trimmed();
  };
  if (line.contradicts && line.said && line.reads)
    return line.outcome == SheetOutcome::taken ? tr("! taken, and reads %1").arg(number_of(*line.reads))
                                               : tr("! these parts give %1").arg(number_of(*line.reads));
  switch (line.outcome) {
    case SheetOutcome::left:
    case SheetOutcome::empty:
      return {};
    case SheetOutcome::kept:
      return tr("kept under Also noted");
    case SheetOutcome::refused:
      return tr("\u2715 not taken: %1").arg(why);
    case SheetOutcome::compared:
      return line.reads ? tr("\u2713 these parts give %1").arg(number_of(*line.reads)) : QString();
    case SheetOutcome::taken:
    case SheetOutcome::nearest:
      break;
  }
  if (line.reads) return tr("\u2713 reads %1").arg(number_of(*line.reads));
  if (p.adjuster) {
    const Adjuster& a = work_.document().car().adjusters[p.adjuster];
    const Setting& s = setup.of(p.adjuster);
    const QString value = m.side              ? valueText(a, s.on(*m.side))
                          : s.left == s.right ? valueText(a, s.left)
                                              : tr("%1 | %2").arg(valueText(a, s.left), valueText(a, s.right));
    return line.outcome == SheetOutcome::nearest ? tr("\u2248 %1, the nearest: %2").arg(value, why)
                                                 : tr("\u2713 %1").arg(value);
  }
  return tr("\u2713 taken");
}

QVariant SheetModel::data(const QModelIndex& index, int role) const {
  const int i = fieldOf(index.row());
  if (i < 0 || !work_.isOpen() || i >= static_cast<int>(work_.matches().size())) return {};
  const FormField& f = work_.fields()[at(i)];
  if (role == Qt::FontRole) return index.column() == says ? figureFont(textSize) : textFont(labelSize);
  if (role == Qt::ForegroundRole && index.column() == comes && work_.taken()) {
    const SheetLine& line = work_.taken()->lines[at(i)];
    const Tokens& t = tokens(QApplication::palette());
    if (line.contradicts || line.outcome == SheetOutcome::refused) return QBrush(t.bad);
    if (line.outcome == SheetOutcome::nearest) return QBrush(t.warn);
    return {};
  }
  if (role != Qt::DisplayRole && role != Qt::EditRole && role != Qt::ToolTipRole) return {};
  switch (index.column()) {
    case field: {
      const QString title = QString::fromStdString(f.title());
      return f.end && !work_.isPicture() ? tr("%1 (%2)").arg(title, endTitle(*f.end).toLower()) : title;
    }
    case says:
      if (f.kind == FormFieldKind::box)
        return f.ticked ? tr("ticked: %1").arg(QString::fromStdString(f.option)) : tr("not ticked");
      return QString::fromStdString(f.text);
    case place:
      return placeText(work_.matches()[at(i)]);
    case comes:
      return comesText(i);
    default:
      return {};
  }
}

QVariant SheetModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) return QVariant(Qt::AlignLeft | Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case field:
      return tr("On the sheet");
    case says:
      return tr("It says");
    case place:
      return tr("Stands for");
    default:
      return tr("What comes of it");
  }
}

Qt::ItemFlags SheetModel::flags(const QModelIndex& index) const {
  Qt::ItemFlags flags = QAbstractTableModel::flags(index);
  if (index.column() == place && !work_.isPicture()) flags |= Qt::ItemIsEditable;
  if (index.column() == says && work_.isPicture()) flags |= Qt::ItemIsEditable;
  return flags;
}

bool SheetModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  const int i = fieldOf(index.row());
  if (role != Qt::EditRole || i < 0) return false;
  if (index.column() == says) {
    work_.setSaid(i, value.toString());
    return true;
  }
  if (index.column() != place) return false;
  for (const Choice& c : choices(i))
    if (c.text == value.toString()) {
      work_.setMatch(i, c.match);
      return true;
    }
  return false;
}

}  // namespace lowkite::app
