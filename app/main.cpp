// The program: options, settings, one window.
#include <string_view>

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>

#include "app/document/open_files.h"
#include "app/grabs/screen_grabs.h"
#include "app/kept/kept.h"
#include "app/main_window.h"
#include "app/track/track_workspace.h"
#include "app/words/spoken_window.h"
#include "core/words/catalogue.hpp"

int main(int argc, char** argv) {
  using namespace lowkite;
  using namespace lowkite::app;
  // What only writes words or files needs no screen.
  for (int i = 1; i < argc; ++i) {
    const std::string_view word(argv[i]);
    if (word == "--version" || word == "-v" || word == "--help" || word == "-h" || word.starts_with("--grab") ||
        word.starts_with("--drawing"))
      qputenv("QT_QPA_PLATFORM", "offscreen");
  }
  QApplication app(argc, argv);
  speak(catalogue(catalogue_folder(QApplication::applicationFilePath().toStdString())));
  SpokenWindow spoken;
  QApplication::installTranslator(&spoken);
  // Qt's own buttons speak the language that the program does: beside English ones they would be strangers.
  const bool translated = QApplication::translate("MainWindow", "&Undo") != QLatin1String("&Undo");
  const auto qt = translated ? spokenQt(QLocale::system()) : nullptr;
  if (qt) QApplication::installTranslator(qt.get());
  QApplication::setApplicationName(QStringLiteral("lowkite"));
  QApplication::setApplicationDisplayName(QStringLiteral("Low Kite"));
  QApplication::setApplicationVersion(QStringLiteral(LOWKITE_VERSION));
  QGuiApplication::setDesktopFileName(QStringLiteral("org.lowkite.LowKite"));
  QApplication::setWindowIcon(QIcon(QStringLiteral(":/lowkite.svg")));
  QApplication::setOrganizationName(QStringLiteral("lowkite"));

  QCommandLineParser parser;
  parser.setApplicationDescription(QApplication::translate(
      "main", "Suspension and steering set-up for 1/10 racing cars, computed before the car is touched."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("files"),
                               QApplication::translate("main", "A car, a setup, or a car and one of its setups."),
                               QStringLiteral("[CAR] [SETUP]"));
  const QCommandLineOption demo(QStringLiteral("demo"),
                                QApplication::translate("main", "Open the demo car with its setup."));
  const QCommandLineOption dark(QStringLiteral("dark"), QApplication::translate("main", "Start in dark colours."));
  const QCommandLineOption grab(QStringLiteral("grab"),
                                QApplication::translate("main", "Write pictures of the main views into DIR and end."),
                                QStringLiteral("DIR"));
  const QCommandLineOption size(QStringLiteral("size"),
                                QApplication::translate("main", "How large those pictures are, as 1920x1080."),
                                QStringLiteral("WxH"), QStringLiteral("1280x800"));
  const QCommandLineOption drawing(
      QStringLiteral("drawing"),
      QApplication::translate("main", "Write the front view of an axle as FILE (.svg or .pdf) and end."),
      QStringLiteral("FILE"));
  const QCommandLineOption axle(QStringLiteral("axle"),
                                QApplication::translate("main", "Which axle to draw: front (the default) or rear."),
                                QStringLiteral("AXLE"), QStringLiteral("front"));
  parser.addOptions({demo, dark, grab, size, drawing, axle});
  parser.process(app);
  const QStringList files = parser.positionalArguments();
  if (files.size() > 2) {
    std::fputs(qPrintable(QApplication::translate("main", "At most a car and a setup can be opened.\n")), stderr);
    return 2;
  }

  const QString dataFolder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
  const bool grabbing = parser.isSet(grab) || parser.isSet(drawing);
  if (grabbing) QStandardPaths::setTestModeEnabled(true);  // the racer's settings stay out of the pictures
  // Pictures are taken on a clean table: no runs or recovery copies of the racer's, and none left behind.
  const QTemporaryDir clean;
  if (grabbing) QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, clean.path());
  const bool startDark = !grabbing && (parser.isSet(dark) || Kept().value(QStringLiteral("look/dark")).toBool());
  applyTheme(app, startDark ? Shade::dark : Shade::light);
  // The demo has a log of its own: an invented season is never mixed with the racer's.
  const bool demoLog = grabbing || parser.isSet(demo);
  MainWindow window((grabbing  ? clean.path()
                     : demoLog ? dataFolder + QStringLiteral("/demo")
                               : dataFolder) +
                    QStringLiteral("/autosave"));
  if (demoLog && !parser.isSet(drawing)) window.track().model().fillWithDemo();
  if (startDark) window.setShade(Shade::dark);
  if (parser.isSet(drawing))
    return drawTo(window, files, parser.value(axle) == QLatin1String("rear"), parser.value(drawing)) ? 0 : 1;
  if (grabbing) {
    const QStringList sides = parser.value(size).split(QLatin1Char('x'));
    const QSize asked(sides.value(0).toInt(), sides.value(1).toInt());
    if (asked.isEmpty()) {
      std::fputs(qPrintable(QApplication::translate("main", "A size is written as 1920x1080.\n")), stderr);
      return 2;
    }
    return grabScreens(window, parser.value(grab), asked) ? 0 : 1;
  }

  if (!parser.isSet(demo)) window.asLastTime();
  if (!files.isEmpty())
    window.take(openFiles(files));
  else if (parser.isSet(demo))
    window.take(openDemo());
  else
    window.openLast();
  window.offerRecovery();
  window.show();
  return QApplication::exec();
}
