// What an axle has besides its linkage: taken off every shipped car and put on again as its file says it, refused where
// it would leave something hanging, and what may end a wheel's way.
#include "core/parts/fittings.hpp"

#include <gtest/gtest.h>

#include <set>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/measure/lock.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/idle_fields.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

constexpr std::array all_six{"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"};

CarFile file_of(const std::string& id) {
  auto file = read_car_file(*read_file(data_path("cars/" + id + ".kite-car.json")), id);
  EXPECT_TRUE(file);
  return *file;
}

/// Without the parts that sit on a fitting, and then without it.
CarFile bare_of(const CarFile& file, const Fitting& fitting) {
  Json source = file.source;
  for (int rounds = 0; rounds < 60; ++rounds) {
    const auto fault = take_off(source, fitting);
    if (!fault) break;
    // The fault names what sits on it.
    const std::string name =
        fault->wrong.substr(fault->wrong.find('"') + 1, fault->wrong.rfind('"') - fault->wrong.find('"') - 1);
    bool found = false;
    for (std::size_t i = 0; i < source["adjusters"].size() && !found; ++i)
      if (source["adjusters"][i]["name"] == name &&
          source["adjusters"][i]["axle"] == std::string(name_of(fitting.end))) {
        remove_adjuster(source, PartHandle(i));
        found = true;
      }
    Json& axle = source["axles"][std::string(name_of(fitting.end))];
    if (!found && axle.contains("limits") && axle["limits"].contains("clearances")) {
      axle["limits"].erase("clearances");
      found = true;
    }
    EXPECT_TRUE(found) << fault->line();
    if (!found) break;
  }
  auto bare = recheck(source, "bare");
  EXPECT_TRUE(bare) << fitting.label << ": " << bare.error().front().line();
  return *bare;
}

std::optional<PartPlace> place_on(const PartForm& form, const Car& car, const Fitting& f) {
  for (const PartPlace& p : places_for(form, car))
    if (p.end == f.end) return p;
  return std::nullopt;
}

TEST(Fittings, TakenOffEveryCarAndPutOnAsTheFileSaysAreThere) {
  int tried = 0;
  std::set<std::string_view> forms;
  for (const char* id : all_six) {
    const CarFile file = file_of(id);
    for (const Fitting& f : fittings_of(*file.car)) {
      if (f.index >= 0) continue;
      const CarFile bare = bare_of(file, f);
      for (const Fitting& left : fittings_of(*bare.car))
        EXPECT_FALSE(left.form == f.form && left.end == f.end) << id << " " << f.label;
      const PartForm* form = find_part_form(f.form);
      ASSERT_TRUE(form) << f.form;
      const auto place = place_on(*form, *bare.car, f);
      ASSERT_TRUE(place) << id << " " << f.label;
      // Answered from the file: a question's id is the point's, or the field's pointer below the axle.
      const Json& axle = file.source.get()["axles"][std::string(name_of(f.end))];
      auto questions = questions_for(*form, *place, *bare.car);
      for (PartQuestion& q : questions) {
        if (q.id.starts_with("/")) {
          const Json::json_pointer at(q.id);
          q.answer = axle.contains(at) ? fmt::format("{}", axle.at(at).get<double>()) : "0";
          continue;
        }
        const Json& p = axle["points"][q.id];
        q.answer = fmt::format("{} {} {}", p[0].get<double>(), p[1].get<double>(), p[2].get<double>());
      }
      Json source = bare.source;
      const auto put = add_part(source, *bare.car, *form, *place, questions);
      ASSERT_TRUE(put) << id << " " << f.label << ": " << put.error().line();
      EXPECT_TRUE(put->empty());
      const auto again = recheck(source, "again");
      ASSERT_TRUE(again) << id << " " << f.label << ": " << again.error().front().line();
      const Axle& was = file.car->axle(f.end);
      const Axle& is = again->car->axle(f.end);
      EXPECT_EQ(is.attachments, was.attachments) << id << " " << f.label;
      for (const Side side : both_sides)
        for (const PointHandle i : is.points[at(side)].handles())
          EXPECT_LT((is.points[at(side)][i] - was.points[at(side)][i]).norm(), 1e-9) << id << " " << f.label;
      EXPECT_EQ(is.bar.has_value(), was.bar.has_value());
      EXPECT_EQ(is.cup.has_value(), was.cup.has_value());
      EXPECT_EQ(is.limits.knuckle.has_value(), was.limits.knuckle.has_value());
      ++tried;
      forms.insert(f.form);
    }
  }
  // Found in this sweep when it was written; each kind of fitting is on some car.
  EXPECT_GE(tried, 35);
  EXPECT_EQ(forms.size(), 8u);
}

/// Put on as it is proposed, it leaves the wheel where it is, and stands in the list with fields that can be typed.
void put_as_proposed(const CarFile& file, const PartForm& form, const PartPlace& place) {
  const std::string who = fmt::format("{} {} {}", file.car->id, form.id, place.label);
  Json source = file.source;
  const auto put = add_part(source, *file.car, form, place, questions_for(form, place, *file.car));
  ASSERT_TRUE(put) << who << ": " << put.error().line();
  const auto with = recheck(source, "own");
  ASSERT_TRUE(with) << who << ": " << with.error().front().line();
  const auto model = build_model(*with->car, kit_setup(*with->car));
  ASSERT_TRUE(model) << who;
  for (const End end : both_ends)
    for (std::size_t i = 0; i < attachment::first; ++i)
      EXPECT_EQ(with->car->axle(end).points[0][PointHandle(i)], file.car->axle(end).points[0][PointHandle(i)]) << who;
  const auto all = fittings_of(*with->car);
  const auto f = std::find_if(all.rbegin(), all.rend(),
                              [&](const Fitting& each) { return each.form == form.id && each.end == place.end; });
  ASSERT_NE(f, all.rend()) << who;
  for (const CarField& field : f->fields) {
    Json same = with->source;
    EXPECT_FALSE(put_field(same, field, field_text(same, field))) << who << " " << field.pointer;
    EXPECT_TRUE(recheck(same, "same")) << who << " " << field.pointer;
  }
  Json without = with->source;
  EXPECT_FALSE(take_off(without, *f)) << who;
  EXPECT_TRUE(recheck(without, "without")) << who;
}

TEST(Fittings, AsProposedStandInTheListAndLeaveTheWheelWhereItIs) {
  int tried = 0;
  for (const char* id : all_six) {
    const CarFile file = file_of(id);
    for (const Fitting& f : fittings_of(*file.car)) {
      if (f.index >= 0) continue;
      const CarFile bare = bare_of(file, f);
      const PartForm* form = find_part_form(f.form);
      put_as_proposed(bare, *form, *place_on(*form, *bare.car, f));
      ++tried;
    }
    // And what the kit does not have: a bar on a car without, every joint, every axle's parts that may touch.
    for (const PartForm& form : part_forms()) {
      if (!parts::is_fitting(form)) continue;
      for (const PartPlace& place : places_for(form, *file.car)) {
        ++tried;
        if (test::runs_a_share() && tried % 4 != 0) continue;
        put_as_proposed(file, form, place);
      }
    }
  }
  EXPECT_GT(tried, 90);
}

TEST(Fittings, AreNotTakenFromUnderWhatSitsOnThem) {
  const CarFile file = file_of("godwit-ta");
  for (const Fitting& f : fittings_of(*file.car)) {
    if (f.form != std::string_view("fit_third") || f.end != End::front) continue;
    Json source = file.source;
    const auto fault = take_off(source, f);
    ASSERT_TRUE(fault);
    EXPECT_NE(fault->wrong.find("Third spring"), std::string::npos) << fault->line();
    EXPECT_EQ(source, file.source.get()) << "nothing was touched";
    return;
  }
  FAIL() << "the car has one";
}

// A joint and a pair of parts, put on where the lock ends a little sooner than without them.
TEST(Fittings, AJointThatBindsEndsTheLockAndTakenOffLetsItGoOn) {
  const CarFile file = file_of("heron-tc190");
  const auto lock = [](const Car& car) -> PerSide<double> {
    const auto model = build_model(car, kit_setup(car));
    EXPECT_TRUE(model);
    const auto standing = pose_car(*model, static_attitude(*model));
    EXPECT_TRUE(standing);
    PerSide<CornerStops> stops;
    for (const Side side : both_sides)
      stops[at(side)] = find_stops(*model, End::front, side, standing->axle[0].corner[at(side)], SteerInput{});
    const LockFigures found = find_lock(*model, standing->axle[0], stops, lock_samples);
    return {found.usable[0].servo_rad, found.usable[1].servo_rad};
  };
  const PerSide<double> as_shipped = lock(*file.car);
  const PartForm* joint = find_part_form("joint");
  for (const PartPlace& place : places_for(*joint, *file.car)) {
    if (place.end != End::front || place.label.find("camber link, outer") == std::string::npos) continue;
    double before = 0.0;
    for (const char* most : {"4", "8", "14", "60"}) {
      auto questions = questions_for(*joint, place, *file.car);
      questions[0].answer = most;
      Json source = file.source;
      ASSERT_TRUE(add_part(source, *file.car, *joint, place, questions));
      const auto with = recheck(source, "own");
      ASSERT_TRUE(with) << with.error().front().line();
      const auto now = lock(*with->car);
      EXPECT_GE(now[0], before - 1e-9) << most;
      before = now[0];
      const auto fittings = fittings_of(*with->car);
      const auto f = std::find_if(fittings.begin(), fittings.end(), [](const Fitting& each) {
        return each.form == std::string_view("joint") && each.label.find("camber link, outer") != std::string::npos;
      });
      ASSERT_NE(f, fittings.end());
      Json without = with->source;
      EXPECT_FALSE(take_off(without, *f));
      const auto bare = recheck(without, "bare");
      ASSERT_TRUE(bare);
      EXPECT_EQ(lock(*bare->car), as_shipped);
    }
    EXPECT_EQ(before, as_shipped[0]) << "one that leans far enough ends nothing";
    return;
  }
  FAIL() << "no such place";
}

// A car that has a third spring at its shocks' mounts and gets the levers: the spring stays the one that it was.
TEST(Fittings, LeaveASizeThatTheCarKnowsAsItIs) {
  const CarFile file = file_of("heron-tc190");
  Json source = file.source;
  source["axles"]["front"]["sizes"]["heave_rate_n_per_mm"] = 0.71;
  const auto with = recheck(source, "own");
  ASSERT_TRUE(with);
  const PartForm* form = find_part_form("fit_third");
  const auto places = places_for(*form, *with->car);
  ASSERT_FALSE(places.empty());
  ASSERT_EQ(places.front().end, End::front);
  ASSERT_TRUE(add_part(source, *with->car, *form, places.front(), questions_for(*form, places.front(), *with->car)));
  const auto after = recheck(source, "own");
  ASSERT_TRUE(after);
  EXPECT_EQ(after->car->axle(End::front).size_of(Size::heave_rate), 0.71);
}

TEST(Fittings, WrongAnswersAreToldAndLeaveTheFile) {
  const CarFile file = file_of("heron-tc190");
  const auto refused = [&](const char* form_id, std::string_view id, const std::string& answer) {
    const PartForm* form = find_part_form(form_id);
    const auto places = places_for(*form, *file.car);
    EXPECT_FALSE(places.empty());
    auto questions = questions_for(*form, places.front(), *file.car);
    for (PartQuestion& q : questions)
      if (q.id == id) q.answer = answer;
    Json source = file.source;
    const auto put = add_part(source, *file.car, *form, places.front(), questions);
    EXPECT_FALSE(put) << form_id << " " << id << " " << answer;
    EXPECT_EQ(source, file.source.get());
    return put ? std::string() : put.error().line();
  };
  EXPECT_NE(refused("fit_third", "third_arm", "1 2").find("three numbers"), std::string::npos);
  EXPECT_NE(refused("fit_third", "third_end", "here").find("numbers"), std::string::npos);
  EXPECT_NE(refused("joint", "most", "-3").find("above 0"), std::string::npos);
  EXPECT_NE(refused("touch", "b", "drive shaft of another").find("one of"), std::string::npos);
  EXPECT_NE(refused("touch", "a_radius", "0").find("above 0"), std::string::npos);
}

}  // namespace
}  // namespace lowkite::test
