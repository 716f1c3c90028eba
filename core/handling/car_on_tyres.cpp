#include "core/handling/car_on_tyres.hpp"

#include "core/handling/car_forces.hpp"

namespace lowkite {

CarOnTyres::CarOnTyres(const SetupTable& table, const TyreDraw& tyres)
    : table_(&table),
      draw_(tyres),
      tyre_{TyreAt(tyres, false, table.mean_load_n()), TyreAt(tyres, true, table.mean_load_n())} {
  for (std::size_t k = 0; k < tyre_rows_.size(); ++k)
    for (std::size_t w = 0; w < wheel_count; ++w) tyre_rows_[k][w] = tyre_[w / 2][static_cast<TyreConstant>(k)];
}

DriveLayout CarOnTyres::layout(CornerPhase phase) const {
  DriveLayout l;
  l.phase = phase;
  l.sense = table_->ask().to_the_left ? 1.0 : -1.0;
  const bool braking = phase == CornerPhase::entry && table_->ask().braking_g > 0.0;
  for (const End end : both_ends) {
    l.kind[at(end)] = table_->differential()[at(end)].kind;
    // A one-way lets its wheels run on under the brake.
    l.engaged[at(end)] = table_->engaged(end, braking) && !(braking && l.kind[at(end)] == DifferentialKind::one_way);
    l.drives = l.drives || l.engaged[at(end)];
    for (const Side side : both_sides) {
      const auto w = at(wheel_of(end, side));
      l.driven[w] = l.engaged[at(end)] ? 1.0 : 0.0;
      l.one_way[w] = l.engaged[at(end)] && l.kind[at(end)] == DifferentialKind::one_way ? 1.0 : 0.0;
    }
  }
  l.unknown[at(l.count++)] = servo;
  l.unknown[at(l.count++)] = body_slip;
  if (l.drives) l.unknown[at(l.count++)] = drive_slip;
  for (const End end : both_ends)
    if (l.gives_way(end)) l.unknown[at(l.count++)] = end == End::front ? front_apart : rear_apart;
  return l;
}

}  // namespace lowkite
