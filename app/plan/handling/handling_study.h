// What the pages about handling are told from: two setups over the same tyres.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include <QString>

#include "core/handling/over_tyres.hpp"

namespace lowkite::app {

/// The pinned baseline, and the car with everything put back.
struct HandlingStudy {
  std::shared_ptr<const Car> car;
  Setup before_setup, after_setup;
  CornerAsk ask;
  std::string family;
  std::vector<TyreDraw> tyres;
  std::vector<double> weights;  ///< by the racer's log; empty: all alike
  std::shared_ptr<const SetupTable> before, after;
  std::shared_ptr<const Handling> over_before, over_after;
  QString wrong;  ///< why there is nothing; empty: there is

  [[nodiscard]] bool differs() const { return before_setup != after_setup; }
};

}  // namespace lowkite::app
