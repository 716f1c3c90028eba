#include "core/plan/lanes/part_moves.hpp"

#include <algorithm>

namespace lowkite {
namespace {

bool turns_points(const Adjuster& a) {
  const Positions* p = a.positions();
  return p && std::any_of(p->list.begin(), p->list.end(), [](const Position& x) { return !x.effect.turns.empty(); });
}

std::uint32_t moved_between(const PartMoves::Geometry& a, const PartMoves::Geometry& b) {
  std::uint32_t moved = 0;
  for (const PointHandle p : a.set.handles())
    if (a.set[p] != b.set[p]) moved |= 1u << p.place();
  return moved;
}

}  // namespace

PartMoves::PartMoves(const Car& car, const Setup& start, End end, std::vector<PartHandle> parts)
    : car_(car), start_(start), end_(end), parts_(std::move(parts)), index_(parts_.size()) {
  start_geometry_ = geometry_of(start_);
  Setup setup = start_;
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    const Adjuster& a = car.adjusters[parts_[i]];
    const double now = start_.of(parts_[i]).left;
    values_.push_back(a.values_besides(now));
    values_.back().insert(values_.back().begin(), now);
    turns_.push_back(turns_points(a));
    if (turns_.back()) turning_.push_back(i);
    for (const double v : values_.back()) {
      setup.of(parts_[i]) = {v, v};
      moved_ |= moved_between(start_geometry_, geometry_of(setup));
    }
    setup.of(parts_[i]) = start_.of(parts_[i]);
    last_values_.push_back(now);
  }
  for (const PointHandle p : start_geometry_.set.handles())
    if ((moved_ >> p.place() & 1u) != 0) moved_points_.push_back(p);
}

PartMoves::Geometry PartMoves::geometry_of(const Setup& setup) const {
  const CornerGeometry g = corner_geometry(car_, setup, end_, Side::left);
  Geometry out;
  std::copy_n(g.set.begin(), out.set.size(), out.set.begin());
  out.length = g.length;
  out.tyre_radius = g.size_of(Size::tyre_radius);
  return out;
}

PartMoves::Sums PartMoves::sums_with(const std::vector<std::uint16_t>& turning) const {
  Setup setup = start_;
  for (std::size_t t = 0; t < turning_.size(); ++t) {
    const double v = values_[turning_[t]][turning[t]];
    setup.of(parts_[turning_[t]]) = {v, v};
  }
  Sums sums;
  sums.base = geometry_of(setup);
  sums.change.resize(parts_.size());
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    if (std::find(turning_.begin(), turning_.end(), i) != turning_.end()) continue;
    for (const double v : values_[i]) {
      const Setting before = std::exchange(setup.of(parts_[i]), {v, v});
      const Geometry with = geometry_of(setup);
      setup.of(parts_[i]) = before;
      Change c;
      for (const PointHandle p : with.set.handles())
        if (with.set[p] != sums.base.set[p]) c.moves.emplace_back(p, with.set[p] - sums.base.set[p]);
      for (const LinkHandle l : c.longer.handles()) c.longer[l] = with.length[l] - sums.base.length[l];
      c.tyre_radius = with.tyre_radius - sums.base.tyre_radius;
      c.only_moves = with.length == sums.base.length && c.tyre_radius == 0.0;
      sums.change[i].push_back(std::move(c));
    }
  }
  return sums;
}

bool PartMoves::look_up(std::span<const double> values) {
  bool turned = last_sums_ == nullptr;
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    if (values[i] == last_values_[i]) continue;
    const auto found = std::find(values_[i].begin(), values_[i].end(), values[i]);
    if (found == values_[i].end()) return false;
    index_[i] = static_cast<std::uint16_t>(found - values_[i].begin());
    last_values_[i] = values[i];
    turned = turned || turns_[i];
  }
  if (!turned) return true;
  key_.clear();
  for (const std::size_t t : turning_) key_.push_back(index_[t]);
  auto known = sums_.find(key_);
  if (known == sums_.end()) known = sums_.emplace(key_, sums_with(key_)).first;
  last_sums_ = &known->second;
  return true;
}

bool PartMoves::write(std::span<const double> values, std::size_t lane, LaneInput& in) {
  if (!look_up(values)) {
    last_sums_ = nullptr;
    return false;
  }
  const Geometry& base = last_sums_->base;
  const auto add = [&](PointHandle point, const Vec3& by) {
    for (std::size_t axis = 0; axis < 3; ++axis) in.set[point][axis].of[lane] += by(static_cast<Eigen::Index>(axis));
  };
  for (const PointHandle p : moved_points_)
    for (std::size_t axis = 0; axis < 3; ++axis)
      in.set[p][axis].of[lane] = base.set[p](static_cast<Eigen::Index>(axis));
  for (const LinkHandle l : base.length.handles()) in.length[l].of[lane] = base.length[l];
  in.tyre_radius.of[lane] = base.tyre_radius;
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    if (index_[i] == 0 || last_sums_->change[i].empty()) continue;
    const Change& c = last_sums_->change[i][index_[i]];
    for (const auto& [point, by] : c.moves) add(point, by);
    if (c.only_moves) continue;
    for (const LinkHandle l : c.longer.handles()) in.length[l].of[lane] += c.longer[l];
    in.tyre_radius.of[lane] += c.tyre_radius;
  }
  return true;
}

}  // namespace lowkite
