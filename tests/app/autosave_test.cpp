// Unsaved work and crashes: the copy that is kept, who may offer it, and what becomes of it.
#include <csignal>

#include <QDir>
#include <QFile>
#include <QProcess>

#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Recovery : public WindowTest {
 protected:
  QStringList copies() {
    return QDir(folder_.filePath(QStringLiteral("autosave")))
        .entryList({QStringLiteral("*.kite-recovery.json")}, QDir::Files);
  }
};

TEST_F(Recovery, UnsavedWorkIsCopiedSoonAfterTheEdit) {
  EXPECT_TRUE(copies().isEmpty());
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
}

TEST_F(Recovery, SavedWorkLeavesNoCopy) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
  ASSERT_TRUE(window_->saveTo(folder_.filePath(QStringLiteral("x.kite-setup.json"))));
  EXPECT_TRUE(QTest::qWaitFor([&] { return copies().isEmpty(); }, 5 * Autosave::delayMs));
}

TEST_F(Recovery, AProperEndLeavesNothingToOffer) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
  window_.reset();
  EXPECT_TRUE(copies().isEmpty());
}

TEST_F(Recovery, WorkOfARunningProgramIsNotOffered) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
  const auto second = newWindow();
  second->offerRecovery();
  EXPECT_FALSE(second->banner().isVisibleTo(second.get()));
}

TEST_F(Recovery, AfterAKillTheWorkIsOfferedAndComesBackWhole) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  click(QStringLiteral("pin"));
  click(QStringLiteral("adjuster.front_caster_block.more"));
  const lowkite::Setup work = document().setup();
  const lowkite::Setup baseline = document().baseline();
  ASSERT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
  // What a killed program leaves: its copy, and a lock that no living process holds.
  const QString autosave = folder_.filePath(QStringLiteral("autosave"));
  const QString crashed = autosave + QStringLiteral("/crashed.kite-recovery.json");
  QTest::qWait(Autosave::delayMs + 200);
  ASSERT_TRUE(QFile::copy(autosave + QLatin1Char('/') + copies().front(), crashed));
  window_.reset();

  window_ = newWindow();
  window_->show();
  window_->offerRecovery();
  ASSERT_TRUE(window_->banner().isVisible());
  click(QStringLiteral("banner.action.0"));
  EXPECT_EQ(document().setup(), work);
  EXPECT_EQ(document().baseline(), baseline);
  EXPECT_TRUE(document().isModified()) << "recovered work is on no disk of the racer's yet";
  EXPECT_FALSE(QFile::exists(crashed));
}

TEST_F(Recovery, ADamagedCopyIsRefusedWithItsFaults) {
  const QString crashed = folder_.filePath(QStringLiteral("autosave/broken.kite-recovery.json"));
  QFile f(crashed);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write("{\"format\": \"lowkite-recovery\", \"car_path\": \"/nowhere\"");
  f.close();
  window_->offerRecovery();
  click(QStringLiteral("banner.action.0"));
  EXPECT_TRUE(window_->faultPanel().isVisible());
  EXPECT_EQ(document().car().id, "heron-tc190");
}

}  // namespace
}  // namespace lowkite::app
