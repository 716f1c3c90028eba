// What is kept between two starts: there at once, on disk soon, whatever the disk and other programs do.
#include <QApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QSettings>
#include <QStringList>

#include <gtest/gtest.h>

#include "app/kept/kept.h"

namespace lowkite::app {
namespace {

const QString key = QStringLiteral("keptTest/width");

class KeptTest : public testing::Test {
 protected:
  KeptTest() {
    Kept().clear();
    Kept::settle();
  }
  /// The file itself: another QSettings of this process would share its memory with ours, and wait with it.
  [[nodiscard]] QByteArray onDisk() const {
    QFile file(path_);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
  }
  const QString path_ = QSettings().fileName();
};

TEST_F(KeptTest, ADiskThatKeepsWaitingKeepsNoHandWaiting) {
  // Who writes the settings waits for this lock.
  ASSERT_TRUE(QDir().mkpath(QFileInfo(path_).path()));
  QLockFile busy(path_ + QStringLiteral(".lock"));
  ASSERT_TRUE(busy.tryLock(5000));
  for (int width = 1; width <= 200; ++width) {
    Kept().setValue(key, width);
    EXPECT_EQ(Kept().value(key).toInt(), width);
  }
  EXPECT_FALSE(onDisk().contains("width="));
  busy.unlock();
  Kept::settle();
  EXPECT_TRUE(onDisk().contains("width=200\n")) << "the last one is kept";
  Kept().remove(key);
  EXPECT_FALSE(Kept().contains(key));
  EXPECT_EQ(Kept().value(key, 7).toInt(), 7);
  Kept::settle();
  EXPECT_FALSE(onDisk().contains("width="));
}

TEST_F(KeptTest, WhatAnotherProgramWroteIsSeenAndNotWrittenOver) {
  Kept().setValue(key, 1);
  Kept::settle();
  QFile file(path_);
  ASSERT_TRUE(file.open(QIODevice::Append));
  file.write("theirs=a, b\n");
  file.close();
  EXPECT_EQ(Kept().value(QStringLiteral("keptTest/theirs")).toStringList().size(), 2);
  Kept().setValue(key, 2);
  Kept::settle();
  EXPECT_TRUE(onDisk().contains("theirs=a, b\n")) << onDisk().constData();
  EXPECT_TRUE(onDisk().contains("width=2\n")) << onDisk().constData();
}

TEST_F(KeptTest, WhatCouldNotBeWrittenStaysAndIsTriedAgain) {
  QStringList told;
  QObject listener;
  Kept::tellFailures(&listener, [&](const QString& path) { told << path; });
  const auto blocked = [&](bool is) {
    QFile::remove(path_);
    ASSERT_TRUE(is ? QDir().mkpath(path_) : QDir().rmdir(path_));  // no file can be written there
  };
  blocked(true);
  for (int i = 0; i < 3; ++i) {
    Kept().setValue(key, 3 + i);
    Kept::settle();
  }
  EXPECT_EQ(Kept().value(key).toInt(), 5);
  QApplication::processEvents();
  EXPECT_EQ(told, QStringList{path_}) << "once, not at each try";
  blocked(false);
  Kept::settle();
  EXPECT_TRUE(onDisk().contains("width=5\n")) << onDisk().constData();
  blocked(true);
  Kept().setValue(key, 6);
  Kept::settle();
  QApplication::processEvents();
  EXPECT_EQ(told.size(), 2) << "it could be written meanwhile";
  blocked(false);
  Kept::settle();
}

}  // namespace
}  // namespace lowkite::app
