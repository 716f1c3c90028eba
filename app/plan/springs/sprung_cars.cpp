#include "app/plan/springs/sprung_cars.h"

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

void bring(SprungCar& sprung, const std::shared_ptr<const Variant>& variant) {
  if (sprung.variant == variant) return;
  sprung = {};
  sprung.variant = variant;
  if (!variant) return;
  auto car = LoadedCar::of(variant->model);
  if (car) {
    sprung.car.emplace(std::move(*car));
  } else {
    sprung.wrong = sentenceOf(car.error());
  }
}

}  // namespace

SprungCars::SprungCars(PlanModel& model, QObject* parent) : QObject(parent), model_(model) {
  connect(&model_, &PlanModel::comparisonChanged, this, &SprungCars::changed);
}

const SprungCar& SprungCars::now() {
  const Comparison* c = model_.comparison();
  bring(now_, c ? c->reset : nullptr);
  return now_;
}

const SprungCar& SprungCars::before() {
  const Comparison* c = model_.comparison();
  bring(before_, c ? c->baseline : nullptr);
  return before_;
}

bool SprungCars::differ() {
  return now().variant != before().variant;
}

}  // namespace lowkite::app
