#include "core/handling/trim.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <Eigen/LU>

#include "core/handling/car_forces.hpp"
#include "core/threads/crew.hpp"

namespace lowkite {
namespace {

constexpr std::array<double, 6> most_step{0.12, 0.06, 0.03, 0.05, 0.05, 0.3};
/// What counts as far along a row of trims: rad, rad, g.
constexpr std::array<double, 3> way_unit{0.1, 0.05, 0.2};
constexpr int most_rounds = 16;
constexpr int most_rounds_from_afar = 50;
constexpr double balanced = 1e-10;  ///< of the car's weight
constexpr double shared = 1e-6;  ///< the same, of how an axle's force is shared, which moves loads by a fraction of it
// Along a row only the next one is sought from it, and where the row turns: to half of what that is told to.
constexpr double balanced_on_way = 1e-5;
constexpr double shared_on_way = 1e-3;
// As long as a step leaves a fifth of what was lacking, slopes serve again.
constexpr int most_again = 4;
constexpr double serves_again = 0.2;
constexpr double most_servo_rad = 1.2;
constexpr double most_body_slip = 0.7;
constexpr double nearest_slip = -0.1, farthest_slip = 0.7;  ///< rad beyond where an axle is: there its most is sought
constexpr double beyond_peak = 0.105;                       ///< six degrees
constexpr double gently_g = 0.2;
constexpr double just_below = 0.96;  ///< of the limit

// Rows that a layout does not need are those of the identity: of a known size both are solved in half the time.
using Small = Eigen::Matrix<double, solved_count, 1>;
using SmallSquare = Eigen::Matrix<double, solved_count, solved_count>;

/// How lateral forces are shared otherwise than by load depends on the forces, which depend on the loads, which depend
/// on that. It is taken from the round before, with how it answers the unknowns.
template <class J>
class SharingSoFar {
 public:
  explicit SharingSoFar(const std::array<double, 3>& first) {
    for (std::size_t i = 0; i < 3; ++i) last_[i] = J(first[i]);
  }
  [[nodiscard]] std::array<J, 3> at(const std::array<double, unknown_count>& u) const {
    std::array<J, 3> now = last_;
    if (known_)
      for (J& n : now)
        for (int i = 0; i < J::DIMENSION; ++i)
          n.a += n.v[i] * (u[static_cast<std::size_t>(i)] - from_[static_cast<std::size_t>(i)]);
    return now;
  }
  [[nodiscard]] std::array<double, 3> value_at(const std::array<double, unknown_count>& u) const {
    const std::array<J, 3> now = at(u);
    return {now[0].a, now[1].a, now[2].a};
  }
  /// Found anew, answering as before.
  void correct(const std::array<double, 3>& found, const std::array<double, unknown_count>& u) {
    for (std::size_t i = 0; i < 3; ++i) last_[i].a = found[i];
    from_ = u;
  }
  void take(const std::array<J, 3>& found, const std::array<double, unknown_count>& u) {
    last_ = found;
    from_ = u;
    known_ = true;
  }

 private:
  std::array<J, 3> last_{};
  std::array<double, unknown_count> from_{};
  bool known_ = false;
};

}  // namespace

Trimmer::Trimmer(const SetupTable& table, const TyreDraw& tyres) : table_(table), car_(table, tyres) {}

std::optional<Trim> Trimmer::trim(CornerPhase phase, double lateral_g, const Trim* near, Care care) const {
  DriveLayout l = car_.layout(phase);
  if (near) return trim(l, lateral_g, near, care);
  auto found = trim(l, lateral_g, nullptr, care);
  if (found) return found;
  // A differential that sticks is come to by letting its friction grow.
  for (const double rubs : {0.0, 0.1, 0.3, 0.6, 1.0}) {
    l.rubs = rubs;
    const auto from = found;
    found = trim(l, lateral_g, from ? &*from : nullptr, care);
    if (!found) return std::nullopt;
  }
  return found;
}

std::optional<Trim> Trimmer::trim(const DriveLayout& l, double lateral_g, const Trim* near, Care care) const {
  if (!(lateral_g > 0.0)) return std::nullopt;
  std::array<double, unknown_count> u{};
  std::array<double, 3> shift{};
  if (near) {
    shift = near->shared;
    u = {near->servo_rad, near->body_slip_rad, near->drive_slip, near->apart[0], near->apart[1], lateral_g, 0.0, 0.0};
  } else {
    // As on rails.
    const double radius = table_.ask().radius_m;
    double steer = 0.0;
    while (std::abs(steer) < most_servo_rad &&
           std::abs(table_.mean_heading(l.sense * steer)) < table_.wheelbase_m() / radius)
      steer += 0.02;
    u[servo] = l.sense * steer;
    u[body_slip] = -l.sense * table_.x_m()[2] / radius;
    u[front_apart] = u[rear_apart] = l.sense * 0.5 * (table_.y_m()[2] - table_.y_m()[3]) / radius;
    u[lateral] = lateral_g;
  }
  return solve(l, u, shift, nullptr, care, near ? most_rounds : most_rounds_from_afar);
}

double way_between(const Trim& a, const Trim& b) {
  return std::hypot((b.servo_rad - a.servo_rad) / way_unit[0], (b.body_slip_rad - a.body_slip_rad) / way_unit[1],
                    (b.lateral_g - a.lateral_g) / way_unit[2]);
}

/// Cosine of the angle by which a row of trims turns at the middle one of three.
double bend_between(const Trim& a, const Trim& b, const Trim& c) {
  const auto part = [](const Trim& from, const Trim& to) {
    return Eigen::Vector3d((to.servo_rad - from.servo_rad) / way_unit[0],
                           (to.body_slip_rad - from.body_slip_rad) / way_unit[1],
                           (to.lateral_g - from.lateral_g) / way_unit[2])
        .normalized();
  };
  return part(a, b).dot(part(b, c));
}

std::optional<Trim> Trimmer::on_way(std::span<const Trim> known, double place) const {
  if (known.size() < 2 || known.size() > 3) return std::nullopt;
  std::array<double, 3> at_place{};
  for (std::size_t i = 1; i < known.size(); ++i) {
    const double step = way_between(known[i - 1], known[i]);
    if (!(step > 0.0)) return std::nullopt;
    at_place[i] = at_place[i - 1] + step;
  }
  // Square to the chord of the two that it lies between, or that it lies beyond.
  const std::size_t next = known.size() == 3 && place < at_place[1] ? 1 : known.size() - 1;
  const Trim &from = known[next - 1], &to = known[next];
  const double length = at_place[next] - at_place[next - 1];
  Way w;
  w.along = {(to.servo_rad - from.servo_rad) / way_unit[0] / length,
             (to.body_slip_rad - from.body_slip_rad) / way_unit[1] / length,
             (to.lateral_g - from.lateral_g) / way_unit[2] / length};
  w.to = w.along[0] * from.servo_rad / way_unit[0] + w.along[1] * from.body_slip_rad / way_unit[1] +
         w.along[2] * from.lateral_g / way_unit[2] + place - at_place[next - 1];
  // Sought from where the line or parabola through them passes (Lagrange).
  std::array<double, 3> counts{};
  for (std::size_t i = 0; i < known.size(); ++i) {
    counts[i] = 1.0;
    for (std::size_t k = 0; k < known.size(); ++k)
      if (k != i) counts[i] *= (place - at_place[k]) / (at_place[i] - at_place[k]);
  }
  const auto mixed = [&](const auto& of) {
    double sum = 0.0;
    for (std::size_t i = 0; i < known.size(); ++i) sum += counts[i] * of(known[i]);
    return sum;
  };
  const std::array<double, unknown_count> u{mixed([](const Trim& t) { return t.servo_rad; }),
                                            mixed([](const Trim& t) { return t.body_slip_rad; }),
                                            mixed([](const Trim& t) { return t.drive_slip; }),
                                            mixed([](const Trim& t) { return t.apart[0]; }),
                                            mixed([](const Trim& t) { return t.apart[1]; }),
                                            mixed([](const Trim& t) { return t.lateral_g; }),
                                            0.0,
                                            0.0};
  std::array<double, 3> shift{};
  for (std::size_t i = 0; i < 3; ++i) shift[i] = mixed([i](const Trim& t) { return t.shared[i]; });
  return solve(car_.layout(from.phase), u, shift, &w, Care::on_way, most_rounds);
}

std::optional<Trim> Trimmer::solve(const DriveLayout& l, std::array<double, 8> u, std::array<double, 3> shift,
                                   const Way* on_way, Care care, int rounds) const {
  const CornerPhase phase = l.phase;
  const bool to_be_told = care == Care::to_be_told;
  const CornerAsk& ask = table_.ask();
  const double mass = table_.mass_kg();
  const double weight = mass * gravity_m_s2;
  const double along = lengthways_g(ask, phase) * gravity_m_s2;
  // One row for each unknown that is solved for.
  std::array<int, 6> rows{sideways, yaw};
  std::array<int, 6> columns = l.unknown;
  int count = 2;
  if (l.drives) rows[at(count++)] = lengthways;
  for (; count < l.count; ++count) rows[at(count)] = l.unknown[at(count)] == front_apart ? front_law : rear_law;
  if (on_way) {
    rows[at(count)] = way;
    columns[at(count++)] = lateral;
  }
  for (int i = drive_slip; i <= rear_apart; ++i)
    if (std::find(l.unknown.begin(), l.unknown.begin() + l.count, i) == l.unknown.begin() + l.count) u[at(i)] = 0.0;
  std::optional<SetupTable::Node> at;
  const auto stand = [&] {
    if (!at || at->at_g != u[lateral]) at = table_.node(phase, u[lateral]);
    return at && u[lateral] > 0.0;
  };
  const auto speed_at = [&](const auto& g) {
    using std::sqrt;
    return sqrt(gravity_m_s2 * ask.radius_m * g);
  };
  const auto lacking = [&]<class T>(std::array<T, unknown_count> x, const std::array<T, 3>& shared_so) {
    const T across = l.sense * gravity_m_s2 * x[lateral];
    const T speed = speed_at(x[lateral]);
    const T turns = l.sense * speed / ask.radius_m;
    x[yaw_rate] = turns;
    TyreForces<T> f = car_.forces<T>(l, *at, x, shared_so, speed);
    f.sum[sideways] -= mass * (along * f.body_sin + across * f.body_cos);
    f.sum[lengthways] -= mass * (along * f.body_cos - across * f.body_sin);
    if (ask.turn_in_s > 0.0) f.sum[yaw] -= table_.yaw_inertia() * yaw_comes(phase) / ask.turn_in_s * turns;
    if (on_way)
      f.sum[way] = weight * 0.1 *
                   (on_way->along[0] / way_unit[0] * x[servo] + on_way->along[1] / way_unit[1] * x[body_slip] +
                    on_way->along[2] / way_unit[2] * x[lateral] - on_way->to);
    return f;
  };
  const auto sum_of = [&](const auto& f, int r) -> const auto& {
    return f.sum[static_cast<std::size_t>(rows[static_cast<std::size_t>(r)])];
  };
  Small off = Small::Zero();
  double worst = 0.0, moved = 0.0;
  const auto measure = [&](const auto& f, const auto& shared_so) {
    worst = moved = 0.0;
    for (int r = 0; r < count; ++r) {
      off[r] = value_of(sum_of(f, r));
      worst = std::max(worst, std::abs(off[r]) * (r == 1 ? 1.0 / table_.wheelbase_m() : 1.0));
    }
    for (std::size_t i = 0; i < 3; ++i)
      moved = std::max(moved, std::abs(value_of(f.shift[i]) - value_of(shared_so[i])));
    return worst < (to_be_told ? balanced : balanced_on_way) * weight &&
           moved < (to_be_told ? shared : shared_on_way) * weight;
  };
  const auto told = [&](const auto& f) {
    Trim t;
    t.phase = phase;
    t.lateral_g = u[lateral];
    t.servo_rad = u[servo];
    t.body_slip_rad = u[body_slip];
    t.speed_m_s = speed_at(u[lateral]);
    t.yaw_rate = l.sense * t.speed_m_s / ask.radius_m;
    t.drive_slip = u[drive_slip];
    t.apart = {u[front_apart], u[rear_apart]};
    t.wheel = f.wheels();
    for (std::size_t i = 0; i < 3; ++i) t.shared[i] = value_of(f.shift[i]);
    t.yaw_by_drive_nm = f.yaw_by_drive_nm;
    return t;
  };
  // No further than the steering goes.
  const auto steers = [&] { return l.sense * u[servo] <= table_.servo_most_rad(); };
  /// Newton's step, shortened where it is long; false: nowhere.
  const auto go = [&](const Small& by) {
    if (!by.allFinite()) return false;
    double shorter = 1.0;
    for (int i = 0; i < count; ++i)
      shorter = std::min(shorter, most_step[static_cast<std::size_t>(columns[static_cast<std::size_t>(i)])] /
                                      std::max(1e-12, std::abs(by[i])));
    for (int i = 0; i < count; ++i)
      u[static_cast<std::size_t>(columns[static_cast<std::size_t>(i)])] -= shorter * by[i];
    return std::abs(u[servo]) <= most_servo_rad && std::abs(u[body_slip]) <= most_body_slip;
  };
  std::array<double, unknown_count> before = u;
  double worst_before = std::numeric_limits<double>::infinity();
  int halved = 0;
  SharingSoFar<Jet> sharing(shift);
  SmallSquare slope = SmallSquare::Identity();
  for (int round = 0; round < rounds; ++round) {
    if (!stand()) return std::nullopt;
    std::array<Jet, unknown_count> jets;
    for (int i = 0; i < solved_count; ++i) jets[static_cast<std::size_t>(i)] = Jet(u[static_cast<std::size_t>(i)], i);
    const std::array<Jet, 3> shared_so = sharing.at(u);
    const TyreForces<Jet> f = lacking(jets, shared_so);
    for (int r = 0; r < count; ++r)
      for (int c = 0; c < count; ++c) slope(r, c) = sum_of(f, r).v[columns[static_cast<std::size_t>(c)]];
    if (measure(f, shared_so)) {
      if (!steers()) return std::nullopt;
      Trim t = told(f);
      if (to_be_told) {
        // How the unknowns answer lateral acceleration, by the implicit function theorem.
        Small by = Small::Zero();
        for (int r = 0; r < count; ++r) by[r] = sum_of(f, r).v[lateral];
        t.servo_rad_per_g = -slope.partialPivLu().solve(by)[0];
      }
      return t;
    }
    // A step that made it much worse was too long: a differential came loose, a tyre went over its top.
    if (worst > 2.0 * worst_before && halved < 6) {
      for (std::size_t i = 0; i < unknown_count; ++i) u[i] = before[i] + 0.4 * (u[i] - before[i]);
      ++halved;
      continue;
    }
    halved = 0;
    worst_before = std::max(worst, 1e-3 * weight);
    before = u;
    sharing.take(f.shift, u);
    const Eigen::PartialPivLU<SmallSquare> lu(slope);
    if (!go(lu.solve(off))) return std::nullopt;
    // Close by, the same slopes serve again, and plain numbers cost a fraction of those that carry derivatives.
    double was = worst;
    for (int again = 0; again < most_again; ++again) {
      if (!stand()) return std::nullopt;
      const std::array<double, 3> shared_now = sharing.value_at(u);
      const TyreForces<double> g = lacking(u, shared_now);
      if (measure(g, shared_now)) {
        if (to_be_told) break;
        return steers() ? std::optional(told(g)) : std::nullopt;
      }
      if (!(worst < serves_again * was)) break;
      was = worst;
      worst_before = std::max(worst, 1e-3 * weight);
      before = u;
      sharing.correct(g.shift, u);
      if (!go(lu.solve(off))) return std::nullopt;
    }
  }
  return std::nullopt;
}

/// The wheels as they stand at an acceleration, slipping as in a trim nearby.
struct Trimmer::Held {
  PerEnd<AxleAsk> axle;
  PerEnd<double> needs_n{};
};

std::optional<Trimmer::Held> Trimmer::held(CornerPhase phase, double lateral_g, const Trim& like) const {
  const auto node = table_.node(phase, lateral_g);
  if (!node) return std::nullopt;
  const double sense = table_.ask().to_the_left ? 1.0 : -1.0;
  Held h;
  const double grown = lateral_g / like.lateral_g;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const auto w = at(wheel_of(end, side));
      const WheelTrim& wheel = like.wheel[w];
      AxleAsk::Wheel& in = h.axle[at(end)].wheel[at(side)];
      double load_n = node->load_n[w] + node->load_per_rad[w] * like.servo_rad;
      in.lean_rad = node->lean[w] + node->lean_per_rad[w] * like.servo_rad;
      for (std::size_t by = 0; by < 3; ++by) {
        load_n += node->load_by[by][w] * grown * like.shared[by];
        in.lean_rad += node->lean_by[by][w] * grown * like.shared[by];
      }
      if (end == End::front) in.lean_rad += table_.steered(side, like.servo_rad).lean;
      in.under = car_.tyre(end).loaded(load_n);
      in.slip_rad = wheel.slip_rad;
      // Turned further, not driven elsewhere: what counts is the force across the car.
      in.heading_cos = std::cos(wheel.heading_rad);
      // The lengthways slip that gave that force: along over sideways is as one slip over the other.
      const double over = car_.draw()[TyreParameter::lengthways_stiffness];
      const double side_slip = std::tan(wheel.slip_rad) + car_.draw()[TyreParameter::lean_steers] * wheel.lean_rad;
      if (wheel.lengthways_n != 0.0 && std::abs(wheel.sideways_n) > 1e-6)
        in.lengthways = wheel.lengthways_n / wheel.sideways_n * side_slip / over;
    }
  for (const End end : both_ends) {
    h.axle[at(end)].tyre = &car_.tyre(end);
    h.axle[at(end)].sense = sense;
  }
  // The axles' shares of the lateral force follow from yaw.
  const double mass = table_.mass_kg();
  const CornerAsk& ask = table_.ask();
  const double speed = std::sqrt(lateral_g * gravity_m_s2 * ask.radius_m);
  const double yaw_moment = ask.turn_in_s > 0.0
                                ? sense * table_.yaw_inertia() * yaw_comes(phase) * speed / ask.radius_m / ask.turn_in_s
                                : 0.0;
  const double y = mass * (sense * lateral_g * gravity_m_s2 * std::cos(like.body_slip_rad) +
                           lengthways_g(ask, phase) * gravity_m_s2 * std::sin(like.body_slip_rad));
  const double front = 0.5 * (table_.x_m()[0] + table_.x_m()[1]);
  const double rear = 0.5 * (table_.x_m()[2] + table_.x_m()[3]);
  const double by_slip = yaw_moment - like.yaw_by_drive_nm;
  h.needs_n[0] = sense * (by_slip - rear * y) / (front - rear);
  h.needs_n[1] = sense * (front * y - by_slip) / (front - rear);
  return h;
}

namespace {

double axle_force(const AxleAsk& axle, double further) {
  AxlePlaces pushes{};
  wheels_kernel().axle(axle, {further, further, further, further}, pushes);
  return pushes[0];
}

/// The most that an axle could push, and turned how much further; several places at once, so without derivatives.
std::pair<double, double> most_of(const AxleAsk& axle) {
  // Coarse first: two wheels with different slips may have two tops.
  constexpr std::size_t places = 3 * axle_places;
  constexpr double step = (farthest_slip - nearest_slip) / (places - 1);
  const auto place = [](std::size_t i) { return nearest_slip + step * static_cast<double>(i); };
  std::array<double, places> coarse{};
  for (std::size_t i = 0; i < places; i += axle_places) {
    AxlePlaces pushes{};
    wheels_kernel().axle(axle, {place(i), place(i + 1), place(i + 2), place(i + 3)}, pushes);
    std::copy(pushes.begin(), pushes.end(), coarse.begin() + static_cast<std::ptrdiff_t>(i));
  }
  const auto highest = [](const auto& of) { return at(std::max_element(of.begin() + 1, of.end() - 1) - of.begin()); };
  const std::size_t top = highest(coarse);
  double middle = place(top), half = step;
  // The middle one of three is highest, but where the force still grows at an end.
  std::array<double, 3> force{coarse[top - 1], coarse[top], coarse[top + 1]};
  constexpr int rounds = 3;
  for (int round = 0; round < rounds; ++round) {
    const double third = half / 3.0;
    AxlePlaces pushes{};
    wheels_kernel().axle(axle, {middle - 2.0 * third, middle - third, middle + third, middle + 2.0 * third}, pushes);
    const std::array<double, 7> all{force[0], pushes[0], pushes[1], force[1], pushes[2], pushes[3], force[2]};
    const std::size_t best = highest(all);
    force = {all[best - 1], all[best], all[best + 1]};
    middle += (static_cast<double>(best) - 3.0) * third;
    half = third;
  }
  // Where the parabola through them is highest.
  const double bend = force[0] - 2.0 * force[1] + force[2], rise = 0.5 * (force[2] - force[0]);
  const double on = bend < 0.0 ? std::clamp(-rise / bend, -1.0, 1.0) : rise > 0.0 ? 1.0 : -1.0;
  return {force[1] + on * (rise + 0.5 * on * bend), middle + on * half};
}

}  // namespace

std::optional<PerEnd<double>> Trimmer::left(CornerPhase phase, double lateral_g, const Trim& like) const {
  const auto h = held(phase, lateral_g, like);
  if (!h) return std::nullopt;
  PerEnd<double> left{};
  for (const End end : both_ends)
    left[at(end)] = most_of(h->axle[at(end)]).first / std::max(1e-9, h->needs_n[at(end)]) - 1.0;
  return left;
}

std::optional<Trimmer::LettingGo> Trimmer::letting_go(const Trim& at_limit) const {
  const auto h = held(at_limit.phase, at_limit.lateral_g, at_limit);
  if (!h) return std::nullopt;
  const PerEnd<std::pair<double, double>> most{most_of(h->axle[0]), most_of(h->axle[1])};
  const auto left = [&](End end) { return most[at(end)].first / std::max(1e-9, h->needs_n[at(end)]); };
  LettingGo l{left(End::front) <= left(End::rear) ? End::front : End::rear, 1.0};
  const auto [holds, where] = most[at(l.end)];
  if (holds > 0.0) l.keeps = axle_force(h->axle[at(l.end)], where + beyond_peak) / holds;
  return l;
}

std::optional<Answers> Trimmer::answers(const Trim& t) const {
  const auto node = table_.node(t.phase, t.lateral_g);
  if (!node) return std::nullopt;
  const DriveLayout l = car_.layout(t.phase);
  const std::array<double, unknown_count> u{t.servo_rad, t.body_slip_rad, t.drive_slip, t.apart[0],
                                            t.apart[1],  t.lateral_g,     t.yaw_rate,   0.0};
  std::array<WholeJet, unknown_count> jets;
  for (int i = 0; i < unknown_count; ++i) jets[at(i)] = WholeJet(u[at(i)], i);
  SharingSoFar<WholeJet> sharing(t.shared);
  sharing.take(car_.forces<WholeJet>(l, *node, jets, sharing.at(u), WholeJet(t.speed_m_s)).shift, u);
  const TyreForces<WholeJet> f = car_.forces<WholeJet>(l, *node, jets, sharing.at(u), WholeJet(t.speed_m_s));
  // What the drive makes of a disturbance: its speed is held, differentials give way as they do.
  const int inner = l.count - 2 - (l.drives ? 1 : 0);
  Eigen::Matrix<double, 2, unknown_count> outer;
  for (int c = 0; c < unknown_count; ++c) {
    outer(0, c) = f.sum[sideways].v[c];
    outer(1, c) = f.sum[yaw].v[c];
  }
  if (inner > 0) {
    Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 2, 2> law(inner, inner), moves(2, inner);
    Eigen::Matrix<double, Eigen::Dynamic, unknown_count, 0, 2, unknown_count> by(inner, unknown_count);
    for (int r = 0; r < inner; ++r) {
      const int unknown = l.unknown[at(l.count - inner + r)];
      const WholeJet& s = f.sum[unknown == front_apart ? front_law : rear_law];
      for (int c = 0; c < unknown_count; ++c) by(r, c) = s.v[c];
      for (int c = 0; c < inner; ++c) {
        const int other = l.unknown[at(l.count - inner + c)];
        law(r, c) = s.v[other];
      }
      moves(0, r) = f.sum[sideways].v[unknown];
      moves(1, r) = f.sum[yaw].v[unknown];
    }
    outer -= moves * law.partialPivLu().solve(by);
  }
  const double mass = table_.mass_kg();
  const double inertia = table_.yaw_inertia();
  // Loads, leans and headings follow the lateral acceleration that the forces make.
  const double per_n = l.sense * std::cos(t.body_slip_rad) / (mass * gravity_m_s2);
  const double grows = 1.0 - per_n * outer(0, lateral);
  if (!(grows > 0.0)) return std::nullopt;
  for (const int c : {static_cast<int>(servo), static_cast<int>(body_slip), static_cast<int>(yaw_rate)}) {
    outer(0, c) /= grows;
    outer(1, c) += outer(1, lateral) * per_n * outer(0, c);
  }
  const double y_beta = outer(0, body_slip), n_beta = outer(1, body_slip);
  const double y_r = outer(0, yaw_rate), n_r = outer(1, yaw_rate);
  const double y_servo = outer(0, servo), n_servo = outer(1, servo);
  Answers a;
  if (!(y_beta < 0.0)) return std::nullopt;
  a.static_margin = n_beta / (-y_beta * table_.wheelbase_m());
  a.yaw_damping_nms = -n_r;
  // Body slip and yaw rate after a step of the servo, speed held.
  const double a11 = y_beta / (mass * t.speed_m_s), a12 = y_r / (mass * t.speed_m_s) - 1.0;
  const double a21 = n_beta / inertia, a22 = n_r / inertia;
  const double b1 = y_servo / (mass * t.speed_m_s), b2 = n_servo / inertia;
  const double det = a11 * a22 - a12 * a21;
  if (!(det > 0.0) || !(a11 + a22 < 0.0)) return a;
  const double settles = -(a11 * b2 - a21 * b1) / det;
  if (!(settles * b2 > 0.0)) return a;
  constexpr double dt = 1e-3;
  double beta = 0.0, r = 0.0;
  for (int i = 0; i < 1000; ++i) {
    // Midpoint rule: a millisecond is short against what a car does.
    const double bm = beta + 0.5 * dt * (a11 * beta + a12 * r + b1);
    const double rm = r + 0.5 * dt * (a21 * beta + a22 * r + b2);
    const double next = r + dt * (a21 * bm + a22 * rm + b2);
    beta += dt * (a11 * bm + a12 * rm + b1);
    if (std::abs(next) >= 0.9 * std::abs(settles)) {
      a.rise_s = dt * (i + (0.9 * std::abs(settles) - std::abs(r)) / std::max(1e-12, std::abs(next) - std::abs(r)));
      return a;
    }
    r = next;
  }
  return a;
}

std::optional<std::pair<double, double>> Trimmer::moment_at(double servo_rad, double nose_rad) const {
  constexpr int rounds = 60;
  constexpr double settled_g = 1e-6;
  DriveLayout l = car_.layout(CornerPhase::middle);
  l.coast();
  const CornerAsk& ask = table_.ask();
  const double speed = std::sqrt(ask.lateral_g * gravity_m_s2 * ask.radius_m);
  const double weight = table_.mass_kg() * gravity_m_s2;
  double g = 0.5 * ask.lateral_g;
  std::array<double, 3> shift{};
  for (int round = 0; round < rounds; ++round) {
    const auto at = table_.node(CornerPhase::middle, std::clamp(g, 0.0, table_.last_g(CornerPhase::middle)));
    if (!at) return std::nullopt;
    std::array<double, unknown_count> u{};
    u[servo] = l.sense * servo_rad;
    u[body_slip] = -l.sense * nose_rad;
    u[lateral] = at->at_g;
    // The way bends as the forces bend it.
    u[yaw_rate] = l.sense * g * gravity_m_s2 / speed;
    const TyreForces<double> f = car_.forces<double>(l, *at, u, shift, speed);
    const double next = l.sense * f.sum[sideways] / weight;
    shift = f.shift;
    if (std::abs(next - g) < settled_g) {
      if (g < 0.0) return std::nullopt;
      return std::pair(next, l.sense * f.sum[yaw] / (weight * table_.wheelbase_m()));
    }
    g += 0.5 * (next - g);
  }
  return std::nullopt;
}

namespace {

/// From gentle turning to where no balance is left.
struct Ladder {
  std::vector<Trim> trims;  ///< ascending
  double limit_g = 0.0;
  bool by_its_stand = false;
};

/// The highest trim between three along their way, of which the one in the middle is the highest so far: where the
/// parabola through them is highest, again and again, and where that is no help a third of the way into the longer
/// half.
Trim top_of(const Trimmer& trimmer, Trim a, Trim m, Trim b) {
  constexpr int rounds = 8;
  constexpr double near_enough_g = 2e-5;
  constexpr double near = 0.02;  // of the way between them
  bool parabola = true;
  for (int round = 0; round < rounds; ++round) {
    const double am = way_between(a, m), mb = way_between(m, b);
    const double rise = (m.lateral_g - a.lateral_g) / am, fall = (b.lateral_g - m.lateral_g) / mb;
    const double bend = (fall - rise) / (am + mb);
    double top = 0.0;
    if (bend < 0.0) {
      top = std::clamp(-(rise + bend * am) / (2.0 * bend), -0.9 * am, 0.9 * mb);
      if (parabola && -bend * top * top < near_enough_g) return m;
    }
    if (!parabola || std::abs(top) < near * (am + mb)) top = mb > am ? mb / 3.0 : -am / 3.0;
    const std::array<Trim, 3> known{a, m, b};
    const auto found = trimmer.on_way(known, am + top);
    if (!found) {
      if (!parabola) return m;
      parabola = false;
      continue;
    }
    const bool higher = found->lateral_g > m.lateral_g;
    parabola = true;
    if (higher) {
      (top > 0.0 ? a : b) = m;
      m = *found;
    } else {
      (top > 0.0 ? b : a) = *found;
    }
  }
  return m;
}

/// Lateral acceleration grows until a tyre's top turns the row of trims back: so it is followed by its length, not by
/// acceleration (pseudo-arclength continuation: Keller 1977, from memory). It is left where it reaches `enough_g`.
std::optional<Ladder> climb(const Trimmer& trimmer, CornerPhase phase, double enough_g) {
  constexpr double longest = 1.0, shortest = 0.02, surest = 0.1;
  constexpr double straight = 0.9;
  constexpr int most_trims = 80;
  Ladder l;
  const double most = trimmer.table().last_g(phase);
  constexpr auto care = Trimmer::Care::on_way;
  auto start = trimmer.trim(phase, gently_g, nullptr, care);
  if (!start) start = trimmer.trim(phase, 0.25 * gently_g, nullptr, care);
  if (!start) return std::nullopt;
  auto second = trimmer.trim(phase, 1.25 * start->lateral_g, &*start, care);
  l.limit_g = start->lateral_g;
  l.trims = {std::move(*start)};
  if (!second) return l;
  l.trims.push_back(std::move(*second));
  double far = 0.5 * longest;
  while (static_cast<int>(l.trims.size()) < most_trims && l.trims.back().lateral_g < enough_g) {
    const std::span<const Trim> last = std::span(l.trims).last(std::min<std::size_t>(3, l.trims.size()));
    const Trim& here = last.back();
    const Trim& before = last[last.size() - 2];
    const double last_far = way_between(before, here);
    // Straight to the end of the table when it is near, and on this row.
    if ((here.lateral_g - before.lateral_g) * far > (most - here.lateral_g) * last_far)
      if (auto end = trimmer.trim(phase, most, &here, care); end && bend_between(before, here, *end) >= straight) {
        l.trims.push_back(std::move(*end));
        l.limit_g = most;
        l.by_its_stand = true;
        return l;
      }
    const double here_place = last_far + (last.size() > 2 ? way_between(last[0], before) : 0.0);
    auto next = trimmer.on_way(last, here_place + far);
    if (!next) {
      far *= 0.4;
      if (far < shortest) break;
      continue;
    }
    // Where the row bends, a long step may land on another row: one on which the other end lets go.
    if (far > surest && bend_between(before, here, *next) < straight) {
      far = std::max(surest, 0.4 * far);
      continue;
    }
    if (next->lateral_g <= here.lateral_g) {
      Trim top = top_of(trimmer, before, here, *next);
      if (top.lateral_g > here.lateral_g) l.trims.push_back(std::move(top));
      break;
    }
    l.trims.push_back(std::move(*next));
    far = std::min(longest, 1.5 * far);
  }
  l.limit_g = l.trims.back().lateral_g;
  return l;
}

std::optional<PhaseHandling> phase_of(const Trimmer& trimmer, CornerPhase phase, bool limits) {
  const SetupTable& table = trimmer.table();
  const double asked = table.ask().lateral_g;
  const auto ladder = climb(trimmer, phase, limits ? std::numeric_limits<double>::infinity() : asked / just_below);
  if (!ladder) return std::nullopt;
  const std::vector<Trim>& trims = ladder->trims;
  PhaseHandling p;
  if (limits) {
    p.limit_g = ladder->limit_g;
    p.by_its_stand = ladder->by_its_stand;
    if (const auto l = trimmer.letting_go(trims.back())) {
      p.lets_go = l->end;
      p.keeps = l->keeps;
    }
  }
  p.read_at_g = std::min(asked, just_below * ladder->limit_g);
  const auto nearest = [&](double g) {
    const Trim* best = &trims.front();
    for (const Trim& t : trims)
      if (std::abs(t.lateral_g - g) < std::abs(best->lateral_g - g)) best = &t;
    return best;
  };
  auto read = trimmer.trim(phase, p.read_at_g, nearest(p.read_at_g));
  const Trim& like = read ? *read : *nearest(p.read_at_g);
  if (const auto left = trimmer.left(phase, std::min(asked, table.last_g(phase)), like)) p.left = *left;
  if (!read) return p;
  const double sense = table.ask().to_the_left ? 1.0 : -1.0;
  p.servo_deg = sense * degrees(read->servo_rad);
  p.heading_deg = sense * degrees(0.5 * (read->wheel[0].heading_rad + read->wheel[1].heading_rad));
  p.body_slip_deg = -sense * degrees(read->body_slip_rad);
  p.answers = trimmer.answers(*read);
  p.least_load_n = read->wheel[0].load_n;
  for (const WheelTrim& w : read->wheel) p.least_load_n = std::min(p.least_load_n, w.load_n);
  p.understeer_deg_per_g = sense * degrees(read->servo_rad_per_g);
  return p;
}

}  // namespace

std::optional<TyreHandling> handling_on(const SetupTable& table, const TyreDraw& tyres) {
  const Trimmer trimmer(table, tyres);
  TyreHandling h;
  for (std::size_t i = 0; i < phase_count; ++i) {
    const auto p = phase_of(trimmer, corner_phases[i], true);
    if (!p) return std::nullopt;
    h.phase[i] = *p;
  }
  return h;
}

PhaseReach reach_without_limits(const CornerAsk& ask) {
  const double reach = ask.lateral_g / just_below;
  return {reach, reach, reach};
}

std::optional<PhaseHandling> phase_on(const SetupTable& table, const TyreDraw& tyres, CornerPhase phase, bool limits) {
  return phase_of(Trimmer(table, tyres), phase, limits);
}

std::vector<std::optional<TyreHandling>> handling_over(const SetupTable& table, std::span<const TyreDraw> tyres,
                                                       unsigned threads, const std::function<bool()>& go_on) {
  std::vector<std::optional<TyreHandling>> all(tyres.size());
  for_each_by_hands(tyres.size(), hands_of(threads), [&](std::size_t i) {
    if (!go_on || go_on()) all[i] = handling_on(table, tyres[i]);
  });
  return all;
}

}  // namespace lowkite
