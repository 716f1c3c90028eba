// What one step of every part does to a figure, ranked.
#include <iostream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "calc/inputs.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/sensitivity.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {

int sensitivity(const SensitivityOptions& options) {
  const auto both = load(options.inputs);
  if (!both) return refuse(both.error());
  const End end = options.axle == "front" ? End::front : End::rear;
  const auto s = lowkite::sensitivity(both->car, both->setup, end, !options.raw);
  if (!s) return refuse({fault_of(options.inputs, "", s.error().message, say("a setup with which the car can stand"))});
  const int figure = s->find(options.figure);
  if (figure < 0) {
    std::vector<std::string_view> known;
    for (const FigureSpec* f : s->figures) known.push_back(f->id);
    std::cerr << say("--figure: found {found}; allowed on the {axle} axle: {figures}\n", "found"_a = options.figure,
                     "axle"_a = word(end), "figures"_a = fmt::join(known, ", "));
    return wrong_usage;
  }
  const FigureSpec& f = *s->figures[at(figure)];
  Json rows = Json::array();
  for (const SensitivityRow* row : s->ranked(figure)) {
    const Adjuster& a = both->car.adjusters[row->adjuster];
    const double change = *row->change[at(figure)];
    if (options.format != Format::json) {
      std::cout << fmt::format("{:<34} {:>12} {:+.{}f} {}\n", a.name, value_to_json(a, row->value).dump(), change,
                               f.decimals + 1, symbol(f.unit));
      continue;
    }
    Json out{{"adjuster", a.id}, {"to", value_to_json(a, row->value)}, {"change", change}, {"unit", symbol(f.unit)}};
    for (std::size_t i = 0; i < s->figures.size(); ++i)
      if (row->change[i]) out["all"][std::string(s->figures[i]->id)] = *row->change[i];
    rows.push_back(std::move(out));
  }
  if (options.format == Format::json) std::cout << Json{{"figure", f.id}, {"rows", rows}}.dump(2) << "\n";
  return done;
}

}  // namespace lowkite::calc
