#include "app/welcome.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/document/open_files.h"
#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/car_file.hpp"

namespace lowkite::app {
namespace {

const QString doneKey = QStringLiteral("start/welcomed");

}  // namespace

bool Welcome::isWanted() {
  return !Kept().value(doneKey, false).toBool();
}

Welcome::Welcome(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("welcome"));
  setProperty("stage", true);
  auto* across = new QHBoxLayout(this);
  auto* column = new QVBoxLayout;
  column->setSpacing(10);
  across->addStretch(1);
  across->addLayout(column);
  across->addStretch(1);
  column->addStretch(1);
  const auto title = [&](const QString& text, int size) {
    auto* l = new QLabel(text, this);
    l->setFont(textFont(size, true));
    column->addWidget(l);
  };
  title(tr("Three questions, then to the car"), 24);
  column->addSpacing(12);
  title(tr("What do you race?"), 16);
  QStringList kinds;
  for (const ShippedFile& file : shippedFiles()) {
    if (!file.isCar) continue;
    const auto car = load_car(file.path.toStdString());
    if (!car) continue;
    const QString kind = QString::fromStdString(car->vehicle_class);
    if (kinds.contains(kind)) continue;  // one of each kind is enough to begin with
    kinds << kind;
    cars_ << file.path;
  }
  kind_ = new Segmented(QStringLiteral("welcome.kind"), kinds, this, 3);
  column->addWidget(kind_);
  title(tr("On what, mostly?"), 16);
  QStringList names;
  for (const auto& s : surfaces()) {
    if (s.value == Surface::unknown) continue;
    surfaces_.push_back(s.value);
    names << fromCore(s.label);
  }
  surface_ = new Segmented(QStringLiteral("welcome.surface"), names, this, 5);
  column->addWidget(surface_);
  title(tr("What is at hand?"), 16);
  auto* tools = new QHBoxLayout;
  tools->setSpacing(24);
  const auto tool = [&](const QString& name, const QString& text) {
    auto* b = new QCheckBox(text, this);
    b->setObjectName(name);
    tools->addWidget(b);
    return b;
  };
  caliper_ = tool(QStringLiteral("welcome.caliper"), tr("a caliper"));
  gauges_ = tool(QStringLiteral("welcome.gauges"), tr("camber, toe and ride-height gauges"));
  scales_ = tool(QStringLiteral("welcome.scales"), tr("scales under the wheels"));
  tools->addStretch(1);
  column->addLayout(tools);
  column->addSpacing(16);
  auto* buttons = new QHBoxLayout;
  auto* begin = new QPushButton(tr("Begin"), this);
  begin->setObjectName(QStringLiteral("welcome.begin"));
  begin->setProperty("primary", true);
  begin->setProperty("big", true);
  connect(begin, &QPushButton::clicked, this, &Welcome::begin);
  auto* skip = new QPushButton(tr("Skip, show the demo car"), this);
  skip->setObjectName(QStringLiteral("welcome.skip"));
  skip->setProperty("quiet", true);
  connect(skip, &QPushButton::clicked, this, [this] {
    Kept().setValue(doneKey, true);
    Q_EMIT skipped();
  });
  buttons->addWidget(begin);
  buttons->addWidget(skip);
  buttons->addStretch(1);
  column->addLayout(buttons);
  column->addStretch(2);
}

void Welcome::begin() {
  Kept().setValue(doneKey, true);
  const auto kind = static_cast<qsizetype>(std::max(0, kind_->current()));
  const auto surface = at(std::max(0, surface_->current()));
  Q_EMIT answered({cars_.value(kind),
                   surface < surfaces_.size() ? surfaces_[surface] : Surface::unknown,
                   {caliper_->isChecked(), gauges_->isChecked(), scales_->isChecked()}});
}

}  // namespace lowkite::app
