// The commands of lowkite-calc. Each returns the exit status: 0 done, 1 the input is wrong, 2 wrong usage.
#pragma once

#include <string>
#include <vector>

#include "core/figures/load_source.hpp"
#include "core/handling/family.hpp"
#include "core/handling/setup_table.hpp"
#include "core/io/kept_json.hpp"
#include "core/load/ride_motion.hpp"
#include "core/plan/axle_judge.hpp"

namespace lowkite::calc {

enum ExitStatus : int { done = 0, wrong_input = 1, wrong_usage = 2 };

enum class Format { text, csv, json };

struct Inputs {
  std::string car;
  std::string setup;  ///< empty: the kit setup
};

struct Steps {
  double from = 0.0;
  double to = 0.0;
  double step = 1.0;
};

struct CornerOptions {
  Inputs inputs;
  std::string axle = "front";
  std::string side = "left";
  std::string travel;  ///< "A:B:STEP"
  std::string rack;
  Format format = Format::csv;
};

struct SweepOptions {
  Inputs inputs;
  std::string over = "travel";  ///< travel, roll, pitch, steer
  std::string range;            ///< "A:B:STEP", mm or degrees
  std::string axle = "front";
  std::vector<std::string> figures;  ///< empty: every one
  Format format = Format::csv;
};

struct SensitivityOptions {
  Inputs inputs;
  std::string axle = "front";
  std::string figure = "roll_centre";
  bool raw = false;  ///< without the re-set
  Format format = Format::text;
};

struct CompareOptions {
  std::string a;
  std::string b;
  bool all = false;  ///< also what is the same
  Format format = Format::text;
};

/// What the driver feels is told over these, in this corner.
struct TyreOptions {
  std::string family;     ///< its id; empty: the first one
  std::string tyre_file;  ///< the racer's own families; empty: none
  TyreWarmth warmth = TyreWarmth::right;
  CornerAsk ask;
};

struct RecipeOptions {
  Inputs inputs;
  std::string axle = "front";  ///< whose parts may change, and that figures are of; "both": they name their axle
  HeldTurn under;              ///< in which figures of load are read
  /// "roll_centre+1~0.1", "camber_gain=-0.3~0.02", "rear.roll_centre+1~0.1", "front_left@entry=more"
  std::vector<std::string> want;
  std::vector<std::string> hold;   ///< "camber_gain~0.02", "rear_left@exit=not_less"
  TyreOptions over;                ///< where something is wished
  double share_percent = 80.0;     ///< of the tyres for which each wish is to hold
  std::vector<std::string> parts;  ///< ids; empty: all of the axle
  std::vector<std::string> but;    ///< ids that stay as they are
  std::string box;
  std::string boxes;    ///< a file of boxes
  bool robust = false;  ///< good also with ride height lost and a tie rod off
  double height_lost_mm = usual_height_lost_mm;
  double tie_rod_off_turns = usual_tie_rod_off_turns;
  int most = 2;
  int results = 12;
  std::string baseline;  ///< a setup whose camber, toe and droop are put back to; empty: the one that is changed
  std::string out;       ///< where the best result is written as a setup
  Format format = Format::text;
};

struct PackOptions {
  Inputs inputs;  ///< the car as it stands
  std::vector<std::string> plans;
  std::string boxes;
  Format format = Format::text;
};

struct MotionOptions {
  Inputs inputs;
  RoadCase road;
  std::string event = "bump";
  Format format = Format::text;
};
/// The car over a bump, a kerb, a landing or a step of the steering.
int motion(const MotionOptions& options);

/// Every load figure by its id: a value, or front and rear.
Json load_figures_json(const LoadSource& source);

struct LoadOptions {
  Inputs inputs;
  double lateral_g = 0.0;
  double longitudinal_g = 0.0;
  std::optional<double> servo_deg;  ///< positive to the left; none: what the radius asks for
  std::optional<double> radius_m;
  std::optional<double> speed_m_s;
  Format format = Format::text;
};

struct HandlingOptions {
  Inputs inputs;
  std::string changed;  ///< a setup that is held against it; empty: none
  TyreOptions over;
  Format format = Format::text;
};
/// Grip left, steering and answers over many tyres.
int handling(const HandlingOptions& options);

struct OilOptions {
  std::string piston;  ///< "3x1.1"
  std::string to;      ///< empty: the same piston
  double cst = 0.0;
  double bore_mm = 10.0;
  double thickness_mm = 2.0;
  double celsius = 25.0;
  double to_celsius = 25.0;
};

int validate(const std::vector<std::string>& files);
int report(const Inputs& inputs, Format format);
int corner(const CornerOptions& options);
int sweep(const SweepOptions& options);
int sensitivity(const SensitivityOptions& options);
int load_car_on_springs(const LoadOptions& options);
int oil(const OilOptions& options);
int compare(const CompareOptions& options);
int recipe(const RecipeOptions& options);
int pack(const PackOptions& options);
/// A setup file as a table, or a table as a setup file, on standard output.
int convert(const Inputs& inputs);
int check(const Inputs& inputs, Format format);

}  // namespace lowkite::calc
