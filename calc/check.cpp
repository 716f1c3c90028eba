// What cannot be right about a car as it is set up.
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/io/json_document.hpp"
#include "core/plan/car_check.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {

int check(const Inputs& inputs, Format format) {
  const auto both = load(inputs);
  if (!both) return refuse(both.error());
  const auto findings = check_car(both->car, both->setup);
  int status = done;
  Json all = Json::array();
  for (const Finding& f : findings) {
    const bool wrong = f.severity == Severity::wrong;
    if (wrong) status = wrong_input;
    if (format == Format::json) {
      const std::string where =
          f.side ? fmt::format("{} {}", name_of(f.end), name_of(*f.side)) : std::string(name_of(f.end));
      all.push_back(
          {{"severity", wrong ? "wrong" : "doubtful"}, {"where", where}, {"what", f.what}, {"remedy", f.remedy}});
    } else {
      const std::string where = f.side ? fmt::format("{} {}", word(f.end), word(*f.side)) : word(f.end);
      std::cout << fmt::format("{}: {}: {}; {}\n", wrong ? say("wrong") : say("doubtful"), where, f.what, f.remedy);
    }
  }
  if (format == Format::json) std::cout << Json{{"findings", all}}.dump(2) << "\n";
  if (format != Format::json && findings.empty()) std::cout << say("nothing speaks against it\n");
  return status;
}

}  // namespace lowkite::calc
