// Work shared out between threads that last as long as it does.
#pragma once

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <thread>
#include <vector>

namespace lowkite {

/// How many threads `threads` stands for; 0: as many as the machine runs at once.
inline unsigned hands_of(unsigned threads) {
  return std::max(1U, threads > 0 ? threads : std::thread::hardware_concurrency());
}

/// `work(hand)` once by each of `hands` threads, the asker's among them (hand 0); back when all are done. It must not
/// throw.
template <class Work>
void by_hands(unsigned hands, const Work& work) {
  std::vector<std::jthread> crew;
  for (unsigned h = 1; h < hands; ++h) crew.emplace_back([&work, h] { work(h); });
  work(0U);
}

/// `work(i)` once for each i below `count`, the next one by whoever is free: some take longer, and some hands are held
/// up by others' work. `work` must not throw.
template <class Work>
void for_each_by_hands(std::size_t count, unsigned hands, const Work& work) {
  std::atomic<std::size_t> next = 0;
  by_hands(static_cast<unsigned>(std::clamp<std::size_t>(count, 1, std::max(1U, hands))), [&](unsigned) {
    for (std::size_t i = next++; i < count; i = next++) work(i);
  });
}

}  // namespace lowkite
