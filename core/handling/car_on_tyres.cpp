#include "core/handling/car_on_tyres.hpp"

#include "core/handling/car_forces.hpp"

namespace lowkite {

CarOnTyres::CarOnTyres(const SetupTable& table, const TyreDraw& tyres)
    : table_(&table),
      draw_(tyres),
      tyre_{TyreAt(tyres, false, table.mean_load_n()), TyreAt(tyres, true, table.mean_load_n())} {}

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
  }
  l.unknown[static_cast<std::size_t>(l.count++)] = servo;
  l.unknown[static_cast<std::size_t>(l.count++)] = body_slip;
  if (l.drives) l.unknown[static_cast<std::size_t>(l.count++)] = drive_slip;
  for (const End end : both_ends) {
    const DifferentialKind k = l.kind[at(end)];
    if (l.engaged[at(end)] && k != DifferentialKind::spool && k != DifferentialKind::one_way)
      l.unknown[static_cast<std::size_t>(l.count++)] = end == End::front ? front_apart : rear_apart;
  }
  return l;
}

}  // namespace lowkite
