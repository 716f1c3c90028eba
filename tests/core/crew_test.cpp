// Work shared out between threads: each piece once, and nobody goes home before it is done.
#include <chrono>
#include <mutex>
#include <set>

#include <gtest/gtest.h>

#include "core/threads/crew.hpp"

namespace lowkite {
namespace {

TEST(Crew, DoesEachPieceOnceHoweverManyHandsThereAre) {
  for (const unsigned hands : {0U, 1U, 2U, 7U, 64U})
    for (const std::size_t count : {0U, 1U, 5U, 1000U}) {
      std::vector<std::atomic<int>> done(count);
      for_each_by_hands(count, hands, [&](std::size_t i) { ++done[i]; });
      for (const auto& d : done) EXPECT_EQ(d, 1) << hands << " hands, " << count << " pieces";
    }
}

TEST(Crew, EveryHandWorksOnceAndTheAskerIsOneOfThem) {
  std::mutex door;
  std::set<unsigned> hands;
  std::set<std::thread::id> threads;
  by_hands(4, [&](unsigned hand) {
    const std::lock_guard lock(door);
    EXPECT_TRUE(hands.insert(hand).second);
    threads.insert(std::this_thread::get_id());
  });
  EXPECT_EQ(hands, (std::set<unsigned>{0, 1, 2, 3}));
  EXPECT_EQ(threads.size(), 4U);
  EXPECT_EQ(threads.count(std::this_thread::get_id()), 1U);
  EXPECT_GE(hands_of(0), 1U);
  EXPECT_EQ(hands_of(3), 3U);
}

TEST(Crew, OnePieceThatLastsHoldsUpNoneOfTheOthers) {
  std::atomic<int> others = 0;
  std::atomic<bool> went_on = true;
  for_each_by_hands(200, 2, [&](std::size_t i) {
    if (i > 0) {
      ++others;
      return;
    }
    // Dealt out in turn, half of the others would wait for this one.
    const auto late = std::chrono::steady_clock::now() + std::chrono::seconds(20);
    while (others < 199 && went_on) {
      went_on = std::chrono::steady_clock::now() < late;
      std::this_thread::yield();
    }
  });
  EXPECT_TRUE(went_on);
}

}  // namespace
}  // namespace lowkite
