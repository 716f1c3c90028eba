#include "app/car/boxes_page.h"

#include <algorithm>
#include <cmath>

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/car/field_table.h"
#include "app/look/theme.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"
#include "core/boxes/stock.hpp"
#include "core/io/box_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/io/typed_text.hpp"
#include "core/parts/from_boxes.hpp"

namespace lowkite::app {
namespace {

constexpr int countMerge = 1;
constexpr int formWide = 430;
enum Column { what, howMany, here };

QString plain(double v) {
  return QString::number(v, 'g', 6);
}

/// "0 0; 2 1.1; 4 2.5": mm and N.
std::optional<std::vector<SpringPoint>> tableIn(const QString& typed) {
  std::vector<SpringPoint> table;
  for (const QString& pair : typed.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
    if (pair.trimmed().isEmpty()) continue;
    const auto words = words_in(pair.toStdString());
    const auto mm = words.size() == 2 ? number_in(words[0]) : std::nullopt;
    const auto n = words.size() == 2 ? number_in(words[1]) : std::nullopt;
    if (!mm || !n) return std::nullopt;
    table.push_back({*mm, *n});
  }
  if (!table.empty() && table.front().mm > 0.0) table.insert(table.begin(), {0.0, 0.0});
  return table;
}

QString tableText(const std::vector<SpringPoint>& table) {
  QStringList pairs;
  for (const SpringPoint& p : table) pairs << QStringLiteral("%1 %2").arg(plain(p.mm), plain(p.n));
  return pairs.join(QStringLiteral("; "));
}

BoxItem fresh(BoxKind kind, const Car* car) {
  BoxItem i;
  i.kind = kind;
  i.count = spec_of(kind).usual_count;
  const auto fromCar = [&]() -> bool {
    if (!car) return false;
    for (const PartHandle k : car->adjusters.handles()) {
      const auto place = box_place(*car, k);
      if (!place || place->kind != kind || kind == BoxKind::shim) continue;
      BoxItem kit = piece_at(*car, k, static_cast<int>(car->adjusters[k].kit));
      if (is_nothing(kit)) kit = piece_at(*car, k, static_cast<int>(car->adjusters[k].positions()->list.size()) - 1);
      i.value = kit.value;
      i.holes = kit.holes;
      i.use = kit.use;
      i.second_rate = kit.second_rate;
      i.transition_mm = kit.transition_mm;
      i.part = kit.part;
      i.cars = kit.cars;
      if (kind == BoxKind::part) i.label = kit.label;
      // A bar is bent for its place: one of the front is none for the rear.
      if (kind == BoxKind::bar_wire) {
        i.part = car->adjusters[k].id;
        i.cars = {car->id};
      }
      return true;
    }
    return false;
  };
  if (fromCar()) return i;
  switch (kind) {
    case BoxKind::spring:
      i.value = 0.5;
      break;
    case BoxKind::piston:
      i.value = 1.2;
      i.holes = 3;
      break;
    case BoxKind::shock_oil:
      i.value = 400.0;
      break;
    case BoxKind::differential_oil:
      i.value = 5000.0;
      break;
    case BoxKind::bar_wire:
      i.value = 1.2;
      break;
    case BoxKind::shim:
      i.value = 0.5;
      break;
    case BoxKind::insert:
      i.value = 0.5;
      break;
    case BoxKind::tyre:
      i.value = 62.0;
      break;
    case BoxKind::part:
      break;
  }
  return i;
}

QString countedText(const BoxItem& i) {
  return spec_of(i.kind).are == "bottles" ? counted(i.count, "%1 bottle", "%1 bottles") : QString::number(i.count);
}

}  // namespace

BoxesPage::BoxesPage(MyBoxes& boxes, CarEditor& editor, QWidget* parent)
    : QWidget(parent), boxes_(boxes), editor_(editor) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(16);
  row->addWidget(makeList(), 1);
  row->addWidget(makeForm());
  connect(&boxes_, &MyBoxes::changed, this, &BoxesPage::refresh);
  connect(&boxes_, &MyBoxes::news, this, &BoxesPage::told);
  connect(&editor_, &CarEditor::changed, this, [this] {
    if (isVisible()) refresh();
  });
}

const Car* BoxesPage::car() const {
  return editor_.document().hasCar() ? &editor_.document().car() : nullptr;
}

QWidget* BoxesPage::makeList() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* head = new QHBoxLayout;
  kind_ = new QComboBox(box);
  kind_->setObjectName(QStringLiteral("boxes.kind"));
  kind_->setAccessibleName(tr("Which box"));
  kind_->setMinimumHeight(targetHeight);
  kind_->addItem(tr("All boxes"));
  auto* menu = new QMenu(box);
  menu->setObjectName(QStringLiteral("boxes.addMenu"));
  for (const BoxKindSpec& k : box_kinds()) {
    kind_->addItem(fromCore(k.label));
    QAction* a = menu->addAction(fromCore(k.label), this, [this, kind = k.kind] { add(kind); });
    a->setObjectName(
        QStringLiteral("boxes.add.%1").arg(QString::fromUtf8(k.id.data(), static_cast<qsizetype>(k.id.size()))));
  }
  connect(kind_, &QComboBox::currentIndexChanged, this, &BoxesPage::refresh);
  add_ = new QToolButton(box);
  add_->setObjectName(QStringLiteral("boxes.add"));
  add_->setText(tr("Put in \u2026"));
  add_->setPopupMode(QToolButton::InstantPopup);
  add_->setMinimumHeight(targetHeight);
  add_->setMenu(menu);
  head->addWidget(kind_);
  head->addStretch(1);
  head->addWidget(add_);
  list_ = new QTableWidget(box);
  list_->setObjectName(QStringLiteral("boxes.list"));
  dressTable(*list_, {{tr("What"), 0}, {tr("How many"), 176, Qt::AlignHCenter}, {tr("On this car"), 230}});
  list_->verticalHeader()->setDefaultSectionSize(44);
  list_->setWordWrap(true);
  connect(list_, &QTableWidget::currentCellChanged, this, [this](int row) {
    if (filling_ || row < 0 || at(row) >= order_.size()) return;
    inHand_ = static_cast<int>(order_[at(row)]);
    fillForm();
  });
  counted_ = new QLabel(box);
  counted_->setObjectName(QStringLiteral("boxes.counted"));
  counted_->setWordWrap(true);
  counted_->setTextFormat(Qt::PlainText);
  example_ = carButton(QStringLiteral("boxes.example"), tr("Show me an example"), box);
  connect(example_, &QPushButton::clicked, this, &BoxesPage::example);
  column->addLayout(head);
  column->addWidget(list_, 1);
  column->addWidget(example_, 0, Qt::AlignLeft);
  column->addWidget(counted_);
  return box;
}

QLineEdit* BoxesPage::addText(QGridLayout& grid, const QString& id, const QString& name) {
  auto* edit = new QLineEdit(form_);
  edit->setObjectName(QStringLiteral("boxes.") + id);
  edit->setMinimumHeight(targetHeight);
  auto* label = new QLabel(name, form_);
  label->setBuddy(edit);
  edit->setAccessibleName(name);
  const int row = grid.rowCount();
  grid.addWidget(label, row, 0);
  grid.addWidget(edit, row, 1);
  lines_.push_back({label, edit});
  connect(edit, &QLineEdit::editingFinished, this, &BoxesPage::takeForm);
  return edit;
}

QComboBox* BoxesPage::addChoice(QGridLayout& grid, const QString& id, const QString& name) {
  auto* choice = new QComboBox(form_);
  choice->setObjectName(QStringLiteral("boxes.") + id);
  choice->setMinimumHeight(targetHeight);
  choice->setAccessibleName(name);
  choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  choice->setMinimumContentsLength(12);
  auto* label = new QLabel(name, form_);
  label->setBuddy(choice);
  const int row = grid.rowCount();
  grid.addWidget(label, row, 0);
  grid.addWidget(choice, row, 1);
  lines_.push_back({label, choice});
  connect(choice, &QComboBox::activated, this, &BoxesPage::takeForm);
  return choice;
}

QWidget* BoxesPage::makeForm() {
  form_ = new QWidget(this);
  auto* column = new QVBoxLayout(form_);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(8);
  title_ = new QLabel(form_);
  title_->setObjectName(QStringLiteral("boxes.title"));
  title_->setTextFormat(Qt::PlainText);
  title_->setFont(textFont(14, true));
  title_->setWordWrap(true);
  column->addWidget(title_);
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(4);
  part_ = addChoice(*grid, QStringLiteral("part"), tr("Part"));
  position_ = addChoice(*grid, QStringLiteral("position"), tr("Which one"));
  label_ = addText(*grid, QStringLiteral("label"), tr("Stands on it"));
  maker_ = addText(*grid, QStringLiteral("maker"), tr("Maker"));
  holes_ = addText(*grid, QStringLiteral("holes"), tr("Holes"));
  value_ = addText(*grid, QStringLiteral("value"), tr("Rate, N/mm"));
  use_ = addChoice(*grid, QStringLiteral("use"), tr("Goes"));
  use_->addItems({tr("on a shock"), tr("on a kingpin"), tr("beside a pod"), tr("between both shocks")});
  second_ = addText(*grid, QStringLiteral("second"), tr("Then, N/mm"));
  second_->setPlaceholderText(tr("one rate"));
  from_ = addText(*grid, QStringLiteral("from"), tr("from, mm pressed"));
  length_ = addText(*grid, QStringLiteral("length"), tr("Free length, mm"));
  length_->setPlaceholderText(tr("not measured"));
  table_ = addText(*grid, QStringLiteral("table"), tr("Or measured, mm N"));
  table_->setPlaceholderText(tr("2 1.1; 4 2.3; 6 3.6"));
  table_->setToolTip(
      tr("Pressed by so many mm on a scale it pushes with so many N (grams times 0.0098); pairs with semicolons "
         "between them. It takes the place of the rates."));
  fits_ = addChoice(*grid, QStringLiteral("fits"), tr("Fits"));
  note_ = addText(*grid, QStringLiteral("note"), tr("Note"));
  several_ = addText(*grid, QStringLiteral("several"), tr("Several at once"));
  several_->setPlaceholderText(QStringLiteral("0.25x4 0.5x8 1x6"));
  several_->disconnect(this);
  connect(several_, &QLineEdit::returnPressed, this, &BoxesPage::addSeveral);
  column->addLayout(grid);
  derived_ = new QLabel(form_);
  derived_->setObjectName(QStringLiteral("boxes.derived"));
  derived_->setWordWrap(true);
  derived_->setTextFormat(Qt::PlainText);
  wrong_ = new QLabel(form_);
  wrong_->setObjectName(QStringLiteral("boxes.wrong"));
  wrong_->setWordWrap(true);
  wrong_->setTextFormat(Qt::PlainText);
  onCar_ = new QLabel(form_);
  onCar_->setObjectName(QStringLiteral("boxes.onCar"));
  onCar_->setWordWrap(true);
  onCar_->setTextFormat(Qt::PlainText);
  column->addWidget(derived_);
  column->addWidget(wrong_);
  column->addWidget(onCar_);
  putIn_ = new QToolButton(form_);
  putIn_->setObjectName(QStringLiteral("boxes.putIn"));
  putIn_->setText(tr("Add it to what this car can be set to"));
  putIn_->setPopupMode(QToolButton::InstantPopup);
  putIn_->setMinimumHeight(targetHeight);
  putInMenu_ = new QMenu(putIn_);
  putInMenu_->setObjectName(QStringLiteral("boxes.putInMenu"));
  putIn_->setMenu(putInMenu_);
  column->addWidget(putIn_);
  column->addStretch(1);
  remove_ = carButton(QStringLiteral("boxes.remove"), tr("Take it out of the boxes"), form_);
  connect(remove_, &QPushButton::clicked, this, &BoxesPage::removeItem);
  column->addWidget(remove_, 0, Qt::AlignRight);
  auto* area = scrolled(form_, this);
  area->setFixedWidth(formWide);
  return area;
}

void BoxesPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  boxes_.look();
  refresh();
}

void BoxesPage::put(Boxes next, const QString& edit, int merge) {
  if (const QString wrong = boxes_.put(std::move(next), edit, merge); !wrong.isEmpty()) Q_EMIT told(wrong);
}

void BoxesPage::take(int item) {
  inHand_ = item;
  refresh();
}

void BoxesPage::refresh() {
  if (!list_ || !form_) return;
  if (inHand_ >= static_cast<int>(boxes_.boxes().items.size()))
    inHand_ = static_cast<int>(boxes_.boxes().items.size()) - 1;
  fillList();
  fillForm();
  tellCounted();
}

QString BoxesPage::onThisCar(const BoxItem& item) const {
  const Car* c = car();
  if (!c) return {};
  QStringList places;
  bool goes = false;
  int stacks = 0;
  for (const PartHandle adjuster : c->adjusters.handles()) {
    if (!goes_into(item, *c, adjuster)) continue;
    goes = true;
    if (item.kind == BoxKind::shim) {
      if (is_in(*c, adjuster, item)) ++stacks;
      continue;
    }
    const auto& list = c->adjusters[adjuster].positions()->list;
    for (std::size_t p = 0; p < list.size(); ++p)
      if (alike(piece_at(*c, adjuster, static_cast<int>(p)), item)) {
        places << (item.kind == BoxKind::insert
                       ? partTitle(c->adjusters[adjuster])
                       : tr("%1, %2").arg(partTitle(c->adjusters[adjuster]), QString::fromStdString(list[p].label)));
        break;
      }
  }
  if (stacks > 0) return counted(stacks, "%1 stack takes it", "%1 stacks take it");
  if (!places.isEmpty()) return places.join(QStringLiteral("\n"));
  return goes ? tr("not in its lists yet") : tr("no place for it");
}

void BoxesPage::fillList() {
  const auto& items = boxes_.boxes().items;
  filling_ = true;
  order_.clear();
  const int only = kind_->currentIndex() - 1;
  for (std::size_t i = 0; i < items.size(); ++i)
    if (only < 0 || static_cast<int>(items[i].kind) == only) order_.push_back(i);
  std::stable_sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) {
    const BoxItem &x = items[a], &y = items[b];
    if (x.kind != y.kind) return x.kind < y.kind;
    if (x.use != y.use) return x.use < y.use;
    if (x.holes != y.holes) return x.holes < y.holes;
    return x.value < y.value;
  });
  const Tokens& t = tokens(palette());
  list_->setRowCount(static_cast<int>(order_.size()));
  for (int row = 0; row < list_->rowCount(); ++row) {
    const auto at = order_[static_cast<std::size_t>(row)];
    const BoxItem& i = items[at];
    const auto cell = [&](int column, const QString& text) {
      QTableWidgetItem* item = list_->item(row, column);
      if (!item) list_->setItem(row, column, item = new QTableWidgetItem);
      item->setText(text);
      item->setToolTip(text);
      return item;
    };
    QString name = QString::fromStdString(full_text(i));
    if (!name.isEmpty()) name[0] = name[0].toUpper();
    cell(what, name)->setForeground(i.count > 0 ? t.ink : t.soft);
    cell(here, onThisCar(i))->setForeground(t.soft);
    QWidget* stepper = list_->cellWidget(row, howMany);
    if (!stepper) {
      stepper = new QWidget(list_);
      auto* line = new QHBoxLayout(stepper);
      line->setContentsMargins(4, 2, 4, 2);
      line->setSpacing(2);
      const auto button = [&](const char* id, const QString& sign, const QString& said, int by) {
        auto* b = new QToolButton(stepper);
        b->setObjectName(QLatin1String(id) + QString::number(row));
        b->setText(sign);
        b->setAccessibleName(said);
        b->setFixedSize(40, 38);
        b->setAutoRepeat(true);
        connect(b, &QToolButton::clicked, this, [this, row, by] {
          if (static_cast<std::size_t>(row) < order_.size())
            count(static_cast<int>(order_[static_cast<std::size_t>(row)]), by);
        });
        return b;
      };
      auto* number = new QLabel(stepper);
      number->setObjectName(QStringLiteral("boxes.count.%1").arg(row));
      number->setAlignment(Qt::AlignCenter);
      number->setFont(figureFont(14, true));
      line->addWidget(button("boxes.less.", QStringLiteral("\u2212"), tr("One less"), -1));
      line->addWidget(number, 1);
      line->addWidget(button("boxes.more.", QStringLiteral("+"), tr("One more"), 1));
      list_->setCellWidget(row, howMany, stepper);
    }
    stepper->findChild<QLabel*>()->setText(countedText(i));
    if (static_cast<int>(at) == inHand_) list_->setCurrentCell(row, what);
  }
  if (inHand_ < 0 && !order_.empty()) {
    inHand_ = static_cast<int>(order_.front());
    list_->setCurrentCell(0, what);
  }
  filling_ = false;
  example_->setVisible(items.empty());
  list_->setVisible(!items.empty());
  add_->setEnabled(boxes_.fault().isEmpty());
}

void BoxesPage::fillFits(const BoxItem& item) {
  fitsList_.clear();
  const QSignalBlocker quiet(fits_);
  fits_->clear();
  const auto add = [&](const QString& text, std::vector<std::string> cars, std::string part) {
    fits_->addItem(text);
    fitsList_.push_back({std::move(cars), std::move(part)});
  };
  add(tr("every car that takes it"), {}, {});
  if (const Car* c = car()) {
    add(tr("only %1").arg(QString::fromStdString(c->name)), {c->id}, {});
    for (const PartHandle k : c->adjusters.handles()) {
      const auto place = box_place(*c, k);
      if (place && place->kind == item.kind && (item.kind != BoxKind::spring || place->use == item.use))
        add(tr("only %1").arg(partTitle(c->adjusters[k])), {c->id}, c->adjusters[k].id);
    }
    if (!item.cars.empty() && !item.fits(*c)) {
      add(counted(static_cast<int>(item.cars.size()), "only %1 other car", "only %1 other cars"), item.cars, item.part);
      if (item.part.empty()) {
        std::vector<std::string> both = item.cars;
        both.push_back(c->id);
        add(tr("those, and %1").arg(QString::fromStdString(c->name)), std::move(both), {});
      }
    } else if (item.cars.size() > 1) {
      add(tr("only %1 of my cars").arg(item.cars.size()), item.cars, {});
    }
  }
  for (std::size_t i = 0; i < fitsList_.size(); ++i)
    if (fitsList_[i].cars == item.cars && fitsList_[i].part == item.part) fits_->setCurrentIndex(static_cast<int>(i));
}

/// A part of the car at hand and its positions, for what is known by its name alone.
void BoxesPage::fillPart(const BoxItem& item) {
  const QSignalBlocker quietPart(part_), quietPosition(position_);
  part_->clear();
  position_->clear();
  parts_.clear();
  const Car* c = car();
  if (!c) return;
  for (const PartHandle k : c->adjusters.handles()) {
    const auto place = box_place(*c, k);
    if (!place || place->kind != BoxKind::part) continue;
    parts_.push_back(k);
    part_->addItem(partTitle(c->adjusters[k]));
    if (c->adjusters[k].id != item.part || !item.fits(*c)) continue;
    part_->setCurrentIndex(part_->count() - 1);
    for (const Position& p : c->adjusters[k].positions()->list) {
      position_->addItem(QString::fromStdString(p.label));
      if (p.label == item.label) position_->setCurrentIndex(position_->count() - 1);
    }
  }
  if (!item.fits(*c)) {
    part_->insertItem(0, tr("a part of another car"));
    parts_.insert(parts_.begin(), PartHandle());
    part_->setCurrentIndex(0);
    position_->addItem(QString::fromStdString(item.label));
  }
}

void BoxesPage::fillForm() {
  const auto& items = boxes_.boxes().items;
  const bool any = inHand_ >= 0 && inHand_ < static_cast<int>(items.size());
  form_->setVisible(any);
  filledFor_ = editor_.document().hasCar() ? editor_.document().sharedCar() : nullptr;
  if (!any) return;
  const BoxItem& i = items[at(inHand_)];
  const BoxKindSpec& k = spec_of(i.kind);
  filling_ = true;
  QString name = QString::fromStdString(full_text(i));
  name[0] = name[0].toUpper();
  title_->setText(name);
  const bool spring = i.kind == BoxKind::spring;
  const bool named = i.kind == BoxKind::part;
  const bool onShock = spring && (i.use == SpringUse::shock || i.use == SpringUse::kingpin);
  const auto show = [&](QWidget* field, bool on) {
    for (const Line& l : lines_)
      if (l.field == field) {
        l.name->setVisible(on);
        l.field->setVisible(on);
      }
  };
  show(part_, named);
  show(position_, named);
  show(label_, !named);
  show(value_, !named && i.table.empty());
  show(holes_, i.kind == BoxKind::piston);
  show(use_, spring);
  show(second_, onShock && i.table.empty());
  show(from_, onShock && i.table.empty());
  show(length_, onShock);
  show(table_, onShock);
  show(fits_, !named);
  show(several_, i.kind == BoxKind::shim);
  for (const Line& l : lines_)
    if (l.field == value_) {
      QString asked = QStringLiteral("%1, %2").arg(fromCore(k.value), fromCore(k.unit));
      asked[0] = asked[0].toUpper();
      l.name->setText(asked);
      value_->setAccessibleName(asked);
    }
  label_->setText(QString::fromStdString(i.label));
  maker_->setText(QString::fromStdString(i.maker));
  value_->setText(plain(i.value));
  value_->setToolTip(spring ? tr("0.52, or 2.97 lbf/in, or 53 gf/mm, or the wire: wire 1.2 coil 13 turns 5.5")
                            : QString());
  holes_->setText(QString::number(i.holes));
  use_->setCurrentIndex(static_cast<int>(i.use));
  second_->setText(i.second_rate > 0.0 ? plain(i.second_rate) : QString());
  from_->setText(i.transition_mm > 0.0 ? plain(i.transition_mm) : QString());
  length_->setText(i.length_mm > 0.0 ? plain(i.length_mm) : QString());
  table_->setText(tableText(i.table));
  note_->setText(QString::fromStdString(i.note));
  fillFits(i);
  fillPart(i);
  QStringList derived;
  if (spring && i.table.empty())
    derived << tr("%1 N/mm is %2 lbf/in or %3 gf/mm.")
                   .arg(number(i.value, 3), number(i.value / newton_per_mm_of_lbf_per_in(1.0), 2),
                        number(i.value / newton_per_mm_of_gf_per_mm(1.0), 1));
  if (spring && !i.table.empty()) {
    const TwoRates r = two_rates(i.table);
    derived << (r.second_rate > 0.0
                    ? tr("Nearest with two rates: %1 N/mm, %2 N/mm from %3 mm on; off by %4 N at most.")
                          .arg(number(r.rate, 3), number(r.second_rate, 3), number(r.transition_mm, 1),
                               number(r.off_n, 2))
                    : tr("One rate says it: %1 N/mm; off by %2 N at most.").arg(number(r.rate, 3), number(r.off_n, 2)));
  }
  derived_->setText(derived.join(QLatin1Char(' ')));
  derived_->setVisible(!derived.isEmpty());
  wrong_->setText(boxes_.fault());
  wrong_->setVisible(!boxes_.fault().isEmpty());
  fillCar(i);
  filling_ = false;
}

void BoxesPage::fillCar(const BoxItem& item) {
  putInMenu_->clear();
  const Car* c = car();
  onCar_->setVisible(c != nullptr);
  putIn_->setVisible(false);
  if (!c) return;
  const QString name = QString::fromStdString(c->name);
  QString text = tr("On %1: %2.").arg(name, onThisCar(item).replace(QLatin1Char('\n'), QStringLiteral("; ")));
  for (const PartHandle adjuster : c->adjusters.handles()) {
    if (item.kind == BoxKind::part || !goes_into(item, *c, adjuster) || is_in(*c, adjuster, item)) continue;
    QAction* a = putInMenu_->addAction(withoutKeys(partTitle(c->adjusters[adjuster])), this,
                                       [this, adjuster] { putIn(adjuster); });
    a->setObjectName(QStringLiteral("boxes.putIn.") + QString::fromStdString(c->adjusters[adjuster].id));
  }
  const bool any = !putInMenu_->isEmpty();
  putIn_->setVisible(any && editor_.editable());
  if (any && !editor_.editable())
    text += tr(" It could be added to what %1 can be set to: make the car your own first.").arg(name);
  onCar_->setText(text);
}

void BoxesPage::tellCounted() {
  const Car* c = car();
  if (!boxes_.fault().isEmpty()) {
    counted_->setText(boxes_.fault());
    return;
  }
  if (boxes_.boxes().items.empty()) {
    counted_->setText(
        tr("Nothing is listed, so everything that a car file names is taken to be at hand. Put in what you own of a "
           "kind, once for all your cars: searches, advice and the packing list then go by it, and tell what is "
           "missing and what would be worth buying."));
    return;
  }
  if (!c) return;
  const Stock stock(boxes_.boxes(), *c, kit_setup(*c));
  QStringList counts, others;
  for (const PartHandle k : c->adjusters.handles()) {
    const auto place = box_place(*c, k);
    if (!place || c->adjusters[k].only_kept()) continue;
    const QString part = place->kind == BoxKind::part || place->kind == BoxKind::shim
                             ? (place->kind == BoxKind::shim && !c->adjusters[k].range()->moves_per_unit.empty()
                                    ? tr("shims under balls and mounts")
                                    : partTitle(c->adjusters[k]))
                             : fromCore(spec_of(place->kind).label).toLower();
    QStringList& list = stock.counts(k) ? counts : others;
    if (!list.contains(part)) list << part;
  }
  for (const QString& part : counts) others.removeAll(part);
  counted_->setText(tr("Counted on %1: %2. Nothing is listed of the rest, so it is taken to be at hand: %3.")
                        .arg(QString::fromStdString(c->name),
                             counts.isEmpty() ? tr("nothing") : counts.join(QStringLiteral(", ")),
                             others.isEmpty() ? tr("nothing") : others.join(QStringLiteral(", "))));
}

void BoxesPage::add(BoxKind kind) {
  Boxes next = boxes_.boxes();
  BoxItem item = fresh(kind, car());
  if (const auto wrong = fault_in(item)) {
    Q_EMIT told(car() ? tr("%1 has no such part; open the car that has it.").arg(QString::fromStdString(car()->name))
                      : tr("A part is one of a car: open the car first."));
    return;
  }
  next.items.push_back(std::move(item));
  inHand_ = static_cast<int>(next.items.size()) - 1;
  {
    const QSignalBlocker quiet(kind_);
    if (kind_->currentIndex() > 0) kind_->setCurrentIndex(static_cast<int>(kind) + 1);
  }
  put(std::move(next), tr("Put into the boxes"));
  QLineEdit* first = kind == BoxKind::shim ? value_ : label_;
  first->setFocus();
  first->selectAll();
}

void BoxesPage::addSeveral() {
  const auto shims = shims_in(several_->text().toStdString());
  if (!shims || several_->text().trimmed().isEmpty()) {
    wrong_->setText(tr("Found \"%1\"; allowed: thickness x number, such as 0.5x8 1x6.").arg(several_->text()));
    wrong_->setVisible(true);
    return;
  }
  Boxes next = boxes_.boxes();
  for (const BoxItem& s : shims->items) {
    const auto same = std::find_if(next.items.begin(), next.items.end(), [&](const BoxItem& i) {
      return i.kind == BoxKind::shim && i.cars.empty() && i.part.empty() && alike(i, s);
    });
    if (same != next.items.end())
      same->count = s.count;
    else
      next.items.push_back(s);
  }
  several_->clear();
  put(std::move(next), tr("Shims put into the boxes"));
}

void BoxesPage::count(int item, int by) {
  Boxes next = boxes_.boxes();
  BoxItem& i = next.items[at(item)];
  i.count = std::clamp(i.count + by, 0, 9999);
  inHand_ = item;
  put(std::move(next), tr("How many there are"), countMerge + item);
}

void BoxesPage::takeForm() {
  if (filling_ || inHand_ < 0 || inHand_ >= static_cast<int>(boxes_.boxes().items.size())) return;
  Boxes next = boxes_.boxes();
  BoxItem& i = next.items[at(inHand_)];
  const auto wrong = [&](const QString& name, const QString& found, const QString& allowed) {
    wrong_->setText(tr("%1: found \"%2\"; allowed: %3.").arg(name, found, allowed));
    wrong_->setVisible(true);
  };
  const auto text = [](const QLineEdit* e) { return e->text().trimmed().toStdString(); };
  i.maker = text(maker_);
  i.note = text(note_);
  if (i.kind == BoxKind::part) {
    const int row = part_->currentIndex();
    const PartHandle adjuster = row >= 0 && row < static_cast<int>(parts_.size()) ? parts_[at(row)] : PartHandle();
    if (adjuster && car() && filledFor_ == editor_.document().sharedCar()) {
      const Adjuster& a = car()->adjusters[adjuster];
      const bool same = a.id == i.part && i.fits(*car());
      i.part = a.id;
      i.cars = {car()->id};
      i.label = same ? position_->currentText().toStdString() : a.positions()->list.front().label;
    }
  } else {
    i.label = text(label_);
    const auto use = static_cast<SpringUse>(use_->currentIndex());
    if (i.kind == BoxKind::spring) i.use = use;
    if (const int row = fits_->currentIndex(); row >= 0 && at(row) < fitsList_.size()) {
      i.cars = fitsList_[at(row)].cars;
      i.part = fitsList_[at(row)].part;
    }
    const auto number = [&](const QLineEdit* e, double& into, bool mayBeEmpty) {
      if (mayBeEmpty && e->text().trimmed().isEmpty()) {
        into = 0.0;
        return true;
      }
      const auto v = number_in(text(e));
      if (v) into = *v;
      if (!v) wrong(e->accessibleName(), e->text(), tr("a number"));
      return v.has_value();
    };
    if (i.kind == BoxKind::spring) {
      const auto table = tableIn(table_->text());
      if (!table) return wrong(table_->accessibleName(), table_->text(), tr("pairs of mm and N: 2 1.1; 4 2.3"));
      i.table = *table;
      if (i.table.empty()) {
        const auto rate = rate_from_text(text(value_));
        if (!rate)
          return wrong(value_->accessibleName(), value_->text(),
                       tr("0.52, 2.97 lbf/in, 53 gf/mm or wire 1.2 coil 13 turns 5.5"));
        i.value = *rate;
        if (second_->text().trimmed().isEmpty())
          i.second_rate = 0.0;
        else if (const auto second = rate_from_text(text(second_)))
          i.second_rate = *second;
        else
          return wrong(second_->accessibleName(), second_->text(), tr("a rate, or nothing"));
        if (!number(from_, i.transition_mm, true)) return;
        if (i.second_rate > 0.0 && !(i.transition_mm > 0.0)) {
          // The other half of the pair is still to be typed.
          return wrong(from_->accessibleName(), from_->text(), tr("the compression at which the second rate begins"));
        }
        if (!(i.second_rate > 0.0)) i.transition_mm = 0.0;
      } else {
        i.value = two_rates(i.table).rate;
        i.second_rate = i.transition_mm = 0.0;
      }
      if (!number(length_, i.length_mm, true)) return;
    } else if (!number(value_, i.value, false)) {
      return;
    }
    if (i.kind == BoxKind::piston) {
      const auto n = number_in(text(holes_));
      if (!n || *n != std::floor(*n)) return wrong(holes_->accessibleName(), holes_->text(), tr("1 to 20"));
      i.holes = static_cast<int>(std::clamp(*n, -1.0, 1000.0));
    }
  }
  if (const auto fault = fault_in(i)) {
    wrong_->setText(
        tr("%1: %2; allowed: %3.").arg(fromCore(fault->place), fromCore(fault->wrong), fromCore(fault->allowed)));
    wrong_->setVisible(true);
    return;
  }
  put(std::move(next), tr("Described anew"));
}

void BoxesPage::putIn(PartHandle adjuster) {
  const Car* c = car();
  if (!c || inHand_ < 0 || filledFor_ != editor_.document().sharedCar()) return;
  Json after = editor_.source();
  const BoxItem item = boxes_.boxes().items[at(inHand_)];
  const auto done = put_into_part(after, *c, adjuster, item);
  if (!done) {
    Q_EMIT told(QString::fromStdString(done.error().line()));
    return;
  }
  const QString part = partTitle(c->adjusters[adjuster]);
  if (!editor_.edit(std::move(after), tr("From the boxes"))) return;
  Q_EMIT told(tr("%1 can now be set to it. %2").arg(part, fromCore(*done)).trimmed());
}

void BoxesPage::removeItem() {
  Boxes next = boxes_.boxes();
  if (inHand_ < 0 || inHand_ >= static_cast<int>(next.items.size())) return;
  next.items.erase(next.items.begin() + inHand_);
  put(std::move(next), tr("Taken out of the boxes"));
}

void BoxesPage::example() {
  const auto path = data_folder() / "boxes" / "example-boxes.json";
  const auto text = read_file(path);
  const auto boxes = text ? read_boxes(*text, path.filename().string()) : tl::unexpected(Faults{text.error()});
  if (!boxes) {
    Q_EMIT told(QString::fromStdString(boxes.error().front().line()));
    return;
  }
  inHand_ = 0;
  put(*boxes, tr("An example"));
}

}  // namespace lowkite::app
