#include "app/plan/springs/springs_panel.h"

#include <cmath>

#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/plan/springs/collar_page.h"
#include "app/plan/springs/corner_page.h"
#include "app/plan/springs/damper_page.h"
#include "app/plan/springs/load_panel.h"
#include "app/plan/springs/motion_page.h"
#include "app/plan/springs/wish_page.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"

namespace lowkite::app {

SpringsPanel::SpringsPanel(SprungCars& cars, MyBoxes& boxes, QWidget* parent) : QFrame(parent) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("springs"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 0, 4, 1);
  column->setSpacing(2);
  choice_ = new Segmented(QStringLiteral("springs.page"),
                          {tr("Held in a turn"), tr("Through a corner"), tr("Over bumps"), tr("Dampers"),
                           tr("Collars and weights"), tr("Wish")},
                          this);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  pages_ = new QStackedWidget(this);
  corner_ = new CornerPage(cars, pages_);
  motion_ = new MotionPage(cars, pages_);
  wish_ = new WishPage(cars, boxes, pages_);
  auto* collars = new CollarPage(cars, pages_);
  for (QWidget* page : {static_cast<QWidget*>(new LoadPanel(cars, pages_)), static_cast<QWidget*>(corner_),
                        static_cast<QWidget*>(motion_), static_cast<QWidget*>(new DamperPage(cars, pages_)),
                        static_cast<QWidget*>(collars), static_cast<QWidget*>(wish_)})
    pages_->addWidget(page);
  column->addWidget(choice_, 0, Qt::AlignLeft);
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

void SpringsPanel::showPage(Page page) {
  choice_->setCurrent(static_cast<int>(page));
  pages_->setCurrentIndex(static_cast<int>(page));
}

}  // namespace lowkite::app
