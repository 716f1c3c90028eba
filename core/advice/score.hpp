// The log keeps score: where a racer changed one thing between two runs and a rule speaks about that thing, did the car
// then feel as the rule promises?
//
// A trial is two runs of one car, one after the other on one day, whose setups differ by one part (what the re-set
// turns does not count) that a rule takes in hand. Turned the other way round, the rule's promise is turned round too.
// The feelings of both runs decide; where neither says anything, the racer's own better or worse does, for a change
// made the rule's way. Few trials leave much open: shares are told with their interval.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/advice/advise.hpp"
#include "core/log/log_exchange.hpp"

namespace lowkite {

struct Trial {
  std::string rule;
  std::int64_t before = 0, after = 0;  ///< ids of the runs
  std::string date;
  bool reversed = false;    ///< the change was made against the rule's way
  bool by_verdict = false;  ///< judged by better or worse instead of by feelings
  bool agreed = false;
};

struct ScoreBook {
  std::vector<Trial> trials;
  Tallies rules;                         ///< by rule id
  std::map<std::string, Tally> schools;  ///< by "question/school"
};

/// `days` in any order; only runs of `car` with a setup count.
ScoreBook keep_score(const std::vector<LoggedDay>& days, const RuleBook& book, const Car& car);

/// The parts that two setups have differently, without turnbuckles and droop screws.
std::vector<PartHandle> parts_changed(const Car& car, const Setup& before, const Setup& after);

}  // namespace lowkite
