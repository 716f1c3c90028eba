// What is wrong with an input, in words a racer understands: which file, which field, what is wrong, what is allowed.
#pragma once

#include <string>
#include <vector>

namespace lowkite {

struct Fault {
  std::string file;
  std::string place;    ///< "axles > front > points > link_inner"; empty: the file as a whole
  std::string wrong;    ///< what was found
  std::string allowed;  ///< what would be right

  /// One line: "file: place: wrong; allowed: ...".
  [[nodiscard]] std::string line() const;
  bool operator==(const Fault&) const = default;
};

using Faults = std::vector<Fault>;

/// Joins the steps of a path as people read them.
std::string place_of(const std::vector<std::string>& steps);

}  // namespace lowkite
