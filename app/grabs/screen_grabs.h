// Pictures of the main views, made from the demo data, for the documentation.
#pragma once

#include <QSize>
#include <QStringList>

namespace lowkite::app {

class MainWindow;

/// Writes one PNG of each main view into `folder`, at the window's size. False when a picture could not be written.
bool grabScreens(MainWindow& window, const QString& folder, const QSize& size);

/// Writes the front view of an axle of what `files` name (nothing: the demo) as SVG or PDF, and what is wrong on
/// standard error.
bool drawTo(MainWindow& window, const QStringList& files, bool rear, const QString& path);

}  // namespace lowkite::app
