// Drives the fuzz target with a fixed number of inputs made from the shipped files by seeded damage: bytes flipped, cut
// out, doubled, digits changed, values and fields of one place put into another.
#include <algorithm>
#include <array>
#include <chrono>
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <optional>
#include <random>
#include <string>
#include <string_view>
#include <vector>

#include <fcntl.h>
#include <unistd.h>

#include "core/bench/instrument.hpp"
#include "core/bench/run.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/bench_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_table.hpp"
#include "core/log/log_exchange.hpp"
#include "core/sheets/matching.hpp"
#include "tests/fuzz/loader_fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace {

using lowkite::Json;
using namespace lowkite::fuzz;
using Random = std::mt19937_64;
using Clock = std::chrono::steady_clock;

std::size_t below(Random& random, std::size_t n) {
  return n == 0 ? 0 : random() % n;
}

std::string damaged_text(std::string text, Random& random) {
  const std::size_t blows = 1 + below(random, 6);
  for (std::size_t i = 0; i < blows && !text.empty(); ++i) {
    const std::size_t at = below(random, text.size());
    const std::size_t length = std::min(text.size() - at, 1 + below(random, 40));
    switch (below(random, 6)) {
      case 0:
        text[at] = static_cast<char>(random());
        break;
      case 1:
        text.erase(at, length);
        break;
      case 2:
        text.insert(at, text.substr(at, length));
        break;
      case 3:
        text.resize(at);
        break;
      case 4:
        text[at] = "0123456789-+.eE,:{}[]\"\\"[below(random, 23)];
        break;
      default:
        text.insert(at, below(random, 2) ? "1e308" : "-0");
        break;
    }
  }
  return text;
}

/// All places of a document, so that a blow can hit any of them.
void places(Json& j, std::vector<Json*>& out) {
  out.push_back(&j);
  if (j.is_structured())
    for (Json& child : j) places(child, out);
}

std::string damaged_document(Json j, Random& random) {
  const std::size_t blows = 1 + below(random, 3);
  for (std::size_t i = 0; i < blows; ++i) {
    std::vector<Json*> all;
    places(j, all);
    Json& victim = *all[below(random, all.size())];
    switch (below(random, 6)) {
      case 0:
        victim = Json(*all[below(random, all.size())]);
        break;
      case 1:
        victim = nullptr;
        break;
      case 2:
        if (victim.is_number()) victim = victim.get<double>() * (static_cast<double>(below(random, 400)) / 100.0 - 2.0);
        break;
      case 3:
        if (victim.is_object() && !victim.empty())
          victim.erase(std::next(victim.begin(), static_cast<long>(below(random, victim.size()))));
        break;
      case 4:
        if (victim.is_array() && !victim.empty()) victim.erase(below(random, victim.size()));
        break;
      default:
        victim = below(random, 2) ? Json("x") : Json(1e9);
        break;
    }
  }
  return j.dump(-1, ' ', false, Json::error_handler_t::replace);
}

struct Seed {
  std::string text;
  std::optional<Json> json;
};

/// What is damaged, by kind: the shipped files, and what the program itself writes.
std::vector<std::vector<Seed>> seeds_in(const std::string& data) {
  std::vector<std::vector<Seed>> seeds(kinds);
  const auto add = [&](Kind kind, std::string text) {
    Seed s{std::move(text), std::nullopt};
    if (Json parsed = Json::parse(s.text, nullptr, false); !parsed.is_discarded()) s.json = std::move(parsed);
    seeds[static_cast<std::size_t>(kind)].push_back(std::move(s));
  };
  const auto folder = [&](Kind kind, const char* name) {
    for (const auto& entry : std::filesystem::directory_iterator(data + name))
      add(kind, *lowkite::read_file(entry.path(), 64u << 20));
  };
  folder(Kind::car, "/cars");
  folder(Kind::setup, "/setups");
  folder(Kind::usual, "/usual");
  folder(Kind::tyres, "/tyres");
  folder(Kind::boxes, "/boxes");
  const auto car = lowkite::load_car(data + "/cars/heron-tc190.kite-car.json");
  const lowkite::Setup kit = lowkite::kit_setup(*car);
  lowkite::BenchRun run =
      lowkite::start_run(*car, kit, lowkite::BenchList::full, lowkite::BenchKit{}, "2026-11-27T10:00:00");
  for (const lowkite::BenchStep& step : lowkite::steps_of(*car, run))
    if (step.gauge) run.records[step.id].readings = {{{1.5, 2.0}, {1.0}}};
  add(Kind::bench, lowkite::write_run(run, *car));
  // What is long is damaged in pieces: more densely, and read sooner.
  const std::string table = lowkite::write_setup_table(kit, *car);
  const std::size_t heading = table.find('\n') + 1;
  for (std::size_t at = heading; at < table.size();) {
    std::size_t end = at;
    for (int row = 0; row < 10 && end < table.size(); ++row)
      end = std::min(table.find('\n', end), table.size() - 1) + 1;
    add(Kind::sheet, table.substr(0, heading) + table.substr(at, end - at));
    at = end;
  }
  for (const auto& entry : std::filesystem::directory_iterator(data + "/rules")) {
    const Json all = Json::parse(*lowkite::read_file(entry.path(), 64u << 20));
    const std::size_t count = all["rules"].size();
    for (std::size_t at = 0; at < count; at += 8) {
      Json some = all;
      some["rules"] = Json::array();
      for (std::size_t i = at; i < std::min(at + 8, count); ++i) some["rules"].push_back(all["rules"][i]);
      add(Kind::rules, some.dump());
    }
  }
  const auto season = lowkite::read_log(*lowkite::read_file(data + "/log/season.json", 64u << 20), "season.json");
  std::vector<lowkite::LoggedDay> days(season->begin(), season->begin() + 2);
  for (auto& d : days) d.runs.resize(std::min<std::size_t>(d.runs.size(), 3));
  add(Kind::log, lowkite::write_log(days));
  add(Kind::log_table, lowkite::runs_as_csv(days, {}));
  add(Kind::log_table, lowkite::laps_as_csv(days, {}));
  add(Kind::laps, "lap;time;driver\n1;15,432;A\n2;15.2;A\n3;1:02,9;B\n");
  add(Kind::laps, lowkite::laps_as_csv(days, {}));
  std::string lines;
  for (std::uint32_t i = 0; i < 20; ++i)
    lines += lowkite::write_line({{lowkite::instrument_kinds()[i % lowkite::instrument_kinds().size()],
                                   lowkite::End::front, lowkite::Side::left},
                                  1.5 * i,
                                  i}) +
             "\n";
  add(Kind::instrument, lines);
  for (const auto& entry : std::filesystem::directory_iterator(data + "/../tests/data/sheets"))
    if (entry.path().string().ends_with(".form.json")) {
      add(Kind::form, *lowkite::read_file(entry.path(), 64u << 20));
      const auto form = lowkite::form_from_json(seeds[static_cast<std::size_t>(Kind::form)].back().text, "form");
      add(Kind::matches,
          lowkite::write_matches(*form, lowkite::propose_matches(*form, lowkite::sheet_places(*car), *car)));
    }
  return seeds;
}

/// The input that is being read, for whoever finds the process dead.
const std::string* read_now = nullptr;
void keep_what_was_read(int signal) {
  const int file = ::open("fuzz-crash", O_WRONLY | O_CREAT | O_TRUNC, 0644);
  if (file >= 0 && read_now) (void)!::write(file, read_now->data(), read_now->size());
  static constexpr std::string_view told = "the first byte of fuzz-crash is the kind, the rest what was read\n";
  (void)!::write(STDERR_FILENO, told.data(), told.size());
  std::signal(signal, SIG_DFL);
  std::raise(signal);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) {
    std::fputs("usage: loader_fuzz DATA_FOLDER INPUTS [SEED]\n", stderr);
    return 2;
  }
  ::setenv("LOWKITE_FUZZ_DATA", argv[1], 1);
  const std::vector<std::vector<Seed>> seeds = seeds_in(argv[1]);
  Random random(argc > 3 ? std::strtoull(argv[3], nullptr, 10) : 20261123);
  const long inputs = std::atol(argv[2]);
  std::array<long, kinds> each{};
  std::array<Clock::duration, kinds> spent{};
  for (const int signal : {SIGABRT, SIGSEGV, SIGFPE}) std::signal(signal, keep_what_was_read);
  for (long i = 0; i < inputs; ++i) {
    // Cars and setups are worth a third of all.
    const std::size_t kind = below(random, 3) == 0 ? below(random, 2) : below(random, seeds.size());
    const Seed& seed = seeds[kind][below(random, seeds[kind].size())];
    std::string text = seed.json && i % 2 ? damaged_document(*seed.json, random) : damaged_text(seed.text, random);
    text.insert(text.begin(), static_cast<char>(kind));
    read_now = &text;
    const Clock::time_point began = Clock::now();
    LLVMFuzzerTestOneInput(reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
    spent[kind] += Clock::now() - began;
    ++each[kind];
  }
  std::printf("%ld inputs, no crash\n", inputs);
  constexpr std::array<const char*, kinds> names{
      "cars",  "setups",       "bench runs",       "logs",        "log tables",    "lap tables", "rules", "usual",
      "tyres", "setup tables", "instrument lines", "sheet forms", "sheet matches", "boxes"};
  for (std::size_t k = 0; k < each.size(); ++k)
    std::printf(
        "  %8ld %-16s %7.2f ms each\n", each[k], names[k],
        std::chrono::duration<double, std::milli>(spent[k]).count() / std::max(1.0, static_cast<double>(each[k])));
  return 0;
}
