// What was made of the files of some folders, for as long as their content stays: menus list every car each time they
// open, and to check and parse them all takes a tenth of a second.
#pragma once

#include <filesystem>
#include <optional>
#include <utility>
#include <vector>

#include "core/io/atomic_file.hpp"

namespace lowkite::app {

/// The files directly in some folders, and what stands in each.
using FolderContent = std::vector<std::pair<std::filesystem::path, FileStamp>>;
FolderContent contentOf(const std::vector<std::filesystem::path>& folders);

template <class T>
class ReadOnce {
 public:
  /// What `make()` returned for the files directly in `folders`; made anew where one came, went or was written.
  template <class Make>
  const T& get(const std::vector<std::filesystem::path>& folders, const Make& make) {
    auto now = contentOf(folders);
    if (!made_ || now != seen_) {
      made_ = make();
      seen_ = std::move(now);
    }
    return *made_;
  }

 private:
  FolderContent seen_;
  std::optional<T> made_;
};

}  // namespace lowkite::app
