#include "core/log/log_change.hpp"

#include <algorithm>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

std::int64_t& id_of(Day& day) {
  return day.id;
}
std::int64_t& id_of(RunRecord& record) {
  return record.run.id;
}
tl::expected<std::optional<Day>, Fault> fetch(const LogStore& store, const Day& day) {
  return store.day(day.id);
}
tl::expected<std::optional<RunRecord>, Fault> fetch(const LogStore& store, const RunRecord& record) {
  return store.run(record.run.id);
}
tl::expected<void, Fault> remove(LogStore& store, const Day& day) {
  return store.remove_day(day.id);
}
tl::expected<void, Fault> remove(LogStore& store, const RunRecord& record) {
  return store.remove_run(record.run.id);
}
/// Where it belongs to is there.
tl::expected<bool, Fault> has_home(const LogStore& store, const RunRecord& record) {
  return store.day(record.run.day).map([](const std::optional<Day>& day) { return day.has_value(); });
}
tl::expected<bool, Fault> has_home(const LogStore&, const Day&) {
  return true;
}
std::string words(const Day& day) {
  return say("the day {}", day.date);
}
std::string words(const RunRecord& record) {
  return record.run.started.empty() ? say("a run without a time") : say("the run of {}", record.run.started);
}

/// One way through a change: from how things were left to how they are to be.
class Way {
 public:
  Way(LogStore& store, bool forward) : store_(store), forward_(forward) {}

  template <class Record>
  auto& from(LogChange::Item<Record>& item) const {
    return forward_ ? item.before : item.after;
  }
  template <class Record>
  auto& to(LogChange::Item<Record>& item) const {
    return forward_ ? item.after : item.before;
  }

  tl::expected<void, Fault> go(LogChange& change) {
    if (!forward_) {
      // What was changed twice goes back the way it came.
      std::reverse(change.days.begin(), change.days.end());
      std::reverse(change.runs.begin(), change.runs.end());
    }
    // A day is there before its runs are, and goes after them.
    for (auto& item : change.days)
      if (to(item))
        if (auto done = put(item); !done) return done;
    for (auto& item : change.runs) {
      auto done = to(item) ? put(item) : drop(item);
      if (!done) return done;
    }
    for (auto& item : change.days)
      if (!to(item)) {
        if (auto done = nothing_left(*from(item)); !done) return done;
        if (auto done = drop(item); !done) return done;
      }
    return {};
  }
  [[nodiscard]] bool overtaken() const { return overtaken_; }

 private:
  template <class Record>
  tl::expected<void, Fault> put(LogChange::Item<Record>& item) {
    Record& wanted = *to(item);
    if (id_of(wanted) != 0) {
      const auto there = fetch(store_, wanted);
      if (!there) return tl::unexpected(there.error());
      if (*there == wanted) return {};
      if (*there != from(item)) return refused(words(wanted));
    }
    const auto home = has_home(store_, wanted);
    if (!home) return tl::unexpected(home.error());
    if (!*home) return refused(say("the day of {}", words(wanted)));
    const auto id = store_.put(wanted);
    if (!id) return tl::unexpected(id.error());
    id_of(wanted) = *id;
    return {};
  }

  template <class Record>
  tl::expected<void, Fault> drop(LogChange::Item<Record>& item) {
    const Record& gone = *from(item);
    const auto there = fetch(store_, gone);
    if (!there) return tl::unexpected(there.error());
    if (!*there) return {};
    if (**there != gone) return refused(words(gone));
    return remove(store_, gone);
  }

  /// A day would take along what somebody else has written into it.
  tl::expected<void, Fault> nothing_left(const Day& day) {
    const auto runs = store_.runs(day.id);
    if (!runs) return tl::unexpected(runs.error());
    return runs->empty() ? tl::expected<void, Fault>{} : refused(words(day));
  }

  tl::unexpected<Fault> refused(const std::string& what) {
    overtaken_ = true;
    return tl::unexpected(Fault{store_.path().filename().string(), "",
                                say("{} was changed by another window since", what),
                                say("to look at it, and to change it as it stands now")});
  }

  LogStore& store_;
  bool forward_;
  bool overtaken_ = false;
};

tl::expected<void, LogRefusal> go(LogStore& store, LogChange& change, bool forward) {
  Way way(store, forward);
  LogChange worked = change;
  if (const auto done = store.together([&] { return way.go(worked); }); !done)
    return tl::unexpected(LogRefusal{done.error(), way.overtaken()});
  change = std::move(worked);
  return {};
}

}  // namespace

tl::expected<void, LogRefusal> make(LogStore& store, LogChange& change) {
  return go(store, change, true);
}

tl::expected<void, LogRefusal> take_back(LogStore& store, const LogChange& change) {
  LogChange back = change;
  return go(store, back, false);
}

}  // namespace lowkite
