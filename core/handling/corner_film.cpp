#include "core/handling/corner_film.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <stdexcept>

#include <boost/numeric/odeint/integrate/integrate_adaptive.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_controlled_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_runge_kutta_dopri5.hpp>
#include <boost/numeric/odeint/stepper/generation/make_controlled.hpp>
#include <boost/numeric/odeint/stepper/runge_kutta_dopri5.hpp>

#include "core/handling/car_forces.hpp"

namespace lowkite {
namespace {

constexpr double whole_turn_rad = 2.0 * std::numbers::pi / 3.0;  ///< of the corner that is driven
constexpr double least_round = 0.3;                              ///< rad at full tightness
constexpr double straight_before_s = 0.4, straight_after_s = 0.4;

// The driver, the servo, the car's turning masses: assumptions, the same for every setup.
constexpr double looks_ahead_s = 0.2;
constexpr double looks_ahead_m = 0.25;  ///< at least
constexpr double catches = 0.5;         ///< how much he answers a car that turns otherwise than he wants
constexpr double speed_answers = 8.0;   ///< 1/s
constexpr double speed_learns = 20.0;   ///< 1/s^2
constexpr double servo_follows_s = 0.02;
constexpr double servo_most_rad_s = 10.0;
constexpr double turning_share = 0.06;  ///< of the car's mass, what its wheels and gears are worth at the tread
constexpr double shares_after_s = 0.01;
constexpr double usual_roll_hz = 4.0, usual_roll_damping = 0.6;

constexpr double spun_rad = 1.0;
constexpr double off_line_m = 1.5;
constexpr double beyond_stand_g = 0.05;
constexpr double slowest_m_s = 0.3;

// What changes in time, in this order. Yaw and speeds in the car's frame, accelerations as the body feels them.
enum Moves : int {
  pos_x,
  pos_y,
  turned,
  ahead_speed,
  side_speed,
  turn_rate,
  tread,
  apart_front,
  apart_rear,
  felt_lateral,
  felt_lateral_rate,
  felt_along,
  felt_along_rate,
  shared_front,
  shared_rear,
  shared_yaw,
  servo_at,
  way_along,
  speed_missed,
  moves_count
};
using State = std::array<double, moves_count>;

struct Asked {
  double servo = 0.0;    ///< rad
  double drive_n = 0.0;  ///< at the treads, forward
};

class Driven {
 public:
  Driven(const SetupTable& table, const TyreDraw& tyres)
      : car_(table, tyres), sense_(table.ask().to_the_left ? 1.0 : -1.0) {
    const auto& body = table.body();
    assumed_ = !body.hz || !body.damping_ratio;
    swings_ = 2.0 * std::numbers::pi * body.hz.value_or(usual_roll_hz);
    damps_ = body.damping_ratio.value_or(usual_roll_damping);
    set_phase(CornerPhase::middle);
  }

  void set_phase(CornerPhase phase) { layout_ = car_.layout(phase); }
  [[nodiscard]] const SetupTable& table() const { return car_.table(); }
  [[nodiscard]] double sense() const { return sense_; }
  [[nodiscard]] bool assumed() const { return assumed_; }

  [[nodiscard]] TyreForces<double> forces(const State& s) const {
    const double speed = std::max(slowest_m_s, std::hypot(s[ahead_speed], s[side_speed]));
    const double lateral_g = s[felt_lateral];
    const SetupTable::Node node = table().node_at(s[felt_along], std::max(0.0, lateral_g));
    std::array<double, unknown_count> u{};
    u[servo] = s[servo_at];
    u[body_slip] = std::atan2(s[side_speed], s[ahead_speed]);
    u[drive_slip] = s[tread] / speed - 1.0;
    u[front_apart] = s[apart_front] / speed;
    u[rear_apart] = s[apart_rear] / speed;
    u[lateral] = std::min(lateral_g, node.at_g);
    u[yaw_rate] = s[turn_rate];
    return car_.forces<double>(layout_, node, u, {s[shared_front], s[shared_rear], s[shared_yaw]}, speed);
  }

  /// Newton and Euler in the plane.
  void move(const State& s, const Asked& asked, State& by) const {
    const TyreForces<double> f = forces(s);
    const double mass = table().mass_kg();
    const double speed = std::max(slowest_m_s, std::hypot(s[ahead_speed], s[side_speed]));
    const double c = std::cos(s[turned]), sn = std::sin(s[turned]);
    by = {};
    by[pos_x] = s[ahead_speed] * c - s[side_speed] * sn;
    by[pos_y] = s[ahead_speed] * sn + s[side_speed] * c;
    by[turned] = s[turn_rate];
    by[ahead_speed] = f.sum[lengthways] / mass + s[turn_rate] * s[side_speed];
    by[side_speed] = f.sum[sideways] / mass - s[turn_rate] * s[ahead_speed];
    by[turn_rate] = f.sum[yaw] / table().yaw_inertia();
    // Wheels and gears turn with the tread; what the differentials leave over turns two wheels of an axle apart.
    double held = 0.0;
    int wheels = 0;
    for (const End end : both_ends)
      if (layout_.engaged[at(end)])
        for (const Side side : both_sides) {
          held += f.wheel[at(wheel_of(end, side))].lengthways_n;
          ++wheels;
        }
    const double turning = turning_share * mass;
    by[tread] = wheels > 0 ? (asked.drive_n - held) / turning : (speed - s[tread]) / shares_after_s;
    const double each = wheels > 0 ? turning / wheels : turning;
    by[apart_front] = f.sum[front_law] / (2.0 * each);
    by[apart_rear] = f.sum[rear_law] / (2.0 * each);
    const auto feel = [&](int what, double is) {
      const auto w = at(what);
      by[w] = s[w + 1];
      by[w + 1] = swings_ * swings_ * (is - s[w]) - 2.0 * damps_ * swings_ * s[w + 1];
    };
    const auto [across, along] = felt(s, f);
    feel(felt_lateral, across);
    feel(felt_along, along);
    for (std::size_t k = 0; k < 3; ++k) by[shared_front + k] = (f.shift[k] - s[shared_front + k]) / shares_after_s;
    by[servo_at] = servo_most_rad_s * std::tanh((asked.servo - s[servo_at]) / (servo_follows_s * servo_most_rad_s));
  }

  /// Across the car's way, positive in the sense of the turn, and along it, g.
  [[nodiscard]] std::pair<double, double> felt(const State& s, const TyreForces<double>& f) const {
    const double slip = std::atan2(s[side_speed], s[ahead_speed]);
    const double weight = table().mass_kg() * gravity_m_s2;
    return {sense_ * (f.sum[sideways] * std::cos(slip) - f.sum[lengthways] * std::sin(slip)) / weight,
            (f.sum[lengthways] * std::cos(slip) + f.sum[sideways] * std::sin(slip)) / weight};
  }

  [[nodiscard]] CornerMoment moment(const State& s, double t_s) const {
    const TyreForces<double> f = forces(s);
    CornerMoment m;
    m.t_s = t_s;
    m.x_m = s[pos_x];
    m.y_m = s[pos_y];
    m.heading_rad = s[turned];
    m.along_m = s[way_along];
    m.speed_m_s = std::hypot(s[ahead_speed], s[side_speed]);
    m.body_slip_rad = std::atan2(s[side_speed], s[ahead_speed]);
    m.yaw_rate = s[turn_rate];
    m.servo_rad = s[servo_at];
    std::tie(m.lateral_g, m.lengthways_g) = felt(s, f);
    m.wheel = f.wheels();
    for (const End end : both_ends) {
      double all = 0.0, most = 0.0;
      for (const Side side : both_sides) {
        const auto w = at(wheel_of(end, side));
        const double load = m.wheel[w].load_n;
        const double holds = load > 0.0 ? car_.tyre(end).friction(load) * load : 0.0;
        const double does = std::hypot(m.wheel[w].sideways_n, m.wheel[w].lengthways_n);
        m.used[w] = holds > 0.0 ? does / holds : 0.0;
        all += does;
        most += holds;
      }
      m.end_used[at(end)] = most > 0.0 ? all / most : 0.0;
    }
    return m;
  }

 private:
  CarOnTyres car_;
  DriveLayout layout_;
  double sense_;
  double swings_ = 0.0, damps_ = 0.0;
  bool assumed_ = false;
};

bool sound(const State& s) {
  return std::all_of(s.begin(), s.end(), [](double x) { return std::isfinite(x); });
}

/// False where it cannot be integrated any further.
template <class Ask>
bool on(State& s, double t_s, double seconds, const Ask& ask) {
  namespace ode = boost::numeric::odeint;
  const auto stepper = ode::make_controlled(1e-8, 1e-8, ode::runge_kutta_dopri5<State>());
  try {
    ode::integrate_adaptive(
        stepper,
        [&](const State& x, State& by, double) {
          if (sound(x))
            ask(x, by);
          else
            by = {};
        },
        s, t_s, t_s + seconds, 1e-3);
  } catch (const std::runtime_error&) {
    return false;  // steps that no longer get it anywhere
  }
  return sound(s);
}

/// How a trim stands among what changes in time.
State state_of(const Trim& t, const CornerAsk& ask) {
  State s{};
  s[ahead_speed] = t.speed_m_s * std::cos(t.body_slip_rad);
  s[side_speed] = t.speed_m_s * std::sin(t.body_slip_rad);
  s[turn_rate] = t.yaw_rate;
  s[tread] = t.speed_m_s * (1.0 + t.drive_slip);
  s[apart_front] = t.speed_m_s * t.apart[0];
  s[apart_rear] = t.speed_m_s * t.apart[1];
  s[felt_lateral] = t.lateral_g;
  s[felt_along] = lengthways_g(ask, t.phase);
  for (std::size_t k = 0; k < 3; ++k) s[shared_front + k] = t.shared[k];
  s[servo_at] = t.servo_rad;
  return s;
}

}  // namespace

CornerLine CornerLine::of(const CornerAsk& ask) {
  CornerLine l;
  const double sense = ask.to_the_left ? 1.0 : -1.0;
  const double radius = ask.radius_m;
  l.middle_speed_ = std::sqrt(gravity_m_s2 * ask.lateral_g * radius);
  l.braking_ = gravity_m_s2 * ask.braking_g;
  l.power_ = gravity_m_s2 * ask.power_g;
  const double before = straight_before_s * l.middle_speed_, after = straight_after_s * l.middle_speed_;
  const double comes = std::max(0.1 * radius, l.middle_speed_ * ask.turn_in_s);
  // Each end turns by half of its length over the radius.
  const double round = std::max(least_round * radius, whole_turn_rad * radius - comes);
  l.middle_from_m_ = before + comes;
  l.middle_to_m_ = l.middle_from_m_ + round;
  const double whole = l.middle_to_m_ + comes + after;
  const auto bends = [&](double s) {
    if (s < before || s > l.middle_to_m_ + comes) return 0.0;
    if (s < l.middle_from_m_) return (s - before) / comes / radius;
    if (s > l.middle_to_m_) return (l.middle_to_m_ + comes - s) / comes / radius;
    return 1.0 / radius;
  };
  const auto steps = static_cast<int>(std::ceil(whole / l.step_m_));
  l.step_m_ = whole / steps;
  Point p;
  for (int i = 0; i <= steps; ++i) {
    const double s = i * l.step_m_;
    p.bends = sense * bends(s);
    l.points_.push_back(p);
    // Midpoint rule over a centimetre.
    const double mid = p.heading_rad + 0.5 * l.step_m_ * sense * bends(s + 0.25 * l.step_m_);
    p.x_m += l.step_m_ * std::cos(mid);
    p.y_m += l.step_m_ * std::sin(mid);
    p.heading_rad += l.step_m_ * sense * bends(s + 0.5 * l.step_m_);
  }
  return l;
}

CornerLine::Point CornerLine::at(double along_m) const {
  const auto straight_on = [](const Point& from, double by) {
    return Point{from.x_m + by * std::cos(from.heading_rad), from.y_m + by * std::sin(from.heading_rad),
                 from.heading_rad, 0.0};
  };
  if (along_m < 0.0) return straight_on(points_.front(), along_m);
  if (along_m > length_m()) return straight_on(points_.back(), along_m - length_m());
  const double place = along_m / step_m_;
  const std::size_t i = std::min(static_cast<std::size_t>(place), points_.size() - 2);
  const double part = place - static_cast<double>(i);
  const Point &a = points_[i], &b = points_[i + 1];
  const auto between = [&](double from, double to) { return from + part * (to - from); };
  return {between(a.x_m, b.x_m), between(a.y_m, b.y_m), between(a.heading_rad, b.heading_rad),
          between(a.bends, b.bends)};
}

CornerPhase CornerLine::phase_at(double along_m) const {
  return along_m < middle_from_m_ ? CornerPhase::entry
         : along_m > middle_to_m_ ? CornerPhase::exit
                                  : CornerPhase::middle;
}

double CornerLine::speed_at(double along_m) const {
  const double squared = middle_speed_ * middle_speed_ + 2.0 * braking_ * std::max(0.0, middle_from_m_ - along_m) +
                         2.0 * power_ * std::max(0.0, along_m - middle_to_m_);
  return std::sqrt(squared);
}

const CornerMoment& CornerFilm::at(double along_m) const {
  const auto found = std::lower_bound(moments.begin(), moments.end(), along_m,
                                      [](const CornerMoment& m, double s) { return m.along_m < s; });
  if (found == moments.end()) return moments.back();
  if (found == moments.begin()) return *found;
  return along_m - std::prev(found)->along_m < found->along_m - along_m ? *std::prev(found) : *found;
}

CornerFilm drive_corner(const SetupTable& table, const TyreDraw& tyres, const CornerLine& line,
                        const std::function<bool()>& go_on) {
  constexpr double longest_s = 30.0;
  const CornerAsk& ask = table.ask();
  Driven car(table, tyres);
  // How far the servo goes for a bend: as the trim of the middle has it, or that of a gentler turn; on rails where
  // the tyres hold none.
  const Trimmer trimmer(table, tyres);
  std::optional<Trim> known;
  for (const double share : {1.0, 0.9, 0.75, 0.5, 0.25})
    if (!known) known = trimmer.trim(CornerPhase::middle, share * ask.lateral_g);
  double steered = known ? std::abs(known->servo_rad) : 0.0;
  if (!known)
    while (steered < table.servo_most_rad() &&
           std::abs(table.mean_heading(car.sense() * steered)) < table.wheelbase_m() / ask.radius_m)
      steered += 0.01;
  const double servo_for_bend = steered * ask.radius_m;

  State s{};
  const CornerLine::Point start = line.at(0.0);
  s[ahead_speed] = s[tread] = line.speed_at(0.0);
  s[turned] = start.heading_rad;
  s[pos_x] = start.x_m;
  s[pos_y] = start.y_m;
  const double mass = table.mass_kg();
  const auto off_line = [&](const State& x) {
    const CornerLine::Point p = line.at(x[way_along]);
    return -std::sin(p.heading_rad) * (x[pos_x] - p.x_m) + std::cos(p.heading_rad) * (x[pos_y] - p.y_m);
  };
  const auto drive = [&](const State& x, State& by) {
    const double speed = std::max(slowest_m_s, std::hypot(x[ahead_speed], x[side_speed]));
    const double course = x[turned] + std::atan2(x[side_speed], x[ahead_speed]);
    // The bend that leads to a point ahead: a circle through it, tangent to the car's way (pure pursuit: Coulter 1992,
    // from memory).
    const double ahead = std::max(looks_ahead_m, looks_ahead_s * speed);
    const CornerLine::Point target = line.at(x[way_along] + ahead);
    const double dx = target.x_m - x[pos_x], dy = target.y_m - x[pos_y];
    const double aside = -std::sin(course) * dx + std::cos(course) * dy;
    const double bend = 2.0 * aside / std::max(0.01, dx * dx + dy * dy);
    const double wrong = bend - x[turn_rate] / speed;
    Asked asked;
    asked.servo =
        std::clamp(servo_for_bend * (bend + catches * wrong), -table.servo_most_rad(), table.servo_most_rad());
    const double wanted = line.speed_at(x[way_along]);
    const double lengthways = lengthways_g(ask, line.phase_at(x[way_along])) * gravity_m_s2 +
                              speed_answers * (wanted - speed) + speed_learns * x[speed_missed];
    asked.drive_n = mass * lengthways;
    car.move(x, asked, by);
    const CornerLine::Point here = line.at(x[way_along]);
    const double closer = std::max(0.2, 1.0 - here.bends * off_line(x));
    by[way_along] = speed * std::cos(course - here.heading_rad) / closer;
    by[speed_missed] = wanted - speed;
  };
  CornerFilm film;
  film.damping_assumed = car.assumed();
  const auto keep = [&](double t) {
    CornerMoment m = car.moment(s, t);
    m.off_line_m = -car.sense() * off_line(s);
    film.moments.push_back(m);
  };
  double t = 0.0;
  car.set_phase(line.phase_at(0.0));
  keep(t);
  while (s[way_along] < line.length_m() && t < longest_s) {
    if (go_on && !go_on()) return film;
    // Which wheels are held changes only between two pictures.
    car.set_phase(line.phase_at(s[way_along]));
    const bool whole = on(s, t, film_step_s, drive);
    t += film_step_s;
    if (!whole) {
      film.end = FilmEnd::spun;
      return film;
    }
    keep(t);
    const CornerMoment& m = film.moments.back();
    if (std::abs(m.body_slip_rad) > spun_rad || s[ahead_speed] < slowest_m_s) {
      film.end = FilmEnd::spun;
      return film;
    }
    if (s[felt_lateral] > table.last_g_at(s[felt_along]) + beyond_stand_g) {
      film.end = FilmEnd::off_wheels;
      return film;
    }
    if (std::abs(m.off_line_m) > off_line_m) {
      film.end = FilmEnd::off_line;
      return film;
    }
  }
  return film;
}

CornerFilm let_settle(const SetupTable& table, const TyreDraw& tyres, const Trim& trim, double push_rad,
                      double seconds) {
  Driven car(table, tyres);
  car.set_phase(trim.phase);
  State s = state_of(trim, table.ask());
  const double slip = trim.body_slip_rad + push_rad;
  s[ahead_speed] = trim.speed_m_s * std::cos(slip);
  s[side_speed] = trim.speed_m_s * std::sin(slip);
  const double mass = table.mass_kg();
  const auto drive = [&](const State& x, State& by) {
    const double missed = trim.speed_m_s - std::hypot(x[ahead_speed], x[side_speed]);
    car.move(x, {trim.servo_rad, mass * (speed_answers * missed + speed_learns * x[speed_missed])}, by);
    by[speed_missed] = missed;
  };
  CornerFilm film;
  film.damping_assumed = car.assumed();
  film.moments.push_back(car.moment(s, 0.0));
  for (double t = 0.0; t < seconds; t += film_step_s) {
    if (!on(s, t, film_step_s, drive)) {
      film.end = FilmEnd::spun;
      break;
    }
    film.moments.push_back(car.moment(s, t + film_step_s));
    if (std::abs(film.moments.back().body_slip_rad) > spun_rad) {
      film.end = FilmEnd::spun;
      break;
    }
  }
  return film;
}

std::array<double, 3> accelerations_at(const SetupTable& table, const TyreDraw& tyres, const Trim& trim) {
  Driven car(table, tyres);
  car.set_phase(trim.phase);
  const State s = state_of(trim, table.ask());
  const TyreForces<double> f = car.forces(s);
  const auto [across, along] = car.felt(s, f);
  return {across * gravity_m_s2, along * gravity_m_s2, f.sum[yaw] / table.yaw_inertia()};
}

TyreDraw middle_of(std::span<const TyreDraw> tyres, std::span<const double> weights) {
  TyreDraw middle;
  double total = 0.0;
  for (std::size_t i = 0; i < tyres.size(); ++i) {
    const double w = weights.empty() ? 1.0 : weights[i];
    total += w;
    for (const TyreParameterSpec& p : tyre_parameters()) middle[p.parameter] += w * tyres[i][p.parameter];
  }
  for (const TyreParameterSpec& p : tyre_parameters()) middle[p.parameter] /= total;
  return middle;
}

}  // namespace lowkite
