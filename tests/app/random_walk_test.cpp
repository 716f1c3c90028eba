// A walk of random acts through the whole window, from a printed seed. LOWKITE_WALK_SEED and LOWKITE_WALK_STEPS make
// one walk as long as is wanted (tools/random-walk).
#include <QElapsedTimer>
#include <QStandardPaths>

#include <gtest/gtest.h>

#include "app/document/open_files.h"
#include "app/kept/kept.h"
#include "app/track/track_workspace.h"
#include "tests/app/random_walk.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

void walk(std::uint32_t seed, int steps) {
  // Nothing of a walk before: the same seed goes the same way.
  Kept().clear();
  for (const QString& own : {ownCarsFolder(), ownSetupsFolder()}) QDir(own).removeRecursively();
  QTemporaryDir folder, files;
  const QString trace = QDir::temp().filePath(QStringLiteral("lowkite-walk-%1.txt").arg(seed));
  MainWindow window(folder.filePath(QStringLiteral("autosave")));
  window.take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  window.track().model().fillWithDemo();
  window.resize(1280, 800);
  window.show();
  ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
  RandomWalk walk(window, seed, files.path(), trace);
  QElapsedTimer clock;
  clock.start();
  const long before = residentMb();
  for (int i = 1; i <= steps; ++i) {
    walk.step();
    if (i % 250 == 0 || i == steps) {
      ASSERT_EQ(walk.undoneAndRedone(), "") << "seed " << seed << " step " << i << ", " << trace.toStdString();
    }
  }
  if (qEnvironmentVariableIsSet("LOWKITE_WALK_STEPS")) {
    std::vector<std::pair<QString, RandomWalk::Slowest>> slow(walk.slowest().begin(), walk.slowest().end());
    std::sort(slow.begin(), slow.end(), [](const auto& a, const auto& b) { return a.second.ms > b.second.ms; });
    std::printf("seed %u: %d steps in %lld ms, memory %ld to %ld MB\n", seed, steps,
                static_cast<long long>(clock.elapsed()), before, residentMb());
    for (std::size_t i = 0; i < slow.size() && i < 25; ++i)
      if (slow[i].second.ms > 100)
        std::printf("  %6lld ms  step %d  %s: %s\n", static_cast<long long>(slow[i].second.ms), slow[i].second.step,
                    qPrintable(slow[i].first), qPrintable(slow[i].second.what));
  }
  EXPECT_LT(residentMb() - before, 800) << "seed " << seed << ", " << trace.toStdString();
}

class RandomWalkTest : public testing::TestWithParam<int> {};

TEST_P(RandomWalkTest, NothingThatAHandDoesBreaksTheWindow) {
  walk(static_cast<std::uint32_t>(GetParam()), 300);
}

INSTANTIATE_TEST_SUITE_P(TenSeeds, RandomWalkTest, testing::Range(1, 11));

/// A walk as long as is wanted, by tools/random-walk.
TEST(RandomWalkAsked, DISABLED_AsLongAsWanted) {
  walk(static_cast<std::uint32_t>(qEnvironmentVariableIntValue("LOWKITE_WALK_SEED")),
       qEnvironmentVariableIntValue("LOWKITE_WALK_STEPS"));
}

}  // namespace
}  // namespace lowkite::app
