// The racer's log weighs the tyres that handling is told over: two runs that differ by known parts, with what was felt
// before and after, make those tyres likelier on which the model moves the same way.
//
// A felt change agrees with a computed one by a logistic law, and with a rate of feelings that mean nothing, for which
// the log itself decides: coin tosses then teach nothing. Lap times say a weak word. Old runs count less. With few runs
// the weights stay near even, and say so by the number of tyres that they still leave.
#pragma once

#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "core/handling/over_tyres.hpp"
#include "core/log/log_exchange.hpp"

namespace lowkite {

/// Something that was felt to change between two runs, and what each tyre says to it.
struct FeltChange {
  std::int64_t before = 0, after = 0;  ///< ids of the runs
  std::string date;
  std::string what;  ///< the parts that were changed
  CornerPhase phase = CornerPhase::middle;
  HandlingFigure figure = HandlingFigure::front_left;
  int felt = 0;           ///< more (+) or less (-) of it, or 0: it stayed although something was felt there
  double days_ago = 0.0;  ///< against the newest run that counts
  std::vector<std::optional<double>> moved;  ///< by tyre: what the model moves, in units of what can just be felt
};

/// What a lap comparison says beside.
struct LapWord {
  bool faster = false;
  double days_ago = 0.0;
  std::vector<std::optional<double>> limit_moved;  ///< by tyre, g
};

struct TyreEvidence {
  std::vector<FeltChange> felt;
  std::vector<LapWord> laps;
  int pairs = 0;  ///< of runs that count
};

/// How feelings are taken. Assumptions.
struct FeelingTrust {
  /// Which share of feelings means nothing: what fits the log itself decides between these. 1: all are coin tosses.
  std::array<double, 5> wrong_share{0.15, 0.3, 0.5, 0.75, 1.0};
  double certain_at = 1.0;  ///< a change this large, in units of what is just felt, is felt by most
  double lap_word = 0.1;    ///< by how much a lap difference moves the odds from even, at most
  double half_life_days = 365.0;
  /// Words about one change hang together, and no draw is quite the racer's tyre: each counts for so much.
  double word_counts = 0.25;
  /// However many words there are: so many tyres are left at least, as between so few nothing is told.
  double least_left = 32.0;
};

/// What setups of one car do in one corner on some tyres, as far as it can be felt: kept from one weighing to the next,
/// so that a run more costs one setup. Several threads may ask.
class FeltSetups {
 public:
  FeltSetups(std::shared_ptr<const Car> car, const CornerAsk& ask, std::vector<TyreDraw> tyres)
      : car_(std::move(car)), ask_(ask), tyres_(std::move(tyres)) {}

  using ByTyre = std::vector<std::optional<double>>;
  /// What is asked of a setup.
  struct Wanted {
    std::array<bool, phase_count> phases{};
    bool limit = false;  ///< in the middle

    /// What of it is not among what is known.
    [[nodiscard]] Wanted beyond(const Wanted& known) const;
    [[nodiscard]] bool any() const { return limit || std::ranges::count(phases, true) > 0; }
  };
  struct Felt {
    Wanted known;
    /// Each of the figures that are felt, by phase, in units of what can just be felt; empty: not asked.
    std::array<std::array<ByTyre, phase_count>, 3> figure;
    ByTyre limit_g;
  };

  [[nodiscard]] const Car& car() const { return *car_; }
  [[nodiscard]] std::span<const TyreDraw> tyres() const { return tyres_; }
  [[nodiscard]] bool is_for(const std::shared_ptr<const Car>& car, const CornerAsk& ask,
                            std::span<const TyreDraw> tyres) const {
    return car == car_ && ask == ask_ && std::ranges::equal(tyres, tyres_);
  }
  /// Works out what is wanted of setups and not known yet, each once, however often it was driven. Names and dates do
  /// not count. `go_on(share)` is asked by one thread at a time; false stops, and this is false, too.
  bool work_out(const std::vector<std::pair<Setup, Wanted>>& setups, unsigned threads,
                const std::function<bool(double)>& go_on = {});
  /// What is known of one.
  [[nodiscard]] std::shared_ptr<const Felt> of(const Setup& setup) const;
  /// How many setups were worked out so far.
  [[nodiscard]] std::size_t worked_out() const;

 private:
  std::shared_ptr<const Car> car_;
  CornerAsk ask_;
  std::vector<TyreDraw> tyres_;
  mutable std::mutex mutex_;
  std::map<std::string, std::shared_ptr<const Felt>> known_;

  [[nodiscard]] std::shared_ptr<const Felt> felt(const Setup& setup, const Wanted& wanted,
                                                 const std::shared_ptr<const Felt>& known,
                                                 const std::function<bool()>& go_on) const;
};

/// The felt changes of a car's runs, one after the other on one day, whose setups differ; each setup is worked out
/// once. Only days on `surface` (unknown: all) and, where `compound` is not empty, runs on tyres with that word.
/// `go_on(share)` false stops: none then.
std::optional<TyreEvidence> tyre_evidence(const std::vector<LoggedDay>& days, Surface surface,
                                          const std::string& compound, FeltSetups& setups, unsigned threads = 2,
                                          const std::function<bool(double)>& go_on = {});
/// The same with nothing kept.
std::optional<TyreEvidence> tyre_evidence(const std::vector<LoggedDay>& days, const Car& car, Surface surface,
                                          const std::string& compound, const CornerAsk& ask,
                                          std::span<const TyreDraw> tyres, unsigned threads = 2,
                                          const std::function<bool(double)>& go_on = {});

/// What a log has taught about one property of the tyres.
struct LearnedProperty {
  TyreParameter parameter{};
  Spread even, now;  ///< without the log, and with it

  /// How much narrower the band has become; 0: not at all.
  [[nodiscard]] double narrower() const {
    const double was = even.high - even.low;
    return was > 0.0 ? 1.0 - (now.high - now.low) / was : 0.0;
  }
};

struct TyreWeights {
  std::vector<double> weight;  ///< by tyre, 1 on the average
  double left = 0.0;           ///< how many tyres that are: (sum w)^2 / sum w^2
  int pairs = 0;
  int felt = 0;
  double wrong_share = 0.0;  ///< of the feelings, as the log itself makes it likeliest

  [[nodiscard]] bool says_much(std::size_t tyres) const { return left < 0.7 * static_cast<double>(tyres); }
};

TyreWeights weigh_tyres(const TyreEvidence& evidence, std::size_t tyres, const FeelingTrust& trust = {});
/// The most taught first.
std::vector<LearnedProperty> learned(std::span<const TyreDraw> tyres, const TyreWeights& weights);

/// What the model over tyres says of a change to what was felt: for which share of the tyres (by weight) it mends that,
/// and for which it makes it worse. None where nothing of it can be computed (bumps, jumps, ride).
struct ModelVoice {
  double mends = 0.0, worsens = 0.0;
  int asked = 0;  ///< feelings that it speaks to
};
std::optional<ModelVoice> model_voice(std::span<const Feeling> felt, const Handling& before, const Handling& after,
                                      std::span<const TyreDraw> tyres, std::span<const double> weights = {});

}  // namespace lowkite
