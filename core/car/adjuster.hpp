// An adjuster: a physical part with the steps that it really has, and what a step does to points and links.
//
// Two shapes cover every kind. A *range* is a number whose stops follow from the parts in the box (shim stacks,
// threads); its effect is linear. *Positions* are a list with names (holes, inserts, blocks), each with effects of its
// own. A new kind is a row in `adjuster_kinds()`.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/linkage/corner.hpp"
#include "core/linkage/handle.hpp"

namespace lowkite {

enum class End : std::uint8_t;
struct Adjuster;

/// Which of a car's parts that can be changed.
using PartHandle = Handle<Adjuster>;

enum class AdjusterKind : std::uint8_t { shim_stack, hole, insert, turnbuckle, choice, screw, spline, kept };

struct AdjusterKindSpec {
  AdjusterKind kind;
  std::string_view id;     ///< as in car files
  std::string_view label;  ///< as racers say it
  bool positions;          ///< true: a list of positions; false: a range
};

std::span<const AdjusterKindSpec> adjuster_kinds();
const AdjusterKindSpec& spec_of(AdjusterKind kind);

/// Moves a point, in the design coordinates of its body, mm.
struct PointMove {
  PointHandle point = {};
  Vec3 mm = Vec3::Zero();
};

/// Turns points about an axis through the kit place of `about`.
struct PointTurn {
  std::vector<PointHandle> points;
  PointHandle about = {};
  Vec3 direction = Vec3::UnitY();
  double angle_rad = 0.0;
};

/// Changes what is no place of a point (see Size for the unit).
struct SizeChange {
  Size size{};
  double by = 0.0;
};

/// Moves a heavy part, or adds to it.
struct MassChange {
  int mass = -1;  ///< index into Car::masses
  Vec3 move_mm = Vec3::Zero();
  double add_g = 0.0;
};

struct Effect {
  std::vector<PointMove> moves;
  std::vector<PointTurn> turns;
  std::vector<SizeChange> sizes;
  std::vector<MassChange> masses;
};

/// A number with stops. The effect of a value v is (v - kit) times the effect per unit.
struct Range {
  std::vector<double> stops;              ///< ascending; what the parts in the box can make
  std::vector<double> shims_mm;           ///< thicknesses in the box, for shim stacks
  std::vector<PointMove> moves_per_unit;  ///< mm per unit
  std::vector<SizeChange> sizes_per_unit;
  LinkHandle link = {};           ///< whose length changes, for turnbuckles
  double link_mm_per_unit = 0.0;  ///< mm per turn, positive = longer
};

struct Position {
  std::string label;
  Effect effect;
};

struct Positions {
  std::vector<Position> list;
};

/// A value of an adjuster: mm of shims, turns of a turnbuckle (positive = longer than kit) or screw (positive = further
/// in than kit), or the index of a position.
struct Adjuster {
  std::string id;
  std::string name;
  End end{};              ///< the axle at which a hand finds it
  bool steering = false;  ///< its points and links are those of the steering, and it has one value for both sides
  AdjusterKind kind = AdjusterKind::shim_stack;
  std::variant<Range, Positions> part;
  double kit = 0.0;
  PointHandle at = {};  ///< the point where the part sits, when it is not the first one that it moves
  bool once = false;    ///< its axle has one of it: it sits on the only shock, in the middle of a pod

  [[nodiscard]] const Range* range() const { return std::get_if<Range>(&part); }
  [[nodiscard]] const Positions* positions() const { return std::get_if<Positions>(&part); }

  [[nodiscard]] double least() const;
  [[nodiscard]] double most() const;
  /// The value one real step up or down from `value`; the end stop stays where it is.
  [[nodiscard]] double stepped(double value, int steps) const;
  /// The stop nearest to `value`.
  [[nodiscard]] double nearest_stop(double value) const;
  /// True for a thread: any value between its ends can be had, in whatever twists a hand can do.
  [[nodiscard]] bool threaded() const { return kind == AdjusterKind::turnbuckle || kind == AdjusterKind::screw; }
  /// True when the parts in the box can make `value` (threads: any value within the thread).
  [[nodiscard]] bool can_be(double value) const;
  /// Puts points, lengths and sizes of a corner or the steering, all at their kit state, where `value` has them.
  void apply(double value, LinkageGeometry& linkage) const;
  /// Every value besides `now` that the parts in the box can make.
  [[nodiscard]] std::vector<double> values_besides(double now) const;
  /// True when some value moves a point, a link or a size of the linkage: what a wheel's path and angles follow from.
  [[nodiscard]] bool moves_geometry() const;
  /// True when some value moves a heavy part.
  [[nodiscard]] bool moves_weight() const;
  /// True when some value changes a spring, a bar, a damper or a weight.
  [[nodiscard]] bool moves_load() const;
  /// True for what an axle, or the car, has once, whatever side it is told for: a bar's wire, a third spring, ballast.
  [[nodiscard]] bool one_piece() const;
  /// True for what changes nothing but a third spring and its damper.
  [[nodiscard]] bool of_third_element() const;
  /// True for what changes nothing but a differential.
  [[nodiscard]] bool in_the_differential() const;
  /// True for what is only kept, for sheets, comparisons and the log: nothing is computed from it.
  [[nodiscard]] bool only_kept() const { return kind == AdjusterKind::kept; }
  /// True for what comes out of a bottle.
  [[nodiscard]] bool poured() const;
  /// The point a hand looks for: `at`, else the ball, pin or hole that moves first; none for a turnbuckle.
  [[nodiscard]] PointHandle place() const;
};

/// The shims of `sizes` that make `thickness`, thickest first; empty when none do. Sizes may be used more than once.
std::vector<double> shims_for(double thickness_mm, std::span<const double> sizes);

/// Every thickness from `least` to `most` that shims of `sizes` can make, ascending.
std::vector<double> shim_stops(std::span<const double> sizes, double least_mm, double most_mm);

}  // namespace lowkite
