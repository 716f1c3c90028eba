// lowkite-calc: the core from the shell.
#include <cmath>
#include <filesystem>

#include <CLI/CLI.hpp>

#include "calc/commands.hpp"
#include "core/words/catalogue.hpp"

int main(int argc, char** argv) {
  using namespace lowkite;
  using namespace lowkite::calc;
  std::error_code unknown;
  speak(catalogue(catalogue_folder(std::filesystem::read_symlink("/proc/self/exe", unknown))));
  CLI::App app{say("Low Kite from the shell: the same figures as the window.\n"
                   "Exit status: 0 done, 1 the input is wrong (one line a fault on standard error), 2 wrong usage."),
               "lowkite-calc"};
  app.set_version_flag("--version", "lowkite-calc " LOWKITE_VERSION);
  app.require_subcommand(1);

  std::vector<std::string> files;
  auto* validate_command = app.add_subcommand("validate", say("Check car and setup files; say every fault found"));
  validate_command->add_option("FILE", files, say("Car (.kite-car.json) and setup (.kite-setup.json) files"))
      ->required();

  const auto add_inputs = [](CLI::App* command, Inputs& inputs) {
    command->add_option("CAR", inputs.car, say("Car file"))->required();
    command->add_option("SETUP", inputs.setup, say("Setup file; without one, the kit setup"));
  };

  // Words are turned into what they stand for once everything is read.
  std::string turn = "left", warmth = "right";
  const auto add_tyres = [&](CLI::App* command, TyreOptions& over) {
    command->add_option("--tyres", over.family, say("Family of tyres by its id: asphalt_rubber, ..."));
    command->add_option("--tyre-file", over.tyre_file, say("File with families of one's own"));
    command->add_option("--warmth", warmth, say("Of the tyres: cold, right or hot"))
        ->check(CLI::IsMember({"cold", "right", "hot"}));
    command->add_option("--radius", over.ask.radius_m, say("Of the corner, m"))->check(CLI::Range(0.5, 100.0));
    command->add_option("--braking", over.ask.braking_g, say("At entry, g"))->check(CLI::Range(0.0, 1.5));
    command->add_option("--power", over.ask.power_g, say("At exit, g"))->check(CLI::Range(0.0, 1.5));
    command->add_option("--turn-in", over.ask.turn_in_s, say("How soon the car comes to turn, s; 0: all is steady"))
        ->check(CLI::Range(0.0, 5.0));
    command->add_option("--turn", turn, say("left or right"))->check(CLI::IsMember({"left", "right"}));
  };

  Inputs report_inputs;
  bool report_json = false;
  auto* report_command = app.add_subcommand("report", say("All figures at ride height"));
  add_inputs(report_command, report_inputs);
  report_command->add_flag("--json", report_json, say("As JSON"));

  CornerOptions options;
  bool as_csv = false;
  bool as_json = false;
  auto* corner_command = app.add_subcommand("corner", say("One wheel over travel and rack displacement"));
  add_inputs(corner_command, options.inputs);
  corner_command->add_option("--axle", options.axle, say("front or rear"))
      ->required()
      ->check(CLI::IsMember({"front", "rear"}));
  corner_command->add_option("--side", options.side, say("left or right"))
      ->required()
      ->check(CLI::IsMember({"left", "right"}));
  corner_command
      ->add_option("--travel", options.travel, say("A:B:STEP, mm of wheel-centre height against the design position"))
      ->required();
  corner_command->add_option("--rack", options.rack, say("A:B:STEP, mm of the tie rod's inner ball to the left"));
  auto* csv = corner_command->add_flag("--csv", as_csv, say("As CSV (the default)"));
  corner_command->add_flag("--json", as_json, say("As JSON"))->excludes(csv);

  SweepOptions sweep_options;
  auto* sweep_command =
      app.add_subcommand("sweep", say("Any figures over travel, roll, pitch or steering, at ride height"));
  add_inputs(sweep_command, sweep_options.inputs);
  sweep_command->add_option("--over", sweep_options.over, say("travel, roll, pitch or steer"))
      ->required()
      ->check(CLI::IsMember({"travel", "roll", "pitch", "steer"}));
  sweep_command
      ->add_option("--range", sweep_options.range,
                   say("A:B:STEP; mm of bump, or degrees of roll to the right, nose down, servo to the left"))
      ->required();
  sweep_command->add_option("--axle", sweep_options.axle, say("front or rear"))
      ->check(CLI::IsMember({"front", "rear"}));
  sweep_command
      ->add_option("--figures", sweep_options.figures,
                   say("Figures by their names in report --json; all when left out"))
      ->delimiter(',');
  auto* sweep_csv = sweep_command->add_flag("--csv", as_csv, say("As CSV (the default)"));
  sweep_command->add_flag("--json", as_json, say("As JSON"))->excludes(sweep_csv);

  SensitivityOptions sensitivity_options;
  auto* sensitivity_command =
      app.add_subcommand("sensitivity", say("What one step of every part does to a figure, the best part first"));
  add_inputs(sensitivity_command, sensitivity_options.inputs);
  sensitivity_command->add_option("--axle", sensitivity_options.axle, say("front or rear"))
      ->check(CLI::IsMember({"front", "rear"}));
  sensitivity_command->add_option("--figure", sensitivity_options.figure, say("A figure by its name in report --json"))
      ->required();
  sensitivity_command->add_flag("--raw", sensitivity_options.raw,
                                say("As changed, without putting camber and toe back"));
  sensitivity_command->add_flag("--json", as_json, say("As JSON, with every figure"));

  CompareOptions compare_options;
  auto* compare_command =
      app.add_subcommand("compare", say("Two setups, of one car or of two: parts, figures and gauges that differ"));
  compare_command->add_option("A", compare_options.a, say("Setup file, or a car file for its kit setup"))->required();
  compare_command->add_option("B", compare_options.b, say("What it is compared with"))->required();
  compare_command->add_flag("--all", compare_options.all, say("Also what is the same"));
  compare_command->add_flag("--json", as_json, say("As JSON"));

  RecipeOptions recipe_options;
  auto* recipe_command =
      app.add_subcommand("recipe", say("Which parts to change for what is wanted, the least work first"));
  add_inputs(recipe_command, recipe_options.inputs);
  recipe_command->add_option("--axle", recipe_options.axle, say("Whose parts may change: front, rear or both"))
      ->check(CLI::IsMember({"front", "rear", "both"}));
  auto* recipe_lateral =
      recipe_command->add_option("--lateral", recipe_options.under.lateral_g,
                                 say("Cornering in which springs are read, g, and that is asked where a wish is told"));
  recipe_command->add_option("--longitudinal", recipe_options.under.longitudinal_g,
                             say("Speeding up (+) or braking (-) in which springs are read, g"));
  recipe_command
      ->add_option("--want", recipe_options.want,
                   say("FIGURE+BY, FIGURE-BY, FIGURE=VALUE or FIGURE=alike (front and rear), with ~TOLERANCE: "
                       "roll_centre+1~0.1, front.roll_centre=6; or what the driver is to feel as FIGURE@PHASE=WANT: "
                       "front_left@entry=more (more, not_less, same, not_more or less, against the setup or the "
                       "baseline); more than once"))
      ->required();
  recipe_command->add_option("--hold", recipe_options.hold,
                             say("FIGURE or FIGURE=VALUE, with ~TOLERANCE: camber_gain~0.02; or FIGURE@PHASE=WANT: "
                                 "rear_left@exit=not_less"));
  recipe_command
      ->add_option("--share", recipe_options.share_percent, say("Of the tyres for which each wish is to hold, %"))
      ->check(CLI::Range(1.0, 100.0));
  add_tyres(recipe_command, recipe_options.over);
  recipe_command->get_option("--radius")
      ->description(say("Of the corner, m; springs are read steered so, too, without it with the wheels straight"));
  recipe_command
      ->add_option("--parts", recipe_options.parts, say("Ids of the parts that may change; all when left out"))
      ->delimiter(',');
  recipe_command->add_option("--but", recipe_options.but, say("Ids of parts that stay as they are"))->delimiter(',');
  recipe_command->add_option("--most", recipe_options.most, say("How many parts may change at once"))
      ->check(CLI::Range(1, 6));
  auto* box = recipe_command->add_option("--box", recipe_options.box, say("Only these shims: \"0.5x4 1x2\""));
  recipe_command->add_option("--boxes", recipe_options.boxes, say("Only what lies in the boxes of this file"))
      ->excludes(box);
  auto* robust = recipe_command->add_flag(
      "--robust", recipe_options.robust,
      say("Judge by the worst of: as set, ride height lost, tie rods off either way (0.5 mm and half a turn)"));
  recipe_command
      ->add_option("--height-lost", recipe_options.height_lost_mm, say("How much ride height is lost, mm; 0: none"))
      ->check(CLI::Range(0.0, 5.0))
      ->needs(robust);
  recipe_command
      ->add_option("--rod-off", recipe_options.tie_rod_off_turns, say("How far off the tie rods are, turns; 0: not"))
      ->check(CLI::Range(0.0, 3.0))
      ->needs(robust);
  recipe_command->add_option("--results", recipe_options.results, say("How many results"))->check(CLI::Range(1, 1000));
  recipe_command->add_option("--as", recipe_options.baseline, say("Setup whose camber, toe and droop are put back to"));
  recipe_command->add_option("--out", recipe_options.out, say("Write the best result as a setup file"));
  recipe_command->add_flag("--json", as_json, say("As JSON"));

  PackOptions pack_options;
  auto* pack_command = app.add_subcommand("pack", say("What to take along for plans, and what of it has to be bought"));
  add_inputs(pack_command, pack_options.inputs);
  pack_command->add_option("--plan", pack_options.plans, say("Setup files that may be tried"))->required();
  pack_command->add_option("--boxes", pack_options.boxes, say("File of what lies in the boxes"));
  pack_command->add_flag("--json", as_json, say("As JSON"));

  LoadOptions load_options;
  auto* load_command = app.add_subcommand("load", say("The car on its springs: weights, attitude, collars"));
  add_inputs(load_command, load_options.inputs);
  load_command->add_option("--lateral", load_options.lateral_g, say("g, positive to the left as in a left turn"))
      ->check(CLI::Range(-5.0, 5.0));
  load_command
      ->add_option("--longitudinal", load_options.longitudinal_g, say("g, positive speeding up, negative braking"))
      ->check(CLI::Range(-5.0, 5.0));
  auto* servo =
      load_command->add_option("--servo", load_options.servo_deg, say("Servo angle, deg, positive to the left"))
          ->check(CLI::Range(-90.0, 90.0));
  auto* radius =
      load_command->add_option("--radius", load_options.radius_m, say("Of the turn, m: gives the servo's angle"))
          ->check(CLI::Range(0.1, 1000.0))
          ->excludes(servo);
  load_command->add_option("--speed", load_options.speed_m_s, say("m/s: gives the radius, with --lateral"))
      ->check(CLI::Range(0.1, 50.0))
      ->excludes(servo)
      ->excludes(radius);
  load_command->add_flag("--json", as_json, say("As JSON"));

  HandlingOptions handling_options;
  auto* handling_command = app.add_subcommand(
      "handling", say("What the driver will feel, over many tyres: entry, middle and exit of a corner"));
  add_inputs(handling_command, handling_options.inputs);
  handling_command->add_option("--against", handling_options.changed,
                               say("Setup file with a change: told for how many tyres it gives more or less"));
  handling_command->add_option("--lateral", handling_options.over.ask.lateral_g, say("What the corner asks, g"))
      ->check(CLI::Range(0.1, 3.0));
  add_tyres(handling_command, handling_options.over);
  handling_command->add_flag("--json", as_json, say("As JSON"));

  MotionOptions motion_options;
  auto* motion_command =
      app.add_subcommand("motion", say("The car over a bump, a kerb, a landing or a step of the steering"));
  add_inputs(motion_command, motion_options.inputs);
  motion_command->add_option("--event", motion_options.event, say("bump, kerb, landing or steer_step"))
      ->check(CLI::IsMember({"bump", "kerb", "landing", "steer_step"}));
  motion_command->add_option("--seconds", motion_options.road.seconds, say("How long, s"));
  motion_command->add_option("--speed", motion_options.road.speed_m_s, "m/s");
  motion_command->add_option("--height", motion_options.road.height_mm, say("Of the bump or kerb, mm"));
  motion_command->add_option("--length", motion_options.road.length_mm, say("Of the bump or kerb, mm"));
  motion_command->add_option("--drop", motion_options.road.drop_mm, say("Free fall before the landing, mm"));
  motion_command->add_option("--lateral", motion_options.road.lateral_g,
                             say("Of the steer step, g, positive to the left"));
  motion_command->add_option("--celsius", motion_options.road.oil_celsius, say("Of the shock oil, deg C"));
  motion_command->add_option("--tyre", motion_options.road.tyre_n_per_mm, say("Rate of a tyre, N/mm"));
  auto* motion_csv = motion_command->add_flag("--csv", as_csv, say("Every millisecond as CSV"));
  motion_command->add_flag("--json", as_json, say("The summary as JSON"))->excludes(motion_csv);

  OilOptions oil_options;
  auto* oil_command =
      app.add_subcommand("oil", say("Which oil keeps the damping with another piston or in another heat"));
  oil_command->add_option("--piston", oil_options.piston, say("Holes x diameter in mm: 3x1.1"))->required();
  oil_command->add_option("--oil", oil_options.cst, say("cSt at 25 deg C"))
      ->required()
      ->check(CLI::Range(10.0, 100000.0));
  oil_command->add_option("--to", oil_options.to, say("The other piston; left out: the same"));
  oil_command->add_option("--bore", oil_options.bore_mm, say("Inside diameter of the body, mm"))
      ->check(CLI::Range(3.0, 40.0));
  oil_command->add_option("--thickness", oil_options.thickness_mm, say("Of the piston, mm"))
      ->check(CLI::Range(0.2, 20.0));
  oil_command->add_option("--celsius", oil_options.celsius, say("Temperature now"))->check(CLI::Range(-20.0, 90.0));
  oil_command->add_option("--to-celsius", oil_options.to_celsius, say("Temperature then"))
      ->check(CLI::Range(-20.0, 90.0));

  Inputs convert_inputs;
  auto* convert_command = app.add_subcommand(
      "convert", say("A setup file as a table (CSV), or such a table as a setup file, on standard output"));
  convert_command->add_option("CAR", convert_inputs.car, say("Car file"))->required();
  convert_command->add_option("SETUP", convert_inputs.setup, say("Setup file (.json) or table (.csv)"))->required();

  Inputs check_inputs;
  auto* check_command = app.add_subcommand("check", say("What cannot be right about a car as it is set up"));
  add_inputs(check_command, check_inputs);
  check_command->add_flag("--json", as_json, say("As JSON"));

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? done : wrong_usage;
  }
  for (TyreOptions* over : {&recipe_options.over, &handling_options.over}) {
    over->ask.to_the_left = turn == "left";
    over->warmth = warmth == "cold" ? TyreWarmth::cold : warmth == "hot" ? TyreWarmth::hot : TyreWarmth::right;
  }
  // Without a radius of its own the springs are read with the wheels straight.
  if (recipe_command->count("--radius") > 0) recipe_options.under.radius_m = recipe_options.over.ask.radius_m;
  if (*recipe_lateral) recipe_options.over.ask.lateral_g = std::abs(recipe_options.under.lateral_g);
  if (*validate_command) return validate(files);
  if (*report_command) return report(report_inputs, report_json ? Format::json : Format::text);
  if (*sensitivity_command) {
    sensitivity_options.format = as_json ? Format::json : Format::text;
    return sensitivity(sensitivity_options);
  }
  if (*compare_command) {
    compare_options.format = as_json ? Format::json : Format::text;
    return compare(compare_options);
  }
  if (*recipe_command) {
    recipe_options.format = as_json ? Format::json : Format::text;
    return recipe(recipe_options);
  }
  if (*pack_command) {
    pack_options.format = as_json ? Format::json : Format::text;
    return pack(pack_options);
  }
  if (*handling_command) {
    handling_options.format = as_json ? Format::json : Format::text;
    return handling(handling_options);
  }
  if (*motion_command) {
    motion_options.format = as_json ? Format::json : as_csv ? Format::csv : Format::text;
    return motion(motion_options);
  }
  if (*oil_command) return oil(oil_options);
  if (*load_command) {
    load_options.format = as_json ? Format::json : Format::text;
    return load_car_on_springs(load_options);
  }
  if (*convert_command) return convert(convert_inputs);
  if (*check_command) return check(check_inputs, as_json ? Format::json : Format::text);
  if (*sweep_command) {
    sweep_options.format = as_json ? Format::json : Format::csv;
    return sweep(sweep_options);
  }
  options.format = as_json ? Format::json : Format::csv;
  return corner(options);
}
