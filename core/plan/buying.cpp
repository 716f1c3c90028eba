#include "core/plan/buying.hpp"

#include <algorithm>
#include <limits>

namespace lowkite {
std::vector<WorthBuying> worth_buying(const Recipe& at_hand, const Recipe& with_all, const Stock& stock,
                                      std::size_t most) {
  constexpr double closer = 0.99;
  double best = std::numeric_limits<double>::infinity();
  for (const RecipeResult& r : at_hand.results) best = std::min(best, r.miss);
  std::vector<WorthBuying> list;
  if (best <= 1.0) return list;
  for (const RecipeResult& r : with_all.results) {
    if (!(r.miss < closer * best)) continue;
    auto lacks = stock.lacks(r.setup);
    if (lacks.empty()) continue;
    const auto known = std::find_if(list.begin(), list.end(), [&](const WorthBuying& w) {
      return covers(w.lacks, lacks) && covers(lacks, w.lacks);
    });
    if (known == list.end())
      list.push_back({std::move(lacks), r});
    else if (r.miss < known->result.miss)
      known->result = r;
  }
  std::stable_sort(list.begin(), list.end(), [](const WorthBuying& a, const WorthBuying& b) {
    if (a.result.meets() != b.result.meets()) return a.result.meets();
    if (a.result.meets() && pieces_in(a.lacks) != pieces_in(b.lacks)) return pieces_in(a.lacks) < pieces_in(b.lacks);
    return a.result.miss < b.result.miss;
  });
  if (list.size() > most) list.resize(most);
  return list;
}

}  // namespace lowkite
