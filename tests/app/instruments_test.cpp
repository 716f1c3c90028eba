// The bench with electronic gauges: the real stand-in as a process of its own, and a hostile sender in its place.
#include <cerrno>
#include <csignal>
#include <functional>

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QLocalServer>
#include <QProcess>
#include <QPushButton>

#include <sys/socket.h>
#include <sys/un.h>
#include <sys/wait.h>
#include <unistd.h>

#include "app/bench/bench_workspace.h"
#include "app/bench/pull_page.h"
#include "tests/app/timed_application.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class InstrumentsTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    socket_ = folder_.filePath(QStringLiteral("gauges"));
    click(QStringLiteral("workspace.1"));
    click(QStringLiteral("bench.start"));
    click(QStringLiteral("bench.below.2"));
  }
  void TearDown() override {
    sim_.kill();
    sim_.waitForFinished();
    WindowTest::TearDown();
  }
  void startSim(const QStringList& more = {}) {
    sim_.start(QStringLiteral(LOWKITE_BENCH_SIM),
               QStringList{QStringLiteral("--socket"), socket_, QStringLiteral("--rate"), QStringLiteral("50"),
                           QStringLiteral("--setup"),
                           document().state().setupPath.isEmpty()
                               ? dataPath(QStringLiteral("setups/heron-club-carpet.kite-setup.json"))
                               : document().state().setupPath} +
                   more);
    ASSERT_TRUE(sim_.waitForStarted());
    ASSERT_TRUE(sim_.waitForReadyRead(5000)) << sim_.readAllStandardError().toStdString();
  }
  void listen() {
    auto* name = find<QLineEdit>(QStringLiteral("gauges.socket"));
    name->selectAll();
    QTest::keyClicks(name, socket_);
    click(QStringLiteral("gauges.listen"));
  }
  /// A sender of our own in the stand-in's place, to which the bench listens at the camber of the front.
  QLocalSocket* heardBy(QLocalServer& server) {
    if (!server.listen(socket_)) return nullptr;
    goTo("camber:front");
    listen();
    return server.waitForNewConnection(5000) ? server.nextPendingConnection() : nullptr;
  }
  BenchModel& bench() { return window_->bench().model(); }
  void goTo(const char* id) {
    for (int i = 0; i < static_cast<int>(bench().steps().size()); ++i)
      if (bench().steps()[at(i)].id == id) find<QListWidget>(QStringLiteral("bench.steps"))->setCurrentRow(i);
    settle();
    ASSERT_EQ(bench().step()->id, id);
  }
  QString status() { return text(QStringLiteral("gauges.status")); }
  bool canTake(const char* side) {
    return find<QPushButton>(QStringLiteral("step.%1.takeLive").arg(QLatin1String(side)))->isEnabled();
  }

  QString socket_;
  QProcess sim_;
};

TEST_F(InstrumentsTest, SteadyGaugesAreTakenWithOneClick) {
  startSim({QStringLiteral("--off"), QStringLiteral("camber:lf=-1.5")});
  goTo("camber:front");
  EXPECT_FALSE(find<QWidget>(QStringLiteral("step.left.takeLive"))->isVisible()) << "not before listening";
  listen();
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("left") && canTake("right"); }, 5000)) << status().toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.left.shows")).contains(QStringLiteral("steady")));
  click(QStringLiteral("step.left.takeLive"));
  // Scatter may have unsettled the other one meanwhile; it comes back.
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("right"); }, 5000)) << status().toStdString();
  click(QStringLiteral("step.right.takeLive"));
  const auto record = bench().record("camber:front");
  ASSERT_EQ(record.readings[0].size(), 1U);
  ASSERT_EQ(record.readings[1].size(), 1U);
  EXPECT_NEAR(record.readings[0][0] - record.readings[1][0], -1.5, 0.3) << "a mean of many, scatter left out";
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("Camber link, left")));
}

TEST_F(InstrumentsTest, TheKeyboardTakesBothSides) {
  startSim();
  goTo("weight:rear");
  listen();
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("left") && canTake("right"); }, 5000));
  key(Qt::Key_J, Qt::ControlModifier);
  EXPECT_EQ(bench().record("weight:rear").readings[0].size(), 1U);
  EXPECT_EQ(bench().record("weight:rear").readings[1].size(), 1U);
}

TEST_F(InstrumentsTest, AWrongUnitIsRefusedWithItsName) {
  startSim({QStringLiteral("--wrong-unit"), QStringLiteral("corner_scale")});
  goTo("weight:front");
  listen();
  ASSERT_TRUE(QTest::qWaitFor([&] { return status().contains(QStringLiteral("sends oz; switch it to g")); }, 5000))
      << status().toStdString();
  EXPECT_FALSE(canTake("left"));
  EXPECT_EQ(text(QStringLiteral("step.left.shows")).contains(QStringLiteral("gauge silent")), true);
}

TEST_F(InstrumentsTest, ADriftingGaugeIsNotTaken) {
  startSim({QStringLiteral("--drift"), QStringLiteral("8"), QStringLiteral("--noise"), QStringLiteral("0.05")});
  goTo("camber:front");
  listen();
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return text(QStringLiteral("step.left.shows")).contains(QStringLiteral("moving")); }, 5000));
  QTest::qWait(800);
  EXPECT_FALSE(canTake("left"));
}

TEST_F(InstrumentsTest, WorkGoesOnWhenTheGaugesGoAwayAndWhenTheyComeBack) {
  startSim();
  goTo("camber:front");
  listen();
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 5000));
  sim_.kill();
  sim_.waitForFinished();
  ASSERT_TRUE(QTest::qWaitFor([&] { return status().contains(QStringLiteral("trying on")); }, 5000));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !canTake("left"); }, 5000)) << "what is gone is not shown";
  find<QDoubleSpinBox>(QStringLiteral("step.left.field"))->setValue(-1.1);
  click(QStringLiteral("step.left.take"));
  EXPECT_EQ(bench().record("camber:front").readings[0].size(), 1U) << "readings can still be typed";
  startSim();
  EXPECT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 8000)) << status().toStdString();
}

TEST_F(InstrumentsTest, AHostileSenderCostsNothingButItself) {
  QLocalServer server;
  QLocalSocket* sender = heardBy(server);
  ASSERT_NE(sender, nullptr) << server.errorString().toStdString();
  const auto good = [](std::uint32_t n) {
    return QByteArray::fromStdString(write_line({{&gauge::camber, End::front, Side::left}, -1.0, n})) + '\n';
  };
  TimedApplication::takeLongest();
  // A flood without a line end, bytes of no alphabet, halves of lines, ten million letters - and good ones between.
  sender->write(QByteArray(10'000'000, 'x'));
  sender->write("\n");
  for (std::uint32_t i = 0; i < 40; ++i) {
    sender->write(QByteArray("\x00\xff\x13\n", 4));
    sender->write("LK1 camber lf -9");
    sender->write("\n");
    const QByteArray line = good(i);
    sender->write(line.left(7));
    sender->flush();
    sender->write(line.mid(7));
    sender->flush();
    QTest::qWait(5);
  }
  EXPECT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 5000)) << status().toStdString();
  EXPECT_TRUE(status().contains(QStringLiteral("refused"))) << status().toStdString();
  // For the notes: a frame is 16 ms.
  std::printf("longest event while ten megabytes came in: %lld ms\n",
              static_cast<long long>(TimedApplication::takeLongest().ms));
  click(QStringLiteral("step.left.takeLive"));
  EXPECT_NEAR(bench().record("camber:front").readings[0].front(), -1.0, 1e-9);
  sender->abort();
  server.close();
  QTest::qWait(50);
  click(QStringLiteral("gauges.listen"));
  EXPECT_TRUE(status().contains(QStringLiteral("Not listening")));
}

TEST_F(InstrumentsTest, AFloodOfGoodReadingsIsReadAsItComesAndKeptAsOne) {
  QLocalServer server;
  QLocalSocket* sender = heardBy(server);
  ASSERT_NE(sender, nullptr) << server.errorString().toStdString();
  std::uint32_t n = 0;
  const long before = residentMb();
  TimedApplication::takeLongest();
  for (qint64 sent = 0; sent < 8'000'000;) {
    QByteArray many;
    while (many.size() < 100'000)
      many += QByteArray::fromStdString(write_line({{&gauge::camber, End::front, Side::left}, -1.5, n++})) + '\n';
    sent += sender->write(many);
    // What is not read yet waits in the sender.
    while (sender->bytesToWrite() > 1'000'000) QApplication::processEvents(QEventLoop::AllEvents, 5);
  }
  EXPECT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 20000)) << status().toStdString();
  EXPECT_LT(residentMb() - before, 40);
  std::printf("longest event while %u readings came in: %lld ms\n", n,
              static_cast<long long>(TimedApplication::takeLongest().ms));
  click(QStringLiteral("step.left.takeLive"));
  EXPECT_NEAR(bench().record("camber:front").readings[0].front(), -1.5, 1e-9);
  EXPECT_EQ(bench().record("camber:front").readings[0].size(), 1u);
}

/// Another user of this machine, with nothing of this program but the system's calls. The process ends with what `act`
/// returns. Only root can become one.
pid_t asNobody(const std::function<int()>& act) {
  constexpr uid_t nobody = 65534;
  const pid_t child = ::fork();
  if (child == 0) ::_exit(::setgid(nobody) != 0 || ::setuid(nobody) != 0 ? 120 : act());
  return child;
}
sockaddr_un addressOf(const QString& path) {
  sockaddr_un address{};
  address.sun_family = AF_UNIX;
  qstrncpy(address.sun_path, path.toLocal8Bit().constData(), sizeof address.sun_path);
  return address;
}

TEST_F(InstrumentsTest, TheSocketBelongsToTheUserAlone) {
  if (::geteuid() != 0) GTEST_SKIP() << "only root can become another user";
  QTemporaryDir open;
  ASSERT_TRUE(QFile::setPermissions(open.path(), QFile::Permissions(0x7777)));
  // Nobody else hears the gauges ...
  socket_ = open.filePath(QStringLiteral("gauges"));
  startSim();
  const sockaddr_un ours = addressOf(socket_);
  int status = 0;
  const pid_t curious = asNobody([&] {
    const int s = ::socket(AF_UNIX, SOCK_STREAM, 0);
    return ::connect(s, reinterpret_cast<const sockaddr*>(&ours), sizeof ours) == 0 ? 0 : errno;
  });
  ASSERT_EQ(::waitpid(curious, &status, 0), curious);
  EXPECT_TRUE(WIFEXITED(status) && WEXITSTATUS(status) == EACCES) << WEXITSTATUS(status);
  sim_.kill();
  sim_.waitForFinished();

  // ... and nobody else is taken for one.
  socket_ = open.filePath(QStringLiteral("theirs"));
  const sockaddr_un theirs = addressOf(socket_);
  const std::string line = write_line({{&gauge::camber, End::front, Side::left}, -3.0, 1}) + "\n";
  const pid_t forger = asNobody([&] {
    const int s = ::socket(AF_UNIX, SOCK_STREAM, 0);
    if (::bind(s, reinterpret_cast<const sockaddr*>(&theirs), sizeof theirs) != 0 || ::listen(s, 5) != 0) return 1;
    while (true) {
      const int to = ::accept(s, nullptr, nullptr);
      for (int i = 0; i < 50; ++i) (void)!::send(to, line.data(), line.size(), MSG_NOSIGNAL);
      ::close(to);
    }
  });
  ASSERT_TRUE(QTest::qWaitFor([&] { return QFile::exists(socket_); }, 5000));
  goTo("camber:front");
  listen();
  EXPECT_TRUE(QTest::qWaitFor([&] { return this->status().contains(QStringLiteral("another user")); }, 5000))
      << this->status().toStdString();
  QTest::qWait(300);
  EXPECT_FALSE(canTake("left"));
  click(QStringLiteral("gauges.listen"));
  ::kill(forger, SIGKILL);
  ::waitpid(forger, &status, 0);
}

TEST_F(InstrumentsTest, TheStandInSaysWhatIsWrongWithItsOptions) {
  for (const auto& [option, value, says] :
       {std::tuple("--noise", "-1", "--noise: allowed are"), std::tuple("--off", "camber=1", "camber:lf=-0.6"),
        std::tuple("--car", "/nowhere", "/nowhere")}) {
    QProcess p;
    p.start(QStringLiteral(LOWKITE_BENCH_SIM), {QString::fromLatin1(option), QString::fromLatin1(value)});
    ASSERT_TRUE(p.waitForFinished(5000));
    EXPECT_NE(p.exitCode(), 0);
    EXPECT_TRUE(p.readAllStandardError().contains(says)) << option;
  }
}

TEST_F(InstrumentsTest, APullDownIsEnteredDepthByDepthAndNamesTheSpring) {
  goTo("pull_down:front");
  auto* page = find<PullPage>(QStringLiteral("pull"));
  ASSERT_TRUE(page->isVisible());
  EXPECT_FALSE(find<QWidget>(QStringLiteral("step.left.field"))->isVisible());
  // A stiffer spring than the setup's: what its scales would show.
  lowkite::Setup real = document().setup();
  real.of(part("front_spring")) = {2.0, 2.0};
  const auto model = build_model(document().car(), real);
  const std::vector<double> depths{0.0, 2.0, 4.0};
  for (const PullPoint& p : modelled_pull(*model, End::front, depths)) {
    EXPECT_DOUBLE_EQ(find<QDoubleSpinBox>(QStringLiteral("pull.depth"))->value(), p.depth_mm) << "goes on by itself";
    auto* grams = find<QDoubleSpinBox>(QStringLiteral("pull.grams"));
    grams->setFocus();
    grams->selectAll();
    QTest::keyClicks(grams, QString::number(std::round(p.grams)));
    click(QStringLiteral("pull.add"));
  }
  EXPECT_EQ(bench().record("pull_down:front").pull.size(), 3U);
  EXPECT_TRUE(text(QStringLiteral("pull.words")).contains(QStringLiteral("look which spring it is")))
      << text(QStringLiteral("pull.words")).toStdString();
  click(QStringLiteral("pull.back"));
  EXPECT_EQ(bench().record("pull_down:front").pull.size(), 2U);
  // The next run may be compared with it.
  click(QStringLiteral("bench.start"));
  goTo("pull_down:front");
  auto* other = find<QComboBox>(QStringLiteral("pull.other"));
  ASSERT_EQ(other->count(), 2);
  EXPECT_TRUE(other->itemText(1).contains(QString::fromStdString(document().car().id)));
}

TEST_F(InstrumentsTest, PullDownTakesTheCalipersOwnReadingsAndTaredScales) {
  click(QStringLiteral("bench.start"));
  goTo("pull_down:front");
  click(QStringLiteral("pull.caliper"));
  click(QStringLiteral("pull.tared"));
  const auto model = build_model(document().car(), bench().run().planned);
  const std::vector<double> depths{0.0, 1.5, 3.25};
  const auto load = modelled_pull(*model, End::front, depths);
  for (std::size_t i = 0; i < depths.size(); ++i) {
    // The caliper counts down as the chassis comes nearer.
    find<QDoubleSpinBox>(QStringLiteral("pull.depth"))->setValue(81.34 - depths[i]);
    find<QDoubleSpinBox>(QStringLiteral("pull.grams"))->setValue(load[i].grams - load[0].grams);
    click(QStringLiteral("pull.add"));
  }
  const auto& pull = bench().record("pull_down:front").pull;
  ASSERT_EQ(pull.size(), 3U);
  for (std::size_t i = 0; i < depths.size(); ++i)
    EXPECT_NEAR(pull[i].depth_mm, depths[i], 1e-9) << "the program subtracts, to a hundredth";
  EXPECT_FALSE(text(QStringLiteral("pull.words")).contains(QStringLiteral("\u2212")))
      << "no load is less than nothing: " << text(QStringLiteral("pull.words")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("pull.words")).contains(QStringLiteral("It reads as a spring")));
}

TEST_F(InstrumentsTest, AWronglySetCarObeysWhatIsTyped) {
  startSim({QStringLiteral("--wrongly-set"), QStringLiteral("3"), QStringLiteral("--noise"), QStringLiteral("0.01")});
  listen();
  goTo("camber:front");
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 5000)) << status().toStdString();
  click(QStringLiteral("step.left.takeLive"));
  const double before = bench().record("camber:front").readings[0].front();
  sim_.write("turn front_camber_link left -1\n");
  ASSERT_TRUE(QTest::qWaitFor([&] { return sim_.readAllStandardOutput().contains("turned"); }, 5000));
  QTest::qWait(2000);  // the window of readings has gone on
  ASSERT_TRUE(QTest::qWaitFor([&] { return canTake("left"); }, 5000));
  click(QStringLiteral("step.left.takeLive"));
  EXPECT_LT(bench().record("camber:front").readings[0].back(), before - 0.5) << "a shorter camber link leans it in";
}

}  // namespace
}  // namespace lowkite::app
