// The third spring and damper of an axle: one for both wheels, pressed where they move alike and left alone where they
// move against each other.
//
// It lies across the car between two levers. Each lever turns about a pivot that runs lengthways on the chassis; a rod
// from the suspension arm turns it. A car whose levers are not described has it as if it lay between the shocks'
// mounts: it is then pressed by the mean of both shocks.
#pragma once

#include <optional>

#include "core/load/damper.hpp"
#include "core/pose/pose.hpp"

namespace lowkite {

/// Whether the axle tells the points of its levers: pivot, the rod's two balls and the end of the third spring.
bool has_third_levers(const Axle& axle);

/// A lever as it stands, in its corner's frame.
struct ThirdLever {
  Vec3 pivot, rod, end;  ///< the rod's ball and the third spring's end, both on the lever
  Vec3 end_per_arm;      ///< mm per rad of the suspension arm
};
/// None without levers, or where the rod does not reach.
std::optional<ThirdLever> third_lever(const CarModel& model, End end, Side side, const CornerPose& pose);

/// What bears the third spring, and how the arms shorten it.
struct ThirdElement {
  double length_mm = 0.0;    ///< between its ends
  PerSide<double> shortens;  ///< mm per rad of either arm
};
/// From both corners' poses. None where neither levers nor shocks are described, or where a rod does not reach.
std::optional<ThirdElement> third_element(const CarModel& model, End end, const CornerPose& left,
                                          const CornerPose& right);
/// The same from levers that are known already; `length_mm` and the shortening per unit of `end_per_arm`.
ThirdElement between(const ThirdLever& left, const ThirdLever& right);

/// What the third spring and damper push with. A spring pushes only.
struct ThirdLaw {
  double rate_n_per_mm = 0.0;  ///< 0: no spring
  double gap_mm = 0.0;         ///< pressed from rest by so much before the spring is touched
  double stroke_mm = 0.0;      ///< that the damper goes in from rest until its end; 0: not described, or no damper
  std::optional<Piston> piston;
  Oil oil;
  double damping_n_s_per_mm = 0.0;  ///< at low speed; as measured where no piston is described

  [[nodiscard]] bool fitted() const { return rate_n_per_mm > 0.0 || damping_n_s_per_mm > 0.0; }
  /// N when it is shorter than at rest by `in_mm`: the spring, and the damper's end, which gives by `end_n_per_mm`.
  [[nodiscard]] double push_n(double in_mm, double end_n_per_mm) const;
  /// N against a shaft speed in mm/s.
  [[nodiscard]] double damper_n(double mm_per_s, double celsius = 25.0) const;
};
ThirdLaw third_law(const CarModel& model, End end);

/// Of a third damper, what the car file or a part says; none where it does not say all of it.
std::optional<Piston> third_piston(std::span<const double, size_count> sizes);

}  // namespace lowkite
