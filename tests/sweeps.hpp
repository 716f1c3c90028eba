// How much of a wide sweep is run: all of it, or a share under the sanitizers, where a step costs some twenty times as
// much. LOWKITE_LONG_TESTS=1 (tools/long-tests) runs all of it there too.
#pragma once

#include <algorithm>
#include <cstdlib>

/// There where the program was linked with the address sanitizer. The tests themselves are compiled once for both.
extern "C" [[gnu::weak]] void __asan_init();

namespace lowkite::test {

inline bool under_sanitizers() {
  return __asan_init != nullptr;
}

/// True where a sweep is to be cut down to a share.
inline bool runs_a_share() {
  return under_sanitizers() && std::getenv("LOWKITE_LONG_TESTS") == nullptr;
}

/// `all`, or one in eight of it, at least one.
inline int share_of(int all) {
  return runs_a_share() ? std::max(1, all / 8) : all;
}

}  // namespace lowkite::test
