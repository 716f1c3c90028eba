// Laps: which count, what they say, how they are written; tables of timing systems; runs compared.
#include <gtest/gtest.h>

#include <cmath>

#include "core/io/encoding.hpp"
#include "core/log/lap_import.hpp"
#include "core/log/run_comparison.hpp"
#include "tests/core/log/log_samples.hpp"

namespace lowkite::test {
namespace {

std::vector<Lap> laps_of(std::initializer_list<double> seconds) {
  std::vector<Lap> laps;
  for (const double s : seconds) laps.push_back({static_cast<int>(laps.size()) + 1, s, LapMark::ordinary});
  return laps;
}

TEST(Laps, TrafficAndCrashesAreSetAsideByTheStatedRule) {
  std::vector<Lap> laps = laps_of({15.0, 15.1, 19.0, 15.2, 7.4, 15.0});
  laps[3].mark = LapMark::traffic;
  const auto standing = standings(laps);
  EXPECT_EQ(standing[0], LapStanding::counts);
  EXPECT_EQ(standing[2], LapStanding::too_slow);
  EXPECT_EQ(standing[3], LapStanding::marked);
  EXPECT_EQ(standing[4], LapStanding::too_fast);
  const auto f = lap_figures(laps);
  ASSERT_TRUE(f);
  EXPECT_EQ(f->counted, 3);
  EXPECT_EQ(f->set_aside, 3);
  EXPECT_DOUBLE_EQ(f->best_s, 15.0);
  // A stricter rule sets more aside.
  EXPECT_EQ(lap_figures(laps, {.slower_share = 0.005})->counted, 2);
}

TEST(Laps, FiguresAreWhatTheySay) {
  const auto f = lap_figures(laps_of({15.2, 15.0, 15.1, 15.3, 15.4, 15.5}), {}, 3);
  ASSERT_TRUE(f);
  EXPECT_NEAR(f->mean_s, 15.25, 1e-12);
  EXPECT_NEAR(f->median_s, 15.25, 1e-12);
  EXPECT_NEAR(*f->best_in_a_row_s, 15.2 + 15.0 + 15.1, 1e-12);
  ASSERT_TRUE(f->fade);
  EXPECT_NEAR(f->fade->slope, 1.45 / 17.5, 1e-9) << "least squares by hand";
  EXPECT_TRUE(f->fades());
  EXPECT_FALSE(lap_figures({}));
  EXPECT_FALSE(lap_figures(laps_of({15.0, 15.0}))->fade);
}

TEST(Laps, ARowIsBrokenByGapsAndByLapsThatDoNotCount) {
  std::vector<Lap> laps = laps_of({15.0, 15.0, 15.0, 15.0});
  laps[2].number = 4;
  laps[3].number = 5;
  auto f = lap_figures(laps, {}, 3);
  EXPECT_FALSE(f->best_in_a_row_s);
  EXPECT_EQ(f->missing, 1);
  laps = laps_of({15.0, 15.0, 15.0, 15.0});
  laps[1].mark = LapMark::crash;
  EXPECT_FALSE(lap_figures(laps, {}, 3)->best_in_a_row_s);
}

TEST(LapText, IsReadAsPeopleAndSystemsWriteIt) {
  EXPECT_DOUBLE_EQ(*lap_from_text("14.832"), 14.832);
  EXPECT_DOUBLE_EQ(*lap_from_text(" 14,832 "), 14.832);
  EXPECT_DOUBLE_EQ(*lap_from_text("1:02.345"), 62.345);
  EXPECT_DOUBLE_EQ(*lap_from_text("1:02,345"), 62.345);
  EXPECT_DOUBLE_EQ(*lap_from_text("1:02:345"), 62.345);
  EXPECT_DOUBLE_EQ(*lap_from_text("0'14\"832"), 14.832);
  EXPECT_DOUBLE_EQ(*lap_from_text("75.2"), 75.2);
  for (const char* wrong : {"", "fast", "-3", "0", "1:75.0", "14.8.3", "1:2:3:4"})
    EXPECT_FALSE(lap_from_text(wrong)) << wrong;
  EXPECT_EQ(lap_text(14.832), "14.83");
  EXPECT_EQ(lap_text(62.345, 3), "1:02.345");
  EXPECT_EQ(lap_text(59.999), "1:00.00");
}

TEST(LapText, TypedAndPastedLapsKeepTheirNumbers) {
  auto laps = laps_from_text("14.83\n14,91\n\n1:02.3\r\n");
  ASSERT_TRUE(laps);
  ASSERT_EQ(laps->size(), 3u);
  EXPECT_EQ((*laps)[2].number, 3);
  laps = laps_from_text("3  14.83\n5: 14.91\nLap 6  15.00");
  ASSERT_TRUE(laps) << laps.error();
  EXPECT_EQ((*laps)[0].number, 3);
  EXPECT_EQ((*laps)[1].number, 5);
  EXPECT_EQ((*laps)[2].number, 6);
  laps = laps_from_text("14.8 14.9; 15.0");
  ASSERT_TRUE(laps) << laps.error();
  EXPECT_EQ(laps->size(), 3u);
  laps = laps_from_text("14.8\nabout fifteen\n");
  ASSERT_FALSE(laps);
  EXPECT_NE(laps.error().find("about"), std::string::npos);
}

ImportedLaps import_all(const std::string& bytes) {
  const auto table = read_timing(bytes, "laps.csv");
  if (!table) throw std::runtime_error(table.error().line());
  const auto mapping = guess_mapping(*table);
  if (!mapping) throw std::runtime_error("no mapping");
  const auto in = import_laps(*table, *mapping, "laps.csv");
  if (!in) throw std::runtime_error(in.error().line());
  return *in;
}

TEST(LapImport, AwkwardTablesAreRead) {
  const std::vector<double> wanted{14.832, 14.911, 62.345};
  const std::vector<std::pair<const char*, std::string>> tables{
      {"plain", "Lap,Time\n1,14.832\n2,14.911\n3,1:02.345\n"},
      {"semicolons and decimal commas", "Runde;Zeit\r\n1;14,832\r\n2;14,911\r\n3;1:02,345\r\n"},
      {"byte-order mark", "\xEF\xBB\xBFLap;Lap time\n1;14,832\n2;14,911\n3;62,345\n"},
      {"no heading", "1;14.832\n2;14.911\n3;62.345\n"},
      {"one column", "14.832\n14.911\n62.345\n"},
      {"tabs and sums",
       "No\tTotal\tLap time\tGap\n1\t14.832\t14.832\t0.1\n2\t29.743\t14.911\t0.2\n3\t92.088\t62.345\t0.9\n"},
      {"a title above", "Heat 3 of 4\n\nLap;Time\n1;14.832\n2;14.911\n3;62.345\n"},
      {"latin letters", "Runde;Zeit;Streckenl\xE4nge\n1;14,832;m\n2;14,911;m\n3;62,345;m\n"},
      {"quotes", "\"Lap\",\"Time\"\n\"1\",\"14.832\"\n\"2\",\"14.911\"\n\"3\",\"1:02.345\"\n"},
  };
  for (const auto& [what, text] : tables) {
    const ImportedLaps in = import_all(text);
    ASSERT_EQ(in.laps.size(), 3u) << what;
    for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(in.laps[i].seconds, wanted[i], 1e-9) << what;
    EXPECT_EQ(in.laps[2].number, 3) << what;
  }
}

TEST(LapImport, Utf16IsRead) {
  std::string bytes = "\xFF\xFE";
  for (const char c : std::string("Lap;Time\n1;14,832\n2;14,911\n")) {
    bytes += c;
    bytes += '\0';
  }
  EXPECT_EQ(import_all(bytes).laps.size(), 2u);
  EXPECT_EQ(to_utf8("l\xE4nge"), "l\xC3\xA4nge");
  EXPECT_EQ(to_utf8("l\xC3\xA4nge"), "l\xC3\xA4nge");
}

TEST(LapImport, MissingLapsAreCountedAndOddRowsRemarked) {
  const ImportedLaps in = import_all("Lap;Time\n1;14.8\n2;\n3;pit\n5;14.9\n6;15.0\n");
  EXPECT_EQ(in.laps.size(), 3u);
  EXPECT_EQ(in.skipped, 2);
  EXPECT_EQ(in.missing, 3);
  ASSERT_FALSE(in.remarks.empty());
  EXPECT_NE(in.remarks[0].find("pit"), std::string::npos);
}

TEST(LapImport, OneDriverOfMany) {
  const auto table = read_timing("Driver;Lap;Time\nAda;1;14.8\nBo;1;15.9\nAda;2;14.7\nBo;2;16.0\n", "heat.csv");
  ASSERT_TRUE(table);
  auto mapping = guess_mapping(*table);
  ASSERT_TRUE(mapping);
  EXPECT_EQ(table->different(mapping->driver_column, mapping->heading), (std::vector<std::string>{"Ada", "Bo"}));
  mapping->driver = "Bo";
  const auto in = import_laps(*table, *mapping, "heat.csv");
  ASSERT_TRUE(in);
  ASSERT_EQ(in->laps.size(), 2u);
  EXPECT_DOUBLE_EQ(in->laps[1].seconds, 16.0);
  mapping->driver = "Cy";
  EXPECT_NE(import_laps(*table, *mapping, "heat.csv").error().wrong.find("Cy"), std::string::npos);
}

TEST(LapImport, FaultsAreSaid) {
  EXPECT_FALSE(read_timing("", "empty.csv"));
  const auto words = read_timing("a;b\nc;d\n", "words.csv");
  ASSERT_TRUE(words);
  EXPECT_FALSE(guess_mapping(*words));
  EXPECT_FALSE(import_laps(*words, {.time_column = 7}, "words.csv"));
  EXPECT_FALSE(import_laps(*words, {.time_column = 1}, "words.csv"));
}

TEST(LapImport, AMappingIsRememberedByTheTablesHeading) {
  const auto table = read_timing("Lap;Zeit A;Zeit B\n1;14.8;15.2\n", "x.csv");
  std::map<std::string, LapMapping> kept{{table->signature(), {.time_column = 2, .number_column = 0, .driver = "me"}}};
  EXPECT_EQ(read_mappings(write_mappings(kept)), kept);
  const auto same_shape = read_timing("lap;zeit a;zeit b\n1;11.0;12.0\n2;11.1;12.1\n", "y.csv");
  EXPECT_TRUE(read_mappings(write_mappings(kept)).contains(same_shape->signature()));
  EXPECT_TRUE(read_mappings("nonsense").empty());
  EXPECT_TRUE(read_mappings("{\"a\": {\"time\": \"x\"}}").empty());
}

class Compared : public testing::Test {
 protected:
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);
  Day day_ = sample_day();
  RunRecord run(double about, std::uint32_t seed = 7) { return sample_run(1, "10:00", car_, kit_, about, seed); }
};

TEST_F(Compared, ARealDifferenceIsToldWithItsInterval) {
  const RunRecord a = run(15.0, 1), b = run(14.6, 2);
  const RunComparison c = compare_runs({day_, a}, {day_, b}, &car_);
  EXPECT_EQ(c.verdict, LapVerdict::faster);
  ASSERT_TRUE(c.mean_s && c.median_s);
  EXPECT_NEAR(c.mean_s->estimate, -0.4, 0.1);
  EXPECT_TRUE(c.changes.empty());
  EXPECT_EQ(compare_runs({day_, b}, {day_, a}, &car_).verdict, LapVerdict::slower);
}

TEST_F(Compared, ASmallDifferenceCannotBeTold) {
  const RunRecord a = run(15.0, 1), b = run(14.99, 2);
  EXPECT_EQ(compare_runs({day_, a}, {day_, b}, &car_).verdict, LapVerdict::cannot_be_told);
}

TEST_F(Compared, WhatElseDifferedIsWarnedOf) {
  RunRecord a = run(15.0, 1), b = run(14.6, 2);
  CarSetup other = kit_;
  other.of(car_.find_adjuster("rear_bar")) = {2.0, 2.0};
  other.of(car_.find_adjuster("front_spring")) = {2.0, 2.0};
  b.run.setup = write_setup(other, car_, {});
  b.run.tyres = "set 4";
  b.run.broke = "a ball cup";
  b.laps.resize(4);
  Day hot = day_;
  hot.ground_celsius = 35.0;
  const RunComparison c = compare_runs({day_, a}, {hot, b}, &car_);
  const auto has = [&](CautionKind k) {
    return std::any_of(c.cautions.begin(), c.cautions.end(), [&](const Caution& x) { return x.kind == k; });
  };
  EXPECT_TRUE(has(CautionKind::tyres));
  EXPECT_TRUE(has(CautionKind::temperature));
  EXPECT_TRUE(has(CautionKind::several_changes));
  EXPECT_TRUE(has(CautionKind::few_laps));
  EXPECT_TRUE(has(CautionKind::broke));
  EXPECT_FALSE(has(CautionKind::other_day));
  ASSERT_EQ(c.changes.size(), 2u);
  EXPECT_EQ(c.changes[0].what, "Front: Spring");
  EXPECT_EQ(c.changes[0].from, "medium");
  EXPECT_EQ(c.changes[0].to, "hard");
  // Without the car at hand the ids stand for the parts.
  const auto by_id = setup_changes(a.run.setup, b.run.setup, nullptr);
  ASSERT_EQ(by_id.size(), 2u);
  EXPECT_EQ(by_id[0].what, "front_spring");
}

TEST_F(Compared, ThereAndBackTakesTheDriftOut) {
  // The track gets quicker by 0.2 s a run; the change itself costs 0.3 s.
  RunRecord a1 = run(15.0, 1), b = run(15.0 - 0.2 + 0.3, 2), a2 = run(15.0 - 0.4, 3);
  CarSetup other = kit_;
  other.of(car_.find_adjuster("rear_bar")) = {2.0, 2.0};
  b.run.setup = write_setup(other, car_, {});
  const auto r = back_to_back(a1, b, a2);
  ASSERT_TRUE(r);
  EXPECT_NEAR(r->effect_s.estimate, 0.3, 0.08);
  EXPECT_NEAR(r->drift_s.estimate, -0.4, 0.08);
  EXPECT_TRUE(r->drifted);
  EXPECT_TRUE(r->same_setups);
  EXPECT_EQ(r->verdict, LapVerdict::slower);
  const auto found = back_to_backs({a1, b, a2, a1}, &car_);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_EQ(found[0], (std::array<std::size_t, 3>{0, 1, 2}));
  RunRecord short_run = b;
  short_run.laps.resize(1);
  EXPECT_FALSE(back_to_back(a1, short_run, a2));
}

// A crash costs more than a slow line: the seconds beyond the median, by what the lap was marked as.
TEST(LapFigures, TellWhatWasLostToWhat) {
  auto laps = laps_of({15.0, 15.2, 15.1, 21.1, 16.6, 15.1, 19.1, 40.0, 5.0});
  laps[3].mark = LapMark::crash;
  laps[4].mark = LapMark::traffic;
  laps[7].mark = LapMark::out;
  const auto f = lap_figures(laps);
  ASSERT_TRUE(f);
  EXPECT_NEAR(f->median_s, 15.1, 1e-12);
  EXPECT_NEAR(f->lost_to_crashes_s, 6.0, 1e-9);
  EXPECT_NEAR(f->lost_to_traffic_s, 1.5, 1e-9);
  EXPECT_NEAR(f->lost_otherwise_s, 4.0, 1e-9) << "slow without a mark; a lap counted twice and the way in lose nothing";
  // A marked lap that was quick all the same has cost nothing.
  laps[3].seconds = 14.9;
  EXPECT_EQ(lap_figures(laps)->lost_to_crashes_s, 0.0);
}

}  // namespace
}  // namespace lowkite::test
