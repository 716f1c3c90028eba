// Parts described in a racer's words: on every car, at every place, and against the same parts written by hand.
#include "core/parts/fittings.hpp"

#include <set>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/load/mass_figures.hpp"
#include "core/plan/idle_fields.hpp"
#include "core/plan/recipe.hpp"
#include "core/plan/sensitivity.hpp"
#include "core/pose/model.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

CarFile car_file(const std::string& id) {
  auto file = read_car_file(*read_file(data_path("cars/" + id + ".kite-car.json")), id);
  EXPECT_TRUE(file);
  return *file;
}
constexpr std::array six{"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"};

using Said = std::vector<std::pair<std::string, std::string>>;

std::vector<PartQuestion> answered(const PartForm& form, const PartPlace& place, const Car& car,
                                   const Said& said = {}) {
  auto questions = questions_for(form, place, car);
  for (const auto& [id, text] : said) {
    const auto q = std::find_if(questions.begin(), questions.end(), [&](const auto& one) { return one.id == id; });
    if (q == questions.end())
      ADD_FAILURE() << form.id << " does not ask " << id;
    else
      q->answer = text;
  }
  return questions;
}

std::optional<PartPlace> place_called(const PartForm& form, const Car& car, End end, const std::string& label) {
  for (const PartPlace& p : places_for(form, car))
    if (p.end == end && p.label == label) return p;
  return std::nullopt;
}

TEST(PartForms, HaveAPlaceForEachOnSomeCarAndNamesOfTheirOwn) {
  std::set<std::string_view> ids, found;
  for (const PartForm& form : part_forms()) {
    EXPECT_TRUE(ids.insert(form.id).second) << form.id;
    EXPECT_EQ(find_part_form(form.id), &form);
    for (const char* id : six) {
      const CarFile file = car_file(id);
      const auto places = places_for(form, *file.car);
      if (!places.empty()) found.insert(form.id);
      std::set<std::tuple<End, bool, std::string>> labels;
      for (const PartPlace& p : places)
        EXPECT_TRUE(labels.insert({p.end, p.steering, p.label}).second) << form.id << ": " << p.label;
    }
  }
  // Both buggies and the pan car have every turnbuckle and link that could be added: those forms need a car without.
  // And no car lacks a shock, a droop screw or a drive shaft: fittings_test takes them off.
  for (const std::string_view id : ids)
    EXPECT_TRUE(found.contains(id) || id == "turnbuckle" || id.starts_with("fit_")) << id;
}

// What stands in the form before anything is typed makes a part that fits, changes nothing in the kit, and has every
// step that it says it has.
TEST(PartForms, AsProposedMakeAPartThatChangesNothingUntilItIsMoved) {
  int parts = 0, steps = 0, stands = 0;
  for (const char* id : six) {
    const CarFile file = car_file(id);
    const auto before = build_model(*file.car, kit_setup(*file.car));
    ASSERT_TRUE(before);
    int turn = 0;
    for (const PartForm& form : part_forms())
      for (const PartPlace& place : places_for(form, *file.car)) {
        if (runs_a_share() && ++turn % 8 != 0) continue;
        Said said;
        if (form.id == "holes") said = {{"out", "3"}};
        if (form.id == "places" || form.id == "arm") said = {{"up", "0 0.5"}};
        auto questions = answered(form, place, *file.car, said);
        for (PartQuestion& q : questions) {
          if (!q.answer.empty() || q.id == "labels" || q.kind == CarField::Kind::choice) continue;
          if (q.id == "list") q.answer = "2 3 4";
          if (q.id == "now" && questions[1].answer == "2 3 4") q.answer = "3";
        }
        Json source = file.source;
        // The kit's own part for that size makes room.
        std::optional<tl::expected<std::string, Fault>> added = add_part(source, *file.car, form, place, questions);
        for (int room = 0; !*added && room < 3; ++room) {
          ASSERT_NE(added->error().allowed.find("one part only"), std::string::npos)
              << id << " " << form.id << " " << place.label << ": " << added->error().line();
          const std::string allowed = added->error().allowed;
          const std::string name = allowed.substr(allowed.find('"') + 1, allowed.rfind('"') - allowed.find('"') - 1);
          for (std::size_t i = 0; i < source["adjusters"].size(); ++i)
            if (source["adjusters"][i]["name"] == name &&
                source["adjusters"][i]["axle"] == std::string(name_of(place.end))) {
              remove_adjuster(source, PartHandle(i));
              break;
            }
          added = add_part(source, *file.car, form, place, questions);
        }
        ASSERT_TRUE(*added) << id << " " << form.id << " " << place.label;
        const auto with = recheck(source, "own");
        ASSERT_TRUE(with) << id << " " << form.id << " " << place.label << ": " << with.error().front().line();
        const Car& car = *with->car;
        if ((*added)->empty()) {
          EXPECT_TRUE(parts::is_fitting(form)) << form.id << ": what has positions has a name; see fittings_test";
          continue;
        }
        const PartHandle index = car.find_adjuster(**added);
        ASSERT_TRUE(index);
        const Adjuster& part = car.adjusters[index];
        ++parts;
        const test::CarSetup kit = kit_setup(car);
        const auto after = build_model(car, kit);
        ASSERT_TRUE(after) << id << " " << form.id;
        for (const End end : both_ends)
          for (std::size_t p = 0; p < max_points; ++p)
            EXPECT_LT((corner_geometry(car, kit, end, Side::left).set[PointHandle(p)] -
                       corner_geometry(*file.car, kit_setup(*file.car), end, Side::left).set[PointHandle(p)])
                          .norm(),
                      1e-9)
                << id << " " << form.id << " " << place.label;
        const auto values = part.values_besides(part.kit);
        EXPECT_FALSE(values.empty()) << form.id;
        const bool moves = part.moves_geometry() || part.moves_load() || part.moves_weight();
        EXPECT_NE(moves, part.only_kept()) << form.id << " has an effect, or says that it has none";
        for (const Finding& f : idle_fields(car))
          EXPECT_NE(f.adjuster, index) << form.id << " " << place.label << ": " << f.what;
        for (const double v : {values.front(), values.back()}) {
          test::CarSetup set = kit;
          set.values[index] = {v, v};
          ++steps;
          stands += build_model(car, set).has_value();
        }
      }
  }
  EXPECT_GT(parts, runs_a_share() ? 60 : 600);
  EXPECT_GT(stands, steps * 9 / 10) << "a step that no linkage can follow is told when it is taken";
}

// ------------------------------------------------------------------------------- the same part as a file has it by
// hand

struct ByHand {
  const char* id;  // in the shipped file
  const char* form;
  End end;
  const char* place;
  Said said;
};

const std::vector<ByHand>& herons_parts() {
  using enum End;
  static const std::vector<ByHand> all{
      {"front_link_inner_shims", "shims", front, "camber link, inner ball", {{"most", "5"}, {"now", "2"}}},
      {"front_tie_inner_fore",
       "shims",
       front,
       "tie rod, inner ball",
       {{"way", "forwards"}, {"box", "0.5, 1"}, {"most", "2"}, {"now", "1"}}},
      {"front_arm_shims",
       "shims",
       front,
       "under both mounts of the arm's pin",
       {{"box", "0.25 0.5 1"}, {"most", "2"}, {"now", "0,5"}}},
      {"front_link_hole", "holes", front, "camber link, inner ball", {{"out", "3.5"}}},
      {"front_shock_upper_hole", "holes", front, "shock, upper mount", {{"out", "4"}, {"up", "-1"}}},
      {"front_shock_lower_hole", "holes", front, "shock, lower mount", {{"count", "2"}, {"now", "1"}, {"out", "2.5"}}},
      {"front_camber_link", "turnbuckle", front, "camber link", {}},
      {"front_caster_block", "block", front, "Caster block", {}},
      {"front_hub_shims", "axle_height", front, "under the knuckle, along its kingpin", {}},
      {"rear_hub_shims", "axle_height", rear, "under the hub", {}},
      {"front_droop_screw", "droop_screw", front, "on the arm", {}},
      {"front_pin_front_insert", "insert", front, "arm's inner pin, front end", {}},
      {"rear_pin_rear_insert",
       "insert",
       rear,
       "arm's inner pin, rear end",
       {{"out", "-0.63 0 0.63"}, {"up", "-0.63; 0; 0.63"}}},
      {"front_shock_eyelet", "eyelet", front, "of this axle's shocks", {{"longer", "0 1"}}},
      {"front_shock_spacers", "limiter_inside", front, "of this axle", {{"most", "3"}, {"now", "1"}}},
      {"front_spring", "springs", front, "of this axle", {}},
      {"front_bar_link", "bar_link", front, "of this axle", {{"out_turns", "3"}, {"in_turns", "3"}}},
      {"front_arm",
       "arm",
       front,
       "arm's underside, down-stop gauge",
       {{"labels", "medium; thin"}, {"up", "0 0.25"}, {"now", "medium"}}},
      {"servo_horn_spline", "horn_spline", front, "of the servo horn", {}},
      {"servo_horn_hole", "horn_holes", front, "of the servo horn", {}},
      {"drag_link", "turnbuckle", front, "drag link", {}},
      {"rear_wheelbase_spacers", "wheelbase", rear, "on the arm's inner pin", {}},
      {"battery_place", "heavy_part", rear, "battery", {}},
      {"front_ballast", "ballast", front, "found from the front", {{"amounts", "10 20"}, {"ahead", "20"}, {"up", "5"}}},
      {"front_bar", "bar_wires", front, "of this axle", {}},
      {"front_piston", "pistons", front, "of this axle's shocks", {{"list", "2 x 1.3; 3 x 1.1; 4 x 1.0"}}},
      {"front_oil", "shock_oils", front, "of this axle", {{"list", "350 400 450 500"}}},
      {"front_differential", "differential", front, "of this axle", {{"list", "spool; one-way; gears in oil"}}},
      {"rear_differential_oil", "differential_oils", rear, "of this axle", {{"list", "2000 3000 5000 7000 10000"}}},
  };
  return all;
}

void expect_same(const LinkageGeometry& a, const LinkageGeometry& b, const std::string& what) {
  for (const PointHandle p : a.set.handles()) EXPECT_LT((a.set[p] - b.set[p]).norm(), 1e-5) << what;
  for (const LinkHandle i : a.length.handles()) EXPECT_NEAR(a.length[i], b.length[i], 1e-6) << what;
  for (std::size_t i = 0; i < size_count; ++i) EXPECT_NEAR(a.size[i], b.size[i], 1e-6) << what;
}

TEST(PartMaker, MakesWhatAFileSaysByHandWithEveryStepOfIt) {
  const CarFile hand = car_file("heron-tc190");
  for (const ByHand& part : herons_parts()) {
    SCOPED_TRACE(part.id);
    const PartHandle was = hand.car->find_adjuster(part.id);
    ASSERT_TRUE(was);
    Json source = hand.source;
    remove_adjuster(source, was);
    const auto without = recheck(source, "own");
    ASSERT_TRUE(without);
    const PartForm* form = find_part_form(part.form);
    ASSERT_TRUE(form);
    const auto place = place_called(*form, *without->car, part.end, part.place);
    ASSERT_TRUE(place) << part.place;
    Said said = part.said;
    const Adjuster& old = hand.car->adjusters[was];
    // Absolute sizes, from what the kit has.
    const auto size = [&](Size s) { return without->car->axle(part.end).size_of(s); };
    if (part.form == std::string("springs"))
      said.push_back({"list", fmt::format("{} {} {}", size(Size::spring_rate) - 0.06, size(Size::spring_rate),
                                          size(Size::spring_rate) + 0.06)});
    if (part.form == std::string("bar_wires")) said.push_back({"list", "1.1 1.2 1.3"});
    if (part.form == std::string("horn_holes")) said = {{"list", "12 14 16"}, {"now", "14"}};
    const auto id = add_part(source, *without->car, *form, *place, answered(*form, *place, *without->car, said));
    ASSERT_TRUE(id) << id.error().line();
    const auto made = recheck(source, "own");
    ASSERT_TRUE(made) << made.error().front().line();
    const PartHandle now = made->car->find_adjuster(*id);
    const Adjuster& fresh = made->car->adjusters[now];
    EXPECT_EQ(fresh.end, old.end);
    EXPECT_EQ(fresh.steering, old.steering);
    EXPECT_EQ(fresh.threaded(), old.threaded());
    EXPECT_EQ(fresh.place(), old.place());
    std::vector<double> values = old.values_besides(old.kit), mine = fresh.values_besides(fresh.kit);
    ASSERT_EQ(mine.size(), values.size());
    values.push_back(old.kit);
    mine.push_back(fresh.kit);
    // Places of an insert stand in another order: by where they put the point.
    const auto geometry = [&](const Car& car, PartHandle index, double v) {
      test::CarSetup set = kit_setup(car);
      set.values[index] = {v, v};
      const auto corner = corner_geometry(car, set, old.end, Side::left);
      LinkageGeometry g = corner;
      if (old.steering) {
        g.kit = g.set = car.steering.points;
        car.adjusters[index].apply(v, g);
      }
      return g;
    };
    const auto weights = [&](const Car& car, PartHandle index, double v) {
      test::CarSetup set = kit_setup(car);
      set.values[index] = {v, v};
      const auto model = build_model(car, set);
      return model ? model->mass.kg * 1e6 + model->mass.cg->x() : -1.0;
    };
    for (const double v : values) {
      const LinkageGeometry want = geometry(*hand.car, was, v);
      double best = 1e9, best_value = 0.0;
      for (const double m : mine) {
        const LinkageGeometry g = geometry(*made->car, now, m);
        double off = std::abs(weights(*made->car, now, m) - weights(*hand.car, was, v));
        for (const PointHandle p : g.set.handles()) off = std::max(off, (g.set[p] - want.set[p]).norm());
        for (std::size_t i = 0; i < size_count; ++i) off = std::max(off, std::abs(g.size[i] - want.size[i]));
        for (const LinkHandle i : g.length.handles()) off = std::max(off, std::abs(g.length[i] - want.length[i]));
        if (off < best) {
          best = off;
          best_value = m;
        }
      }
      // A horn's hole is made along its arm, which in the file is a tenth off the vertical.
      EXPECT_LT(best, 1e-5) << "at " << v;
      EXPECT_TRUE(!old.range() || best_value == v);
      EXPECT_TRUE(v != old.kit || best_value == fresh.kit);
      if (best < 1e-5) expect_same(geometry(*made->car, now, best_value), want, part.id);
    }
  }
}

// --------------------------------------------------------------------------------------------------- ways and
// directions

Car with_part(const CarFile& file, const char* form_id, End end, const std::string& label, const Said& said,
              PartHandle& index) {
  const PartForm& form = *find_part_form(form_id);
  const auto place = place_called(form, *file.car, end, label);
  EXPECT_TRUE(place) << label;
  Json source = file.source;
  const auto id = add_part(source, *file.car, form, *place, answered(form, *place, *file.car, said));
  EXPECT_TRUE(id) << (id ? "" : id.error().line());
  auto with = recheck(source, "own");
  EXPECT_TRUE(with) << (with ? "" : with.error().front().line());
  index = with->car->find_adjuster(*id);
  return *with->car;
}

TEST(PartMaker, AnglesOfBlocksAreThoseThatTheCarThenHas) {
  for (const char* id : {"heron-tc190", "dunlin-4wd", "plover-2wd"}) {
    const CarFile file = car_file(id);
    PartHandle index;
    const auto figure = [&](const Car& car, int value, const char* name, End end) {
      test::CarSetup set = kit_setup(car);
      const auto v = static_cast<double>(value);
      set.values[index] = {v, v};
      const auto model = build_model(car, set);
      EXPECT_TRUE(model);
      const auto f = figures_at(*model, static_attitude(*model));
      EXPECT_TRUE(f);
      const WheelFigures& w = f->axle[at(end)].wheel[0];
      return std::string_view(name) == "caster" ? degrees(w.kingpin->caster_rad) : degrees(w.toe_rad);
    };
    const Car caster = with_part(file, "block", End::front, "Caster block", {{"list", "3 5 8"}, {"now", "5"}}, index);
    EXPECT_NEAR(figure(caster, 2, "caster", End::front) - figure(caster, 1, "caster", End::front), 3.0, 0.1) << id;
    EXPECT_NEAR(figure(caster, 0, "caster", End::front) - figure(caster, 1, "caster", End::front), -2.0, 0.1) << id;
    // The pin of an arm that carries its hub without a link of its own toes the wheel in by as much.
    const MechanismSpec& rear = *file.car->axle(End::rear).mechanism;
    if (rear.id == "solid_hub") {
      const Car toe =
          with_part(file, "block", End::rear, "Toe-in of the arm's pin", {{"list", "2 3"}, {"now", "2"}}, index);
      EXPECT_NEAR(figure(toe, 1, "toe", End::rear) - figure(toe, 0, "toe", End::rear), 1.0, 0.05) << id;
    }
    // Front end up.
    const Car climb = with_part(file, "block", End::front, "Climb of the arm's pin, front end up",
                                {{"list", "0 2"}, {"now", "0"}}, index);
    const auto spots = spots_of(climb, climb.adjusters[index]);
    ASSERT_EQ(spots.size(), 2U);
    EXPECT_TRUE(spots[0].kit);
    EXPECT_GT(spots[1].mm.z(), spots[0].mm.z()) << id;
  }
}

TEST(PartMaker, RatesAreTakenAsTheyAreMarkedAndTheOneInTheCarIsKeptInTheFile) {
  CarFile file = car_file("plover-2wd");
  Json bare = file.source;
  for (std::size_t i = bare["adjusters"].size(); i-- > 0;)
    if (bare["adjusters"][i]["id"] == "front_spring") remove_adjuster(bare, PartHandle(i));
  file = *recheck(bare, "own");
  PartHandle index;
  const Car car = with_part(
      file, "springs", End::front, "of this axle",
      {{"list", "2.5 lbf/in; 2.8 lbf/in; 3.1 lbf/in"}, {"now", "2.8 lbf/in"}, {"labels", "red; blue; gold"}}, index);
  const Adjuster& spring = car.adjusters[index];
  ASSERT_EQ(spring.positions()->list.size(), 3U);
  EXPECT_EQ(spring.positions()->list[2].label, "gold");
  EXPECT_EQ(spring.kit, 1.0);
  constexpr double n_per_mm = 4.4482216152605 / 25.4;  // of a pound-force an inch: exact by definition
  EXPECT_NEAR(car.axle(End::front).size_of(Size::spring_rate), 2.8 * n_per_mm, 1e-4);
  const auto g = corner_geometry(
      car,
      [&] {
        test::CarSetup s = kit_setup(car);
        s.values[index] = {2.0, 2.0};
        return s;
      }(),
      End::front, Side::left);
  EXPECT_NEAR(g.size_of(Size::spring_rate), 3.1 * n_per_mm, 1e-4);
}

TEST(PartMaker, SaysWhichAnswerIsWrongAndLeavesTheFileAsItWas) {
  const CarFile file = car_file("heron-tc190");
  struct Wrong {
    const char *form, *place;
    Said said;
    const char* where;
  };
  const Wrong all[] = {
      {"holes", "camber link, inner ball", {{"out", "three"}}, "outwards"},
      {"holes", "camber link, inner ball", {}, "outwards"},
      {"holes", "camber link, inner ball", {{"out", "3"}, {"now", "4"}}, "in use"},
      {"holes", "camber link, inner ball", {{"out", "3"}, {"count", "2.5"}}, "holes"},
      {"holes", "camber link, inner ball", {{"out", "3"}, {"name", "  "}}, "call it"},
      {"places", "camber link, inner ball", {{"labels", "A"}}, "positions"},
      {"places", "camber link, inner ball", {{"labels", "A; B; C"}, {"out", "1 2"}}, "further out"},
      {"places", "camber link, inner ball", {{"up", "0 1"}, {"now", "C"}}, "in the car now"},
      {"insert", "arm's inner pin, front end", {{"out", "x"}}, "out of its middle"},
      {"insert", "arm's inner pin, front end", {{"now", "sideways"}}, "in the car now"},
      {"block", "Caster block", {{"list", "4"}}, "angles"},
      {"block", "Caster block", {{"now", "5"}}, "in the car now"},
      {"springs", "of this axle", {{"list", "soft hard"}}, "those that you have"},
      {"pistons", "of this axle's shocks", {{"list", "2 x 1.3; many"}}, "pistons"},
      {"pistons", "of this axle's shocks", {{"list", "0 x 1.3; 2 x 1.2"}}, "pistons"},
      {"shims", "camber link, inner ball", {{"box", ""}}, "thicknesses"},
      {"differential", "of this axle", {{"list", "open; ball"}}, "those that fit"},
      {"horn_spline", "of the servo horn", {{"teeth", "3"}}, "teeth"},
      {"ballast", "found from the front", {{"amounts", ""}}, "weights"},
      {"shock_oils", "of this axle", {}, "those that you have"},  // there is a part for it already
  };
  for (const Wrong& w : all) {
    SCOPED_TRACE(std::string(w.form) + ", " + w.where);
    const PartForm& form = *find_part_form(w.form);
    const auto place = place_called(form, *file.car, End::front, w.place);
    ASSERT_TRUE(place);
    Json source = file.source;
    const Json before = source;
    const auto id = add_part(source, *file.car, form, *place, answered(form, *place, *file.car, w.said));
    ASSERT_FALSE(id);
    EXPECT_NE(id.error().place.find(w.where), std::string::npos) << id.error().line();
    EXPECT_FALSE(id.error().allowed.empty());
    EXPECT_EQ(source, before);
  }
}

// What is only kept is in no search and no check, but in every setup; a file that gives it an effect is refused.
TEST(PartMaker, WhatIsOnlyKeptChangesNothingButTheSetup) {
  const CarFile file = car_file("heron-tc190");
  PartHandle index;
  const Car car = with_part(file, "body", End::rear, "once for the car",
                            {{"labels", "low; high; low, 3 mm wing"}, {"now", "high"}}, index);
  const Adjuster& body = car.adjusters[index];
  EXPECT_EQ(body.kit, 1.0);
  EXPECT_TRUE(body.one_piece());
  test::CarSetup set = kit_setup(car);
  set.values[index] = {2.0, 2.0};
  const auto a = build_model(car, kit_setup(car)), b = build_model(car, set);
  ASSERT_TRUE(a && b);
  EXPECT_EQ(a->mass.kg, b->mass.kg);
  EXPECT_NE(kit_setup(car), set) << "a setup with another body is another setup";
  for (const PartHandle part : recipe_parts(car, End::rear)) EXPECT_NE(part, index) << "no search tries it";
  const auto moves = sensitivity(car, kit_setup(car), End::rear, false);
  ASSERT_TRUE(moves);
  for (const SensitivityRow& row : moves->rows) EXPECT_NE(row.adjuster, index) << "it moves nothing";
  Json source = file.source;
  const PartForm& form = *find_part_form("motor");
  const auto place = *place_called(form, *file.car, End::rear, "once for the car");
  const auto id = add_part(source, *file.car, form, place, answered(form, place, *file.car));
  ASSERT_TRUE(id);
  source["adjusters"].back()["positions"][1]["change"]["spring_rate_n_per_mm"] = 0.1;
  const auto refused = recheck(source, "own");
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().front().wrong.find("only kept"), std::string::npos);
}

TEST(PartMaker, IdsAreFreeAndOrderIsTheRacers) {
  const CarFile file = car_file("heron-tc190");
  Json source = file.source;
  const PartForm& form = *find_part_form("shims");
  const auto place = *place_called(form, *file.car, End::rear, "camber link, inner ball");
  const auto first = add_part(source, *file.car, form, place, answered(form, place, *file.car, {{"name", "Mine"}}));
  const auto second = add_part(source, *file.car, form, place, answered(form, place, *file.car, {{"name", "Mine"}}));
  ASSERT_TRUE(first && second);
  EXPECT_NE(*first, *second);
  // Up past the parts of other rooms, not through the wall.
  std::size_t last = source["adjusters"].size() - 1;
  EXPECT_FALSE(reorder_adjuster(source, PartHandle(last), 1));
  ASSERT_TRUE(reorder_adjuster(source, PartHandle(last), -1));
  EXPECT_EQ(source["adjusters"][last]["id"], *first);
  std::size_t at = last - 1;
  int up = 0;
  while (true) {
    const std::string mine = source["adjusters"][at]["id"];
    if (!reorder_adjuster(source, PartHandle(at), -1)) break;
    for (at = 0; source["adjusters"][at]["id"] != mine;) ++at;
    ++up;
  }
  EXPECT_GT(up, 3);
  for (std::size_t i = 0; i < at; ++i)
    EXPECT_FALSE(source["adjusters"][i]["axle"] == "rear" && source["adjusters"][i].value("on", "axle") == "axle");
  EXPECT_TRUE(recheck(source, "own"));
}

}  // namespace
}  // namespace lowkite::test
