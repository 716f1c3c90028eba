// The racer's boxes: what counts as the same part, what can be made of what is there, what is missing, and how an item
// gets into a car. Every answer is followed to its end: what is said to be missing is bought, and then it can be done.
#include <cmath>
#include <map>
#include <random>
#include <set>

#include <gtest/gtest.h>

#include "core/advice/race_day.hpp"
#include "core/boxes/stock.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/box_file.hpp"
#include "core/io/car_edit.hpp"
#include "core/io/json_document.hpp"
#include "core/load/spring_place.hpp"
#include "core/load/third_element.hpp"
#include "core/parts/from_boxes.hpp"
#include "core/plan/buying.hpp"
#include "core/pose/model.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using test::CarSetup;

constexpr std::array six_cars{"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"};

CarFile box_car_file(const std::string& id) {
  auto file = read_car_file(*read_file(test::data_path("cars/" + id + ".kite-car.json")), id);
  EXPECT_TRUE(file);
  return *file;
}

/// The same on both sides: what a recipe or a rule changes.
CarSetup alike_sides(CarSetup setup) {
  for (Setting& s : setup.values) s.right = s.left;
  return setup;
}

/// Some of what the car can take, each a few times; a kind in four is not listed.
Boxes random_boxes(const Car& car, std::mt19937& random) {
  const auto below = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
  std::set<BoxKind> left_out;
  for (const BoxKindSpec& k : box_kinds())
    if (below(4) == 0) left_out.insert(k.kind);
  Boxes boxes;
  for (const PartHandle k : car.adjusters.handles()) {
    const auto place = box_place(car, k);
    if (!place || place->kind == BoxKind::shim || left_out.contains(place->kind)) continue;
    for (std::size_t p = 0; p < car.adjusters[k].positions()->list.size(); ++p) {
      if (below(3) == 0) continue;
      BoxItem item = piece_at(car, k, static_cast<int>(p));
      if (is_nothing(item)) continue;
      item.count = below(4);
      if (std::none_of(boxes.items.begin(), boxes.items.end(), [&](const BoxItem& i) { return alike(i, item); }))
        boxes.items.push_back(std::move(item));
    }
  }
  if (!left_out.contains(BoxKind::shim))
    for (const double size : {0.25, 0.5, 1.0, 2.0}) {
      BoxItem shim;
      shim.value = size;
      shim.count = below(6);
      boxes.items.push_back(shim);
    }
  return boxes;
}

TEST(BoxPlaces, ThereIsOneWhereSomethingHasToBeAtHandAndNoneElsewhere) {
  const Car car = test::touring();
  const auto kind = [&](const char* part) -> std::string {
    const auto place = box_place(car, car.find_adjuster(part));
    return place ? std::string(spec_of(place->kind).id) : "none";
  };
  EXPECT_EQ(kind("front_spring"), "spring");
  EXPECT_EQ(kind("rear_piston"), "piston");
  EXPECT_EQ(kind("rear_oil"), "shock_oil");
  EXPECT_EQ(kind("rear_differential_oil"), "differential_oil");
  EXPECT_EQ(kind("front_bar"), "bar_wire");
  EXPECT_EQ(kind("front_link_inner_shims"), "shim");
  EXPECT_EQ(kind("front_pin_rear_insert"), "insert");
  EXPECT_EQ(kind("front_caster_block"), "part");
  EXPECT_EQ(kind("front_differential"), "part");
  EXPECT_EQ(kind("front_arm"), "part");
  for (const char* part : {"front_link_hole", "front_camber_link", "front_droop_screw", "servo_horn_spline",
                           "battery_place", "front_ballast"})
    EXPECT_EQ(kind(part), "none") << part;
  const Car pan = test::shipped("sanderling-12");
  const PartHandle side = pan.find_adjuster("rear_side_springs"), middle = pan.find_adjuster("rear_spring");
  EXPECT_EQ(box_place(pan, side)->use, SpringUse::side);
  EXPECT_EQ(box_place(pan, pan.find_adjuster("front_spring"))->use, SpringUse::kingpin);
  EXPECT_EQ(pieces_for(pan, middle), 1) << "a pod's shock stands in the middle";
  EXPECT_EQ(pieces_for(pan, side), 2);
  EXPECT_EQ(pieces_for(pan, pan.find_adjuster("front_tyre")), 2);
  EXPECT_EQ(pieces_for(car, car.find_adjuster("front_bar")), 1);
  EXPECT_EQ(pieces_for(car, car.find_adjuster("front_oil")), 1) << "one bottle";
  // Which way up a shock stands is a matter of bolts.
  const Car buggy = test::buggy();
  EXPECT_FALSE(box_place(buggy, buggy.find_adjuster("front_shock_way")));
}

TEST(BoxPieces, AreAsTheModelHasThemAtEveryPositionOfEveryCar) {
  int looked_at = 0;
  for (const Car& car : test::every_shipped_car())
    for (const PartHandle adjuster : car.adjusters.handles()) {
      const auto place = box_place(car, adjuster);
      if (!place || place->kind == BoxKind::shim) continue;
      const Adjuster& a = car.adjusters[adjuster];
      for (std::size_t p = 0; p < a.positions()->list.size(); ++p) {
        const BoxItem piece = piece_at(car, adjuster, static_cast<int>(p));
        if (is_nothing(piece)) continue;
        EXPECT_FALSE(fault_in(piece)) << car.id << " " << a.id << ": " << fault_in(piece)->line();
        EXPECT_TRUE(alike(piece, piece));
        EXPECT_TRUE(goes_into(piece, car, adjuster));
        EXPECT_TRUE(is_in(car, adjuster, piece));
        for (std::size_t q = 0; q < p; ++q)
          EXPECT_TRUE(place->kind == BoxKind::insert || !alike(piece, piece_at(car, adjuster, static_cast<int>(q))))
              << car.id << " " << a.id;
        CarSetup setup = kit_setup(car);
        setup.values[adjuster] = {static_cast<double>(p), static_cast<double>(p)};
        const auto model = build_model(car, setup);
        if (!model) continue;
        const CornerModel& corner = model->corner(a.end, Side::left);
        ++looked_at;
        if (place->kind == BoxKind::spring && (place->use == SpringUse::shock || place->use == SpringUse::kingpin)) {
          const SpringLaw law = law_of(piece), has = spring_of(corner);
          for (double mm = 0.5; mm < 12.0; mm += 0.5)
            EXPECT_NEAR(law.force(mm), has.force(mm) / has.share, 1e-9) << car.id << " " << a.id;
        }
        if (place->kind == BoxKind::piston) {
          const auto piston = a.of_third_element() ? third_piston(corner.geometry.size) : piston_of(corner);
          if (is_nothing(piece)) {
            EXPECT_FALSE(piston) << car.id << " " << a.id;
            continue;
          }
          // A third damper without its piston may still lack one after another part of it is chosen.
          ASSERT_TRUE(piston) << car.id << " " << a.id;
          EXPECT_NEAR(piece.value, piston->hole_mm, 1e-9);
          EXPECT_EQ(piece.holes, std::lround(piston->holes));
        }
        if (place->kind == BoxKind::tyre) {
          EXPECT_NEAR(piece.value, 2.0 * corner.tyre.radius_mm, 1e-9);
        }
      }
    }
  EXPECT_GT(looked_at, 60);
}

TEST(BoxPieces, LabelsAreNeverComparedTheMeasuredRateIs) {
  BoxItem a{.kind = BoxKind::spring, .label = "medium", .maker = "One", .count = 2, .value = 0.50};
  BoxItem b{.kind = BoxKind::spring, .label = "medium", .maker = "Other", .count = 2, .value = 0.53};
  EXPECT_FALSE(alike(a, b));
  b.label = "hard";
  b.value = 0.503;
  EXPECT_TRUE(alike(a, b));
  b.use = SpringUse::side;
  EXPECT_FALSE(alike(a, b)) << "it does not fit where the other does";
  // A measured table is held against rates by what both push with.
  b.use = SpringUse::shock;
  b.table = {{0, 0}, {5, 2.5}, {10, 5.02}};
  EXPECT_TRUE(alike(a, b));
  b.table = {{0, 0}, {5, 2.5}, {10, 5.4}};
  EXPECT_FALSE(alike(a, b));
  BoxItem p{.kind = BoxKind::piston, .value = 1.1, .holes = 3};
  BoxItem q{.kind = BoxKind::piston, .value = 0.9526, .holes = 4};
  EXPECT_FALSE(alike(p, q)) << "the same area through more holes is another piston";
}

TEST(TwoRatesOfATable, AreTheOnesItWasMadeFrom) {
  for (const double knee : {3.0, 5.0, 7.5})
    for (const double second : {0.3, 0.62, 1.4}) {
      const SpringLaw law{.rate_n_per_mm = 0.44, .second_rate_n_per_mm = second, .transition_mm = knee};
      std::vector<SpringPoint> table;
      for (double mm = 0.0; mm <= 12.0; mm += 1.0) table.push_back({mm, law.force(mm)});
      const TwoRates r = two_rates(table);
      EXPECT_NEAR(r.rate, 0.44, 2e-3);
      EXPECT_NEAR(r.second_rate, second, 1e-2);
      EXPECT_NEAR(r.transition_mm, knee, 0.1);
      EXPECT_LT(r.off_n, 0.02);
    }
  const TwoRates one = two_rates(std::vector<SpringPoint>{{0, 0}, {4, 2.0}, {8, 4.0}});
  EXPECT_NEAR(one.rate, 0.5, 1e-9);
  EXPECT_EQ(one.second_rate, 0.0) << "a second rate that brings nothing is not told";
  EXPECT_NEAR(two_rates(std::vector<SpringPoint>{{0, 0}, {4, 2.0}}).rate, 0.5, 1e-9);
}

/// The same question answered the slow way: every piece looked for by itself, shims by trying every heap.
bool by_hand(const Car& car, const CarSetup& now, const CarSetup& then, const Boxes& boxes) {
  std::vector<BoxItem> freed, wanted;
  std::vector<int> stacks;
  std::map<int, int> shims;
  bool shims_listed = false;
  for (const BoxItem& i : boxes.items)
    if (i.kind == BoxKind::shim) {
      shims_listed = true;
      shims[static_cast<int>(std::lround(1000 * i.value))] += i.count;
    }
  for (const PartHandle k : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[k];
    const auto place = box_place(car, k);
    if (!place) continue;
    const bool listed = std::any_of(boxes.items.begin(), boxes.items.end(), [&](const BoxItem& i) {
      return i.kind == place->kind && (i.kind != BoxKind::spring || i.use == place->use) &&
             (i.kind != BoxKind::part || i.part == a.id);
    });
    if (!listed) continue;
    for (int s = 0; s < pieces_for(car, k); ++s) {
      const double from = s == 0 ? now.values[k].left : now.values[k].right;
      const double to = s == 0 ? then.values[k].left : then.values[k].right;
      if (from == to) continue;
      if (place->kind == BoxKind::shim) {
        if (a.range()->moves_per_unit.empty()) continue;
        for (const double shim : shims_for(from, a.range()->shims_mm))
          ++shims[static_cast<int>(std::lround(1000 * shim))];
        stacks.push_back(static_cast<int>(std::lround(1000 * to)));
        continue;
      }
      const bool poured = a.poured();
      const BoxItem off = piece_at(car, k, static_cast<int>(from));
      if (!poured && !is_nothing(off)) freed.push_back(off);
      if (is_nothing(piece_at(car, k, static_cast<int>(to)))) continue;
      wanted.push_back(piece_at(car, k, static_cast<int>(to)));
      if (poured) {
        // The bottle stays.
        const bool there = std::any_of(boxes.items.begin(), boxes.items.end(),
                                       [&](const BoxItem& i) { return i.count > 0 && alike(i, wanted.back()); });
        if (!there) return false;
        wanted.pop_back();
      }
    }
  }
  for (const BoxItem& w : wanted) {
    int need = 0, have = 0;
    for (const BoxItem& o : wanted) need += alike(w, o) ? 1 : 0;
    for (const BoxItem& f : freed) have += alike(w, f) ? 1 : 0;
    for (const BoxItem& i : boxes.items)
      if (alike(w, i)) have += i.count;
    if (need > have) return false;
  }
  if (!shims_listed) return true;
  const auto fill = [&](const auto& self, std::size_t stack) -> bool {
    while (stack < stacks.size() && stacks[stack] == 0) ++stack;
    if (stack == stacks.size()) return true;
    for (auto& [size, n] : shims) {
      if (n == 0 || size > stacks[stack]) continue;
      --n;
      stacks[stack] -= size;
      const bool done = self(self, stack);
      stacks[stack] += size;
      ++n;
      if (done) return true;
    }
    return false;
  };
  return fill(fill, 0);
}

TEST(AStock, SaysTheSameAsCountingByHandOnEveryCar) {
  std::mt19937 random(20261128);
  int yes = 0, no = 0;
  for (const Car& car : test::every_shipped_car())
    for (int round = 0; round < test::share_of(120); ++round) {
      const Boxes boxes = random_boxes(car, random);
      const CarSetup now = test::random_setup(car, random);
      CarSetup then = now;
      const CarSetup other = test::random_setup(car, random);
      // A few parts, left and right unlike now and then: more of them hardly ever can be had.
      for (int n = 0; n < 3; ++n) {
        const PartHandle k(random() % car.adjusters.size());
        then.values[k] = other.values[k];
        if (random() % 3 == 0) then.values[k].right = now.values[k].right;
      }
      const Stock stock(boxes, car, now);
      const bool can = by_hand(car, now, then, boxes);
      EXPECT_EQ(stock.makes(then), can) << car.id << " round " << round;
      EXPECT_EQ(stock.lacks(then).empty(), can);
      (can ? yes : no)++;
    }
  EXPECT_GT(yes, test::share_of(100));
  EXPECT_GT(no, test::share_of(100));
}

TEST(AStock, WhatItLacksIsEnoughAndNotOnePieceTooMany) {
  std::mt19937 random(7);
  int bought = 0;
  for (const Car& car : test::every_shipped_car())
    for (int round = 0; round < test::share_of(60); ++round) {
      const Boxes boxes = random_boxes(car, random);
      const CarSetup now = test::random_setup(car, random), then = test::random_setup(car, random);
      const auto lacks = Stock(boxes, car, now).lacks(then);
      Boxes more = boxes;
      for (const Lack& l : lacks) {
        EXPECT_GT(l.count, 0);
        BoxItem item = l.piece;
        item.count = l.count;
        more.items.push_back(item);
        if (l.nearest) {
          EXPECT_GT(l.nearest->count, 0) << "what is not there is no help";
        }
      }
      EXPECT_TRUE(Stock(more, car, now).makes(then)) << car.id << " round " << round;
      for (std::size_t i = 0; i < lacks.size(); ++i) {
        if (lacks[i].piece.kind == BoxKind::shim) continue;  // others may make the same stack
        Boxes less = more;
        --less.items[boxes.items.size() + i].count;
        EXPECT_FALSE(Stock(less, car, now).makes(then)) << car.id << ": " << measured_text(lacks[i].piece);
        ++bought;
      }
    }
  EXPECT_GT(bought, test::share_of(200));
}

TEST(AStock, WhatIsNotListedIsAtHandAndWhatIsListedCounts) {
  const Car car = test::touring();
  const CarSetup kit = kit_setup(car);
  const PartHandle spring = car.find_adjuster("front_spring"), piston = car.find_adjuster("front_piston");
  const std::vector<PartChange> harder{{spring, 1.0, 2.0}};
  EXPECT_TRUE(Stock({}, car, kit).makes(harder));
  Boxes boxes;
  boxes.items.push_back(piece_at(car, spring, 0));
  boxes.items.back().count = 2;
  EXPECT_FALSE(Stock(boxes, car, kit).makes(harder)) << "springs are listed, and this one is not among them";
  EXPECT_TRUE(Stock(boxes, car, kit).counts(spring));
  EXPECT_FALSE(Stock(boxes, car, kit).counts(piston));
  EXPECT_TRUE(Stock(boxes, car, kit).makes(std::vector<PartChange>{{piston, 1.0, 2.0}}));
  // The rear's own soft spring and the front's are 0.41 and 0.43 N/mm: two springs.
  boxes.items.back().cars = {"another"};
  EXPECT_TRUE(Stock(boxes, car, kit).makes(harder)) << "what fits another car says nothing about this one";
}

TEST(AStock, APairOfSpringsIsUsedOnce) {
  Car car = test::touring();
  const PartHandle front = car.find_adjuster("front_spring"), rear = car.find_adjuster("rear_spring");
  // Front and rear may have the very same spring.
  car.axles[at(End::rear)].size_of(Size::spring_rate) = 0.49;
  const CarSetup kit = kit_setup(car);
  Boxes boxes;
  boxes.items.push_back(piece_at(car, front, 2));
  boxes.items.back().count = 2;
  const std::vector<PartChange> one{{front, 1.0, 2.0}}, both{{front, 1.0, 2.0}, {rear, 1.0, 2.0}};
  EXPECT_TRUE(Stock(boxes, car, kit).makes(one));
  EXPECT_FALSE(Stock(boxes, car, kit).makes(both));
  const auto lacks = Stock(boxes, car, kit).lacks(both);
  ASSERT_EQ(lacks.size(), 1u);
  EXPECT_EQ(lacks[0].count, 2);
  // What one axle gives up the other may take: the pairs change places.
  CarSetup unlike = kit;
  unlike.of(front) = {2.0, 2.0};
  boxes.items.back().count = 0;
  EXPECT_TRUE(Stock(boxes, car, unlike).makes(std::vector<PartChange>{{front, 2.0, 1.0}, {rear, 1.0, 2.0}}));
}

TEST(AStock, RingsInsideAShockAreNoShimsForABall) {
  const Car car = test::touring();
  const CarSetup kit = kit_setup(car);
  const PartHandle inside = car.find_adjuster("front_shock_spacers");
  const auto shims = shims_in("0.5x0");
  EXPECT_FALSE(Stock(*shims, car, kit).counts(inside));
  Boxes rings = *shims;
  rings.items.push_back(
      {.kind = BoxKind::shim, .count = 2, .value = 1.0, .cars = {car.id}, .part = "front_shock_spacers"});
  const Stock stock(rings, car, kit);
  EXPECT_TRUE(stock.counts(inside));
  EXPECT_TRUE(stock.makes(std::vector<PartChange>{{inside, 1.0, 2.0}}));
  const PartHandle ball = car.find_adjuster("front_link_inner_shims");
  EXPECT_FALSE(stock.makes(std::vector<PartChange>{{ball, 2.0, 3.0}})) << "nor the other way round";
  EXPECT_FALSE(stock.makes(std::vector<PartChange>{{inside, 1.0, 3.0}}));
}

TEST(ShimText, IsReadInAnyOrderAndRefusedWhenItIsNone) {
  const auto box = shims_in("1x6; 0,5x4  0.5 x 2 2mm*1");
  ASSERT_TRUE(box);
  std::map<double, int> sizes;
  for (const BoxItem& i : box->items) sizes[i.value] += i.count;
  EXPECT_EQ(sizes, (std::map<double, int>{{0.5, 6}, {1.0, 6}, {2.0, 1}}));
  ASSERT_TRUE(shims_in(""));
  EXPECT_TRUE(Stock(*shims_in(""), test::touring(), kit_setup(test::touring())).counts(PartHandle(0)));
  for (const char* wrong : {"1", "x4", "some 1x2", "1x2 and 3", "-1x2", "0x3"}) EXPECT_FALSE(shims_in(wrong)) << wrong;
}

TEST(BoxesInARecipe, LeaveOutExactlyWhatCannotBeHad) {
  std::mt19937 random(11);
  int compared = 0;
  for (const char* id : six_cars) {
    const Car car = test::shipped(id);
    if (test::runs_a_share() && car.id != "heron-tc190") continue;
    for (int round = 0; round < test::share_of(3); ++round) {
      const CarSetup start = kit_setup(car);
      RecipeOrder order;
      for (const End end : both_ends)
        for (const PartHandle part : recipe_parts(car, end))
          if (random() % 5 == 0 && box_place(car, part)) order.parts.push_back(part);
      const FigureSpec* figure = find_figure(car.axle(End::front).mechanism->independent ? "roll_centre" : "camber");
      if (!figure || !applies(*figure, car, End::front) || order.parts.empty()) continue;
      const auto now = evaluate(car, start, {}, coarse_curve);
      ASSERT_TRUE(now);
      const double is = figure->read(now->source, End::front, Side::left).value_or(0.0);
      order.aims.push_back(RecipeAim::of(*figure, End::front, is + 0.8, 0.05, false));
      order.most_parts = 2;
      order.results = 300;
      const auto all = find_recipe(car, start, start, order);
      ASSERT_TRUE(all) << all.error();
      order.boxes = random_boxes(car, random);
      const Stock stock(*order.boxes, car, start);
      const auto own = find_recipe(car, start, start, order);
      ASSERT_TRUE(own) << own.error();
      double best = 1e9, best_own = 1e9;
      for (const RecipeResult& r : all->results)
        if (stock.makes(r.changes)) best = std::min(best, r.miss);
      for (const RecipeResult& r : own->results) {
        EXPECT_TRUE(stock.makes(r.changes)) << id;
        best_own = std::min(best_own, r.miss);
      }
      // A list that is full holds the closest of all: what it has that can be made is the closest that can.
      if (own->complete && all->complete && (best < 1e9 || all->results.size() < order.results)) {
        EXPECT_NEAR(best_own, best, 1e-6) << id << " round " << round;
      }
      ++compared;
      // What is worth buying is bought, and then the search finds it.
      for (const WorthBuying& w : worth_buying(*own, *all, stock)) {
        EXPECT_LT(w.result.miss, best_own);
        RecipeOrder then = order;
        for (const Lack& l : w.lacks) {
          BoxItem item = l.piece;
          item.count = l.count;
          then.boxes->items.push_back(item);
        }
        const auto bought = find_recipe(car, start, start, then);
        ASSERT_TRUE(bought);
        double reached = 1e9;
        for (const RecipeResult& r : bought->results) reached = std::min(reached, r.miss);
        EXPECT_LE(reached, w.result.miss + 1e-6) << id;
      }
    }
  }
  EXPECT_GT(compared, test::runs_a_share() ? 0 : 12);
}

TEST(Buying, OpensThePlansThatItNames) {
  std::mt19937 random(5);
  int opened = 0;
  for (const Car& car : test::every_shipped_car())
    for (int round = 0; round < 12; ++round) {
      const Boxes boxes = random_boxes(car, random);
      const CarSetup now = alike_sides(test::random_setup(car, random));
      std::vector<CarSetup> plans;
      for (int p = 0; p < 4; ++p) {
        CarSetup plan = now;
        for (int n = 0; n < 2; ++n) {
          const PartHandle k(random() % car.adjusters.size());
          const double v = test::random_setup(car, random).values[k].left;
          plan.values[k] = {v, v};
        }
        plan.name = "plan " + std::to_string(p);
        plans.push_back(plan);
      }
      const auto buys = what_to_buy(car, now, plans, boxes);
      const Stock before(boxes, car, now);
      std::set<std::string> named;
      for (std::size_t b = 0; b < buys.size(); ++b) {
        if (b > 0) {
          EXPECT_GE(buys[b - 1].opens.size(), buys[b].opens.size());
        }
        EXPECT_FALSE(buys[b].opens.empty());
        Boxes more = boxes;
        for (const Lack& l : buys[b].lacks) {
          BoxItem item = l.piece;
          item.count = l.count;
          more.items.push_back(item);
        }
        const Stock after(more, car, now);
        for (const CarSetup& plan : plans)
          if (std::find(buys[b].opens.begin(), buys[b].opens.end(), plan.name) != buys[b].opens.end()) {
            EXPECT_FALSE(before.makes(plan));
            EXPECT_TRUE(after.makes(plan)) << car.id;
            named.insert(plan.name);
            ++opened;
          }
      }
      for (const CarSetup& plan : plans)
        EXPECT_EQ(named.contains(plan.name), !before.makes(plan)) << "each plan that cannot be driven is in one";
    }
  EXPECT_GT(opened, 40);
}

TEST(Packing, SaysOfEachLineHowManyOfItAreNotThere) {
  Car car = test::touring();
  const PartHandle front = car.find_adjuster("front_spring"), rear = car.find_adjuster("rear_spring");
  car.axles[at(End::rear)].size_of(Size::spring_rate) = 0.49;  // the very same springs
  const CarSetup kit = kit_setup(car);
  CarSetup plan = kit;
  plan.of(front) = plan.of(rear) = {2.0, 2.0};
  plan.of(car.find_adjuster("front_oil")) = plan.of(car.find_adjuster("rear_oil")) = {0.0, 0.0};
  plan.of(car.find_adjuster("front_link_inner_shims")) = {3.0, 3.0};
  Boxes boxes = *shims_in("1x1");
  const auto list = [&](int springs) {
    Boxes all = boxes;
    BoxItem hard = piece_at(car, front, 2), oil = piece_at(car, car.find_adjuster("front_oil"), 1);
    hard.count = springs;
    oil.count = 1;
    all.items.push_back(hard);
    all.items.push_back(oil);
    std::map<std::string, int> missing;
    for (const PackLine& l : packing_list(car, kit, {plan}, all)) {
      EXPECT_TRUE(l.missing) << l.what;
      missing[l.what] = l.missing.value_or(-1);
    }
    return missing;
  };
  using Missing = std::map<std::string, int>;
  EXPECT_EQ(list(0), (Missing{{"Front: Spring, hard", 2},
                              {"Rear: Spring, hard", 2},
                              {"Front: Shock oil, 350 cSt", 1},
                              {"Rear: Shock oil, 350 cSt", 1},
                              {"shim 1 mm", 1}}));
  EXPECT_EQ(list(2)["Front: Spring, hard"] + list(2)["Rear: Spring, hard"], 2) << "one pair is there";
  EXPECT_EQ(list(4)["Rear: Spring, hard"], 0);
  // No bar is nothing to take along.
  const Car buggy = test::buggy();
  CarSetup with = kit_setup(buggy);
  with.of(buggy.find_adjuster("front_bar")) = {2.0, 2.0};
  EXPECT_TRUE(packing_list(buggy, with, {kit_setup(buggy)}).empty());
  ASSERT_EQ(packing_list(buggy, kit_setup(buggy), {with}).size(), 1u);
}

TEST(FromTheBoxes, AnItemGoesIntoEveryPartThatTakesItAndIsThenWhatItWas) {
  int put = 0;
  std::set<BoxKind> kinds_put;
  for (const char* id : six_cars) {
    const CarFile file = box_car_file(id);
    const Car& car = *file.car;
    for (const PartHandle adjuster : car.adjusters.handles()) {
      const auto place = box_place(car, adjuster);
      if (!place || place->kind == BoxKind::part) continue;
      std::vector<BoxItem> items;
      if (place->kind == BoxKind::shim) {
        BoxItem ring{.kind = BoxKind::shim, .count = 4, .value = 0.3};
        if (car.adjusters[adjuster].range()->moves_per_unit.empty()) {
          ring.cars = {car.id};
          ring.part = car.adjusters[adjuster].id;
        }
        items.push_back(ring);
      } else {
        for (const double factor : {0.83, 1.07, 1.31}) {
          BoxItem item = piece_at(car, adjuster, static_cast<int>(car.adjusters[adjuster].kit));
          if (is_nothing(item)) item = piece_at(car, adjuster, 1);
          item.value = item.kind == BoxKind::insert ? 0.35 * factor : item.value * factor;
          item.label = "mine";
          item.maker = "Of my own making";
          if (item.length_mm > 0.0) item.length_mm += 1.5;
          if (item.kind == BoxKind::spring && factor > 1.2 && item.use != SpringUse::side &&
              item.use != SpringUse::third && item.table.empty()) {
            item.second_rate = 1.5 * item.value;
            item.transition_mm = 4.0;
          }
          items.push_back(item);
        }
      }
      Json source = file.source;
      std::shared_ptr<const Car> now = file.car;
      for (const BoxItem& item : items) {
        if (is_in(*now, adjuster, item)) continue;
        const auto done = put_into_part(source, *now, adjuster, item);
        ASSERT_TRUE(done) << id << " " << car.adjusters[adjuster].id << ": " << done.error().line();
        const auto again = recheck(source, id);
        ASSERT_TRUE(again) << id << " " << car.adjusters[adjuster].id << ": " << again.error().front().line();
        now = again->car;
        EXPECT_TRUE(is_in(*now, adjuster, item))
            << id << " " << car.adjusters[adjuster].id << " " << measured_text(item);
        EXPECT_FALSE(put_into_part(source, *now, adjuster, item)) << "it is there already";
        ++put;
        kinds_put.insert(item.kind);
      }
      // The kit is the kit as before, and so is a setup that was made then.
      EXPECT_EQ(carried_over(car, kit_setup(car), *now).values, kit_setup(*now).values);
      if (now->adjusters[adjuster].positions()) {
        EXPECT_EQ(
            now->adjusters[adjuster].positions()->list[static_cast<std::size_t>(now->adjusters[adjuster].kit)].label,
            car.adjusters[adjuster].positions()->list[static_cast<std::size_t>(car.adjusters[adjuster].kit)].label);
        const auto sorted = [&](const Car& c) {
          std::vector<double> rates;
          for (std::size_t p = 0; p < c.adjusters[adjuster].positions()->list.size(); ++p)
            rates.push_back(law_of(piece_at(c, adjuster, static_cast<int>(p))).force(5.0));
          return std::is_sorted(rates.begin(), rates.end());
        };
        if (place->kind == BoxKind::spring) {
          EXPECT_EQ(sorted(*now), sorted(car)) << "a step harder is harder";
        }
      }
    }
  }
  EXPECT_GT(put, 150);
  EXPECT_GE(kinds_put.size(), 7u);
}

TEST(FromTheBoxes, AMeasuredTableGoesInAsTwoRatesAndSaysSo) {
  const CarFile file = box_car_file("heron-tc190");
  const PartHandle spring = file.car->find_adjuster("front_spring");
  BoxItem item{.kind = BoxKind::spring, .label = "rising", .count = 2, .value = 0.4};
  item.table = {{0, 0}, {2, 0.8}, {4, 1.6}, {6, 2.6}, {8, 3.8}};
  Json source = file.source;
  const auto told = put_into_part(source, *file.car, spring, item);
  ASSERT_TRUE(told);
  EXPECT_NE(told->find("misses it by"), std::string::npos);
  EXPECT_NE(told->find("length is not measured"), std::string::npos);
  const auto again = recheck(source, "mine");
  ASSERT_TRUE(again);
  const auto& list = again->car->adjusters[spring].positions()->list;
  for (std::size_t p = 0; p < list.size(); ++p)
    if (list[p].label == "rising") {
      const SpringLaw law = law_of(piece_at(*again->car, spring, static_cast<int>(p)));
      for (const SpringPoint& t : item.table) EXPECT_NEAR(law.force(t.mm), t.n, two_rates(item.table).off_n + 1e-6);
    }
  item.use = SpringUse::side;
  EXPECT_FALSE(put_into_part(source, *again->car, spring, item));
}

TEST(FromTheBoxes, AnInsertCanBeTurnedEveryWayThatTheOthersLie) {
  const CarFile file = box_car_file("heron-tc190");
  const PartHandle pin = file.car->find_adjuster("rear_pin_front_insert");
  const BoxItem item{.kind = BoxKind::insert, .count = 4, .value = 0.3};
  Json source = file.source;
  ASSERT_TRUE(put_into_part(source, *file.car, pin, item));
  const auto again = recheck(source, "mine");
  ASSERT_TRUE(again) << again.error().front().line();
  std::set<std::string> labels;
  const auto& list = again->car->adjusters[pin].positions()->list;
  for (std::size_t p = 0; p < list.size(); ++p)
    if (alike(piece_at(*again->car, pin, static_cast<int>(p)), item)) labels.insert(list[p].label);
  EXPECT_EQ(labels, (std::set<std::string>{"0.3 up", "0.3 down", "0.3 in", "0.3 out"}));
}

TEST(BoxFiles, AreReadAsTheyWereWritten) {
  const std::string path = test::data_path("boxes/example-boxes.json");
  const auto example = read_boxes(*read_file(path), "example-boxes.json");
  ASSERT_TRUE(example) << example.error().front().line();
  EXPECT_GT(example->items.size(), 15u);
  std::mt19937 random(3);
  std::vector<Boxes> all{*example, {}};
  for (const Car& car : test::every_shipped_car()) all.push_back(random_boxes(car, random));
  all[0].items[0].table = {{0, 0}, {1.5, 0.7}, {4, 2.25}};
  all[0].items[0].value = two_rates(all[0].items[0].table).rate;
  all[0].items[0].note = "\"quotes\", comma; \xc3\xa4 and <b>markup</b>";
  for (const Boxes& boxes : all) {
    const auto again = read_boxes(write_boxes(boxes), "again");
    ASSERT_TRUE(again) << again.error().front().line();
    ASSERT_EQ(again->items.size(), boxes.items.size());
    for (std::size_t i = 0; i < boxes.items.size(); ++i) {
      BoxItem was = boxes.items[i], is = again->items[i];
      EXPECT_NEAR(was.value, is.value, 1e-6);
      EXPECT_NEAR(was.second_rate, is.second_rate, 1e-6);
      EXPECT_NEAR(was.transition_mm, is.transition_mm, 1e-6);
      EXPECT_NEAR(was.length_mm, is.length_mm, 1e-6);
      is.value = was.value;
      is.second_rate = was.second_rate;
      is.transition_mm = was.transition_mm;
      is.length_mm = was.length_mm;
      EXPECT_EQ(was, is);
    }
  }
}

TEST(BoxFiles, SayWhatIsWrongAndWhere) {
  const auto file = [](const std::string& item) {
    return R"({"format": "lowkite-boxes", "version": 1, "items": [)" + item + "]}";
  };
  const auto line = [&](const std::string& item) {
    const auto read = read_boxes(file(item), "my-boxes.json");
    return read ? std::string("read") : read.error().front().line();
  };
  EXPECT_EQ(line(R"({"kind": "shim", "count": 2, "thickness_mm": 0.5})"), "read");
  for (const auto& [item, said] : std::vector<std::pair<std::string, std::string>>{
           {R"({"kind": "shin", "count": 2})", "one of spring"},
           {R"({"kind": "shim", "count": -1, "thickness_mm": 0.5})", "0 to 9999"},
           {R"({"kind": "shim", "count": 2})", "it is not there"},
           {R"({"kind": "shim", "count": 2, "thickness_mm": 0})", "mm"},
           {R"({"kind": "piston", "count": 2, "hole_mm": 1.1})", "1 to 20"},
           {R"({"kind": "spring", "count": 2, "rate_n_per_mm": 0.5, "second_rate_n_per_mm": 0.7})", "compression"},
           {R"({"kind": "spring", "count": 2, "table": [[0, 0], [2, 1], [1, 2]]})", "rise"},
           {R"({"kind": "spring", "count": 2, "table": [[1, 1], [2, 2]]})", "rise"},
           {R"({"kind": "part", "count": 2, "label": "6 deg"})", "which part"},
           {R"({"kind": "shim", "count": 2, "thickness_mm": 0.5, "part": "front_x"})", "one car"}})
    EXPECT_NE(line(item).find(said), std::string::npos) << item << " -> " << line(item);
  EXPECT_NE(line(R"({"kind": "shim", "count": -1, "thickness_mm": 0.5})").find("my-boxes.json"), std::string::npos);
  EXPECT_FALSE(read_boxes(R"({"format": "lowkite-car", "version": 1, "items": []})", "x"));
  EXPECT_FALSE(read_boxes(R"({"format": "lowkite-boxes", "version": 2, "items": []})", "x"));
  const std::string whole = *read_file(test::data_path("boxes/example-boxes.json"));
  for (std::size_t cut = 0; cut < whole.size() - 3; cut += 97) EXPECT_FALSE(read_boxes(whole.substr(0, cut), "cut"));
}

}  // namespace
}  // namespace lowkite
