#include "core/plan/search.hpp"

#include <algorithm>

namespace lowkite {

std::uint64_t candidates_in(const Car& car, const Setup& start, const SearchSpace& space) {
  // Sums of products of the numbers of values: the elementary symmetric polynomials, by their recursion.
  std::vector<std::uint64_t> ways(static_cast<std::size_t>(std::max(0, space.most_parts)) + 1, 0);
  ways[0] = 1;
  for (const int part : space.parts) {
    const std::uint64_t n =
        car.adjusters[static_cast<std::size_t>(part)].values_besides(start.at_index(part).left).size();
    for (std::size_t k = ways.size() - 1; k > 0; --k) ways[k] += n * ways[k - 1];
  }
  std::uint64_t sum = 0;
  for (std::size_t k = 1; k < ways.size(); ++k) sum += ways[k];
  return sum;
}

double miss_of(const std::vector<AimRange>& aims, const std::vector<double>& figures) {
  double squares = 0.0;
  for (std::size_t i = 0; i < aims.size(); ++i)
    if (!aims[i].hold) squares += std::pow((figures[i] - aims[i].value) / aims[i].tolerance, 2);
  return std::sqrt(squares);
}

bool keeps_what_is_held(const std::vector<AimRange>& aims, const std::vector<double>& figures) {
  for (std::size_t i = 0; i < aims.size(); ++i)
    if (aims[i].hold && !(std::abs(figures[i] - aims[i].value) <= aims[i].tolerance)) return false;
  return true;
}

bool Found::operator<(const Found& other) const {
  if (key() != other.key()) return key() < other.key();
  return std::lexicographical_compare(changes.begin(), changes.end(), other.changes.begin(), other.changes.end(),
                                      [](const RecipeChange& a, const RecipeChange& b) {
                                        return std::pair(a.adjuster, a.to) < std::pair(b.adjuster, b.to);
                                      });
}

}  // namespace lowkite
