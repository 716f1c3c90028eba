// Where the window is while it does not answer: a walk that is asked for (LOWKITE_WALK_STALL=ms) writes the stack of a
// step that takes longer to stderr, as places in the program (gdb: info symbol).
#pragma once

#include <atomic>
#include <chrono>
#include <thread>

namespace lowkite::app {

class StallWatch {
 public:
  StallWatch();
  ~StallWatch();
  StallWatch(const StallWatch&) = delete;
  StallWatch& operator=(const StallWatch&) = delete;

  /// While it lives, something is done that the window should soon have done with.
  class Act {
   public:
    explicit Act(StallWatch& watch) : watch_(watch) { watch_.since_ = now(); }
    ~Act() { watch_.since_ = 0; }
    Act(const Act&) = delete;
    Act& operator=(const Act&) = delete;

   private:
    StallWatch& watch_;
  };

 private:
  static std::int64_t now() {
    using namespace std::chrono;
    return duration_cast<milliseconds>(steady_clock::now().time_since_epoch()).count();
  }
  std::int64_t limit_ms_ = 0;  ///< 0: nobody asked
  std::atomic<std::int64_t> since_{0};
  std::jthread thread_;
};

}  // namespace lowkite::app
