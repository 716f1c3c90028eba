// Fuzz target for the loaders, in libFuzzer's form: whatever the bytes, the loader answers with a car, a setup or
// faults. With clang: clang++ -fsanitize=fuzzer,address ... ; here `fixed_run.cpp` drives it for a fixed number of
// inputs.
#include <cstddef>
#include <cstdint>
#include <cstdlib>

#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/tyre_file.hpp"
#include "core/plan/comparison.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace lowkite;
  const std::string text(reinterpret_cast<const char*>(data), size);
  if (const auto car = read_car(text, "fuzz.kite-car.json")) {
    // What was accepted must also work.
    const Setup kit = kit_setup(*car);
    const auto v = evaluate(*car, kit, {}, 3);
    if (!v) std::abort();
    if (!read_setup(write_setup(kit, *car, {}), "again", *car)) std::abort();
  } else if (car.error().empty()) {
    std::abort();
  }
  static const auto known = load_car(std::string(std::getenv("LOWKITE_FUZZ_DATA")) + "/cars/heron-tc190.kite-car.json");
  if (!known) std::abort();
  if (const auto file = read_setup(text, "fuzz.kite-setup.json", *known)) {
    if (!read_setup(write_setup(file->setup, *known, file->source), "again", *known)) std::abort();
    (void)evaluate(*known, file->setup, {}, 3);
  }
  if (const auto tyres = read_tyres(text, "fuzz.json")) {
    if (!read_tyres(write_tyres(tyres->families), "again")) std::abort();
    for (const TyreFamily& f : tyres->families) (void)draw_tyres(f, 4);
  }
  return 0;
}
