#include "core/plan/fit.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <ceres/ceres.h>
#include "core/words/say.hpp"

namespace lowkite {
namespace {

template <class T>
T value_of(ReadingKind kind, const T* a, const T* b) {
  switch (kind) {
    case ReadingKind::height:
      return a[2];
    case ReadingKind::across:
      return T(2.0) * a[1];
    case ReadingKind::along:
      return a[0] - b[0];
    case ReadingKind::distance:
      break;
  }
  const T dx = a[0] - b[0];
  const T dy = a[1] - b[1];
  const T dz = a[2] - b[2];
  return sqrt(dx * dx + dy * dy + dz * dz);
}

bool of_two(ReadingKind kind) {
  return kind == ReadingKind::distance || kind == ReadingKind::along;
}

struct OnePoint {
  CaliperReading r;
  template <class T>
  bool operator()(const T* a, T* residual) const {
    residual[0] = (value_of(r.kind, a, a) - r.mm) / r.tolerance_mm;
    return true;
  }
};

struct TwoPoints {
  CaliperReading r;
  template <class T>
  bool operator()(const T* a, const T* b, T* residual) const {
    residual[0] = (value_of(r.kind, a, b) - r.mm) / r.tolerance_mm;
    return true;
  }
};

struct Prior {
  Vec3 place;
  Vec3 sigma_mm;
  template <class T>
  bool operator()(const T* p, T* residual) const {
    for (int i = 0; i < 3; ++i) residual[i] = (p[i] - place[i]) / sigma_mm[i];
    return true;
  }
};

}  // namespace

std::string_view id_of(ReadingKind kind) {
  switch (kind) {
    case ReadingKind::distance:
      return marked("distance");
    case ReadingKind::height:
      return marked("height");
    case ReadingKind::across:
      return marked("across");
    case ReadingKind::along:
      return marked("along");
  }
  return {};
}

std::vector<PointRef> points_of(const Car& car) {
  std::vector<PointRef> all;
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    for (const PointHandle p : axle.mechanism->points.handles()) all.push_back({end, false, p});
    for (std::size_t p = attachment::first; p < attachment::end; ++p)
      if (axle.has(PointHandle(p))) all.push_back({end, false, PointHandle(p)});
  }
  if (car.steering.spec)
    for (const PointHandle p : car.steering.spec->points.handles()) all.push_back({End::front, true, p});
  return all;
}

PointRef datum_of(const Car&) {
  return {End::front, false, PointHandle(0)};
}

PointHandle first_moving(std::span<const PointSpec> points) {
  const auto found = std::find_if(points.begin(), points.end(),
                                  [](const PointSpec& p) { return p.body != Body::chassis && p.body != Body::rack; });
  return found == points.end() ? PointHandle() : PointHandle(at(found - points.begin()));
}

Vec3 conventional(const Car& car, const PointRef& ref) {
  Vec3 stays = Vec3::Zero();
  if (ref == datum_of(car)) stays.x() = 1.0;
  if (ref.steering) {
    const SteeringSpec& spec = *car.steering.spec;
    if (ref.point == (spec.drag_ball ? spec.drag_ball : first_moving(spec.points))) stays.y() = 1.0;
  } else if (ref.point == first_moving(car.axle(ref.end).mechanism->points)) {
    stays.z() = 1.0;
  }
  return stays;
}

const PointSpec& spec_of(const Car& car, const PointRef& ref) {
  if (ref.steering) return car.steering.spec->points[ref.point];
  return car.axle(ref.end).mechanism->point_spec(ref.point);
}

const Vec3& place_of(const Car& car, const PointRef& ref) {
  return ref.steering ? car.steering.points[ref.point] : car.axle(ref.end).points[at(Side::left)][ref.point];
}

double expected_reading(const Car& car, const CaliperReading& reading) {
  const Vec3& a = place_of(car, reading.a);
  const Vec3& b = of_two(reading.kind) ? place_of(car, reading.b) : a;
  return value_of(reading.kind, a.data(), b.data());
}

tl::expected<Fit, CarFailure> fit_points(const Car& car, std::span<const CaliperReading> readings,
                                         const FitOptions& options) {
  std::map<PointRef, Vec3> place;
  for (const CaliperReading& r : readings) {
    if (!std::isfinite(r.mm) || !(r.tolerance_mm > 0.0)) return cannot(say("a reading is no number"));
    if (of_two(r.kind) && r.a == r.b)
      return cannot(say("a reading goes from {} to itself", word(spec_of(car, r.a).label)));
    place.emplace(r.a, place_of(car, r.a));
    if (of_two(r.kind)) place.emplace(r.b, place_of(car, r.b));
  }
  Fit fit;
  if (place.empty()) return fit;

  ceres::Problem problem;
  for (auto& [ref, p] : place) {
    const Vec3 stays = conventional(car, ref);
    const Vec3 sigma = stays * convention_sigma_mm + (Vec3::Ones() - stays) * options.prior_mm;
    problem.AddResidualBlock(new ceres::AutoDiffCostFunction<Prior, 3, 3>(new Prior{place_of(car, ref), sigma}),
                             nullptr, p.data());
  }
  for (const CaliperReading& r : readings) {
    ceres::LossFunction* loss = options.robust ? new ceres::HuberLoss(2.0) : nullptr;
    if (of_two(r.kind))
      problem.AddResidualBlock(new ceres::AutoDiffCostFunction<TwoPoints, 1, 3, 3>(new TwoPoints{r}), loss,
                               place.at(r.a).data(), place.at(r.b).data());
    else
      problem.AddResidualBlock(new ceres::AutoDiffCostFunction<OnePoint, 1, 3>(new OnePoint{r}), loss,
                               place.at(r.a).data());
  }
  ceres::Solver::Options how;
  how.linear_solver_type = ceres::DENSE_QR;
  how.max_num_iterations = 200;
  how.function_tolerance = 1e-14;
  how.parameter_tolerance = 1e-12;
  how.logging_type = ceres::SILENT;
  ceres::Solver::Summary summary;
  ceres::Solve(how, &problem, &summary);
  if (!summary.IsSolutionUsable()) return cannot(say("these readings lead to no points"));

  // Every point has a prior, so the covariance always exists.
  ceres::Covariance::Options dense;
  dense.algorithm_type = ceres::DENSE_SVD;
  ceres::Covariance covariance(dense);
  std::vector<std::pair<const double*, const double*>> blocks;
  for (const auto& [ref, p] : place) blocks.emplace_back(p.data(), p.data());
  const bool known = covariance.Compute(blocks, &problem);
  for (const auto& [ref, p] : place) {
    FittedPoint point{ref, place_of(car, ref), p, Vec3::Constant(options.prior_mm)};
    if (known) {
      Eigen::Matrix<double, 3, 3, Eigen::RowMajor> c;
      covariance.GetCovarianceBlock(p.data(), p.data(), c.data());
      point.sigma_mm = c.diagonal().cwiseMax(0.0).cwiseSqrt();
    }
    fit.points.push_back(point);
  }
  for (const CaliperReading& r : readings) {
    const Vec3& a = place.at(r.a);
    const Vec3& b = of_two(r.kind) ? place.at(r.b) : a;
    FittedReading f{r, value_of(r.kind, a.data(), b.data()), false};
    f.contradicts = std::abs(f.residual_mm()) > contradiction * r.tolerance_mm;
    fit.readings.push_back(f);
  }
  return fit;
}

}  // namespace lowkite
