#include "core/handling/setup_table.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/mass_figures.hpp"
#include "core/measure/car_figures.hpp"
#include "core/measure/lock.hpp"
#include "core/threads/crew.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double lateral_step_g = 0.2;
constexpr int lateral_nodes = 13;
constexpr double least_apart_g = 1e-3;  ///< of two stands of a row
constexpr int servo_nodes = 17;
constexpr double steered_heading = radians(10.0);
constexpr double most_servo = radians(55.0);
constexpr std::array<int, 3> slope_nodes{2, 5, 8};
constexpr double push_n = 0.1;
constexpr double turn_n_mm = 20.0;

constexpr std::array<std::string_view, channel_count> channel_labels{marked("load on the wheels"),
                                                                     marked("camber to the ground"),
                                                                     "toe",
                                                                     marked("roll, bump and pitch steer"),
                                                                     marked("Ackermann"),
                                                                     "differential",
                                                                     marked("weight and wheelbase")};

/// How far a wheel's top leans to the left, and points to the left.
double lean_left(Side side, double camber) {
  return sign_of(side) * camber;
}
double heading_left(Side side, double toe) {
  return -sign_of(side) * toe;
}

/// How many nodes it takes to read up to there: the next one, and the next with slopes.
std::size_t nodes_within(double reach_g) {
  if (!(reach_g > 0.0)) return 0;
  const double place = reach_g / lateral_step_g - 1e-9;
  if (place >= lateral_nodes - 1) return lateral_nodes;
  auto next = static_cast<int>(std::ceil(place));
  for (const int i : slope_nodes)
    if (i >= place) {
      next = std::max(next, i);
      break;
    }
  return at(std::max(next, 1)) + 1;
}

}  // namespace

std::string_view label_of(Channel channel) {
  return channel_labels[at(channel)];
}

double lengthways_g(const CornerAsk& ask, CornerPhase phase) {
  return phase == CornerPhase::entry ? -ask.braking_g : phase == CornerPhase::exit ? ask.power_g : 0.0;
}

double yaw_comes(CornerPhase phase) {
  return phase == CornerPhase::entry ? 1.0 : phase == CornerPhase::exit ? -1.0 : 0.0;
}

tl::expected<SetupTable, CarFailure> SetupTable::of(const LoadedCar& loaded, const CornerAsk& ask, unsigned threads,
                                                    const PhaseReach& reach) {
  const CarModel& model = loaded.model();
  const Car& car = *model.car;
  if (!model.steering) return cannot(say("the car file tells no steering linkage"));
  const auto rest = loaded.balance(loaded.level_collars(), {});
  if (!rest) return tl::unexpected(rest.error());
  const auto inertia = inertia_of(model, rest->pose);
  if (!inertia) return cannot(say("the car file's weights do not add up"));
  if (!car.axle(End::front).driven() && !car.axle(End::rear).driven())
    return cannot(say("the car file tells no driven axle"));

  SetupTable t;
  t.ask_ = ask;
  t.mass_kg_ = model.mass.kg;
  t.yaw_inertia_ = 1e-6 * inertia->yaw_kg_mm2;
  if (const auto roll = loaded.roll_motion()) t.body_ = {roll->hz, roll->damping_ratio};
  const double sense = ask.to_the_left ? 1.0 : -1.0;
  const Ground& ground = rest->pose.ground;
  const Vec3& cg = *model.mass.cg;
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    const CornerModel& corner = model.corner(end, Side::left);
    const auto size = [&](Size s) { return corner.geometry.size_of(s); };
    t.driven_[at(end)] = axle.driven_share > 0.0;
    t.braked_[at(end)] = axle.braked_share > 0.0;
    t.radius_m_[at(end)] = 1e-3 * corner.tyre.radius_mm;
    const auto kind = static_cast<DifferentialKind>(
        std::clamp(static_cast<int>(std::lround(size(Size::differential_kind))), 0, differential_kind_count - 1));
    t.differential_[at(end)] = {kind, size(Size::differential_oil), size(Size::differential_gears),
                                size(Size::differential_friction)};
    for (const Side side : both_sides) {
      const auto w = at(wheel_of(end, side));
      const CornerPose& p = rest->pose.axle[at(end)].corner[at(side)];
      Vec3 contact =
          contact_point(model.corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground_of(ground, side).up);
      if (side == Side::right) contact = mirrored(contact);
      t.x_m_[w] = 1e-3 * (contact - cg).dot(ground.forward);
      t.y_m_[w] = 1e-3 * (contact - cg).dot(ground.left);
    }
  }

  // The steering alone, at rest.
  const double most = std::min(model.car->steering.servo_most_rad, most_servo);
  t.servo_most_ = most;
  t.servo_step_ = 2.0 * most / (servo_nodes - 1);
  const auto straight = read_car(model, rest->pose, rest->attitude);
  for (const Side side : both_sides) {
    const WheelFigures& front = straight.axle[0].wheel[at(side)];
    const WheelFigures& rear = straight.axle[1].wheel[at(side)];
    t.toe_[at(side)] = heading_left(side, front.toe_rad);
    t.rear_toe_[at(side)] = heading_left(side, rear.toe_rad);
    t.rest_lean_[at(wheel_of(End::front, side))] = lean_left(side, front.camber_rad);
    t.rest_lean_[at(wheel_of(End::rear, side))] = lean_left(side, rear.camber_rad);
    t.map_heading_[at(side)].resize(servo_nodes);
    t.map_lean_[at(side)].resize(servo_nodes);
  }
  int first = 0, last = servo_nodes - 1;
  const int middle = servo_nodes / 2;
  const auto read_steered = [&](int i) {
    Attitude a = rest->attitude;
    a.servo_rad = (i - middle) * t.servo_step_;
    const auto steered = steer(model, a.servo_rad);
    if (!steered) return false;
    const auto axle = pose_axle(model, End::front, ground, *steered, &rest->pose.axle[0]);
    if (!axle) return false;
    for (const Side side : both_sides) {
      const WheelFigures f =
          read_wheel(model.corner(End::front, side), axle->corner[at(side)], ground_of(ground, side));
      t.map_heading_[at(side)][at(i)] = heading_left(side, f.toe_rad) - t.toe_[at(side)];
      t.map_lean_[at(side)][at(i)] = lean_left(side, f.camber_rad) - t.rest_lean_[at(wheel_of(End::front, side))];
    }
    return true;
  };
  for (int i = middle; i < servo_nodes; ++i)
    if (!read_steered(i)) {
      last = i - 1;
      break;
    }
  for (int i = middle - 1; i >= 0; --i)
    if (!read_steered(i)) {
      first = i + 1;
      break;
    }
  if (last <= middle + 1 || first >= middle - 1) return cannot(say("the steering turns hardly at all"));
  // Beyond where the linkage reaches the map goes straight on: no trim is told there, as it is beyond full lock.
  for (const Side side : both_sides)
    for (auto* map : {&t.map_heading_[at(side)], &t.map_lean_[at(side)]}) {
      auto& m = *map;
      for (int i = last + 1; i < servo_nodes; ++i) {
        const auto k = at(i);
        m[k] = 2.0 * m[k - 1] - m[k - 2];
      }
      for (int i = first - 1; i >= 0; --i) {
        const auto k = at(i);
        m[k] = 2.0 * m[k + 1] - m[k + 2];
      }
    }
  t.lay_steering_pieces();
  t.servo_most_ = (sense > 0.0 ? last - middle : middle - first) * t.servo_step_;
  double servo = 0.0;
  while (servo < t.servo_most_ && std::abs(t.mean_heading(sense * servo)) < steered_heading) servo += radians(1.0);
  t.steered_rad_ = sense * std::min(servo, t.servo_most_);

  std::vector<double> asked;
  for (int i = 0; i < lateral_nodes; ++i) asked.push_back(sense * i * lateral_step_g);
  const auto stand_of = [&](const Balance& b, double servo_rad) {
    Stand s;
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const auto w = at(wheel_of(end, side));
        const WheelState& wheel = b.wheel[at(end)][at(side)];
        s.load_n[w] = wheel.load_n;
        s.lean[w] = lean_left(side, wheel.camber_rad) - t.rest_lean_[w];
        s.heading[w] = heading_left(side, wheel.toe_rad);
        if (end == End::front) {
          const Steered alone = t.steered(side, servo_rad);
          s.lean[w] -= alone.lean;
          s.heading[w] -= t.toe_[at(side)] + alone.heading;
        } else {
          s.heading[w] -= t.rear_toe_[at(side)];
        }
      }
    return s;
  };
  /// One of the two of a phase, with its own last stand.
  std::array<Row, 2 * phase_count> found;
  const auto fill = [&](int which) {
    const std::span<const double> within = std::span(asked).first(nodes_within(reach[at(which / 2)]));
    if (within.empty()) return;
    Row& row = found[at(which)];
    const bool turned = which % 2 != 0;
    const double servo_rad = turned ? t.steered_rad_ : 0.0;
    const double lengthways = lengthways_g(ask, corner_phases[at(which / 2)]);
    const LoadedCar::Row row_of = loaded.row(loaded.level_collars(), lengthways, within, servo_rad);
    std::vector<Stand>& into = turned ? row.steered : row.straight;
    const auto take = [&](const Balance& stand) {
      row.at_g.push_back(std::abs(stand.under.lateral_g));
      into.push_back(stand_of(stand, servo_rad));
    };
    for (const Balance& stand : row_of.stands) take(stand);
    if (!row.at_g.empty() && row_of.last && std::abs(row_of.last->under.lateral_g) > row.at_g.back() + least_apart_g)
      take(*row_of.last);
    if (!turned) return;
    for (const int i : slope_nodes) {
      if (i >= static_cast<int>(row_of.stands.size())) break;
      const Balance& there = row_of.stands[at(i)];
      const Stand& before = into[at(i)];
      Slopes slopes;
      bool whole = true;
      for (std::size_t k = 0; k < 3 && whole; ++k) {
        Sharing sharing;
        if (k < 2)
          sharing.outward_n[k] = push_n;
        else
          sharing.yaw_n_mm = sense * turn_n_mm;
        const double unit = k < 2 ? push_n : 1e-3 * sense * turn_n_mm;
        const auto moved = loaded.shared_otherwise(loaded.level_collars(), there, sharing);
        whole = moved.has_value();
        if (!whole) break;
        const Stand after = stand_of(*moved, servo_rad);
        for (std::size_t w = 0; w < wheel_count; ++w) {
          slopes.load[k][w] = (after.load_n[w] - before.load_n[w]) / unit;
          slopes.lean[k][w] = (after.lean[w] - before.lean[w]) / unit;
        }
      }
      if (!whole) break;
      row.slopes_at.push_back(i * lateral_step_g);
      row.slopes.push_back(slopes);
    }
  };
  // The steered ones with their slopes take longest.
  constexpr std::array<int, 2 * phase_count> longest_first{1, 3, 5, 0, 2, 4};
  for_each_by_hands(longest_first.size(), threads, [&](std::size_t i) { fill(longest_first[i]); });
  for (std::size_t p = 0; p < t.row_.size(); ++p) {
    if (!(reach[p] > 0.0)) continue;
    // Both must stand for what lies between.
    auto [ahead, turned] = as_far_as_both(found[2 * p], found[2 * p + 1]);
    if (turned.last_g() < lateral_step_g) return cannot(say("the car finds no steady stand at 0.2 g"));
    turned.straight = std::move(ahead.straight);
    t.row_[p] = std::move(turned);
  }
  return t;
}

SetupTable::Row SetupTable::Row::until(double end_g) const {
  Row cut = *this;
  if (end_g >= last_g()) return cut;
  if (!(end_g > 0.0)) return {};
  const auto after = at(std::upper_bound(at_g.begin(), at_g.end(), end_g) - at_g.begin());
  const bool between = end_g > at_g[after - 1] + least_apart_g;
  const double share = (end_g - at_g[after - 1]) / (at_g[after] - at_g[after - 1]);
  for (const auto stands : {&Row::straight, &Row::steered}) {
    auto& s = cut.*stands;
    if (s.empty()) continue;
    const Stand from = s[after - 1], to = s[after];
    s.resize(after);
    if (!between) continue;
    Stand& there = s.emplace_back();
    for (const auto member : {&Stand::load_n, &Stand::lean, &Stand::heading})
      for (std::size_t w = 0; w < wheel_count; ++w)
        (there.*member)[w] = (1.0 - share) * (from.*member)[w] + share * (to.*member)[w];
  }
  cut.at_g.resize(after);
  if (between) cut.at_g.push_back(end_g);
  return cut;
}

std::pair<SetupTable::Row, SetupTable::Row> SetupTable::as_far_as_both(const Row& a, const Row& b) {
  const double end_g = std::min(a.last_g(), b.last_g());
  return {a.until(end_g), b.until(end_g)};
}

double SetupTable::last_g(CornerPhase phase) const {
  return row_[at(phase)].last_g();
}

SetupTable::Between SetupTable::between(double lengthways_g) const {
  const bool faster = lengthways_g >= 0.0;
  const double most = faster ? ask_.power_g : ask_.braking_g;
  return {CornerPhase::middle, faster ? CornerPhase::exit : CornerPhase::entry,
          most > 0.0 ? std::min(1.0, std::abs(lengthways_g) / most) : 0.0};
}

double SetupTable::last_g_at(double lengthways_g) const {
  const Between b = between(lengthways_g);
  return (1.0 - b.part) * last_g(b.from) + b.part * last_g(b.to);
}

SetupTable::Node SetupTable::node_at(double lengthways_g, double lateral_g) const {
  const Between b = between(lengthways_g);
  const auto stands = [&](CornerPhase phase) { return *node(phase, std::min(lateral_g, last_g(phase))); };
  Node n = stands(b.from);
  if (b.part == 0.0) return n;
  const Node to = stands(b.to);
  const auto mix = [&](PerWheel<double>& mine, const PerWheel<double>& theirs) {
    for (std::size_t w = 0; w < wheel_count; ++w) mine[w] += b.part * (theirs[w] - mine[w]);
  };
  for (const auto member : {&Node::load_n, &Node::load_per_rad, &Node::lean, &Node::lean_per_rad, &Node::heading,
                            &Node::heading_per_rad, &Node::load_per_g, &Node::lean_per_g, &Node::heading_per_g})
    mix(n.*member, to.*member);
  for (std::size_t k = 0; k < 3; ++k) {
    mix(n.load_by[k], to.load_by[k]);
    mix(n.lean_by[k], to.lean_by[k]);
  }
  n.at_g += b.part * (to.at_g - n.at_g);
  return n;
}

std::optional<SetupTable::Node> SetupTable::node(CornerPhase phase, double lateral_g) const {
  const Row& row = row_[at(phase)];
  if (row.straight.empty()) return std::nullopt;
  if (lateral_g < 0.0 || lateral_g > row.last_g() + 1e-9) return std::nullopt;
  const std::size_t i = std::min(static_cast<std::size_t>(lateral_g / lateral_step_g), row.at_g.size() - 2);
  const double per_rad = 1.0 / steered_rad_, per_g = 1.0 / (row.at_g[i + 1] - row.at_g[i]);
  const double share = (lateral_g - row.at_g[i]) * per_g;
  Node n;
  n.at_g = lateral_g;
  const auto read = [&](auto member, PerWheel<double>& value, PerWheel<double>& by_servo,
                        PerWheel<double>& by_lateral) {
    const PerWheel<double>&from = row.straight[i].*member, &to = row.straight[i + 1].*member;
    const PerWheel<double>&turned_from = row.steered[i].*member, &turned_to = row.steered[i + 1].*member;
    for (std::size_t w = 0; w < wheel_count; ++w) {
      value[w] = (1.0 - share) * from[w] + share * to[w];
      by_servo[w] = ((1.0 - share) * turned_from[w] + share * turned_to[w] - value[w]) * per_rad;
      by_lateral[w] = (to[w] - from[w]) * per_g;
    }
  };
  read(&Stand::load_n, n.load_n, n.load_per_rad, n.load_per_g);
  read(&Stand::lean, n.lean, n.lean_per_rad, n.lean_per_g);
  read(&Stand::heading, n.heading, n.heading_per_rad, n.heading_per_g);
  for (std::size_t w = 0; w < wheel_count; ++w) n.lean[w] += rest_lean_[w];
  for (const Side side : both_sides) {
    n.heading[at(wheel_of(End::front, side))] += toe_[at(side)];
    n.heading[at(wheel_of(End::rear, side))] += rear_toe_[at(side)];
  }
  if (row.slopes.empty()) return n;
  std::size_t k = 0;
  while (k + 2 < row.slopes.size() && row.slopes_at[k + 1] < lateral_g) ++k;
  const std::size_t next = std::min(k + 1, row.slopes.size() - 1);
  const double apart = row.slopes_at[next] - row.slopes_at[k];
  const double part = apart > 0.0 ? std::clamp((lateral_g - row.slopes_at[k]) / apart, 0.0, 1.0) : 0.0;
  for (std::size_t by = 0; by < 3; ++by)
    for (std::size_t w = 0; w < wheel_count; ++w) {
      n.load_by[by][w] = (1.0 - part) * row.slopes[k].load[by][w] + part * row.slopes[next].load[by][w];
      n.lean_by[by][w] = (1.0 - part) * row.slopes[k].lean[by][w] + part * row.slopes[next].lean[by][w];
    }
  return n;
}

void SetupTable::lay_steering_pieces() {
  // A cubic through two nodes with the slopes of their neighbours (Catmull-Rom): its own slope has no steps.
  steering_pieces_.clear();
  for (std::size_t i = 1; i + 2 < servo_nodes; ++i) {
    SteeringPiece p;
    const int from_middle = static_cast<int>(i) - servo_nodes / 2;
    p.from_rad = from_middle * servo_step_;
    p.step_rad = servo_step_;
    const auto lay = [&](const std::vector<double>& m, Side side, std::array<PerWheel<double>, 4>& into) {
      const auto w = at(wheel_of(End::front, side));
      const double a = m[i - 1], b = m[i], c = m[i + 1], d = m[i + 2];
      into[0][w] = b;
      into[1][w] = 0.5 * (c - a);
      into[2][w] = a - 2.5 * b + 2.0 * c - 0.5 * d;
      into[3][w] = 0.5 * (d - a) + 1.5 * (b - c);
    };
    for (const Side side : both_sides) {
      lay(map_heading_[at(side)], side, p.heading);
      lay(map_lean_[at(side)], side, p.lean);
    }
    steering_pieces_.push_back(p);
  }
}

const SetupTable::SteeringPiece& SetupTable::steering_near(double servo_rad) const {
  constexpr int middle = servo_nodes / 2;
  const double place = servo_rad / servo_step_ + middle;
  return steering_pieces_[at(std::clamp(static_cast<int>(std::floor(place)), 1, servo_nodes - 3) - 1)];
}

SetupTable::Steered SetupTable::steered(Side side, double servo_rad) const {
  const SteeringPiece& piece = steering_near(servo_rad);
  const double s = (servo_rad - piece.from_rad) / piece.step_rad;
  const auto w = at(wheel_of(End::front, side));
  const auto read = [&](const std::array<PerWheel<double>, 4>& c, double& value, double& per_rad) {
    value = c[0][w] + s * (c[1][w] + s * (c[2][w] + s * c[3][w]));
    per_rad = (c[1][w] + s * (2.0 * c[2][w] + 3.0 * s * c[3][w])) / piece.step_rad;
  };
  Steered out;
  read(piece.heading, out.heading, out.heading_per_rad);
  read(piece.lean, out.lean, out.lean_per_rad);
  return out;
}

double SetupTable::mean_heading(double servo_rad) const {
  return 0.5 * (steered(Side::left, servo_rad).heading + steered(Side::right, servo_rad).heading);
}

bool SetupTable::differs(Channel channel, const SetupTable& other) const {
  constexpr double last_digits = 1e-7;
  const auto apart = [](const auto& a, const auto& b) {
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
      if (std::abs(a[i] - b[i]) > last_digits) return true;
    return a.size() != b.size();
  };
  const auto stands = [&](auto member) {
    for (std::size_t p = 0; p < row_.size(); ++p) {
      const auto [a, b] = as_far_as_both(row_[p], other.row_[p]);
      for (const auto kind : {&Row::straight, &Row::steered})
        for (std::size_t i = 0; i < std::min((a.*kind).size(), (b.*kind).size()); ++i)
          if (apart((a.*kind)[i].*member, (b.*kind)[i].*member)) return true;
    }
    return false;
  };
  switch (channel) {
    case Channel::load:
      return stands(&Stand::load_n);
    case Channel::lean:
      return stands(&Stand::lean) || apart(rest_lean_, other.rest_lean_) || apart(map_lean_[0], other.map_lean_[0]) ||
             apart(map_lean_[1], other.map_lean_[1]);
    case Channel::toe:
      return apart(toe_, other.toe_) || apart(rear_toe_, other.rear_toe_);
    case Channel::body_steer:
      return stands(&Stand::heading);
    case Channel::steering:
      return apart(map_heading_[0], other.map_heading_[0]) || apart(map_heading_[1], other.map_heading_[1]);
    case Channel::drive:
      return differential_ != other.differential_ || driven_ != other.driven_ || braked_ != other.braked_;
    case Channel::weight:
      return std::abs(mass_kg_ - other.mass_kg_) > last_digits ||
             std::abs(yaw_inertia_ - other.yaw_inertia_) > last_digits || apart(x_m_, other.x_m_) ||
             apart(y_m_, other.y_m_) || apart(radius_m_, other.radius_m_);
  }
  return false;
}

double SetupTable::toe_apart_rad(const SetupTable& other) const {
  double most = 0.0;
  for (const Side side : both_sides)
    most = std::max({most, std::abs(toe_[at(side)] - other.toe_[at(side)]),
                     std::abs(rear_toe_[at(side)] - other.rear_toe_[at(side)])});
  return most;
}

SetupTable SetupTable::with(Channel channel, const SetupTable& from) const {
  SetupTable t = *this;
  const auto copy = [&](auto member) {
    for (std::size_t p = 0; p < t.row_.size(); ++p) {
      auto [mine, theirs] = as_far_as_both(t.row_[p], from.row_[p]);
      for (const auto stands : {&Row::straight, &Row::steered})
        for (std::size_t i = 0; i < (mine.*stands).size(); ++i) (mine.*stands)[i].*member = (theirs.*stands)[i].*member;
      t.row_[p] = std::move(mine);
    }
  };
  switch (channel) {
    case Channel::load:
      copy(&Stand::load_n);
      break;
    case Channel::lean:
      copy(&Stand::lean);
      t.rest_lean_ = from.rest_lean_;
      t.map_lean_ = from.map_lean_;
      t.lay_steering_pieces();
      break;
    case Channel::toe:
      t.toe_ = from.toe_;
      t.rear_toe_ = from.rear_toe_;
      break;
    case Channel::body_steer:
      copy(&Stand::heading);
      break;
    case Channel::steering:
      t.map_heading_ = from.map_heading_;
      t.servo_step_ = from.servo_step_;
      t.servo_most_ = from.servo_most_;
      t.lay_steering_pieces();
      break;
    case Channel::drive:
      t.differential_ = from.differential_;
      t.driven_ = from.driven_;
      t.braked_ = from.braked_;
      break;
    case Channel::weight:
      t.mass_kg_ = from.mass_kg_;
      t.yaw_inertia_ = from.yaw_inertia_;
      t.x_m_ = from.x_m_;
      t.y_m_ = from.y_m_;
      t.radius_m_ = from.radius_m_;
      break;
  }
  return t;
}

SetupTable SetupTable::without(Channel channel) const {
  SetupTable t = *this;
  const auto each = [&](const auto& change) {
    for (Row& row : t.row_)
      for (auto* stands : {&row.straight, &row.steered})
        for (Stand& s : *stands) change(s);
  };
  switch (channel) {
    case Channel::load:
      each([](Stand& s) {
        for (std::size_t end = 0; end < 2; ++end)
          s.load_n[2 * end] = s.load_n[2 * end + 1] = 0.5 * (s.load_n[2 * end] + s.load_n[2 * end + 1]);
      });
      for (Row& row : t.row_)
        for (Slopes& s : row.slopes) s.load = {};
      break;
    case Channel::lean:
      each([](Stand& s) { s.lean = {}; });
      t.rest_lean_ = {};
      for (auto& map : t.map_lean_) std::fill(map.begin(), map.end(), 0.0);
      t.lay_steering_pieces();
      for (Row& row : t.row_)
        for (Slopes& s : row.slopes) s.lean = {};
      break;
    case Channel::toe:
      t.toe_ = {};
      t.rear_toe_ = {};
      break;
    case Channel::body_steer:
      each([](Stand& s) { s.heading = {}; });
      break;
    case Channel::steering:
      for (std::size_t i = 0; i < t.map_heading_[0].size(); ++i)
        t.map_heading_[0][i] = t.map_heading_[1][i] = 0.5 * (t.map_heading_[0][i] + t.map_heading_[1][i]);
      t.lay_steering_pieces();
      break;
    case Channel::drive:
      for (Differential& d : t.differential_) d = {DifferentialKind::open, 0.0, 0.0, 0.0};
      break;
    case Channel::weight:
      break;
  }
  return t;
}

tl::expected<SetupTable, CarFailure> tabulate(const Car& car, const Setup& setup, const CornerAsk& ask,
                                              unsigned threads, const PhaseReach& reach) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const auto loaded = LoadedCar::of(*model);
  if (!loaded) return tl::unexpected(loaded.error());
  return SetupTable::of(*loaded, ask, threads, reach);
}

}  // namespace lowkite
