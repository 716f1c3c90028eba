#include "core/load/mass_figures.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

struct Lump {
  double kg = 0.0;
  Vec3 place = Vec3::Zero();
  Vec3 own = Vec3::Zero();  ///< kg mm^2 about its own centre
};

Inertia about(const std::vector<Lump>& bodies, const Vec3& centre) {
  Vec3 sum = Vec3::Zero();
  for (const Lump& b : bodies) {
    const Vec3 d = b.place - centre;
    sum += b.own +
           b.kg * Vec3(d.y() * d.y() + d.z() * d.z(), d.x() * d.x() + d.z() * d.z(), d.x() * d.x() + d.y() * d.y());
  }
  return {sum.x(), sum.y(), sum.z()};
}

struct Moments {
  std::vector<Lump> sprung, wheels;
  double sprung_kg = 0.0;
  Vec3 sprung_cg = Vec3::Zero();
};

std::optional<Moments> spread(const CarModel& model, const CarPose& standing) {
  const Car& car = *model.car;
  if (!(model.mass.kg > 0.0) || !model.mass.cg) return std::nullopt;
  Moments s;
  s.sprung_kg = model.mass.kg;
  Vec3 moment = model.mass.kg * *model.mass.cg;
  PerEnd<double> axle_x{};
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const double kg = unsprung_kg(car.axle(end), model.corner(end, side));
      Vec3 place = standing.axle[at(end)].corner[at(side)].wheel_centre;
      if (side == Side::right) place = mirrored(place);
      axle_x[at(end)] += 0.5 * place.x();
      const double r = model.corner(end, side).tyre.radius_mm;
      // A ring about its axle: m r^2 about it, half of that across it.
      s.wheels.push_back({kg, place, kg * r * r * Vec3(0.5, 1.0, 0.5)});
      s.sprung_kg -= kg;
      moment -= kg * place;
    }
  if (!(s.sprung_kg > 0.0)) return std::nullopt;
  s.sprung_cg = moment / s.sprung_kg;
  double rest = s.sprung_kg;
  Vec3 rest_moment = moment;
  for (std::size_t i = 0; i < car.masses.size(); ++i) {
    const double kg = model.mass.grams[i] / 1000.0;
    if (!(kg > 0.0)) continue;
    s.sprung.push_back({kg, model.mass.part[i], Vec3::Zero()});
    rest -= kg;
    rest_moment -= kg * model.mass.part[i];
  }
  if (rest < 0.0) return std::nullopt;
  if (rest > 0.0) {
    const double length = axle_x[0] - axle_x[1];
    const double width = car.plate_half_width_mm[0] + car.plate_half_width_mm[1];
    const Vec3 place = rest_moment / rest;
    const double high = std::clamp(2.0 * place.z(), 10.0, 120.0);
    const Vec3 squares(width * width + high * high, length * length + high * high, length * length + width * width);
    s.sprung.push_back({rest, place, rest / 12.0 * squares});
  }
  return s;
}

}  // namespace

std::optional<SprungMass> sprung_mass(const CarModel& model, const CarPose& standing) {
  const auto s = spread(model, standing);
  if (!s) return std::nullopt;
  return SprungMass{s->sprung_kg, s->sprung_cg, about(s->sprung, s->sprung_cg)};
}

std::optional<Inertia> inertia_of(const CarModel& model, const CarPose& standing) {
  auto s = spread(model, standing);
  if (!s) return std::nullopt;
  s->sprung.insert(s->sprung.end(), s->wheels.begin(), s->wheels.end());
  return about(s->sprung, *model.mass.cg);
}

std::optional<double> cg_height_from_raised_end(double total_g, double level_g, double raised_g, double wheelbase_mm,
                                                double lift_mm, double axle_height_mm) {
  if (!(total_g > 0.0) || !(wheelbase_mm > 0.0) || !(lift_mm > 0.0) || !(lift_mm < 0.9 * wheelbase_mm))
    return std::nullopt;
  const double moved = raised_g - level_g;
  if (!(moved > 0.0)) return std::nullopt;
  const double sine = lift_mm / wheelbase_mm;
  const double tangent = sine / std::sqrt(1.0 - sine * sine);
  return axle_height_mm + moved * wheelbase_mm / (total_g * tangent);
}

std::optional<double> cg_height_from_tilt(double half_track_mm, double tilt_deg) {
  if (!(half_track_mm > 0.0) || tilt_deg < 5.0 || tilt_deg > 85.0) return std::nullopt;
  return half_track_mm / std::tan(radians(tilt_deg));
}

}  // namespace lowkite
