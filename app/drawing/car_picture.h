// A car from above, as small as a sign: wheels and plate in their places.
#pragma once

#include <QIcon>
#include <QPalette>

#include "core/car/car.hpp"

namespace lowkite::app {

QIcon carPicture(const Car& car, const QPalette& palette);

}  // namespace lowkite::app
