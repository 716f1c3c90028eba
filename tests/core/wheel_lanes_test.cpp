// The wheels in the lanes of a register, with every instruction set of this machine: against one wheel after the other,
// and their slopes against differences.
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/handling/lanes/wheels.hpp"
#include "core/io/tyre_file.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

std::vector<const WheelsKernel*> wheel_kernels_here() {
  std::vector<const WheelsKernel*> here;
  for (const WheelsKernel& k : wheels_kernels())
    if (k.here()) here.push_back(&k);
  return here;
}

/// Some way in which a car may move, on some tyres.
struct Moving {
  SetupTable::Node node;
  DriveLayout drive;
  TyreRows rows{};
  PerEnd<TyreAt> tyre;
  PerWheel<double> x_m{}, y_m{};
  double speed = 3.0;
  std::array<double, unknown_count> u{};
  std::array<double, 3> shift{};

  /// As an ask, its numbers following the unknowns one by one.
  template <int n>
  WheelsAsk<n> ask(const SetupTable& table) const {
    WheelsAsk<n> a{};
    a.node = &node;
    a.steering = &table.steering_near(u[servo]);
    a.tyre = &rows;
    a.drive = &drive;
    a.x_m = &x_m;
    a.y_m = &y_m;
    a.servo_rad = u[servo];
    a.more_g = u[lateral] - node.at_g;
    a.vx[0] = speed * std::cos(u[body_slip]);
    a.vy[0] = speed * std::sin(u[body_slip]);
    a.turns[0] = u[yaw_rate];
    a.tread[0] = speed * (1.0 + u[drive_slip]);
    a.apart[0][0] = speed * u[front_apart];
    a.apart[1][0] = speed * u[rear_apart];
    for (std::size_t k = 0; k < 3; ++k) a.shift[k][0] = shift[k];
    if constexpr (n == unknown_count) {
      a.vx[1 + body_slip] = -a.vy[0];
      a.vy[1 + body_slip] = a.vx[0];
      a.turns[1 + yaw_rate] = 1.0;
      a.tread[1 + drive_slip] = speed;
      a.apart[0][1 + front_apart] = a.apart[1][1 + rear_apart] = speed;
    }
    return a;
  }
};

class WheelLanes : public testing::Test {
 protected:
  Moving any(const SetupTable& table) {
    std::uniform_real_distribution<double> is(-1.0, 1.0);
    const auto phase = corner_phases[dice_() % 3];
    const TyreDraw draw = draws_[dice_() % draws_.size()];
    Moving m{*table.node(phase, (0.5 + 0.5 * is(dice_)) * table.last_g(phase)),
             {},
             {},
             {TyreAt(draw, false, table.mean_load_n()), TyreAt(draw, true, table.mean_load_n())},
             table.x_m(),
             table.y_m(),
             3.0 + is(dice_),
             {},
             {}};
    for (std::size_t w = 0; w < wheel_count; ++w) {
      m.drive.driven[w] = dice_() % 4 != 0 ? 1.0 : 0.0;
      m.drive.one_way[w] = m.drive.driven[w] * static_cast<double>(dice_() % 2);
      if (dice_() % 6 == 0) m.node.load_n[w] = -is(dice_) - 1.0;  // in the air
      for (std::size_t k = 0; k < m.rows.size(); ++k) m.rows[k][w] = m.tyre[w / 2][static_cast<TyreConstant>(k)];
    }
    m.u = {0.5 * is(dice_),  0.3 * is(dice_),
           0.1 * is(dice_),  0.05 * is(dice_),
           0.05 * is(dice_), m.node.at_g + 0.05 * is(dice_),
           is(dice_),        0.0};
    for (double& s : m.shift) s = 0.3 * is(dice_);
    return m;
  }
  std::vector<SetupTable> tables() {
    std::vector<SetupTable> all;
    for (const Car& car : every_shipped_car()) {
      const auto t = tabulate(car, random_setup(car, dice_), {});
      all.push_back(t ? *t : *tabulate(car, kit_setup(car), {}));
    }
    return all;
  }

  std::mt19937 dice_{1811};
  std::vector<TyreDraw> draws_ = draw_tyres(load_tyres(data_path("tyres/tyres.json"))->families.front(), 32);
};

TEST_F(WheelLanes, TellAsOneWheelAfterTheOther) {
  int compared = 0, in_the_air = 0, ran_on = 0;
  for (const SetupTable& table : tables())
    for (int round = 0; round < share_of(200); ++round) {
      const Moving m = any(table);
      for (const WheelsKernel* kernel : wheel_kernels_here()) {
        WheelsTold<0> told;
        (*kernel)(m.ask<0>(table), told);
        for (std::size_t w = 0; w < wheel_count; ++w) {
          const double more = m.u[lateral] - m.node.at_g;
          double heading = m.node.heading[w] + m.node.heading_per_g[w] * more + m.node.heading_per_rad[w] * m.u[servo];
          TyreState<double> s;
          s.lean = m.node.lean[w] + m.node.lean_per_g[w] * more + m.node.lean_per_rad[w] * m.u[servo];
          s.load_n = m.node.load_n[w] + m.node.load_per_g[w] * more + m.node.load_per_rad[w] * m.u[servo];
          for (std::size_t k = 0; k < 3; ++k) {
            s.load_n += m.node.load_by[k][w] * m.shift[k];
            s.lean += m.node.lean_by[k][w] * m.shift[k];
          }
          if (w < 2) {
            const auto alone = table.steered(w == 0 ? Side::left : Side::right, m.u[servo]);
            heading += alone.heading;
            s.lean += alone.lean;
          }
          const double wx = m.speed * std::cos(m.u[body_slip]) - m.u[yaw_rate] * m.y_m[w];
          const double wy = m.speed * std::sin(m.u[body_slip]) + m.u[yaw_rate] * m.x_m[w];
          const double c = std::cos(heading), sn = std::sin(heading);
          const double forward = wx * c + wy * sn;
          s.slip = (wx * sn - wy * c) / forward;
          const double apart = m.speed * m.u[w < 2 ? front_apart : rear_apart];
          const double tread = m.speed * (1.0 + m.u[drive_slip]) + (w % 2 == 0 ? -apart : apart);
          const bool runs_on = m.drive.one_way[w] > 0.5 && tread < forward;
          if (m.drive.driven[w] > 0.5 && !runs_on) s.lengthways = (tread - forward) / forward;
          const TyreForce<double> f = m.tyre[w / 2].force(s);
          EXPECT_NEAR(told.load_n[0][w], s.load_n, 1e-12);
          EXPECT_NEAR(told.lean[w], s.lean, 1e-13);
          EXPECT_NEAR(told.heading[w], heading, 1e-13);
          EXPECT_NEAR(told.slip[w], s.slip, 1e-12);
          EXPECT_NEAR(told.lengthways_n[0][w], f.lengthways, 1e-10) << kernel->name;
          EXPECT_NEAR(told.sideways_n[w], f.sideways, 1e-10) << kernel->name;
          EXPECT_NEAR(told.x_n[0][w], f.lengthways * c - f.sideways * sn, 1e-10) << kernel->name;
          EXPECT_NEAR(told.y_n[0][w], f.lengthways * sn + f.sideways * c, 1e-10) << kernel->name;
          if (s.load_n <= 0.0) {
            EXPECT_EQ(told.y_n[0][w], 0.0) << "in the air";
            ++in_the_air;
          }
          if (runs_on) {
            EXPECT_EQ(told.lengthways_n[0][w], 0.0) << "runs on";
            ++ran_on;
          }
          ++compared;
        }
      }
    }
  EXPECT_GT(compared, share_of(4000));
  EXPECT_GT(in_the_air, share_of(200));
  EXPECT_GT(ran_on, share_of(200));
}

TEST_F(WheelLanes, CarrySlopesThatDifferencesHave) {
  for (const SetupTable& table : tables())
    for (int round = 0; round < share_of(30); ++round) {
      Moving m = any(table);
      m.drive.one_way = {};  // a kink
      for (const WheelsKernel* kernel : wheel_kernels_here()) {
        WheelsTold<unknown_count> told;
        (*kernel)(m.ask<unknown_count>(table), told);
        WheelsTold<0> plain;
        (*kernel)(m.ask<0>(table), plain);
        for (std::size_t w = 0; w < wheel_count; ++w)
          EXPECT_NEAR(plain.y_n[0][w], told.y_n[0][w], 1e-12) << "slopes change no value";
        for (int by = servo; by <= yaw_rate; ++by) {
          constexpr double step = 1e-5;
          PerWheel<double> apart{};
          for (const double way : {-1.0, 1.0}) {
            Moving there = m;
            there.u[at(by)] += way * step;
            WheelsTold<0> at;
            (*kernel)(there.ask<0>(table), at);
            for (std::size_t w = 0; w < wheel_count; ++w) apart[w] += way * at.y_n[0][w] / (2.0 * step);
          }
          for (std::size_t w = 0; w < wheel_count; ++w)
            EXPECT_NEAR(told.y_n[at(1 + by)][w], apart[w], 1e-3 + 1e-4 * std::abs(apart[w]))
                << kernel->name << " " << by << " " << w;
        }
      }
    }
}

TEST_F(WheelLanes, AnAxleIsTurnedToSeveralPlacesAsToOne) {
  std::uniform_real_distribution<double> is(-1.0, 1.0);
  for (int round = 0; round < share_of(300); ++round) {
    const TyreAt tyre(draws_[dice_() % draws_.size()], round % 2 == 0, 3.0);
    AxleAsk axle;
    axle.tyre = &tyre;
    axle.sense = round % 3 == 0 ? -1.0 : 1.0;
    for (AxleAsk::Wheel& w : axle.wheel)
      w = {tyre.loaded(3.0 + 2.9 * is(dice_)), 0.2 * is(dice_), 0.05 * is(dice_), 0.05 * is(dice_), 0.98};
    const AxlePlaces further{0.3 * is(dice_), 0.3 * is(dice_), 0.0, 0.7};
    for (const WheelsKernel* kernel : wheel_kernels_here()) {
      AxlePlaces pushes{};
      kernel->axle(axle, further, pushes);
      for (std::size_t i = 0; i < axle_places; ++i) {
        double sum = 0.0;
        for (const AxleAsk::Wheel& w : axle.wheel)
          sum += 0.98 *
                 tyre.force(w.under, {0.0, std::tan(w.slip_rad + axle.sense * further[i]), w.lean_rad, w.lengthways})
                     .sideways;
        EXPECT_NEAR(pushes[i], axle.sense * sum, 1e-11) << kernel->name;
      }
    }
  }
}

}  // namespace
}  // namespace lowkite::test
