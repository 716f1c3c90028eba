// What is read off the laps of a run. The ids are also the columns of the table of runs.
#include <array>

#include "core/figures/figure_columns.hpp"
#include "core/stats/lap_figures.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

using namespace figure_columns;

template <double LapFigures::*member>
Value seconds(const LapFigures& f) {
  return f.*member;
}

constexpr auto lap_rows = std::to_array<FigureSpec>({
    {"counted", marked("laps that count"), G::laps, U::count, W::plain, 0, per_car, N::wheel, over_all, no_flag,
     no_lesson, [](const LapFigures& f) -> Value { return f.counted; }},
    {"best_s", marked("best lap"), G::laps, U::s, W::plain, 2, per_car, N::wheel, over_all, no_flag, no_lesson,
     seconds<&LapFigures::best_s>},
    {"mean_s", marked("mean lap"), G::laps, U::s, W::plain, 2, per_car, N::wheel, over_all, no_flag, no_lesson,
     seconds<&LapFigures::mean_s>},
    {"median_s", marked("median lap"), G::laps, U::s, W::plain, 2, per_car, N::wheel, over_all, no_flag, no_lesson,
     seconds<&LapFigures::median_s>},
    {"deviation_s", marked("one lap's deviation"), G::laps, U::s, W::plain, 2, per_car, N::wheel, over_all, no_flag,
     no_lesson, seconds<&LapFigures::deviation_s>},
    {"fade_s_per_lap", marked("fade"), G::laps, U::s_per_lap, W::plain, 3, per_car, N::wheel, over_all, no_flag,
     no_lesson, [](const LapFigures& f) { return f.fade ? Value(f.fade->slope) : std::nullopt; }},
    {"lost_to_crashes_s", marked("lost to crashes"), G::laps, U::s, W::plain, 1, per_car, N::wheel, over_all, no_flag,
     no_lesson, seconds<&LapFigures::lost_to_crashes_s>},
    {"lost_to_traffic_s", marked("lost to traffic"), G::laps, U::s, W::plain, 1, per_car, N::wheel, over_all, no_flag,
     no_lesson, seconds<&LapFigures::lost_to_traffic_s>},
});

}  // namespace

std::span<const FigureSpec> lap_time_figures() {
  return lap_rows;
}

}  // namespace lowkite
