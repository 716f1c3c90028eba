#include "core/parts/part_maker.hpp"

#include "core/parts/answers.hpp"
#include "core/parts/fittings.hpp"
#include "core/parts/form_rows.hpp"
#include "core/words/say.hpp"

namespace lowkite {

using namespace parts;

namespace {

constexpr double least_move_mm = 1e-6;

/// Positions that move points by so much against the one that is in the car now.
Json moved_positions(const Car& car, const PartPlace& place, const std::vector<std::string>& labels,
                     const std::vector<Vec3>& mm, std::size_t now) {
  Json list = Json::array();
  for (std::size_t i = 0; i < labels.size(); ++i) {
    Json p;
    p["label"] = labels[i];
    const Vec3 by = mm[i] - mm[now];
    if (by.norm() > least_move_mm)
      for (const PointHandle point : place.points) p["move"][point_id(car, place, point)] = json_of(by);
    list.push_back(p);
  }
  return list;
}

/// "in 0.7, up": what a place of an insert is called. `plain`: one distance each way, so that it needs no number.
std::string place_word(double out, double up, bool plain_out, bool plain_up) {
  const auto word = [](double v, const char* more, const char* less, bool plain) {
    if (std::abs(v) < 1e-9) return std::string();
    const std::string way = v > 0.0 ? more : less;
    return plain ? way : fmt::format("{} {}", way, text_of(std::abs(v)));
  };
  const std::string a = word(out, "out", "in", plain_out);
  const std::string b = word(up, "up", "down", plain_up);
  if (a.empty() && b.empty()) return "0";
  return a.empty() ? b : b.empty() ? a : a + ", " + b;
}

/// One distance each way at most.
bool one_each_way(const std::vector<double>& list) {
  return std::count_if(list.begin(), list.end(), [](double v) { return v > 1e-9; }) <= 1 &&
         std::count_if(list.begin(), list.end(), [](double v) { return v < -1e-9; }) <= 1;
}

Json changed_position(const std::string& label, std::initializer_list<std::pair<const char*, double>> by) {
  Json p;
  p["label"] = label;
  for (const auto& [key, v] : by)
    if (std::abs(v) > 1e-12) p["change"][key] = rounded_for_file(v);
  return p;
}

void put_stack(Json& a, Answers& answers) {
  a["shims_mm"] = answers.numbers("box");
  if (a["shims_mm"].empty()) answers.wrong("box", say("at least one thickness"));
  a["min_mm"] = answers.number("least");
  a["max_mm"] = answers.number("most");
  a["kit_mm"] = answers.number("now");
}

/// Puts what the racer says is in the car now where the file keeps it. A spring that was measured keeps its table.
void put_size(Json& source, const PartPlace& place, const SizeRow& size, double file_value) {
  Json& axle = source["axles"][std::string(name_of(place.end))];
  if (size.size == Size::tyre_radius)
    axle["tyre"]["radius_mm"] = rounded_for_file(file_value);
  else
    axle["sizes"][size.key] = rounded_for_file(file_value);
}

/// The part that already sets a size at an end.
const Json* part_for_size(const Json& source, End end, const std::string& key) {
  for (const Json& a : source["adjusters"]) {
    if (a["axle"] != std::string(name_of(end))) continue;
    if (a.contains("positions"))
      for (const Json& p : a["positions"])
        if (p.contains("change") && p["change"].contains(key)) return &a;
  }
  return nullptr;
}

std::string free_id(const Json& source, const char* list, const std::string& wanted) {
  const auto taken = [&](const std::string& id) {
    const auto all = source.find(list);
    return all != source.end() && std::any_of(all->begin(), all->end(), [&](const Json& a) { return a["id"] == id; });
  };
  std::string id = wanted;
  for (int i = 2; taken(id); ++i) id = fmt::format("{}_{}", wanted, i);
  return id;
}

/// Lower case with underscores: an id of the file.
std::string id_of_name(std::string name) {
  name = id_from_name(name);
  std::replace(name.begin(), name.end(), '-', '_');
  return name.empty() ? "part" : name;
}

std::vector<std::string> labels_given(Answers& answers, std::size_t size) {
  std::vector<std::string> labels = answers.phrases("labels");
  if (!labels.empty() && labels.size() != size)
    answers.wrong("labels", say("{} names with semicolons between them, or none", size));
  return labels;
}

void make_size_list(Json& a, Json& source, const PartPlace& place, const SizeRow& s, Answers& answers) {
  const bool rates = std::string_view(s.unit) == "N/mm";
  const bool may_be_none = s.size == Size::bar_wire || s.size == Size::heave_rate || s.size == Size::third_gap;
  std::vector<double> list = answers.numbers("list", rates, may_be_none);
  const auto now_list = answers.numbers("now", rates, may_be_none);
  if (now_list.size() != 1) answers.wrong("now", say("the one that is in the car"));
  if (list.size() < 2) answers.wrong("list", say("two or more"));
  std::vector<std::string> labels = labels_given(answers, list.size());
  if (!may_be_none && std::any_of(list.begin(), list.end(), [](double v) { return !(v > 0.0); }))
    answers.wrong("list", say("sizes above 0"));
  if (answers.fault()) return;
  const double now = now_list.front();
  std::size_t kit = list.size();
  for (std::size_t i = 0; i < list.size(); ++i)
    if (std::abs(list[i] - now) < 1e-9) kit = i;
  if (kit == list.size()) return answers.wrong("now", say("one of the list"));
  if (const Json* other = part_for_size(source, place.end, s.key))
    return answers.wrong("list", say("one part only: \"{}\" is there for that", (*other)["name"].get<std::string>()));
  for (std::size_t i = 0; i < list.size(); ++i) {
    if (labels.size() < i + 1 && !(list[i] > 0.0) && s.size != Size::third_gap) labels.emplace_back("none");
    if (labels.size() < i + 1) labels.push_back(fmt::format(fmt::runtime(s.labels), text_of(list[i])));
    a["positions"].push_back(changed_position(labels[i], {{s.key, s.per * (list[i] - now)}}));
  }
  a["kit"] = labels[kit];
  put_size(source, place, s, s.per * now);
}

void make_pistons(Json& a, Json& source, const PartPlace& place, bool third, Answers& answers) {
  struct Piston {
    double holes, mm;
  };
  const char* const holes_key = third ? "third_holes" : "piston_holes";
  const char* const mm_key = third ? "third_hole_mm" : "piston_hole_mm";
  const auto read = [&](const std::string& text) -> std::optional<Piston> {
    if (third && (text == "none" || text == "None")) return Piston{0.0, 0.0};
    const std::size_t x = text.find('x');
    if (x == std::string::npos) return std::nullopt;
    const auto holes = number_in(trimmed(text.substr(0, x)));
    const auto mm = number_in(trimmed(text.substr(x + 1)));
    if (!holes || !mm || !(*holes >= 1.0) || *holes != std::floor(*holes) || !(*mm > 0.0)) return std::nullopt;
    return Piston{*holes, *mm};
  };
  const auto phrases = answers.phrases("list");
  std::vector<Piston> list;
  for (const std::string& one : phrases)
    if (const auto p = read(one))
      list.push_back(*p);
    else
      return answers.wrong("list", say("pistons such as 2 x 1.3; 3 x 1.1, holes first, with semicolons between them"));
  if (list.size() < 2) return answers.wrong("list", say("two or more, with semicolons between them"));
  const std::size_t now = answers.which("now", phrases);
  if (const Json* other = part_for_size(source, place.end, mm_key))
    answers.wrong("list", say("one part only: \"{}\" is there for that", (*other)["name"].get<std::string>()));
  if (answers.fault()) return;
  for (std::size_t i = 0; i < list.size(); ++i)
    a["positions"].push_back(changed_position(
        phrases[i], {{holes_key, list[i].holes - list[now].holes}, {mm_key, list[i].mm - list[now].mm}}));
  a["kit"] = phrases[now];
  Json& sizes = source["axles"][std::string(name_of(place.end))]["sizes"];
  sizes[holes_key] = list[now].holes;
  sizes[mm_key] = list[now].mm;
  if (!third) return;
  for (const auto& [key, id] : {std::pair("third_bore_mm", "bore"), std::pair("third_thickness_mm", "thickness"),
                                std::pair("third_oil_cst", "oil")}) {
    const double v = answers.number(id);
    if (!(v > 0.0)) return answers.wrong(id, say("a number above 0"));
    sizes[key] = v;
  }
}

void make_table(Json& a, const Car& car, const PartPlace& place, Answers& answers) {
  const std::vector<std::string> labels = answers.phrases("labels");
  if (labels.size() < 2) return answers.wrong("labels", say("two or more names with semicolons between them"));
  const auto out = answers.column("out", labels.size());
  const auto up = answers.column("up", labels.size());
  const auto ahead = answers.column("ahead", labels.size());
  const std::size_t now = answers.which("now", labels);
  std::vector<Vec3> mm;
  for (std::size_t i = 0; i < labels.size(); ++i) mm.emplace_back(ahead[i], out[i], up[i]);
  if (std::all_of(mm.begin(), mm.end(), [&](const Vec3& v) { return (v - mm.front()).norm() < least_move_mm; }))
    answers.wrong("out", say("at least one position that lies elsewhere"));
  a["positions"] = moved_positions(car, place, labels, mm, now);
  a["kit"] = labels[now];
}

void make_grid(Json& a, const Car& car, const PartPlace& place, Answers& answers) {
  std::vector<double> out = answers.numbers("out"), up = answers.numbers("up");
  if (out.empty()) out = {0.0};
  if (up.empty()) up = {0.0};
  const bool corners = answers.text("corners") == "yes";
  const bool plain_out = one_each_way(out), plain_up = one_each_way(up);
  std::vector<std::string> labels;
  std::vector<Vec3> mm;
  for (const double o : out)
    for (const double u : up) {
      if (!corners && std::abs(o) > 1e-9 && std::abs(u) > 1e-9) continue;
      labels.push_back(place_word(o, u, plain_out, plain_up));
      mm.emplace_back(0.0, o, u);
    }
  if (labels.size() < 2) return answers.wrong("out", say("two or more positions, such as -0.7 0 0.7"));
  const std::size_t now = answers.which("now", labels);
  a["positions"] = moved_positions(car, place, labels, mm, now);
  a["kit"] = labels[now];
}

void make_block(Json& a, const Car& car, const PartPlace& place, Answers& answers) {
  const auto angles = answers.numbers("list");
  if (angles.size() < 2) answers.wrong("list", say("two or more angles"));
  const std::size_t now = answers.which("now", angles);
  if (answers.fault()) return;
  for (const double angle : angles) {
    Json p;
    p["label"] = say("{} deg", text_of(angle));
    // More caster leans the kingpin's top back, more toe-in swings the pin's front end in, more climb raises it: all
    // against the right-hand rule on the left side.
    if (const double by = angles[now] - angle; std::abs(by) > 1e-9) {
      Json& turn = p["turn"];
      turn["points"] = Json::array();
      for (const PointHandle point : place.points) turn["points"].push_back(point_id(car, place, point));
      turn["about"] = point_id(car, place, place.about);
      turn["axis"] = std::string(1, place.axis);
      turn["deg"] = rounded_for_file(by);
    }
    a["positions"].push_back(p);
  }
  a["kit"] = say("{} deg", text_of(angles[now]));
}

void make_horn_row(Json& a, const Car& car, const PartPlace& place, Answers& answers) {
  const auto list = answers.numbers("list");
  if (list.size() < 2) answers.wrong("list", say("two or more distances"));
  const std::size_t now = answers.which("now", list);
  const Vec3 arm = horn_arm(car);
  if (answers.fault()) return;
  std::vector<std::string> labels;
  std::vector<Vec3> mm;
  for (const double d : list) {
    labels.push_back(text_of(d));
    mm.push_back(arm.normalized() * d);
  }
  a["positions"] = moved_positions(car, place, labels, mm, now);
  a["kit"] = labels[now];
}

void make_spline(Json& a, const PartPlace& place, Answers& answers) {
  const int teeth = answers.count("teeth", 8, 60);
  const int each_way = answers.count("each_way", 1, 6);
  if (answers.fault()) return;
  for (int i = -each_way; i <= each_way; ++i) {
    Json p;
    p["label"] =
        i == 0 ? say("square") : say_counted(static_cast<unsigned long>(std::abs(i)), "{:+} tooth", "{:+} teeth", i);
    if (i != 0) {
      Json& turn = p["turn"];
      turn["points"] = Json::array({"horn_ball"});
      turn["about"] = "servo_shaft_front";
      turn["axis"] = std::string(1, place.axis);
      turn["deg"] = rounded_for_file(360.0 / teeth * i);
    }
    a["positions"].push_back(p);
  }
  a["kit"] = say("square");
}

void make_ballast(Json& a, Json& source, Answers& answers) {
  const auto amounts = answers.numbers("amounts");
  if (amounts.empty()) answers.wrong("amounts", say("weights such as 5 10 20"));
  const Vec3 place(answers.number("ahead"), answers.number("left"), answers.number("up"));
  if (answers.fault()) return;
  Json part;
  part["id"] = free_id(source, "masses", id_of_name(answers.text("name")));
  part["name"] = answers.text("name");
  part["g"] = 0;
  part["at"] = json_of(place);
  part["weighed"] = false;
  source["masses"].push_back(part);
  Json none;
  none["label"] = "none";
  a["positions"].push_back(none);
  for (const double g : amounts) {
    Json p;
    p["label"] = text_of(g) + " g";
    p["masses"][part["id"].get<std::string>()]["add_g"] = g;
    a["positions"].push_back(p);
  }
  a["kit"] = "none";
}

void make_heavy_places(Json& a, const Car& car, const PartPlace& place, Answers& answers) {
  const std::vector<std::string> labels = answers.phrases("labels");
  if (labels.size() < 2) return answers.wrong("labels", say("two or more names with semicolons between them"));
  const auto ahead = answers.column("ahead", labels.size());
  const auto left = answers.column("left", labels.size());
  const auto up = answers.column("up", labels.size());
  const std::size_t now = answers.which("now", labels);
  for (std::size_t i = 0; i < labels.size(); ++i) {
    Json p;
    p["label"] = labels[i];
    const Vec3 by(ahead[i] - ahead[now], left[i] - left[now], up[i] - up[now]);
    if (by.norm() > least_move_mm) p["masses"][car.masses[at(place.mass)].id]["move"] = json_of(by);
    a["positions"].push_back(p);
  }
  a["kit"] = labels[now];
}

void make_differentials(Json& a, const Json& source, const PartPlace& place, Answers& answers) {
  const auto at = Json::json_pointer("/axles") / std::string(name_of(place.end)) / "differential";
  const std::string is = source.contains(at) ? source.at(at).get<std::string>() : "";
  const std::vector<std::string> list = answers.phrases("list");
  if (list.size() < 2) answers.wrong("list", say("two or more, with semicolons between them"));
  bool kit = false;
  for (const std::string& one : list) {
    const auto known = std::find_if(differential_names.begin(), differential_names.end(),
                                    [&](const auto& d) { return one == d.second; });
    if (known == differential_names.end())
      return answers.wrong("list", say("open; gears in oil; ball; one-way; spool: those that fit"));
    Json p;
    p["label"] = one;
    if (known->first == is) {
      a["kit"] = one;
      kit = true;
    } else {
      p["differential"] = known->first;
    }
    a["positions"].push_back(p);
  }
  if (!kit)
    answers.wrong("list", is.empty() ? say("first the one that is in the car, at Parts")
                                     : say("the one that is in the car, too"));
}

}  // namespace

tl::expected<std::string, Fault> add_part(Json& source, const Car& car, const PartForm& form, const PartPlace& place,
                                          std::span<const PartQuestion> answered) {
  if (is_fitting(form)) {
    if (auto fault = put_on(source, car, form, place, answered)) return tl::unexpected(*fault);
    return std::string();
  }
  const FormRow& row = row_of(form);
  Answers answers(answered);
  Json after = source;
  Json a;
  const std::string name = answers.text("name");
  if (name.empty()) answers.wrong("name", say("a name of your own"));
  const std::string where = place.steering ? "steering" : std::string(name_of(place.end));
  a["id"] = free_id(source, "adjusters", where + "_" + id_of_name(name));
  a["name"] = name;
  a["axle"] = std::string(name_of(place.end));
  if (place.steering) a["on"] = "steering";
  const auto sits_at = [&](PointHandle point) { a["at"] = point_id(car, place, point); };
  // A third spring without levers is found at the shocks, which the file need not say.
  const auto sits_at_size = [&] {
    if (row.size.at && has(car.axle(place.end), row.size.at)) sits_at(row.size.at);
  };
  switch (row.make) {
    case Make::shims: {
      a["kind"] = "shim_stack";
      if (form.id == "axle_height") {
        const MechanismSpec& m = *car.axle(place.end).mechanism;
        sits_at(place.about);
        const bool kingpin = m.points[place.about].id == "kingpin_lower";
        for (const PointHandle point : place.points) {
          Json along;
          along["along"] = Json::array({"kingpin_lower", "kingpin_upper"});
          along["mm"] = 1;
          a["move"][point_id(car, place, point)] = kingpin ? along : json_of(Vec3::UnitZ());
        }
      } else {
        Vec3 way = Vec3::Zero();
        for (const Way& w : ways(place.steering))
          if (answers.text("way") == w.id) way = w.mm;
        if (way.isZero()) answers.wrong("way", say("one of the choices"));
        for (const PointHandle point : place.points) a["move"][point_id(car, place, point)] = json_of(way);
      }
      put_stack(a, answers);
      break;
    }
    case Make::row: {
      a["kind"] = "hole";
      const int count = answers.count("count", 2, 30);
      const int now = answers.count("now", 1, count);
      const Vec3 step(answers.number("ahead"), answers.number("out"), answers.number("up"));
      if (!answers.fault() && step.norm() < least_move_mm) answers.wrong("out", say("a distance, one way at least"));
      std::vector<std::string> labels;
      std::vector<Vec3> mm;
      for (int i = 0; i < count; ++i) {
        labels.push_back(std::to_string(i + 1));
        mm.push_back(i * step);
      }
      a["positions"] = moved_positions(car, place, labels, mm, at(now - 1));
      a["kit"] = std::to_string(now);
      break;
    }
    case Make::table:
      a["kind"] = form.id == "arm" ? "choice" : "insert";
      sits_at(place.points.front());
      make_table(a, car, place, answers);
      break;
    case Make::grid:
      a["kind"] = "insert";
      sits_at(place.points.front());
      make_grid(a, car, place, answers);
      break;
    case Make::block:
      a["kind"] = "choice";
      sits_at(place.points.front());
      make_block(a, car, place, answers);
      break;
    case Make::turnbuckle: {
      a["kind"] = "turnbuckle";
      const auto links = place.steering ? car.steering.spec->links : car.axle(place.end).mechanism->links;
      a["link"] = std::string(links[place.link].id);
      a["pitch_mm"] = answers.number("pitch");
      a["threads"] = answers.text("threads");
      a["min_turns"] = -std::abs(answers.number("shorter"));
      a["max_turns"] = std::abs(answers.number("longer"));
      break;
    }
    case Make::screw:
    case Make::size_screw:
      a["kind"] = "screw";
      if (row.make == Make::screw) {
        a["move"][point_id(car, place, place.points.front())] = json_of(-Vec3::UnitZ());
      } else {
        sits_at(row.size.at);
        a["change"][row.size.key] = row.size.per;
      }
      a["pitch_mm"] = answers.number("pitch");
      a["min_turns"] = -std::abs(answers.number("out_turns"));
      a["max_turns"] = std::abs(answers.number("in_turns"));
      break;
    case Make::size_stack:
      a["kind"] = "shim_stack";
      sits_at_size();
      a["change"][row.size.key] = row.size.per;
      put_stack(a, answers);
      break;
    case Make::size_list:
      a["kind"] = "choice";
      sits_at_size();
      make_size_list(a, after, place, row.size, answers);
      break;
    case Make::eyelet: {
      a["kind"] = "choice";
      a["at"] = "shock_lower";
      const auto labels = answers.phrases("labels");
      if (labels.size() < 2) answers.wrong("labels", say("two or more names with semicolons between them"));
      const auto longer = answers.column("longer", labels.size());
      const std::size_t now = answers.which("now", labels);
      if (answers.fault()) break;
      for (std::size_t i = 0; i < labels.size(); ++i) {
        const double by = longer[i] - longer[now];
        a["positions"].push_back(changed_position(labels[i], {{"shock_extended_mm", by}, {"shock_compressed_mm", by}}));
      }
      a["kit"] = labels[now];
      break;
    }
    case Make::piston:
      a["kind"] = "choice";
      sits_at_size();
      make_pistons(a, after, place, row.size.at == attachment::third_end, answers);
      break;
    case Make::horn_row:
      a["kind"] = "hole";
      make_horn_row(a, car, place, answers);
      break;
    case Make::spline:
      a["kind"] = "spline";
      make_spline(a, place, answers);
      break;
    case Make::along_pin: {
      a["kind"] = "shim_stack";
      for (const PointHandle point : place.points) {
        Json& along = a["move"][point_id(car, place, point)];
        along["along"] =
            Json::array({point_id(car, place, place.points.front()), point_id(car, place, place.points.back())});
        along["mm"] = 1;
      }
      put_stack(a, answers);
      break;
    }
    case Make::ballast:
      a["kind"] = "choice";
      make_ballast(a, after, answers);
      break;
    case Make::heavy_places:
      a["kind"] = "choice";
      make_heavy_places(a, car, place, answers);
      break;
    case Make::kept_by_axle:
    case Make::kept_once: {
      a["kind"] = "kept";
      const auto labels = answers.phrases("labels");
      if (labels.size() < 2) answers.wrong("labels", say("two or more names with semicolons between them"));
      const std::size_t now = answers.which("now", labels);
      for (const std::string& label : labels) {
        Json position;
        position["label"] = label;
        a["positions"].push_back(position);
      }
      if (!labels.empty()) a["kit"] = labels[now];
      break;
    }
    case Make::differentials:
      a["kind"] = "choice";
      make_differentials(a, source, place, answers);
      break;
    case Make::fitting:
    case Make::joint:
    case Make::touch:
      break;
  }
  if (answers.fault()) return tl::unexpected(*answers.fault());
  const auto id = a["id"].get<std::string>();
  after["adjusters"].push_back(std::move(a));
  source = std::move(after);
  return id;
}

bool reorder_adjuster(Json& source, PartHandle adjuster, int by) {
  Json& all = source["adjusters"];
  const std::size_t from = adjuster.place();
  if (from >= all.size()) return false;
  const auto same_room = [&](const Json& other) {
    return other["axle"] == all[from]["axle"] && other.value("on", "axle") == all[from].value("on", "axle");
  };
  for (auto i = static_cast<std::ptrdiff_t>(from) + by; i >= 0 && i < static_cast<std::ptrdiff_t>(all.size());
       i += by) {
    const auto other = at(i);
    if (!same_room(all[other])) continue;
    std::swap(all[from], all[other]);
    return true;
  }
  return false;
}

std::vector<PartSpot> spots_of(const Car& car, const Adjuster& adjuster) {
  std::vector<std::pair<double, std::string>> values;
  if (const Positions* list = adjuster.positions())
    for (std::size_t i = 0; i < list->list.size(); ++i)
      values.emplace_back(static_cast<double>(i), list->list[i].label);
  else
    for (const double v : {adjuster.least(), adjuster.kit, adjuster.most()})
      if (values.empty() || values.back().first != v)
        values.emplace_back(v, adjuster.threaded() ? say("{} turns", text_of(v)) : say("{} mm", text_of(v)));
  LinkageGeometry at_kit;
  at_kit.kit = adjuster.steering ? car.steering.points : car.axle(adjuster.end).points[0];
  at_kit.set = at_kit.kit;
  std::vector<PartSpot> spots;
  std::vector<LinkageGeometry> put;
  for (const auto& [value, label] : values) {
    put.push_back(at_kit);
    adjuster.apply(value, put.back());
  }
  for (const PointRef& ref : points_of(car)) {
    if (ref.steering != adjuster.steering || ref.end != adjuster.end) continue;
    const PointHandle p = ref.point;
    const bool moves = std::any_of(put.begin(), put.end(), [&](const LinkageGeometry& g) {
      return (g.set[p] - at_kit.set[p]).norm() > least_move_mm;
    });
    if (!moves) continue;
    for (std::size_t i = 0; i < values.size(); ++i)
      spots.push_back({ref, put[i].set[p], values[i].second, values[i].first == adjuster.kit});
  }
  return spots;
}

}  // namespace lowkite
