#include "core/io/bench_file.hpp"

#include <array>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/io/setup_file.hpp"

namespace lowkite {
namespace {

constexpr std::array<std::pair<std::string_view, Caliper>, 3> calipers{
    {{"between", Caliper::between}, {"over", Caliper::over}, {"centres", Caliper::centres}}};
constexpr std::array<std::pair<std::string_view, StepState>, 3> states{
    {{"open", StepState::open}, {"done", StepState::done}, {"skipped", StepState::skipped}}};
constexpr std::array lists{BenchList::full, BenchList::after_crash, BenchList::between_rounds};

/// The value of a name; the schema has already checked that it is one of them.
template <class T>
T named(const std::array<std::pair<std::string_view, T>, 3>& names, const Json& j) {
  const auto text = j.get<std::string>();
  for (const auto& [name, value] : names)
    if (name == text) return value;
  return names[0].second;
}

template <class T>
std::string name_in(const std::array<std::pair<std::string_view, T>, 3>& names, T wanted) {
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
  return kit;
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
    return tl::unexpected(Faults{{file, "car", fmt::format("the run is of the car \"{}\"", run.car_id),
                                  fmt::format("a run of \"{}\"", car.id)}});
  auto planned = read_setup(j["planned"].dump(), file, car);
  if (!planned) {
    for (Fault& f : planned.error()) f.place = "planned > " + f.place;
    return tl::unexpected(planned.error());
  }
  run.planned = std::move(planned->setup);
  for (const BenchList list : lists)
    if (id_of(list) == j["list"].get<std::string>()) run.list = list;
  run.started = j["started"].get<std::string>();
  run.bench = read_kit(j["bench"]);
  for (const Json& id : j["order"]) run.order.push_back(id.get<std::string>());
  for (const auto& [id, value] : j["records"].items()) {
    StepRecord r;
    for (const Side side : both_sides)
      for (const Json& v : value[std::string(name_of(side))]) r.readings[at(side)].push_back(v.get<double>());
    if (value.contains("pull_down"))
      for (const Json& v : value["pull_down"]) r.pull.push_back({v[0].get<double>(), v[1].get<double>()});
    r.state = named(states, value["state"]);
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
                {"pull_down_mm", run.bench.pull_down_mm}};
  j["order"] = run.order;
  j["records"] = Json::object();
  for (const auto& [id, r] : run.records) {
    Json& out = j["records"][id];
    out["left"] = r.readings[at(Side::left)];
    out["right"] = r.readings[at(Side::right)];
    if (!r.pull.empty()) {
      out["pull_down"] = Json::array();
      for (const PullPoint& p : r.pull) out["pull_down"].push_back({p.depth_mm, p.grams});
    }
    out["state"] = name_in(states, r.state);
    if (!r.reason.empty()) out["reason"] = r.reason;
    if (!r.when.empty()) out["when"] = r.when;
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
