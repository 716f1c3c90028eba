#include "core/boxes/stock.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

namespace lowkite {
namespace {

int thousandths(double mm) {
  return static_cast<int>(std::lround(1000.0 * mm));
}

bool same(double a, double b) {
  return std::abs(a - b) < 1e-9;
}

}  // namespace

bool same_piece(const Lack& a, const Lack& b) {
  return a.piece.part == b.piece.part && alike(a.piece, b.piece);
}

bool covers(const std::vector<Lack>& bought, const std::vector<Lack>& wanted) {
  return std::all_of(wanted.begin(), wanted.end(), [&](const Lack& w) {
    return std::any_of(bought.begin(), bought.end(),
                       [&](const Lack& b) { return same_piece(b, w) && b.count >= w.count; });
  });
}

int pieces_in(const std::vector<Lack>& lacks) {
  int n = 0;
  for (const Lack& l : lacks) n += l.count;
  return n;
}

Stock::Stock(const Boxes& boxes, const Car& car, const Setup& on_the_car) : car_(car), on_the_car_(on_the_car) {
  for (const BoxItem& i : boxes.items)
    if (i.fits(car)) items_.push_back(i);
  entry_of_.resize(car.adjusters.size());
  for (const PartHandle adjuster : car.adjusters.handles()) {
    const auto place = box_place(car, adjuster);
    pieces_.push_back(place ? pieces_for(car, adjuster) : 0);
    if (!place) continue;
    std::vector<const BoxItem*> mine;
    for (const BoxItem& i : items_)
      if (goes_into(i, car, adjuster)) mine.push_back(&i);
    if (mine.empty()) continue;
    if (place->kind == BoxKind::shim) {
      const std::string& id = car.adjusters[adjuster].id;
      const bool bound = std::any_of(mine.begin(), mine.end(), [&](const BoxItem* i) { return i->part == id; });
      Shims& pool = bound ? bound_[adjuster] : loose_;
      if (!bound && pool.counted) continue;
      pool.counted = true;
      for (const BoxItem* i : mine)
        if (!bound || i->part == id) pool.in_box[thousandths(i->value)] += i->count;
      continue;
    }
    const auto& list = car.adjusters[adjuster].positions()->list;
    for (std::size_t p = 0; p < list.size(); ++p) {
      BoxItem piece = piece_at(car, adjuster, static_cast<int>(p));
      if (is_nothing(piece)) {
        entry_of_[adjuster].push_back(-1);
        continue;
      }
      // What only this part may take is a heap of its own.
      const bool own = std::any_of(mine.begin(), mine.end(), [&](const BoxItem* i) { return !i->part.empty(); });
      if (own) piece.part = car.adjusters[adjuster].id;
      int found = -1;
      double nearest = 1.0;
      for (std::size_t e = 0; e < entries_.size(); ++e) {
        const auto d = entries_[e].piece.part == piece.part ? apart(entries_[e].piece, piece) : std::nullopt;
        if (d && *d <= nearest) {
          nearest = *d;
          found = static_cast<int>(e);
        }
      }
      if (found < 0) {
        found = static_cast<int>(entries_.size());
        entries_.push_back(
            {std::move(piece), 0, place->kind == BoxKind::shock_oil || place->kind == BoxKind::differential_oil});
      }
      entry_of_[adjuster].push_back(found);
    }
  }
  // Each item to the one entry that it is: the nearest of those that it is alike.
  for (const BoxItem& i : items_) {
    Entry* best = nullptr;
    double nearest = 1.0;
    for (const PartHandle k : entry_of_.handles()) {
      if (entry_of_[k].empty() || !goes_into(i, car, k)) continue;
      for (const int e : entry_of_[k]) {
        if (e < 0) continue;
        Entry& entry = entries_[at(e)];
        if (entry.piece.part != i.part) continue;
        const auto d = apart(entry.piece, i);
        if (d && *d <= nearest && (!best || *d < nearest)) {
          nearest = *d;
          best = &entry;
        }
      }
    }
    if (best) best->in_box += i.count;
  }
}

bool Stock::counts(PartHandle adjuster) const {
  return !entry_of_[adjuster].empty() || pool_of(adjuster);
}

int Stock::entry_at(PartHandle adjuster, double value) const {
  const auto& entries = entry_of_[adjuster];
  if (entries.empty()) return -1;
  return entries[static_cast<std::size_t>(
      std::clamp<long>(std::lround(value), 0, static_cast<long>(entries.size()) - 1))];
}

const Stock::Shims* Stock::pool_of(PartHandle adjuster) const {
  const Adjuster& a = car_.adjusters[adjuster];
  if (a.kind != AdjusterKind::shim_stack) return nullptr;
  if (const auto found = bound_.find(adjuster); found != bound_.end()) return &found->second;
  return loose_.counted && !a.range()->moves_per_unit.empty() ? &loose_ : nullptr;
}

std::vector<double> Stock::stack(PartHandle adjuster, double thickness) const {
  return shims_for(thickness, car_.adjusters[adjuster].range()->shims_mm);
}

void Stock::add_moves(PartHandle adjuster, const Setting& to, std::vector<Move>& moves) const {
  const int pieces = pieces_[adjuster];
  const Setting& now = on_the_car_.of(adjuster);
  if (pieces > 0 && !same(now.left, to.left)) moves.push_back({adjuster, now.left, to.left});
  if (pieces > 1 && !same(now.right, to.right)) moves.push_back({adjuster, now.right, to.right});
}

std::vector<Stock::Move> Stock::moves_of(const std::vector<PartChange>& changes) const {
  std::vector<Move> moves;
  for (const PartChange& c : changes) add_moves(c.adjuster, {c.to, c.to}, moves);
  return moves;
}

std::vector<Stock::Move> Stock::moves_of(const Setup& wanted) const {
  std::vector<Move> moves;
  for (const PartHandle part : pieces_.handles()) add_moves(part, wanted.of(part), moves);
  return moves;
}

std::vector<int> Stock::wanted_pieces(const std::vector<Move>& moves) const {
  std::vector<int> wanted(entries_.size(), 0);
  for (const Move& m : moves) {
    if (const int e = entry_at(m.adjuster, m.to); e >= 0) ++wanted[at(e)];
    // What was in a shock is no bottle.
    if (const int e = entry_at(m.adjuster, m.from); e >= 0 && !entries_[at(e)].bottle) --wanted[at(e)];
  }
  // One bottle fills every shock.
  for (std::size_t e = 0; e < entries_.size(); ++e)
    if (entries_[e].bottle) wanted[e] = std::min(wanted[e], 1);
  return wanted;
}

bool Stock::shims_make(const Shims& pool, const std::vector<Move>& moves) const {
  std::map<int, int> have = pool.in_box;
  std::vector<int> stacks;
  int total = 0;
  for (const Move& m : moves) {
    if (pool_of(m.adjuster) != &pool) continue;
    for (const double shim : stack(m.adjuster, m.from)) ++have[thousandths(shim)];
    if (m.to > 0.0) stacks.push_back(thousandths(m.to));
    total += thousandths(m.to);
  }
  int all = 0;
  std::vector<std::pair<int, int>> heaps;  // thickest first
  for (auto h = have.rbegin(); h != have.rend(); ++h)
    if (h->second > 0 && h->first > 0) {
      heaps.emplace_back(h->first, h->second);
      all += h->first * h->second;
    }
  if (total > all) return false;
  std::sort(stacks.rbegin(), stacks.rend());
  // Thickest shims first, and back where they do not work out; what was left over when a stack was begun is never
  // tried twice.
  std::set<std::pair<std::size_t, std::vector<std::pair<int, int>>>> in_vain;
  const auto make = [&](const auto& self, std::size_t s, int rest, std::size_t from) -> bool {
    if (rest == 0) {
      if (++s == stacks.size()) return true;
      if (in_vain.contains({s, heaps})) return false;
      if (self(self, s, stacks[s], 0)) return true;
      in_vain.insert({s, heaps});
      return false;
    }
    for (std::size_t h = from; h < heaps.size(); ++h) {
      if (heaps[h].first > rest || heaps[h].second == 0) continue;
      --heaps[h].second;
      if (self(self, s, rest - heaps[h].first, h)) return true;
      ++heaps[h].second;
    }
    return false;
  };
  return stacks.empty() || make(make, 0, stacks.front(), 0);
}

bool Stock::makes_moves(const std::vector<Move>& moves) const {
  if (std::none_of(moves.begin(), moves.end(), [&](const Move& m) { return counts(m.adjuster); })) return true;
  const std::vector<int> wanted = wanted_pieces(moves);
  for (std::size_t e = 0; e < entries_.size(); ++e)
    if (wanted[e] > entries_[e].in_box) return false;
  if (loose_.counted && !shims_make(loose_, moves)) return false;
  return std::all_of(bound_.begin(), bound_.end(), [&](const auto& b) { return shims_make(b.second, moves); });
}

bool Stock::makes(const std::vector<PartChange>& changes) const {
  return makes_moves(moves_of(changes));
}
bool Stock::makes(const Setup& wanted) const {
  return makes_moves(moves_of(wanted));
}

bool Stock::may_have(PartHandle adjuster, double value, const std::vector<PartHandle>& given_up) const {
  const int e = entry_at(adjuster, value);
  if (e < 0) return true;
  const Entry& entry = entries_[at(e)];
  if (entry.bottle) return entry.in_box > 0;
  int have = entry.in_box;
  for (const PartHandle other : given_up) {
    const int pieces = pieces_[other];
    const Setting& now = on_the_car_.of(other);
    have += (pieces > 0 && entry_at(other, now.left) == e) + (pieces > 1 && entry_at(other, now.right) == e);
  }
  std::vector<Move> moves;
  add_moves(adjuster, {value, value}, moves);
  return static_cast<int>(moves.size()) <= have;
}

std::vector<Lack> Stock::lacks_of(const std::vector<Move>& moves) const {
  std::vector<Lack> lacks;
  if (makes_moves(moves)) return lacks;
  const std::vector<int> wanted = wanted_pieces(moves);
  for (std::size_t e = 0; e < entries_.size(); ++e) {
    const Entry& entry = entries_[e];
    if (wanted[e] <= entry.in_box) continue;
    Lack lack;
    lack.piece = entry.piece;
    lack.count = wanted[e] - entry.in_box;
    for (const Move& m : moves)
      if (!lack.adjuster && entry_at(m.adjuster, m.to) == static_cast<int>(e)) {
        lack.adjuster = m.adjuster;
        lack.piece.label = car_.adjusters[m.adjuster].positions()->list[at(std::lround(m.to))].label;
      }
    double nearest = std::numeric_limits<double>::infinity();
    for (const BoxItem& i : items_) {
      if (i.count < 1 || !lack.adjuster || !goes_into(i, car_, lack.adjuster)) continue;
      if (const auto d = apart(i, entry.piece); d && *d > 1.0 && *d < nearest) {
        nearest = *d;
        lack.nearest = i;
      }
    }
    lacks.push_back(std::move(lack));
  }
  const auto shims = [&](const Shims& pool) {
    if (!pool.counted || shims_make(pool, moves)) return;
    std::map<int, int> missing;
    for (const Move& m : moves) {
      if (pool_of(m.adjuster) != &pool) continue;
      for (const double shim : stack(m.adjuster, m.to)) ++missing[thousandths(shim)];
      for (const double shim : stack(m.adjuster, m.from)) --missing[thousandths(shim)];
    }
    for (const auto& [size, n] : missing) {
      const auto had = pool.in_box.find(size);
      const int short_of = n - (had == pool.in_box.end() ? 0 : had->second);
      if (short_of <= 0) continue;
      Lack lack;
      lack.piece.kind = BoxKind::shim;
      lack.piece.value = size / 1000.0;
      lack.count = short_of;
      lacks.push_back(std::move(lack));
    }
  };
  shims(loose_);
  for (const auto& [adjuster, pool] : bound_) {
    const std::size_t before = lacks.size();
    shims(pool);
    for (std::size_t i = before; i < lacks.size(); ++i) {
      lacks[i].adjuster = adjuster;
      lacks[i].piece.part = car_.adjusters[adjuster].id;
    }
  }
  return lacks;
}

std::vector<Lack> Stock::lacks(const std::vector<PartChange>& changes) const {
  return lacks_of(moves_of(changes));
}
std::vector<Lack> Stock::lacks(const Setup& wanted) const {
  return lacks_of(moves_of(wanted));
}

}  // namespace lowkite
