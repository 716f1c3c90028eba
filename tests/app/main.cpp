// Runs the interface tests in one QApplication without a monitor, away from the racer's own settings.
#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <gtest/gtest.h>

#include "app/look/theme.h"

int main(int argc, char** argv) {
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QStandardPaths::setTestModeEnabled(true);
  QApplication app(argc, argv);
  const QTemporaryDir settings;  // of this process alone: tests run side by side
  QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
  QApplication::setApplicationName(QStringLiteral("lowkite-tests"));
  QApplication::setOrganizationName(QStringLiteral("lowkite-tests"));
  lowkite::app::applyTheme(app, lowkite::app::Shade::light);
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
