#include "core/plan/car_judge.hpp"

#include <algorithm>

#include "core/plan/bench_reset.hpp"
#include "core/plan/settling.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

Setup changed_by(Setup setup, const std::vector<PartChange>& changes) {
  for (const PartChange& c : changes) setup.of(c.adjuster) = {c.to, c.to};
  return setup;
}

bool any_geometric(const Car& car, const std::vector<PartChange>& changes) {
  return std::any_of(changes.begin(), changes.end(),
                     [&](const PartChange& c) { return car.adjusters[c.adjuster].moves_geometry(); });
}

tl::expected<LoadSource, CarFailure> put_on_springs(const Car& car, const Setup& setup, const HeldTurn& under,
                                                    const LoadNeeds& needs, const Balance* near,
                                                    const LoadedCar* alike) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const auto loaded = LoadedCar::of(*model, alike);
  if (!loaded) return tl::unexpected(loaded.error());
  // On a pod, and where springs do not only stiffen, there may be two stands: only the one reached from rest is told.
  const bool on_a_pod = std::any_of(both_ends.begin(), both_ends.end(),
                                    [&](End end) { return !model->corner(end, Side::left).spec->independent; });
  const bool one_stand = near && needs.stand && !on_a_pod && loaded->springs_only_stiffen();
  // Of a car that is alike it is steered as that one is.
  const auto servo = !needs.stand    ? tl::expected<double, CarFailure>(0.0)
                     : alike && near ? tl::expected<double, CarFailure>(near->attitude.servo_rad)
                                     : servo_in(*model, under);
  if (!servo) return tl::unexpected(servo.error());
  return read_load(*loaded, under, *servo, needs, one_stand ? near : nullptr);
}

CarJudge::CarJudge(const Car& car, const Variant& before, const Setup& start, const CarTargets& targets,
                   const ResetOptions& reset, const HeldTurn& under, std::vector<RecipeAim> aims)
    : car_(car),
      before_(before),
      start_(start),
      targets_(targets),
      exact_(reset),
      under_(under),
      aims_(std::move(aims)) {
  exact_.step_turns = 0.0;
  for (const RecipeAim& a : aims_) {
    if (a.figure->of_load()) {
      of_load_ = true;
      needs_.add(*a.figure);
    } else {
      of_geometry_ = true;
      travel_ = std::max(travel_, a.figure->travel_read());
    }
  }
  if (!asked()) return;
  if (auto back = put_back_exactly(car, before, start, targets, exact_)) put_back_ = std::move(*back);
  if (!put_back_ || !of_load_) return;
  if (auto model = build_model(car, *put_back_)) {
    model_ = std::move(*model);
    if (auto loaded = LoadedCar::of(model_)) loaded_ = std::move(*loaded);
  }
  if (!needs_.stand) return;
  if (auto stand = put_on_springs(car, *put_back_, under, {.stand = true})) near_ = std::move(stand->balance);
}

std::optional<std::vector<double>> CarJudge::read(const std::vector<PartChange>& changes) const {
  Setup setup;
  const bool light = put_back_ && !any_geometric(car_, changes) && !settles_anywhere(car_, exact_);
  if (light) {
    setup = changed_by(*put_back_, changes);
  } else {
    auto back =
        travel_ != TravelRead::none
            ? put_back_exactly(car_, before_, changed_for_droop(car_, before_.setup, start_, changes), targets_, exact_)
            : reset_where_it_sits(car_, before_, changed_by(start_, changes), targets_, exact_).map([](ResetResult r) {
                return std::move(r.setup);
              });
    if (!back) return std::nullopt;
    setup = std::move(*back);
  }
  FigureSource geometry;
  if (of_geometry_) {
    auto source = figure_source(car_, setup, travel_, {&before_});
    if (!source) return std::nullopt;
    geometry = std::move(*source);
  }
  std::optional<LoadSource> load;
  if (of_load_) {
    auto source =
        put_on_springs(car_, setup, under_, needs_, near_ ? &*near_ : nullptr, light && loaded_ ? &*loaded_ : nullptr);
    if (!source) return std::nullopt;
    load = std::move(*source);
  }
  std::vector<double> figures;
  for (const RecipeAim& a : aims_) {
    const auto v = a.figure->of_load() ? a.read(*load) : a.read(geometry);
    if (!v) return std::nullopt;
    figures.push_back(*v);
  }
  return figures;
}

}  // namespace lowkite
