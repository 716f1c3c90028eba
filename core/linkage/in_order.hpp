// Tables that an enum indexes are in its order: for static_assert beside the table.
#pragma once

#include <cstddef>

namespace lowkite {

/// True when each row's `member` is the row's own index.
template <class Rows, class Member>
constexpr bool in_order(const Rows& rows, Member member) {
  for (std::size_t i = 0; i < rows.size(); ++i)
    if (at(rows[i].*member) != i) return false;
  return true;
}

}  // namespace lowkite
