#include "app/settings/club_rules.h"

#include <QStringList>

#include "app/kept/kept.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

std::optional<double> saved(const char* key) {
  const QVariant v = Kept().value(QStringLiteral("club/%1").arg(QLatin1String(key)));
  const double number = v.toDouble();
  return number > 0.0 ? std::optional(number) : std::nullopt;
}

void save(const char* key, const std::optional<double>& value) {
  Kept().setValue(QStringLiteral("club/%1").arg(QLatin1String(key)), value.value_or(0.0));
}

}  // namespace

ClubRules::ClubRules(QObject* parent)
    : QObject(parent),
      limits_{saved("least_mass_g"), saved("least_ride_height_mm"), saved("most_width_mm"),
              saved("least_battery_behind_mm"), saved("most_battery_behind_mm")} {}

void ClubRules::setLimits(const ClubLimits& limits) {
  if (limits == limits_) return;
  limits_ = limits;
  save("least_mass_g", limits.least_mass_g);
  save("least_ride_height_mm", limits.least_ride_height_mm);
  save("most_width_mm", limits.most_width_mm);
  save("least_battery_behind_mm", limits.least_battery_behind_mm);
  save("most_battery_behind_mm", limits.most_battery_behind_mm);
  Q_EMIT changed();
}

QString ClubRules::warning(const CarModel& model) const {
  if (limits_ == ClubLimits{}) return {};
  const auto pose = pose_car(model, static_attitude(model));
  if (!pose) return {};
  QStringList parts;
  for (const LimitBroken& b : broken_limits(model, *pose, limits_)) {
    switch (b.kind) {
      case LimitKind::mass:
        parts << tr("%1 g, at least %2 g").arg(number(b.is, 0), number(b.allowed, 0));
        break;
      case LimitKind::ride_height:
        parts << tr("%1 ride height %2 mm, at least %3 mm").arg(endTitle(b.end), number(b.is, 1), number(b.allowed, 1));
        break;
      case LimitKind::width:
        parts << tr("%1 width %2 mm, at most %3 mm").arg(endTitle(b.end), number(b.is, 1), number(b.allowed, 1));
        break;
      case LimitKind::battery_ahead:
        parts << tr("battery %1 mm behind the front axle, at least %2 mm").arg(number(b.is, 1), number(b.allowed, 1));
        break;
      case LimitKind::battery_back:
        parts << tr("battery %1 mm behind the front axle, at most %2 mm").arg(number(b.is, 1), number(b.allowed, 1));
        break;
    }
  }
  return parts.isEmpty() ? QString() : tr("Against your club's limits: %1.").arg(parts.join(QStringLiteral("; ")));
}

}  // namespace lowkite::app
