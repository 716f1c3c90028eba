// Where a thing lies in a list: a value of an enumeration, or a number that is known not to be negative.
#pragma once

#include <cassert>
#include <concepts>
#include <cstddef>
#include <type_traits>

namespace lowkite {

template <class Named>
requires std::is_enum_v<Named>
constexpr std::size_t at(Named value) {
  return static_cast<std::size_t>(value);
}

template <std::signed_integral Number>
constexpr std::size_t at(Number place) {
  assert(place >= 0);
  return static_cast<std::size_t>(place);
}

}  // namespace lowkite
