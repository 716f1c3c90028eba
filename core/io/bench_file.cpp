#include "core/io/bench_file.hpp"

#include <array>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/io/setup_file.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array<std::pair<std::string_view, Caliper>, 3> calipers{
    {{"between", Caliper::between}, {"over", Caliper::over}, {"centres", Caliper::centres}}};
constexpr std::array<std::pair<std::string_view, StepState>, 6> states{{{"open", StepState::open},
                                                                        {"done", StepState::done},
                                                                        {"measured", StepState::measured},
                                                                        {"left", StepState::left},
                                                                        {"unmeasured", StepState::unmeasured},
                                                                        {"skipped", StepState::skipped}}};
constexpr std::array<std::pair<std::string_view, DroopFrom>, 2> droops{
    {{"plate", DroopFrom::plate}, {"line", DroopFrom::line}}};

/// The value of a name; the schema has already checked that it is one of them.
template <class T, std::size_t n>
T named(const std::array<std::pair<std::string_view, T>, n>& names, const Json& j) {
  const auto text = j.get<std::string>();
  for (const auto& [name, value] : names)
    if (name == text) return value;
  return names[0].second;
}

template <class T, std::size_t n>
std::string name_in(const std::array<std::pair<std::string_view, T>, n>& names, T wanted) {
  for (const auto& [name, value] : names)
    if (value == wanted) return std::string(name);
  return {};
}

tl::expected<Json, Faults> checked(const std::string& text, const std::string& file) {
  auto document = parse_json(text, file);
  if (!document) return document;
  if (Faults f = check_header(*document, file, "lowkite-bench", newest_bench_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::bench); !f.empty()) return tl::unexpected(f);
  return document;
}

BenchKit read_kit(const Json& j) {
  BenchKit kit;
  kit.down_stop_blocks_mm = j["down_stop_blocks_mm"].get<double>();
  kit.droop_blocks_mm = j["droop_blocks_mm"].get<double>();
  kit.caliper = named(calipers, j["caliper"]);
  kit.cup_mm = j["cup_mm"].get<double>();
  kit.slop_mm = j["slop_mm"].get<double>();
  kit.pull_down_mm = j["pull_down_mm"].get<double>();
  // Version 1 read droop against the bench.
  kit.droop_from = j.contains("droop_from") ? named(droops, j["droop_from"]) : DroopFrom::line;
  kit.droop_line_mm = j.value("droop_line_mm", 0.0);
  kit.ride_points_apart_mm = j.value("ride_points_apart_mm", 0.0);
  return kit;
}

PerSide<std::vector<double>> read_sides(const Json& j) {
  PerSide<std::vector<double>> readings;
  for (const Side side : both_sides)
    for (const Json& v : j[std::string(name_of(side))]) readings[at(side)].push_back(v.get<double>());
  return readings;
}

Json write_sides(const PerSide<std::vector<double>>& readings) {
  Json j;
  for (const Side side : both_sides) j[std::string(name_of(side))] = readings[at(side)];
  return j;
}

/// Version 1 knew one mark for all that was ticked.
StepState state_of_old(const Car& car, const std::string& id, const StepRecord& r) {
  if (!r.readings[0].empty() || !r.readings[1].empty() || !r.pull.empty()) return StepState::measured;
  for (const BenchStep& s : every_step(car))
    if (s.id == id && s.gauge) return StepState::unmeasured;
  return StepState::done;
}

void read_known(const Json& from, const std::string& name, std::optional<double>& to) {
  if (const auto found = from.find(name); found != from.end()) to = found->get<double>();
}

Measured read_measured(const Json& j, const Car& car) {
  Measured m;
  m.parts.resize(car.adjusters.size());
  if (const auto heights = j.find("ride_height_mm"); heights != j.end())
    for (const End end : both_ends) read_known(*heights, std::string(name_of(end)), m.ride_height_mm[at(end)]);
  if (const auto parts = j.find("parts"); parts != j.end())
    for (const auto& [id, sides] : parts->items()) {
      const PartHandle part = car.find_adjuster(id);
      if (!part) continue;  // of a car file that was edited since
      for (const Side side : both_sides) read_known(sides, std::string(name_of(side)), m.parts[part][at(side)]);
    }
  return m;
}

Json write_measured(const Measured& m, const Car& car) {
  Json j = Json::object();
  for (const End end : both_ends)
    if (const auto& h = m.ride_height_mm[at(end)]) j["ride_height_mm"][std::string(name_of(end))] = *h;
  for (const PartHandle part : m.parts.handles()) {
    if (part.place() >= car.adjusters.size()) break;
    for (const Side side : both_sides)
      if (const auto& v = m.parts[part][at(side)]) j["parts"][car.adjusters[part].id][std::string(name_of(side))] = *v;
  }
  return j;
}

}  // namespace

tl::expected<std::string, Faults> car_id_of_run(const std::string& text, const std::string& file) {
  const auto document = checked(text, file);
  if (!document) return tl::unexpected(document.error());
  return (*document)["car"].get<std::string>();
}

tl::expected<BenchRun, Faults> read_run(const std::string& text, const std::string& file, const Car& car) {
  const auto document = checked(text, file);
  if (!document) return tl::unexpected(document.error());
  const Json& j = *document;
  BenchRun run;
  run.car_id = j["car"].get<std::string>();
  if (run.car_id != car.id)
    return tl::unexpected(
        Faults{{file, "car", say("the run is of the car \"{}\"", run.car_id), say("a run of \"{}\"", car.id)}});
  auto planned = read_setup(j["planned"].dump(), file, car);
  if (!planned) {
    for (Fault& f : planned.error()) f.place = "planned > " + f.place;
    return tl::unexpected(planned.error());
  }
  run.planned = std::move(planned->setup);
  for (const BenchList list : bench_lists)
    if (id_of(list) == j["list"].get<std::string>()) run.list = list;
  run.started = j["started"].get<std::string>();
  run.bench = read_kit(j["bench"]);
  for (const Json& id : j["order"]) run.order.push_back(id.get<std::string>());
  const bool old = j["version"].get<int>() < 2;
  run.standing.parts.resize(car.adjusters.size());
  if (j.contains("standing")) run.standing = read_measured(j["standing"], car);
  if (j.contains("turns"))
    for (const Json& t : j["turns"]) {
      BenchTurn turn{t["step"].get<std::string>(), t.value("when", ""), {}};
      for (const Json& p : t["parts"])
        turn.parts.push_back({p["part"].get<std::string>(),
                              p["side"].get<std::string>() == name_of(Side::left) ? Side::left : Side::right,
                              p["by"].get<double>()});
      run.turns.push_back(std::move(turn));
    }
  for (const auto& [id, value] : j["records"].items()) {
    StepRecord r;
    r.readings = read_sides(value);
    if (value.contains("pull_down"))
      for (const Json& v : value["pull_down"]) r.pull.push_back({v[0].get<double>(), v[1].get<double>()});
    r.tared = value.value("tared", false);
    read_known(value, "caliper_zero_mm", r.caliper_zero_mm);
    r.state = named(states, value["state"]);
    if (old && r.state == StepState::done) r.state = state_of_old(car, id, r);
    if (value.contains("sure"))
      for (const Json& side : value["sure"]) r.sure[side.get<std::string>() == name_of(Side::left) ? 0 : 1] = true;
    if (value.contains("earlier"))
      for (const Json& e : value["earlier"]) r.earlier.push_back({read_sides(e), e.value("when", "")});
    r.moved_by = value.value("moved_by", "");
    if (const auto moved = value.find("moved_to"); moved != value.end())
      for (const Side side : both_sides) read_known(*moved, std::string(name_of(side)), r.moved_to[at(side)]);
    r.reason = value.value("reason", "");
    r.when = value.value("when", "");
    run.records.emplace(id, std::move(r));
  }
  return run;
}

tl::expected<BenchRun, Faults> load_run(const std::filesystem::path& path, const Car& car) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(Faults{text.error()});
  return read_run(*text, path.filename().string(), car);
}

std::string write_run(const BenchRun& run, const Car& car) {
  Json j;
  j["format"] = "lowkite-bench";
  j["version"] = newest_bench_version;
  j["car"] = run.car_id;
  j["list"] = std::string(id_of(run.list));
  j["started"] = run.started;
  j["planned"] = Json::parse(write_setup(run.planned, car, {}));
  j["bench"] = {{"down_stop_blocks_mm", run.bench.down_stop_blocks_mm},
                {"droop_blocks_mm", run.bench.droop_blocks_mm},
                {"caliper", name_in(calipers, run.bench.caliper)},
                {"cup_mm", run.bench.cup_mm},
                {"slop_mm", run.bench.slop_mm},
                {"pull_down_mm", run.bench.pull_down_mm},
                {"droop_from", name_in(droops, run.bench.droop_from)},
                {"droop_line_mm", run.bench.droop_line_mm},
                {"ride_points_apart_mm", run.bench.ride_points_apart_mm}};
  j["order"] = run.order;
  j["records"] = Json::object();
  for (const auto& [id, r] : run.records) {
    Json& out = j["records"][id];
    out = write_sides(r.readings);
    if (!r.pull.empty()) {
      out["pull_down"] = Json::array();
      for (const PullPoint& p : r.pull) out["pull_down"].push_back({p.depth_mm, p.grams});
    }
    if (r.tared) out["tared"] = true;
    if (r.caliper_zero_mm) out["caliper_zero_mm"] = *r.caliper_zero_mm;
    out["state"] = name_in(states, r.state);
    if (!r.reason.empty()) out["reason"] = r.reason;
    if (!r.when.empty()) out["when"] = r.when;
    for (const Side side : both_sides)
      if (r.sure[at(side)]) out["sure"].push_back(std::string(name_of(side)));
    for (const EarlierReadings& e : r.earlier) {
      out["earlier"].push_back(write_sides(e.readings));
      out["earlier"].back()["when"] = e.when;
    }
    if (!r.moved_by.empty()) out["moved_by"] = r.moved_by;
    for (const Side side : both_sides)
      if (const auto& to = r.moved_to[at(side)]) out["moved_to"][std::string(name_of(side))] = *to;
  }
  if (run.standing.any()) j["standing"] = write_measured(run.standing, car);
  for (const BenchTurn& t : run.turns) {
    Json parts = Json::array();
    for (const PartTurn& p : t.parts)
      parts.push_back({{"part", p.part}, {"side", std::string(name_of(p.side))}, {"by", p.by}});
    j["turns"].push_back({{"step", t.step}, {"when", t.when}, {"parts", std::move(parts)}});
  }
  return j.dump(2) + "\n";
}

tl::expected<std::vector<KeptPull>, Faults> pulls_of_run(const std::string& text, const std::string& file) {
  const auto document = checked(text, file);
  if (!document) return tl::unexpected(document.error());
  std::vector<KeptPull> pulls;
  for (const End end : both_ends) {
    const auto& records = (*document)["records"];
    const auto found = records.find(fmt::format("pull_down:{}", name_of(end)));
    if (found == records.end() || !found->contains("pull_down")) continue;
    KeptPull kept{(*document)["car"].get<std::string>(), (*document)["started"].get<std::string>(), end, {}};
    for (const Json& v : (*found)["pull_down"]) kept.points.push_back({v[0].get<double>(), v[1].get<double>()});
    if (!kept.points.empty()) pulls.push_back(std::move(kept));
  }
  return pulls;
}

}  // namespace lowkite
