// Points from caliper readings: synthetic calipers lead back to the known car, contradictions show, and the solver's
// minimum is MINPACK's.
#include <unsupported/Eigen/NonLinearOptimization>

#include "core/plan/measuring.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

/// The car as it is on the table: every point of the kit car somewhere else by up to `most` mm.
Car shaken(const Car& car, double most, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> off(-most, most);
  Car other = car;
  for (const PointRef& ref : points_of(car)) {
    Vec3 by(off(random), off(random), off(random));
    // The arm is propped and the steering centred where the guide says: those coordinates are no matter of the car.
    const Vec3 stays = conventional(car, ref);
    if (ref != datum_of(car)) by = by.cwiseProduct(Vec3::Ones() - stays);
    const PointHandle i = ref.point;
    if (ref.steering)
      other.steering.points[i] += by;
    else
      for (auto& side : other.axles[at(ref.end)].points) side[i] += by;
  }
  return other;
}

/// Every reading of the guide, as the real car would give it.
std::vector<CaliperReading> calipers_on(const Car& real, const Car& as_described, double noise_mm = 0.0,
                                        unsigned seed = 1) {
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0.0, 1.0);
  std::vector<CaliperReading> all;
  for (const GuideStep& step : measuring_guide(as_described)) {
    CaliperReading r = step.reading;
    r.mm = expected_reading(real, r) + noise_mm * noise(random);
    all.push_back(r);
  }
  return all;
}

TEST(MeasuringGuide, AsksForEveryPointOfEveryShippedCar) {
  for (const Car& car : every_shipped_car()) {
    const auto steps = measuring_guide(car);
    for (const PointRef& ref : points_of(car)) {
      const auto names = [&](const GuideStep& s) { return s.reading.a == ref || s.reading.b == ref; };
      EXPECT_TRUE(std::any_of(steps.begin(), steps.end(), names)) << car.id << " " << spec_of(car, ref).id;
    }
    for (const GuideStep& s : steps) {
      EXPECT_FALSE(s.title.empty());
      EXPECT_FALSE(s.how.empty());
      EXPECT_NEAR(s.reading.mm, expected_reading(car, s.reading), 1e-12);
    }
  }
}

TEST(MeasuringGuide, DistancesOfMovingPartsStayAsTheArmHangs) {
  // What makes the guide usable: the racer need not hold the arm anywhere.
  const Car car = touring();
  const auto model = build_model(car, kit_setup(car));
  ASSERT_TRUE(model);
  const CornerModel& corner = model->corner(End::front, Side::left);
  const auto centred = steer(*model, 0.0);
  for (const GuideStep& s : measuring_guide(car)) {
    if (s.reading.kind != ReadingKind::distance || s.reading.a.steering || s.reading.b.steering ||
        s.reading.a.end != End::front)
      continue;
    for (const double arm : {-0.08, 0.05}) {
      const auto pose = corner.linkage->solve(arm, centred->corner[0]);
      ASSERT_TRUE(pose);
      EXPECT_NEAR(distance_between(corner, *pose, s.reading.a.point, s.reading.b.point), s.reading.mm, 1e-6) << s.title;
    }
  }
}

TEST(Fit, ExactCalipersAreExplainedExactly) {
  for (const Car& kit : {touring(), shipped("godwit-ta"), buggy()}) {
    const Car real = shaken(kit, 1.5, 7);
    const auto readings = calipers_on(real, kit);
    const auto fit = fit_points(kit, readings, {.prior_mm = 1000.0});
    ASSERT_TRUE(fit) << fit.error();
    for (const FittedReading& r : fit->readings) {
      EXPECT_NEAR(r.residual_mm(), 0.0, 2e-3) << kit.id;
      EXPECT_FALSE(r.contradicts);
    }
  }
}

TEST(Fit, PointsThatStandOnThePlateAreFoundAgain) {
  const Car kit = touring();
  const Car real = shaken(kit, 1.5, 11);
  const auto fit = fit_points(kit, calipers_on(real, kit));
  ASSERT_TRUE(fit);
  int found = 0;
  for (const FittedPoint& p : fit->points) {
    if (p.ref.steering || spec_of(kit, p.ref).body != Body::chassis) continue;
    EXPECT_NEAR(p.to.y(), place_of(real, p.ref).y(), 0.05) << spec_of(kit, p.ref).id;
    EXPECT_NEAR(p.to.z(), place_of(real, p.ref).z(), 0.05) << spec_of(kit, p.ref).id;
    const double datum = place_of(kit, datum_of(kit)).x() - place_of(real, datum_of(kit)).x();
    EXPECT_NEAR(p.to.x(), place_of(real, p.ref).x() + datum, 0.1) << "x is counted from the datum";
    EXPECT_LT(p.sigma_mm.z(), 0.15);
    ++found;
  }
  EXPECT_GT(found, 8);
}

TEST(Fit, AWholeGuideMakesEveryPointKnown) {
  const Car kit = touring();
  const auto fit = fit_points(kit, calipers_on(kit, kit));
  ASSERT_TRUE(fit);
  int known = 0;
  int all = 0;
  for (const FittedPoint& p : fit->points) {
    ++all;
    known += p.sigma_mm.maxCoeff() <= known_mm ? 1 : 0;
  }
  EXPECT_GT(known, 3 * all / 4);
}

TEST(Fit, LinksComeOutAtTheirMeasuredLength) {
  const Car kit = touring();
  const Car real = shaken(kit, 1.5, 3);
  const auto fit = fit_points(kit, calipers_on(real, kit, 0.05, 5));
  ASSERT_TRUE(fit);
  Car fitted = kit;
  for (const FittedPoint& p : fit->points) {
    if (p.ref.steering) continue;
    for (auto& side : fitted.axles[at(p.ref.end)].points) side[p.ref.point] = p.to;
  }
  for (const End end : both_ends)
    for (const LinkSpec& link : kit.axle(end).mechanism->links) {
      if (link.pin) continue;
      EXPECT_NEAR(link.length_in(fitted.axle(end).points[0]), link.length_in(real.axle(end).points[0]), 0.35)
          << link.id;
    }
}

TEST(Fit, AReadingThatContradictsTheOthersIsNamed) {
  const Car kit = touring();
  auto readings = calipers_on(kit, kit);
  // The same height read 2 mm off, against a diagonal and the other heights that hold it.
  const auto wrong = std::find_if(readings.begin(), readings.end(), [](const CaliperReading& r) {
    return r.kind == ReadingKind::distance && r.a.end == End::front && !r.a.steering;
  });
  ASSERT_NE(wrong, readings.end());
  wrong->mm += 2.0;
  const auto fit = fit_points(kit, readings);
  ASSERT_TRUE(fit);
  const auto off = [](const FittedReading& a, const FittedReading& b) {
    return std::abs(a.residual_mm() / a.reading.tolerance_mm) < std::abs(b.residual_mm() / b.reading.tolerance_mm);
  };
  const auto worst = std::max_element(fit->readings.begin(), fit->readings.end(), off);
  EXPECT_TRUE(worst->contradicts);
  // Which of two readings that contradict each other is the slip nobody can tell; both are at the same part.
  EXPECT_TRUE(worst->reading.a == wrong->a || worst->reading.b == wrong->b || worst->reading.a == wrong->b ||
              worst->reading.b == wrong->a);
  EXPECT_GT(std::abs(worst->residual_mm()), 0.5);
}

TEST(Fit, WithoutReadingsNothingMoves) {
  const auto fit = fit_points(touring(), {});
  ASSERT_TRUE(fit);
  EXPECT_TRUE(fit->points.empty());
}

TEST(Fit, AReadingFromAPointToItselfIsRefused) {
  const Car car = touring();
  const PointRef p{End::front, false, PointHandle(0)};
  const CaliperReading r{ReadingKind::distance, p, p, 3.0, 0.1};
  const auto fit = fit_points(car, std::span(&r, 1));
  ASSERT_FALSE(fit);
  EXPECT_NE(fit.error().message.find("to itself"), std::string::npos);
}

TEST(Fit, APointThatOnlyOneReadingNamesStaysUncertainAcrossIt) {
  const Car car = touring();
  const PointRef p = points_of(car)[1];
  CaliperReading r{ReadingKind::height, p, {}, 0.0, 0.1};
  r.mm = expected_reading(car, r) + 0.4;
  const auto fit = fit_points(car, std::span(&r, 1));
  ASSERT_TRUE(fit);
  EXPECT_LT(fit->points[0].sigma_mm.z(), 0.11);
  EXPECT_NEAR(fit->points[0].sigma_mm.x(), 3.0, 1e-6);
  EXPECT_NEAR(fit->points[0].to.z() - fit->points[0].from.z(), 0.4, 1e-3);
}

/// The same residuals for MINPACK's lmder as ported in Eigen (More, Garbow, Hillstrom 1980), written out by hand.
struct Minpack {
  using Scalar = double;
  using InputType = Eigen::VectorXd;
  using ValueType = Eigen::VectorXd;
  using JacobianType = Eigen::MatrixXd;
  enum { InputsAtCompileTime = Eigen::Dynamic, ValuesAtCompileTime = Eigen::Dynamic };

  const Car& car;
  std::vector<CaliperReading> readings;
  std::vector<PointRef> refs;
  double prior;

  [[nodiscard]] int inputs() const { return 3 * static_cast<int>(refs.size()); }
  [[nodiscard]] int values() const { return inputs() + static_cast<int>(readings.size()); }
  [[nodiscard]] Vec3 at(const Eigen::VectorXd& x, const PointRef& ref) const {
    const auto i = std::find(refs.begin(), refs.end(), ref) - refs.begin();
    return x.segment<3>(3 * i);
  }
  int operator()(const Eigen::VectorXd& x, Eigen::VectorXd& f) const {
    Eigen::Index row = 0;
    for (const PointRef& ref : refs) {
      f.segment<3>(row) = (at(x, ref) - place_of(car, ref)) / prior;
      for (int i = 0; i < 3; ++i)
        if (conventional(car, ref)[i] > 0.5) f[row + i] *= prior / 1e-3;
      row += 3;
    }
    for (const CaliperReading& r : readings) {
      const Vec3 a = at(x, r.a);
      double v = 0.0;
      if (r.kind == ReadingKind::height) v = a.z();
      if (r.kind == ReadingKind::across) v = 2.0 * a.y();
      if (r.kind == ReadingKind::along) v = a.x() - at(x, r.b).x();
      if (r.kind == ReadingKind::distance) v = (a - at(x, r.b)).norm();
      f[row++] = (v - r.mm) / r.tolerance_mm;
    }
    return 0;
  }
};

TEST(FitAgainstMinpack, TheMinimumIsTheSame) {
  const Car kit = touring();
  const Car real = shaken(kit, 1.0, 21);
  std::vector<CaliperReading> front;
  for (const CaliperReading& r : calipers_on(real, kit, 0.1, 9))
    if (!r.a.steering && r.a.end == End::front) front.push_back(r);
  const auto fit = fit_points(kit, front, {.prior_mm = 3.0, .robust = false});
  ASSERT_TRUE(fit);
  Minpack problem{kit, front, {}, 3.0};
  for (const FittedPoint& p : fit->points) problem.refs.push_back(p.ref);
  Eigen::VectorXd x(problem.inputs());
  for (std::size_t i = 0; i < problem.refs.size(); ++i)
    x.segment<3>(3 * static_cast<Eigen::Index>(i)) = place_of(kit, problem.refs[i]);
  Eigen::NumericalDiff<Minpack, Eigen::Central> derivative(problem);
  Eigen::LevenbergMarquardt<Eigen::NumericalDiff<Minpack, Eigen::Central>> solver(derivative);
  solver.parameters.ftol = solver.parameters.xtol = 1e-14;
  solver.parameters.maxfev = 20000;
  solver.minimize(x);
  for (std::size_t i = 0; i < problem.refs.size(); ++i)
    EXPECT_LT((x.segment<3>(3 * static_cast<Eigen::Index>(i)) - fit->points[i].to).norm(), 1e-5)
        << spec_of(kit, problem.refs[i]).id;
}

}  // namespace
}  // namespace lowkite::test
