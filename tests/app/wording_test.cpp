#include "app/words/wording.h"

#include <gtest/gtest.h>

#include "app/look/theme.h"
#include "app/words/gauge_words.h"
#include "core/io/car_file.hpp"

namespace lowkite::app {
namespace {

TEST(Turns, AreToldInEighthsAsAHandTurns) {
  EXPECT_EQ(turnsInEighths(0.125), QStringLiteral("1/8"));
  EXPECT_EQ(turnsInEighths(-0.25), QStringLiteral("1/4"));
  EXPECT_EQ(turnsInEighths(0.5), QStringLiteral("1/2"));
  EXPECT_EQ(turnsInEighths(1.375), QStringLiteral("1 3/8"));
  EXPECT_EQ(turnsInEighths(2.0), QStringLiteral("2"));
}

TEST(Numbers, NeverShowAMinusZero) {
  EXPECT_EQ(number(-0.04, 1), QStringLiteral("0.0"));
  EXPECT_EQ(signedNumber(0.04, 1), QStringLiteral("0.0"));
  EXPECT_EQ(signedNumber(0.16, 1), QStringLiteral("+0.2"));
  EXPECT_EQ(number(-1.25, 2), QStringLiteral("\u22121.25"));
}

TEST(Toe, IsToldAsInOrOutNeverByABareSign) {
  const FigureSpec& toe = *find_figure("toe");
  EXPECT_EQ(figureWithUnit(toe, -1.0, 0), QStringLiteral("1.0 deg out"));
  EXPECT_EQ(figureWithUnit(toe, 3.0, 0), QStringLiteral("3.0 deg in"));
  EXPECT_EQ(figureWithUnit(toe, 0.01, 0), QStringLiteral("0.0 deg"));
  EXPECT_EQ(figureText(toe, -1.0, 1), QStringLiteral("1.00 out"));
  EXPECT_FALSE(differenceText(toe, -1.0, -0.5, 0).contains(QLatin1Char('+')));
}

TEST(AFigureAtInfinity, SaysSo) {
  const FigureSpec& rc = *find_figure("roll_centre");
  EXPECT_EQ(figureText(rc, std::nullopt, 0), QStringLiteral("at infinity"));
  EXPECT_TRUE(moved(rc, 5.0, std::nullopt, 0));
}

TEST(ADifference, BelowTheLastDecimalIsNone) {
  const FigureSpec& rc = *find_figure("roll_centre");
  EXPECT_EQ(differenceText(rc, 5.0, 5.04, 0), QString());
  EXPECT_EQ(differenceText(rc, 5.0, 5.06, 0), QStringLiteral("+0.06"));
}

TEST(ALowRideHeight, IsAnsweredByWhatHoldsTheSprings) {
  const auto answered = [](const char* name, End end) {
    const auto car = load_car(LOWKITE_TEST_DATA "/cars/" + std::string(name) + ".kite-car.json");
    EXPECT_TRUE(car);
    const auto kit = kit_setup(*car);
    for (const Gauge& g : gauges_of(*car))
      if (g.kind == &gauge::ride_height && g.end == end) {
        const auto a = answer(*car, kit, g, Side::left, kit.ride_height_mm[at(end)] - 0.4, {});
        EXPECT_TRUE(a);
        return answerText(*car, g, Side::left, *a, Tokens());
      }
    return QString();
  };
  const QString shock = answered("heron-tc190", End::front);
  EXPECT_TRUE(shock.contains(QStringLiteral("both front spring collars down the shock, each by 1/4 turn (0.3 mm)")))
      << shock.toStdString();
  const QString kingpin = answered("sanderling-12", End::front);
  EXPECT_TRUE(kingpin.contains(QStringLiteral("both front springs: put in 0.50 mm"))) << kingpin.toStdString();
  EXPECT_TRUE(kingpin.contains(QStringLiteral("of spacers"))) << kingpin.toStdString();
  const QString pod = answered("sanderling-12", End::rear);
  EXPECT_TRUE(pod.contains(QStringLiteral("the collar in the middle down the shock by 3/8 turn (0.3 mm)")))
      << pod.toStdString();
}

}  // namespace
}  // namespace lowkite::app
