#include "core/car/car.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {

Vec3 Axle::spin_axis() const {
  const double camber = radians(camber_deg);
  const double toe = radians(toe_deg);
  return {std::cos(camber) * std::sin(toe), std::cos(camber) * std::cos(toe), -std::sin(camber)};
}

int Car::find_adjuster(std::string_view adjuster_id) const {
  for (std::size_t i = 0; i < adjusters.size(); ++i)
    if (adjusters[i].id == adjuster_id) return static_cast<int>(i);
  return -1;
}

int Car::turnbuckle_of(End end, int link) const {
  for (std::size_t i = 0; i < adjusters.size(); ++i) {
    const Range* r = adjusters[i].range();
    if (adjusters[i].end == end && !adjusters[i].steering && r && r->link == link) return static_cast<int>(i);
  }
  return -1;
}

std::vector<int> Car::adjusters_from_the_wheel(End end) const {
  const Axle& ax = axle(end);
  const auto outboard = [&](int index) {
    const Adjuster& a = adjusters[static_cast<std::size_t>(index)];
    if (a.steering) return 0.0;  // after everything on the wheel's side
    const auto y = [&](int point) { return ax.points[0][static_cast<std::size_t>(point)].y(); };
    if (const Range* r = a.range(); r && r->link != no_point) {
      const LinkSpec& link = ax.mechanism->links[static_cast<std::size_t>(r->link)];
      return 0.5 * (y(link.inner) + y(link.outer));
    }
    const int place = a.place();
    return place == no_point ? 0.0 : y(place);
  };
  std::vector<int> order;
  for (std::size_t i = 0; i < adjusters.size(); ++i)
    if (adjusters[i].end == end) order.push_back(static_cast<int>(i));
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return outboard(a) > outboard(b); });
  return order;
}

}  // namespace lowkite
