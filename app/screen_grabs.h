// Pictures of the main views, made from the demo data, for the documentation.
#pragma once

#include <QString>

namespace lowkite::app {

class MainWindow;

/// Writes one PNG of each main view into `folder`, at the window's size. False when a picture could not be written.
bool grabScreens(MainWindow& window, const QString& folder);

}  // namespace lowkite::app
