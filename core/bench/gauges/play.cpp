// Play, place by place: at the wheel, along an axle, at the steering's posts. Some is wanted; too little binds.
//
// How much is common practice, no source: 0.2 to 0.3 mm along a rear axle, a post's screw backed off by half a turn. Of
// a wheel nothing is wanted but what its droop reading does not tell any more.
#include <cmath>

#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

/// Towards the middle, in what a hand can do.
tl::expected<void, CarFailure> answer_play(const Car&, const Setup&, const Gauge& gauge, Side, GaugeAnswer& a) {
  const double step = gauge.spec().play->step;
  if (!(step > 0.0)) return {};  // no part
  a.play = true;
  a.change = -a.difference;
  a.told = std::round(a.change / step) * step;
  a.verdict = a.told == 0.0 ? GaugeAnswer::Verdict::closest : GaugeAnswer::Verdict::turn;
  return {};
}

constexpr GaugeSpec play_gauge(std::string_view id, std::string_view label, Unit unit, int decimals, bool per_wheel,
                               WantedPlay wanted, decltype(GaugeSpec::means_something) meant) {
  return {.id = id,
          .label = label,
          .unit = unit,
          .wording = Wording::plain,
          .decimals = decimals,
          .resolution = 0.5 * (wanted.most - wanted.least),
          .per_wheel = per_wheel,
          .play = wanted,
          .means_something = meant,
          .read = [](const GaugeView& v) -> std::optional<double> {
            const WantedPlay& play = *v.gauge.spec().play;
            return 0.5 * (play.least + play.most);
          },
          .answer = answer_play};
}

constexpr WantedPlay along_an_axle{.least = 0.2,
                                   .most = 0.3,
                                   .step = 0.1,
                                   .tighter = marked("Put in shims at the bearing:"),
                                   .looser = marked("Take out shims at the bearing:"),
                                   .besides = marked("worn bearings, a bent axle or a loose nut.")};

}  // namespace

const GaugeSpec wheel_play = play_gauge(
    "wheel_play", marked("play at the wheel"), Unit::mm, 1, true,
    {.least = 0.0,
     .most = 0.2,
     .besides = marked("Worn pins, bores, balls or bearings, or a loose nut. Until it is found this much is taken "
                       "off what this wheel's droop reads.")},
    laid_on::any);
const GaugeSpec end_float =
    play_gauge("end_float", marked("end float at the hub"), Unit::mm, 2, true, along_an_axle,
               [](const Car& car, End end) { return end == End::rear && car.axle(end).mechanism->independent; });
const GaugeSpec axle_float =
    play_gauge("axle_float", marked("end float of the axle"), Unit::mm, 2, false, along_an_axle,
               [](const Car& car, End end) { return end == End::rear && !car.axle(end).mechanism->independent; });
const GaugeSpec post_play =
    play_gauge("post_play", marked("post's screw, out from tight"), Unit::turns, 3, true,
               {.least = 0.375,
                .most = 0.625,
                .step = 0.125,
                .tighter = marked("Turn the post's screw in by"),
                .looser = marked("Back the post's screw off by"),
                .besides = {}},
               [](const Car& car, End end) {
                 return end == End::front && car.steering.spec && car.steering.spec->id.starts_with("crank_");
               });

}  // namespace lowkite::gauge
