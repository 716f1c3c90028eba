// The roll centre of an axle, three ways.
//
// By velocity: the lowest point of each tyre moves along a path in the chassis; the line across that path in the front
// view goes through the wheel's instant centre; the two wheels' lines meet in the roll centre. With the whole linkage
// moving, the tie rod included, bump steer on a wheel with trail moves the contact point sideways and shifts the
// centre; with the kingpin joint held it does not. By drawing: the two-line construction that racers know (Kennedy's
// theorem), exact for planar cars, blind to kick-up, caster and bump steer.
#pragma once

#include <optional>

#include "core/measure/wheel.hpp"

namespace lowkite {

/// A point of the front view: `across` to the left of the chassis' centre plane along the ground, `height` over it. mm.
struct FrontPoint {
  double across = 0.0;
  double height = 0.0;
};

/// One wheel's part of the drawing, in the front view of the ground.
struct WheelConstruction {
  FrontPoint lower_inner, lower_outer, upper_inner, upper_outer, contact;
  std::optional<FrontPoint> instant_centre;  ///< none: the links are parallel
};

struct RollCentre {
  /// By velocity, whole linkage; none: at infinity. Of a solid axle: about which it tilts under the body.
  std::optional<FrontPoint> moving;
  std::optional<FrontPoint> locked;  ///< by velocity, kingpin joint held
  std::optional<FrontPoint> drawn;   ///< by the two-line drawing
  PerSide<WheelConstruction> construction;
};

/// A straight line of the front view, n.(across, height) = c, by its coefficients (n1, n2, -c).
template <class N>
using FrontLineOf = VectorOf<N>;
using FrontLine = FrontLineOf<double>;

/// Below this sine of the angle between them, lines count as parallel: their crossing is farther off than 100 km would
/// be for a car a metre wide.
constexpr double parallel_sine = 1e-8;

/// A point of the front view, and whether there is one.
template <class N>
struct FoundPoint {
  N across;
  N height;
  Mask<N> found;
};

template <class N = double>
FrontLineOf<N> line_through(const VectorIn<N>& a, const VectorIn<N>& b) {
  return a.cross(b);
}
inline FrontLine line_through(const FrontPoint& a, const FrontPoint& b) {
  return line_through<double>({a.across, a.height, 1.0}, {b.across, b.height, 1.0});
}
/// The line through a point that stands across a velocity.
template <class N = double>
FrontLineOf<N> line_across(const std::type_identity_t<N>& across, const std::type_identity_t<N>& height,
                           const std::type_identity_t<N>& v_across, const std::type_identity_t<N>& v_up) {
  return {v_across, v_up, -(v_across * across + v_up * height)};
}
inline FrontLine line_across(const FrontPoint& p, double v_across, double v_up) {
  return line_across<double>(p.across, p.height, v_across, v_up);
}
/// Where two lines meet; not found when they are parallel to within `parallel_sine`.
template <class N>
FoundPoint<N> crossing_of(const FrontLineOf<N>& a, const FrontLineOf<N>& b) {
  using std::abs;
  using std::sqrt;
  const VectorOf<N> x = a.cross(b);
  const N lengths = sqrt((a.x() * a.x() + a.y() * a.y()) * (b.x() * b.x() + b.y() * b.y()));
  const Mask<N> found = abs(x.z()) > N(parallel_sine) * lengths;
  const N over = N(1.0) / select(found, x.z(), N(1.0));
  return {x.x() * over, x.y() * over, found};
}
std::optional<FrontPoint> crossing(const FrontLine& a, const FrontLine& b);

/// Where the two wheels' lines meet. Level lines at one height are one line: every point of it would do, and the one on
/// the centre plane is meant.
template <class N>
FoundPoint<N> meeting_of(const FrontLineOf<N>& left, const FrontLineOf<N>& right) {
  using std::abs;
  constexpr double one_line_mm = 1e-6;
  const FoundPoint<N> met = crossing_of<N>(left, right);
  const auto in_the_middle = [](const FrontLineOf<N>& l) {
    return N(-l.z() / select(l.y() == N(0.0), N(parallel_sine), l.y()));
  };
  const N at_left = in_the_middle(left);
  const N at_right = in_the_middle(right);
  const Mask<N> one_line = abs(at_left - at_right) < N(one_line_mm);
  return {select(met.found, met.across, N(0.0)), select(met.found, met.height, N(0.5) * (at_left + at_right)),
          either(met.found, one_line)};
}

/// The lines of one wheel, in the front view.
template <class N>
struct WheelLines {
  FrontLineOf<N> moving, locked, drawn;
  FoundPoint<N> instant_centre;
};

/// Front view of a point, as a line's coefficients want it.
template <class N>
VectorOf<N> in_front_view(const Ground& ground, const VectorOf<N>& p) {
  return {wide<N>(ground.left).dot(p), wide<N>(ground.up).dot(p) + N(ground.offset), N(1.0)};
}

/// `outward` +1: of a left wheel; -1: of a right one, whose figures and links are given in its own frame.
template <class N>
WheelLines<N> lines_of_wheel(const WheelFiguresOf<N>& w, const FrontViewLinksOf<N>& links, const Ground& ground,
                             double outward) {
  const auto in_chassis = [&](const VectorOf<N>& v) { return VectorOf<N>(v.x(), v.y() * N(outward), v.z()); };
  const auto front = [&](const VectorOf<N>& p) { return in_front_view<N>(ground, in_chassis(p)); };
  const VectorOf<N> contact = front(w.contact);
  const auto across_path = [&](const VectorOf<N>& velocity) {
    const VectorOf<N> v = in_chassis(velocity);
    return line_across<N>(contact.x(), contact.y(), wide<N>(ground.left).dot(v), wide<N>(ground.up).dot(v));
  };
  WheelLines<N> lines;
  lines.moving = across_path(w.contact_per_travel);
  lines.locked = across_path(w.locked_contact_per_travel);
  const FrontLineOf<N> lower = line_through<N>(front(links.lower_inner), front(links.lower_outer));
  const FrontLineOf<N> upper = line_through<N>(front(links.upper_inner), front(links.upper_outer));
  lines.instant_centre = crossing_of<N>(lower, upper);
  // Parallel links: the instant centre lies at infinity in their direction, and the line from the tyre runs along
  // them.
  lines.drawn = select<N>(lines.instant_centre.found,
                          line_through<N>(contact, {lines.instant_centre.across, lines.instant_centre.height, N(1.0)}),
                          line_across<N>(contact.x(), contact.y(), lower.x(), lower.y()));
  return lines;
}

RollCentre read_roll_centre(const CarModel& model, End end, const AxlePose& pose, const PerSide<WheelFigures>& wheels,
                            const Ground& ground);

}  // namespace lowkite
