// What is kept between two starts: there at once, on disk soon, whatever the disk and other programs do.
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
  QFile::remove(path_);
  ASSERT_TRUE(QDir().mkpath(path_));  // no file can be written there
  Kept().setValue(key, 3);
  Kept::settle();
  EXPECT_EQ(Kept().value(key).toInt(), 3);
  ASSERT_TRUE(QDir().rmdir(path_));
  Kept::settle();
  EXPECT_TRUE(onDisk().contains("width=3\n")) << onDisk().constData();
}

}  // namespace
}  // namespace lowkite::app
