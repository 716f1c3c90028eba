#include "app/plan/parts/adjuster_panel.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/plan/parts/adjuster_row.h"
#include "app/widgets/beside_or_below.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

QString foldKey(PartGroup group) {
  return QStringLiteral("parts/folded/%1").arg(static_cast<int>(group));
}

}  // namespace

/// The heading of a group: a click folds it.
class GroupHead : public QPushButton {
 public:
  GroupHead(PartGroup group, QWidget* parent) : QPushButton(parent), group_(group) {
    setObjectName(QStringLiteral("parts.group.%1").arg(static_cast<int>(group)));
    setProperty("quiet", true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setProperty("leftward", true);
    setFont(textFont(textSize, true));
  }
  [[nodiscard]] PartGroup group() const { return group_; }
  void tell(bool shut, int parts, bool changed) {
    QString text = (shut ? QStringLiteral("\u25B8  ") : QStringLiteral("\u25BE  ")) + fromCore(label_of(group_));
    if (shut) text += QStringLiteral(" (%1)").arg(parts);
    if (shut && changed) text += QStringLiteral("  \u25C6");
    setText(text);
    setAccessibleDescription(shut ? AdjusterPanel::tr("folded") : AdjusterPanel::tr("open"));
  }

 private:
  PartGroup group_;
};

AdjusterPanel::AdjusterPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("adjusters"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(1, 8, 1, 1);
  column->setSpacing(6);

  auto* top = new QHBoxLayout;
  top->setContentsMargins(6, 0, 6, 0);
  top->setSpacing(0);
  ends_ = new Segmented(QStringLiteral("axle"), {tr("Front"), tr("Rear")}, this);
  connect(ends_, &Segmented::chosen, this, [this](int i) { model_.setEnd(i == 0 ? End::front : End::rear); });
  sides_ = new Segmented(QStringLiteral("sides"), {tr("Both"), tr("Left"), tr("Right")}, this);
  connect(sides_, &Segmented::chosen, this, [this](int i) { model_.setSides(static_cast<Sides>(i)); });
  top->addWidget(ends_);
  top->addSpacing(10);
  top->addStretch();
  top->addWidget(sides_);
  besideOrBelow(*top, leastWidth + 20);  // five words may stand a little closer than usual
  column->addLayout(top);

  auto* height = new QHBoxLayout;
  height->setContentsMargins(10, 0, 8, 0);
  auto* label = new QLabel(tr("Ride height"), this);
  label->setWordWrap(true);
  rideHeight_ = new QDoubleSpinBox(this);
  rideHeight_->setObjectName(QStringLiteral("rideHeight"));
  rideHeight_->setRange(0.0, 60.0);
  rideHeight_->setSingleStep(0.1);
  rideHeight_->setDecimals(1);
  rideHeight_->setSuffix(tr(" mm"));
  rideHeight_->setFixedWidth(76);
  rideHeight_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  rideHeight_->setAlignment(Qt::AlignCenter);
  rideHeight_->setKeyboardTracking(false);
  label->setBuddy(rideHeight_);
  connect(rideHeight_, &QDoubleSpinBox::valueChanged, this,
          [this](double mm) { model_.document().setRideHeight(model_.end(), mm); });
  const auto button = [&](const QString& text, const QString& name, double by) {
    auto* b = new QToolButton(this);
    b->setText(text);
    b->setObjectName(name);
    b->setAccessibleName(by < 0.0 ? tr("Ride height less") : tr("Ride height more"));
    b->setFocusPolicy(Qt::NoFocus);
    b->setAutoRepeat(true);
    b->setProperty("stepper", true);
    b->setFixedSize(40, 38);
    connect(b, &QToolButton::clicked, this, [this, by] { rideHeight_->setValue(rideHeight_->value() + by); });
    return b;
  };
  height->setSpacing(6);
  height->addWidget(label, 1);
  height->addWidget(rideHeight_);
  height->addWidget(button(QStringLiteral("\u2212"), QStringLiteral("rideHeight.less"), -rideHeight_->singleStep()));
  height->addWidget(button(QStringLiteral("+"), QStringLiteral("rideHeight.more"), rideHeight_->singleStep()));
  column->addLayout(height);

  auto* finding = new QHBoxLayout;
  finding->setContentsMargins(8, 0, 8, 0);
  finding->setSpacing(4);
  find_ = new QLineEdit(this);
  find_->setObjectName(QStringLiteral("parts.find"));
  find_->setPlaceholderText(tr("Find a part"));
  find_->setAccessibleName(find_->placeholderText());
  find_->setClearButtonEnabled(true);
  connect(find_, &QLineEdit::textChanged, this, &AdjusterPanel::arrange);
  changedFirst_ = new QToolButton(this);
  changedFirst_->setObjectName(QStringLiteral("parts.changedFirst"));
  changedFirst_->setText(tr("Changed first"));
  changedFirst_->setToolTip(tr("Parts that differ from the baseline stand on top"));
  changedFirst_->setCheckable(true);
  changedFirst_->setProperty("quiet", true);
  connect(changedFirst_, &QToolButton::toggled, this, &AdjusterPanel::takeChanged);
  finding->addWidget(find_, 1);
  finding->addWidget(changedFirst_);
  column->addLayout(finding);

  scroll_ = new QScrollArea(this);
  scroll_->setObjectName(QStringLiteral("adjusters.scroll"));
  scroll_->setWidgetResizable(true);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setFocusPolicy(Qt::NoFocus);
  column->addWidget(scroll_, 1);

  const Kept kept;
  for (int g = 0; g < part_group_count; ++g)
    folded_[at(g)] = kept.value(foldKey(static_cast<PartGroup>(g)), false).toBool();
  connect(&model_, &PlanModel::selectionChanged, this, &AdjusterPanel::followSelection);
  connect(&model_.document(), &Document::inputsChanged, this, &AdjusterPanel::refresh);
}

void AdjusterPanel::rebuild() {
  builtFor_ = model_.document().sharedCar();
  builtEnd_ = model_.end();
  rows_.clear();
  auto* content = new QWidget;
  auto* column = new QVBoxLayout(content);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  list_ = column;
  heads_.clear();
  groups_.clear();
  for (int g = 0; g < part_group_count; ++g) {
    auto* head = new GroupHead(static_cast<PartGroup>(g), content);
    connect(head, &QPushButton::clicked, this, [this, head] { fold(head->group(), !folded(head->group())); });
    heads_.push_back(head);
  }
  for (const PartHandle i : parts_by_group(*builtFor_, builtEnd_)) {
    auto* row = new AdjusterRow(model_, i, content);
    connect(row, &AdjusterRow::told, this, &AdjusterPanel::told);
    rows_.push_back(row);
    groups_.push_back(group_of(*builtFor_, builtFor_->adjusters[i]));
  }
  order_.clear();
  takeChanged();
  scroll_->setWidget(content);
}

void AdjusterPanel::takeChanged() {
  onTop_.assign(rows_.size(), false);
  if (changedFirst_->isChecked())
    for (std::size_t i = 0; i < rows_.size(); ++i) onTop_[i] = model_.partChanged(rows_[i]->adjuster());
  arrange();
}

void AdjusterPanel::fold(PartGroup group, bool on) {
  folded_[at(group)] = on;
  Kept().setValue(foldKey(group), on);
  arrange();
}

void AdjusterPanel::arrange() {
  if (!list_) return;
  const QString words = find_->text().trimmed();
  const auto part = [&](const AdjusterRow* row) -> const Adjuster& { return builtFor_->adjusters[row->adjuster()]; };
  const auto wanted = [&](const AdjusterRow* row) {
    return words.isEmpty() || QString::fromStdString(part(row).name).contains(words, Qt::CaseInsensitive) ||
           fromCore(label_of(group_of(*builtFor_, part(row)))).contains(words, Qt::CaseInsensitive);
  };
  // -1 - n: the heading of group n; else an index of rows_.
  std::vector<int> order;
  for (std::size_t i = 0; i < rows_.size(); ++i)
    if (onTop_[i] && wanted(rows_[i])) order.push_back(static_cast<int>(i));
  for (GroupHead* head : heads_) {
    std::vector<int> mine;
    bool any = false;
    bool changed = false;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      if (onTop_[i] || groups_[i] != head->group() || !wanted(rows_[i])) continue;
      any = true;
      changed = changed || model_.partChanged(rows_[i]->adjuster());
      mine.push_back(static_cast<int>(i));
    }
    if (!any) continue;
    const bool shut = words.isEmpty() && folded(head->group());
    head->tell(shut, static_cast<int>(mine.size()), changed);
    order.push_back(-1 - static_cast<int>(head->group()));
    if (!shut) order.insert(order.end(), mine.begin(), mine.end());
  }
  if (order == order_) return;
  order_ = order;
  while (QLayoutItem* item = list_->takeAt(0)) delete item;
  std::vector<bool> shown(rows_.size(), false);
  std::vector<bool> headShown(heads_.size(), false);
  for (const int o : order) {
    QWidget* w = o < 0 ? static_cast<QWidget*>(heads_[at(-1 - o)]) : static_cast<QWidget*>(rows_[at(o)]);
    (o < 0 ? headShown[at(-1 - o)] : shown[at(o)]) = true;
    list_->addWidget(w);
  }
  list_->addStretch();
  for (std::size_t i = 0; i < rows_.size(); ++i) rows_[i]->setVisible(shown[i]);
  for (std::size_t i = 0; i < heads_.size(); ++i) heads_[i]->setVisible(headShown[i]);
}

void AdjusterPanel::refresh() {
  if (!model_.document().hasCar()) return;
  if (builtFor_ != model_.document().sharedCar() || builtEnd_ != model_.end()) rebuild();
  for (AdjusterRow* row : rows_) row->refresh();
  arrange();
  const QSignalBlocker quiet(rideHeight_);
  rideHeight_->setValue(model_.document().setup().ride_height_mm[at(model_.end())]);
}

void AdjusterPanel::followSelection() {
  refresh();
  sides_->setCurrent(static_cast<int>(model_.sides()));
  ends_->setCurrent(static_cast<int>(at(model_.end())));
  if (toldPart_ == model_.part()) return;
  toldPart_ = model_.part();
  for (AdjusterRow* row : rows_) {
    if (row->adjuster() != model_.part()) continue;
    // The part in hand is in sight, whatever is folded or looked for.
    const PartGroup group = group_of(*builtFor_, builtFor_->adjusters[row->adjuster()]);
    if (!row->isVisibleTo(scroll_->widget())) {
      find_->clear();
      if (folded(group)) fold(group, false);
    }
    if (scroll_->widget()->layout()) scroll_->widget()->layout()->activate();
    scroll_->ensureWidgetVisible(row, 0, 8);
  }
}

}  // namespace lowkite::app
