// lowkite-bench-sim: stands in for electronic gauges on a local socket (docs/formats/instruments.md).
#include <cstdio>
#include <optional>

#include <unistd.h>

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLocalServer>
#include <QLocalSocket>
#include <QSocketNotifier>
#include <QTimer>

#include "bench_sim/bench_car.hpp"
#include "bench_sim/sender.hpp"
#include "core/io/car_file.hpp"
#include "core/io/library.hpp"
#include "core/io/setup_file.hpp"

namespace {

using namespace lowkite;

int fail(const std::string& what, int code) {
  std::fprintf(stderr, "lowkite-bench-sim: %s\n", what.c_str());
  return code;
}

/// What a line asked for, done on the car; what it answers.
std::string obeyed(BenchCar& car, const QByteArray& line) {
  const QList<QByteArray> words = line.split(' ');
  bool number = false;
  const double by = words.size() == 4 ? words[3].toDouble(&number) : 0.0;
  const bool left = words.size() == 4 && words[2] == "left";
  if (!number || (!left && words[2] != "right"))
    return "not understood: turn PART left|right TURNS, collar front|rear left|right MM";
  const Side side = left ? Side::left : Side::right;
  if (words[0] == "turn")
    return car.turn(words[1].toStdString(), side, by) ? "turned" : "no such part, or its thread ends";
  if (words[0] != "collar" || (words[1] != "front" && words[1] != "rear")) return "not understood";
  const End end = words[1] == "front" ? End::front : End::rear;
  car.turn_collar(end, side, by);
  if (car.settle()) return "turned";
  car.turn_collar(end, side, -by);
  return car.settle() ? "it cannot stand so" : "it cannot stand";
}

/// Prints what is wrong after each run. 0 when nothing is.
int rehearse_cars(const Car& car, const Setup& setup, int cars) {
  int wrong = 0;
  int turns = 0;
  for (int i = 0; i < cars; ++i) {
    auto on_the_bench = BenchCar::wrongly_set(car, setup, static_cast<unsigned>(i));
    if (!on_the_bench) return fail(on_the_bench.error(), 1);
    BenchKit kit;
    if (i % 2 == 1) kit.ride_points_apart_mm = 60.0;
    BenchRun run = start_run(car, setup, BenchList::full, kit, "2026-01-01T00:00:00");
    const Rehearsal done = rehearse(*on_the_bench, run);
    turns += done.turns;
    wrong += !done.ended || !done.wrong.empty();
    for (const std::string& line : done.wrong) std::printf("car %d: %s\n", i, line.c_str());
    if (!done.ended) std::printf("car %d: the run does not end\n", i);
  }
  std::printf("%s: %d of %d cars set right, %.1f corrections each\n", car.name.c_str(), cars - wrong, cars,
              static_cast<double>(turns) / cars);
  return wrong == 0 ? 0 : 1;
}

/// How long the gauges stay away when the connection is lost on request.
constexpr int away_ms = 2000;

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  QCoreApplication::setApplicationName(QStringLiteral("lowkite-bench-sim"));
  QCommandLineParser p;
  p.setApplicationDescription(
      QStringLiteral("Stands in for electronic gauges: four scales, ride height, down-stop, "
                     "camber and toe, sent over a local socket."));
  p.addHelpOption();
  const auto option = [&](const char* name, const char* what, const char* value, const char* standard = "") {
    p.addOption({QString::fromLatin1(name), QString::fromLatin1(what), QString::fromLatin1(value),
                 QString::fromLatin1(standard)});
  };
  option("socket", "the local socket's name", "NAME", "lowkite-bench");
  option("car", "a car file; the shipped touring car else", "FILE");
  option("setup", "a setup of that car; kit else", "FILE");
  option("rate", "lines a second of each gauge", "HZ", "10");
  option("noise", "scatter, in resolutions of each gauge", "X", "0.3");
  option("drift", "drift, in resolutions a second", "X", "0");
  option("drop", "share of lines never sent", "SHARE", "0");
  option("damage", "share of lines sent damaged", "SHARE", "0");
  option("wrong-unit", "an instrument set to another unit, such as corner_scale", "INSTRUMENT");
  option("lose-after", "loses the connection every so many seconds", "SECONDS", "0");
  option("off", "how far the car is off its setup, such as camber:lf=-0.6; may be given again", "PLACE=AMOUNT");
  option("seed", "for the scatter", "N", "1");
  option("wrongly-set",
         "a car that is set wrongly by this seed; it obeys lines on standard input such as "
         "\"turn front_camber_link left -0.5\" (turns) or \"collar front left 0.25\" (mm down the shock)",
         "SEED");
  option("rehearse", "instead: so many wrongly set cars, each set right by a whole run in which all advice is done",
         "N");
  p.process(app);

  const auto figure = [&](const char* name, double& value, double least, double most) {
    bool good = false;
    value = p.value(QString::fromLatin1(name)).toDouble(&good);
    return good && value >= least && value <= most;
  };
  SenderOptions options;
  double rate = 10.0;
  double lose = 0.0;
  double seed = 1.0;
  if (!figure("rate", rate, 0.1, 1000.0)) return fail("--rate: allowed are 0.1 to 1000", 2);
  if (!figure("noise", options.noise, 0.0, 100.0)) return fail("--noise: allowed are 0 to 100", 2);
  if (!figure("drift", options.drift, -100.0, 100.0)) return fail("--drift: allowed are -100 to 100", 2);
  if (!figure("drop", options.drop, 0.0, 1.0)) return fail("--drop: allowed are 0 to 1", 2);
  if (!figure("damage", options.damage, 0.0, 1.0)) return fail("--damage: allowed are 0 to 1", 2);
  if (!figure("lose-after", lose, 0.0, 1e6)) return fail("--lose-after: allowed are 0 (never) or seconds", 2);
  if (!figure("seed", seed, 0.0, 4e9)) return fail("--seed: allowed is a whole number", 2);
  options.seed = static_cast<unsigned>(seed);
  options.wrong_unit = p.value(QStringLiteral("wrong-unit")).toStdString();
  for (const QString& text : p.values(QStringLiteral("off"))) {
    const auto off = parse_off(text.toStdString());
    if (!off) return fail(off.error(), 2);
    options.off.insert(*off);
  }

  const std::string car_path = p.isSet(QStringLiteral("car"))
                                   ? p.value(QStringLiteral("car")).toStdString()
                                   : (data_folder() / "cars" / "heron-tc190.kite-car.json").string();
  const auto car = load_car(car_path);
  if (!car) return fail(car.error().front().line(), 1);
  Setup setup = kit_setup(*car);
  if (p.isSet(QStringLiteral("setup"))) {
    const auto file = load_setup(p.value(QStringLiteral("setup")).toStdString(), *car);
    if (!file) return fail(file.error().front().line(), 1);
    setup = file->setup;
  }
  if (int cars = p.value(QStringLiteral("rehearse")).toInt(); cars > 0) return rehearse_cars(*car, setup, cars);
  std::optional<BenchCar> hidden;
  if (p.isSet(QStringLiteral("wrongly-set"))) {
    bool good = false;
    const unsigned wrong = p.value(QStringLiteral("wrongly-set")).toUInt(&good);
    if (!good) return fail("--wrongly-set: allowed is a whole number", 2);
    auto made = BenchCar::wrongly_set(*car, setup, wrong);
    if (!made) return fail(made.error(), 1);
    hidden = std::move(*made);
  }
  auto sender =
      hidden ? tl::expected<Sender, std::string>(Sender::on(*hidden, options)) : Sender::on(*car, setup, options);
  if (!sender) return fail(sender.error(), 1);
  QFile commands;
  std::optional<QSocketNotifier> heard;
  if (hidden && commands.open(stdin, QIODevice::ReadOnly | QIODevice::Unbuffered)) {
    heard.emplace(STDIN_FILENO, QSocketNotifier::Read);
    QObject::connect(&*heard, &QSocketNotifier::activated, &app, [&] {
      const QByteArray line = commands.readLine();
      if (line.isEmpty()) return heard->setEnabled(false);
      std::printf("%s\n", obeyed(*hidden, line.trimmed()).c_str());
      std::fflush(stdout);
      sender->look(*hidden);
    });
  }

  QLocalServer server;
  server.setSocketOptions(QLocalServer::UserAccessOption);
  const QString name = p.value(QStringLiteral("socket"));
  const auto open = [&] {
    QLocalServer::removeServer(name);  // what a killed stand-in left behind
    return server.listen(name);
  };
  if (!open()) return fail(server.errorString().toStdString(), 1);
  QList<QLocalSocket*> listeners;
  QObject::connect(&server, &QLocalServer::newConnection, &app, [&] {
    while (QLocalSocket* s = server.nextPendingConnection()) {
      listeners << s;
      QObject::connect(s, &QLocalSocket::disconnected, &app, [&listeners, s] {
        listeners.removeAll(s);
        s->deleteLater();
      });
    }
  });
  QElapsedTimer clock;
  clock.start();
  QTimer pace;
  QObject::connect(&pace, &QTimer::timeout, &app, [&] {
    for (const std::string& line : sender->lines(static_cast<double>(clock.elapsed()) / 1000.0))
      for (QLocalSocket* s : listeners) s->write(line.data(), static_cast<qint64>(line.size()));
  });
  pace.start(static_cast<int>(1000.0 / rate));
  QTimer loss;
  QObject::connect(&loss, &QTimer::timeout, &app, [&] {
    server.close();
    for (QLocalSocket* s : QList<QLocalSocket*>(listeners)) s->abort();
    QTimer::singleShot(away_ms, &app, [&] { open(); });
  });
  if (lose > 0.0) loss.start(static_cast<int>(lose * 1000.0));
  std::printf("%s: %zu gauges on \"%s\"\n", car->name.c_str(), sender->truth().size(), name.toUtf8().constData());
  std::fflush(stdout);
  return QCoreApplication::exec();
}
