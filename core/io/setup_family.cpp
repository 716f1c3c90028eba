#include "core/io/setup_family.hpp"

#include <algorithm>
#include <functional>
#include <set>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/pose/pose.hpp"
#include "core/words/say.hpp"

namespace lowkite {

namespace fs = std::filesystem;

namespace {

std::set<fs::path> setup_files(const std::vector<fs::path>& folders) {
  std::set<fs::path> files;
  for (const fs::path& folder : folders) {
    std::error_code missing;
    for (const auto& entry : fs::directory_iterator(folder, missing))
      if (entry.path().filename().string().ends_with(".kite-setup.json"))
        files.insert(fs::weakly_canonical(entry.path()));
  }
  return files;
}

std::vector<FamilyMember> found_in(const Car& car, const std::vector<fs::path>& folders) {
  std::vector<FamilyMember> all;
  for (const fs::path& path : setup_files(folders))
    if (auto file = load_setup(path, car)) all.push_back({std::move(file->setup), path});
  std::stable_sort(all.begin(), all.end(),
                   [](const FamilyMember& x, const FamilyMember& y) { return x.setup.name < y.setup.name; });
  return all;
}

/// Runs `each(path, text)` over the files that say they are for the car.
template <typename Each>
void each_setup_for(const std::string& car_id, const std::vector<fs::path>& folders, const Each& each) {
  for (const fs::path& path : setup_files(folders)) {
    const auto text = read_file(path);
    const auto id = text ? car_id_of_setup(*text, path.filename().string()) : tl::unexpected(Faults{});
    if (id && *id == car_id) each(path, *text);
  }
}

}  // namespace

CopiedSetups copied_setups(const Car& from, const Car& to, const std::vector<fs::path>& folders) {
  CopiedSetups copied;
  each_setup_for(from.id, folders, [&](const fs::path& path, const std::string& text) {
    const std::string file = path.filename().string();
    const auto read = read_setup(text, file, from);
    if (!read) {
      copied.left.push_back(read.error().front());
      return;
    }
    const Setup setup = carried_over(from, read->setup, to);
    if (const auto model = build_model(to, setup); !model) {
      copied.left.push_back({file, "values", model.error().message, say("values with which the linkage closes")});
      return;
    }
    copied.fit.push_back({setup.name, to.id + "-" + file, write_setup(setup, to, read->source)});
  });
  return copied;
}

Faults setups_that_do_not_fit(const Car& car, const std::vector<fs::path>& folders) {
  Faults left;
  each_setup_for(car.id, folders, [&](const fs::path& path, const std::string& text) {
    if (const auto read = read_setup(text, path.filename().string(), car); !read) left.push_back(read.error().front());
  });
  return left;
}

std::vector<FamilyMember> setup_family(const Car& car, const std::vector<fs::path>& folders) {
  const std::vector<FamilyMember> found = found_in(car, folders);
  const auto parent_of = [&](std::size_t i) {
    for (std::size_t k = 0; k < found.size(); ++k)
      if (k != i && found[k].setup.name == found[i].setup.based_on) return static_cast<int>(k);
    return -1;
  };
  std::vector<int> parents;
  for (std::size_t i = 0; i < found.size(); ++i) parents.push_back(parent_of(i));
  // A ring of setups based on each other is opened where it is met first.
  for (std::size_t i = 0; i < found.size(); ++i) {
    std::size_t steps = 0;
    for (int up = parents[i]; up >= 0 && steps <= found.size(); up = parents[at(up)]) ++steps;
    if (steps > found.size()) parents[i] = -1;
  }
  std::vector<FamilyMember> family{{kit_setup(car), {}}};
  const std::function<void(int, int, int)> add_children = [&](int of, int at, int depth) {
    for (std::size_t i = 0; i < found.size(); ++i) {
      if (parents[i] != of) continue;
      family.push_back(found[i]);
      family.back().parent = at;
      family.back().depth = depth;
      add_children(static_cast<int>(i), static_cast<int>(family.size()) - 1, depth + 1);
    }
  };
  add_children(-1, 0, 1);
  return family;
}

std::vector<int> line_to(const std::vector<FamilyMember>& family, int member) {
  std::vector<int> line;
  for (int i = member; i >= 0; i = family[at(i)].parent) line.push_back(i);
  std::reverse(line.begin(), line.end());
  return line;
}

}  // namespace lowkite
