// The boxes as one car sees them: which of its parts can be had, with what is on the car now, and what is missing.
//
// A kind of part that the boxes say nothing about is taken to be at hand: nobody lists what he has plenty of. Once one
// of its kind is listed for a place of the car (be it with 0), all that is not listed is missing. Springs count by
// where they go; parts by their names part by part; rings that are no shims for balls only where they are listed for
// that very part.
#pragma once

#include <map>
#include <vector>

#include "core/boxes/boxes.hpp"
#include "core/car/setup.hpp"

namespace lowkite {

/// What is not at hand.
struct Lack {
  BoxItem piece;        ///< as the car's part calls it, or a shim
  int count = 0;        ///< so many more
  PartHandle adjuster;  ///< the first part that wants it; none for shims
  /// What in the boxes comes nearest to it, where that can be said; never for shims.
  std::optional<BoxItem> nearest{};
};

/// The same piece, for the same part where it fits no other.
bool same_piece(const Lack& a, const Lack& b);
/// Whether all of `wanted` is among `bought`, in number too.
bool covers(const std::vector<Lack>& bought, const std::vector<Lack>& wanted);
/// How many pieces they are in all.
int pieces_in(const std::vector<Lack>& lacks);

class Stock {
 public:
  /// Keeps a reference to the car. `on_the_car`: what a change frees goes back into the box.
  Stock(const Boxes& boxes, const Car& car, const Setup& on_the_car);

  /// Whether the boxes say anything about what this part takes.
  [[nodiscard]] bool counts(PartHandle adjuster) const;
  /// Whether one value, on both sides, can be had with what is in the boxes and on the car at all of these parts.
  [[nodiscard]] bool may_have(PartHandle adjuster, double value, const std::vector<PartHandle>& given_up) const;
  /// Whether these changes, done on both sides, can be made with what is at hand and what they free.
  [[nodiscard]] bool makes(const std::vector<PartChange>& changes) const;
  /// The same for a whole setup.
  [[nodiscard]] bool makes(const Setup& wanted) const;
  /// What is missing for them; empty: nothing. Shims in the fewest that make each stack.
  [[nodiscard]] std::vector<Lack> lacks(const std::vector<PartChange>& changes) const;
  [[nodiscard]] std::vector<Lack> lacks(const Setup& wanted) const;

 private:
  /// Pieces that are alike for the car, other than shims.
  struct Entry {
    BoxItem piece;
    int in_box = 0;
    bool bottle = false;
  };
  struct Move {
    PartHandle adjuster;
    double from;
    double to;
  };
  struct Shims {
    std::map<int, int> in_box;  ///< how many, by thickness in thousandths of a mm
    bool counted = false;
  };

  /// What one part has to become on each side, where it is something else now.
  void add_moves(PartHandle adjuster, const Setting& to, std::vector<Move>& moves) const;
  [[nodiscard]] std::vector<Move> moves_of(const std::vector<PartChange>& changes) const;
  [[nodiscard]] std::vector<Move> moves_of(const Setup& wanted) const;
  [[nodiscard]] bool makes_moves(const std::vector<Move>& moves) const;
  [[nodiscard]] std::vector<Lack> lacks_of(const std::vector<Move>& moves) const;
  /// Pieces of each entry that the moves want more than they free.
  [[nodiscard]] std::vector<int> wanted_pieces(const std::vector<Move>& moves) const;
  [[nodiscard]] int entry_at(PartHandle adjuster, double value) const;
  [[nodiscard]] const Shims* pool_of(PartHandle adjuster) const;
  [[nodiscard]] std::vector<double> stack(PartHandle adjuster, double thickness) const;
  [[nodiscard]] bool shims_make(const Shims& pool, const std::vector<Move>& moves) const;

  const Car& car_;
  Setup on_the_car_;
  ListOf<Adjuster, int> pieces_;  ///< that a value takes, by adjuster: a search asks for it a million times; 0: nothing
  std::vector<BoxItem> items_;    ///< that fit this car
  std::vector<Entry> entries_;
  ListOf<Adjuster, std::vector<int>> entry_of_;  ///< by adjuster and position; empty: not counted
  Shims loose_;                                  ///< for any ball
  std::map<PartHandle, Shims> bound_;            ///< for one part, by adjuster
};

}  // namespace lowkite
