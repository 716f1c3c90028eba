// The house: folders of the core use those before them and no others.
#include <filesystem>
#include <fstream>
#include <optional>
#include <regex>

#include <gtest/gtest.h>

namespace lowkite {
namespace {

namespace fs = std::filesystem;

/// In the order of docs/architecture.md.
const std::vector<std::string> rooms{"words",   "linkage", "car",   "pose",     "measure", "stats",
                                     "threads", "load",    "boxes", "handling", "figures", "bench",
                                     "plan",    "io",      "parts", "sheets",   "log",     "advice"};

std::vector<std::string> includes_of(const fs::path& file, const std::string& of = "core") {
  const std::regex line("^\\s*#include\\s+\"" + of + "/(\\w+)/.*");
  std::vector<std::string> found;
  std::ifstream in(file);
  std::smatch part;
  for (std::string text; std::getline(in, text);)
    if (std::regex_match(text, part, line)) found.push_back(part[1]);
  return found;
}

std::size_t place_of_room(const std::string& name) {
  return at(std::find(rooms.begin(), rooms.end(), name) - rooms.begin());
}

TEST(TheHouse, EveryRoomOfTheCoreUsesOnlyThoseBeforeIt) {
  const fs::path core = fs::path(LOWKITE_SOURCE_DIR) / "core";
  int looked_at = 0;
  for (const auto& entry : fs::recursive_directory_iterator(core)) {
    const std::string ending = entry.path().extension().string();
    if (ending != ".hpp" && ending != ".cpp") continue;
    const fs::path inside = fs::relative(entry.path(), core);
    const std::string room = inside.begin()->string();
    ASSERT_LT(place_of_room(room), rooms.size()) << inside << ": a room that the architecture does not name";
    for (const std::string& used : includes_of(entry.path())) {
      ++looked_at;
      EXPECT_LE(place_of_room(used), place_of_room(room)) << inside << " includes core/" << used;
    }
  }
  EXPECT_GT(looked_at, 200);
}

/// The window's rooms; the workspaces stand side by side and do not know each other.
const std::vector<std::vector<std::string>> app_floors{{"look", "kept"},
                                                       {"words", "widgets"},
                                                       {"background", "settings", "help"},
                                                       {"document"},
                                                       {"compute"},
                                                       {"drawing", "check"},
                                                       {"paper"},
                                                       {"car", "bench", "plan", "track"},
                                                       {"grabs"}};

std::optional<std::size_t> floor_of(const std::string& name) {
  for (std::size_t i = 0; i < app_floors.size(); ++i)
    if (std::find(app_floors[i].begin(), app_floors[i].end(), name) != app_floors[i].end()) return i;
  return std::nullopt;
}

TEST(TheHouse, EveryRoomOfTheWindowUsesOnlyThoseBelowIt) {
  const fs::path app = fs::path(LOWKITE_SOURCE_DIR) / "app";
  int looked_at = 0;
  for (const auto& entry : fs::recursive_directory_iterator(app)) {
    const std::string ending = entry.path().extension().string();
    const fs::path inside = fs::relative(entry.path(), app);
    if ((ending != ".h" && ending != ".cpp") || !inside.has_parent_path()) continue;
    const std::string room = inside.begin()->string();
    const auto floor = floor_of(room);
    ASSERT_TRUE(floor) << inside << ": a room that this list does not name";
    for (const std::string& used : includes_of(entry.path(), "app")) {
      ++looked_at;
      const auto below = floor_of(used);
      ASSERT_TRUE(below) << inside << " includes app/" << used;
      EXPECT_TRUE(used == room || *below < *floor) << inside << " includes app/" << used;
    }
  }
  EXPECT_GT(looked_at, 150);
}

TEST(TheHouse, TheArchitectureNamesTheRoomsInTheirOrder) {
  std::ifstream in(fs::path(LOWKITE_SOURCE_DIR) / "docs/architecture.md");
  const std::string text((std::istreambuf_iterator<char>(in)), {});
  std::size_t at = text.find("core/ ");
  ASSERT_NE(at, std::string::npos);
  for (const std::string& room : rooms) {
    const std::size_t next = text.find("\n  " + room + "/", at);
    ASSERT_NE(next, std::string::npos) << room << " is missing, or stands before a room that it uses";
    at = next;
  }
}

TEST(TheHouse, TheCoreKnowsNoQt) {
  static const std::regex qt(R"(^\s*#include\s+<Q[A-Z]\w*>.*)");
  for (const char* folder : {"core", "calc"})
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(LOWKITE_SOURCE_DIR) / folder)) {
      if (!entry.is_regular_file()) continue;
      std::ifstream in(entry.path());
      for (std::string text; std::getline(in, text);) EXPECT_FALSE(std::regex_match(text, qt)) << entry.path();
    }
}

}  // namespace
}  // namespace lowkite
