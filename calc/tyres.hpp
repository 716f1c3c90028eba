// What the driver feels is told over tyres: which ones, and how a wish is written.
#pragma once

#include <string>

#include "calc/commands.hpp"
#include "core/io/fault.hpp"
#include "core/plan/wishes.hpp"

namespace lowkite::calc {

struct Tyres {
  TyreFamily family;
  std::vector<TyreDraw> draws;
};
/// Fails with what is wrong with the files, or with the families that there are.
tl::expected<Tyres, Faults> tyres_of(const TyreOptions& options);

/// Whether a text is about what the driver feels rather than about a figure: front_left@entry=more.
bool is_wish(const std::string& text);
/// Fails with what is allowed in it.
tl::expected<HandlingWish, std::string> wish_of(const std::string& text);

Json json_of(const Spread& spread);
Json json_of(const HandlingDifference& difference);

}  // namespace lowkite::calc
