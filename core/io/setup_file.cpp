#include "core/io/setup_file.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

std::string allowed_values(const Adjuster& a) {
  if (const Positions* p = a.positions()) {
    std::vector<std::string> labels;
    for (const Position& position : p->list) labels.push_back(position.label);
    return say("one of {}", fmt::join(labels, ", "));
  }
  if (a.threaded()) return say("turns from {least} to {most}", "least"_a = a.least(), "most"_a = a.most());
  return say("a stack of {least} to {most} mm from shims of {shims} mm", "least"_a = a.least(), "most"_a = a.most(),
             "shims"_a = fmt::join(a.range()->shims_mm, ", "));
}

class SetupReader {
 public:
  SetupReader(const Json& document, std::string file, const Car& car)
      : doc_(document), file_(std::move(file)), car_(car) {}

  tl::expected<SetupFile, Faults> read() {
    setup_ = kit_setup(car_);
    setup_.car_id = doc_["car"].get<std::string>();
    setup_.name = doc_["name"].get<std::string>();
    setup_.date = doc_.value("date", "");
    setup_.track = doc_.value("track", "");
    setup_.notes = doc_.value("notes", "");
    setup_.based_on = doc_.value("based_on", "");
    const Json& height = doc_["ride_height_mm"];
    setup_.ride_height_mm = {height["front"].get<double>(), height["rear"].get<double>()};
    if (setup_.car_id != car_.id) {
      fault("car", say("the setup is for the car \"{}\"", setup_.car_id), say("a setup for \"{}\"", car_.id));
      return tl::unexpected(faults_);
    }
    for (const auto& [id, value] : doc_["values"].items()) read_value(id, value);
    if (const auto noted = doc_.find("noted"); noted != doc_.end()) read_noted(*noted);
    if (const auto wanted = doc_.find("wanted"); wanted != doc_.end()) read_wanted(*wanted);
    if (!faults_.empty()) return tl::unexpected(faults_);
    return SetupFile{std::move(setup_), doc_};
  }

 private:
  void fault(std::string place, std::string wrong, std::string allowed) {
    faults_.push_back({file_, std::move(place), std::move(wrong), std::move(allowed)});
  }

  void read_noted(const Json& noted) {
    for (std::size_t i = 0; i < noted.size(); ++i) {
      const std::string name = noted[i]["name"].get<std::string>();
      if (noted_under(setup_, name))
        fault(place_of({"noted", std::to_string(i + 1)}), say("\"{}\" is there twice", name), say("each name once"));
      else
        setup_.noted.push_back({name, noted[i]["text"].get<std::string>()});
    }
  }

  void read_wanted(const Json& wanted) {
    if (const auto v = wanted.find("lock_deg"); v != wanted.end()) setup_.wanted_lock_deg = v->get<double>();
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const Json::json_pointer at_wheel("/" + std::string(name_of(end)) + "/" + std::string(name_of(side)));
        if (!wanted.contains(at_wheel)) continue;
        const Json& j = wanted.at(at_wheel);
        WantedAtWheel& w = setup_.wanted[at(end)][at(side)];
        if (const auto v = j.find("camber_deg"); v != j.end()) w.camber_deg = v->get<double>();
        if (const auto v = j.find("toe_deg"); v != j.end()) w.toe_deg = v->get<double>();
        if (const auto v = j.find("caster_deg"); v != j.end()) w.caster_deg = v->get<double>();
        if (const auto v = j.find("hanging_mm"); v != j.end()) w.hanging_mm = v->get<double>();
      }
  }

  void read_value(const std::string& id, const Json& value) {
    const PartHandle index = car_.find_adjuster(id);
    if (!index) {
      std::vector<std::string_view> ids;
      for (const Adjuster& a : car_.adjusters) ids.push_back(a.id);
      fault(place_of({"values", id}), say("the car {} has no such adjuster", car_.name),
            say("one of {}", fmt::join(ids, ", ")));
      return;
    }
    const Adjuster& a = car_.adjusters[index];
    Setting& setting = setup_.of(index);
    if (!value.is_object()) {
      const double v = read_one(a, value, place_of({"values", id}));
      setting = {v, v};
      return;
    }
    if (a.steering) {
      fault(place_of({"values", id}), say("the steering has one part of this, not one a side"), say("a single value"));
      return;
    }
    for (const Side side : both_sides) {
      const std::string name(name_of(side));
      const std::string place = place_of({"values", id, name});
      if (const auto v = value.find(name); v != value.end())
        setting.on(side) = read_one(a, *v, place);
      else
        fault(place, say("missing"), say("a value for each of left and right"));
    }
    // Earlier programs could tell two of what a pod's shock has once: it is as the left says.
    if (a.once) setting.right = setting.left;
  }

  double read_one(const Adjuster& a, const Json& value, const std::string& place) {
    if (const Positions* p = a.positions()) {
      const std::string label = value.is_string()           ? value.get<std::string>()
                                : value.is_number_integer() ? value.dump()
                                                            : std::string();
      for (std::size_t i = 0; i < p->list.size(); ++i)
        if (p->list[i].label == label) return static_cast<double>(i);
    } else if (value.is_number() && a.can_be(value.get<double>())) {
      return value.get<double>();
    }
    fault(place, say("found {}", shown(value)), allowed_values(a));
    return a.kit;
  }

  const Json& doc_;
  std::string file_;
  const Car& car_;
  Setup setup_;
  Faults faults_;
};

/// Text fields that nobody filled in are not written into files that never had them.
void put_text(Json& j, const char* key, const std::string& text) {
  if (!text.empty() || j.contains(key)) j[key] = text;
}

/// Whole and half millimetres print as such: 1.5, not 1.4999999999999998.
double as_printed(double v) {
  return std::round(v * 1e9) / 1e9;
}

tl::expected<Json, Faults> checked_document(const std::string& text, const std::string& file) {
  auto document = parse_json(text, file);
  if (!document) return document;
  if (Faults f = check_header(*document, file, "lowkite-setup", newest_setup_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::setup); !f.empty()) return tl::unexpected(f);
  return document;
}

}  // namespace

Json value_to_json(const Adjuster& adjuster, double value) {
  if (const Positions* p = adjuster.positions()) return p->list[at(std::lround(value))].label;
  return as_printed(value);
}

tl::expected<std::string, Faults> car_id_of_setup(const std::string& text, const std::string& file) {
  const auto document = checked_document(text, file);
  if (!document) return tl::unexpected(document.error());
  return (*document)["car"].get<std::string>();
}

tl::expected<SetupFile, Faults> read_setup(const std::string& text, const std::string& file, const Car& car) {
  const auto document = checked_document(text, file);
  if (!document) return tl::unexpected(document.error());
  return SetupReader(*document, file, car).read();
}

tl::expected<SetupFile, Faults> load_setup(const std::filesystem::path& path, const Car& car) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(Faults{text.error()});
  return read_setup(*text, path.filename().string(), car);
}

std::string write_setup(const Setup& setup, const Car& car, const Json& source) {
  Json j = source.is_object() ? source : Json::object();
  j["format"] = "lowkite-setup";
  j["version"] = newest_setup_version;
  j["car"] = setup.car_id;
  j["name"] = setup.name;
  put_text(j, "date", setup.date);
  put_text(j, "track", setup.track);
  put_text(j, "notes", setup.notes);
  put_text(j, "based_on", setup.based_on);
  for (const End end : both_ends)
    j["ride_height_mm"][std::string(name_of(end))] = as_printed(setup.ride_height_mm[at(end)]);
  Json& values = j["values"];
  if (!values.is_object()) values = Json::object();
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    const Setting& s = setup.values[i];
    if (s.left == s.right) {
      values[a.id] = value_to_json(a, s.left);
      continue;
    }
    Json& apart = values[a.id];
    if (!apart.is_object()) apart = Json::object();
    apart["left"] = value_to_json(a, s.left);
    apart["right"] = value_to_json(a, s.right);
  }
  Json wanted = Json::object();
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const WantedAtWheel& w = setup.wanted[at(end)][at(side)];
      for (const auto& [key, value] : {std::pair("camber_deg", &w.camber_deg), std::pair("toe_deg", &w.toe_deg),
                                       std::pair("caster_deg", &w.caster_deg), std::pair("hanging_mm", &w.hanging_mm)})
        if (*value) wanted[std::string(name_of(end))][std::string(name_of(side))][key] = **value;
    }
  if (setup.wanted_lock_deg) wanted["lock_deg"] = *setup.wanted_lock_deg;
  if (wanted.empty())
    j.erase("wanted");
  else
    j["wanted"] = std::move(wanted);
  if (setup.noted.empty()) {
    j.erase("noted");
  } else {
    Json noted = Json::array();
    for (const NotedField& n : setup.noted) noted.push_back({{"name", n.name}, {"text", n.text}});
    j["noted"] = std::move(noted);
  }
  return j.dump(2) + "\n";
}

}  // namespace lowkite
