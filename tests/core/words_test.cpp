// What is said in another language: places filled in, numbers of things, a translator's slips, and a catalogue of
// gettext from its text to what the shell is told.
#include <array>
#include <cstdio>
#include <cstdlib>
#include <fstream>

#include <gtest/gtest.h>
#include <unistd.h>

#include "core/car/car.hpp"
#include "core/figures/figures.hpp"
#include "core/io/fault.hpp"
#include "core/words/catalogue.hpp"

namespace lowkite {
namespace {

/// Knows a few texts, and one of them wrongly.
class Few : public Language {
 public:
  [[nodiscard]] std::string of(const std::string& english) const override {
    if (english == "{part} of {axle}") return "{axle}: {part}";
    if (english == "{angle:.{decimals}f} {way}") return "{way} {angle:.{decimals}f}";
    if (english == "{part} of that {axle}") return "{axel}: {part}";
    if (english == "front") return "vorn";
    if (english == "the {} axle") return "die Achse {}";
    if (english == "{} is too long") return "{} ist {} zu lang";
    if (english == "{} is too short") return "{ ist zu kurz";
    return english;
  }
  [[nodiscard]] std::string of(const std::string& one, const std::string& many, unsigned long n) const override {
    // As Polish has it: one, two to four, and more.
    if (many != "{} laps") return n == 1 ? one : many;
    return n == 1                                                         ? "{} okrążenie"
           : n % 10 >= 2 && n % 10 <= 4 && (n % 100 < 10 || n % 100 > 20) ? "{} okrążenia"
                                                                          : "{} okrążeń";
  }
};

class Words : public testing::Test {
 protected:
  void TearDown() override { speak(nullptr); }
};

TEST_F(Words, AreEnglishWithoutALanguage) {
  EXPECT_EQ(say("{part} of {axle}", "part"_a = "tower", "axle"_a = 2), "tower of 2");
  EXPECT_EQ(say("the {} axle", word(End::front)), "the front axle");
  EXPECT_EQ(say_counted(1, "{} lap", "{} laps", 1), "1 lap");
  EXPECT_EQ(say_counted(3, "{} lap", "{} laps", 3), "3 laps");
  EXPECT_EQ(word(""), "");
}

TEST_F(Words, StandInTheOrderOfTheLanguage) {
  speak(std::make_unique<Few>());
  EXPECT_EQ(say("{part} of {axle}", "part"_a = "tower", "axle"_a = word(End::front)), "vorn: tower");
  EXPECT_EQ(say("{angle:.{decimals}f} {way}", "angle"_a = 1.25, "decimals"_a = 1, "way"_a = "in"), "in 1.2");
  EXPECT_EQ(say("the {} axle", word(End::front)), "die Achse vorn");
  EXPECT_EQ(say("the {} axle", word(End::rear)), "die Achse rear") << "what a language does not know stays English";
}

TEST_F(Words, AreCountedAsTheLanguageCounts) {
  speak(std::make_unique<Few>());
  EXPECT_EQ(say_counted(1, "{} lap", "{} laps", 1), "1 okrążenie");
  EXPECT_EQ(say_counted(3, "{} lap", "{} laps", 3), "3 okrążenia");
  EXPECT_EQ(say_counted(12, "{} lap", "{} laps", 12), "12 okrążeń");
}

TEST_F(Words, OfASlipAreSaidInEnglish) {
  speak(std::make_unique<Few>());
  EXPECT_EQ(say("{} is too long", "link"), "link is too long") << "a place more than there are arguments";
  EXPECT_EQ(say("{} is too short", "link"), "link is too short") << "a place that does not end";
  EXPECT_EQ(say("{part} of that {axle}", "part"_a = "tower", "axle"_a = 2), "tower of that 2") << "no such place";
}

TEST_F(Words, ThatFilesKeepStayAsTheyAre) {
  speak(std::make_unique<Few>());
  EXPECT_EQ(name_of(End::front), "front");
  for (const FigureSpec& f : geometry_figures()) EXPECT_EQ(find_figure(f.id), &f);
}

std::string output_of(const std::string& command) {
  std::string text;
  FILE* from = popen(command.c_str(), "r");
  std::array<char, 4096> piece{};
  while (from && std::fgets(piece.data(), static_cast<int>(piece.size()), from)) text += piece.data();
  if (from) pclose(from);
  return text;
}

// A catalogue as a translator leaves it, compiled as the build does it.
TEST_F(Words, ComeFromACatalogue) {
  const std::filesystem::path folder =
      std::filesystem::temp_directory_path() / ("lowkite-words-" + std::to_string(::getpid()));
  const std::filesystem::path messages = folder / "de" / "LC_MESSAGES";
  std::filesystem::create_directories(messages);
  std::ofstream(folder / "de.po") << "msgid \"\"\nmsgstr \"Content-Type: text/plain; charset=UTF-8\\n\""
                                     "\"Plural-Forms: nplurals=2; plural=(n != 1);\\n\"\n\n"
                                     "msgid \"the {} axle\"\nmsgstr \"die Achse {}\"\n\n"
                                     "msgid \"front\"\nmsgstr \"vorn\"\n\n"
                                     "msgid \"{} lap\"\nmsgid_plural \"{} laps\"\n"
                                     "msgstr[0] \"{} Runde\"\nmsgstr[1] \"{} Runden\"\n";
  ASSERT_EQ(output_of("msgfmt --check-format -o " + (messages / "lowkite.mo").string() + " " +
                      (folder / "de.po").string() + " 2>&1"),
            "");
  const char* before = std::getenv("LANGUAGE");
  const std::string kept = before ? before : "";
  ::setenv("LANGUAGE", "de", 1);
  ::setenv("LC_ALL", "C.UTF-8", 1);
  speak(catalogue(folder));
  EXPECT_EQ(say("the {} axle", word(End::front)), "die Achse vorn");
  EXPECT_EQ(say_counted(1, "{} lap", "{} laps", 1), "1 Runde");
  EXPECT_EQ(say_counted(2, "{} lap", "{} laps", 2), "2 Runden");
  EXPECT_EQ(word(""), "") << "not the catalogue's own heading";
  ::setenv("LANGUAGE", kept.c_str(), 1);
  ::unsetenv("LC_ALL");
  std::filesystem::remove_all(folder);
}

}  // namespace
}  // namespace lowkite
