#include "core/plan/recipe.hpp"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <map>
#include <memory>

#include "core/plan/bench_reset.hpp"
#include "core/plan/recipe_trial.hpp"
#include "core/plan/set_directly.hpp"
#include "core/plan/wanted.hpp"
#include "core/threads/crew.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// More are kept than asked for: some fall out when threads and screws are looked at with whole steps.
constexpr std::size_t spare_recipes = 4;
/// Figures this close are the same, whatever their unit: of geometry, and of two stands on springs.
constexpr double untouched = 1e-7;
constexpr double stands_alike = 1e-5;
/// Coming closer by less than this share of the tolerances is no help.
constexpr double worth_coming_closer = 0.05;
/// Of the way to the end, what judging the axles takes.
constexpr double axles_share = 0.9;
/// And where something is wished: reading each part alone, then the axles, then what was chosen.
constexpr double alone_share = 0.5;
constexpr double wished_axles_share = 0.65;
/// Candidates of which what the driver would feel is foretold; those that are chosen of them and read whole, by each of
/// two ways to choose; settings of the same parts among them; those that are read at once.
constexpr std::uint64_t most_foretold = 400'000;
constexpr std::size_t kept_of_foretold = 400;
constexpr std::size_t read_each_way = 40;
constexpr int same_parts = 3;
constexpr std::size_t read_at_once = 8;
/// The other way asks so many times more than can be felt, for what adding up does not know.
constexpr double wish_margin = 0.5;

/// A part that moves no point and no size of the linkage: springs, bars, oils, heavy parts. With the ride height held
/// it changes no figure of geometry, but for those that hear of the weight. On a car that settles it does.
bool is_light(const Car& car, const Adjuster& a, const ResetOptions& reset) {
  return a.positions() && !a.moves_geometry() && !settles_anywhere(car, reset);
}

bool hears_of_light_parts(const RecipeAim& aim) {
  return aim.figure->of_load() || aim.figure->needs == Needs::braked || aim.figure->needs == Needs::driven;
}

/// What sets a wanted figure by itself; none: parts have to, or it is not to be touched.
std::optional<DirectlySet> direct_way(const Car& car, const RecipeOrder& order, const RecipeAim& aim) {
  if (aim.hold || aim.kind != RecipeAim::Kind::value) return std::nullopt;
  const auto direct = set_directly(*aim.figure, car, aim.end);
  if (!direct || !is_held(*direct, order.reset)) return std::nullopt;
  // What stands on spacers is set by parts.
  const bool settled = direct->by == DirectlySet::By::collars && settles(car, aim.end, order.reset);
  return settled ? std::nullopt : direct;
}

/// The setup with all that is set directly as wanted: heights, then what is read from them, then what follows from it.
tl::expected<Setup, CarFailure> with_direct_wants(const Car& car, const Variant& start, const RecipeOrder& order) {
  using By = DirectlySet::By;
  std::optional<Variant> lifted;
  Setup wish = start.setup;
  enum class Rank : std::uint8_t { heights, themselves, followers };
  const auto rank_of = [](const DirectlySet& d) {
    return d.by == By::collars ? Rank::heights : d.through_another ? Rank::followers : Rank::themselves;
  };
  for (const Rank rank : {Rank::heights, Rank::themselves, Rank::followers}) {
    for (const RecipeAim& a : order.aims) {
      const auto direct = direct_way(car, order, a);
      if (!direct || rank_of(*direct) != rank) continue;
      auto set = with_figure_set(car, wish, lifted ? *lifted : start, *a.figure, a.end, *direct, a.value);
      if (!set) return tl::unexpected(set.error());
      wish = std::move(*set);
    }
    if (rank != Rank::heights || wish == start.setup) continue;
    auto there = evaluate(car, wish, {}, coarse_curve, {&start});
    if (!there) return tl::unexpected(there.error());
    lifted = std::move(*there);
  }
  return wish;
}

/// What is found without a search.
Recipe only(RecipeResult result) {
  return {.of = 1, .judged = 1, .allowed = 1, .results = {std::move(result)}, .front = {}};
}

/// One search, from the order to what is told.
class RecipeSearch {
 public:
  /// `settled`: which aims are met whatever parts are changed: nothing has to be judged for them.
  RecipeSearch(RecipeCase of, std::vector<bool> settled)
      : car_(of.car),
        start_(of.start.setup),
        before_(of.before),
        targets_(of.targets),
        order_(of.order),
        wishes_(of.wishes),
        settled_(std::move(settled)),
        whole_(car_, before_, start_, targets_, order_.reset, order_.under, aims_of_the_whole()),
        threads_(hands_of(order_.threads)) {
    if (order_.boxes) of.stock = &stock_.emplace(*order_.boxes, car_, start_);
    trial_.emplace(of, settled_);
    for (const RecipeAim& a : order_.aims)
      if (adds(a)) {
        added_.push_back(a.range());
        added_figure_ = a.figure;
        added_at_start_ = a.read(of.start.source).value_or(0.0);
      }
  }

  /// How the car is with nothing done but what sets what is wanted directly.
  std::optional<RecipeResult> without_parts() const { return trial_->done({}, {}); }

  /// `alone`: how the car is without any part changed; none: it cannot be so.
  Recipe run(const std::optional<RecipeResult>& alone, const std::function<bool(double)>& progress,
             const std::function<void(const Recipe&)>& so_far) {
    Recipe recipe;
    recipe.of = candidates_of(car_, start_, order_);
    if (wishes_ && !foretell_from_parts([&](double share) { return !progress || progress(alone_share * share); })) {
      recipe.stopped = true;
      recipe.complete = false;
      return recipe;
    }
    const double axles_from = wishes_ ? alone_share : 0.0;
    const double axles_to = wishes_ ? wished_axles_share : axles_share;
    group_parts();
    std::uint64_t total = 1;
    for (const ChangeGroup& g : group_) total += g.combinations(order_.most_parts);
    std::uint64_t before = 0;
    for (std::size_t g = 0; g < most_groups; ++g) {
      GroupSearch search;
      search.most = order_.most_parts;
      search.threads = threads_;
      search.idle_counts = whole_.asked() || stock_.has_value() || wishes_;
      search.same = untouched;
      if (progress)
        search.progress = [&](std::uint64_t judged) {
          return progress(axles_from +
                          (axles_to - axles_from) * static_cast<double>(before + judged) / static_cast<double>(total));
        };
      std::vector<double> values;
      for (const PartHandle part : group_[g].parts) values.push_back(start_.of(part).left);
      lists_.push_back(judge_group(
          car_, group_[g], values, [&] { return judge_of(g); }, search));
      if (g != light && !nothing_asked(g)) before += lists_.back().judged;  // else nobody looked at a car
      if (lists_.back().stopped) recipe.stopped = true;
    }
    const bool one_group =
        std::count_if(group_.begin(), group_.end(), [](const ChangeGroup& g) { return !g.parts.empty(); }) == 1;
    if (stock_ && one_group) keep_what_the_boxes_make();
    recipe.judged = before;
    recipe.allowed = count_allowed(one_group);
    if (recipe.stopped) recipe.allowed.reset();

    JoinOrder join;
    join.most = order_.most_parts;
    join.keep = wishes_ ? kept_of_foretold : spare_recipes * order_.results;
    join.added = added_;
    join.added_at_start = added_at_start_;
    join.most_judged = order_.most_judged_whole;
    if (wishes_ && !whole_.asked()) join.most_judged = most_foretold;
    double margin = 0.0;
    if (whole_.asked() || wishes_)
      join.judge = [&](std::span<const Pick> picks) { return judged_beside(picks, margin); };
    join.accept = [&](const Pick& pick) { return worth_telling(pick); };
    // How far it is from its end is not known: a bound closes in.
    // Told to stop while the axles were judged, it still tells what it has, if that is soon done.
    int left = 20;
    join.go_on = [&] { return recipe.stopped ? !join.judge && --left > 0 : !progress || progress(axles_to); };
    const JoinResult joined = join_groups(lists_, join);
    if (!wishes_ || whole_.asked()) recipe.judged += joined.judged;
    recipe.stopped = recipe.stopped || joined.stopped;
    recipe.complete = joined.complete && !recipe.stopped && trial_->sides_alike();
    if (wishes_) {
      recipe.foretold = joined.judged;
      std::vector<Pick> chosen = chosen_of(joined);
      bool all = joined.complete && recipe.of <= read_each_way;
      if (!all && !recipe.stopped) {
        margin = wish_margin;
        for (const Pick& pick : chosen_of(join_groups(lists_, join)))
          if (std::find(chosen.begin(), chosen.end(), pick) == chosen.end()) chosen.push_back(pick);
      }
      recipe.complete = recipe.complete && all;
      read_what_is_felt(chosen, alone, progress, so_far, recipe);
      return recipe;
    }
    const auto helps = [&](const RecipeResult& r) { return does_help(r, alone); };
    const auto may_help = [&](const Joined& j) {
      const double miss = std::sqrt(j.squared_miss);
      return !alone || !trial_->judges_exactly() || miss <= 1.0 || miss < alone->miss - worth_coming_closer;
    };
    for (const Joined& j : joined.best) {
      if (recipe.results.size() >= order_.results) break;
      if (!may_help(j)) continue;
      if (auto r = as_done(j.pick); r && helps(*r)) recipe.results.push_back(std::move(*r));
    }
    sort_as_told(recipe.results);
    for (const Joined& j : joined.front)
      if (auto r = may_help(j) ? as_done(j.pick) : std::nullopt; r && helps(*r))
        add_to_front(recipe.front, std::move(*r));
    return recipe;
  }

 private:
  /// With turns as a hand does them, too.
  static bool does_help(const RecipeResult& r, const std::optional<RecipeResult>& alone) {
    return r.meets() || !alone || (r.miss < alone->miss - worth_coming_closer && r.told_miss < alone->told_miss);
  }
  /// Turns are part of the work: among those that meet the aims they decide too.
  static void sort_as_told(std::vector<RecipeResult>& results) {
    std::stable_sort(results.begin(), results.end(), [](const RecipeResult& a, const RecipeResult& b) {
      if (a.meets() != b.meets()) return a.meets();
      return a.meets() ? a.work.minutes < b.work.minutes : a.told_miss < b.told_miss;
    });
  }

  using Part = WishForetelling::Part;

  /// What each part does alone, at each of its values, with everything put back. False: told to stop.
  bool foretell_from_parts(const std::function<bool(double)>& go_on) {
    std::vector<Part> parts;
    for (const PartHandle part : order_.parts)
      for (const double value : car_.adjusters[part].values_besides(start_.of(part).left))
        parts.emplace_back(part, value);
    std::vector<std::optional<WishJudge::Reading>> read(parts.size() + 1);
    std::atomic<std::size_t> done = 0;
    std::atomic<bool> stopped = false;
    for_each_by_hands(read.size(), threads_, [&](std::size_t i) {
      if (stopped) return;
      std::vector<PartChange> changes;
      if (i > 0) changes.push_back({parts[i - 1].first, start_.of(parts[i - 1].first).left, parts[i - 1].second});
      if (const auto hand = trial_->by_hand(changes)) read[i] = wishes_->read(hand->bench.setup);
      if (!go_on(static_cast<double>(++done) / static_cast<double>(read.size()))) stopped = true;
    });
    if (stopped) return false;
    const std::size_t all = order_.wishes.wishes.size() * order_.wishes.tyres.size();
    foretelling_.emplace(*wishes_, read[0] ? read[0]->by : WishJudge::Differences(all, std::nan("")));
    for (std::size_t i = 0; i < parts.size(); ++i)
      if (read[i + 1]) foretelling_->learn(parts[i], read[i + 1]->by);
    return true;
  }

  /// Of what was foretold the best by each of its orders, not always the same parts.
  [[nodiscard]] std::vector<Pick> chosen_of(const JoinResult& joined) const {
    std::vector<Pick> chosen;
    std::map<std::vector<PartHandle>, int> known;
    const auto choose = [&](const Pick& pick) {
      if (std::find(chosen.begin(), chosen.end(), pick) == chosen.end()) chosen.push_back(pick);
    };
    for (const Joined& j : joined.front) choose(j.pick);
    // Where all can be read all are.
    const bool all = joined.best.size() <= read_each_way;
    for (const Joined& j : joined.best) {
      if (chosen.size() >= read_each_way) break;
      std::vector<PartHandle> parts;
      for (const PartChange& c : changes_of(j.pick)) parts.push_back(c.adjuster);
      if (all || ++known[parts] <= same_parts) choose(j.pick);
    }
    return chosen;
  }

  /// A part more that brings nothing is none. Where nothing need be done other ways are told all the same: they may
  /// give more of what is wished.
  static bool does_no_more(const RecipeResult& more, const RecipeResult& less) {
    return !less.changes.empty() && less.changes.size() < more.changes.size() &&
           (less.meets() || (!more.meets() && less.told_miss < more.told_miss + worth_coming_closer)) &&
           std::all_of(less.changes.begin(), less.changes.end(), [&](const PartChange& c) {
             return std::any_of(more.changes.begin(), more.changes.end(),
                                [&](const PartChange& d) { return d.adjuster == c.adjuster && d.to == c.to; });
           });
  }

  /// Reads what was chosen, and tells it in its order while it comes in.
  void read_what_is_felt(const std::vector<Pick>& chosen, const std::optional<RecipeResult>& alone,
                         const std::function<bool(double)>& progress, const std::function<void(const Recipe&)>& so_far,
                         Recipe& recipe) const {
    std::vector<RecipeResult> found;
    // What is changed already may do.
    if (alone && before_.setup != start_) found.push_back(*alone);
    for (std::size_t from = 0; from < chosen.size() && !recipe.stopped; from += read_at_once) {
      const std::size_t n = std::min(read_at_once, chosen.size() - from);
      std::vector<std::vector<PartChange>> changes;
      std::vector<std::vector<double>> figures;
      for (std::size_t i = 0; i < n; ++i) {
        changes.push_back(changes_of(chosen[from + i]));
        figures.push_back(figures_of(changes.back()));
      }
      std::vector<std::optional<RecipeResult>> read(n);
      for_each_by_hands(n, threads_, [&](std::size_t i) { read[i] = trial_->done(changes[i], figures[i]); });
      for (std::optional<RecipeResult>& r : read)
        if (r && does_help(*r, alone)) found.push_back(std::move(*r));
      recipe.read_whole += n;
      tell_in_order(found, recipe);
      const double share = static_cast<double>(from + n) / static_cast<double>(chosen.size());
      if (so_far) so_far(recipe);
      if (progress && !progress(wished_axles_share + (1.0 - wished_axles_share) * share) && from + n < chosen.size())
        recipe.stopped = true;
    }
    tell_in_order(found, recipe);
    recipe.complete = recipe.complete && !recipe.stopped;
  }

  void tell_in_order(const std::vector<RecipeResult>& found, Recipe& recipe) const {
    recipe.front.clear();
    for (const RecipeResult& r : found)
      if (!r.changes.empty()) add_to_front(recipe.front, r);
    recipe.results = found;
    sort_as_told(recipe.results);
    const std::vector<RecipeResult> all = recipe.results;
    std::erase_if(recipe.results, [&](const RecipeResult& r) {
      return std::any_of(all.begin(), all.end(), [&](const RecipeResult& less) { return does_no_more(r, less); });
    });
    if (recipe.results.size() > order_.results) recipe.results.resize(order_.results);
  }

  /// Which parts are combined with which, and what is read of each axle.
  void group_parts() {
    std::array<std::vector<PartHandle>, most_groups> parts;
    const bool light_counts = wishes_ || std::any_of(order_.aims.begin(), order_.aims.end(), hears_of_light_parts);
    for (const PartHandle part : order_.parts) {
      const Adjuster& a = car_.adjusters[part];
      if (!is_light(car_, a, order_.reset))
        parts[at(a.steering ? End::front : a.end)].push_back(part);
      else if (light_counts)
        parts[light].push_back(part);
    }
    for (const End end : both_ends) {
      AxleOrder& axle = axle_[at(end)];
      axle.end = end;
      axle.reset = order_.reset;
      axle.also_good_with = order_.also_good_with;
      axle.hung_as = &before_;
      for (std::size_t i = 0; i < order_.aims.size(); ++i)
        if (const RecipeAim& a = order_.aims[i]; a.of_one_axle() && a.end == end && !settled_[i])
          axle.aims.push_back(a);
      // With boxes an axle of which nothing is asked may still give shims to the other.
      const bool asked = !axle.aims.empty() || added_figure_ || whole_.asked() || stock_ || wishes_;
      if (!asked) parts[at(end)].clear();
      if (added_figure_)
        axle.aims.push_back({added_figure_, end, Side::left, RecipeAim::Kind::value, 0.0, any_value, true});
      const auto idle = put_idle_last(axle, parts[at(end)]);
      axle.parts = parts[at(end)];
      idle_.insert(idle_.end(), idle.begin(), idle.end());
    }
    idle_.insert(idle_.end(), parts[light].begin(), parts[light].end());
    for (std::size_t g = 0; g < most_groups; ++g) {
      group_[g] = ChangeGroup::of(car_, start_, parts[g]);
      if (stock_) leave_out_what_cannot_be_had(group_[g]);
      if (wishes_ && !whole_.asked() && !stock_) leave_out_what_nobody_feels(group_[g]);
    }
  }

  static constexpr std::size_t light = 2;  ///< the group after the two axles'
  static constexpr double any_value = 1e12;

  static bool adds(const RecipeAim& a) { return a.kind == RecipeAim::Kind::value && a.figure->is(adds_up); }
  [[nodiscard]] std::vector<RecipeAim> aims_of_the_whole() const {
    std::vector<RecipeAim> aims;
    for (std::size_t i = 0; i < order_.aims.size(); ++i)
      if (const RecipeAim& a = order_.aims[i]; !a.of_one_axle() && !adds(a) && !settled_[i]) aims.push_back(a);
    return aims;
  }

  [[nodiscard]] bool nothing_asked(std::size_t end) const {
    return axle_[end].aims.empty() && axle_[end].parts.empty();
  }

  /// Parts whose every value leaves the axle's figures where they are go last: what is added last and moves nothing is
  /// left out with all that hangs on it. Which those are is returned.
  std::vector<PartHandle> put_idle_last(const AxleOrder& axle, std::vector<PartHandle>& parts) const {
    if (axle.aims.empty()) return parts;
    if (parts.empty()) return {};
    AxleOrder alone = axle;
    alone.parts = parts;
    AxleJudge judge(car_, start_, targets_, alone);
    std::vector<double> values;
    for (const PartHandle part : parts) values.push_back(start_.of(part).left);
    std::vector<double> now;
    std::vector<double> then;
    if (!judge.judge(values, now)) return {};
    std::vector<PartHandle> idle;
    for (std::size_t i = 0; i < parts.size(); ++i) {
      const double before = values[i];
      bool moves = false;
      for (const double v : car_.adjusters[parts[i]].values_besides(before)) {
        values[i] = v;
        moves = moves || !judge.judge(values, then) || !alike(now, then, untouched);
      }
      values[i] = before;
      if (!moves) idle.push_back(parts[i]);
    }
    std::stable_partition(parts.begin(), parts.end(),
                          [&](PartHandle p) { return std::find(idle.begin(), idle.end(), p) == idle.end(); });
    return idle;
  }

  static bool alike(const std::vector<double>& a, const std::vector<double>& b, double same) {
    for (std::size_t i = 0; i < a.size(); ++i)
      if (!(std::abs(a[i] - b[i]) < same)) return false;
    return true;
  }

  /// A judge of a group for one thread.
  [[nodiscard]] GroupJudge judge_of(std::size_t g) const {
    if (g == light || nothing_asked(g))
      return [](std::span<const double>, std::span<GroupJudgement> found) {
        for (GroupJudgement& j : found) j = {true, 0.0, 0.0, {}};
      };
    struct Hand {
      AxleJudge judge;
      std::vector<AimRange> ranges;
      std::vector<char> stands{};
      std::vector<double> figures{};
    };
    auto hand = std::make_shared<Hand>(Hand{AxleJudge(car_, start_, targets_, axle_[g]), ranges_of(axle_[g].aims)});
    return [hand, adds = added_figure_ != nullptr, at_start = added_at_start_](std::span<const double> values,
                                                                               std::span<GroupJudgement> found) {
      hand->judge.judge_all(values, hand->stands, hand->figures);
      const std::size_t aims = hand->ranges.size();
      for (std::size_t i = 0; i < found.size(); ++i) {
        const auto figures = std::span<const double>(hand->figures).subspan(i * aims, aims);
        found[i].stands = hand->stands[i] != 0 && keeps_what_is_held(hand->ranges, figures);
        if (!found[i].stands) continue;
        found[i].figures.assign(figures.begin(), figures.end());
        found[i].squared_miss = squared_miss_of(hand->ranges, figures);
        found[i].added = adds ? figures.back() - at_start : 0.0;
      }
    };
  }

  [[nodiscard]] std::vector<PartChange> changes_of(const Pick& pick) const {
    std::vector<PartChange> changes;
    for (std::size_t g = 0; g < most_groups; ++g) add_changes(g, lists_[g].all[pick[g]], changes);
    return changes;
  }
  void add_changes(std::size_t g, const Combination& c, std::vector<PartChange>& changes) const {
    for (std::size_t i = 0; i < c.count; ++i) {
      const PartHandle part = group_[g].parts[c.part[i]];
      changes.push_back({part, start_.of(part).left, group_[g].values[c.part[i]][c.value[i]]});
    }
  }

  /// A value that no other part of the order could give up enough for.
  void leave_out_what_cannot_be_had(ChangeGroup& group) const {
    for (std::size_t i = 0; i < group.parts.size(); ++i)
      std::erase_if(group.values[i], [&](double v) { return !stock_->may_have(group.parts[i], v, order_.parts); });
  }

  /// Values that move no figure that is asked for and nothing that is wished.
  void leave_out_what_nobody_feels(ChangeGroup& group) const {
    for (std::size_t i = 0; i < group.parts.size(); ++i)
      if (std::find(idle_.begin(), idle_.end(), group.parts[i]) != idle_.end())
        std::erase_if(group.values[i], [&](double v) { return !foretelling_->says_something({group.parts[i], v}); });
  }

  /// Where one group does it alone, what it cannot do is no candidate.
  void keep_what_the_boxes_make() {
    for (std::size_t g = 0; g < most_groups; ++g)
      std::erase_if(lists_[g].all, [&](const Combination& c) {
        std::vector<PartChange> changes;
        add_changes(g, c, changes);
        return !stock_->makes(changes);
      });
  }

  [[nodiscard]] std::optional<std::uint64_t> count_allowed(bool one_group) const {
    if (whole_.asked() || added_figure_ || (stock_ && !one_group)) return std::nullopt;
    std::array<std::array<std::uint64_t, most_changes + 1>, most_groups> by_count{};
    for (std::size_t g = 0; g < most_groups; ++g) {
      if (!std::isinf(lists_[g].least_left_out)) return std::nullopt;
      for (const Combination& c : lists_[g].all) ++by_count[g][c.count];
    }
    std::uint64_t sum = 0;
    for (int a = 0; a <= most_changes; ++a)
      for (int b = 0; b <= most_changes; ++b)
        for (int c = 0; c <= most_changes; ++c)
          if (a + b + c >= 1 && a + b + c <= order_.most_parts) {
            const auto n = [&](std::size_t g, int k) { return by_count[g][at(k)]; };
            sum += n(0, a) * n(1, b) * n(2, c);
          }
    return sum;
  }

  /// What each pick adds to the squared miss by figures of the whole car and by what is foretold of wishes.
  [[nodiscard]] std::vector<std::optional<double>> judged_beside(std::span<const Pick> picks, double margin) const {
    std::vector<std::optional<double>> more =
        whole_.asked() ? judged_whole(picks) : std::vector<std::optional<double>>(picks.size(), 0.0);
    if (!wishes_) return more;
    std::vector<Part> parts;
    for (std::size_t i = 0; i < picks.size(); ++i) {
      if (!more[i]) continue;
      parts.clear();
      for (std::size_t g = 0; g < most_groups; ++g) {
        const Combination& c = lists_[g].all[picks[i][g]];
        for (std::size_t k = 0; k < c.count; ++k)
          parts.emplace_back(group_[g].parts[c.part[k]], group_[g].values[c.part[k]][c.value[k]]);
      }
      const auto felt = foretelling_->squared_miss(parts, margin);
      more[i] = felt ? std::optional(*more[i] + *felt) : std::nullopt;
    }
    return more;
  }
  /// And by figures of the whole car alone.
  [[nodiscard]] std::vector<std::optional<double>> judged_whole(std::span<const Pick> picks) const {
    std::vector<std::optional<double>> more(picks.size());
    std::vector<std::optional<std::vector<double>>> read(picks.size());
    const std::vector<AimRange> ranges = ranges_of(whole_.aims());
    for_each_by_hands(picks.size(), threads_, [&](std::size_t i) {
      read[i] = whole_.read(changes_of(picks[i]));
      if (read[i] && keeps_what_is_held(ranges, *read[i])) more[i] = squared_miss_of(ranges, *read[i]);
    });
    for (std::size_t i = 0; i < picks.size(); ++i) read_.emplace(key_of(changes_of(picks[i])), std::move(read[i]));
    return more;
  }

  using ChangeKey = std::vector<std::pair<PartHandle, double>>;
  static ChangeKey key_of(const std::vector<PartChange>& changes) {
    ChangeKey key;
    for (const PartChange& c : changes) key.emplace_back(c.adjuster, c.to);
    return key;
  }
  /// What the whole car says of these changes; looked up where it was asked before.
  [[nodiscard]] const std::optional<std::vector<double>>& read_whole(const std::vector<PartChange>& changes) const {
    const auto [place, fresh] = read_.try_emplace(key_of(changes));
    if (fresh) place->second = whole_.read(changes);
    return place->second;
  }

  /// All figures of the order with exact turns, in its order; empty where the car cannot be like that.
  [[nodiscard]] std::vector<double> figures_of(const std::vector<PartChange>& changes) const {
    std::array<std::vector<double>, most_groups> found;
    for (const End end : both_ends) {
      const AxleOrder& axle = axle_[at(end)];
      if (axle.aims.empty()) continue;
      if (!reader_[at(end)]) reader_[at(end)] = std::make_unique<AxleJudge>(car_, start_, targets_, axle);
      std::vector<double> values;
      for (const PartHandle part : axle.parts) {
        double v = start_.of(part).left;
        for (const PartChange& c : changes)
          if (c.adjuster == part) v = c.to;
        values.push_back(v);
      }
      if (!reader_[at(end)]->judge(values, found[at(end)])) return {};
    }
    if (whole_.asked()) {
      const auto& figures = read_whole(changes);
      if (!figures) return {};
      found[light] = *figures;
    }
    std::array<std::size_t, most_groups> next{};
    std::vector<double> figures;
    for (std::size_t i = 0; i < order_.aims.size(); ++i) {
      const RecipeAim& a = order_.aims[i];
      if (settled_[i]) {
        figures.push_back(a.value);
      } else if (adds(a)) {
        const double both = found[0].back() + found[1].back() - added_at_start_;
        figures.push_back(both);
      } else {
        const std::size_t g = a.of_one_axle() ? at(a.end) : light;
        figures.push_back(found[g][next[g]++]);
      }
    }
    return figures;
  }

  [[nodiscard]] bool same_figures(const std::vector<double>& a, const std::vector<double>& b) const {
    if (a.empty() || b.empty()) return false;
    for (std::size_t i = 0; i < a.size(); ++i)
      if (!(std::abs(a[i] - b[i]) < (order_.aims[i].figure->of_load() ? stands_alike : untouched))) return false;
    return true;
  }

  /// The parts at hand can do it, and none of its changes could be left out with the same result (unless it frees shims
  /// that the others need).
  [[nodiscard]] bool worth_telling(const Pick& pick) const {
    const std::vector<PartChange> changes = changes_of(pick);
    if (stock_ && !stock_->makes(changes)) return false;
    const std::vector<double> figures = figures_of(changes);
    for (std::size_t k = 0; k < changes.size(); ++k) {
      std::vector<PartChange> rest = changes;
      rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(k));
      if (wishes_ && foretelling_->says_something({changes[k].adjuster, changes[k].to})) continue;
      const bool idle = order_.aims.empty() || same_figures(figures, figures_of(rest));
      if (idle && (!stock_ || stock_->makes(rest))) return false;
    }
    return true;
  }

  [[nodiscard]] std::optional<RecipeResult> as_done(const Pick& pick) const {
    const std::vector<PartChange> changes = changes_of(pick);
    return trial_->done(changes, figures_of(changes));
  }

  /// Links and screws are work, too: what takes as long as one that comes closer is no point of the front.
  static void add_to_front(std::vector<RecipeResult>& front, RecipeResult r) {
    std::erase_if(front, [&](const RecipeResult& f) { return f.work.minutes >= r.work.minutes && f.miss >= r.miss; });
    if (std::any_of(front.begin(), front.end(),
                    [&](const RecipeResult& f) { return f.work.minutes <= r.work.minutes && f.miss <= r.miss; }))
      return;
    front.push_back(std::move(r));
    std::sort(front.begin(), front.end(),
              [](const RecipeResult& a, const RecipeResult& b) { return a.work.minutes < b.work.minutes; });
  }

  const Car& car_;
  const Setup& start_;
  const Variant& before_;
  const CarTargets& targets_;
  const RecipeOrder& order_;
  const WishJudge* wishes_;     ///< nullptr: nothing is wished
  std::vector<bool> settled_;   ///< by aim
  std::optional<Stock> stock_;  ///< none: whatever the car file names can be had
  std::optional<RecipeTrial> trial_;
  CarJudge whole_;
  unsigned threads_;
  const FigureSpec* added_figure_ = nullptr;
  std::vector<AimRange> added_;
  double added_at_start_ = 0.0;
  PerEnd<AxleOrder> axle_;
  std::array<ChangeGroup, most_groups> group_;
  std::vector<CombinationList> lists_;
  std::optional<WishForetelling> foretelling_;         ///< one thread
  std::vector<PartHandle> idle_;                       ///< they move no figure of an axle that is asked for
  mutable PerEnd<std::unique_ptr<AxleJudge>> reader_;  ///< made when first asked; one thread
  mutable std::map<ChangeKey, std::optional<std::vector<double>>> read_;  ///< by CarJudge; one thread
};

}  // namespace

bool can_be_alike(const FigureSpec& figure, const Car& car) {
  if (figure.per == Per::car || figure.is(adds_up)) return false;
  return std::all_of(both_ends.begin(), both_ends.end(), [&](End end) {
    return (figure.of_load() || applies(figure, car, end)) && !set_directly(figure, car, end);
  });
}

std::vector<PartHandle> recipe_parts(const Car& car, End end) {
  std::vector<PartHandle> parts;
  for (const PartHandle i : car.adjusters_from_the_wheel(end)) {
    const Adjuster& a = car.adjusters[i];
    if (!a.threaded() && !a.only_kept()) parts.push_back(i);
  }
  return parts;
}

std::uint64_t candidates_of(const Car& car, const Setup& start, const RecipeOrder& order) {
  return ChangeGroup::of(car, start, order.parts).combinations(order.most_parts);
}

std::uint64_t axle_combinations_of(const Car& car, const Setup& start, const RecipeOrder& order) {
  PerEnd<std::vector<PartHandle>> parts;
  for (const PartHandle part : order.parts) {
    const Adjuster& a = car.adjusters[part];
    if (!is_light(car, a, order.reset)) parts[at(a.steering ? End::front : a.end)].push_back(part);
  }
  std::uint64_t sum = 0;
  for (const auto& of_end : parts) sum += ChangeGroup::of(car, start, of_end).combinations(order.most_parts);
  return sum;
}

tl::expected<Recipe, CarFailure> find_recipe(const Car& car, const Setup& before, const Setup& start,
                                             const RecipeOrder& order, const std::function<bool(double)>& progress,
                                             const std::function<void(const Recipe&)>& so_far) {
  const std::vector<HandlingWish>& wishes = order.wishes.wishes;
  const bool figure_wanted =
      std::any_of(order.aims.begin(), order.aims.end(), [](const RecipeAim& a) { return !a.hold; });
  if (!figure_wanted && wishes.empty())
    return cannot(say("nothing is wanted; choose a figure and the value it should have"));
  if (!figure_wanted && before == start && !order.wishes.asks_for_change())
    return cannot(say("nothing is changed against the baseline: wish something to be more or less"));
  for (const RecipeAim& a : order.aims) {
    if (a.kind == RecipeAim::Kind::alike && (a.figure->per == Per::car || a.figure->is(adds_up)))
      return cannot(say("{} is one figure of the car; front and rear cannot be alike in it", word(a.figure->label)));
    for (const End end : both_ends)
      if (!a.figure->of_load() && (a.kind == RecipeAim::Kind::alike || end == a.end) && !applies(*a.figure, car, end))
        return cannot(say("{figure} means nothing on the {axle} axle of this car", "figure"_a = word(a.figure->label),
                          "axle"_a = word(end)),
                      end);
    if (a.kind == RecipeAim::Kind::alike && !can_be_alike(*a.figure, car))
      return cannot(
          say("{} is set by itself: ask for the value that one axle has at the other", word(a.figure->label)));
    if (!(a.tolerance > 0.0))
      return cannot(say("{figure}: the tolerance is {found}; allowed: more than 0", "figure"_a = word(a.figure->label),
                        "found"_a = a.tolerance));
  }
  for (const RecipeAim& a : order.aims)
    if (!a.hold && a.figure->id == "cross_weight")
      return cannot(
          say("no part sets the cross weight: the spring collars do, with the car on the scales (Springs, Scales)"));
  // What sets a figure by itself is used first; parts are moved for what is then still wanted.
  const auto is_direct = [&](const RecipeAim& a) { return direct_way(car, order, a).has_value(); };
  const bool any_direct = std::any_of(order.aims.begin(), order.aims.end(), is_direct);
  if (order.parts.empty() && !any_direct) return cannot(say("no part may be changed; allow at least one"));
  if (order.most_parts < 1 || order.most_parts > most_changes)
    return cannot(say("{found} parts at once; allowed: at least one, at most {most}", "found"_a = order.most_parts,
                      "most"_a = most_changes));
  // They are often one and the same.
  using Known = std::shared_ptr<const Variant>;
  const auto read = [&](const Setup& setup, std::initializer_list<Known> known) -> tl::expected<Known, CarFailure> {
    std::vector<const Variant*> others;
    for (const Known& v : known) {
      if (v->setup == setup) return v;
      others.push_back(v.get());
    }
    auto v = evaluate(car, setup, {}, coarse_curve, others);
    if (!v) return tl::unexpected(v.error());
    return std::make_shared<const Variant>(std::move(*v));
  };
  const auto base = read(before, {});
  if (!base) return tl::unexpected(base.error());
  const auto as_it_is = read(start, {*base});
  if (!as_it_is) return tl::unexpected(as_it_is.error());
  const auto wish = with_direct_wants(car, **as_it_is, order);
  if (!wish) return tl::unexpected(wish.error());
  const auto now = read(*wish, {*base, *as_it_is});
  if (!now) return tl::unexpected(now.error());
  if (std::any_of(order.aims.begin(), order.aims.end(), [](const RecipeAim& a) { return a.figure->of_load(); }))
    if (const auto stands = put_on_springs(car, *wish, order.under); !stands) return tl::unexpected(stands.error());
  const CarTargets targets = wanted_targets((*base)->source.standing, before, *wish);
  std::optional<WishJudge> wish_judge;
  if (order.wishes.asked()) {
    auto judge = WishJudge::of(car, before, order.wishes, hands_of(order.threads));
    if (!judge) return tl::unexpected(judge.error());
    wish_judge = std::move(*judge);
  }
  const WishJudge* judge = wish_judge ? &*wish_judge : nullptr;
  const std::vector<bool> none(order.aims.size());
  const RecipeCase of{car, **now, **base, targets, order, judge};
  RecipeSearch unsettled(of, none);
  auto alone = unsettled.without_parts();
  // Less work than any other way: where it does, nothing else is looked for.
  if (any_direct && alone && alone->miss <= 1.0) return only(std::move(*alone));
  // Heights, droop and lock that are reached so stay reached with other parts; angles are held candidate by candidate.
  std::vector<bool> settled = none;
  bool all_reached = alone.has_value() && any_direct && !judge;
  for (std::size_t i = 0; i < order.aims.size() && alone; ++i) {
    const RecipeAim& a = order.aims[i];
    if (a.hold) continue;
    const auto direct = direct_way(car, order, a);
    const double near_enough = std::max(a.tolerance, 2.0 * a.figure->resolution());
    const bool reached = direct && std::abs(alone->reached[i] - a.value) <= near_enough;
    settled[i] = reached && direct->by != DirectlySet::By::links;
    all_reached = all_reached && reached;
  }
  // As near as threads and spacers come: parts would not bring it nearer.
  if (all_reached) return only(std::move(*alone));
  if (order.parts.empty()) return cannot(say("what sets it directly does not reach that; allow at least one part"));
  Recipe found =
      settled == none ? unsettled.run(alone, progress, so_far) : RecipeSearch(of, settled).run(alone, progress, so_far);
  // What can be set is still nearer than nothing.
  if (found.results.empty() && any_direct && alone && !found.stopped) found.results.push_back(std::move(*alone));
  return found;
}

std::string why_none(const Recipe& recipe, const RecipeOrder& asked) {
  if (!recipe.results.empty()) return {};
  if (recipe.stopped) return say("nothing was found until then");
  const auto held = [](const auto& a) { return a.hold; };
  const bool holds = std::any_of(asked.aims.begin(), asked.aims.end(), held);
  if (holds && recipe.allowed == std::uint64_t{0})
    return say("nothing keeps what is held; hold less, or allow other parts");
  const std::vector<HandlingWish>& wishes = asked.wishes.wishes;
  if (std::any_of(wishes.begin(), wishes.end(), held))
    return say("nothing that was read does what is held for that many of the tyres; want it instead, or ask for fewer");
  return say("no part that may change comes closer to what is wanted; allow other parts, or more at once");
}

}  // namespace lowkite
