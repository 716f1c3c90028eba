// How much of a wide sweep is run: all of it, or a share under the sanitizers, where a step costs some twenty times as
// much. LOWKITE_LONG_TESTS=1 (tools/long-tests) runs all of it there too.
#pragma once

#include <algorithm>
#include <cstdlib>

namespace lowkite::test {

/// True where a sweep is to be cut down to a share.
inline bool runs_a_share() {
#ifdef __SANITIZE_ADDRESS__
  return std::getenv("LOWKITE_LONG_TESTS") == nullptr;
#else
  return false;
#endif
}

/// `all`, or one in eight of it, at least one.
inline int share_of(int all) {
  return runs_a_share() ? std::max(1, all / 8) : all;
}

}  // namespace lowkite::test
