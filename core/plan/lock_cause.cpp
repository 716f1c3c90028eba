#include "core/plan/lock_cause.hpp"

#include <algorithm>
#include <cmath>

#include "core/pose/pose.hpp"

namespace lowkite {
namespace {

constexpr double twist_turns = 0.125;  // what a hand can do
constexpr double most_turns = 6.0;     // farther off, the link is the wrong one

std::optional<LockFigures> lock_with(const Car& car, const Setup& setup) {
  const auto model = build_model(car, setup);
  return model ? lock_of(*model) : std::nullopt;
}

double least_of(const LockFigures& lock) {
  return std::min(lock.usable[0].servo_rad, lock.usable[1].servo_rad);
}

/// How much there is to do, in turns. A thread always comes before a part that has to come off and may change the
/// steering's ratio with it.
double effort(const Car& car, const LockRemedy& r) {
  constexpr double another_part = 100.0;
  const Adjuster& a = car.adjusters[r.adjuster];
  if (!a.threaded()) return another_part;
  return std::abs(r.to.left - r.from.left) + std::abs(r.to.right - r.from.right);
}

class Trial {
 public:
  Trial(const Car& car, const Setup& setup, const std::function<bool()>& go_on)
      : car_(car), setup_(setup), go_on_(go_on) {}

  [[nodiscard]] bool stopped() const { return go_on_ && !go_on_(); }

  /// The part at another value; none where the car has no lock like that.
  std::optional<LockRemedy> at(PartHandle adjuster, const Setting& to) const {
    Setup moved = setup_;
    moved.of(adjuster) = to;
    const auto lock = lock_with(car_, moved);
    if (!lock) return std::nullopt;
    return LockRemedy{adjuster, setup_.of(adjuster), to, lock_apart(*lock), least_of(*lock)};
  }

  /// The twist of a thread of the steering that leaves least, by its sign's change: bracketed outward, then halved.
  std::optional<LockRemedy> by_thread(PartHandle adjuster, double apart_now) const {
    const Adjuster& a = car_.adjusters[adjuster];
    const double now = setup_.of(adjuster).left;
    const auto eighths = [&](int n) { return at(adjuster, {now + n * twist_turns, now + n * twist_turns}); };
    const auto within = [&](int n) {
      const double v = now + n * twist_turns;
      return v >= a.least() && v <= a.most();
    };
    const int most = static_cast<int>(most_turns / twist_turns);
    for (const int way : {1, -1}) {
      int near = 0;
      double there = apart_now;
      for (int far = way; std::abs(far) <= most && within(far) && !stopped(); far *= 2) {
        const auto tried = eighths(far);
        if (!tried) break;
        if (tried->apart_rad * there > 0.0) {
          if (std::abs(tried->apart_rad) > std::abs(there)) break;  // the wrong way
          near = far;
          there = tried->apart_rad;
          continue;
        }
        // Between them lies the twist that makes both alike; of its two neighbours the closer one.
        std::optional<LockRemedy> best = tried;
        for (int low = near, high = far; std::abs(high - low) > 1 && !stopped();) {
          const int middle = (low + high) / 2;
          const auto m = eighths(middle);
          if (!m) break;
          if (std::abs(m->apart_rad) < std::abs(best->apart_rad)) best = m;
          (m->apart_rad * there > 0.0 ? low : high) = middle;
        }
        if (near != 0)
          if (const auto n = eighths(near); n && std::abs(n->apart_rad) < std::abs(best->apart_rad)) best = n;
        return best;
      }
    }
    return std::nullopt;
  }

 private:
  const Car& car_;
  const Setup& setup_;
  const std::function<bool()>& go_on_;
};

}  // namespace

std::optional<LockFigures> lock_of(const CarModel& model) {
  if (!model.steering) return std::nullopt;
  const auto standing = pose_axle(model, End::front, static_attitude(model));
  const auto centred = steer(model, 0.0);
  if (!standing || !centred) return std::nullopt;
  PerSide<CornerStops> stops;
  for (const Side side : both_sides)
    stops[at(side)] = find_stops(model, End::front, side, standing->corner[at(side)], centred->corner[at(side)]);
  return find_lock(model, *standing, stops, lock_samples);
}

double lock_apart(const LockFigures& lock) {
  return lock.usable[at(Side::left)].servo_rad - lock.usable[at(Side::right)].servo_rad;
}

std::optional<LockExplanation> explain_lock(const Car& car, const Setup& setup, const std::function<bool()>& go_on) {
  const auto now = lock_with(car, setup);
  if (!now) return std::nullopt;
  LockExplanation found{lock_apart(*now), least_of(*now), {}};
  if (found.alike()) return found;
  const Trial trial(car, setup, go_on);
  const auto keep = [&](const std::optional<LockRemedy>& r) {
    if (r && std::abs(r->apart_rad) < lock_alike_rad) found.remedies.push_back(*r);
  };
  for (const PartHandle part : car.adjusters.handles()) {
    if (trial.stopped()) break;
    const Adjuster& a = car.adjusters[part];
    const Setting& value = setup.of(part);
    if (a.steering && a.threaded()) {
      keep(trial.by_thread(part, found.apart_rad));
    } else if (a.steering) {
      for (const double v : a.values_besides(value.left)) keep(trial.at(part, {v, v}));
    } else if (a.end == End::front && a.moves_geometry() && value.left != value.right) {
      if (a.threaded()) {
        const double mean = 0.5 * (value.left + value.right);
        keep(trial.at(part, {mean, mean}));
      } else {
        keep(trial.at(part, {value.left, value.left}));
        keep(trial.at(part, {value.right, value.right}));
      }
    }
  }
  std::stable_sort(found.remedies.begin(), found.remedies.end(),
                   [&](const LockRemedy& x, const LockRemedy& y) { return effort(car, x) < effort(car, y); });
  return found;
}

}  // namespace lowkite
