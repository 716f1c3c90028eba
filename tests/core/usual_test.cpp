// Usual ranges: data that can be edited, beside figures.
#include "core/advice/usual.hpp"

#include <unistd.h>

#include <fstream>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

const std::filesystem::path shipped = std::filesystem::path(LOWKITE_TEST_DATA) / "usual" / "usual.json";

TEST(UsualRanges, EveryShippedCarHasThem) {
  const auto book = load_usual(shipped);
  ASSERT_TRUE(book) << book.error().front().line();
  for (const Car& car : test::every_shipped_car()) {
    const auto on = book->surfaces_for(car);
    ASSERT_FALSE(on.empty()) << car.vehicle_class;
    for (const Surface s : on)
      for (const End end : both_ends) {
        const UsualRange* r = book->find(car, s, end, *find_figure("ride_height"));
        ASSERT_TRUE(r) << car.id;
        EXPECT_LT(r->least, r->most);
      }
    EXPECT_FALSE(book->find(car, Surface::unknown, End::front, *find_figure("camber")));
  }
}

TEST(UsualRanges, OfOnesOwnTakeThePlaceOfOurs) {
  const auto own = std::filesystem::temp_directory_path() / fmt::format("lowkite-own-usual-{}.json", getpid());
  const auto write = [&](const char* text) { std::ofstream(own) << text; };
  write(R"({"format": "lowkite-usual", "version": 1, "sets": [{"id": "touring_asphalt", "class": "touring",
    "surfaces": ["asphalt"], "ranges": [{"figure": "camber", "end": "front", "least": -3, "most": -2.5}]}]})");
  const auto book = load_usual(shipped, own);
  ASSERT_TRUE(book) << book.error().front().line();
  const Car car = test::touring();
  const UsualRange* camber = book->find(car, Surface::asphalt, End::front, *find_figure("camber"));
  ASSERT_TRUE(camber);
  EXPECT_EQ(camber->least, -3.0);
  EXPECT_FALSE(book->find(car, Surface::asphalt, End::front, *find_figure("toe"))) << "ours is gone";
  EXPECT_TRUE(book->find(car, Surface::carpet, End::front, *find_figure("toe"))) << "of other surfaces ours stays";
  // What is wrong is told with its place, and nothing of the file is used.
  write(R"({"format": "lowkite-usual", "version": 1, "sets": [{"id": "mine", "class": "touring",
    "ranges": [{"figure": "cambre", "end": "front", "least": -3, "most": -2.5}]}]})");
  const auto wrong = load_usual(shipped, own);
  ASSERT_FALSE(wrong);
  EXPECT_NE(wrong.error().front().line().find("cambre"), std::string::npos) << wrong.error().front().line();
  std::filesystem::remove(own);
}

}  // namespace
}  // namespace lowkite
