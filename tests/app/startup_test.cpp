// The program as a process: options, pictures, and a kill in the middle of the work.
#include <csignal>

#include <QDir>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include <gtest/gtest.h>

namespace lowkite::app {
namespace {

class Startup : public testing::Test {
 protected:
  /// Runs the program in a home of its own. Returns its exit status, or -1.
  int run(const QStringList& arguments, int timeoutMs = 60'000) {
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert(QStringLiteral("HOME"), home_.path());
    e.insert(QStringLiteral("XDG_DATA_HOME"), home_.filePath(QStringLiteral("data")));
    e.insert(QStringLiteral("XDG_CONFIG_HOME"), home_.filePath(QStringLiteral("config")));
    e.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("offscreen"));
    program_.setProcessEnvironment(e);
    program_.start(QStringLiteral(LOWKITE_PROGRAM), arguments);
    if (!program_.waitForFinished(timeoutMs)) return -1;
    return program_.exitStatus() == QProcess::NormalExit ? program_.exitCode() : -1;
  }
  QTemporaryDir home_;
  QProcess program_;
};

TEST_F(Startup, HelpAndVersionEndAtOnce) {
  EXPECT_EQ(run({QStringLiteral("--help")}), 0);
  const QString help = QString::fromUtf8(program_.readAllStandardOutput());
  for (const char* option : {"--demo", "--grab", "--dark", "CAR"})
    EXPECT_TRUE(help.contains(QLatin1String(option))) << option;
  EXPECT_EQ(run({QStringLiteral("--version")}), 0);
  EXPECT_TRUE(program_.readAllStandardOutput().contains(LOWKITE_VERSION));
}

TEST_F(Startup, TooManyFilesAreWrongUsage) {
  EXPECT_EQ(run({QStringLiteral("a"), QStringLiteral("b"), QStringLiteral("c")}), 2);
  EXPECT_NE(run({QStringLiteral("--no-such-option")}), 0);
}

TEST_F(Startup, GrabWritesAPictureOfEachMainView) {
  const QString folder = home_.filePath(QStringLiteral("pictures"));
  ASSERT_EQ(run({QStringLiteral("--grab"), folder}, 240'000), 0);
  const QStringList pictures = QDir(folder).entryList({QStringLiteral("*.png")});
  EXPECT_GE(pictures.size(), 5);
  for (const QString& name : pictures)
    EXPECT_EQ(QImage(QDir(folder).filePath(name)).size(), QSize(1280, 800)) << name.toStdString();
}

TEST_F(Startup, RunsUntilItIsStopped) {
  EXPECT_EQ(run({QStringLiteral("--demo")}, 1500), -1) << "the window stays open";
  program_.kill();
  program_.waitForFinished();
}

}  // namespace
}  // namespace lowkite::app
