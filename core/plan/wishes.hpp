// What the driver wishes of a change, beside figures: more front grip at entry and the rear no less at exit, for so
// many of the tyres. A setup is read over all of them against the one it is compared with. What several parts would do
// together is foretold by adding up, tyre by tyre, what each does alone.
#pragma once

#include <array>
#include <map>
#include <optional>
#include <span>
#include <string_view>
#include <utility>
#include <vector>

#include "core/car/failure.hpp"
#include "core/handling/over_tyres.hpp"
#include "core/handling/setup_table.hpp"

namespace lowkite {

/// A wish is against the setup that is compared with. A difference that can hardly be felt counts as none.
enum class HandlingWant : std::uint8_t { more, not_less, same, not_more, less };
struct HandlingWish {
  HandlingFigure figure = HandlingFigure::front_left;
  CornerPhase phase = CornerPhase::middle;
  HandlingWant want = HandlingWant::same;
  bool hold = false;  ///< a setup for which it does not hold is none; else the nearest will do

  bool operator==(const HandlingWish&) const = default;
};
constexpr int handling_want_count = 5;
/// "more", "not_less", ...
std::string_view id_of(HandlingWant want);
/// Whether a difference, in the figure's unit, is what is wished.
bool holds(const HandlingWish& wish, double difference);

struct WishOrder {
  std::vector<HandlingWish> wishes{};  ///< empty: none
  double share = 0.8;                  ///< of the tyres, by weight, for which each wish is to hold
  CornerAsk ask{};
  std::vector<TyreDraw> tyres{};  ///< a few dozen will do
  std::vector<double> weights{};  ///< parallel to them; empty: all alike

  [[nodiscard]] bool asked() const { return !wishes.empty(); }
  /// More or less of something is wished, which the setup that is compared with does not give.
  [[nodiscard]] bool asks_for_change() const;
};

/// How far a wish is from holding for the share of the tyres that it is to hold for, in units of what can just be felt;
/// 0: it holds for so many. `by`: the difference by tyre, not a number where a tyre has no answer, which counts as not
/// holding. `weights`: parallel to it.
double shortfall_of(const HandlingWish& wish, std::span<const double> by, std::span<const double> weights,
                    double share);

/// What a setup does of what is wished.
struct FeltOfWishes {
  std::vector<HandlingDifference> by;  ///< parallel to the wishes
  double share = 0.0;                  ///< of the tyres for which the wish that holds for fewest holds
};

/// Keeps references to the car and the order. Reading does not change it: several threads may share one.
class WishJudge {
 public:
  /// Differences against the setup that is compared with: by wish, and in each by tyre; not a number: no answer.
  using Differences = std::vector<double>;
  struct Reading {
    Handling over;  ///< of the phases that are wished about; the others are empty
    Differences by;
  };

  /// `before`: what wishes are against. Fails with a sentence where it cannot be tabulated.
  static tl::expected<WishJudge, CarFailure> of(const Car& car, const Setup& before, const WishOrder& order,
                                                unsigned threads);

  /// None where the setup cannot be tabulated.
  [[nodiscard]] std::optional<Reading> read(const Setup& setup) const;
  /// None where too few of the tyres have an answer.
  [[nodiscard]] std::optional<FeltOfWishes> told(const Reading& reading) const;
  /// Of wishes that hold 0, of each that does not more than 1: what wishes add to the squared miss of a search.
  /// `margin`: so many times more than can be felt is asked of more and less, so many times less allowed of the others.
  [[nodiscard]] double squared_miss(std::span<const double> by, double margin = 0.0) const;
  [[nodiscard]] bool keeps_what_is_held(std::span<const double> by) const;
  /// A difference that a quarter of the tyres would notice beside others, of any wish.
  [[nodiscard]] bool says_something(std::span<const double> effect) const;

 private:
  WishJudge(const Car& car, const WishOrder& order);
  /// As far as the wishes need it, or why there is none.
  [[nodiscard]] tl::expected<Handling, CarFailure> over_tyres(const Setup& setup, unsigned threads) const;
  [[nodiscard]] Differences differences_of(const Handling& over) const;
  [[nodiscard]] std::span<const double> of_wish(std::span<const double> by, std::size_t wish) const {
    return by.subspan(wish * order_->tyres.size(), order_->tyres.size());
  }

  const Car* car_;
  const WishOrder* order_;
  std::array<bool, phase_count> wished_{}, to_the_limit_{};  ///< by phase
  PhaseReach reach_{};
  std::vector<double> weights_;  ///< of all tyres
  double total_ = 0.0;           ///< their sum
  Handling before_;
  Differences was_;  ///< the figures themselves, laid out as differences are
};

/// What combinations of parts would do of what is wished, by adding up.
class WishForetelling {
 public:
  using Part = std::pair<PartHandle, double>;  ///< moved to a value
  /// `start`: the setup that is changed, with nothing moved.
  WishForetelling(const WishJudge& judge, WishJudge::Differences start)
      : judge_(&judge), start_(std::move(start)), sum_(start_.size()) {}

  /// A part alone at a value gives this.
  void learn(const Part& part, const WishJudge::Differences& alone);
  /// It moves something that is wished.
  [[nodiscard]] bool says_something(const Part& part) const;
  /// Squared miss of some parts together; none where one of them cannot be told alone. `margin`: as of the judge.
  [[nodiscard]] std::optional<double> squared_miss(std::span<const Part> parts, double margin) const;

 private:
  const WishJudge* judge_;
  WishJudge::Differences start_;
  mutable WishJudge::Differences sum_;  ///< one thread
  std::map<Part, WishJudge::Differences> effect_;
};

}  // namespace lowkite
