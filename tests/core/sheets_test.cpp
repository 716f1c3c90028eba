// Setup sheets of others: labels found beside fields, matches proposed and remembered, sheets taken and filled in, on
// every car.
#include "core/sheets/take_sheet.hpp"

#include <fstream>
#include <map>
#include <sstream>

#include <fmt/format.h>

#include "core/figures/variant.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/plan/wanted.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

SheetForm sample_form(const std::string& name) {
  const auto text = read_file(std::string(LOWKITE_TEST_SAMPLES) + "/sheets/" + name + ".form.json");
  EXPECT_TRUE(text);
  auto form = form_from_json(*text, name);
  EXPECT_TRUE(form);
  return *form;
}

const FormField& field_named(const SheetForm& form, const std::string& name, const std::string& option = {}) {
  for (const FormField& f : form.fields)
    if (f.name == name && (option.empty() || f.option == option)) return f;
  ADD_FAILURE() << "no field " << name;
  return form.fields.front();
}

/// A page of words and fields, laid out by hand: x and y in hundredths of the page.
class Paper {
 public:
  Paper() { form_.pages = 1; }
  Paper& word(double x, double y, const std::string& text) {
    form_.words.push_back(
        {0, {x / 100, y / 100, (x + 0.9 * static_cast<double>(text.size())) / 100, (y + 1.2) / 100}, text});
    return *this;
  }
  /// Each word of a line, a space apart.
  Paper& line(double x, double y, const std::string& text) {
    std::istringstream words(text);
    for (std::string w; words >> w; x += 0.9 * static_cast<double>(w.size()) + 0.6) word(x, y, w);
    return *this;
  }
  Paper& field(double x, double y, const std::string& name, double wide = 12) {
    return add(x, y, wide, name, FormFieldKind::text, {});
  }
  Paper& box(double x, double y, const std::string& name, const std::string& option = {}) {
    return add(x, y, 1.5, name, FormFieldKind::box, option);
  }
  SheetForm described() {
    describe_fields(form_);
    return form_;
  }

 private:
  Paper& add(double x, double y, double wide, const std::string& name, FormFieldKind kind, const std::string& option) {
    FormField f;
    f.name = name;
    f.kind = kind;
    f.option = option;
    f.at = {x / 100, (y - 0.3) / 100, (x + wide) / 100, (y + 1.5) / 100};
    form_.fields.push_back(f);
    return *this;
  }
  SheetForm form_;
};

TEST(SheetWords, ArePartedWhereAReaderWouldPartThem) {
  using Words = std::vector<std::string>;
  EXPECT_EQ(plain_words("FrontCamber_L2"), (Words{"front", "camber", "l", "2"}));
  EXPECT_EQ(plain_words("  rear-ride.height (mm) "), (Words{"rear", "ride", "height", "mm"}));
  EXPECT_EQ(plain_words("DIFF oil 5k"), (Words{"diff", "oil", "5", "k"}));
  EXPECT_TRUE(plain_words("= : ...").empty());
}

TEST(SheetWords, NumbersAsSheetsHaveThem) {
  const std::map<std::string, double> told{{"1,5", 1.5},       {"-1.5 deg", -1.5}, {"\u22122.0\u00B0", -2.0},
                                           {"5.2mm", 5.2},     {"1+0.5", 1.5},     {"1 + 0,25 + 0.25", 1.5},
                                           {"approx. 3", 3.0}, {"+0.5", 0.5},      {" 7 ", 7.0},
                                           {"350 cSt", 350.0}, {"0", 0.0}};
  for (const auto& [text, number] : told) EXPECT_EQ(sheet_number(text), number) << text;
  for (const char* none : {"", "soft", "2 x 1.3", "1-2", "1.5 / 2", "1.2.3", "-", "2-1", "-1+2", "5 to 6"})
    EXPECT_FALSE(sheet_number(none)) << none;
  EXPECT_EQ(sheet_sides("1.5 / 2"), (PerSide<std::string>{"1.5", "2"}));
  EXPECT_EQ(sheet_sides("left"), (PerSide<std::string>{"left", "left"}));
  EXPECT_EQ(sheet_sides("1/2/3"), (PerSide<std::string>{"1/2/3", "1/2/3"}));
}

// Every position of every part is found by its own label, with and without its unit; what could be two is neither.
TEST(SheetWords, NameOnePositionOrNone) {
  int tried = 0;
  for (const Car& car : every_shipped_car())
    for (const Adjuster& a : car.adjusters)
      if (const Positions* p = a.positions())
        for (std::size_t i = 0; i < p->list.size(); ++i) {
          const std::string& label = p->list[i].label;
          for (const std::string& text : {label, " " + label + " ", "hole " + label}) {
            const auto found = sheet_position(*p, text);
            EXPECT_EQ(found, static_cast<int>(i)) << car.id << " " << a.id << " '" << text << "'";
            ++tried;
          }
        }
  EXPECT_GT(tried, 600);
  const Positions oils{
      {{"2k cSt", {}}, {"2k5 cSt", {}}, {"soft 2", {}}, {"soft 3", {}}, {"-1 tooth", {}}, {"+1 tooth", {}}}};
  EXPECT_EQ(sheet_position(oils, "2k"), 0);
  EXPECT_EQ(sheet_position(oils, "2K5"), 1);
  EXPECT_FALSE(sheet_position(oils, "soft"));
  EXPECT_EQ(sheet_position(oils, "-1 tooth"), 4);
  EXPECT_EQ(sheet_position(oils, "+1 tooth"), 5);
  EXPECT_EQ(sheet_position(oils, "3"), 3);
  EXPECT_FALSE(sheet_position(oils, "2")) << "2k, 2k5 or soft 2";
}

TEST(SheetLabels, StandBeforeAFieldOrAboveIt) {
  const SheetForm form = Paper()
                             .line(5, 10, "Toe (+ = in):")
                             .field(30, 10, "a")
                             .line(50, 10, "Ride height ______")
                             .field(75, 10, "b")
                             .line(5, 20, "Name of the race")
                             .field(5, 22, "c", 40)
                             .field(60, 40, "alone")
                             .described();
  EXPECT_EQ(form.fields[0].label, "Toe (+ = in)");
  EXPECT_EQ(form.fields[1].label, "Ride height");
  EXPECT_EQ(form.fields[2].label, "Name of the race");
  EXPECT_EQ(form.fields[3].label, "");
  EXPECT_EQ(form.fields[3].title(), "alone");
}

TEST(SheetLabels, TheEndComesFromTheNameTheHeadingOrTheLabel) {
  const SheetForm form = Paper()
                             .word(5, 10, "FRONT")
                             .word(55, 10, "REAR")
                             .line(5, 14, "Camber")
                             .field(25, 14, "Text1")
                             .line(55, 14, "Camber")
                             .field(75, 14, "Text2")
                             .line(55, 18, "Arm pin, front insert")
                             .field(85, 18, "Text3")
                             .line(5, 18, "Rear ride height")
                             .field(30, 18, "Text4")
                             .line(5, 22, "Spring")
                             .field(25, 22, "spring_r")
                             .field(40, 22, "spring_f")
                             .line(5, 26, "Weight")
                             .field(20, 26, "w_fl")
                             .field(35, 26, "w_fr")
                             .field(50, 26, "w_rl")
                             .field(65, 26, "w_rr")
                             .described();
  const auto ends = [&](std::size_t i) { return form.fields[i].end; };
  EXPECT_EQ(ends(0), End::front);
  EXPECT_EQ(ends(1), End::rear);
  EXPECT_EQ(ends(2), End::rear) << "an insert at the front of the pin, under the rear's heading";
  EXPECT_EQ(ends(3), End::rear) << "whatever it stands under";
  EXPECT_EQ(ends(4), End::rear);
  EXPECT_EQ(ends(5), End::front);
  const std::array<std::pair<End, Side>, 4> wheels{
      {{End::front, Side::left}, {End::front, Side::right}, {End::rear, Side::left}, {End::rear, Side::right}}};
  for (std::size_t i = 0; i < wheels.size(); ++i) {
    EXPECT_EQ(ends(6 + i), wheels[i].first) << i;
    EXPECT_EQ(form.fields[6 + i].side, wheels[i].second) << i;
  }
}

// A tick means what is printed at the box, on whichever side; the file's own word for it may be a mere count.
TEST(SheetLabels, ATickMeansWhatIsPrinted) {
  const SheetForm behind = Paper()
                               .line(5, 10, "Battery")
                               .box(20, 10, "b", "0")
                               .word(22, 10, "back")
                               .box(30, 10, "b", "1")
                               .word(32, 10, "forward")
                               .line(50, 10, "Motor")
                               .box(60, 10, "m1")
                               .word(62, 10, "low")
                               .box(70, 10, "m2")
                               .word(72, 10, "high")
                               .described();
  EXPECT_EQ(behind.fields[0].option, "back");
  EXPECT_EQ(behind.fields[1].option, "forward");
  EXPECT_EQ(behind.fields[2].option, "low");
  EXPECT_EQ(behind.fields[3].option, "high");
  for (const std::size_t i : {0u, 1u}) EXPECT_EQ(behind.fields[i].label, "Battery");
  for (const std::size_t i : {2u, 3u}) EXPECT_EQ(behind.fields[i].label, "Motor");
  const SheetForm before = Paper()
                               .line(5, 10, "Hole")
                               .word(18.5, 10, "1")
                               .box(20, 10, "h", "0")
                               .word(28.5, 10, "2")
                               .box(30, 10, "h", "1")
                               .word(38.5, 10, "3")
                               .box(40, 10, "h", "2")
                               .described();
  for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(before.fields[i].option, std::to_string(i + 1));
  const SheetForm bare = Paper().box(20, 10, "h", "0").box(30, 10, "h", "1").box(50, 10, "k", "soft").described();
  EXPECT_EQ(bare.fields[0].option, "") << "a count says nothing";
  EXPECT_EQ(bare.fields[2].option, "soft");
}

// The demo's sheet on the demo's car, with half of its names telling nothing.
TEST(SheetMatches, ProposeWhatARacerWouldChoose) {
  const SheetForm form = sample_form("tannery-sharper");
  const Car car = touring();
  const auto matches = propose_matches(form, sheet_places(car), car);
  const auto match = [&](const std::string& name) {
    const FormField& f = field_named(form, name);
    return matches[at(&f - form.fields.data())];
  };
  const std::map<std::string, std::string> wanted{{"track", "track"},
                                                  {"date", "date"},
                                                  {"setup_name", "name"},
                                                  {"remarks", "notes"},
                                                  {"driver", "noted"},
                                                  {"body", "noted"},
                                                  {"tyres", "noted"},
                                                  {"gearing", "noted"},
                                                  {"ride_height_f", "ride_height/front"},
                                                  {"ride_height_r", "ride_height/rear"},
                                                  {"camber_f", "camber/front"},
                                                  {"camber_r", "camber/rear"},
                                                  {"toe_f", "toe_in/front"},
                                                  {"toe_r", "toe_in/rear"},
                                                  {"Text11", "gauge/link_length/front/camber_link"},
                                                  {"Text21", "gauge/link_length/rear/camber_link"},
                                                  {"Text12", "part/front_link_inner_shims"},
                                                  {"Text22", "part/rear_link_inner_shims"},
                                                  {"Text13", "part/front_link_outer_shims"},
                                                  {"Text23", "part/rear_link_outer_shims"},
                                                  {"Text14", "part/front_arm_shims"},
                                                  {"Text24", "part/rear_arm_shims"},
                                                  {"Text15", "part/front_hub_shims"},
                                                  {"Text25", "part/rear_hub_shims"},
                                                  {"droop_f", "gauge/down_stop/front"},
                                                  {"droop_r", "gauge/down_stop/rear"},
                                                  {"shock_top_f", "part/front_shock_upper_hole"},
                                                  {"shock_top_r", "part/rear_shock_upper_hole"},
                                                  {"shock_arm_f", "part/front_shock_lower_hole"},
                                                  {"shock_arm_r", "part/rear_shock_lower_hole"},
                                                  {"spring_f", "part/front_spring"},
                                                  {"spring_r", "part/rear_spring"},
                                                  {"oil_f", "part/front_oil"},
                                                  {"oil_r", "part/rear_oil"},
                                                  {"piston_f", "part/front_piston"},
                                                  {"piston_r", "part/rear_piston"},
                                                  {"bar_f", "part/front_bar"},
                                                  {"bar_r", "part/rear_bar"},
                                                  {"diff_f", "part/front_differential"},
                                                  {"diff_r", "part/rear_differential_oil"},
                                                  {"caster", "part/front_caster_block"},
                                                  {"battery_back", "part/battery_place"}};
  for (const auto& [name, place] : wanted) EXPECT_EQ(match(name).place, place) << name;
  EXPECT_EQ(match("battery_back").option, "back");
  EXPECT_EQ(match("battery_middle").option, "middle");
}

// "0.5" in front may be in or out: without a word for it nothing is turned.
TEST(SheetMatches, AToeWithoutItsWayIsAskedFor) {
  const Car car = touring();
  const auto toe = [&](const std::string& label, const std::string& name, const std::string& text) {
    SheetForm form = Paper().line(5, 10, label).field(40, 10, name).described();
    form.fields[0].text = text;
    auto matches = propose_matches(form, sheet_places(car), car);
    auto taken = take_sheet(car, kit_setup(car), form, matches, {});
    EXPECT_TRUE(taken);
    return std::tuple(matches[0].place, taken->lines[0].outcome, taken->setup.wanted[0][0].toe_deg);
  };
  const auto bare = toe("Front toe", "a", "0.5");
  EXPECT_EQ(std::get<0>(bare), "toe/front");
  EXPECT_EQ(std::get<1>(bare), SheetOutcome::refused);
  EXPECT_FALSE(std::get<2>(bare));
  EXPECT_EQ(std::get<2>(toe("Front toe", "a", "0.5 out")), -0.5);
  EXPECT_EQ(std::get<2>(toe("Front toe", "a", "0,5 in")), 0.5);
  EXPECT_EQ(std::get<2>(toe("Front toe out", "a", "0.5")), -0.5);
  EXPECT_EQ(std::get<2>(toe("Front toe-in", "a", "0.5")), 0.5);
  EXPECT_EQ(std::get<2>(toe("Front toe-in", "a", "-0.5")), -0.5);
  EXPECT_EQ(std::get<2>(toe("Front toe in/out", "a", "0")), 0.0);
}

/// A field for every place of a car, matched; both sides in one field, or one a side.
struct WholeSheet {
  SheetForm form;
  std::vector<SheetMatch> matches;
};
WholeSheet whole_sheet(const Car& car, bool a_field_a_side) {
  WholeSheet w;
  w.form.pages = 1;
  for (const SheetPlace& p : sheet_places(car)) {
    if (p.kind == SheetPlaceKind::noted || p.kind == SheetPlaceKind::camber_minus || p.kind == SheetPlaceKind::toe_in ||
        p.kind == SheetPlaceKind::toe_out)
      continue;
    for (const Side side : both_sides) {
      if (side == Side::right && !(a_field_a_side && p.sides)) continue;
      FormField f;
      f.name = fmt::format("F{}", w.form.fields.size());
      f.label = p.label;
      w.form.fields.push_back(f);
      w.matches.push_back({p.id, a_field_a_side && p.sides ? std::optional(side) : std::nullopt, {}});
    }
  }
  return w;
}

void write_in(SheetForm& form, const std::vector<SheetFill>& values) {
  for (std::size_t i = 0; i < values.size(); ++i) {
    if (!values[i].known) continue;
    form.fields[i].text = values[i].text;
    form.fields[i].ticked = values[i].tick;
  }
}

// There and back on every car, left and right unlike: a sheet filled with a setup gives that setup again.
TEST(Sheets, FilledInAndReadGiveTheSameSetup) {
  int compared = 0, setups = 0;
  for (const Car& car : every_shipped_car())
    for (int n = 0; n < share_of(24); ++n) {
      std::mt19937 random(static_cast<unsigned>(100 * n + 7));
      CarSetup setup = random_setup(car, random);
      setup.name = fmt::format("n{}", n);
      setup.date = "2026-11-28";
      setup.notes = "two\nlines";
      for (const End end : both_ends) setup.ride_height_mm[at(end)] = car.kit_ride_height_mm[at(end)] + 0.25 * (n % 3);
      WholeSheet sheet = whole_sheet(car, n % 2 == 1);
      const auto values = fill_sheet(car, setup, sheet.form, sheet.matches, {});
      if (!values) continue;  // a random setup that cannot stand
      ++setups;
      write_in(sheet.form, *values);
      const auto taken = take_sheet(car, kit_setup(car), sheet.form, sheet.matches, {});
      ASSERT_TRUE(taken) << car.id;
      const auto wanted = evaluate(car, setup, {}, coarse_curve);
      const auto got = evaluate(car, taken->setup, {}, coarse_curve);
      ASSERT_TRUE(wanted && got);
      EXPECT_EQ(taken->setup.name, setup.name);
      EXPECT_EQ(taken->setup.notes, setup.notes);
      EXPECT_EQ(taken->setup.ride_height_mm, setup.ride_height_mm) << car.id << " " << n;
      for (std::size_t f = 0; f < sheet.form.fields.size(); ++f) {
        const SheetLine& line = taken->lines[f];
        EXPECT_NE(line.outcome, SheetOutcome::nearest) << car.id << " " << sheet.matches[f].place;
        if (!sheet.matches[f].place.starts_with("part/")) continue;
        EXPECT_EQ(line.outcome, SheetOutcome::taken)
            << car.id << " " << sheet.matches[f].place << " '" << sheet.form.fields[f].text << "' " << line.why;
        const PartHandle part = car.find_adjuster(sheet.matches[f].place.substr(5));
        for (const Side side : both_sides)
          if (!sheet.matches[f].side || *sheet.matches[f].side == side) {
            EXPECT_EQ(taken->setup.of(part).on(side), setup.of(part).on(side))
                << car.id << " " << n << " " << sheet.matches[f].place << " '" << sheet.form.fields[f].text << "'";
            ++compared;
          }
      }
      // What links and screws make of it reads alike, to what a caliper and an eighth of a turn can tell.
      for (const End end : both_ends)
        for (const Side side : both_sides) {
          const auto& a = wanted->source.standing.axle[at(end)].wheel[at(side)];
          const auto& b = got->source.standing.axle[at(end)].wheel[at(side)];
          constexpr double tells_deg = 0.25;
          // Rods turned at random to far beyond any setting move more by an eighth of a turn.
          constexpr double no_setting_deg = 8.0;
          if (std::abs(degrees(a.toe_rad)) > no_setting_deg) continue;
          EXPECT_NEAR(degrees(a.camber_rad), degrees(b.camber_rad), tells_deg) << car.id << " " << n;
          EXPECT_NEAR(degrees(a.toe_rad), degrees(b.toe_rad), tells_deg) << car.id << " " << n;
        }
    }
  EXPECT_GT(setups, share_of(24) * 4);
  EXPECT_GT(compared, 20 * setups);
}

// A sheet that gives a link's length and another camber is told what the length gives.
TEST(Sheets, AContradictionIsToldWithWhatTheModelReads) {
  const Car car = touring();
  for (const double off_deg : {-1.0, -0.4, 0.0, 0.4, 1.0}) {
    WholeSheet sheet = whole_sheet(car, false);
    write_in(sheet.form, *fill_sheet(car, kit_setup(car), sheet.form, sheet.matches, {}));
    const auto camber = at(std::find_if(sheet.matches.begin(), sheet.matches.end(),
                                        [](const SheetMatch& m) { return m.place == "camber/front"; }) -
                           sheet.matches.begin());
    const double reads = *sheet_number(sheet.form.fields[camber].text);
    sheet.form.fields[camber].text = fmt::format("{:.1f}", reads + off_deg);
    const auto taken = take_sheet(car, kit_setup(car), sheet.form, sheet.matches, {});
    ASSERT_TRUE(taken);
    const SheetLine& line = taken->lines[camber];
    EXPECT_EQ(line.outcome, SheetOutcome::compared);
    EXPECT_EQ(line.contradicts, off_deg != 0.0) << off_deg;
    ASSERT_TRUE(line.said && line.reads);
    EXPECT_NEAR(*line.reads, reads, 0.051);
    EXPECT_NEAR(*line.said, reads + off_deg, 1e-9);
    EXPECT_EQ(taken->contradictions, off_deg != 0.0 ? 1 : 0);
    EXPECT_EQ(taken->setup.of(car.find_adjuster("front_camber_link")).left, 0.0) << "the length is what was given";
  }
}

// What a part cannot be changes nothing, says what it can be, and is not lost.
TEST(Sheets, WhatCannotBeIsRefusedAndNoted) {
  int place = 0;
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    for (const SheetPlace& p : sheet_places(car)) {
      if (runs_a_share() && ++place % 5 != 0) continue;
      if (p.kind == SheetPlaceKind::name || p.kind == SheetPlaceKind::date || p.kind == SheetPlaceKind::track ||
          p.kind == SheetPlaceKind::notes || p.kind == SheetPlaceKind::noted)
        continue;
      for (const char* text : {"blue", "9999", "1 2 3", "-500"}) {
        if (runs_a_share() && *text != '9') continue;
        SheetForm form;
        form.pages = 1;
        form.fields.resize(1);
        form.fields[0].name = "F";
        form.fields[0].label = "On the sheet";
        form.fields[0].text = text;
        const auto taken = take_sheet(car, kit, form, {{p.id, std::nullopt, {}}}, {});
        ASSERT_TRUE(taken);
        const SheetLine& line = taken->lines[0];
        EXPECT_EQ(taken->setup.values, kit.values) << car.id << " " << p.id << " " << text;
        EXPECT_EQ(taken->setup.ride_height_mm, kit.ride_height_mm) << car.id << " " << p.id << " " << text;
        if (line.outcome == SheetOutcome::compared) {
          EXPECT_TRUE(line.contradicts || !line.reads) << car.id << " " << p.id << " " << text;
          continue;
        }
        EXPECT_EQ(line.outcome, SheetOutcome::refused) << car.id << " " << p.id << " " << text;
        EXPECT_FALSE(line.why.empty());
        ASSERT_TRUE(noted_under(taken->setup, "On the sheet")) << car.id << " " << p.id;
        EXPECT_EQ(*noted_under(taken->setup, "On the sheet"), text);
        EXPECT_EQ(taken->taken, 0);
      }
    }
  }
}

// A stack that no shims make is taken at the next one, and told; one further off is refused.
TEST(Sheets, ANumberBetweenTwoStepsIsTold) {
  const Car car = touring();
  SheetForm form;
  form.pages = 1;
  form.fields.resize(1);
  form.fields[0].name = "F";
  const auto taken = [&](const char* text) {
    form.fields[0].text = text;
    return *take_sheet(car, kit_setup(car), form, {{"part/front_link_inner_shims", std::nullopt, {}}}, {});
  };
  const PartHandle part = car.find_adjuster("front_link_inner_shims");
  EXPECT_EQ(taken("1.3").lines[0].outcome, SheetOutcome::nearest);
  EXPECT_EQ(taken("1.3").setup.of(part), (Setting{1.25, 1.25}));
  EXPECT_EQ(taken("1+0.25").lines[0].outcome, SheetOutcome::taken);
  EXPECT_EQ(taken("1 / 2.5").setup.of(part), (Setting{1.0, 2.5}));
  EXPECT_EQ(taken("-").lines[0].outcome, SheetOutcome::empty);
  EXPECT_EQ(taken("5.1").lines[0].outcome, SheetOutcome::refused);
}

// Camber is set before the toe that it moves, in whatever order the sheet has them.
TEST(Sheets, TheOrderOfFieldsDoesNotMatter) {
  const Car car = touring();
  SheetForm form;
  form.pages = 1;
  form.fields.resize(3);
  const std::array<std::pair<const char*, const char*>, 3> said{
      {{"toe/front", "1 out"}, {"camber/front", "-2.5"}, {"part/front_caster_block", "6"}}};
  std::optional<std::vector<Setting>> first;
  std::array<std::size_t, 3> order{0, 1, 2};
  do {
    std::vector<SheetMatch> matches;
    for (std::size_t i = 0; i < order.size(); ++i) {
      form.fields[i].name = fmt::format("F{}", i);
      form.fields[i].text = said[order[i]].second;
      matches.push_back({said[order[i]].first, std::nullopt, {}});
    }
    const auto taken = take_sheet(car, kit_setup(car), form, matches, {});
    ASSERT_TRUE(taken);
    EXPECT_EQ(taken->taken, 3);
    EXPECT_EQ(taken->contradictions, 0);
    if (!first) first = taken->setup.values;
    EXPECT_EQ(taken->setup.values, *first);
  } while (std::next_permutation(order.begin(), order.end()));
}

TEST(SheetMatches, AreRememberedForEverySheetWithTheSameFields) {
  const SheetForm filled = sample_form("one-column");
  const Car car = touring();
  auto matches = propose_matches(filled, sheet_places(car), car);
  matches[0] = {"notes", std::nullopt, {}};
  matches[3].side = Side::left;
  SheetForm empty = filled;
  for (FormField& f : empty.fields) f.text.clear();
  EXPECT_EQ(fingerprint(empty), fingerprint(filled));
  EXPECT_NE(fingerprint(filled), fingerprint(sample_form("tannery-sharper")));
  const auto back = read_matches(write_matches(filled, matches), "m", empty);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(*back, matches);
  // A field that is new there stands for nothing yet; a file of nonsense is refused by name.
  empty.fields.push_back(empty.fields.front());
  empty.fields.back().name = "new";
  EXPECT_EQ(read_matches(write_matches(filled, matches), "m", empty)->back(), SheetMatch{});
  const auto refused =
      read_matches(R"({"format": "lowkite-sheet", "version": 1, "fields": [{"field": "", "place": 3}]})", "m", empty);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().front().file, "m");
}

TEST(SheetForms, WhatIsNoneIsSaid) {
  for (const char* none : {"", "{", "[]", "3", "{}", R"({"pages": []})", R"({"pages": 4, "fields": 5})"})
    EXPECT_FALSE(form_from_json(none, "x")) << none;
  // What is no field is passed over, and boxes upside down are righted.
  const auto form = form_from_json(
      R"({"pages": [{}], "fields": [3, {}, {"name": "a"}, {"name": "b", "page": 0, "kind": "text", "at": [0.5, 0.6, 0.4, 0.5]},
          {"name": "c", "page": 1, "kind": "text", "at": [0, 0, 1, 1]}, {"name": "d", "page": 0, "kind": "text", "at": [0, 0, 1e30, 1]}],
          "words": [{"page": 0, "at": [1], "text": "x"}, "y"]})",
      "x");
  ASSERT_TRUE(form);
  ASSERT_EQ(form->fields.size(), 1u);
  EXPECT_EQ(form->fields[0].name, "b");
  EXPECT_LT(form->fields[0].at.left, form->fields[0].at.right);
  EXPECT_TRUE(form->words.empty());
}

}  // namespace
}  // namespace lowkite::test
