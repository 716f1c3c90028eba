// The slide moves along a straight line until the drag link fits: |B + s d - H|^2 = L^2, a quadratic in s whose branch
// is the side of the horn's ball on which the slide's ball stands in the kit.
#include "core/linkage/slide_rack.hpp"

#include <cmath>

#include "core/linkage/servo_horn.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {
namespace slide {  // every mechanism has points, links and strokes

enum : int { shaft_front, shaft_rear, horn_ball, slide_ball, rail_right, rail_left, point_count };

constexpr std::array<PointSpec, point_count> points{{
    {"servo_shaft_front", marked("servo shaft, front end"), Body::chassis},
    {"servo_shaft_rear", marked("servo shaft, rear end"), Body::chassis},
    {"horn_ball", marked("drag link, ball on the horn"), Body::horn},
    {"slide_ball", marked("drag link, ball on the slide"), Body::plate},
    {"rail_right", marked("slide's rail, right end"), Body::chassis},
    {"rail_left", marked("slide's rail, left end"), Body::chassis},
}};

enum : int { drag_link };
constexpr std::array<LinkSpec, 1> links{
    {{"drag_link", marked("drag link"), slide_ball, horn_ball, LinkHolds::nothing}}};

constexpr std::array<StrokeSpec, 3> strokes{{
    {shaft_front, horn_ball, Stroke::crank},
    {horn_ball, slide_ball, Stroke::link},
    {rail_right, rail_left, Stroke::pin},
}};

class SlideRack final : public Steering {
 public:
  SlideRack(const SteeringGeometry& g, Branch horn_branch)
      : g_(g),
        horn_(g, shaft_front, shaft_rear),
        rail_((g.set[rail_left] - g.set[rail_right]).normalized()),
        seat_(seated(g.kit[rail_right], g.kit[rail_left], g.set[rail_right], g.set[rail_left])),
        ahead_(rail_.dot(g.kit[slide_ball] - g.kit[horn_ball]) > 0 ? 1.0 : -1.0),
        horn_branch_(horn_branch) {}

  /// Finds the horn's turn in the middle of the slide; by how much the drag link misses when there is none.
  tl::expected<void, RodMisfit> find_centre() {
    const auto turn = horn_.turn_to_reach(g_.set[horn_ball], seat_.point(g_.set[slide_ball]), g_.length[drag_link],
                                          g_.kit[horn_ball], g_.kit[slide_ball], horn_branch_);
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
    const Vec3 apart = seat_.point(g_.set[slide_ball]) - horn;
    const double along = rail_.dot(apart);
    const double free = along * along - apart.squaredNorm() + g_.length[drag_link] * g_.length[drag_link];
    if (!(free > 0.0)) {
      const double least = std::sqrt(apart.squaredNorm() - along * along);
      return tl::unexpected(blame(links[drag_link], RodMisfit{least - g_.length[drag_link]}));
    }
    const double s = -along + ahead_ * std::sqrt(free);
    const Vec3 rod = apart + rail_ * s;
    const double rate = rod.dot(horn_.twist().at(horn)) / rod.dot(rail_);
    Placement slide = seat_;
    slide.translation += rail_ * s;
    body_of(pose, Body::plate) = slide;
    twist_of(pose, Body::plate) = {Vec3::Zero(), rail_ * rate};
    for (std::size_t side = 0; side < 2; ++side)
      carry_ball(pose, side, g_.tie_ball[side], slide, twist_of(pose, Body::plate));
    return solved;
  }

 private:
  SteeringGeometry g_;
  ServoHorn horn_;
  Vec3 rail_;
  Placement seat_;
  double ahead_;
  Branch horn_branch_;
};

tl::expected<std::unique_ptr<const Steering>, LinkageFailure> build(const SteeringGeometry& g) {
  const Axis kit_shaft = axis_through(g.kit[shaft_front], g.kit[shaft_rear]);
  const double slope = RodHinge::design_slope(kit_shaft, g.kit[horn_ball], g.kit[slide_ball]);
  if (std::abs(slope) < least_slope) return tl::unexpected(holds_nothing(links[drag_link]));
  auto rack = std::make_unique<SlideRack>(g, branch_of(slope));
  if (const auto found = rack->find_centre(); !found) return tl::unexpected(blame(links[drag_link], found.error()));
  return std::unique_ptr<const Steering>(std::move(rack));
}

}  // namespace slide
}  // namespace

const SteeringSpec slide_rack{"slide_rack",
                              marked("slide drawn by the servo's horn"),
                              slide::points,
                              slide::links,
                              slide::strokes,
                              slide::shaft_front,
                              slide::horn_ball,
                              slide::slide_ball,
                              {Body::plate, Body::plate},
                              slide::build};

}  // namespace lowkite
