// The steering that a turn asks for, and what is to be said of a stand besides its figures.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/load/balance.hpp"

namespace lowkite {

/// Radius of a turn at this speed and lateral acceleration, mm (v^2 / a); none without one of them.
std::optional<double> radius_of(double speed_m_s, double lateral_g);

/// A turn that is held, or straight on: what pushes the car, and how tight it is.
struct HeldTurn : Acceleration {
  double radius_m = 0.0;  ///< asks for steering; 0: the wheels stay straight

  bool operator==(const HeldTurn&) const = default;
};

/// The servo angle, positive to the left, at which the mean heading of the front wheels is that of a turn of this
/// radius about the rear axle's middle, atan(wheelbase / radius) (Gillespie, from memory); level, at ride height,
/// without slip. None without a steering linkage, or where it does not steer that far.
std::optional<double> servo_for_radius(const CarModel& model, double radius_mm, bool to_the_left);

/// What an acceleration to the side asks of the steering on a turn of this radius; straight on it is 0. None as above.
std::optional<double> servo_under(const CarModel& model, const Acceleration& a, const std::optional<double>& radius_mm);

/// The servo angle in a turn: 0 without a radius or a steering linkage. Fails with a sentence where the car does not
/// steer that far.
tl::expected<double, CarFailure> servo_in(const CarModel& model, const HeldTurn& turn);

/// Something about a stand that its figures do not say.
struct StandNote {
  enum class What : std::uint8_t {
    lifted,           ///< the wheel carries nothing
    shock_in,         ///< the shock is pushed in as far as it goes
    shock_nearly_in,  ///< by less than half a millimetre more
    plate_down,       ///< the plate carries `amount` N
    jumped            ///< on the way from rest the car left a stand by itself: it feels like a snap
  } what{};
  End end{};
  Side side{};
  double amount = 0.0;
};
std::vector<StandNote> notes_on(const CarModel& model, const Balance& balance);
/// "rear left shock pushed in as far as it goes".
std::string in_words(const StandNote& note);

}  // namespace lowkite
