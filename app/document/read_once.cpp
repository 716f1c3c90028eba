#include "app/document/read_once.h"

#include <algorithm>

namespace lowkite::app {

FolderContent contentOf(const std::vector<std::filesystem::path>& folders) {
  FolderContent all;
  for (const std::filesystem::path& folder : folders) {
    std::error_code missing;
    for (const auto& entry : std::filesystem::directory_iterator(folder, missing)) {
      const auto text = read_file(entry.path());
      all.emplace_back(entry.path(), text ? FileStamp::of(*text) : FileStamp{});
    }
  }
  std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  return all;
}

}  // namespace lowkite::app
