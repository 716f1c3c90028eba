// Practice: a change of this very car and a figure - does it rise, fall or stay? The model knows.
#pragma once

#include <cstdint>
#include <optional>

#include "core/figures/variant.hpp"

namespace lowkite {

enum class Guess : std::uint8_t { falls, stays, rises };

struct QuizQuestion {
  PartHandle adjuster;
  double from = 0.0, to = 0.0;
  End end = End::front;
  const FigureSpec* figure = nullptr;
  // The answer: both sides stepped, camber and toe put back, the left wheel read.
  double before = 0.0, after = 0.0;
  Setup setup;  ///< the changed one

  [[nodiscard]] Guess answer() const;
};

/// One of many; the same `seed` asks the same. Never a part that the re-set would turn back. None where nothing of the
/// car can be asked about.
std::optional<QuizQuestion> ask_about(const Car& car, const Setup& setup, std::uint32_t seed);

}  // namespace lowkite
