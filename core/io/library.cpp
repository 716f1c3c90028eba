#include "core/io/library.hpp"

#include <algorithm>
#include <cstdlib>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"

namespace lowkite {

namespace fs = std::filesystem;

std::optional<fs::path> find_car_file(const std::string& car_id, const std::vector<fs::path>& folders) {
  for (const fs::path& folder : folders) {
    std::error_code ec;
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(folder, ec))
      if (entry.path().filename().string().ends_with(".kite-car.json")) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const fs::path& file : files) {
      const auto text = read_file(file);
      if (!text) continue;
      const auto document = parse_json(*text, file.string());
      if (document && document->is_object() && document->value("id", Json()) == Json(car_id)) return file;
    }
  }
  return std::nullopt;
}

std::vector<fs::path> car_folders_for(const fs::path& setup_file, const fs::path& data) {
  const fs::path here = fs::absolute(setup_file).parent_path();
  return {here, here.parent_path() / "cars", data / "cars"};
}

fs::path data_folder() {
  if (const char* set = std::getenv("LOWKITE_DATA")) return set;
  std::error_code ec;
  const fs::path installed = fs::read_symlink("/proc/self/exe", ec).parent_path().parent_path() / "share" / "lowkite";
  if (!ec && fs::exists(installed / "cars", ec)) return installed;
  // Without /proc, as in a bare root, it is found where the package puts it.
  if (ec && fs::exists("/usr/share/lowkite/cars", ec)) return "/usr/share/lowkite";
  return LOWKITE_SOURCE_DATA;
}

}  // namespace lowkite
