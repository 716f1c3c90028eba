// Runs the interface tests in one QApplication without a monitor, away from the racer's own settings.
#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>

#include <gtest/gtest.h>

#include "app/look/theme.h"
#include "tests/app/timed_application.h"

int main(int argc, char** argv) {
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  const QTemporaryDir settings;  // of this process alone: tests run side by side, and find nothing of the time before
  for (const char* home : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"})
    qputenv(home, settings.path().toLocal8Bit());
  lowkite::app::TimedApplication app(argc, argv);
  QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
  QApplication::setApplicationName(QStringLiteral("lowkite-tests"));
  QApplication::setOrganizationName(QStringLiteral("lowkite-tests"));
  lowkite::app::applyTheme(app, lowkite::app::Shade::light);
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
