// Ride-height gauge: under the plate at the gauge point; answered by whatever holds the springs.
#include <cmath>

#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

/// What a hand turns or puts in: eighths of a turn of the collar where its thread is known, else tenths; spacers as the
/// box has them.
double in_what_holds_the_springs(const Car& car, const Setup& setup, End end, Side side, GaugeAnswer& a) {
  if (spring_holder(car, end) != SpringHolder::spacers) {
    const double pitch = car.axle(end).collar_pitch_mm;
    const double step = pitch > 0.0 ? pitch / gauge::ride_height.parts_of_a_turn : 0.1;
    return in_steps(a.change, step);
  }
  const PartHandle part = spacers_under_springs(car, end);
  const Adjuster& spacers = car.adjusters[part];
  const double now = setup.of(part).on(side);
  a.adjusters = {part};
  a.thread_ends = now + a.change < spacers.least() - 1e-9 || now + a.change > spacers.most() + 1e-9;
  return spacers.nearest_stop(now + a.change) - now;
}

}  // namespace

const GaugeSpec ride_height{.id = "ride_height",
                            .label = marked("ride-height gauge"),
                            .unit = Unit::mm,
                            .wording = Wording::plain,
                            .decimals = 1,
                            .resolution = 0.1,
                            .per_wheel = false,
                            .takes_over = TakesOver::ride_height,
                            .means_something = laid_on::any,
                            .read = [](const GaugeView& v) -> std::optional<double> {
                              return v.source.standing.attitude.ride_height_mm[at(v.gauge.end)];
                            },
                            .answer = [](const Car& car, const Setup& setup, const Gauge& g, Side side,
                                         GaugeAnswer& a) -> tl::expected<void, CarFailure> {
                              // The spring's seat is moved by as much as the shock must grow: motion ratio times the
                              // missing height; both sides alike, so that the cross weight stays.
                              const auto model = build_model(car, setup);
                              if (!model) return tl::unexpected(model.error());
                              const auto pose = pose_car(*model, static_attitude(*model));
                              if (!pose) return tl::unexpected(pose.error());
                              double ratio = 0.0;
                              for (const Side s : both_sides) {
                                const auto of_side =
                                    shock_per_contact(model->corner(g.end, s), pose->axle[at(g.end)].corner[at(s)],
                                                      ground_of(pose->ground, s));
                                if (!of_side) return {};
                                ratio += 0.5 * *of_side;
                              }
                              a.collars = true;
                              a.change = -a.difference * ratio;
                              a.told = in_what_holds_the_springs(car, setup, g.end, side, a);
                              a.verdict = std::abs(a.told) > 1e-9 ? GaugeAnswer::Verdict::turn
                                          : a.thread_ends         ? GaugeAnswer::Verdict::out_of_reach
                                                                  : GaugeAnswer::Verdict::closest;
                              return {};
                            }};

}  // namespace lowkite::gauge
