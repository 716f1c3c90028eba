// Editing a car file: own copies, points, parts and adjusters, with everything else left as it was.
#include "core/io/car_edit.hpp"

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

CarFile heron() {
  const auto text = read_file(data_path("cars/heron-tc190.kite-car.json"));
  auto file = read_car_file(*text, "heron");
  EXPECT_TRUE(file);
  return *file;
}

PointRef point(const Car& car, End end, std::string_view id) {
  return {end, false, car.axle(end).mechanism->point(id)};
}

CarField field_called(const std::vector<CarField>& fields, const std::string& pointer) {
  for (const CarField& f : fields)
    if (f.pointer == pointer) return f;
  ADD_FAILURE() << pointer;
  return {};
}

TEST(OwnCopy, HasAnIdAndSaysThatEveryPointIsTheTemplates) {
  const CarFile kit = heron();
  const auto own = recheck(own_copy(kit.source, "Red Heron, No. 2"), "own");
  ASSERT_TRUE(own);
  EXPECT_EQ(own->car->id, "red-heron-no-2");
  EXPECT_EQ(own->car->name, "Red Heron, No. 2");
  EXPECT_EQ(own->source.get()["template"], kit.car->id);
  for (const PointRef& ref : points_of(*own->car)) {
    EXPECT_EQ(origin_of(own->source, *own->car, ref), PointOrigin::from_template);
    EXPECT_EQ(place_of(*own->car, ref), place_of(*kit.car, ref));
  }
  EXPECT_EQ(origin_of(kit.source, *kit.car, points_of(*kit.car).front()), PointOrigin::described);
}

TEST(OwnCopy, NamesBecomeIds) {
  EXPECT_EQ(id_from_name("  Blue  --  Car 7 "), "blue-car-7");
  EXPECT_EQ(id_from_name("..."), "");
  EXPECT_EQ(id_from_name("../../up/and/away"), "up-and-away") << "an id is a file's name: it stays in its folder";
  EXPECT_EQ(id_from_name(std::string(300, 'n')).size(), 60u);
  const std::string foreign = id_from_name("\xD0\xBC\xD0\xBE\xD0\xB9");
  EXPECT_TRUE(foreign.starts_with("car-")) << foreign;
  EXPECT_NE(foreign, id_from_name("\xD0\xBC\xD0\xBE\xD0\xB8"));
}

TEST(PointEdit, MovesBothSidesAndKeepsWhatIsNotOurs) {
  CarFile kit = heron();
  kit.source.get()["club_sticker"] = "green";
  const PointRef ref = point(*kit.car, End::front, "link_inner");
  const Vec3 to = place_of(*kit.car, ref) + Vec3(0.0, 0.5, -0.25);
  put_point(kit.source, *kit.car, ref, to, PointOrigin::by_hand);
  const auto edited = recheck(kit.source, "heron");
  ASSERT_TRUE(edited);
  for (const Side side : both_sides)
    EXPECT_LT((edited->car->axle(End::front).points[at(side)][ref.point] - to).norm(), 1e-9);
  EXPECT_EQ(origin_of(edited->source, *edited->car, ref), PointOrigin::by_hand);
  EXPECT_EQ(edited->source.get()["club_sticker"], "green");
  EXPECT_EQ(read_car_file(write_car(edited->source), "again")->source, edited->source);
}

TEST(PointEdit, TheRightSideMayHaveAPlaceOfItsOwn) {
  CarFile kit = heron();
  const PointRef ref = point(*kit.car, End::rear, "link_inner");
  Vec3 right = mirrored(place_of(*kit.car, ref));
  right.z() += 0.8;
  put_right_point(kit.source, *kit.car, ref, right);
  EXPECT_TRUE(has_right_point(kit.source, *kit.car, ref));
  const auto edited = recheck(kit.source, "heron");
  ASSERT_TRUE(edited);
  const auto z = [&](Side side) { return edited->car->axle(End::rear).points[at(side)][ref.point].z(); };
  EXPECT_NEAR(z(Side::right) - z(Side::left), 0.8, 1e-9);
  put_right_point(kit.source, *kit.car, ref, std::nullopt);
  EXPECT_FALSE(has_right_point(kit.source, *kit.car, ref));
  EXPECT_FALSE(kit.source.get()["axles"]["rear"].contains("right_points"));
}

TEST(PointEdit, APlaceThatCannotBeIsRefusedWithTheReason) {
  CarFile kit = heron();
  const PointRef ref = point(*kit.car, End::front, "wheel_centre");
  put_point(kit.source, *kit.car, ref, {0.0, -80.0, 26.0}, PointOrigin::by_hand);
  const auto edited = recheck(kit.source, "heron");
  ASSERT_FALSE(edited);
  EXPECT_NE(edited.error().front().wrong.find("other side"), std::string::npos);
}

TEST(PartFields, EveryOneOfEveryShippedCarReadsBackWhatItShows) {
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const auto file = read_car_file(*read_file(data_path(std::string("cars/") + name + ".kite-car.json")), name);
    ASSERT_TRUE(file);
    std::vector<CarField> fields = part_fields(file->source);
    for (const PartHandle i : file->car->adjusters.handles())
      for (const CarField& f : adjuster_fields(file->source, i)) fields.push_back(f);
    EXPECT_GT(fields.size(), 60u);
    for (std::size_t i = 0; i < fields.size(); i += test::runs_a_share() ? 8 : 1) {
      const CarField& f = fields[i];
      Json source = file->source;
      const std::string text = field_text(source, f);
      EXPECT_FALSE(put_field(source, f, text)) << f.pointer;
      EXPECT_TRUE(recheck(source, name)) << f.pointer;
      EXPECT_EQ(field_text(source, f), text) << f.pointer;
    }
  }
}

TEST(PartFields, NumbersAreTakenAsRacersTypeThem) {
  CarFile kit = heron();
  const CarField radius = field_called(part_fields(kit.source), "/axles/front/tyre/radius_mm");
  EXPECT_FALSE(put_field(kit.source, radius, " 31,5 "));
  EXPECT_EQ(recheck(kit.source, "heron")->car->axle(End::front).tyre.radius_mm, 31.5);
  const auto fault = put_field(kit.source, radius, "31 or so");
  ASSERT_TRUE(fault);
  EXPECT_EQ(fault->allowed, "a number");
  EXPECT_EQ(field_text(kit.source, radius), "31.5");
  EXPECT_FALSE(put_field(kit.source, radius, "3150"));
  const auto edited = recheck(kit.source, "heron");
  ASSERT_FALSE(edited);
  EXPECT_NE(edited.error().front().allowed.find("200"), std::string::npos) << "says what is allowed";
}

TEST(PartFields, AnEntryIsRemovedByAnEmptyOne) {
  CarFile kit = heron();
  const CarField unsprung = field_called(part_fields(kit.source), "/axles/front/unsprung_g");
  EXPECT_FALSE(put_field(kit.source, unsprung, ""));
  EXPECT_EQ(recheck(kit.source, "heron")->car->axle(End::front).unsprung_kg, 0.0);
}

TEST(PartFields, HeavyPartsAndWhatIsInsideAShockAreEdited) {
  CarFile kit = heron();
  const auto fields = part_fields(kit.source);
  EXPECT_FALSE(put_field(kit.source, field_called(fields, "/masses/0/g"), "301,5"));
  EXPECT_FALSE(put_field(kit.source, field_called(fields, "/masses/0/at"), "-140 36 14"));
  EXPECT_FALSE(put_field(kit.source, field_called(fields, "/axles/rear/sizes/oil_cst"), "450"));
  const CarField& rate = field_called(fields, "/axles/rear/sizes/spring_rate_n_per_mm");
  EXPECT_FALSE(put_field(kit.source, rate, "2.8 lbf/in"));
  EXPECT_NEAR(kit.source.get()["axles"]["rear"]["sizes"]["spring_rate_n_per_mm"].get<double>(), 0.490355, 1e-6);
  EXPECT_NE(put_field(kit.source, rate, "2.8 stones")->allowed.find("lbf/in"), std::string::npos);
  const auto edited = recheck(kit.source, "heron");
  ASSERT_TRUE(edited) << edited.error().front().line();
  EXPECT_EQ(edited->car->masses[0].grams, 301.5);
  EXPECT_EQ(edited->car->masses[0].place.x(), -140.0);
  EXPECT_EQ(edited->car->axle(End::rear).size_of(Size::oil_cst), 450.0);
}

TEST(AdjusterFields, TheShimsInTheBoxMakeTheSteps) {
  CarFile kit = heron();
  const PartHandle i = kit.car->find_adjuster("front_link_inner_shims");
  const auto fields = adjuster_fields(kit.source, i);
  const std::string at = "/adjusters/" + std::to_string(i.place());
  EXPECT_FALSE(put_field(kit.source, field_called(fields, at + "/shims_mm"), "0.1, 0.2"));
  EXPECT_FALSE(put_field(kit.source, field_called(fields, at + "/max_mm"), "0.4"));
  EXPECT_FALSE(put_field(kit.source, field_called(fields, at + "/min_mm"), "0"));
  EXPECT_FALSE(put_field(kit.source, field_called(fields, at + "/kit_mm"), "0.2"));
  const auto edited = recheck(kit.source, "heron");
  ASSERT_TRUE(edited);
  const auto& stops = edited->car->adjusters[i].range()->stops;
  ASSERT_EQ(stops.size(), 5u);
  EXPECT_NEAR(stops[3], 0.3, 1e-9);
}

TEST(AdjusterFields, ARowOfHolesGoesOnEvenly) {
  CarFile kit = heron();
  PartHandle holes;
  for (const PartHandle i : kit.car->adjusters.handles())
    if (kit.car->adjusters[i].kind == AdjusterKind::hole) holes = i;
  ASSERT_TRUE(holes);
  const std::size_t before = kit.car->adjusters[holes].positions()->list.size();
  ASSERT_TRUE(add_position(kit.source, holes));
  const auto edited = recheck(kit.source, "heron");
  ASSERT_TRUE(edited) << edited.error().front().line();
  const auto& list = edited->car->adjusters[holes].positions()->list;
  ASSERT_EQ(list.size(), before + 1);
  const auto move = [&](std::size_t i) {
    return list[i].effect.moves.empty() ? Vec3(Vec3::Zero()) : list[i].effect.moves[0].mm;
  };
  EXPECT_LT(((move(before) - move(before - 1)) - (move(before - 1) - move(before - 2))).norm(), 1e-6);
  EXPECT_TRUE(remove_position(kit.source, holes));
  EXPECT_EQ(recheck(kit.source, "heron")->car->adjusters[holes].positions()->list.size(), before);
}

TEST(AdjusterFields, TheKitsPositionIsNotRemoved) {
  CarFile kit = heron();
  for (const PartHandle i : kit.car->adjusters.handles()) {
    if (!kit.car->adjusters[i].positions()) continue;
    while (remove_position(kit.source, i)) {
    }
    EXPECT_TRUE(recheck(kit.source, "heron"));
  }
}

// An axle moved as a whole is the same axle elsewhere: what is read of it alone stays.
TEST(WholeAxles, MoveWithWheelbaseAndTrackAndStretchNoArm) {
  for (const char* id : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const auto text = read_file(data_path(std::string("cars/") + id + ".kite-car.json"));
    const CarFile kit = *read_car_file(*text, id);
    const auto fields = part_fields(kit.source);
    const auto figures = [](const Car& car) {
      const auto model = build_model(car, kit_setup(car));
      EXPECT_TRUE(model);
      return *figures_at(*model, static_attitude(*model));
    };
    const CarFigures before = figures(*kit.car);
    Json source = kit.source;
    const CarField wheelbase = field_called(fields, "/whole/wheelbase");
    const double was = std::stod(field_text(source, wheelbase));
    EXPECT_NEAR(was, before.wheelbase_mm[0], 1.0) << id << ": read along the ground there";
    ASSERT_FALSE(put_field(source, wheelbase, fmt::format("{}", was + 7.5)));
    const auto longer = recheck(source, id);
    ASSERT_TRUE(longer) << longer.error().front().line();
    const CarFigures after = figures(*longer->car);
    EXPECT_NEAR(after.wheelbase_mm[0] - before.wheelbase_mm[0], 7.5, 0.01) << id;
    for (const End end : both_ends) {
      EXPECT_NEAR(after.axle[at(end)].wheel[0].camber_rad, before.axle[at(end)].wheel[0].camber_rad, 1e-4) << id;
      EXPECT_NEAR(after.axle[at(end)].wheel[0].camber_gain_rad_per_mm,
                  before.axle[at(end)].wheel[0].camber_gain_rad_per_mm, 1e-6)
          << id;
    }
    // There and back is the file as it was.
    ASSERT_FALSE(put_field(source, wheelbase, fmt::format("{}", was)));
    EXPECT_EQ(source, kit.source) << id;
    for (const End end : both_ends) {
      const CarField track = field_called(fields, "/whole/track/" + std::string(name_of(end)));
      const double wide = std::stod(field_text(source, track));
      Json wider = kit.source;
      ASSERT_FALSE(put_field(wider, track, fmt::format("{}", wide + 4.0)));
      const auto car = recheck(wider, id);
      ASSERT_TRUE(car) << id << ": " << car.error().front().line();
      const CarFigures now = figures(*car->car);
      EXPECT_NEAR(now.axle[at(end)].track_mm - before.axle[at(end)].track_mm, 4.0, 0.05) << id;
      // In front the tie rods have become longer by half of it: their share of the gain is another.
      EXPECT_NEAR(now.axle[at(end)].wheel[0].camber_gain_rad_per_mm,
                  before.axle[at(end)].wheel[0].camber_gain_rad_per_mm, end == End::front ? 5e-5 : 1e-6)
          << id;
      ASSERT_TRUE(put_field(wider, track, "-3")) << "no length";
    }
  }
}

TEST(Faults, AreToldByTheNamesOfPartsAndEntries) {
  const CarFile kit = heron();
  struct Broken {
    std::function<void(Json&)> by;
    const char* told;
  };
  const auto part = [&](const char* id) { return kit.car->find_adjuster(id).place(); };
  const Broken all[] = {
      {[&](Json& j) { j["adjusters"][part("front_link_inner_shims")]["kit_mm"] = 0.1; },
       "Camber link, inner ball, kit stack"},
      {[&](Json& j) { j["adjusters"][part("front_link_inner_shims")]["min_mm"] = 9; },
       "Camber link, inner ball, thinnest stack"},
      {[&](Json& j) { j["adjusters"][part("front_caster_block")]["kit"] = "9 deg"; }, "Caster block, in the kit"},
      {[&](Json& j) { j["adjusters"][part("front_link_hole")]["positions"][0]["label"] = "2"; },
       "hole in the bulkhead"},
      {[&](Json& j) { j["axles"]["front"]["tyre"]["radius_mm"] = -3; }, "Front tyre, radius"},
      {[&](Json& j) { j["axles"]["front"]["sizes"]["shock_compressed_mm"] = 900; }, "Front shock"},
      {[&](Json& j) { j["axles"]["rear"]["points"]["arm_inner_front"][1] = 200; }, "Rear, arm's inner pin, front end"},
  };
  for (const Broken& b : all) {
    Json source = kit.source;
    b.by(source);
    const auto refused = recheck(source, "My heron");
    ASSERT_FALSE(refused) << b.told;
    const std::string line = in_words(refused.error().front(), source).line();
    EXPECT_NE(line.find(b.told), std::string::npos) << line;
    EXPECT_EQ(line.find('_'), std::string::npos) << line;
    EXPECT_EQ(line.find(" > "), std::string::npos) << line;
  }
}

TEST(CarriedOver, ValuesFollowTheirPartsByIdAndLabel) {
  const CarFile kit = heron();
  CarSetup setup = kit_setup(*kit.car);
  const PartHandle shims = kit.car->find_adjuster("front_link_inner_shims");
  setup.values[shims] = {1.5, 2.0};
  Json source = kit.source;
  remove_adjuster(source, PartHandle(shims.place() == 0 ? 1 : 0));
  const auto edited = recheck(source, "heron");
  ASSERT_TRUE(edited);
  const CarSetup after = carried_over(*kit.car, setup, *edited->car);
  ASSERT_EQ(after.values.size(), edited->car->adjusters.size());
  EXPECT_EQ(after.values[edited->car->find_adjuster("front_link_inner_shims")], (Setting{1.5, 2.0}));
  // A value that the edited part cannot have goes to the nearest that it can.
  const PartHandle now = edited->car->find_adjuster("front_link_inner_shims");
  source["adjusters"][now.place()]["max_mm"] = 1.0;
  source["adjusters"][now.place()]["kit_mm"] = 1.0;
  const auto narrow = recheck(source, "heron");
  ASSERT_TRUE(narrow) << narrow.error().front().line();
  EXPECT_EQ(carried_over(*kit.car, setup, *narrow->car).values[now], (Setting{1.0, 1.0}));
}

TEST(Readings, AreKeptInTheFileAndReplaceEachOther) {
  CarFile kit = heron();
  const PointRef a = point(*kit.car, End::front, "link_inner");
  const PointRef b = point(*kit.car, End::front, "link_outer");
  put_reading(kit.source, *kit.car, {ReadingKind::distance, a, b, 41.2, 0.1}, "2026-05-01T10:00:00");
  put_reading(kit.source, *kit.car, {ReadingKind::height, a, {}, 34.0, 0.2}, "2026-05-01T10:01:00");
  put_reading(kit.source, *kit.car, {ReadingKind::distance, a, b, 41.3, 0.1}, "2026-05-01T10:02:00");
  const auto again = read_car_file(write_car(kit.source), "heron");
  ASSERT_TRUE(again) << again.error().front().line();
  const auto readings = readings_in(again->source, *again->car);
  ASSERT_EQ(readings.size(), 2u);
  EXPECT_EQ(readings[0].kind, ReadingKind::height);
  EXPECT_EQ(readings[1].mm, 41.3);
  remove_reading(kit.source, *kit.car, readings[0]);
  remove_reading(kit.source, *kit.car, readings[1]);
  EXPECT_FALSE(kit.source.get().contains("measurements"));
}

TEST(Readings, ThoseOfPointsThatTheCarDoesNotHaveArePassedOver) {
  CarFile kit = heron();
  kit.source.get()["measurements"] =
      Json::parse(R"([{"kind": "height", "axle": "front", "a": "no_such_point", "value_mm": 3}])");
  const auto again = recheck(kit.source, "heron");
  ASSERT_TRUE(again);
  EXPECT_TRUE(readings_in(again->source, *again->car).empty());
  kit.source.get()["measurements"][0]["kind"] = "guess";
  EXPECT_FALSE(recheck(kit.source, "heron"));
}

}  // namespace
}  // namespace lowkite::test
