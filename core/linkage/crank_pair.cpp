// Horn -> drag link -> first crank -> plate -> second crank: the elementary step twice over. The first crank stands on
// the left. The plate is carried by its two pins; with parallel crank posts, as all of these cars have, that is a
// planar four-bar (Freudenstein). Precondition for the plate's own turn: posts parallel within a few degrees.
#include "core/linkage/crank_pair.hpp"

#include <cmath>

#include "core/linkage/servo_horn.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {
namespace cranks {  // every mechanism has points, links and strokes

enum : int {
  shaft_front,
  shaft_rear,
  horn_ball,
  drag_ball,
  first_post_lower,
  first_post_upper,
  second_post_lower,
  second_post_upper,
  plate_first,
  plate_second,
  point_count
};

constexpr std::array<PointSpec, point_count> points{{
    {"servo_shaft_front", marked("servo shaft, front end"), Body::chassis},
    {"servo_shaft_rear", marked("servo shaft, rear end"), Body::chassis},
    {"horn_ball", marked("drag link, ball on the horn"), Body::horn},
    {"drag_ball", marked("drag link, ball on the crank"), Body::first_crank},
    {"first_post_lower", marked("left crank's post, lower end"), Body::chassis},
    {"first_post_upper", marked("left crank's post, upper end"), Body::chassis},
    {"second_post_lower", marked("right crank's post, lower end"), Body::chassis},
    {"second_post_upper", marked("right crank's post, upper end"), Body::chassis},
    {"plate_first", marked("plate's pin on the left crank"), Body::first_crank},
    {"plate_second", marked("plate's pin on the right crank"), Body::second_crank},
}};

enum : int { drag_link, plate_link };
constexpr std::array<LinkSpec, 2> links{{
    {"drag_link", marked("drag link"), drag_ball, horn_ball, LinkHolds::nothing},
    {"plate", marked("plate between the cranks"), plate_first, plate_second, LinkHolds::nothing},
}};

constexpr std::array<StrokeSpec, 7> strokes{{
    {shaft_front, horn_ball, Stroke::crank},
    {horn_ball, drag_ball, Stroke::link},
    {first_post_lower, first_post_upper, Stroke::pin},
    {second_post_lower, second_post_upper, Stroke::pin},
    {first_post_lower, plate_first, Stroke::crank},
    {second_post_lower, plate_second, Stroke::crank},
    {plate_first, plate_second, Stroke::arm},
}};

/// The branch and the kit's rod of a crank that a rod turns.
struct CrankRod {
  PointHandle post_lower, post_upper, ball, anchor;
};
constexpr CrankRod by_drag{first_post_lower, first_post_upper, drag_ball, horn_ball};
constexpr CrankRod by_plate{second_post_lower, second_post_upper, plate_second, plate_first};

double kit_slope(const SteeringGeometry& g, const CrankRod& c) {
  return RodHinge::design_slope(axis_through(g.kit[c.post_lower], g.kit[c.post_upper]), g.kit[c.ball], g.kit[c.anchor]);
}

RodHinge crank(const SteeringGeometry& g, const CrankRod& c, double length) {
  const auto kit = [&](PointHandle p) { return g.kit[p]; };
  const auto set = [&](PointHandle p) { return g.set[p]; };
  return {axis_through(set(c.post_lower), set(c.post_upper)),
          seated(kit(c.post_lower), kit(c.post_upper), set(c.post_lower), set(c.post_upper)),
          set(c.ball),
          kit(c.ball) - kit(c.anchor),
          length,
          branch_of(kit_slope(g, c))};
}

class CrankPair final : public Steering {
 public:
  CrankPair(const SteeringGeometry& g, std::array<Body, 2> ball_carrier)
      : g_(g),
        ball_carrier_(ball_carrier),
        horn_(g, shaft_front, shaft_rear),
        first_(crank(g, by_drag, g.length[drag_link])),
        second_(crank(g, by_plate, (g.set[plate_first] - g.set[plate_second]).norm())) {}

  tl::expected<void, RodMisfit> find_centre(Branch horn_branch) {
    const Placement rest = first_.unturned({});
    const auto turn = horn_.turn_to_reach(g_.set[horn_ball], rest.point(g_.set[drag_ball]), g_.length[drag_link],
                                          g_.kit[horn_ball], g_.kit[drag_ball], horn_branch);
    if (!turn) return tl::unexpected(turn.error());
    centre_ = *turn;
    return {};
  }

  tl::expected<SteeringPose, LinkageFailure> solve(double from_centre) const override {
    tl::expected<SteeringPose, LinkageFailure> solved(tl::in_place);
    SteeringPose& pose = *solved;
    pose.horn_turn = centre_ + from_centre;
    body_of(pose, Body::horn) = horn_.at_turn(pose.horn_turn);
    twist_of(pose, Body::horn) = horn_.twist();
    const Vec3 horn = body_of(pose, Body::horn).point(g_.set[horn_ball]);
    const auto first = first_.fit({}, horn);
    if (!first) return tl::unexpected(blame(links[drag_link], first.error()));
    const Twist first_twist = first_.twist(*first, {}, horn_.twist().at(horn));
    const Vec3 near = first->body.point(g_.set[plate_first]);
    const auto second = second_.fit({}, near);
    if (!second) return tl::unexpected(blame(links[plate_link], second.error()));
    const Twist second_twist = second_.twist(*second, {}, first_twist.at(near));
    const Vec3 far = second->body.point(g_.set[plate_second]);
    body_of(pose, Body::first_crank) = first->body;
    twist_of(pose, Body::first_crank) = first_twist;
    body_of(pose, Body::second_crank) = second->body;
    twist_of(pose, Body::second_crank) = second_twist;

    // The plate stays square to the posts and turns about their direction until its far hole meets its pin.
    const Vec3& post = first->axis.direction;
    const auto across = [&](const Vec3& v) -> Vec3 { return v - post * post.dot(v); };
    const Vec3 rest = across(g_.set[plate_second] - g_.set[plate_first]);
    const Vec3 span = across(far - near);
    const double lengths = rest.norm() * span.norm();
    const Mat3 r = rotation_about(post, {rest.dot(span) / lengths, post.dot(rest.cross(span)) / lengths});
    body_of(pose, Body::plate) = {r, near - r * g_.set[plate_first]};
    const Vec3 parting = second_twist.at(far) - first_twist.at(near);
    const Vec3 spin = post * (post.dot(span.cross(parting)) / span.squaredNorm());
    twist_of(pose, Body::plate) = {spin, first_twist.at(near) - spin.cross(near)};
    for (std::size_t side = 0; side < 2; ++side)
      carry_ball(pose, side, g_.tie_ball[side], body_of(pose, ball_carrier_[side]),
                 twist_of(pose, ball_carrier_[side]));
    return solved;
  }

 private:
  SteeringGeometry g_;
  std::array<Body, 2> ball_carrier_;
  ServoHorn horn_;
  RodHinge first_;
  RodHinge second_;
};

constexpr std::array<Body, 2> on_the_cranks{Body::first_crank, Body::second_crank};
constexpr std::array<Body, 2> on_the_plate{Body::plate, Body::plate};

template <const std::array<Body, 2>& carrier>
tl::expected<std::unique_ptr<const Steering>, LinkageFailure> build(const SteeringGeometry& g) {
  const Axis kit_shaft = axis_through(g.kit[shaft_front], g.kit[shaft_rear]);
  const double horn_slope = RodHinge::design_slope(kit_shaft, g.kit[horn_ball], g.kit[drag_ball]);
  if (std::abs(horn_slope) < least_slope || std::abs(kit_slope(g, by_drag)) < least_slope)
    return tl::unexpected(holds_nothing(links[drag_link]));
  if (std::abs(kit_slope(g, by_plate)) < least_slope) return tl::unexpected(holds_nothing(links[plate_link]));
  auto pair = std::make_unique<CrankPair>(g, carrier);
  if (const auto found = pair->find_centre(branch_of(horn_slope)); !found)
    return tl::unexpected(blame(links[drag_link], found.error()));
  return std::unique_ptr<const Steering>(std::move(pair));
}

}  // namespace cranks
}  // namespace

const SteeringSpec crank_pair{"crank_pair",          marked("two cranks, tie rods on the cranks"),
                              cranks::points,        cranks::links,
                              cranks::strokes,       cranks::shaft_front,
                              cranks::horn_ball,     cranks::drag_ball,
                              cranks::on_the_cranks, cranks::build<cranks::on_the_cranks>};
const SteeringSpec crank_plate{"crank_plate",        marked("two cranks, tie rods on the plate"),
                               cranks::points,       cranks::links,
                               cranks::strokes,      cranks::shaft_front,
                               cranks::horn_ball,    cranks::drag_ball,
                               cranks::on_the_plate, cranks::build<cranks::on_the_plate>};

}  // namespace lowkite
