#include "app/plan/read/figure_model.h"

#include <algorithm>

#include <QGuiApplication>

#include "app/help/explain.h"
#include "app/kept/kept.h"
#include "app/words/wording.h"
#include "core/plan/set_directly.hpp"

namespace lowkite::app {
namespace {

const QString pinnedKey = QStringLiteral("figures/pinned");

/// What a figure may be typed as; none: it follows from the parts, or from a figure that is typed.
std::optional<DirectlySet> typedAs(const FigureSpec& figure, const Car& car, End end) {
  const auto direct = set_directly(figure, car, end);
  return direct && direct->through_another ? std::nullopt : direct;
}

}  // namespace

FigureModel::FigureModel(PlanModel& plan, const UsualRanges& usual, QObject* parent)
    : QAbstractTableModel(parent), plan_(plan), usual_(usual) {
  pinned_ =
      Kept()
          .value(pinnedKey, QStringList{QStringLiteral("camber"), QStringLiteral("toe"), QStringLiteral("ride_height"),
                                        QStringLiteral("roll_centre"), QStringLiteral("camber_gain")})
          .toStringList();
  connect(&usual_, &UsualRanges::changed, this, [this] {
    if (!rows_.empty()) Q_EMIT dataChanged(index(0, label), index(rowCount() - 1, label));
  });
  connect(&plan_, &PlanModel::comparisonChanged, this, &FigureModel::refresh);
  connect(&plan_, &PlanModel::selectionChanged, this, &FigureModel::refresh);
  connect(&plan_, &PlanModel::precisionChanged, this, &FigureModel::refresh);
}

void FigureModel::rebuild() {
  beginResetModel();
  builtFor_ = plan_.document().sharedCar();
  builtEnd_ = plan_.end();
  rows_.clear();
  const auto isPinned = [&](const FigureSpec& f) {
    return pinned_.contains(QLatin1String(f.id.data(), static_cast<qsizetype>(f.id.size())));
  };
  std::vector<Row> top;
  for (const QString& id : pinned_)
    if (const FigureSpec* f = find_figure(id.toStdString()); f && applies(*f, *builtFor_, builtEnd_))
      top.push_back({f, f->group, true, {}, {}});
  if (!top.empty()) {
    rows_.push_back({nullptr, {}, true, {}, {}});
    rows_.insert(rows_.end(), top.begin(), top.end());
  }
  for (const FigureGroup group : figure_groups()) {
    const auto belongs = [&](const FigureSpec& f) {
      return f.group == group && applies(f, *builtFor_, builtEnd_) && !isPinned(f);
    };
    if (std::none_of(geometry_figures().begin(), geometry_figures().end(), belongs)) continue;
    rows_.push_back({nullptr, group, false, {}, {}});
    for (const FigureSpec& f : geometry_figures())
      if (belongs(f)) rows_.push_back({&f, group, false, {}, {}});
  }
  for (Row& row : rows_) retell(row);
  endResetModel();
}

void FigureModel::setPinned(const QStringList& figures) {
  pinned_ = figures;
  Kept().setValue(pinnedKey, pinned_);
  if (builtFor_) rebuild();
}

std::vector<const FigureSpec*> FigureModel::figures() const {
  std::vector<const FigureSpec*> all;
  if (builtFor_)
    for (const FigureSpec& f : geometry_figures())
      if (applies(f, *builtFor_, builtEnd_)) all.push_back(&f);
  return all;
}

bool FigureModel::movedInRow(int row) const {
  const Row& r = rows_[at(row)];
  return r.figure && (!r.difference[changed].isEmpty() || !r.difference[reset].isEmpty());
}

void FigureModel::refresh() {
  if (!plan_.document().hasCar()) return;
  if (builtFor_ != plan_.document().sharedCar() || builtEnd_ != plan_.end()) {
    rebuild();
    return;
  }
  if (toldSides_ != plan_.sides()) Q_EMIT headerDataChanged(Qt::Horizontal, label, label);
  toldSides_ = plan_.sides();
  for (std::size_t i = 0; i < rows_.size(); ++i) {
    const int row = static_cast<int>(i);
    if (retell(rows_[i])) Q_EMIT dataChanged(index(row, baseline), index(row, reset));
  }
}

bool FigureModel::retell(Row& row) const {
  if (!row.figure) return false;
  bool changedAny = false;
  for (const int column : {baseline, changed, reset}) {
    const auto c = at(column);
    QString newText = text(row, column);
    QString newDifference = difference(row, column);
    if (newText == row.text[c] && newDifference == row.difference[c]) continue;
    row.text[c] = std::move(newText);
    row.difference[c] = std::move(newDifference);
    changedAny = true;
  }
  return changedAny;
}

int FigureModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}
int FigureModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : columnCount_;
}

const Variant* FigureModel::variant(int column) const {
  const Comparison* c = plan_.comparison();
  if (!c) return nullptr;
  switch (column) {
    case baseline:
      return c->baseline.get();
    case changed:
      return c->changed.get();
    case reset:
      return c->reset.get();
    default:
      return nullptr;
  }
}

template <class Of>
QString FigureModel::overSides(const Row& row, const Of& of) const {
  if (!row.figure->per_wheel() || plan_.sides() != Sides::both) return of(plan_.shownSide());
  const QString left = of(Side::left);
  const QString right = of(Side::right);
  if (left == right) return left;
  return tr("L %1\nR %2").arg(left.isEmpty() ? tr("same") : left, right.isEmpty() ? tr("same") : right);
}

QString FigureModel::text(const Row& row, int column) const {
  const Variant* v = variant(column);
  if (!v) return {};
  return overSides(row, [&](Side s) {
    return figureText(*row.figure, row.figure->read(v->source, builtEnd_, s), plan_.extraDecimals());
  });
}

QString FigureModel::difference(const Row& row, int column) const {
  const Variant* from = variant(baseline);
  const Variant* to = variant(column);
  if (!from || !to || column == baseline) return {};
  const auto of = [&](Side s) {
    return differenceText(*row.figure, row.figure->read(from->source, builtEnd_, s),
                          row.figure->read(to->source, builtEnd_, s), plan_.extraDecimals());
  };
  // Values that look alike are told once, and so is their difference.
  if (!text(row, column).contains(QLatin1Char('\n'))) return of(plan_.shownSide());
  return overSides(row, of);
}

QVariant FigureModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const Row& row = rows_[at(index.row())];
  if (role == groupRole) return row.figure == nullptr;
  if (!row.figure)
    return role == Qt::DisplayRole && index.column() == label ? (row.pinned ? tr("Pinned") : groupTitle(row.group))
                                                              : QVariant();
  if (role == unitRole) return unitText(row.figure->unit);
  if (role == usualRole) {
    const UsualRange* usual = usual_.find(*builtFor_, builtEnd_, *row.figure);
    return usual ? tr("usual %1").arg(rangeText(*row.figure, usual->least, usual->most)) : QString();
  }
  const auto column = at(index.column());
  if (role == differenceRole) return row.difference[column];
  if (role == Qt::DisplayRole) return index.column() == label ? figureLabel(*row.figure) : row.text[column];
  if (role == Qt::EditRole) return row.text[column].section(QLatin1Char('\n'), 0, 0);
  if ((role == Qt::ToolTipRole && index.column() == label) || role == Qt::WhatsThisRole)
    return explainFigure(*row.figure, QGuiApplication::palette());
  if (role == Qt::ToolTipRole && index.column() == changed && (flags(index) & Qt::ItemIsEditable) &&
      row.difference[column].isEmpty())
    return tr("Double-click to type it");
  if (role == Qt::ToolTipRole && !row.difference[column].isEmpty())
    return tr("%1: changed by %2 %3")
        .arg(figureLabel(*row.figure), QString(row.difference[column]).replace(QLatin1Char('\n'), tr(", ")),
             unitText(row.figure->unit));
  if (role == Qt::AccessibleTextRole && index.column() != label)
    return tr("%1 %2 %3").arg(figureLabel(*row.figure), row.text[column], unitText(row.figure->unit));
  return {};
}

QVariant FigureModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole && section == label) return QVariant::fromValue(Qt::AlignLeft | Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case label:
      switch (plan_.sides()) {
        case Sides::both:
          return tr("  Both");
        case Sides::left:
          return tr("  Left");
        case Sides::right:
          return tr("  Right");
      }
      return {};
    case baseline:
      return tr("Baseline");
    case changed:
      return tr("Now");
    case reset:
      return tr("Re-set");
    default:
      return {};
  }
}

Qt::ItemFlags FigureModel::flags(const QModelIndex& index) const {
  if (!index.isValid()) return Qt::NoItemFlags;
  if (data(index, groupRole).toBool()) return Qt::ItemIsEnabled;
  const Row& row = rows_[at(index.row())];
  const bool typed = index.column() == changed && row.figure && typedAs(*row.figure, *builtFor_, builtEnd_);
  return Qt::ItemIsEnabled | Qt::ItemIsSelectable | (typed ? Qt::ItemIsEditable : Qt::NoItemFlags);
}

bool FigureModel::setData(const QModelIndex& index, const QVariant& typed, int role) {
  if (role != Qt::EditRole || !(flags(index) & Qt::ItemIsEditable)) return false;
  const FigureSpec& figure = *rows_[at(index.row())].figure;
  const DirectlySet as = *typedAs(figure, *builtFor_, builtEnd_);
  // "0.5 out" and "0.5 in" for toe; a bare number is on the side where it stands.
  QString text = typed.toString().trimmed();
  const Variant* now = variant(changed);
  const double stands = now ? figure.read(now->source, builtEnd_, plan_.shownSide()).value_or(0.0) : 0.0;
  double sign = 1.0;
  if (figure.wording == Wording::toe) {
    sign = stands < 0.0 ? -1.0 : 1.0;
    for (const auto& [word, way] : {std::pair(tr("out"), -1.0), std::pair(tr("in"), 1.0)})
      if (text.endsWith(word)) {
        text.chop(word.size());
        sign = way;
        break;
      }
  }
  const bool lock = figure.id == "lock_inside";
  if (lock && text == tr("all")) {
    plan_.typeLock({});
    return true;
  }
  text.replace(QChar(0x2212), QLatin1Char('-')).replace(QLatin1Char(','), QLatin1Char('.'));
  bool isNumber = false;
  const double value = sign * text.trimmed().toDouble(&isNumber);
  if (!isNumber || value < as.least || value > as.most) {
    const QString allowed = tr("%1 to %2 %3").arg(number(as.least, 0), number(as.most, 0), unitText(figure.unit));
    Q_EMIT told(figure.wording == Wording::toe ? tr("Toe is typed as 0.5 out or 1 in, up to %1 deg.").arg(as.most)
                : lock                         ? tr("Lock is typed as 27.5, %1, or as \"all\".").arg(allowed)
                                               : tr("%1 is typed as a number, %2.").arg(figureLabel(figure), allowed));
    return false;
  }
  if (lock) {
    plan_.typeLock(value);
    return true;
  }
  if (figure.id == "ride_height") {
    plan_.document().setRideHeight(builtEnd_, value);
    return true;
  }
  const auto done = as.angle ? plan_.typeAngle(*as.angle, value) : plan_.typeDroop(value);
  if (!done) Q_EMIT told(tr("%1 %2: %3.").arg(figureLabel(figure), typed.toString(), done.error()));
  return done.has_value();
}

QString FigureModel::asText() const {
  QStringList lines;
  lines << QStringList{headerData(label, Qt::Horizontal).toString(),
                       tr("Unit"),
                       headerData(baseline, Qt::Horizontal).toString(),
                       headerData(changed, Qt::Horizontal).toString(),
                       tr("Difference"),
                       headerData(reset, Qt::Horizontal).toString(),
                       tr("Difference")}
               .join(QLatin1Char('\t'));
  for (const Row& row : rows_) {
    if (!row.figure) {
      lines << (row.pinned ? tr("Pinned") : groupTitle(row.group));
      continue;
    }
    lines << QStringList{figureLabel(*row.figure), unitText(row.figure->unit), row.text[baseline],
                         row.text[changed],        row.difference[changed],    row.text[reset],
                         row.difference[reset]}
                 .join(QLatin1Char('\t'))
                 .replace(QLatin1Char('\n'), tr(", "));
  }
  return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

int FigureModel::rowOf(std::string_view figure) const {
  for (std::size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].figure && rows_[i].figure->id == figure) return static_cast<int>(i);
  return -1;
}

}  // namespace lowkite::app
