#include "app/plan/search/aim_lines.h"

#include <algorithm>

#include <QAbstractItemView>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/handling/handling_words.h"
#include "app/widgets/choices.h"
#include "app/widgets/toe_spin.h"
#include "app/words/recipe_words.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int valueWidth = 116, toleranceWidth = 60, apart = 3;  ///< px

ToeSpin* figureField(QWidget* parent, const QString& name) {
  auto* s = new ToeSpin(parent);
  s->setObjectName(name);
  s->setRange(-100000.0, 100000.0);
  s->setButtonSymbols(QAbstractSpinBox::NoButtons);
  s->setMinimumHeight(targetHeight);
  s->setAlignment(Qt::AlignRight);
  return s;
}

/// As lists keep it: "rear.roll_centre", "car.wheelbase", "front.wheel_load.left", "alike.ride_frequency".
QByteArray keyOf(const AimPlace& aim) {
  const FigurePlace& place = aim.place;
  std::string key(aim.alike ? "alike" : place.end ? name_of(*place.end) : "car");
  key.append(".").append(place.figure->id);
  if (place.side) key.append(".").append(name_of(*place.side));
  return QByteArray::fromStdString(key);
}

struct FeltPlace {
  const SignRow* row;
  CornerPhase phase;
};

/// All that a driver may wish of, in the order of the list.
const std::vector<FeltPlace>& feltPlaces() {
  static const std::vector<FeltPlace> all = [] {
    std::vector<FeltPlace> places;
    for (const SignRow& row : signRows)
      for (const CornerPhase phase : corner_phases) places.push_back({&row, phase});
    return places;
  }();
  return all;
}

/// As lists keep it: "felt.front_left.entry".
QByteArray keyOf(const FeltPlace& place) {
  std::string key("felt.");
  key.append(spec_of(place.row->figure).id).append(".").append(name_of(place.phase));
  return QByteArray::fromStdString(key);
}

const FeltPlace* feltAt(const QComboBox& figure) {
  const QByteArray key = figure.currentData().toByteArray();
  const std::vector<FeltPlace>& all = feltPlaces();
  const auto place = std::find_if(all.begin(), all.end(), [&](const FeltPlace& p) { return keyOf(p) == key; });
  return place == all.end() ? nullptr : &*place;
}

}  // namespace

AimLines::AimLines(Present present, QWidget* parent) : QWidget(parent), present_(std::move(present)) {
  column_ = new QVBoxLayout(this);
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(3);
}

void AimLines::add() {
  if (count() >= most) return;
  Line row;
  row.box = new QWidget(this);
  auto* line = new QHBoxLayout(row.box);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(apart);
  row.hold = new QToolButton(row.box);
  row.hold->setCheckable(true);
  row.hold->setProperty("slim", true);
  const QFontMetrics letters(row.hold->font());
  row.hold->setFixedWidth(
      std::max(48, 14 + std::max(letters.horizontalAdvance(tr("hold")), letters.horizontalAdvance(tr("want")))));
  row.hold->setToolTip(tr("Want: come as close as can be. Hold: a candidate that leaves it is none."));
  connect(row.hold, &QToolButton::toggled, row.hold,
          [b = row.hold](bool on) { b->setText(on ? tr("hold") : tr("want")); });
  connect(row.hold, &QToolButton::clicked, this, [this] {
    edited_ = true;
    Q_EMIT changed();
  });
  row.hold->setText(tr("want"));
  row.hold->setChecked(!lines_.empty());
  row.figure = new QComboBox(row.box);
  row.figure->setMinimumHeight(targetHeight);
  row.figure->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  row.figure->setFont(textFont(12));
  row.figure->view()->setMinimumWidth(320);
  row.figure->setMaxVisibleItems(24);
  row.wish = new QComboBox(row.box);
  row.wish->setMinimumHeight(targetHeight);
  row.wish->setFixedWidth(valueWidth + apart + toleranceWidth);
  row.wish->hide();
  connect(row.wish, &QComboBox::activated, this, [this] {
    edited_ = true;
    Q_EMIT changed();
  });
  row.value = figureField(row.box, QString());
  row.value->setFixedWidth(valueWidth);
  row.tolerance = figureField(row.box, QString());
  row.tolerance->setPrefix(QStringLiteral("\u00B1 "));
  row.tolerance->setMinimum(0.0);
  row.tolerance->setFixedWidth(toleranceWidth);
  for (QDoubleSpinBox* field : std::initializer_list<QDoubleSpinBox*>{row.value, row.tolerance})
    connect(field->findChild<QLineEdit*>(), &QLineEdit::textEdited, this, [this] { edited_ = true; });
  row.away = new QToolButton(row.box);
  row.away->setText(QStringLiteral("\u00D7"));
  row.away->setAccessibleName(tr("Remove this line"));
  row.away->setProperty("slim", true);
  row.away->setFixedWidth(30);
  line->addWidget(row.hold);
  line->addWidget(row.figure, 1);
  line->addWidget(row.wish);
  line->addWidget(row.value);
  line->addWidget(row.tolerance);
  line->addWidget(row.away);
  column_->addWidget(row.box);
  connect(row.away, &QToolButton::clicked, this, [this, box = row.box] { remove(box); });
  connect(row.figure, &QComboBox::activated, this, [this, box = row.box] {
    edited_ = true;
    for (Line& r : lines_)
      if (r.box == box) figureChosen(r);
    Q_EMIT changed();
  });
  lines_.push_back(row);
  nameLines();
  fillFigures(lines_.back());
  Q_EMIT changed();
}

void AimLines::remove(QWidget* box) {
  if (lines_.size() < 2) return;
  std::erase_if(lines_, [&](const Line& r) { return r.box == box; });
  // Gone at once: nobody is to find it under the name that the next line now has.
  box->setParent(nullptr);
  box->deleteLater();
  nameLines();
  Q_EMIT changed();
}

/// Lines are called by their place, whatever was removed before them.
void AimLines::nameLines() {
  for (std::size_t i = 0; i < lines_.size(); ++i) {
    const Line& row = lines_[i];
    const QString name = QStringLiteral("recipe.aim%1.").arg(i);
    row.hold->setObjectName(name + QStringLiteral("hold"));
    row.figure->setObjectName(name + QStringLiteral("figure"));
    row.wish->setObjectName(name + QStringLiteral("wish"));
    row.wish->setAccessibleName(tr("What the driver wishes, line %1").arg(i + 1));
    row.value->setObjectName(name + QStringLiteral("value"));
    row.value->setAccessibleName(tr("Value of line %1").arg(i + 1));
    row.tolerance->setObjectName(name + QStringLiteral("tolerance"));
    row.tolerance->setAccessibleName(tr("How near is near enough, line %1").arg(i + 1));
    row.away->setObjectName(name + QStringLiteral("remove"));
  }
}

void AimLines::keepFirst(int n) {
  while (count() > std::max(1, n)) remove(lines_.back().box);
}

void AimLines::giveFigures(int width) {
  if (width == figureWidth_) return;
  figureWidth_ = width;
  for (const Line& row : lines_) row.figure->setMinimumWidth(widthOfChoices(*row.figure, figureWidth_));
}

void AimLines::fillFigures(Line& row) {
  const QByteArray before = row.figure->currentData().toByteArray();
  const QSignalBlocker quiet(row.figure);
  row.figure->clear();
  for (const AimPlace& p : places_)
    row.figure->addItem(p.alike ? alikeLabel(*p.place.figure) : placeLabel(p.place), keyOf(p));
  if (felt_) {
    row.figure->insertSeparator(row.figure->count());
    for (const FeltPlace& p : feltPlaces()) row.figure->addItem(feltLabel(p.row->figure, p.phase), keyOf(p));
  }
  const int same = row.figure->findData(before);
  row.figure->setCurrentIndex(std::max(0, same));
  row.figure->setMinimumWidth(widthOfChoices(*row.figure, figureWidth_));
  figureChosen(row);
}

void AimLines::figureChosen(Line& row) {
  const FeltPlace* felt = feltAt(*row.figure);
  row.wish->setVisible(felt);
  const auto aim = chosen(row);
  row.value->setVisible(!felt && !(aim && aim->alike));
  row.tolerance->setVisible(!felt);
  if (felt) {
    // By its place: what is more of one figure is less of another's time.
    const int before = row.wish->currentIndex();
    fillWants(*row.wish, *felt->row);
    row.wish->setCurrentIndex(std::max(0, before));
    row.figure->setToolTip(fromCore(spec_of(felt->row->figure).meaning));
    return;
  }
  if (!aim) return;
  const FigureSpec* f = aim->place.figure;
  for (QDoubleSpinBox* s : std::initializer_list<QDoubleSpinBox*>{row.value, row.tolerance}) {
    s->setDecimals(std::max(1, f->decimals));
    s->setSingleStep(2.0 * f->resolution());
  }
  // A bare 1.1 does not say which way: toe is told as in or out.
  row.value->setToe(f->wording == Wording::toe, unitText(f->unit));
  row.value->setValue(aim->alike ? 0.0 : present_(aim->place).value_or(0.0));
  row.asRead = row.value->value();
  row.tolerance->setValue(2.0 * f->resolution());
  row.figure->setToolTip(aim->alike ? tr("%1: front and rear less than the tolerance apart.").arg(figureLabel(*f))
                                    : tr("%1, %2").arg(placeLabel(aim->place), unitText(f->unit)));
}

std::optional<AimPlace> AimLines::chosen(const Line& row) const {
  const QByteArray key = row.figure->currentData().toByteArray();
  for (const AimPlace& p : places_)
    if (keyOf(p) == key) return p;
  return std::nullopt;
}

AimLines::Line& AimLines::made(int line) {
  const int i = std::min(line, most - 1);
  while (count() <= i) add();
  return lines_[at(i)];
}

void AimLines::setAlike(int line, std::string_view figure, bool hold, double tolerance) {
  Line& row = made(line);
  row.hold->setChecked(hold);
  for (const AimPlace& p : places_)
    if (p.alike && p.place.figure->id == figure) row.figure->setCurrentIndex(row.figure->findData(keyOf(p)));
  figureChosen(row);
  row.tolerance->setValue(tolerance);
  Q_EMIT changed();
}

void AimLines::set(int line, std::string_view figure, End end, bool hold, double value, double tolerance) {
  Line& row = made(line);
  row.hold->setChecked(hold);
  for (const AimPlace& p : places_)
    if (!p.alike && p.place.figure->id == figure && p.place.end.value_or(end) == end) {
      row.figure->setCurrentIndex(row.figure->findData(keyOf(p)));
      break;
    }
  figureChosen(row);
  row.value->setValue(value);
  row.tolerance->setValue(tolerance);
  Q_EMIT changed();
}

void AimLines::setWish(int line, const HandlingWish& wish) {
  Line& row = made(line);
  row.hold->setChecked(wish.hold);
  for (const FeltPlace& p : feltPlaces())
    if (p.row->figure == wish.figure && p.phase == wish.phase)
      row.figure->setCurrentIndex(row.figure->findData(keyOf(p)));
  figureChosen(row);
  row.wish->setCurrentIndex(row.wish->findData(static_cast<int>(wish.want)));
  edited_ = true;
  Q_EMIT changed();
}

std::vector<HandlingWish> AimLines::wishes() const {
  std::vector<HandlingWish> wishes;
  for (const Line& line : lines_)
    if (const FeltPlace* place = feltAt(*line.figure))
      wishes.push_back({place->row->figure, place->phase, static_cast<HandlingWant>(line.wish->currentData().toInt()),
                        line.hold->isChecked()});
  return wishes;
}

void AimLines::setPlaces(std::vector<AimPlace> places, bool felt) {
  places_ = std::move(places);
  felt_ = felt;
  for (Line& line : lines_) fillFigures(line);
  edited_ = false;
  Q_EMIT changed();
}

std::vector<RecipeAim> AimLines::aims() const {
  std::vector<RecipeAim> aims;
  for (const Line& line : lines_) {
    const auto asked = chosen(line);
    if (!asked) continue;
    const FigurePlace& place = asked->place;
    RecipeAim aim = RecipeAim::of(*place.figure, place.end.value_or(End::front), line.value->value(),
                                  line.tolerance->value(), line.hold->isChecked());
    aim.side = place.side.value_or(Side::left);
    if (asked->alike) aim.kind = RecipeAim::Kind::alike;
    aims.push_back(aim);
  }
  return aims;
}

bool AimLines::asksOfSprings() const {
  return std::any_of(lines_.begin(), lines_.end(), [&](const Line& line) {
    const auto asked = chosen(line);
    return asked && asked->place.figure->of_load();
  });
}

void AimLines::readSpringsAgain() {
  for (Line& line : lines_) {
    const auto asked = chosen(line);
    if (!asked || asked->alike || !asked->place.figure->of_load()) continue;
    // What somebody has asked for instead is asked for in this turn, too.
    if (line.value->value() != line.asRead) continue;
    line.value->setValue(present_(asked->place).value_or(line.value->value()));
    line.asRead = line.value->value();
  }
}

}  // namespace lowkite::app
