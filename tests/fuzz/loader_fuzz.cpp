// Fuzz target for everything that reads what somebody else may have written, in libFuzzer's form. The first byte says
// which reader: whatever the other bytes, it answers with what it read or with faults, and what it accepted works. With
// clang: clang++ -fsanitize=fuzzer,address ... ; here `fixed_run.cpp` drives it for a fixed number of inputs.
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cstdlib>

#include "core/advice/race_day.hpp"
#include "core/advice/rules.hpp"
#include "core/advice/usual.hpp"
#include "core/bench/instrument.hpp"
#include "core/bench/verdict.hpp"
#include "core/io/bench_file.hpp"
#include "core/io/box_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/setup_table.hpp"
#include "core/io/tyre_file.hpp"
#include "core/log/lap_import.hpp"
#include "core/log/log_exchange.hpp"
#include "core/plan/comparison.hpp"
#include "core/sheets/take_sheet.hpp"
#include "tests/fuzz/loader_fuzz.hpp"

namespace lowkite::fuzz {
namespace {

void must(bool holds) {
  if (!holds) std::abort();
}

const Car& known() {
  static const auto car = load_car(std::string(std::getenv("LOWKITE_FUZZ_DATA")) + "/cars/heron-tc190.kite-car.json");
  must(car.has_value());
  return *car;
}

/// Working a car out costs ten times what reading it does: done with a quarter of those that are accepted.
bool works_out(const std::string& text) {
  return text.size() % 4 == 0;
}

void read_one(Kind kind, const std::string& text) {
  switch (kind) {
    case Kind::car:
      if (const auto car = read_car(text, "fuzz.kite-car.json")) {
        const Setup kit = kit_setup(*car);
        if (works_out(text)) must(evaluate(*car, kit, {}, 3).has_value());
        must(read_setup(write_setup(kit, *car, {}), "again", *car).has_value());
      } else {
        must(!car.error().empty());
      }
      return;
    case Kind::setup:
      if (const auto file = read_setup(text, "fuzz.kite-setup.json", known())) {
        must(read_setup(write_setup(file->setup, known(), file->source), "again", known()).has_value());
        if (works_out(text)) (void)evaluate(known(), file->setup, {}, 3);
      }
      return;
    case Kind::bench:
      if (auto run = read_run(text, "fuzz.kite-bench.json", known())) {
        must(read_run(write_run(*run, known()), "again", known()).has_value());
        // A verdict solves the car: one of each run, another with each length of text.
        const std::vector<BenchStep> steps = steps_of(known(), *run);
        const BenchStep& step = steps[text.size() % steps.size()];
        if (step.gauge) (void)judge(known(), *run, step);
      }
      (void)pulls_of_run(text, "fuzz");
      return;
    case Kind::log:
      if (const auto days = read_log(text, "fuzz.json")) must(read_log(write_log(*days), "again").has_value());
      return;
    case Kind::log_table:
      if (const auto days = read_log_csv(text, "fuzz.csv")) (void)write_log(*days);
      return;
    case Kind::laps:
      if (const auto table = read_timing(text, "fuzz.csv")) (void)import_laps(*table, {}, {});
      (void)laps_from_text(text);
      return;
    case Kind::rules:
      (void)read_rules(text, "fuzz.json");
      return;
    case Kind::usual:
      (void)read_usual(text, "fuzz.json");
      return;
    case Kind::tyres:
      if (const auto tyres = read_tyres(text, "fuzz.json")) {
        must(read_tyres(write_tyres(tyres->families), "again").has_value());
        for (const TyreFamily& f : tyres->families) (void)draw_tyres(f, 4);
      }
      return;
    case Kind::sheet:
      if (const auto read = read_setup_table(text, "fuzz.csv", known())) {
        const auto again = read_setup_table(write_setup_table(read->setup, known()), "again", known());
        must(again && again->left_out.empty());
      }
      return;
    case Kind::form:
      if (auto form = form_from_json(text, "fuzz")) {
        // Each field is solved for on the car: a handful of each form is enough.
        std::rotate(form->fields.begin(),
                    form->fields.begin() + static_cast<std::ptrdiff_t>(text.size() % (form->fields.size() + 1)),
                    form->fields.end());
        if (form->fields.size() > 3) form->fields.resize(3);
        static const std::vector<SheetPlace> places = sheet_places(known());
        const auto matches = propose_matches(*form, places, known());
        must(read_matches(write_matches(*form, matches), "again", *form).has_value());
        const auto taken = take_sheet(known(), kit_setup(known()), *form, matches, {});
        must(taken && read_setup(write_setup(taken->setup, known(), {}), "again", known()).has_value());
      }
      return;
    case Kind::matches: {
      SheetForm form;
      form.fields.resize(2);
      form.fields[0].name = "track";
      (void)read_matches(text, "fuzz", form);
      return;
    }
    case Kind::boxes:
      if (const auto boxes = read_boxes(text, "fuzz.json")) {
        must(read_boxes(write_boxes(*boxes), "again").has_value());
        const Setup kit = kit_setup(known());
        const Stock stock(*boxes, known(), kit);
        for (const PackLine& l : packing_list(known(), kit, {kit}, *boxes)) must(l.count > 0);
        must(stock.makes(kit));
      }
      return;
    case Kind::instrument: {
      LineCutter lines;
      lines.feed(text, [](std::string_view line) {
        if (const auto reading = parse_line(line)) must(parse_line(write_line(*reading)).has_value());
      });
      return;
    }
  }
}

}  // namespace
}  // namespace lowkite::fuzz

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace lowkite::fuzz;
  if (size == 0) return 0;
  read_one(static_cast<Kind>(data[0] % kinds), std::string(reinterpret_cast<const char*>(data) + 1, size - 1));
  return 0;
}
