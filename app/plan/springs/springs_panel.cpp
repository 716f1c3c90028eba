#include "app/plan/springs/springs_panel.h"

#include <cmath>

#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/springs/collar_page.h"
#include "app/plan/springs/corner_page.h"
#include "app/plan/springs/damper_page.h"
#include "app/plan/springs/load_panel.h"
#include "app/plan/springs/motion_page.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"

namespace lowkite::app {

SpringsPanel::SpringsPanel(SprungCars& cars, QWidget* parent) : QFrame(parent), cars_(cars) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("springs"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 0, 4, 1);
  column->setSpacing(2);
  choice_ = new Segmented(
      QStringLiteral("springs.page"),
      {tr("Held in a turn"), tr("Through a corner"), tr("Over bumps"), tr("Dampers"), tr("Collars and weights")}, this);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  pages_ = new QStackedWidget(this);
  corner_ = new CornerPage(cars, pages_);
  motion_ = new MotionPage(cars, pages_);
  auto* collars = new CollarPage(cars, pages_);
  turn_ = new LoadPanel(cars, pages_);
  for (QWidget* page : {static_cast<QWidget*>(turn_), static_cast<QWidget*>(corner_), static_cast<QWidget*>(motion_),
                        static_cast<QWidget*>(new DamperPage(cars, pages_)), static_cast<QWidget*>(collars)})
    pages_->addWidget(page);
  auto* top = new QHBoxLayout;
  top->setSpacing(6);
  top->addWidget(choice_);
  top->addStretch(1);
  const auto leadsTo = [&](const QString& name, const QString& text, const QString& tip) {
    auto* button = new QPushButton(text, this);
    button->setObjectName(name);
    button->setToolTip(tip);
    button->setMinimumHeight(targetHeight);
    top->addWidget(button);
    return button;
  };
  moves_ = leadsTo(QStringLiteral("springs.moves"), tr("What moves it \u2026"),
                   tr("What one step of every part does to the car on its springs, the most first."));
  recipe_ = leadsTo(QStringLiteral("springs.recipe"), tr("Recipe \u2026"),
                    tr("Which parts give the roll, load transfer or frequency that is wanted."));
  connect(moves_, &QPushButton::clicked, this, [this] { Q_EMIT stepsWanted(turn_->turn()); });
  connect(recipe_, &QPushButton::clicked, this, [this] { Q_EMIT recipeWanted(turn_->turn()); });
  connect(&cars, &SprungCars::changed, this, &SpringsPanel::refresh);
  column->addLayout(top);
  column->addWidget(pages_, 1);
  showPage(Page::turn);
  connect(collars, &CollarPage::cgHeightFound, this, [this, &cars](double mm) {
    Document& d = cars.model().document();
    Json source = d.state().carSource;
    source["centre_of_gravity"]["height_mm"] = std::round(10.0 * mm) / 10.0;
    const auto done = d.editCar(std::move(source), tr("Height of the centre of gravity"));
    Q_EMIT told(done ? tr("The car's centre of gravity is %1 mm over the plate's underside now.").arg(number(mm, 1))
                     : QString::fromStdString(done.error().front().line()));
  });
}

/// The pages say why a car does not stand on its springs.
void SpringsPanel::refresh() {
  if (!isVisible()) return;
  const bool stands = cars_.now().car.has_value();
  moves_->setEnabled(stands);
  recipe_->setEnabled(stands);
}

void SpringsPanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

void SpringsPanel::showPage(Page page) {
  choice_->setCurrent(static_cast<int>(page));
  pages_->setCurrentIndex(static_cast<int>(page));
}

}  // namespace lowkite::app
