// Rules of thumb as data: what racers change when the car feels like this, and which school says so. The shipped ones
// lie in data/rules, a racer's own beside them in the same form (docs/formats/rules.schema.json). All of it is common
// practice without a source; what a rule claims about figures is tested on the model each time it is told.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/figures/figures.hpp"
#include "core/figures/load_source.hpp"
#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"
#include "core/log/log.hpp"

namespace lowkite {

constexpr int newest_rules_version = 1;

/// What a rule takes in hand, whatever the car calls the part.
struct RulePart {
  enum class Kind : std::uint8_t {
    point,   ///< a part that moves this point along an axis (shims, holes, inserts, screws)
    size,    ///< a part that changes this size (spring, bar wire, oil)
    caster,  ///< a part that leans the kingpin back (+) or forward (-)
    weight,  ///< a part that moves the car's centre of gravity along an axis
    hold,    ///< what is set by link, collar, radio or stop: camber, toe, ride height, full lock, droop
    told     ///< something that the model has no part for: said in words, never tried
  };
  enum class Hold : std::uint8_t { camber, toe, ride_height, lock, droop };
  Kind kind = Kind::point;
  std::string point{};
  int axis = 2;  ///< 0 x, 1 y (outward), 2 z
  Size size = Size::spring_rate;
  Hold hold = Hold::toe;
  std::string told{};  ///< what to do, in words
  double way = 1.0;    ///< +1 or -1

  /// An angle of the wheel that links set.
  [[nodiscard]] bool is_wheel_angle() const {
    return kind == Kind::hold && (hold == Hold::camber || hold == Hold::toe);
  }
};

/// What a rule promises: in these phases the feeling moves this way (see Sense).
struct RuleHelp {
  std::vector<Phase> phases;
  Sense sense = Sense::front_grip;
  double way = 1.0;
};

/// What a rule says about a figure; the model has its own word on it.
struct RuleClaim {
  const FigureSpec* figure = nullptr;
  End end = End::front;
  double way = 1.0;

  [[nodiscard]] std::string_view label() const { return figure->label; }
};

struct Rule {
  std::string id;
  std::string name;
  std::string question;           ///< id of the question on which schools disagree; empty: none does
  std::string school;             ///< which of its schools says this
  std::vector<Surface> surfaces;  ///< empty: any
  std::vector<Grip> grip;         ///< empty: any
  End end = End::front;
  RulePart part;
  double step = 1.0;  ///< mm, deg, or the size's unit: one usual step
  std::vector<RuleHelp> helps;
  std::vector<RuleClaim> claims;
  std::vector<std::string> costs;
  std::string why;
  bool own = false;  ///< the racer's, not ours
};

struct School {
  std::string id;
  std::string text;
};
struct Question {
  std::string id;
  std::string text;
  std::vector<School> schools;
};

struct RuleBook {
  std::vector<Question> questions;
  std::vector<Rule> rules;

  [[nodiscard]] const Question* question(std::string_view id) const;
  [[nodiscard]] const Rule* rule(std::string_view id) const;
};

/// Every fault found, or the rules. `shipped`: whose questions and ids a racer's own file may use; its rules take the
/// place of shipped ones with the same id.
tl::expected<RuleBook, Faults> read_rules(const std::string& text, const std::string& file,
                                          const RuleBook* shipped = nullptr);
/// The shipped rules and, where there is one, the racer's own file.
tl::expected<RuleBook, Faults> load_rules(const std::filesystem::path& shipped, const std::filesystem::path& own = {});

/// A rule as it stands in a rules file.
Json json_of(const Rule& rule);
/// The text of a file with a racer's own rules.
std::string write_own_rules(const std::vector<Rule>& rules);

}  // namespace lowkite
