// One axle judged fast: parts changed on both sides, the arm brought to ride height, links solved in closed form for
// camber and toe, figures read. No car is built for it; the left wheel is solved, the right one is its mirror. Many
// candidates are judged several at once, in the lanes of a register (plan/lanes).
#pragma once

#include <memory>

#include "core/figures/variant.hpp"
#include "core/plan/aims.hpp"
#include "core/plan/lanes/lanes.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// Something that happens to a car on the track, against which a change is to be good, too.
struct Disturbance {
  double lower_mm = 0.0;        ///< ride height lost at both ends, links as they are
  double toe_link_turns = 0.0;  ///< of both tie rods or toe links: bent, or set that far off; positive = longer

  bool operator==(const Disturbance&) const = default;
};
/// So much ride height lost, and both tie rods (or toe links) so many turns off either way; what is nothing is none.
std::vector<Disturbance> disturbances(double lower_mm, double toe_link_turns);
/// What usually happens to a car (common practice, no source).
constexpr double usual_height_lost_mm = 0.5;
constexpr double usual_tie_rod_off_turns = 0.5;
inline std::vector<Disturbance> usual_disturbances() {
  return disturbances(usual_height_lost_mm, usual_tie_rod_off_turns);
}
/// The setup with that having happened to it.
Setup disturbed(const Car& car, Setup setup, const Disturbance& by);

struct AxleOrder {
  End end = End::front;
  std::vector<RecipeAim> aims;    ///< of this axle
  std::vector<PartHandle> parts;  ///< adjusters of it that may be changed
  ResetOptions reset;
  /// A figure is then the farthest from what it is to be, of the car as set and of each of these. Figures of the whole
  /// travel are told as set.
  std::vector<Disturbance> also_good_with{};
  /// How the wheels hang and the car stands where nothing else is wanted: figures of the whole travel are read with
  /// their droop put back, and an axle that settles (comparison.hpp) at the height at which it then stands. None: they
  /// hang as the parts leave them, and the ride height is held.
  const Variant* hung_as = nullptr;
};

/// Judges candidates of one axle. Keeps references to what it is made from.
class AxleJudge {
 public:
  /// `kernel`: for many at once; nullptr: one after the other.
  AxleJudge(const Car& car, const Setup& start, const CarTargets& targets, const AxleOrder& order,
            const LaneKernel* kernel = &widest_kernel());
  ~AxleJudge();
  AxleJudge(AxleJudge&&) noexcept;

  /// `values`: one for each of the order's parts, in its order; `figures`: of its aims, with exact turns. False: the
  /// car cannot stand like that, or a thread ends.
  bool judge(std::span<const double> values, std::vector<double>& figures);

  /// Many candidates: `values` of each, one candidate after the other; `stands` and `figures` of each likewise. Figures
  /// of those that do not stand mean nothing, and what is held may be left by those that do.
  void judge_all(std::span<const double> values, std::vector<char>& stands, std::vector<double>& figures);

 private:
  struct Work;
  std::unique_ptr<Work> work_;
};

}  // namespace lowkite
