// A stranger's car measured in the order that the guide proposes: what it says is known, is known.
#include "core/plan/next_reading.hpp"

#include <random>

#include "core/measure/car_figures.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

constexpr std::array measured_cars{"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd"};

/// A car built like the template, every point elsewhere by some millimetres.
Car strangers(const Car& like, std::mt19937& random, double by_mm) {
  std::normal_distribution<double> off(0.0, by_mm);
  for (int tries = 0;; ++tries) {
    Fit moved;
    for (const PointRef& ref : points_of(like)) {
      const Vec3 stays = conventional(like, ref);
      const Vec3 by = Vec3(off(random), off(random), off(random)).cwiseProduct(Vec3::Ones() - stays);
      moved.points.push_back({ref, place_of(like, ref), place_of(like, ref) + by, Vec3::Zero()});
    }
    Car car = with_points(like, moved);
    const auto model = build_model(car, kit_setup(car));
    if (model && figures_at(*model, static_attitude(*model))) return car;
    if (tries > 50) throw std::runtime_error("no such car closes");
  }
}

struct Truth {
  double roll_centre, gain;
};
std::optional<Truth> truth_of(const Car& car, End end) {
  const auto model = build_model(car, kit_setup(car));
  if (!model) return std::nullopt;
  const auto f = figures_at(*model, static_attitude(*model));
  if (!f || !f->axle[at(end)].roll_centre.moving) return std::nullopt;
  return Truth{f->axle[at(end)].roll_centre.moving->height, degrees(f->axle[at(end)].wheel[0].camber_gain_rad_per_mm)};
}

std::vector<GuideStep> steps_of(const Car& car, End end) {
  std::vector<GuideStep> some;
  for (const GuideStep& s : measuring_guide(car))
    if (!s.reading.a.steering && s.reading.a.end == end &&
        (s.reading.kind == ReadingKind::height || s.reading.kind == ReadingKind::across ||
         (!s.reading.b.steering && s.reading.b.end == end)))
      some.push_back(s);
  return some;
}

/// Takes `count` readings of `real`, each the one that the plan asks for next (or in the guide's order).
struct Measured {
  std::optional<Fit> fit;
  ReadingPlan plan;
};
Measured measure(const Car& like, const Car& real, End end, int count, bool planned, std::mt19937& random) {
  std::normal_distribution<double> noise(0.0, 1.0);
  const auto steps = steps_of(like, end);
  std::vector<CaliperReading> taken;
  Measured m{std::nullopt, plan_readings(like, std::nullopt, steps, end)};
  for (int i = 0; i < count && m.plan.next && i < static_cast<int>(steps.size()); ++i) {
    CaliperReading r = steps[planned ? *m.plan.next : at(i)].reading;
    r.mm = expected_reading(real, r) + r.tolerance_mm * noise(random);
    taken.push_back(r);
    auto fit = fit_points(like, taken);
    EXPECT_TRUE(fit);
    m.fit = std::move(*fit);
    m.plan = plan_readings(like, m.fit, steps, end);
  }
  return m;
}

TEST(NextReading, KnowsFiguresAsWellAsItSaysOnStrangersCars) {
  // Common practice, no source: another maker's car of the same build differs by some millimetres a point.
  constexpr double differs_mm = 2.0;
  std::mt19937 random(17);
  int asked = 0, figures = 0, inside = 0, inside_wide = 0, close = 0, enough = 0, enough_right = 0;
  double planned = 0.0, in_order = 0.0;
  std::vector<double> off_by_template, off_after_ten, off_after_forty;
  const auto look = [&](const Measured& m, const Car& like, End end,
                        const Truth& truth) -> std::optional<PerEnd<double>> {
    const auto found = truth_of(with_points(like, *m.fit), end);
    if (!found || m.plan.figures.size() != 2) return std::nullopt;
    const PerEnd<double> off{std::abs(found->roll_centre - truth.roll_centre), std::abs(found->gain - truth.gain)};
    for (std::size_t k = 0; k < 2; ++k) {
      ++figures;
      inside += off[k] <= 2.0 * m.plan.figures[k].now;
      inside_wide += off[k] <= 4.0 * m.plan.figures[k].now;
    }
    if (m.plan.enough()) {
      ++enough;
      enough_right += off[0] <= 2.5 * m.plan.figures[0].enough && off[1] <= 2.5 * m.plan.figures[1].enough;
    }
    return off;
  };
  for (int i = 0; i < share_of(200); ++i) {
    const Car like = shipped(measured_cars[at(i) % measured_cars.size()]);
    const End end = i % 8 < 4 ? End::front : End::rear;
    const Car real = strangers(like, random, differs_mm);
    const auto truth = truth_of(real, end);
    const auto before = truth_of(like, end);
    if (!truth || !before) continue;
    const Measured ten = measure(like, real, end, 10, true, random);
    ASSERT_TRUE(ten.fit);
    const auto off = look(ten, like, end, *truth);
    if (!off) continue;
    ++asked;
    off_after_ten.push_back((*off)[0]);
    off_by_template.push_back(std::abs(before->roll_centre - truth->roll_centre));
    close += (*off)[0] <= std::max(0.15 * std::abs(truth->roll_centre), 2.0) &&
             (*off)[1] <= std::max(0.15 * std::abs(truth->gain), 0.01);
    if (i % 4 != 0) continue;
    planned += ten.plan.figures[0].now;
    in_order += measure(like, real, end, 10, false, random).plan.figures[0].now;
    if (const auto all = look(measure(like, real, end, 40, true, random), like, end, *truth))
      off_after_forty.push_back((*all)[0]);
  }
  const auto middle = [](std::vector<double> v) {
    std::sort(v.begin(), v.end());
    return v[v.size() / 2];
  };
  EXPECT_GT(asked, share_of(200) * 9 / 10);
  // A band of two deviations holds 95 of 100 of a bell curve.
  EXPECT_GE(inside, figures * 9 / 10) << "of " << figures;
  EXPECT_GE(inside_wide, figures * 97 / 100) << "of " << figures;
  // Two cars in three; the rest say so by their band.
  EXPECT_GE(close, asked * 3 / 5) << "within 15 % after ten readings, of " << asked;
  EXPECT_LT(middle(off_after_ten), 0.35 * middle(off_by_template));
  EXPECT_LT(middle(off_after_forty), 0.6 * middle(off_after_ten));
  EXPECT_LT(planned, 0.5 * in_order) << "the order is worth something";
  EXPECT_GE(enough_right, enough * 95 / 100) << "of " << enough;
  RecordProperty("close", close);
  RecordProperty("of", asked);
}

TEST(NextReading, IsNothingOnceAllIsMeasuredAndFiguresAreThoseOfAnAxleThatHasThem) {
  const Car car = shipped("heron-tc190");
  const auto steps = steps_of(car, End::front);
  std::vector<CaliperReading> all;
  for (const GuideStep& s : steps) all.push_back(s.reading);
  const auto fit = fit_points(car, all);
  ASSERT_TRUE(fit);
  const ReadingPlan done = plan_readings(car, *fit, steps, End::front);
  EXPECT_FALSE(done.next);
  EXPECT_TRUE(done.enough());
  for (const KnownFigure& f : done.figures) {
    EXPECT_LT(f.now, 0.2 * f.by_template) << f.label;
    EXPECT_EQ(f.next, f.now);
  }
  const ReadingPlan fresh = plan_readings(car, std::nullopt, steps, End::front);
  ASSERT_TRUE(fresh.next);
  EXPECT_FALSE(fresh.enough());
  for (const KnownFigure& f : fresh.figures) {
    EXPECT_NEAR(f.now, f.by_template, 1e-9) << f.label;
    EXPECT_LE(f.next, f.now) << f.label;
  }
  // A solid axle in its pod has neither; its readings are still put in an order.
  const Car pan = shipped("sanderling-12");
  const auto pod = steps_of(pan, End::rear);
  const ReadingPlan solid = plan_readings(pan, std::nullopt, pod, End::rear);
  EXPECT_TRUE(solid.figures.empty());
  EXPECT_EQ(solid.next.has_value(), !pod.empty());
}

}  // namespace
}  // namespace lowkite::test
