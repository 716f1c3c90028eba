#include "core/io/car_file.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/pose/pose.hpp"

namespace lowkite {
namespace {

constexpr double least_length_mm = 0.5;  // pins and links shorter than a shim's hole are slips of the pen

template <class Specs>
std::string names_of(const Specs& specs) {
  std::vector<std::string_view> ids;
  for (const auto& s : specs) ids.push_back(s.id);
  return fmt::format("one of {}", fmt::join(ids, ", "));
}

Vec3 vec(const Json& j) {
  return {j[0].get<double>(), j[1].get<double>(), j[2].get<double>()};
}

/// Reads one car; collects faults as it goes. Precondition: the document has passed the schema.
class CarReader {
 public:
  CarReader(const Json& document, std::string file) : doc_(document), file_(std::move(file)) {}

  tl::expected<Car, Faults> read() {
    read_header();
    for (const End end : both_ends) read_axle(end);
    if (faults_.empty()) read_adjusters();
    if (faults_.empty()) check_as_a_whole();
    if (!faults_.empty()) return tl::unexpected(faults_);
    return std::move(car_);
  }

 private:
  void fault(std::vector<std::string> place, std::string wrong, std::string allowed) {
    faults_.push_back({file_, place_of(place), std::move(wrong), std::move(allowed)});
  }

  void read_header() {
    car_.id = doc_["id"].get<std::string>();
    car_.name = doc_["name"].get<std::string>();
    car_.vehicle_class = doc_.value("class", "");
    car_.notes = doc_.value("notes", "");
    car_.gauge_x_mm = {doc_["gauge_points"]["front_x_mm"].get<double>(),
                       doc_["gauge_points"]["rear_x_mm"].get<double>()};
    const Json& height = doc_["kit"]["ride_height_mm"];
    car_.kit_ride_height_mm = {height["front"].get<double>(), height["rear"].get<double>()};
    if (car_.gauge_x_mm[0] - car_.gauge_x_mm[1] < 20.0)
      fault({"gauge_points"},
            fmt::format("front_x_mm {} is not well ahead of rear_x_mm {}", car_.gauge_x_mm[0], car_.gauge_x_mm[1]),
            "two points at least 20 mm apart, the front one with the larger x");
    if (const auto plate = doc_.find("plate"); plate != doc_.end()) {
      car_.plate_thickness_mm = plate->value("thickness_mm", car_.plate_thickness_mm);
      car_.plate_half_width_mm[0] = plate->value("front_half_width_mm", car_.plate_half_width_mm[0]);
      car_.plate_half_width_mm[1] = plate->value("rear_half_width_mm", car_.plate_half_width_mm[1]);
    }
  }

  void read_axle(End end) {
    const std::string name(name_of(end));
    const Json& j = doc_["axles"][name];
    Axle& axle = car_.axles[at(end)];
    const auto mechanism_id = j["mechanism"].get<std::string>();
    axle.mechanism = find_mechanism(mechanism_id);
    if (!axle.mechanism) {
      std::vector<std::string_view> ids;
      for (const MechanismSpec* m : mechanisms()) ids.push_back(m->id);
      fault({"axles", name, "mechanism"}, fmt::format("there is no mechanism \"{}\"", mechanism_id),
            fmt::format("one of {}", fmt::join(ids, ", ")));
      return;
    }
    axle.camber_deg = j["wheel"]["camber_deg"].get<double>();
    axle.toe_deg = j["wheel"]["toe_deg"].get<double>();
    const Json& tyre = j["tyre"];
    axle.tyre = {tyre["radius_mm"].get<double>(), tyre["width_mm"].get<double>(), tyre.value("crown_radius_mm", 0.0)};
    if (axle.tyre.crown_radius_mm > 0.0 && axle.tyre.crown_radius_mm < 0.5 * axle.tyre.width_mm)
      fault({"axles", name, "tyre", "crown_radius_mm"},
            fmt::format("{} is smaller than half the tyre's width", axle.tyre.crown_radius_mm),
            fmt::format("0 for a flat disc, or at least {}", 0.5 * axle.tyre.width_mm));
    axle.travel = {j["travel"]["bump_mm"].get<double>(), j["travel"]["droop_mm"].get<double>()};
    read_points(end, j, name, axle);
  }

  void read_points(End end, const Json& j, const std::string& name, Axle& axle) {
    const auto faults_before = faults_.size();
    const MechanismSpec& spec = *axle.mechanism;
    const Json& points = j["points"];
    for (const auto& [id, value] : points.items())
      if (spec.point(id) == no_point)
        fault({"axles", name, "points", id}, fmt::format("a {} has no such point", spec.label), names_of(spec.points));
    for (std::size_t i = 0; i < spec.points.size(); ++i) {
      const std::string id(spec.points[i].id);
      if (!points.contains(id)) {
        fault({"axles", name, "points", id}, fmt::format("missing ({})", spec.points[i].label),
              "three numbers [x, y, z] in mm");
        continue;
      }
      const Vec3 p = vec(points[id]);
      for (const Side side : both_sides) axle.points[at(side)][i] = p;
    }
    if (const auto right = j.find("right_points"); right != j.end())
      for (const auto& [id, value] : right->items()) {
        const int index = spec.point(id);
        if (index == no_point) {
          fault({"axles", name, "right_points", id}, fmt::format("a {} has no such point", spec.label),
                names_of(spec.points));
          continue;
        }
        axle.points[at(Side::right)][static_cast<std::size_t>(index)] = mirrored(vec(value));
      }
    if (faults_.size() == faults_before) check_points(end, name, axle);
  }

  void check_points(End, const std::string& name, const Axle& axle) {
    const MechanismSpec& spec = *axle.mechanism;
    const auto find = [&](std::string_view id) { return spec.point(id); };
    for (const Side side : both_sides) {
      const auto& p = axle.points[at(side)];
      const std::string group = side == Side::left ? "points" : "right_points";
      const auto at_point = [&](int i) { return p[static_cast<std::size_t>(i)]; };
      const auto label = [&](int i) { return std::string(spec.points[static_cast<std::size_t>(i)].label); };
      const auto id = [&](int i) { return std::string(spec.points[static_cast<std::size_t>(i)].id); };
      const auto faults_before = faults_.size();

      if (at_point(spec.wheel_centre).y() <= 0.0)
        fault({"axles", name, group, "wheel_centre"},
              fmt::format("the {} wheel is on the other side of the car (y = {} mm)", name_of(side),
                          side == Side::left ? at_point(spec.wheel_centre).y() : -at_point(spec.wheel_centre).y()),
              side == Side::left ? "y above 0: left is positive" : "y below 0: right is negative");
      const int pin = find("arm_inner_front");
      if (pin != no_point && at_point(pin).y() >= at_point(spec.wheel_centre).y())
        fault({"axles", name, group, id(pin)}, "the arm's inner pin is outboard of the wheel",
              "a pin between the centre plane and the wheel");
      for (const LinkSpec& link : spec.links)
        check_distance({"axles", name, group}, at_point(link.inner), at_point(link.outer),
                       fmt::format("the {} ({} to {})", link.label, id(link.inner), id(link.outer)));
      for (const StrokeSpec& s : spec.strokes)
        if (s.stroke == Stroke::pin || s.stroke == Stroke::kingpin || s.stroke == Stroke::shock)
          check_distance({"axles", name, group}, at_point(s.from), at_point(s.to),
                         fmt::format("{} to {}", label(s.from), label(s.to)));
      for (const std::string_view pair : {"arm_inner", "arm_outer", "upper_inner"}) {
        const int front = find(std::string(pair) + "_front");
        const int rear = find(std::string(pair) + "_rear");
        if (front != no_point && at_point(front).x() <= at_point(rear).x())
          fault({"axles", name, group, id(front)}, "the front end of the pin is not ahead of its rear end",
                fmt::format("an x above {} (the rear end's)", at_point(rear).x()));
      }
      for (const auto& [low, high] :
           {std::pair("kingpin_lower", "kingpin_upper"), std::pair("lower_ball", "upper_ball")})
        if (const int l = find(low), u = find(high); l != no_point && at_point(u).z() <= at_point(l).z())
          fault({"axles", name, group, high}, "the upper end is not above the lower end",
                fmt::format("a z above {} (the lower end's)", at_point(l).z()));
      if (side == Side::left && faults_.size() != faults_before) return;  // the mirrored side would say it all again
    }
  }

  void check_distance(const std::vector<std::string>& place, const Vec3& a, const Vec3& b, const std::string& what) {
    if ((a - b).norm() < least_length_mm)
      fault(place, fmt::format("{} has no length ({:.3f} mm)", what, (a - b).norm()),
            fmt::format("ends at least {} mm apart", least_length_mm));
  }

  void read_adjusters() {
    std::set<std::string> seen;
    for (const Json& j : doc_["adjusters"]) {
      Adjuster a;
      a.id = j["id"].get<std::string>();
      a.name = j["name"].get<std::string>();
      a.end = j["axle"].get<std::string>() == "front" ? End::front : End::rear;
      const auto kind = j["kind"].get<std::string>();
      for (const AdjusterKindSpec& k : adjuster_kinds())
        if (k.id == kind) a.kind = k.kind;
      if (!seen.insert(a.id).second) {
        fault({"adjusters", a.id, "id"}, "two adjusters have this id", "an id of its own for each adjuster");
        continue;
      }
      const auto faults_before = faults_.size();
      if (j.contains("at")) a.at = point_named(a, j["at"].get<std::string>(), {"adjusters", a.id, "at"});
      if (spec_of(a.kind).positions)
        read_positions(j, a);
      else if (a.kind == AdjusterKind::turnbuckle)
        read_turnbuckle(j, a);
      else
        read_shims(j, a);
      if (faults_.size() == faults_before) car_.adjusters.push_back(std::move(a));
    }
  }

  [[nodiscard]] const MechanismSpec& spec(const Adjuster& a) const { return *car_.axle(a.end).mechanism; }

  int point_named(const Adjuster& a, const std::string& id, std::vector<std::string> place) {
    const int p = spec(a).point(id);
    if (p == no_point)
      fault(std::move(place), fmt::format("the {} axle has no point \"{}\"", name_of(a.end), id),
            names_of(spec(a).points));
    return p;
  }

  std::vector<PointMove> read_moves(const Json& j, const Adjuster& a, const std::vector<std::string>& place) {
    std::vector<PointMove> moves;
    for (const auto& [id, value] : j.items()) {
      auto here = place;
      here.push_back(id);
      const int p = point_named(a, id, here);
      if (p != no_point) moves.push_back({p, vec(value)});
    }
    return moves;
  }

  void read_shims(const Json& j, Adjuster& a) {
    Range r;
    for (const Json& s : j["shims_mm"]) r.shims_mm.push_back(s.get<double>());
    const double least = j["min_mm"].get<double>();
    const double most = j["max_mm"].get<double>();
    a.kit = j["kit_mm"].get<double>();
    r.moves_per_unit = read_moves(j["move"], a, {"adjusters", a.id, "move"});
    if (r.moves_per_unit.empty())
      fault({"adjusters", a.id, "move"}, "the shims move no point", "at least one point with its direction");
    for (const PointMove& m : r.moves_per_unit)
      if (m.mm.norm() < 1e-6)
        fault({"adjusters", a.id, "move"}, "a direction of no length", "a direction such as [0, 0, 1]");
    if (least > most) {
      fault({"adjusters", a.id, "min_mm"}, fmt::format("{} is above max_mm {}", least, most), "a value up to max_mm");
      return;
    }
    r.stops = shim_stops(r.shims_mm, least, most);
    if (r.stops.empty()) {
      fault({"adjusters", a.id, "shims_mm"}, "these shims make no stack between min_mm and max_mm",
            "shims that make at least one stack in the range");
      return;
    }
    a.part = std::move(r);
    if (!a.can_be(a.kit))
      fault({"adjusters", a.id, "kit_mm"}, fmt::format("the shims listed cannot make {} mm", a.kit),
            fmt::format("one of {} mm", fmt::join(a.range()->stops, ", ")));
  }

  void read_turnbuckle(const Json& j, Adjuster& a) {
    Range r;
    const auto link = j["link"].get<std::string>();
    r.link = spec(a).link(link);
    if (r.link == no_point) {
      fault({"adjusters", a.id, "link"}, fmt::format("the {} axle has no link \"{}\"", name_of(a.end), link),
            names_of(spec(a).links));
      return;
    }
    if (car_.turnbuckle_of(a.end, r.link) >= 0)
      fault({"adjusters", a.id, "link"}, fmt::format("the {} has two turnbuckles", link), "one turnbuckle a link");
    // A left-hand and a right-hand thread move both ends at once.
    r.link_mm_per_unit = j["pitch_mm"].get<double>() * (j["threads"].get<std::string>() == "opposed" ? 2.0 : 1.0);
    constexpr double step = 0.125;
    const double least = std::ceil(j["min_turns"].get<double>() / step) * step;
    const double most = j["max_turns"].get<double>();
    for (int i = 0; least + i * step <= most; ++i) r.stops.push_back(least + i * step);
    a.part = std::move(r);
  }

  void read_positions(const Json& j, Adjuster& a) {
    Positions list;
    std::set<std::string> labels;
    for (const Json& p : j["positions"]) {
      Position position;
      position.label = p["label"].get<std::string>();
      if (!labels.insert(position.label).second)
        fault({"adjusters", a.id, "positions", position.label}, "two positions have this label",
              "a label of its own for each position");
      if (const auto move = p.find("move"); move != p.end())
        position.effect.moves = read_moves(*move, a, {"adjusters", a.id, "positions", position.label, "move"});
      if (const auto turn = p.find("turn"); turn != p.end()) read_turn(*turn, a, position);
      list.list.push_back(std::move(position));
    }
    const auto kit = j["kit"].get<std::string>();
    const auto found = std::find_if(list.list.begin(), list.list.end(), [&](const auto& p) { return p.label == kit; });
    if (found == list.list.end())
      fault({"adjusters", a.id, "kit"}, fmt::format("there is no position \"{}\"", kit),
            fmt::format("one of {}", fmt::join(labels, ", ")));
    else
      a.kit = static_cast<double>(found - list.list.begin());
    a.part = std::move(list);
  }

  void read_turn(const Json& j, const Adjuster& a, Position& position) {
    const std::vector<std::string> place{"adjusters", a.id, "positions", position.label, "turn"};
    PointTurn t;
    for (const Json& p : j["points"]) {
      const int point = point_named(a, p.get<std::string>(), place);
      if (point != no_point) t.points.push_back(point);
    }
    t.about = point_named(a, j["about"].get<std::string>(), place);
    const auto axis = j["axis"].get<std::string>();
    t.direction = axis == "x" ? Vec3::UnitX() : axis == "y" ? Vec3::UnitY() : Vec3::UnitZ();
    t.angle_rad = radians(j["deg"].get<double>());
    if (t.about != no_point) position.effect.turns.push_back(std::move(t));
  }

  void check_as_a_whole() {
    const auto x = [&](End e) {
      const Axle& a = car_.axle(e);
      return a.points[0][static_cast<std::size_t>(a.mechanism->wheel_centre)].x();
    };
    if (x(End::front) <= x(End::rear)) {
      fault(
          {"axles"},
          fmt::format("the front wheel (x = {}) is not ahead of the rear wheel (x = {})", x(End::front), x(End::rear)),
          "a front axle with the larger x");
      return;
    }
    const auto model = build_model(car_, kit_setup(car_));
    if (!model) {
      fault({"axles", std::string(name_of(model.error().end)), "points"}, model.error().message,
            "points with which the linkage closes");
      return;
    }
    if (const auto stands = pose_car(*model, static_attitude(*model)); !stands)
      fault({"axles", std::string(name_of(stands.error().end))},
            fmt::format("the car cannot stand at its kit ride height: {}", stands.error().message),
            "points, tyre and kit ride height that fit together");
  }

  const Json& doc_;
  std::string file_;
  Car car_;
  Faults faults_;
};

}  // namespace

tl::expected<Car, Faults> read_car(const std::string& text, const std::string& file) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-car", newest_car_version); !f.empty()) return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::car); !f.empty()) return tl::unexpected(f);
  return CarReader(*document, file).read();
}

tl::expected<Car, Faults> load_car(const std::filesystem::path& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(Faults{text.error()});
  return read_car(*text, path.filename().string());
}

}  // namespace lowkite
