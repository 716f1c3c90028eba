// What to take along for plans, and what of it is not in the boxes.
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/advice/race_day.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/box_file.hpp"
#include "core/io/json_document.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {

tl::expected<Boxes, Faults> load_boxes(const std::string& file) {
  const auto text = read_file(file);
  if (!text) return tl::unexpected(Faults{text.error()});
  return read_boxes(*text, std::filesystem::path(file).filename().string());
}

namespace {

std::string text_of(const Car& car, const Lack& l) {
  std::string text = fmt::format("{} x {}", l.count, measured_text(l.piece));
  if (l.adjuster) text += fmt::format(" ({})", car.adjusters[l.adjuster].id);
  if (l.nearest) text += say(", nearest there: {}", full_text(*l.nearest));
  return text;
}

}  // namespace

int pack(const PackOptions& options) {
  const auto at_hand = load(options.inputs);
  if (!at_hand) return refuse(at_hand.error());
  std::vector<Setup> plans;
  for (const std::string& file : options.plans) {
    auto plan = load({options.inputs.car, file});
    if (!plan) return refuse(plan.error());
    plans.push_back(std::move(plan->setup));
  }
  std::optional<Boxes> boxes;
  if (!options.boxes.empty()) {
    auto read = load_boxes(options.boxes);
    if (!read) return refuse(read.error());
    boxes = std::move(*read);
  }
  const auto lines = packing_list(at_hand->car, at_hand->setup, plans, boxes);
  const auto buys = boxes ? what_to_buy(at_hand->car, at_hand->setup, plans, *boxes) : std::vector<Purchase>{};
  if (options.format == Format::json) {
    Json out{{"pack", Json::array()}, {"buy", Json::array()}};
    for (const PackLine& l : lines) {
      Json j{{"what", l.what}, {"count", l.count}, {"for", l.why}};
      if (l.missing) j["missing"] = *l.missing;
      out["pack"].push_back(std::move(j));
    }
    for (const Purchase& b : buys) {
      Json j{{"opens", b.opens}, {"helps", b.helps}, {"pieces", Json::array()}};
      for (const Lack& l : b.lacks) j["pieces"].push_back(text_of(at_hand->car, l));
      out["buy"].push_back(std::move(j));
    }
    std::cout << out.dump(2) << "\n";
    return 0;
  }
  for (const PackLine& l : lines) {
    const std::string there = !l.missing        ? ""
                              : *l.missing == 0 ? say("  in the boxes")
                                                : fmt::format("  {} MISSING", *l.missing);
    std::cout << fmt::format("{} x {}{}\n", l.count, l.what, there);
  }
  if (lines.empty()) std::cout << say("nothing that is not on the car already\n");
  for (const Purchase& b : buys) {
    std::string pieces;
    for (const Lack& l : b.lacks) pieces += (pieces.empty() ? "" : "; ") + text_of(at_hand->car, l);
    std::cout << say("buy or borrow {pieces}: {opened} of {plans} plans\n", "pieces"_a = pieces,
                     "opened"_a = b.opens.size(), "plans"_a = plans.size());
  }
  return 0;
}

}  // namespace lowkite::calc
