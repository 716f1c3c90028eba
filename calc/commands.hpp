// The commands of lowkite-calc. Each returns the exit status: 0 done, 1 the input is wrong, 2 wrong usage.
#pragma once

#include <string>
#include <vector>

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

int validate(const std::vector<std::string>& files);
int report(const Inputs& inputs, Format format);
int corner(const CornerOptions& options);
int sweep(const SweepOptions& options);
int sensitivity(const SensitivityOptions& options);
int check(const Inputs& inputs, Format format);

}  // namespace lowkite::calc
