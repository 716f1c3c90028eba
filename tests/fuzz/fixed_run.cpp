// Drives the fuzz target with a fixed number of inputs made from the shipped files by seeded damage: bytes flipped, cut
// out, doubled, digits changed, values and fields of one place put into another.
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <random>
#include <string>
#include <vector>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace {

using lowkite::Json;
using Random = std::mt19937_64;

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

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) {
    std::fputs("usage: loader_fuzz DATA_FOLDER INPUTS\n", stderr);
    return 2;
  }
  ::setenv("LOWKITE_FUZZ_DATA", argv[1], 1);
  std::vector<std::string> seeds;
  for (const char* folder : {"/cars", "/setups"})
    for (const auto& entry : std::filesystem::directory_iterator(std::string(argv[1]) + folder))
      seeds.push_back(*lowkite::read_file(entry.path()));
  Random random(20261123);
  const long inputs = std::atol(argv[2]);
  for (long i = 0; i < inputs; ++i) {
    const std::string& seed = seeds[below(random, seeds.size())];
    const std::string text = i % 2 ? damaged_text(seed, random) : damaged_document(Json::parse(seed), random);
    LLVMFuzzerTestOneInput(reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
  }
  std::printf("%ld inputs, no crash\n", inputs);
  return 0;
}
