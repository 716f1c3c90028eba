#include "calc/rows.hpp"

#include "core/io/json_document.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace lowkite::calc {

tl::expected<Row, PoseFailure> corner_row(const CornerModel& corner, Side side, double travel_mm, double rack_mm) {
  const auto pose = pose_at_travel(corner, travel_mm, rack_input(side, rack_mm));
  if (!pose) return tl::unexpected(pose.error());
  const WheelFigures w = read_wheel(corner, *pose, Ground{});
  const auto in_car = [&](const Vec3& v) { return side == Side::left ? v : mirrored(v); };
  // One wheel's line across its path cuts the centre plane at C_y v_y / v_z over the contact point.
  const auto height = [&](const Vec3& path) -> std::optional<double> {
    const double h = w.contact.y() * path.y() / path.z();
    return std::isfinite(h) ? std::optional(h) : std::nullopt;
  };
  Row row;
  std::size_t i = 0;
  const auto put = [&](std::optional<double> v) { row[i++] = v; };
  const auto put_vector = [&](const Vec3& v) {
    for (const double x : v) put(x);
  };
  put(travel_mm);
  put(rack_mm);
  put_vector(in_car(w.wheel_centre));
  put_vector(in_car(pose->spin_axis));
  put_vector(in_car(w.contact));
  put(degrees(w.camber_rad));
  put(degrees(w.toe_rad));
  if (w.kingpin) {
    put(degrees(w.kingpin->caster_rad));
    put(degrees(w.kingpin->inclination_rad));
    put(w.kingpin->trail_mm);
    put(w.kingpin->scrub_mm);
  } else {
    i += 4;
  }
  // Both wheels of a solid axle move together: one of them has neither a roll centre nor bump steer.
  if (corner.spec->independent) {
    put(height(w.contact_per_travel));
    put(height(w.locked_contact_per_travel));
    put(degrees(w.bump_steer_rad_per_mm));
  }
  return row;
}

std::string csv_header() {
  return fmt::format("{}\n", fmt::join(columns, ","));
}

std::string csv_line(const Row& row) {
  std::string line;
  for (std::size_t i = 0; i < row.size(); ++i) {
    if (i) line += ',';
    if (row[i]) line += fmt::format("{:.12g}", *row[i] + 0.0);
  }
  return line + "\n";
}

Json json_row(const Row& row) {
  Json j = Json::object();
  for (std::size_t i = 0; i < row.size(); ++i) j[std::string(columns[i])] = row[i] ? Json(*row[i]) : Json(nullptr);
  return j;
}

}  // namespace lowkite::calc
