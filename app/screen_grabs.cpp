#include "app/screen_grabs.h"

#include <QApplication>
#include <QDir>
#include <QPixmap>

#include "app/document/open_files.h"
#include "app/main_window.h"
#include "app/plan/plan_workspace.h"
#include "app/shared/banner.h"
#include "app/shared/fault_panel.h"
#include "core/io/car_file.hpp"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

void settle(MainWindow& window) {
  window.plan().model().flush();
  for (int i = 0; i < 5; ++i) QApplication::processEvents();
}

Faults sampleFaults() {
  // A real car file with a few slips of the pen, checked by the real loader.
  const auto text = read_file(data_folder() / "cars" / "heron-tc190.kite-car.json");
  auto j = parse_json(*text, "");
  (*j)["axles"]["front"]["points"]["link_inner"] = {-6, 31.5};
  (*j)["axles"]["front"]["tyre"]["radius_mm"] = 3175;
  (*j)["adjusters"][0]["kind"] = "shims";
  const auto car = read_car(j->dump(), "my-car.kite-car.json");
  return car ? Faults{} : car.error();
}

}  // namespace

bool grabScreens(MainWindow& window, const QString& folder) {
  QDir().mkpath(folder);
  bool good = true;
  const auto grab = [&](const QString& name) {
    settle(window);
    good &= window.grab().save(QDir(folder).filePath(name + QStringLiteral(".png")));
  };
  const auto stepped = [&](const char* id, int steps) {
    Document& d = window.document();
    PlanModel& m = window.plan().model();
    m.setPart(d.car().find_adjuster(id));
    for (int i = 0; i < std::abs(steps); ++i) m.stepPart(steps > 0 ? 1 : -1);
  };
  window.show();
  window.take(openDemo());
  stepped("front_link_inner_shims", -4);
  grab(QStringLiteral("plan-front"));
  window.plan().showLower(1);
  window.plan().model().setConstructionStep(4);
  grab(QStringLiteral("plan-roll-centre"));
  window.plan().showLower(0);
  window.plan().setZoom(1);
  window.plan().model().setSides(Sides::left);
  stepped("front_tie_outer_shims", 2);
  grab(QStringLiteral("plan-left-corner"));
  window.plan().setZoom(0);
  window.plan().model().setSides(Sides::both);
  window.document().undoStack().setIndex(0);
  window.plan().model().setEnd(End::rear);
  stepped("rear_hub_shims", 1);
  window.plan().model().setAttitude({1.5, radians(1.5), 0.0});
  window.setShade(Shade::dark);
  grab(QStringLiteral("plan-rear-dark"));
  window.setShade(Shade::light);
  window.take(
      openFile(QString::fromStdString((data_folder() / "setups" / "plover-loose-dirt.kite-setup.json").string())));
  window.plan().model().setEnd(End::front);
  stepped("front_caster_block", 1);
  grab(QStringLiteral("plan-buggy"));
  window.take(openDemo());
  window.faultPanel().show(sampleFaults());
  grab(QStringLiteral("faults"));
  window.faultPanel().hide();
  return good;
}

}  // namespace lowkite::app
