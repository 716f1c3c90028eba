// Any figures over travel, roll, pitch or steering, as rows.
#include <iostream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "calc/inputs.hpp"
#include "core/figures/figures.hpp"
#include "core/io/json_document.hpp"
#include "core/measure/sweep.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

struct Column {
  std::string name;
  const FigureSpec* figure;
  Side side;
};

/// "roll_centre" or, of both wheels, "camber_left" and "camber_right".
std::vector<Column> columns_of(const std::vector<const FigureSpec*>& figures) {
  std::vector<Column> columns;
  for (const FigureSpec* f : figures)
    for (const Side side : both_sides) {
      if (!f->per_wheel() && side == Side::right) continue;
      columns.push_back({f->per_wheel() ? fmt::format("{}_{}", f->id, name_of(side)) : std::string(f->id), f, side});
    }
  return columns;
}

/// The figures asked for, or every one that can be drawn over an attitude on this axle.
tl::expected<std::vector<const FigureSpec*>, std::string> chosen(const SweepOptions& options, const Car& car, End end) {
  std::vector<const FigureSpec*> figures;
  std::vector<std::string_view> known;
  for (const FigureSpec& f : geometry_figures()) {
    if (f.whole_travel || !applies(f, car, end)) continue;
    known.push_back(f.id);
    if (options.figures.empty()) figures.push_back(&f);
  }
  for (const std::string& id : options.figures) {
    const FigureSpec* f = find_figure(id);
    if (!f || f->whole_travel || !applies(*f, car, end))
      return tl::unexpected(say("--figures: found {found}; allowed on the {axle} axle: {figures}", "found"_a = id,
                                "axle"_a = word(end), "figures"_a = fmt::join(known, ", ")));
    figures.push_back(f);
  }
  return figures;
}

}  // namespace

int sweep(const SweepOptions& options) {
  const auto range = parse_steps(options.range);
  if (!range || count_of(*range) > most_rows) {
    std::cerr << say(
        "--range: found {found}; allowed: A:B:STEP with B not below A, STEP above 0 and at most {most} rows\n",
        "found"_a = options.range, "most"_a = most_rows);
    return wrong_usage;
  }
  const auto both = load(options.inputs);
  if (!both) return refuse(both.error());
  const End end = options.axle == "front" ? End::front : End::rear;
  const auto figures = chosen(options, both->car, end);
  if (!figures) {
    std::cerr << figures.error() << "\n";
    return wrong_usage;
  }
  const auto model = build_model(both->car, both->setup);
  if (!model)
    return refuse({fault_of(options.inputs, "", model.error().message, say("values with which the linkage closes"))});
  SweepOver over = SweepOver::travel;
  for (const SweepSpec& s : sweep_specs())
    if (s.id == options.over) over = s.over;
  const std::vector<Column> columns = columns_of(*figures);
  const std::string x_name =
      fmt::format("{}_{}", spec_of(over).id, over == SweepOver::steer && !model->steering ? "mm" : spec_of(over).unit);
  Faults faults;
  Json rows = Json::array();
  if (options.format == Format::csv) {
    std::cout << x_name;
    for (const Column& c : columns) std::cout << ',' << c.name;
    std::cout << '\n';
  }
  FigureSource source;
  for (long i = 0; i < count_of(*range); ++i) {
    const double x = range->from + static_cast<double>(i) * range->step;
    const auto car = figures_at(*model, swept(*model, static_attitude(*model), over, x));
    if (!car) {
      faults.push_back(fault_of(options.inputs, fmt::format("{} {:g}", options.over, x), car.error().message,
                                say("a range in which the car can stand")));
      continue;
    }
    source.car = *car;
    Json row{{x_name, x}};
    std::string line = fmt::format("{:.12g}", x);
    for (const Column& c : columns) {
      const auto value = c.figure->read(source, end, c.side);
      line += value ? fmt::format(",{:.12g}", *value + 0.0) : ",";
      row[c.name] = value ? Json(*value) : Json(nullptr);
    }
    if (options.format == Format::csv)
      std::cout << line << '\n';
    else
      rows.push_back(std::move(row));
  }
  if (options.format == Format::json) std::cout << Json{{"rows", rows}}.dump(2) << "\n";
  return faults.empty() ? done : refuse(faults);
}

}  // namespace lowkite::calc
