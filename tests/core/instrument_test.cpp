// The instrument protocol against a sender that means no good, and the averaging against scatter and drift.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include <fmt/format.h>

#include "bench_sim/sender.hpp"
#include "core/bench/instrument.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

using testing::HasSubstr;

const InstrumentReading scale{{&gauge::corner_scale, End::front, Side::left}, 338.62, 17};

std::string with_checksum(const std::string& body) {
  unsigned sum = 0;
  for (const char c : body) sum ^= static_cast<unsigned char>(c);
  return fmt::format("{}*{:02X}", body, sum);
}

std::vector<std::string> cut(LineCutter& cutter, std::string_view bytes) {
  std::vector<std::string> lines;
  cutter.feed(bytes, [&](std::string_view line) { lines.emplace_back(line); });
  return lines;
}

TEST(InstrumentLine, IsTheDocumentedOne) {
  EXPECT_EQ(write_line(scale), "LK1 corner_scale lf 338.62 g 17*4F") << "as in docs/formats/instruments.md";
}

TEST(InstrumentLine, ComesBackAsItWasSent) {
  for (const GaugeKind kind : instrument_kinds())
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        if (!kind->per_wheel && side == Side::right) continue;
        const InstrumentReading sent{{kind, end, side}, -12.25, 4294967295u};
        const auto back = parse_line(write_line(sent));
        ASSERT_TRUE(back) << back.error();
        EXPECT_EQ(back->place, sent.place);
        EXPECT_DOUBLE_EQ(back->value, sent.value);
        EXPECT_EQ(back->sequence, sent.sequence);
      }
}

TEST(InstrumentLine, EveryDamagedLetterIsNoticed) {
  const std::string good = write_line(scale);
  for (std::size_t i = 0; i < good.size(); ++i) {
    std::string bad = good;
    bad[i] = bad[i] == '#' ? '~' : '#';
    EXPECT_FALSE(parse_line(bad)) << bad;
  }
}

TEST(InstrumentLine, PartsOfALineAreNoLine) {
  const std::string good = write_line(scale);
  for (std::size_t length = 0; length < good.size(); ++length) EXPECT_FALSE(parse_line(good.substr(0, length)));
}

TEST(InstrumentLine, AWrongUnitIsNamedAndNotConverted) {
  const auto r = parse_line(write_line(scale, "oz"));
  ASSERT_FALSE(r);
  EXPECT_THAT(r.error(), HasSubstr("corner scale lf sends oz"));
  EXPECT_THAT(r.error(), HasSubstr("switch it to g"));
}

TEST(InstrumentLine, WhatIsWrongIsSaid) {
  const auto fault = [](const std::string& body) {
    const auto r = parse_line(with_checksum(body));
    return r ? std::string("accepted") : r.error();
  };
  EXPECT_THAT(fault("LK2 camber lf -1.0 deg 1"), HasSubstr("no reading; expected: LK1"));
  EXPECT_THAT(fault("LK1 crystal_ball lf 1.0 mm 1"), HasSubstr("\"crystal_ball\" is no instrument"));
  EXPECT_THAT(fault("LK1 camber front -1.0 deg 1"), HasSubstr("allowed: lf, rf, lr, rr"));
  EXPECT_THAT(fault("LK1 ride_height lf 5.0 mm 1"), HasSubstr("allowed: f, r"));
  EXPECT_THAT(fault("LK1 camber lf nan deg 1"), HasSubstr("is no reading"));
  EXPECT_THAT(fault("LK1 camber lf 1e300 deg 1"), HasSubstr("is no reading"));
  EXPECT_THAT(fault("LK1 camber lf -1,0 deg 1"), HasSubstr("is no reading"));
  EXPECT_THAT(fault("LK1 camber lf -1.0 deg -1"), HasSubstr("no line number"));
  EXPECT_THAT(fault("LK1 camber  lf -1.0 deg 1"), HasSubstr("expected"));
}

TEST(InstrumentLine, NonsenseIsRefusedAndNeverRepeatedRaw) {
  std::mt19937 random(5);
  std::uniform_int_distribution<int> letter(0, 255);
  std::uniform_int_distribution<std::size_t> length(0, LineCutter::longest);
  for (int i = 0; i < 20'000; ++i) {
    std::string line(length(random), ' ');
    for (char& c : line) c = static_cast<char>(letter(random));
    const auto r = parse_line(line);
    ASSERT_FALSE(r);
    for (const char c : r.error()) ASSERT_TRUE(c >= ' ' && c <= '~') << "unprintable letters would reach the screen";
  }
}

TEST(LineCutter, PutsPartsTogether) {
  LineCutter cutter;
  EXPECT_TRUE(cut(cutter, "LK1 cam").empty());
  EXPECT_TRUE(cut(cutter, "ber").empty());
  EXPECT_EQ(cut(cutter, " lf\r\nnext\n\nlast"), (std::vector<std::string>{"LK1 camber lf", "next", ""}));
  cutter.drop();
  EXPECT_EQ(cut(cutter, "fresh\n"), (std::vector<std::string>{"fresh"})) << "what was begun before a loss is gone";
}

TEST(LineCutter, AFloodWithoutEndsCostsNoMemoryAndOneLine) {
  LineCutter cutter;
  const std::string flood(10'000, 'x');
  for (int i = 0; i < 100; ++i) EXPECT_TRUE(cut(cutter, flood).empty());
  EXPECT_EQ(cut(cutter, "\ngood\n"), (std::vector<std::string>{"good"}));
  EXPECT_EQ(cutter.passed_over(), 1U);
}

class Steady : public testing::Test {
 protected:
  void push(double value, int times = 1) {
    for (int i = 0; i < times; ++i) steady_.push({scale.place, value, sequence_++}, now_ += 100);
  }
  SteadyReading steady_{5.0};
  std::uint32_t sequence_ = 4294967290u;  // about to wrap
  std::int64_t now_ = 0;
};

TEST_F(Steady, NeedsAFullWindow) {
  push(300.0, static_cast<int>(SteadyReading::window) - 1);
  EXPECT_FALSE(steady_.steady());
  push(300.0);
  EXPECT_TRUE(steady_.steady());
  EXPECT_DOUBLE_EQ(steady_.mean(), 300.0);
  EXPECT_EQ(steady_.lost(), 0U) << "the number wraps";
}

TEST_F(Steady, ScatterWithinTheGaugeIsAveraged) {
  for (std::size_t i = 0; i < SteadyReading::window / 2; ++i) {
    push(302.0);
    push(298.0);
  }
  EXPECT_NEAR(steady_.mean(), 300.0, 1e-12);
  EXPECT_DOUBLE_EQ(steady_.spread(), 4.0);
  EXPECT_TRUE(steady_.steady());
}

TEST_F(Steady, DriftIsNotSteady) {
  for (int i = 0; i < 20; ++i) push(300.0 + 0.4 * i);
  EXPECT_FALSE(steady_.steady()) << "4.8 g over the window on a gauge that tells 5 g";
}

TEST_F(Steady, ALoadPutOnIsNotAveragedWithWhatWasThereBefore) {
  push(300.0, 12);
  push(500.0);
  EXPECT_FALSE(steady_.steady());
  push(500.0, 11);
  EXPECT_TRUE(steady_.steady());
  EXPECT_DOUBLE_EQ(steady_.mean(), 500.0);
}

TEST_F(Steady, LostLinesAreCountedAndSilenceForgets) {
  push(300.0, 6);
  sequence_ += 3;
  push(300.0, 6);
  EXPECT_EQ(steady_.lost(), 3U);
  EXPECT_TRUE(steady_.steady());
  EXPECT_TRUE(steady_.fresh(now_ + SteadyReading::stale_ms));
  EXPECT_FALSE(steady_.fresh(now_ + SteadyReading::stale_ms + 1));
  now_ += 10'000;
  push(300.0);
  EXPECT_FALSE(steady_.steady()) << "after a silence it starts anew";
}

TEST(Sender, SendsWhatTheCarReads) {
  const Car car = touring();
  const auto sender = Sender::on(car, kit_setup(car), {.noise = 0.0});
  ASSERT_TRUE(sender) << sender.error();
  Sender s = *sender;
  const auto lines = s.lines(0.0);
  ASSERT_EQ(lines.size(), s.truth().size());
  double total = 0.0;
  for (const std::string& line : lines) {
    const auto r = parse_line(line.substr(0, line.size() - 1));
    ASSERT_TRUE(r) << r.error();
    EXPECT_NEAR(r->value, s.truth().at(r->place), 0.011) << line;
    if (r->place.kind == &gauge::corner_scale) total += r->value;
  }
  EXPECT_NEAR(total, 1000.0 * car.mass_kg, 0.1) << "the four scales carry the car";
}

TEST(Sender, HasTheFaultsThatAreAskedFor) {
  const Car car = touring();
  SenderOptions o;
  o.wrong_unit = "corner_scale";
  o.drop = 0.25;
  o.damage = 0.25;
  o.off[{&gauge::camber, End::front, Side::left}] = -0.6;
  auto sender = Sender::on(car, kit_setup(car), o);
  ASSERT_TRUE(sender);
  EXPECT_NEAR(sender->truth().at({&gauge::camber, End::front, Side::left}) -
                  sender->truth().at({&gauge::camber, End::front, Side::right}),
              -0.6, 1e-9);
  int good = 0;
  int units = 0;
  int damaged = 0;
  std::size_t sent = 0;
  for (int i = 0; i < 200; ++i)
    for (const std::string& line : sender->lines(0.1 * i)) {
      ++sent;
      const auto r = parse_line(line.substr(0, line.size() - 1));
      if (r)
        ++good;
      else if (r.error().find("sends oz") != std::string::npos)
        ++units;
      else
        ++damaged;
    }
  const double all = 200.0 * static_cast<double>(sender->truth().size());
  EXPECT_NEAR(static_cast<double>(sent) / all, 0.75, 0.03);
  EXPECT_NEAR(static_cast<double>(damaged) / static_cast<double>(sent), 0.25, 0.03);
  EXPECT_GT(units, 100);
  EXPECT_GT(good, 100);
}

TEST(Sender, AMisadjustmentIsReadOrRefused) {
  const auto good = parse_off("camber:lf=-0.6");
  ASSERT_TRUE(good);
  EXPECT_EQ(good->first, (InstrumentPlace{&gauge::camber, End::front, Side::left}));
  EXPECT_DOUBLE_EQ(good->second, -0.6);
  for (const char* bad : {"", "camber", "camber:lf", "camber:xx=1", "castor:lf=1", "camber:lf=", "camber:lf=1x", "=:1"})
    EXPECT_FALSE(parse_off(bad)) << bad;
}

}  // namespace
}  // namespace lowkite::test
