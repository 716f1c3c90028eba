// Handles: which one of a list's things is meant. A handle of a part finds no point and no link, and nothing is counted
// up from it by accident.
#pragma once

#include <array>
#include <cassert>
#include <compare>
#include <concepts>
#include <cstddef>
#include <cstdint>
#include <span>
#include <type_traits>
#include <vector>

#include "core/linkage/at.hpp"

namespace lowkite {

/// Whether the places of some things have names in an enum that is a number, too, as the points of a mechanism have.
template <class Thing>
inline constexpr bool places_have_names = false;
template <class Name, class Thing>
concept PlaceName = places_have_names<Thing> && std::is_enum_v<Name> && std::convertible_to<Name, int>;

/// One of the things in a list that is kept in their order, or none.
template <class Thing>
class Handle {
 public:
  constexpr Handle() = default;  ///< none
  constexpr explicit Handle(std::size_t place) : place_(static_cast<std::int32_t>(place)) {}
  template <PlaceName<Thing> Name>
  constexpr Handle(Name name) : place_(static_cast<std::int32_t>(name)) {}

  /// True when there is one.
  constexpr explicit operator bool() const { return place_ >= 0; }
  /// Where it is in its list; there must be one.
  [[nodiscard]] constexpr std::size_t place() const {
    assert(place_ >= 0);
    return at(place_);
  }

  /// For what keeps numbers only, as an entry of a combo box does; -1: none.
  [[nodiscard]] constexpr int number() const { return place_; }
  /// And back; whatever is below nought: none.
  static constexpr Handle numbered(int number) { return number < 0 ? Handle() : Handle(at(number)); }

  friend constexpr auto operator<=>(const Handle&, const Handle&) = default;

 private:
  std::int32_t place_ = -1;
};

/// All handles of a list, in its order.
template <class Thing>
class Handles {
 public:
  class Iterator {
   public:
    constexpr explicit Iterator(std::size_t place) : place_(place) {}
    constexpr Handle<Thing> operator*() const { return Handle<Thing>(place_); }
    constexpr Iterator& operator++() {
      ++place_;
      return *this;
    }
    friend constexpr bool operator==(const Iterator&, const Iterator&) = default;

   private:
    std::size_t place_;
  };

  constexpr explicit Handles(std::size_t count) : count_(count) {}
  [[nodiscard]] constexpr Iterator begin() const { return Iterator(0); }
  [[nodiscard]] constexpr Iterator end() const { return Iterator(count_); }

 private:
  std::size_t count_;
};

/// A vector in the order of some things, which are its values unless it says otherwise; found by their handles alone.
template <class Thing, class Value = Thing>
class ListOf : public std::vector<Value> {
 public:
  using std::vector<Value>::vector;

  [[nodiscard]] typename std::vector<Value>::reference operator[](Handle<Thing> thing) {
    return std::vector<Value>::operator[](thing.place());
  }
  [[nodiscard]] typename std::vector<Value>::const_reference operator[](Handle<Thing> thing) const {
    return std::vector<Value>::operator[](thing.place());
  }
  [[nodiscard]] Handles<Thing> handles() const { return Handles<Thing>(this->size()); }
};

/// The same of a fixed number.
template <class Thing, class Value, std::size_t count>
class ArrayOf : public std::array<Value, count> {
 public:
  [[nodiscard]] constexpr Value& operator[](Handle<Thing> thing) {
    return std::array<Value, count>::operator[](thing.place());
  }
  [[nodiscard]] constexpr const Value& operator[](Handle<Thing> thing) const {
    return std::array<Value, count>::operator[](thing.place());
  }
  [[nodiscard]] constexpr Handles<Thing> handles() const { return Handles<Thing>(count); }
};

/// What is kept elsewhere, in the order of some things.
template <class Thing, class Value = Thing>
class SpanOf : public std::span<const Value> {
 public:
  using std::span<const Value>::span;
  constexpr SpanOf(std::span<const Value> all) : std::span<const Value>(all) {}

  [[nodiscard]] constexpr const Value& operator[](Handle<Thing> thing) const {
    return std::span<const Value>::operator[](thing.place());
  }
  [[nodiscard]] constexpr Handles<Thing> handles() const { return Handles<Thing>(this->size()); }
};

}  // namespace lowkite
