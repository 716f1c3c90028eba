// A change of the log as what it touches: each day and run as it was before and as it is after. Whoever holds one can
// make it, take it back and make it again; where another program was there in between, nothing is written.
#pragma once

#include <optional>
#include <vector>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/log/log_store.hpp"

namespace lowkite {

struct LogChange {
  /// One thing of the log, by the same id before and after; empty: it is not there.
  template <class Record>
  struct Item {
    std::optional<Record> before, after;
  };
  /// A day that goes takes its runs with it: they are items of the change, too.
  std::vector<Item<Day>> days;
  std::vector<Item<RunRecord>> runs;

  [[nodiscard]] bool empty() const { return days.empty() && runs.empty(); }
};

/// Why a change was not made. The log is as it was.
struct LogRefusal {
  Fault fault;
  /// What the change touches is not as the change left it: somebody else changed it since. It cannot be made any more.
  bool overtaken = false;
};

/// Puts everything into the state `after`, as one transaction. What is new and has no id yet (0) gets one, here and in
/// `change`. What stands in that state already is left alone, so that a change can be made twice.
tl::expected<void, LogRefusal> make(LogStore& store, LogChange& change);
/// The same back to `before`.
tl::expected<void, LogRefusal> take_back(LogStore& store, const LogChange& change);

}  // namespace lowkite
