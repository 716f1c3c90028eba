// What each kernel does, a template over the register. Only for the sources that are compiled for one.
#pragma once

#include "core/linkage/lanes.hpp"
// The number comes first: what follows is written in it.
#include "core/measure/roll_centre.hpp"
#include "core/plan/lanes/kernels.hpp"
#include "core/plan/lanes/lanes.hpp"

namespace lowkite {

constexpr int most_lane_steps = 16;          // of the search for the wheel's place; four or five are usual
constexpr double lane_on_the_ground = 1e-9;  // mm
constexpr double least_lane_rise = 1e-3;     // mm per rad

template <class N>
N row(const LaneRow& r) {
  return N::load_aligned(r.of.data());
}
template <class N>
VectorOf<N> rows(const std::array<LaneRow, 3>& r) {
  return {row<N>(r[0]), row<N>(r[1]), row<N>(r[2])};
}

/// The candidates of a register, one chain all the way.
template <template <class> class Chain, class N>
class LaneJudge {
 public:
  using Assembly = typename Chain<N>::Assembly;

  LaneJudge(const LaneTask& task, const Assembly& assembly, const LaneInput& in)
      : task_(task), length_before_(lengths_of(in)), chain_(geometry_of(task, in), assembly, closing_) {
    tyre_ = {row<N>(in.tyre_radius), task.crown_mm, task.half_width_mm};
    steer_.shift = rows<N>(in.shift);
    steer_.rate = rows<N>(in.rate);
  }

  void run(std::span<LaneReading> readings) {
    N angle(task_.arm_angle);
    const bool holds = task_.wanted.camber || task_.wanted.toe;
    if (holds)
      hold_on_ground(angle);
    else
      put_on_ground(task_.ground, angle);
    const typename Chain<N>::State state = chain_.close(angle, steer_, closing_);
    read(chain_.wheel(state, steer_), state, task_.ground, readings[0]);
    const Closes<N> as_set = closing_;
    const ByLink<N> length_as_set = length_now_;
    for (std::size_t c = 0; c < task_.cases.size(); ++c) {
      const LaneTask::Case& each = task_.cases[c];
      closing_ = as_set;
      ByLink<N> length = length_as_set;
      if (each.link) length[each.link] += N(each.longer_mm);
      chain_.set_lengths(length, closing_);
      N there = angle;
      put_on_ground(each.ground, there);
      const typename Chain<N>::State then = chain_.close(there, steer_, closing_);
      read(chain_.wheel(then, steer_), then, each.ground, readings[c + 1]);
    }
  }

 private:
  static ByLink<N> lengths_of(const LaneInput& in) {
    ByLink<N> length;
    for (const LinkHandle l : length.handles()) length[l] = row<N>(in.length[l]);
    return length;
  }
  static ChainGeometry<N> geometry_of(const LaneTask& task, const LaneInput& in) {
    ChainGeometry<N> g;
    for (const PointHandle p : g.set.handles())
      g.set[p] = (task.moved >> p.place() & 1u) != 0 ? rows<N>(in.set[p]) : wide<N>(task.set[p]);
    g.length = lengths_of(in);
    g.kit = task.kit;
    g.spin_axis = task.spin_axis;
    return g;
  }
  static N height_over(const Ground& ground, const VectorOf<N>& p) {
    return wide<N>(ground.up).dot(p) + N(ground.offset);
  }
  static auto no_reason() {
    return [] { return LinkageFailure{}; };
  }

  /// Links at what is held and the tyre on the ground: by secants, since links change with the angle.
  void hold_on_ground(N& angle) {
    using std::abs;
    N rise(task_.rise);
    N last_angle = angle;
    N last_height(0.0);
    Mask<N> there = N(0.0) > N(0.0);
    HeldLinks<N> held;
    for (int step = 0; step < most_lane_steps; ++step) {
      held = chain_.hold(angle, steer_, task_.wanted, closing_);
      const N height = height_over(
          task_.ground,
          contact_point<N>(tyre_, chain_.centre_of(held.wheel), chain_.spin_of(held.wheel), wide<N>(task_.ground.up)));
      there = abs(height) < N(lane_on_the_ground);
      if (!any(both(closing_.closes(), !there))) break;
      if (step > 0) rise = select(there, rise, (height - last_height) / (angle - last_angle));
      last_angle = angle;
      last_height = height;
      angle = select(there, angle, angle - height / rise);
      if (!closing_.demand(both(abs(rise) > N(least_lane_rise), abs(angle) < N(1.0)), no_reason())) break;
    }
    closing_.demand(there, no_reason());
    for (const LinkHandle l : held.length.handles()) {
      const N change = held.length[l] - length_before_[l];
      closing_.demand(both(change >= N(task_.least_change[l]), change <= N(task_.most_change[l])), no_reason());
    }
    length_now_ = held.length;
    chain_.set_lengths(length_now_, closing_);
  }

  /// Links as they are: by Newton's steps.
  void put_on_ground(const Ground& ground, N& angle) {
    using std::abs;
    const VectorOf<N> up = wide<N>(ground.up);
    Mask<N> there = N(0.0) > N(0.0);
    for (int step = 0; step < most_lane_steps; ++step) {
      const WheelPoseOf<N> wheel = chain_.wheel(chain_.close(angle, steer_, closing_), steer_);
      const N height = height_over(ground, contact_point<N>(tyre_, wheel.centre, wheel.spin_axis, up));
      there = abs(height) < N(lane_on_the_ground);
      if (!any(both(closing_.closes(), !there))) break;
      const N rise = contact_velocity<N>(tyre_, wheel.centre, wheel.spin_axis, up, wheel.by_arm).dot(up);
      angle = select(there, angle, angle - height / rise);
      if (!closing_.demand(both(abs(rise) > N(least_lane_rise), abs(angle) < N(1.0)), no_reason())) break;
    }
    closing_.demand(there, no_reason());
  }

  void read(const WheelPoseOf<N>& wheel, const typename Chain<N>::State& state, const Ground& ground,
            LaneReading& reading) const {
    const N none(std::numeric_limits<double>::quiet_NaN());
    WheelFiguresOf<N> figures = read_wheel<N>(tyre_, wheel, ground);
    std::size_t next = 0;
    const auto keep = [&](const N& n) { n.store_aligned(reading.number[next++].of.data()); };
    each_number(keep, figures);
    const FrontViewLinksOf<N> links = chain_.front_view(state, wheel.centre.x());
    const WheelLines<N> left = lines_of_wheel<N>(figures, links, ground, 1.0);
    const WheelLines<N> right = lines_of_wheel<N>(figures, links, ground, -1.0);
    next = moving_across;
    const auto keep_point = [&](const FoundPoint<N>& p) {
      keep(select(p.found, p.across, none));
      keep(select(p.found, p.height, none));
    };
    keep_point(meeting_of<N>(left.moving, right.moving));
    keep_point(meeting_of<N>(left.locked, right.locked));
    keep_point(meeting_of<N>(left.drawn, right.drawn));
    keep(in_front_view<N>(ground, figures.contact).x() - in_front_view<N>(ground, mirrored<N>(figures.contact)).x());
    select(closing_.closes(), N(1.0), N(0.0)).store_aligned(reading.stands.of.data());
  }

  const LaneTask& task_;
  ByLink<N> length_before_;
  ByLink<N> length_now_ = length_before_;
  Closes<N> closing_;
  Chain<N> chain_;
  TyreShape<N> tyre_;
  SteerInputOf<N> steer_;
};

template <class N>
void run_lanes(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings) {
  if (const auto* a = std::get_if<hub::Assembly>(&task.assembly.of))
    LaneJudge<HubChain, N>(task, *a, input).run(readings);
  else if (const auto* b = std::get_if<wishbone::Assembly>(&task.assembly.of))
    LaneJudge<WishboneChain, N>(task, *b, input).run(readings);
  else if (const auto* c = std::get_if<slider::Assembly>(&task.assembly.of))
    LaneJudge<SlidingChain, N>(task, *c, input).run(readings);
  else if (const auto* d = std::get_if<swinger::Assembly>(&task.assembly.of))
    LaneJudge<SwingingChain, N>(task, *d, input).run(readings);
}

}  // namespace lowkite
