// Tables for spreadsheets: RFC 4180's rules of quoting, and setups there and back.
#include <gtest/gtest.h>

#include "core/io/csv.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_table.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

TEST(Csv, FollowsRfc4180) {
  // RFC 4180, section 2, rules 5 to 7: quotes, line breaks and commas inside quotes, a doubled quote for one.
  const CsvRows rows = parse_csv("aaa,\"b \r\nbb\",ccc\r\nzzz,\"y\"\"y\",\"x,x\"\r\n", ',');
  EXPECT_EQ(rows, (CsvRows{{"aaa", "b \r\nbb", "ccc"}, {"zzz", "y\"y", "x,x"}}));
  std::string text;
  for (const auto& row : rows) text += csv_row(row);
  EXPECT_EQ(parse_csv(text, ','), rows);
}

TEST(Csv, TakesWhatSpreadsheetsWrite) {
  EXPECT_EQ(csv_delimiter("a;b;c\n1,5;2;3"), ';');
  EXPECT_EQ(csv_delimiter("a\tb"), '\t');
  EXPECT_EQ(csv_delimiter("a,b\nx;y;z;w"), ',');
  EXPECT_EQ(csv_delimiter("\"a,b,c\";d"), ';') << "1,5 in a field parts nothing";
  EXPECT_EQ(parse_csv("\xEF\xBB\xBFname,lap\n\n,,\nx,1", ','), (CsvRows{{"name", "lap"}, {"x", "1"}}));
  EXPECT_TRUE(parse_csv("", ',').empty());
}

TEST(Csv, AFormulaIsWrittenSoThatNoSpreadsheetRunsIt) {
  const std::vector<std::string> row{"=1+1",     "+SUM(A1)", "-cmd|x", "@x", "\tx",  "-0.5", "+2",  "1e5",
                                     "'=quoted", "plain",    "'",      "",   "-inf", "-nan", "+inf"};
  const std::string text = csv_row(row);
  for (const char* run : {"'=1+1", "'+SUM(A1)", "'-cmd|x", "'@x", "'-inf", "'-nan"})
    EXPECT_NE(text.find(run), std::string::npos) << run;
  EXPECT_EQ(text.find("'-0.5"), std::string::npos) << "a number stays a number";
  EXPECT_EQ(parse_csv(text, ','), (CsvRows{row})) << "and comes back as it was";
}

TEST(Csv, ATableFromAnOldSpreadsheetIsReadInItsOwnLetters) {
  const Car car = touring();
  CarSetup s = kit_setup(car);
  s.name = "Gr\xC3\xBCn";
  std::string text = write_setup_table(s, car);
  text.replace(text.find("\xC3\xBC"), 2, "\xFC");  // Windows-1252
  const auto back = read_setup_table(text, "old.csv", car);
  ASSERT_TRUE(back);
  EXPECT_EQ(back->setup.name, s.name);
}

class SetupTable : public testing::Test {
 protected:
  Car car_ = touring();
};

TEST_F(SetupTable, ComesBackAsItWas) {
  CarSetup s = kit_setup(car_);
  s.name = "Wet, \"Sunday\"";
  s.notes = "two\nlines";
  note(s, "Body, wing", "low; flat");
  note(s, "=odd", "-12");
  s.ride_height_mm = {5.25, 5.75};
  s.of(car_.find_adjuster("front_camber_link")) = {0.125, -0.25};
  s.of(car_.find_adjuster("rear_shock_upper_hole")) = {2.0, 2.0};
  const auto back = read_setup_table(write_setup_table(s, car_), "t.csv", car_);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->setup, s);
  EXPECT_TRUE(back->left_out.empty());
}

TEST_F(SetupTable, ReadsDecimalCommasAndColumnsInAnyOrder) {
  const auto s = read_setup_table("left;part;comment\n2,5;front_link_inner_shims;more\n", "t.csv", car_);
  ASSERT_TRUE(s) << s.error().front().line();
  const PartHandle i = car_.find_adjuster("front_link_inner_shims");
  EXPECT_EQ(s->setup.of(i), (Setting{2.5, 2.5}));
  EXPECT_EQ(s->setup.of(car_.find_adjuster("rear_arm_shims")),
            kit_setup(car_).of(car_.find_adjuster("rear_arm_shims")));
}

TEST_F(SetupTable, SaysEveryFault) {
  const auto headless = read_setup_table("a,b\n1,2\n", "t.csv", car_);
  ASSERT_FALSE(headless);
  EXPECT_EQ(headless.error().front().place, "the heading");
  const auto wrong = read_setup_table(
      "part,left,right\nno_such_part,1,1\nfront_link_inner_shims,much,2\nride_height_mm,tall,\n", "t.csv", car_);
  ASSERT_FALSE(wrong);
  for (const Fault& f : wrong.error()) EXPECT_EQ(f.file, "t.csv");
  EXPECT_FALSE(read_setup_table("", "t.csv", car_));
}

// What is known is taken; what is not is listed with its row, and what parts of another car were stays readable.
TEST_F(SetupTable, TakesWhatItKnowsAndListsTheRest) {
  const auto read = read_setup_table(
      "part,name,axle,left,right\n"
      "name,,,From afar,\n"
      "wing,Wing angle,,3,\n"
      "front_link_inner_shims,Shims,front,1.3,1\n"
      "rear_link_inner_shims,Shims,rear,1,1\n"
      "ride_height_mm,,front,tall,\n"
      "ride_height_mm,,rear,5.5,5.5\n",
      "t.csv", car_);
  ASSERT_TRUE(read) << read.error().front().line();
  EXPECT_EQ(read->setup.name, "From afar");
  EXPECT_EQ(read->setup.ride_height_mm[1], 5.5);
  EXPECT_EQ(read->setup.ride_height_mm[0], car_.kit_ride_height_mm[0]);
  EXPECT_EQ(read->setup.of(car_.find_adjuster("rear_link_inner_shims")), (Setting{1.0, 1.0}));
  ASSERT_EQ(read->left_out.size(), 3u);
  EXPECT_EQ(read->left_out[0].place, "row 3, wing");
  EXPECT_EQ(read->left_out[1].place, "row 4, front_link_inner_shims");
  EXPECT_NE(read->left_out[1].allowed.find("shims of"), std::string::npos) << read->left_out[1].allowed;
  EXPECT_EQ(read->left_out[2].place, "row 6, ride_height_mm");
  ASSERT_TRUE(noted_under(read->setup, "Wing angle"));
  EXPECT_EQ(*noted_under(read->setup, "Wing angle"), "3");
  EXPECT_EQ(*noted_under(read->setup, "Shims"), "1.3 | 1");
}

// A file with a zero byte between its letters: what it says is left out and told, and what is kept can be read again.
TEST_F(SetupTable, KeepsNothingOfAFieldWithAZeroByteInIt) {
  std::string text =
      "part,name,axle,left,right\nfront_hub_shims,Axle height,front,#.5,0.5\nride_height_mm,,rear,5.5,5.5\n";
  text[text.find('#')] = '\0';
  const auto read = read_setup_table(text, "t.csv", car_);
  ASSERT_TRUE(read) << read.error().front().line();
  EXPECT_EQ(read->left_out.size(), 1u);
  EXPECT_TRUE(read->setup.noted.empty());
  const auto again = read_setup_table(write_setup_table(read->setup, car_), "t.csv", car_);
  ASSERT_TRUE(again) << again.error().front().line();
  EXPECT_TRUE(again->left_out.empty());
}

// Noted fields live in the file, too, each name once.
TEST_F(SetupTable, WhatIsNotedIsInTheFile) {
  CarSetup s = kit_setup(car_);
  note(s, "Body", "low");
  note(s, "Wing", "flat");
  note(s, "Body", "high");
  note(s, "Wing", "");
  const auto back = read_setup(write_setup(s, car_, {}), "s", car_);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->setup.noted, (std::vector<NotedField>{{"Body", "high"}}));
  Json twice = Json::parse(write_setup(s, car_, {}));
  twice["noted"].push_back({{"name", "Body"}, {"text", "x"}});
  const auto refused = read_setup(twice.dump(), "s", car_);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().front().place, "noted > 2");
}

}  // namespace
}  // namespace lowkite::test
