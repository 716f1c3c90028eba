// From how the car felt to what could be changed next: the rules that promise what is missing, each as a real step of
// this car's parts, tried on the model with its re-set, and told with reasons.
//
// The order is a rule of thumb itself and open to the racer: how much of what was felt a rule promises to mend, how
// often the racer's own runs agreed with it, and whether the model confirms what it claims. None of it promises a lap
// time.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/advice/rules.hpp"
#include "core/plan/recipe.hpp"
#include "core/stats/statistics.hpp"

namespace lowkite {

/// The chosen school by question; a question that is not there follows both.
using Schools = std::map<std::string, std::string>;

/// How often the racer's own runs agreed with a rule (see score.hpp).
struct Tally {
  int agreed = 0;
  int trials = 0;
  [[nodiscard]] Interval share() const { return share_of_successes(agreed, trials); }
};
using Tallies = std::map<std::string, Tally>;  ///< by rule id

struct AdviceAsk {
  std::vector<Feeling> feelings{};
  Surface surface = Surface::unknown;
  Grip grip = Grip::unknown;
  Schools schools{};
  Tallies tallies{};
  std::optional<Boxes> boxes{};  ///< none: all that the car file names is at hand
  std::size_t most = 12;
};

enum class ClaimVerdict : std::uint8_t { confirmed, contradicted, too_small, not_here };

/// A rule's word on a figure beside the model's.
struct TriedClaim {
  RuleClaim claim;
  std::optional<double> before, after;
  ClaimVerdict verdict = ClaimVerdict::not_here;
};

/// A rule as one step of this car.
struct RuleStep {
  PartHandle adjuster;  ///< none: an angle or a height is set otherwise (RulePart::Kind::hold), or it is only told
  double from = 0.0;
  double to = 0.0;      ///< of the adjuster; of a hold: deg or mm
  double amount = 0.0;  ///< how far what the rule takes in hand moves: mm, deg, or the size's unit
};

struct Advice {
  const Rule* rule = nullptr;
  RuleStep step;
  Setup setup;    ///< with the step done and camber and toe put back
  Setup stepped;  ///< with the step alone: what the re-set starts from; a hold's is `setup`
  ResetResult alignment;
  double score = 0.0;
  double mends = 0.0;             ///< amounts of what was felt that the rule promises to mend
  double worsens = 0.0;           ///< amounts that it promises to make worse
  std::vector<Feeling> for_what;  ///< what of the felt it answers
  std::vector<TriedClaim> claims;
  /// Figures that move besides what the rule claims, the most moved first, with how many readable steps.
  std::vector<std::pair<const FigureSpec*, double>> drags;
  Tally tally;
  std::vector<Lack> lacks;  ///< what of it is neither in the boxes nor on the car
  /// Rules that ask for the very same step for what was felt; this one comes first of them.
  std::vector<const Rule*> also;
  /// Others in the list that turn the same part the other way, by their place.
  std::vector<std::size_t> against;

  [[nodiscard]] int confirmed() const;
  [[nodiscard]] int contradicted() const;
};

/// Why a rule that fits what was felt is not in the list.
struct PassedOver {
  const Rule* rule = nullptr;
  std::string why;
};

struct Advices {
  std::vector<Advice> list;        ///< best first
  std::vector<PassedOver> passed;  ///< fits the feeling, but cannot be done here or belongs to the other school
};

/// How far a value of a part moves what a rule takes in hand, against the kit's (see RulePart): mm, deg, or the size's
/// unit. 0 for parts that do not.
double moves_for(const Rule& rule, const Car& car, PartHandle adjuster, double value);

/// Makes a rule one about a part of this car: of what its next step moves, the caster, else the point that moves most,
/// else a size or a weight; only told where the model hears nothing of it. Sets the end, the part (more of it) and the
/// usual step.
void take_in_hand(Rule& rule, const Car& car, PartHandle adjuster);

/// What a link would have to hold for a rule that sets an angle of the wheel; nothing for others.
LinkHolds held_by(const RulePart& part);

/// The real steps of a car that a rule means: each part that moves what it names its way, by about one usual step; the
/// ones that come nearest first. Empty where the car has no such part, or it stands at its end.
std::vector<RuleStep> steps_of(const Rule& rule, const Car& car, const Setup& setup);

/// A rule tried on the model by one of its steps. `under`: in which load figures are read. None when the car cannot
/// stand like that.
std::optional<Advice> try_rule(const Rule& rule, const RuleStep& step, const Car& car, const Setup& setup,
                               const Acceleration& under);

/// In which acceleration a phase's load figures are read.
Acceleration typical(Phase phase);

/// Fails with a sentence when `setup` cannot stand. `go_on` false stops; what was tried so far is returned.
tl::expected<Advices, CarFailure> advise(const RuleBook& book, const Car& car, const Setup& setup, const AdviceAsk& ask,
                                         const std::function<bool()>& go_on = {});

}  // namespace lowkite
