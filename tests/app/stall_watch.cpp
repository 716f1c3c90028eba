#include "tests/app/stall_watch.h"

#include <array>
#include <csignal>
#include <cstdlib>

#include <execinfo.h>
#include <pthread.h>
#include <unistd.h>

namespace lowkite::app {
namespace {

void writeStack(int) {
  static constexpr std::string_view title = "the window is away:\n";
  std::array<void*, 60> frames;
  const int depth = ::backtrace(frames.data(), static_cast<int>(frames.size()));
  if (::write(STDERR_FILENO, title.data(), title.size()) < 0) return;
  ::backtrace_symbols_fd(frames.data(), depth, STDERR_FILENO);
}

}  // namespace

StallWatch::StallWatch() {
  const char* asked = std::getenv("LOWKITE_WALK_STALL");
  limit_ms_ = asked ? std::atoll(asked) : 0;
  if (limit_ms_ <= 0) return;
  std::array<void*, 1> loaded;
  ::backtrace(loaded.data(), 1);  // what it needs is loaded now, not in the handler
  std::signal(SIGUSR1, writeStack);
  thread_ = std::jthread([this, window = ::pthread_self()](const std::stop_token& stop) {
    std::int64_t told = 0;
    while (!stop.stop_requested()) {
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
      const std::int64_t since = since_;
      if (since == 0 || since == told || now() - since < limit_ms_) continue;
      told = since;
      ::pthread_kill(window, SIGUSR1);
    }
  });
}

StallWatch::~StallWatch() = default;

}  // namespace lowkite::app
