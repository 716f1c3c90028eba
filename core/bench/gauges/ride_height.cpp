// Ride-height gauge: under the plate at the gauge point; answered by whatever holds the springs.
#include "core/bench/gauges/laid_on.hpp"

namespace lowkite::gauge {

const GaugeSpec ride_height{.id = "ride_height",
                            .label = "ride-height gauge",
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
                                         GaugeAnswer& a) -> tl::expected<void, CornerFailure> {
                              // The spring's seat is moved by as much as the shock must grow: motion ratio times the
                              // missing height.
                              const auto model = build_model(car, setup);
                              if (!model) return tl::unexpected(model.error());
                              const auto pose = pose_car(*model, static_attitude(*model));
                              if (!pose) return tl::unexpected(pose.error());
                              const auto ratio =
                                  shock_per_contact(model->corner(g.end, side), pose->axle[at(g.end)].corner[at(side)],
                                                    ground_of(pose->ground, side));
                              if (!ratio) return {};
                              a.verdict = GaugeAnswer::Verdict::turn;
                              a.collars = true;
                              a.change = -a.difference * *ratio;
                              return {};
                            }};

}  // namespace lowkite::gauge
