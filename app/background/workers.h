// The threads of work in the background.
#pragma once

#include <functional>

namespace lowkite::app {

/// Does `work` on a thread that gives way to the window's, when one is free. Not on Qt's own pool: painting shares out
/// what it fills there, and would wait for our work. At the program's end what has begun is waited for.
void doElsewhere(std::function<void()> work);

/// Waits until nothing is being done elsewhere and the window has received what came of it. At most `ms`.
/// Returns: false where something still is.
bool waitElsewhere(int ms);

}  // namespace lowkite::app
