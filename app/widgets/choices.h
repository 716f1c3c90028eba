// How wide a field of choices has to be.
#pragma once

#include <algorithm>

#include <QComboBox>

namespace lowkite::app {

/// px in which the longest of its choices is whole, arrow included; at most `most`.
inline int widthOfChoices(const QComboBox& box, int most = 300) {
  int longest = 0;
  for (int i = 0; i < box.count(); ++i)
    longest = std::max(longest, box.fontMetrics().horizontalAdvance(box.itemText(i)));
  return std::min(most, longest + 30);
}

}  // namespace lowkite::app
