#include "app/car/adjuster_page.h"

#include <algorithm>

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QListWidget>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/car/field_model.h"
#include "app/car/field_table.h"
#include "app/car/part_assistant.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"

namespace lowkite::app {

AdjusterPage::AdjusterPage(CarEditor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  pages_ = new QStackedWidget(this);
  assistant_ = new PartAssistant(editor_, pages_);
  pages_->addWidget(makeList());
  pages_->addWidget(assistant_);
  column->addWidget(pages_);
  connect(assistant_, &PartAssistant::left, this, [this] {
    pages_->setCurrentIndex(0);
    showSpots();
  });
  connect(assistant_, &PartAssistant::added, this, [this](const QString& id) {
    pages_->setCurrentIndex(0);
    list_->setCurrentRow(editor_.document().car().find_adjuster(id.toStdString()).number());
    showSpots();
  });
  connect(assistant_, &PartAssistant::fitted, this, [this](const QString& form, End end) {
    pages_->setCurrentIndex(0);
    const int first = static_cast<int>(editor_.document().car().adjusters.size());
    for (std::size_t i = 0; i < fittings_.size(); ++i)
      if (fittings_[i].end == end && fittings_[i].form == form.toStdString())
        list_->setCurrentRow(first + static_cast<int>(i));
    showSpots();
  });
  connect(&editor_, &CarEditor::partsClicked, this, &AdjusterPage::choose);
  // Another car: what was being described was for the one before.
  connect(&editor_.document(), &Document::replaced, this, [this] { pages_->setCurrentIndex(0); });
}

QWidget* AdjusterPage::makeList() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  list_ = new QListWidget(box);
  list_->setObjectName(QStringLiteral("car.adjusters"));
  list_->setFrameShape(QFrame::NoFrame);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    fields_->refresh();
    refresh();
    showSpots();
  });
  fields_ = new FieldModel(
      editor_,
      [this] {
        if (const auto f = shownFitting()) return f->fields;
        const PartHandle part = shown();
        return part ? adjuster_fields(editor_.source(), part) : std::vector<CarField>{};
      },
      this);
  QTableView* table = fieldTable(fields_, QStringLiteral("car.adjusterFields"), box);
  table->horizontalHeader()->setSectionResizeMode(FieldModel::name, QHeaderView::Stretch);
  table->setColumnWidth(FieldModel::value, 150);
  table->setColumnWidth(FieldModel::unit, 50);
  add_ = carButton(QStringLiteral("car.addPart"), tr("Add a part \u2026"), box);
  up_ = carButton(QStringLiteral("car.partUp"), tr("Up"), box);
  down_ = carButton(QStringLiteral("car.partDown"), tr("Down"), box);
  remove_ = carButton(QStringLiteral("car.removePart"), tr("Remove this part"), box);
  more_ = carButton(QStringLiteral("car.morePositions"), tr("One more position"), box);
  fewer_ = carButton(QStringLiteral("car.fewerPositions"), tr("One less"), box);
  connect(add_, &QPushButton::clicked, this, [this] {
    pages_->setCurrentIndex(1);
    editor_.setPickable({});
    assistant_->begin();
  });
  connect(more_, &QPushButton::clicked, this, [this] {
    changeShown([](Json& j, PartHandle i) { return add_position(j, i); }, tr("One more position"), QString());
  });
  connect(fewer_, &QPushButton::clicked, this, [this] {
    changeShown([](Json& j, PartHandle i) { return remove_position(j, i); }, tr("One position less"),
                tr("The last position is the only one or the kit's: choose another for the kit first."));
  });
  connect(remove_, &QPushButton::clicked, this, &AdjusterPage::remove);
  for (const auto& [button, by] : {std::pair(up_, -1), std::pair(down_, 1)})
    connect(button, &QPushButton::clicked, this, [this, by = by] {
      const PartHandle i = shown();
      if (!i) return;
      const std::string id = editor_.document().car().adjusters[i].id;
      changeShown([by](Json& j, PartHandle k) { return reorder_adjuster(j, k, by); }, tr("Order of the parts"),
                  by < 0 ? tr("It is the first of its axle.") : tr("It is the last of its axle."));
      list_->setCurrentRow(editor_.document().car().find_adjuster(id).number());
    });
  auto* order = new QHBoxLayout;
  order->setSpacing(4);
  order->addWidget(add_);
  order->addStretch(1);
  order->addWidget(up_);
  order->addWidget(down_);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(more_);
  row->addWidget(fewer_);
  row->addStretch(1);
  row->addWidget(remove_);
  column->addWidget(list_, 2);
  column->addLayout(order);
  column->addWidget(table, 3);
  column->addLayout(row);
  return box;
}

void AdjusterPage::remove() {
  const auto f = shownFitting();
  if (!f)
    return changeShown(
        [](Json& j, PartHandle i) {
          remove_adjuster(j, i);
          return true;
        },
        tr("Remove a part"), QString());
  Json after = editor_.source();
  if (const auto fault = take_off(after, *f))
    Q_EMIT told(tr("%1 stays: %2; %3.")
                    .arg(fromCore(f->label).replace(0, 1, fromCore(f->label).left(1).toUpper()),
                         QString::fromStdString(fault->wrong), QString::fromStdString(fault->allowed)));
  else
    editor_.edit(std::move(after), tr("Remove a part"));
}

std::optional<Fitting> AdjusterPage::shownFitting() const {
  if (!editor_.document().hasCar() || !list_) return std::nullopt;
  const int i = list_->currentRow() - static_cast<int>(editor_.document().car().adjusters.size());
  if (i < 0 || i >= static_cast<int>(fittings_.size())) return std::nullopt;
  return fittings_[at(i)];
}

PartHandle AdjusterPage::shown() const {
  if (!editor_.document().hasCar() || !list_) return {};
  const auto part = PartHandle::numbered(list_->currentRow());
  return editor_.document().hasPart(part) ? part : PartHandle();
}

void AdjusterPage::changeShown(const std::function<bool(Json&, PartHandle)>& change, const QString& what,
                               const QString& refusal) {
  const PartHandle part = shown();
  if (!part) return;
  Json after = editor_.source();
  if (change(after, part))
    editor_.edit(std::move(after), what);
  else
    Q_EMIT told(refusal);
}

void AdjusterPage::makePickable() {
  if (!editor_.document().hasCar() || !isVisible() || pages_->currentIndex() != 0) return editor_.setPickable({});
  // Asked at every change of what is looked at; it follows from the car alone.
  if (pickableFor_ == editor_.document().sharedCar() && !editor_.pickable().empty()) return;
  pickableFor_ = editor_.document().sharedCar();
  const Car& car = editor_.document().car();
  std::vector<FoundAt> parts = found_adjusters(car);
  for (FoundAt& f : found_fittings(car, fittings_)) parts.push_back(std::move(f));
  editor_.setPickable(std::move(parts));
}

void AdjusterPage::choose(const std::vector<int>& rows) {
  if (rows.empty() || !isVisible() || pages_->currentIndex() != 0) return;
  const auto now = std::find(rows.begin(), rows.end(), list_->currentRow());
  list_->setCurrentRow(now == rows.end() || now + 1 == rows.end() ? rows.front() : *(now + 1));
  list_->scrollToItem(list_->currentItem());
}

void AdjusterPage::showSpots() {
  makePickable();
  if (!isVisible() || pages_->currentIndex() != 0) return;
  if (const auto f = shownFitting()) {
    editor_.setGroup(f->end == End::front ? CarEditor::Group::front : CarEditor::Group::rear);
    return editor_.setSpots(f->spots, f->bodies);
  }
  const PartHandle i = shown();
  if (!i) return editor_.setSpots({});
  const Car& car = editor_.document().car();
  const Adjuster& part = car.adjusters[i];
  editor_.setGroup(part.steering            ? CarEditor::Group::steering
                   : part.end == End::front ? CarEditor::Group::front
                                            : CarEditor::Group::rear);
  editor_.setSpots(spots_of(car, part));
}

void AdjusterPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (pages_->currentIndex() == 1)
    assistant_->begin();
  else
    showSpots();
}

void AdjusterPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  editor_.setSpots({});
  editor_.setPickable({});
}

void AdjusterPage::refresh() {
  if (!editor_.document().hasCar()) return;
  const Car& car = editor_.document().car();
  {
    const QSignalBlocker quiet(list_);
    const int before = list_->currentRow();
    fittings_ = fittings_of(car);
    const int rows = static_cast<int>(car.adjusters.size() + fittings_.size());
    while (list_->count() > rows) delete list_->takeItem(list_->count() - 1);
    while (list_->count() < rows) {
      auto* item = new QListWidgetItem(list_);
      item->setSizeHint(QSize(0, 26));
    }
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      const std::string_view kind = spec_of(a.kind).label;
      list_->item(i.number())
          ->setText(tr("%1, %2: %3")
                        .arg(a.steering            ? tr("Steering")
                             : a.end == End::front ? tr("Front")
                                                   : tr("Rear"),
                             QString::fromStdString(a.name), fromCore(kind)));
    }
    for (std::size_t i = 0; i < fittings_.size(); ++i)
      list_->item(static_cast<int>(car.adjusters.size() + i))
          ->setText(tr("%1: %2").arg(fittings_[i].end == End::front ? tr("Front") : tr("Rear"),
                                     fromCore(fittings_[i].label)));
    if (before < 0 && list_->count() > 0) list_->setCurrentRow(0);
  }
  fields_->refresh();
  const PartHandle i = shown();
  const bool own = editor_.editable();
  const bool positions = i && car.adjusters[i].positions() != nullptr;
  more_->setEnabled(own && positions);
  fewer_->setEnabled(own && positions);
  for (QPushButton* b : {up_, down_}) b->setEnabled(own && i);
  const auto fitting = shownFitting();
  remove_->setEnabled(own && (i || fitting));
  add_->setEnabled(own);
  if (!isVisible() || pages_->currentIndex() != 0) return;
  makePickable();
  if (fitting)
    editor_.setSpots(fitting->spots, fitting->bodies);
  else if (i)
    editor_.setSpots(spots_of(car, car.adjusters[i]));
}

}  // namespace lowkite::app
