#include "core/plan/next_reading.hpp"

#include <algorithm>
#include <cmath>

#include <Eigen/Cholesky>

#include "core/measure/car_figures.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

using Vector = Eigen::VectorXd;

constexpr double nudge_mm = 0.05;
/// All points together count for so little that they decide only once the figures are known.
constexpr double points_count = 1e-3;

struct FigureRow {
  std::string_view label, unit;
  int decimals;
  double enough;
  std::optional<double> (*read)(const AxleFigures&);
};
constexpr std::array rows = std::to_array<FigureRow>({
    {marked("roll centre"), "mm", 1, 1.0,
     [](const AxleFigures& a) -> std::optional<double> {
       return a.roll_centre.moving ? std::optional(a.roll_centre.moving->height) : std::nullopt;
     }},
    {marked("camber gain"), "deg/mm", 3, 0.01,
     [](const AxleFigures& a) -> std::optional<double> { return degrees(a.wheel[0].camber_gain_rad_per_mm); }},
});

std::optional<AxleFigures> figures_of(const Car& car, End end) {
  const auto model = build_model(car, kit_setup(car));
  if (!model) return std::nullopt;
  auto f = figures_at(*model, static_attitude(*model));
  return f ? std::optional(f->axle[at(end)]) : std::nullopt;
}

void move_point(Car& car, const PointRef& ref, const Vec3& by) {
  if (ref.steering) {
    car.steering.points[ref.point] += by;
    return;
  }
  auto& points = car.axles[at(ref.end)].points;
  points[0][ref.point] += by;
  points[1][ref.point] += by;  // corner frames are mirror images of each other
}

/// The places of all points in one row of numbers.
struct Numbering {
  std::vector<PointRef> points;
  [[nodiscard]] std::ptrdiff_t of(const PointRef& ref) const {
    return 3 * (std::find(points.begin(), points.end(), ref) - points.begin());
  }
};

Vector slope_of(const CaliperReading& r, const Car& car, const Numbering& n) {
  Vector h = Vector::Zero(3 * static_cast<std::ptrdiff_t>(n.points.size()));
  const std::ptrdiff_t a = n.of(r.a);
  switch (r.kind) {
    case ReadingKind::height:
      h[a + 2] = 1.0;
      break;
    case ReadingKind::across:
      h[a + 1] = 2.0;
      break;
    case ReadingKind::along:
      h[a] = 1.0;
      h[n.of(r.b)] = -1.0;
      break;
    case ReadingKind::distance: {
      const Vec3 u = (place_of(car, r.a) - place_of(car, r.b)).normalized();
      h.segment<3>(a) = u;
      h.segment<3>(n.of(r.b)) = -u;
      break;
    }
  }
  return h;
}

}  // namespace

bool ReadingPlan::enough() const {
  return !figures.empty() &&
         std::all_of(figures.begin(), figures.end(), [](const KnownFigure& f) { return f.now <= f.enough; });
}

Car with_points(const Car& car, const Fit& fit) {
  Car moved = car;
  for (const FittedPoint& p : fit.points) move_point(moved, p.ref, p.to - place_of(car, p.ref));
  return moved;
}

ReadingPlan plan_readings(const Car& car, const std::optional<Fit>& fit, std::span<const GuideStep> steps, End end,
                          const FitOptions& options) {
  ReadingPlan plan;
  const Car known = fit ? with_points(car, *fit) : car;
  const Numbering n{points_of(car)};
  const auto size = 3 * static_cast<std::ptrdiff_t>(n.points.size());
  // A reading of the steering often starts from a pin of the front arm.
  const bool of_axle = std::any_of(steps.begin(), steps.end(), [](const GuideStep& s) {
    const bool two = s.reading.kind == ReadingKind::distance || s.reading.kind == ReadingKind::along;
    return !s.reading.a.steering && !(two && s.reading.b.steering);
  });
  // What is asked for, and how it follows the points. Where the fitted linkage does not close, nothing can be told of
  // it.
  std::vector<Vector> slope;
  std::vector<const FigureRow*> asked;
  if (const auto is = of_axle ? figures_of(known, end) : std::nullopt; is && car.axle(end).mechanism->independent) {
    for (const FigureRow& row : rows) {
      const auto value = row.read(*is);
      if (!value) continue;
      KnownFigure f{row.label, row.unit, row.decimals, *value, 0.0, 0.0, 0.0, row.enough};
      plan.figures.push_back(f);
      asked.push_back(&row);
      slope.push_back(Vector::Zero(size));
    }
    for (std::size_t p = 0; p < n.points.size(); ++p) {
      if (n.points[p].steering || n.points[p].end != end || n.points[p].point >= attachment::first) continue;
      for (int axis = 0; axis < 3; ++axis) {
        std::array<std::optional<AxleFigures>, 2> sides;
        for (std::size_t s = 0; s < 2; ++s) {
          Car moved = known;
          move_point(moved, n.points[p], (s == 0 ? -nudge_mm : nudge_mm) * Vec3::Unit(axis));
          sides[s] = figures_of(moved, end);
        }
        if (!sides[0] || !sides[1]) continue;
        for (std::size_t k = 0; k < asked.size(); ++k) {
          const auto below = asked[k]->read(*sides[0]), above = asked[k]->read(*sides[1]);
          if (below && above)
            slope[k][3 * static_cast<std::ptrdiff_t>(p) + axis] = (*above - *below) / (2.0 * nudge_mm);
        }
      }
    }
  }
  Vector prior(size);
  for (std::size_t p = 0; p < n.points.size(); ++p) {
    const Vec3 stays = conventional(car, n.points[p]);
    prior.segment<3>(3 * static_cast<std::ptrdiff_t>(p)) =
        stays * convention_sigma_mm + (Vec3::Ones() - stays) * options.prior_mm;
  }
  Eigen::MatrixXd information = prior.cwiseAbs2().cwiseInverse().asDiagonal();
  if (fit)
    for (const FittedReading& r : fit->readings) {
      const Vector h = slope_of(r.reading, known, n);
      information += h * h.transpose() / (r.reading.tolerance_mm * r.reading.tolerance_mm);
    }
  const Eigen::MatrixXd spread = information.llt().solve(Eigen::MatrixXd::Identity(size, size));
  for (std::size_t k = 0; k < slope.size(); ++k) {
    plan.figures[k].by_template = slope[k].cwiseProduct(prior).norm();
    plan.figures[k].now = plan.figures[k].next = std::sqrt(std::max(0.0, slope[k].dot(spread * slope[k])));
  }
  // How much of all points' spread a reading takes counts for a little, in millimetres of the axle's own points.
  double best = 0.0;
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const CaliperReading& r = steps[i].reading;
    if (fit && std::any_of(fit->readings.begin(), fit->readings.end(),
                           [&](const FittedReading& f) { return f.reading.same_place(r); }))
      continue;
    const Vector h = slope_of(r, known, n);
    const Vector seen = spread * h;
    const double scale = r.tolerance_mm * r.tolerance_mm + h.dot(seen);
    double takes = points_count * seen.squaredNorm() / scale / (options.prior_mm * options.prior_mm);
    for (std::size_t k = 0; k < slope.size(); ++k) {
      const double by = slope[k].dot(seen);
      takes += by * by / scale / (plan.figures[k].enough * plan.figures[k].enough);
    }
    if (plan.next && takes <= best) continue;
    best = takes;
    plan.next = i;
    for (std::size_t k = 0; k < slope.size(); ++k) {
      const double by = slope[k].dot(seen);
      plan.figures[k].next = std::sqrt(std::max(0.0, plan.figures[k].now * plan.figures[k].now - by * by / scale));
    }
  }
  return plan;
}

}  // namespace lowkite
