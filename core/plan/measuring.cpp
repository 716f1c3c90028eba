#include "core/plan/measuring.hpp"

#include <algorithm>
#include <cmath>

#include "core/pose/pose.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double same_mm = 1e-6;        // distances that change by less do not change
constexpr double least_reach_mm = 3.0;  // shorter ones are no work for a caliper
constexpr double probe_rad = 0.06;      // how far arm and servo are moved to see what moves along

/// Where the points of one linkage are, in several poses of it.
using Samples = std::vector<PointPlaces>;

class Guide {
 public:
  Guide(const Car& car, const CarModel& model) : car_(car), model_(model) {}

  std::vector<GuideStep> write() {
    for (const End end : both_ends) axle(end);
    if (model_.steering) steering();
    return std::move(steps_);
  }

 private:
  void axle(End end) {
    const CornerModel& corner = model_.corner(end, Side::left);
    const auto centred = steer(model_, 0.0);
    if (!centred) return;
    const bool steered = corner.spec->steered;
    Samples samples;
    for (const auto& [arm, servo] : {std::pair(0.0, 0.0), std::pair(probe_rad, 0.0), std::pair(-probe_rad, 0.0),
                                     std::pair(0.0, probe_rad), std::pair(probe_rad, -probe_rad)}) {
      SteerInput input;
      if (steered) {
        const auto turned = model_.steering ? steer(model_, servo) : steer(model_, 0.0, 30.0 * servo);
        if (!turned) continue;
        input = turned->corner[at(Side::left)];
      }
      const auto pose = corner.linkage->solve(arm, input);
      if (!pose) continue;
      PointPlaces places;
      places.fill(Vec3::Zero());
      for (const PointRef& ref : refs(end, false)) places[ref.point] = point_in_chassis(corner, *pose, ref.point);
      samples.push_back(std::move(places));
    }
    guide(refs(end, false), samples, end == End::front ? say("Front") : say("Rear"));
    // A link's length is asked for in any case: it is what a racer sets.
    for (const LinkSpec& link : corner.spec->links)
      if (!link.pin && rigid(samples, link.inner, link.outer))
        add(ReadingKind::distance, {end, false, link.inner}, {end, false, link.outer});
  }

  void steering() {
    Samples samples;
    for (const double servo : {0.0, probe_rad, -probe_rad, 3 * probe_rad}) {
      const auto pose = model_.steering->solve(servo);
      if (!pose) continue;
      PointPlaces places;
      places.fill(Vec3::Zero());
      for (const PointRef& ref : refs(End::front, true)) places[ref.point] = point_in_chassis(model_, *pose, ref.point);
      samples.push_back(std::move(places));
    }
    guide(refs(End::front, true), samples, say("Steering"));
  }

  [[nodiscard]] std::vector<PointRef> refs(End end, bool of_steering) const {
    std::vector<PointRef> some;
    for (const PointRef& ref : points_of(car_))
      if (ref.steering == of_steering && (of_steering || ref.end == end)) some.push_back(ref);
    return some;
  }

  [[nodiscard]] static bool rigid(const Samples& samples, PointHandle a, PointHandle b) {
    const auto length = [&](const PointPlaces& s) { return (s[a] - s[b]).norm(); };
    return std::all_of(samples.begin(), samples.end(),
                       [&](const auto& s) { return std::abs(length(s) - length(samples.front())) < same_mm; });
  }

  void guide(const std::vector<PointRef>& points, const Samples& samples, const std::string& where) {
    if (samples.size() < 2) return;
    where_ = where;
    const auto stands = [&](const PointRef& ref) {
      const Body body = spec_of(car_, ref).body;
      return body == Body::chassis || (body == Body::rack && !ref.steering);
    };
    std::vector<PointRef> located;
    // The steering stands on the same plate as the front axle.
    if (points.front().steering)
      for (const PointRef& ref : refs(End::front, false))
        if (spec_of(car_, ref).body == Body::chassis) located.push_back(ref);
    const PointRef datum = datum_of(car_);
    for (const PointRef& ref : points) {
      if (!stands(ref)) continue;
      if (!ref.steering) add(ReadingKind::across, ref);
      add(ReadingKind::height, ref);
      if (ref != datum) add(ReadingKind::along, datum, ref);
      // What sits on the plate on its own is measured against its neighbours too: the readings check each other.
      neighbours(ref, located, samples, 2);
      located.push_back(ref);
    }
    for (const PointRef& ref : points) {
      if (stands(ref)) continue;
      if (conventional(car_, ref).z() < 0.5) add(ReadingKind::height, ref);
      neighbours(ref, located, samples, distances_a_point);
      located.push_back(ref);
    }
  }

  void neighbours(const PointRef& ref, const std::vector<PointRef>& located, const Samples& samples, int most) {
    std::vector<PointRef> candidates;
    for (const PointRef& other : located)
      if ((place_of(car_, ref) - place_of(car_, other)).norm() > least_reach_mm &&
          (other.steering != ref.steering || rigid(samples, ref.point, other.point)))
        candidates.push_back(other);
    // Each next distance is the one that says most beyond those before it: the largest determinant of the information.
    Mat3 known = Mat3::Identity() * 1e-3;
    for (int i = 0; i < most && !candidates.empty(); ++i) {
      const auto with = [&](const PointRef& other) -> Mat3 {
        const Vec3 u = (place_of(car_, ref) - place_of(car_, other)).normalized();
        return known + u * u.transpose();
      };
      const auto best = std::max_element(candidates.begin(), candidates.end(), [&](const auto& x, const auto& y) {
        return with(x).determinant() < with(y).determinant();
      });
      known = with(*best);
      add(ReadingKind::distance, *best, ref);
      candidates.erase(best);
    }
  }

  [[nodiscard]] std::string height_words(const PointRef& ref) const {
    const Body body = spec_of(car_, ref).body;
    std::string words =
        say("Plate flat on its blocks, on the board. From the board up to the centre of the pin or ball; the blocks' "
            "height "
            "is taken off.");
    const PointHandle moving = ref.steering ? PointHandle() : first_moving(car_.axle(ref.end).mechanism->points);
    if (moving && body != Body::chassis && body != Body::rack) {
      const PointRef prop{ref.end, false, moving};
      words +=
          say(" Steering in the middle, the arm propped so that its {point} stands {height:.1f} mm over the plate's "
              "underside.",
              "point"_a = word(spec_of(car_, prop).label), "height"_a = place_of(car_, prop).z());
    }
    return words;
  }

  void add(ReadingKind kind, const PointRef& a, const PointRef& b = {}) {
    GuideStep step;
    step.reading = {kind, a, b, 0.0, kind == ReadingKind::along ? 0.3 : 0.1};
    const bool asked = std::any_of(steps_.begin(), steps_.end(),
                                   [&](const GuideStep& s) { return s.reading.same_place(step.reading); });
    if (asked) return;
    step.reading.mm = expected_reading(car_, step.reading);
    const std::string first = word(spec_of(car_, a).label);
    switch (kind) {
      case ReadingKind::height:
        step.title = say("{where}: {point}, height", "where"_a = where_, "point"_a = first);
        step.how = height_words(a);
        break;
      case ReadingKind::across:
        step.title = say("{where}: {point}, left to right", "where"_a = where_, "point"_a = first);
        step.how = say("Caliper across the car, from the left one to the right one, centre to centre.");
        break;
      case ReadingKind::along:
        step.title = say("{where}: {point} behind {other}", "where"_a = where_,
                         "point"_a = word(spec_of(car_, b).label), "other"_a = first);
        step.how =
            say("A rule along the chassis: level distance from the one back to the other; minus when it lies ahead.");
        break;
      case ReadingKind::distance:
        step.title = say("{where}: {point} to {other}", "where"_a = where_, "point"_a = first,
                         "other"_a = word(spec_of(car_, b).label));
        step.how =
            say("Caliper from the one to the other. Neither moves against the other, so the arm may hang as it likes.");
        break;
    }
    steps_.push_back(std::move(step));
  }

  const Car& car_;
  const CarModel& model_;
  std::string where_;
  std::vector<GuideStep> steps_;
};

}  // namespace

std::vector<GuideStep> measuring_guide(const Car& car) {
  const auto model = build_model(car, kit_setup(car));
  if (!model) return {};
  return Guide(car, *model).write();
}

}  // namespace lowkite
