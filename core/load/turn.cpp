#include "core/load/turn.hpp"

#include <cmath>

#include <fmt/format.h>
#include <boost/math/tools/toms748_solve.hpp>

#include "core/measure/car_figures.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double nearly_in_mm = 0.5;
constexpr double plate_counts_n = 0.05;

}  // namespace

std::optional<double> radius_of(double speed_m_s, double lateral_g) {
  if (!(speed_m_s > 0.0) || lateral_g == 0.0) return std::nullopt;
  return 1000.0 * speed_m_s * speed_m_s / (std::abs(lateral_g) * gravity_m_s2);
}

std::optional<double> servo_for_radius(const CarModel& model, double radius_mm, bool to_the_left) {
  if (!model.steering || !(radius_mm > 0.0)) return std::nullopt;
  const double sign = to_the_left ? 1.0 : -1.0;
  const auto stands = pose_car(model, static_attitude(model));
  if (!stands) return std::nullopt;
  const PerSide<double> wheelbase = read_car(model, *stands, static_attitude(model)).wheelbase_mm;
  const double wanted = std::atan(0.5 * (wheelbase[0] + wheelbase[1]) / radius_mm);
  AxlePose front = stands->axle[at(End::front)];
  const auto off = [&](double servo) -> std::optional<double> {
    const auto steered = steer(model, sign * servo);
    if (!steered) return std::nullopt;
    auto pose = pose_axle(model, End::front, stands->ground, *steered, &front);
    if (!pose) return std::nullopt;
    front = std::move(*pose);
    PerSide<WheelFigures> wheels;
    for (const Side side : both_sides)
      wheels[at(side)] =
          read_wheel(model.corner(End::front, side), front.corner[at(side)], ground_of(stands->ground, side));
    const PerSide<double> heads = headings(wheels);
    return sign * 0.5 * (heads[0] + heads[1]) - wanted;
  };
  constexpr double step = radians(4.0);
  double before = 0.0;
  auto there = off(before);
  while (there && *there < 0.0) {
    const double next = before + step;
    const auto further = next <= model.car->steering.servo_most_rad ? off(next) : std::nullopt;
    if (!further) return std::nullopt;
    if (*further >= 0.0) {
      std::uintmax_t rounds = 40;
      const auto found =
          boost::math::tools::toms748_solve([&](double servo) { return off(servo).value_or(0.0); }, before, next,
                                            *there, *further, boost::math::tools::eps_tolerance<double>(36), rounds);
      return sign * 0.5 * (found.first + found.second);
    }
    before = next;
    there = further;
  }
  return there ? std::optional(0.0) : std::nullopt;
}

std::optional<double> servo_under(const CarModel& model, const Acceleration& a,
                                  const std::optional<double>& radius_mm) {
  if (a.lateral_g == 0.0 || !radius_mm) return 0.0;
  return servo_for_radius(model, *radius_mm, a.lateral_g > 0.0);
}

tl::expected<double, CarFailure> servo_in(const CarModel& model, const HeldTurn& turn) {
  if (!(turn.radius_m > 0.0) || !model.steering) return 0.0;
  const auto servo = servo_under(model, turn, 1000.0 * turn.radius_m);
  if (!servo) return cannot(say("the steering does not turn as far as a turn of {:.1f} m asks for", turn.radius_m));
  return *servo;
}

std::vector<StandNote> notes_on(const CarModel& model, const Balance& balance) {
  using What = StandNote::What;
  std::vector<StandNote> notes;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const WheelState& w = balance.wheel[at(end)][at(side)];
      if (w.lifted) notes.push_back({What::lifted, end, side});
      const auto left = stroke_left(model.corner(end, side), balance.pose.axle[at(end)].corner[at(side)]);
      if (left && *left < nearly_in_mm)
        notes.push_back({*left <= 0.0 ? What::shock_in : What::shock_nearly_in, end, side, *left});
    }
  if (balance.plate_n > plate_counts_n) notes.push_back({What::plate_down, {}, {}, balance.plate_n});
  if (balance.by_a_jump) notes.push_back({What::jumped});
  return notes;
}

std::string in_words(const StandNote& note) {
  const auto wheel = [&] { return fmt::format("{} {}", word(note.end), word(note.side)); };
  switch (note.what) {
    case StandNote::What::lifted:
      return say("{} wheel lifted", wheel());
    case StandNote::What::shock_in:
      return say("{} shock pushed in as far as it goes", wheel());
    case StandNote::What::shock_nearly_in:
      return say("{wheel} shock within {left_over:.1f} mm of its end", "wheel"_a = wheel(),
                 "left_over"_a = note.amount);
    case StandNote::What::plate_down:
      return say("the plate is on the ground with {:.0f} g", grams(note.amount));
    case StandNote::What::jumped:
      return say("the car snaps to this stand from another");
  }
  return {};
}

}  // namespace lowkite
