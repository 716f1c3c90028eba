// The two cars that Plan compares, put on their springs once for everyone who looks at them.
#pragma once

#include <memory>
#include <optional>

#include <QObject>

#include "app/compute/plan_model.h"
#include "core/figures/load_source.hpp"

namespace lowkite::app {

struct SprungCar {
  std::shared_ptr<const Variant> variant;  ///< the loaded car points into it
  std::optional<LoadedCar> car;            ///< none: `wrong` says why
  QString wrong;
};

class SprungCars : public QObject {
  Q_OBJECT
 public:
  explicit SprungCars(PlanModel& model, QObject* parent = nullptr);

  [[nodiscard]] PlanModel& model() { return model_; }
  /// With everything put back, and the pinned baseline; worked out when asked for. Both without a car where there is no
  /// comparison.
  const SprungCar& now();
  const SprungCar& before();
  [[nodiscard]] bool differ();

 Q_SIGNALS:
  void changed();

 private:
  PlanModel& model_;
  SprungCar now_, before_;
};

}  // namespace lowkite::app
