#include "core/load/ride_motion.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

#include <boost/numeric/odeint/integrate/integrate_const.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_dense_output_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_runge_kutta_dopri5.hpp>
#include <boost/numeric/odeint/stepper/generation/make_dense_output.hpp>
#include <boost/numeric/odeint/stepper/runge_kutta_dopri5.hpp>

#include "core/load/damper.hpp"
#include "core/load/tyre_give.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array events = std::to_array<RoadEventSpec>({
    {RoadEvent::bump, "bump", marked("a bump, both sides")},
    {RoadEvent::kerb, "kerb", marked("a kerb under one side")},
    {RoadEvent::landing, "landing", marked("a landing")},
    {RoadEvent::steer_step, "steer_step", marked("a step of the steering")},
});

constexpr double sample_s = 0.001;
constexpr double kerb_ramp_mm = 20.0;
/// What the plate and the ground give when they meet, N/mm at each end: hard, as no tyre is between them; a guess.
constexpr double plate_rate = 80.0;
constexpr int table_size = 61;
/// How far the stands are apart that a step of the steering passes, g.
constexpr double stand_every_g = 0.1;
/// Wheel and body, mm and mm/s: heave, roll, pitch, four wheels; then their speeds; then the dampers' work.
constexpr std::size_t heave_at = 0, roll_at = 1, pitch_at = 2, first_wheel = 3, coordinates = 7, work_at = 14,
                      state_size = 15;
using State = std::array<double, state_size>;

std::size_t wheel_index(End end, Side side) {
  return 2 * at(end) + at(side);
}

/// One corner over its travel: what its spring pushes down on the wheel and how its shock follows.
struct CornerTable {
  double low = 0.0, high = 0.0;  ///< travel against rest: on the droop stop, and as far as the table goes
  double room_mm = 0.0;          ///< travel left until the shock is pushed in; `high` where that is not described
  bool room_known = false;
  std::array<double, table_size> spring_n{};  ///< at the wheel
  std::array<double, table_size> ratio{};     ///< shock against wheel
  std::array<double, table_size> shock_mm{};  ///< shortened, against rest
  std::array<double, table_size> held{};      ///< N mm that the spring holds, against rest
  /// Where the third spring's end is on this side's lever, mm, and how fast it moves, mm per mm of travel.
  std::array<std::array<double, table_size>, 3> third_at{}, third_moves{};

  [[nodiscard]] double look_up(const std::array<double, table_size>& column, double travel) const {
    const double x = std::clamp((travel - low) / (high - low), 0.0, 1.0) * (table_size - 1);
    const auto i = std::min<std::size_t>(static_cast<std::size_t>(x), table_size - 2);
    const double part = x - static_cast<double>(i);
    return column[i] + part * (column[i + 1] - column[i]);
  }
};

struct Axled {
  PerSide<CornerTable> corner;
  PerSide<double> rest_n{};  ///< on the tyre, at rest
  double unsprung_kg = 0.0;
  double tyre_n_per_mm = 0.0;
  double x_mm = 0.0;          ///< ahead of the body's centre of gravity
  PerSide<double> y_mm{};     ///< to the left of it
  double bar_n_per_mm = 0.0;  ///< at each wheel, per mm between the two wheels' travels; a pod's side springs too
  bool solid = false;         ///< a pod: its shock follows both wheels together
  double share = 1.0;         ///< of a damper that works on one wheel
  ThirdLaw third;
  bool levers = false;  ///< that the third spring lies between; else it lies at the shocks' mounts
  double third_standing_mm = 0.0;
  double geometric_n = 0.0;  ///< load that a newton of lateral force moves through the links, N/N
  double lateral_share = 0.5;
  /// What the axle's own wheels do at one g sideways. As far as a wheel leans with the body its links hand the moment
  /// on to it; as far as it stays upright, the load moves at once.
  double unsprung_n_per_g = 0.0;     ///< at once, at each wheel
  double unsprung_n_mm_per_g = 0.0;  ///< to the body
  std::optional<Piston> piston;
  Oil oil;
};

/// A third spring as its wheels stand: how much shorter than at rest, and how fast it shortens per mm of either travel.
struct ThirdNow {
  double in_mm = 0.0;
  PerSide<double> per_mm{};
};
ThirdNow third_at(const Axled& a, const PerSide<double>& travel) {
  ThirdNow now;
  if (!a.levers) {
    for (const Side side : both_sides) {
      const CornerTable& c = a.corner[at(side)];
      now.in_mm += 0.5 * c.look_up(c.shock_mm, travel[at(side)]);
      now.per_mm[at(side)] = 0.5 * c.look_up(c.ratio, travel[at(side)]);
    }
    return now;
  }
  PerSide<ThirdLever> lever;
  for (const Side side : both_sides) {
    const CornerTable& c = a.corner[at(side)];
    for (Eigen::Index i = 0; i < 3; ++i) {
      const auto k = at(i);
      lever[at(side)].end[i] = c.look_up(c.third_at[k], travel[at(side)]);
      lever[at(side)].end_per_arm[i] = c.look_up(c.third_moves[k], travel[at(side)]);
    }
  }
  const ThirdElement e = between(lever[0], lever[1]);
  return {a.third_standing_mm - e.length_mm, e.shortens};
}

PerSide<double> together(const PerSide<double>& each) {
  const double mean = 0.5 * (each[0] + each[1]);
  return {mean, mean};
}

/// A stand in a steady turn.
struct Stand {
  double lateral_g = 0.0;
  State state{};
};

class Car4 {
 public:
  Car4(const LoadedCar& car, const RoadCase& road, const SprungMass& body, PerEnd<Axled> axles, double body_height_mm,
       PerEnd<double> plate_x_mm, PerEnd<double> plate_mm)
      : road_(road),
        body_(body),
        axle_(std::move(axles)),
        height_mm_(body_height_mm),
        plate_x_mm_(plate_x_mm),
        plate_mm_(plate_mm),
        total_kg_(car.model().mass.kg) {
    stands_in({});
  }

  /// What tables, lumped masses and links taken as they are at rest leave over in a stand is taken off there, and in
  /// between as far as it is between: so a car at rest stays at rest, and in a turn ends where it is in balance. From
  /// rest on, one stand after the other.
  void stands_in(const Stand& stand) {
    State left{};
    accelerations(stand.state, left, stand.lateral_g, 0.0);
    LeftOver& l = left_over_.emplace_back();
    l.lateral_g = stand.lateral_g;
    std::copy_n(left.begin() + coordinates, coordinates, l.acceleration.begin());
  }

  /// A balance as this model has it: its loads and its lean, on tyres that give.
  [[nodiscard]] Stand stand_of(const Balance& balance, const Balance& rest) const {
    Stand stand{balance.under.lateral_g, {}};
    State& s = stand.state;
    PerEnd<PerSide<double>> ahead{}, left{}, sunk{};
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const Axled& a = axle_[at(end)];
        ahead[at(end)][at(side)] = a.x_mm;
        left[at(end)][at(side)] = a.y_mm[at(side)];
        sunk[at(end)][at(side)] = (a.rest_n[at(side)] - balance.wheel[at(end)][at(side)].load_n) / a.tyre_n_per_mm;
        s[first_wheel + wheel_index(end, side)] = sunk[at(end)][at(side)];
      }
    const OnTyres by_tyres = on_tyres(ahead, left, sunk);
    s[heave_at] = balance.rise_mm - rest.rise_mm + by_tyres.rise_mm;
    s[roll_at] = balance.attitude.roll_rad - rest.attitude.roll_rad + by_tyres.roll_rad;
    s[pitch_at] = balance.pitch_rad - rest.pitch_rad + by_tyres.pitch_rad;
    for (const End end : both_ends)
      for (const Side side : both_sides)
        if (balance.wheel[at(end)][at(side)].lifted)  // it hangs
          s[first_wheel + wheel_index(end, side)] = std::max(
              s[first_wheel + wheel_index(end, side)], body_at(s, 0, end, side) + axle_[at(end)].corner[at(side)].low);
    return stand;
  }

  [[nodiscard]] State start() const {
    State s{};
    if (road_.event != RoadEvent::landing) return s;
    // The wheels hang on their stops and have just reached the ground. What hangs: travel = low, tyre without load.
    const double speed = -std::sqrt(2.0 * gravity_m_s2 * 1000.0 * road_.drop_mm);
    double up = 0.0;
    for (const End end : both_ends)
      for (const Side side : both_sides) up = std::max(up, unloaded(end, side) - axle_[at(end)].corner[at(side)].low);
    s[heave_at] = up;
    s[coordinates + heave_at] = speed;
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const std::size_t w = first_wheel + wheel_index(end, side);
        s[w] = up + axle_[at(end)].corner[at(side)].low;
        s[coordinates + w] = speed;
      }
    return s;
  }

  void operator()(const State& s, State& d, double t) const {
    const double g = lateral_g(t);
    for (std::size_t i = 0; i < coordinates; ++i) d[i] = s[coordinates + i];
    accelerations(s, d, g, t);
    std::size_t next = 0;
    while (next + 1 < left_over_.size() && std::abs(left_over_[next].lateral_g) < std::abs(g)) ++next;
    const LeftOver& after = left_over_[next];
    const LeftOver& before = left_over_[next == 0 ? 0 : next - 1];
    const double step = after.lateral_g - before.lateral_g;
    const double part = step == 0.0 ? 1.0 : (g - before.lateral_g) / step;
    for (std::size_t i = 0; i < coordinates; ++i)
      d[coordinates + i] -= before.acceleration[i] + part * (after.acceleration[i] - before.acceleration[i]);
  }

  /// The second half of `d`, but for what is left over.
  void accelerations(const State& s, State& d, double g, double t) const {
    double up_n = -body_.kg * gravity_m_s2;
    double roll_n_mm = 0.0;   // that makes the body lean right
    double pitch_n_mm = 0.0;  // that makes it dive
    double damped = 0.0;
    const double lateral_n = total_kg_ * gravity_m_s2 * g;
    double through_links = 0.0;
    for (const End end : both_ends) {
      const Axled& a = axle_[at(end)];
      PerSide<double> travel{}, speed{}, push{};
      for (const Side side : both_sides) {
        travel[at(side)] = travel_of(s, end, side);
        speed[at(side)] = speed_of(s, end, side);
      }
      const PerSide<double> apart = travel;
      if (a.solid) {
        travel = together(travel);
        speed = together(speed);
      }
      // What the wheels' own weight asks for sideways does not go through the links.
      const double side_n = lateral_n * a.lateral_share - 2.0 * a.unsprung_kg * gravity_m_s2 * g;
      const double moved = a.geometric_n * side_n;
      through_links += moved * (a.y_mm[0] - a.y_mm[1]);
      roll_n_mm += a.unsprung_n_mm_per_g * g;
      PerSide<double> third{};
      if (a.third.fitted()) {
        const ThirdNow now = third_at(a, travel);
        const double rate = now.per_mm[0] * speed[0] + now.per_mm[1] * speed[1];
        const double oil = a.third.damper_n(rate, road_.oil_celsius);
        damped += oil * rate;
        for (const Side side : both_sides)
          third[at(side)] = (a.third.push_n(now.in_mm, contact_rate) + oil) * now.per_mm[at(side)];
      }
      for (const Side side : both_sides) {
        const CornerTable& c = a.corner[at(side)];
        const double u = travel[at(side)];
        const double ratio = c.look_up(c.ratio, u);
        const double shaft = ratio * speed[at(side)];
        const double oil = a.piston ? a.share * damper_force(*a.piston, a.oil, shaft, road_.oil_celsius) : 0.0;
        damped += oil * shaft;
        const double twist = apart[at(side)] - apart[1 - at(side)];
        double f = c.look_up(c.spring_n, u) + ratio * oil + third[at(side)] + a.bar_n_per_mm * twist;
        if (u < c.low) f += contact_rate * (u - c.low);
        if (u > c.room_mm) f += contact_rate * (u - c.room_mm);
        push[at(side)] = f;
        up_n += f;
        roll_n_mm += f * a.y_mm[at(side)];
        pitch_n_mm -= f * a.x_mm;
      }
      for (const Side side : both_sides) {
        const double tyre = tyre_n(s, end, side, t);
        // In a left turn the links press the right wheel down and lift the left one.
        const double at_once = moved + a.unsprung_n_per_g * g;
        const double by_links = side == Side::right ? at_once : -at_once;
        const std::size_t w = first_wheel + wheel_index(end, side);
        d[coordinates + w] = 1000.0 * (tyre - push[at(side)] - by_links - a.unsprung_kg * gravity_m_s2) / a.unsprung_kg;
      }
    }
    for (const End end : both_ends) {
      const double n = plate_n(s, end);
      up_n += n;
      pitch_n_mm -= n * plate_x_mm_[at(end)];
    }
    // Centrifugal force at the body's centre, less what goes through the links; and its weight once it leans.
    roll_n_mm += body_.kg / total_kg_ * lateral_n * height_mm_ - through_links +
                 body_.kg * gravity_m_s2 * height_mm_ * s[roll_at];
    d[coordinates + heave_at] = 1000.0 * up_n / body_.kg;
    d[coordinates + roll_at] = 1000.0 * roll_n_mm / body_.inertia.roll_kg_mm2;
    d[coordinates + pitch_at] = 1000.0 * pitch_n_mm / body_.inertia.pitch_kg_mm2;
    d[work_at] = damped;
  }

  [[nodiscard]] MotionSample sample(const State& s, double t) const {
    MotionSample m;
    m.t_s = t;
    m.heave_mm = s[heave_at];
    m.roll_deg = degrees(s[roll_at]);
    m.pitch_deg = degrees(s[pitch_at]);
    for (const End end : both_ends) {
      m.clear_mm[at(end)] = plate_mm_[at(end)] + s[heave_at] - plate_x_mm_[at(end)] * s[pitch_at];
      for (const Side side : both_sides) {
        m.load_n[at(end)][at(side)] = tyre_n(s, end, side, t);
        m.travel_mm[at(end)][at(side)] = travel_of(s, end, side);
      }
    }
    return m;
  }

  /// What springs and bars hold against rest, and stops and plate, N mm.
  [[nodiscard]] std::array<double, 2> held(const State& s) const {
    double springs = 0.0, stops = 0.0;
    for (const End end : both_ends) {
      const Axled& a = axle_[at(end)];
      PerSide<double> u{};
      for (const Side side : both_sides) u[at(side)] = travel_of(s, end, side);
      springs += 0.5 * a.bar_n_per_mm * (u[0] - u[1]) * (u[0] - u[1]);
      if (a.solid) u = together(u);
      for (const Side side : both_sides) {
        const CornerTable& c = a.corner[at(side)];
        springs += c.look_up(c.held, u[at(side)]);
        stops += 0.5 * contact_rate * std::pow(std::max(0.0, u[at(side)] - c.room_mm), 2);
      }
      if (a.third.fitted()) {
        const double in = third_at(a, u).in_mm;
        springs += 0.5 * a.third.rate_n_per_mm * std::pow(std::max(0.0, in - a.third.gap_mm), 2);
        if (a.third.stroke_mm > 0.0) stops += 0.5 * contact_rate * std::pow(std::max(0.0, in - a.third.stroke_mm), 2);
      }
      const double deep = std::max(0.0, -sample(s, 0.0).clear_mm[at(end)]);
      stops += 0.5 * plate_rate * deep * deep;
    }
    return {springs, stops};
  }

  [[nodiscard]] double shock_mm(End end, Side side, double travel) const {
    const CornerTable& c = axle_[at(end)].corner[at(side)];
    return c.look_up(c.shock_mm, travel);
  }
  [[nodiscard]] const Axled& axle(End end) const { return axle_[at(end)]; }

 private:
  /// Travel of a wheel against its rest at which its tyre is just without load.
  [[nodiscard]] double unloaded(End end, Side side) const {
    return axle_[at(end)].rest_n[at(side)] / axle_[at(end)].tyre_n_per_mm;
  }
  [[nodiscard]] double body_at(const State& s, std::size_t from, End end, Side side) const {
    const Axled& a = axle_[at(end)];
    return s[from + heave_at] - a.x_mm * s[from + pitch_at] + a.y_mm[at(side)] * s[from + roll_at];
  }
  [[nodiscard]] double travel_of(const State& s, End end, Side side) const {
    return s[first_wheel + wheel_index(end, side)] - body_at(s, 0, end, side);
  }
  [[nodiscard]] double speed_of(const State& s, End end, Side side) const {
    return s[coordinates + first_wheel + wheel_index(end, side)] - body_at(s, coordinates, end, side);
  }
  [[nodiscard]] double lateral_g(double t) const {
    if (road_.event != RoadEvent::steer_step) return 0.0;
    return road_.lateral_g * std::clamp(t / road_.rise_s, 0.0, 1.0);
  }
  /// Height of the road under a wheel and how fast it rises, mm and mm/s.
  [[nodiscard]] std::array<double, 2> road_under(End end, Side side, double t) const {
    const double speed = 1000.0 * road_.speed_m_s;
    const double behind = axle_[0].x_mm - axle_[at(end)].x_mm;
    const double x = speed * t - behind;  // how far the wheel is into the obstacle
    if (road_.event == RoadEvent::bump) {
      if (x <= 0.0 || x >= road_.length_mm) return {0.0, 0.0};
      const double turn = 2.0 * std::numbers::pi / road_.length_mm;
      return {0.5 * road_.height_mm * (1.0 - std::cos(turn * x)),
              0.5 * road_.height_mm * turn * std::sin(turn * x) * speed};
    }
    if (road_.event == RoadEvent::kerb && (side == Side::left) == road_.left_side) {
      const double down = x - kerb_ramp_mm - road_.length_mm;
      const auto ramp = [&](double along) -> std::array<double, 2> {
        const double turn = std::numbers::pi / kerb_ramp_mm;
        return {0.5 * road_.height_mm * (1.0 - std::cos(turn * along)),
                0.5 * road_.height_mm * turn * std::sin(turn * along) * speed};
      };
      if (x <= 0.0 || down >= kerb_ramp_mm) return {0.0, 0.0};
      if (x < kerb_ramp_mm) return ramp(x);
      if (down <= 0.0) return {road_.height_mm, 0.0};
      const auto falling = ramp(kerb_ramp_mm - down);
      return {falling[0], -falling[1]};
    }
    return {0.0, 0.0};
  }
  [[nodiscard]] double tyre_n(const State& s, End end, Side side, double t) const {
    const std::size_t w = first_wheel + wheel_index(end, side);
    const auto [height, rising] = road_under(end, side, t);
    const double squashed = axle_[at(end)].rest_n[at(side)] / axle_[at(end)].tyre_n_per_mm + height - s[w];
    if (squashed <= 0.0) return 0.0;
    return std::max(0.0,
                    axle_[at(end)].tyre_n_per_mm * squashed + road_.tyre_n_s_per_mm * (rising - s[coordinates + w]));
  }
  [[nodiscard]] double plate_n(const State& s, End end) const {
    const double clear = plate_mm_[at(end)] + s[heave_at] - plate_x_mm_[at(end)] * s[pitch_at];
    return clear < 0.0 ? -plate_rate * clear : 0.0;
  }

  RoadCase road_;
  SprungMass body_;
  PerEnd<Axled> axle_;
  double height_mm_;  ///< of the body's centre over the ground
  PerEnd<double> plate_x_mm_, plate_mm_;
  double total_kg_;
  struct LeftOver {
    double lateral_g = 0.0;
    std::array<double, coordinates> acceleration{};
  };
  std::vector<LeftOver> left_over_;  ///< from rest on
};

/// The corner from its droop stop to the end of its travel, steering in the middle.
tl::expected<CornerTable, CarFailure> table_of(const LoadedCar& car, End end, Side side) {
  const CarModel& model = car.model();
  const CornerModel& corner = model.corner(end, side);
  const auto standing = pose_car(model, static_attitude(model));
  if (!standing) return tl::unexpected(standing.error());
  const auto steered = steer(model, 0.0);
  const SteerInput input = corner.spec->steered && steered ? steered->corner[at(side)] : SteerInput{};
  const CornerPose& rest = standing->axle[at(end)].corner[at(side)];
  const Ground ground = ground_of(standing->ground, side);
  const CornerStops stops = find_stops(model, end, side, rest, input);
  const auto height = [&](const CornerPose& p) {
    return ground.height(contact_point(corner.tyre, p.wheel_centre, p.spin_axis, ground.up));
  };
  // The plate may reach the ground first; the table goes on to where the shock ends.
  const Stop* pushed_in =
      stops.find(spring_place(corner) == SpringPlace::kingpin ? StopKind::slide_high : StopKind::shock_compressed);
  const double highest = pushed_in ? std::max(pushed_in->arm_angle, stops.bump.arm_angle) : stops.bump.arm_angle;
  const auto angles = [&](double part) { return stops.droop.arm_angle + part * (highest - stops.droop.arm_angle); };
  // A droop stop above ride height (an arm that never leaves its screw) leaves nothing to integrate.
  if (!(stops.droop.arm_angle < rest.arm_angle))
    return cannot(say("the {axle} {side} wheel stands on its droop stop", "axle"_a = word(end), "side"_a = word(side)),
                  end, side);
  const double shock_rest = shock_length(corner, rest);
  struct Row {
    double travel, spring, ratio, shock;
    Vec3 third, third_moves;
  };
  const bool levers = third_law(model, end).fitted() && has_third_levers(model.car->axle(end));
  std::vector<Row> rows;
  const double free = corner.geometry.size_of(Size::spring_free);
  const double seat = spring_seat(model.car->axle(end), corner);
  const Collars& collars = car.level_collars();
  const double collar =
      corner.spec->independent ? collars[at(end)][at(side)] : 0.5 * (collars[at(end)][0] + collars[at(end)][1]);
  constexpr int fine = 120;
  const double beyond = 0.15;  // past the bump stop: the linkage goes on where the shock's end gives
  for (int i = 0; i <= fine; ++i) {
    const auto pose = corner.linkage->solve(angles((1.0 + beyond) * i / fine), input);
    if (!pose) break;
    const double length = shock_length(corner, *pose);
    const auto ratio = shock_per_contact(corner, *pose, ground);
    if (!ratio || !(*ratio > 0.0)) break;
    const double force = spring_of(corner).force(free - (length - seat - collar));
    const double travel = height(*pose);
    if (!rows.empty() && travel <= rows.back().travel) break;
    double push = force * *ratio;
    if (has_side_spring(corner))
      push += side_spring_n(corner, side_length(corner, rest) - side_length(corner, *pose)) *
              side_per_contact(corner, *pose, ground);
    Row row{travel, push, *ratio, shock_rest - length, Vec3::Zero(), Vec3::Zero()};
    if (levers) {
      const auto lever = third_lever(model, end, side, *pose);
      if (!lever) break;
      row.third = lever->end;
      row.third_moves = lever->end_per_arm / contact_velocity(corner.tyre, pose->wheel_centre, pose->spin_axis,
                                                              ground.up, pose->wheel_by_arm())
                                                 .dot(ground.up);
    }
    rows.push_back(row);
  }
  if (rows.size() < 8) return cannot(say("the {} linkage moves too little", word(end)), end);
  CornerTable t;
  t.low = rows.front().travel;
  t.high = rows.back().travel;
  t.room_mm = t.high;
  const auto left = stroke_left(corner, rest);
  std::size_t k = 0;
  for (std::size_t i = 0; i < table_size; ++i) {
    const double travel = t.low + (t.high - t.low) * static_cast<double>(i) / (table_size - 1);
    while (k + 2 < rows.size() && rows[k + 1].travel < travel) ++k;
    const double part = (travel - rows[k].travel) / (rows[k + 1].travel - rows[k].travel);
    const auto mix = [&](double Row::*f) { return rows[k].*f + part * (rows[k + 1].*f - rows[k].*f); };
    t.spring_n[i] = mix(&Row::spring);
    t.ratio[i] = mix(&Row::ratio);
    t.shock_mm[i] = mix(&Row::shock);
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
      const auto of = [&](Vec3 Row::*f) {
        return (rows[k].*f)[axis] + part * ((rows[k + 1].*f)[axis] - (rows[k].*f)[axis]);
      };
      t.third_at[at(axis)][i] = of(&Row::third);
      t.third_moves[at(axis)][i] = of(&Row::third_moves);
    }
    if (i > 0) {
      const double step = (t.high - t.low) / (table_size - 1);
      t.held[i] = t.held[i - 1] + 0.5 * step * (t.spring_n[i] + t.spring_n[i - 1]);
    }
  }
  if (left)
    for (std::size_t i = 1; i < rows.size() && !t.room_known; ++i) {
      if (rows[i].shock < *left) continue;
      const double part = (*left - rows[i - 1].shock) / (rows[i].shock - rows[i - 1].shock);
      t.room_mm = rows[i - 1].travel + part * (rows[i].travel - rows[i - 1].travel);
      t.room_known = true;
    }
  const double at_rest = t.look_up(t.held, 0.0);
  for (double& e : t.held) e -= at_rest;
  return t;
}

std::optional<std::string> senseless(const RoadCase& r) {
  const auto outside = [](const std::string& what, double v, double least, double most, const char* unit) {
    return v >= least && v <= most ? std::optional<std::string>()
                                   : say("{what} of {found} {unit}: {least} to {most} {unit}", "what"_a = what,
                                         "found"_a = v, "unit"_a = unit, "least"_a = least, "most"_a = most);
  };
  for (const auto& fault :
       {outside(say("a time"), r.seconds, 0.05, 5.0, "s"), outside(say("a speed"), r.speed_m_s, 0.5, 30.0, "m/s"),
        outside(say("a height"), r.height_mm, 0.0, 60.0, "mm"),
        outside(say("a length"), r.length_mm, 5.0, 2000.0, "mm"), outside(say("a drop"), r.drop_mm, 0.0, 3000.0, "mm"),
        outside(say("a lateral acceleration"), r.lateral_g, -4.0, 4.0, "g"),
        outside(say("a rise"), r.rise_s, 0.005, 2.0, "s"),
        outside(say("a tyre's rate"), r.tyre_n_per_mm.value_or(TyreRate{}.likely), 0.5, 100.0, "N/mm"),
        outside(say("a tyre's damping"), r.tyre_n_s_per_mm, 0.0, 0.5, "N s/mm"),
        outside(say("an oil's temperature"), r.oil_celsius, -20.0, 90.0, "deg C")})
    if (fault) return fault;
  return std::nullopt;
}

MotionSummary summed_up(const Car4& car, const std::vector<MotionSample>& samples, const std::vector<State>& states) {
  MotionSummary sum;
  std::size_t deepest = 0;
  double lowest = std::numeric_limits<double>::infinity();
  for (const End end : both_ends) {
    PerSide<double> squares{}, air{};
    for (std::size_t i = 0; i < samples.size(); ++i)
      for (const Side side : both_sides) {
        const MotionSample& m = samples[i];
        const double in = car.shock_mm(end, side, m.travel_mm[at(end)][at(side)]);
        sum.most_stroke_mm[at(end)] = std::max(sum.most_stroke_mm[at(end)], in);
        const double rest = car.axle(end).rest_n[at(side)];
        squares[at(side)] += std::pow(m.load_n[at(end)][at(side)] / rest - 1.0, 2);
        if (m.load_n[at(end)][at(side)] <= 0.0) air[at(side)] += sample_s;
      }
    const double n = static_cast<double>(samples.size());
    sum.load_unrest[at(end)] = std::sqrt(std::max(squares[0], squares[1]) / n);
    sum.air_s[at(end)] = std::max(air[0], air[1]);
    sum.least_load_n[at(end)] = sum.most_load_n[at(end)] = samples.front().load_n[at(end)][0];
    for (const MotionSample& m : samples)
      for (const double load : m.load_n[at(end)]) {
        sum.least_load_n[at(end)] = std::min(sum.least_load_n[at(end)], load);
        sum.most_load_n[at(end)] = std::max(sum.most_load_n[at(end)], load);
      }
    const CornerTable& c = car.axle(end).corner[0];
    if (c.room_known)
      sum.stroke_share[at(end)] = sum.most_stroke_mm[at(end)] / car.shock_mm(end, Side::left, c.room_mm);
  }
  std::array<double, 3> swing{};
  const auto swung = [](const MotionSample& m) { return std::array{m.heave_mm, m.roll_deg, m.pitch_deg}; };
  const std::array last = swung(samples.back());
  for (std::size_t i = 0; i < samples.size(); ++i) {
    const MotionSample& m = samples[i];
    sum.most_roll_deg = std::abs(m.roll_deg) > std::abs(sum.most_roll_deg) ? m.roll_deg : sum.most_roll_deg;
    sum.most_pitch_deg = std::abs(m.pitch_deg) > std::abs(sum.most_pitch_deg) ? m.pitch_deg : sum.most_pitch_deg;
    if (m.heave_mm < lowest) {
      lowest = m.heave_mm;
      deepest = i;
    }
    if (!sum.plate_down_s && std::min(m.clear_mm[0], m.clear_mm[1]) < 0.0) {
      sum.plate_down_s = m.t_s;
      if (i > 0)
        sum.plate_speed_mm_s =
            std::max(samples[i - 1].clear_mm[0] - m.clear_mm[0], samples[i - 1].clear_mm[1] - m.clear_mm[1]) / sample_s;
    }
    const std::array now = swung(m);
    for (std::size_t k = 0; k < 3; ++k) swing[k] = std::max(swing[k], std::abs(now[k] - last[k]));
  }
  for (std::size_t i = samples.size(); i-- > 0;) {
    const std::array now = swung(samples[i]);
    bool still = true;
    for (std::size_t k = 0; k < 3; ++k) still &= std::abs(now[k] - last[k]) <= std::max(0.05 * swing[k], 1e-3);
    if (!still) {
      sum.settled_s = samples[i].t_s;
      break;
    }
  }
  const auto [springs, stops] = car.held(states[deepest]);
  sum.springs_n_mm = springs;
  sum.stops_n_mm = stops;
  sum.dampers_n_mm = states[deepest][work_at];
  return sum;
}

struct Stopped {};

}  // namespace

std::span<const RoadEventSpec> road_events() {
  return events;
}

tl::expected<Motion, CarFailure> drive_over(const LoadedCar& car, const RoadCase& road,
                                            const std::function<bool()>& go_on) {
  if (const auto fault = senseless(road)) return cannot(*fault);
  const CarModel& model = car.model();
  const auto standing = pose_car(model, static_attitude(model));
  if (!standing) return tl::unexpected(standing.error());
  const auto body = sprung_mass(model, *standing);
  if (!body) return cannot(say("the heavy parts and wheels weigh more than the whole car"));
  const auto rest = car.balance(car.level_collars(), {});
  if (!rest) return tl::unexpected(rest.error());
  const CarFigures figures = read_car(model, *standing, static_attitude(model));
  const double wheelbase = figures.axle[0].wheel[0].wheel_centre.x() - figures.axle[1].wheel[0].wheel_centre.x();
  PerEnd<Axled> axles;
  for (const End end : both_ends) {
    Axled& a = axles[at(end)];
    a.unsprung_kg = 0.5 * (unsprung_kg(model.car->axle(end), model.corner(end, Side::left)) +
                           unsprung_kg(model.car->axle(end), model.corner(end, Side::right)));
    if (!(a.unsprung_kg > 0.0))
      return cannot(say("the car file tells no unsprung weight on the {} axle", word(end)), end);
    a.tyre_n_per_mm = road.tyre_n_per_mm.value_or(model.car->axle(end).tyre.gives().likely);
    a.x_mm = figures.axle[at(end)].wheel[0].contact.x() - body->cg.x();
    const double ahead = model.mass.cg->x() - figures.axle[1].wheel[0].wheel_centre.x();
    a.lateral_share = (end == End::front ? ahead : wheelbase - ahead) / wheelbase;
    const double track = figures.axle[at(end)].track_mm;
    const AxleRates rates = car.rates(end);
    const CornerModel& corner = model.corner(end, Side::left);
    a.solid = !corner.spec->independent;
    a.share = spring_share(corner);
    const double across = a.solid ? rates.roll_n_mm_per_deg : rates.roll_by_bar_n_mm_per_deg;
    a.bar_n_per_mm = std::max(0.0, across) * degrees(1.0) / (track * track);
    a.third = third_law(model, end);
    a.levers = has_third_levers(model.car->axle(end));
    a.piston = piston_of(corner);
    a.oil = Oil{corner.geometry.size_of(Size::oil_cst)};
    const auto& centre = figures.axle[at(end)].roll_centre.moving;
    a.geometric_n = centre ? centre->height / track : 0.0;
    const double wheel_height = standing->ground.height(standing->axle[at(end)].corner[0].wheel_centre);
    const double leans = a.solid ? 0.0 : 1.0 + figures.axle[at(end)].wheel[0].camber_gain_rad_per_mm * 0.5 * track;
    const double moment = 2.0 * a.unsprung_kg * gravity_m_s2 * wheel_height;
    a.unsprung_n_mm_per_g = moment * leans;
    a.unsprung_n_per_g = moment * (1.0 - leans) / track;
    for (const Side side : both_sides) {
      const double y = figures.axle[at(end)].wheel[at(side)].contact.y();
      a.y_mm[at(side)] = (side == Side::left ? y : -y) - body->cg.y();
      a.rest_n[at(side)] = rest->wheel[at(end)][at(side)].load_n;
      auto table = table_of(car, end, side);
      if (!table) return tl::unexpected(table.error());
      a.corner[at(side)] = *table;
    }
    // By the tables, so that the car stands where they say it does.
    if (a.third.fitted()) a.third_standing_mm = -third_at(a, {}).in_mm;
  }
  const PerEnd<double> plate_x{model.car->gauge_x_mm[0] - body->cg.x(), model.car->gauge_x_mm[1] - body->cg.x()};
  Car4 system(car, road, *body, std::move(axles), standing->ground.height(body->cg), plate_x, model.ride_height_mm);
  if (road.event == RoadEvent::steer_step) {
    const int steps = static_cast<int>(std::ceil(std::abs(road.lateral_g) / stand_every_g));
    Balance before = *rest;
    for (int i = 1; i <= steps; ++i) {
      const double g = road.lateral_g * i / steps;
      auto stand = car.balance(car.level_collars(), {g, 0.0}, 0.0, &before);
      if (!stand)
        return cannot(say("no steady turn with {lateral:.1f} g: {why}", "lateral"_a = std::abs(g),
                          "why"_a = stand.error().message));
      system.stands_in(system.stand_of(*stand, *rest));
      before = std::move(*stand);
    }
  }
  Motion motion;
  std::vector<State> states;
  const auto count = at(std::lround(road.seconds / sample_s)) + 1;
  motion.samples.reserve(count);
  states.reserve(count);
  State s = system.start();
  namespace ode = boost::numeric::odeint;
  try {
    ode::integrate_const(ode::make_dense_output(1e-7, 1e-7, 0.001, ode::runge_kutta_dopri5<State>()), std::cref(system),
                         s, 0.0, road.seconds, sample_s, [&](const State& now, double t) {
                           if (go_on && motion.samples.size() % 32 == 0 && !go_on()) throw Stopped{};
                           motion.samples.push_back(system.sample(now, t));
                           states.push_back(now);
                         });
  } catch (const Stopped&) {
    if (motion.samples.empty()) return cannot(std::string("stopped"));
  }
  for (const State& each : states)
    if (!std::isfinite(each[heave_at])) return cannot(say("the car found no way through this"));
  motion.summary = summed_up(system, motion.samples, states);
  return motion;
}

}  // namespace lowkite
