// A setup: the value of every adjuster, one for both sides or left and right apart, and what belongs to the day.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/car/car.hpp"
#include "core/words/say.hpp"

namespace lowkite {

/// The value of one adjuster on each side (see Adjuster for what the number means).
struct Setting {
  double left = 0.0;
  double right = 0.0;

  [[nodiscard]] double on(Side s) const { return s == Side::left ? left : right; }
  double& on(Side s) { return s == Side::left ? left : right; }
  bool operator==(const Setting&) const = default;
};

/// What a hand set on purpose at a wheel: angles in deg (toe positive in), and how low it hangs; none: as the parts
/// give it.
struct WantedAtWheel {
  std::optional<double> camber_deg;
  std::optional<double> toe_deg;
  std::optional<double> caster_deg;  ///< of wheels whose two upper links set it
  std::optional<double> hanging_mm;  ///< the tyre's lowest point under the plate's underside, wheel hanging

  bool operator==(const WantedAtWheel&) const = default;
};

/// What a racer keeps with a setup and no part of the car stands for: "Body", "low, wing flat".
struct NotedField {
  std::string name;
  std::string text;

  bool operator==(const NotedField&) const = default;
};

struct Setup {
  std::string car_id;
  std::string name;
  std::string date;
  std::string track;
  std::string notes;                        ///< why it was made
  std::string based_on;                     ///< the name of the setup it was made from; empty: the kit
  PerEnd<double> ride_height_mm{5.0, 5.0};  ///< under the gauge points; the collars hold it
  ListOf<Adjuster, Setting> values;         ///< of the car's parts
  PerEnd<PerSide<WantedAtWheel>> wanted{};
  std::optional<double> wanted_lock_deg{};  ///< of the inside wheel at ride height; none: all the lock there is
  std::vector<NotedField> noted{};          ///< in the racer's order, each name once; nothing is computed from them

  bool operator==(const Setup&) const = default;

  [[nodiscard]] Setting& of(PartHandle part) { return values[part]; }
  [[nodiscard]] const Setting& of(PartHandle part) const { return values[part]; }
};

/// A part changed on both sides.
struct PartChange {
  PartHandle adjuster;
  double from = 0.0;
  double to = 0.0;
};

/// What is noted under a name; nullptr: nothing.
inline const std::string* noted_under(const Setup& setup, std::string_view name) {
  for (const NotedField& n : setup.noted)
    if (n.name == name) return &n.text;
  return nullptr;
}
/// Notes a text under a name, in place of what was there; an empty text takes it away.
void note(Setup& setup, const std::string& name, const std::string& text);

/// Whether a setup is one of this car as it is: its values are the car's parts' by their places.
inline bool fits(const Setup& setup, const Car& car) {
  return setup.car_id == car.id && setup.values.size() == car.adjusters.size();
}

/// The car as it comes from the kit.
inline Setup kit_setup(const Car& car) {
  Setup s;
  s.car_id = car.id;
  s.name = "Kit";
  s.ride_height_mm = car.kit_ride_height_mm;
  for (const Adjuster& a : car.adjusters) s.values.push_back({a.kit, a.kit});
  return s;
}

/// The setup of a car brought over to an edited one: values by the parts' ids, positions by their labels, each at the
/// nearest that the edited part can be; new parts at their kit value.
Setup carried_over(const Car& from, const Setup& setup, const Car& to);

}  // namespace lowkite
