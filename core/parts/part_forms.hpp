// Parts as racers describe them: what it is, where it sits, and a few questions that can be answered with the part in
// hand.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/io/car_edit.hpp"

namespace lowkite {

/// One kind of part, as it is asked for.
struct PartForm {
  std::string_view id;     ///< "shims"
  std::string_view label;  ///< "Shims under a ball or mount"
  std::string_view help;   ///< one sentence: what to have in hand
};
std::span<const PartForm> part_forms();
const PartForm* find_part_form(std::string_view id);

/// Where on a car a part may sit.
struct PartPlace {
  std::string label;
  End end = End::front;
  bool steering = false;
  std::vector<PointHandle> points;  ///< that it moves or turns; the first one is where a hand looks for it
  PointHandle about = {};           ///< what they turn about
  char axis = 'y';
  LinkHandle link = {};
  int mass = -1;  ///< index into Car::masses

  bool operator==(const PartPlace&) const = default;
};
/// Every place for it, front axle, rear axle, steering; none: this car has nothing that it would fit.
std::vector<PartPlace> places_for(const PartForm& form, const Car& car);

/// Something asked about the part, with a first proposal or what was typed.
struct PartQuestion {
  std::string id;
  std::string label;
  std::string unit;
  CarField::Kind kind = CarField::Kind::number;
  std::vector<std::string> choices;
  std::string answer;
};
std::vector<PartQuestion> questions_for(const PartForm& form, const PartPlace& place, const Car& car);

}  // namespace lowkite
