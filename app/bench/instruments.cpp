#include "app/bench/instruments.h"

#include <sys/socket.h>
#include <unistd.h>

namespace lowkite::app {
namespace {

/// A flood waits in the sender, not in here.
constexpr qint64 bufferBytes = 64 * 1024;

}  // namespace

Instruments::Instruments(QObject* parent) : QObject(parent) {
  clock_.start();
  socket_.setReadBufferSize(bufferBytes);
  retry_.setInterval(retryMs);
  tell_.setInterval(tellMs);
  connect(&retry_, &QTimer::timeout, this, [this] {
    if (socket_.state() == QLocalSocket::UnconnectedState) socket_.connectToServer(name_, QIODevice::ReadOnly);
  });
  // Silence must show too, so it is told at a steady pace rather than with what comes in.
  connect(&tell_, &QTimer::timeout, this, &Instruments::changed);
  connect(&socket_, &QLocalSocket::connected, this, [this] {
    // Whoever else works on this machine is no gauge of ours.
    ucred sender{};
    socklen_t size = sizeof sender;
    const bool known =
        ::getsockopt(static_cast<int>(socket_.socketDescriptor()), SOL_SOCKET, SO_PEERCRED, &sender, &size) == 0;
    stranger_ = !known || (sender.uid != ::getuid() && sender.uid != 0);
    if (stranger_) socket_.abort();
  });
  connect(&socket_, &QLocalSocket::readyRead, this, &Instruments::read);
  connect(&socket_, &QLocalSocket::disconnected, this, [this] { lines_.drop(); });
}

void Instruments::listen(const QString& socket) {
  stop();
  name_ = socket;
  listening_ = true;
  taken_ = refused_ = 0;
  fault_.clear();
  stranger_ = false;
  socket_.connectToServer(name_, QIODevice::ReadOnly);
  retry_.start();
  tell_.start();
  Q_EMIT changed();
}

void Instruments::stop() {
  listening_ = false;
  retry_.stop();
  tell_.stop();
  socket_.abort();
  lines_.drop();
  readings_.clear();
  Q_EMIT changed();
}

void Instruments::read() {
  const QByteArray bytes = socket_.readAll();
  lines_.feed(std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())),
              [this](std::string_view line) { take(line); });
}

void Instruments::take(std::string_view line) {
  const auto reading = parse_line(line);
  if (!reading) {
    ++refused_;
    fault_ = QString::fromStdString(reading.error());
    return;
  }
  ++taken_;
  auto& place = readings_.try_emplace(reading->place, reading->place.kind->resolution).first->second;
  place.push(*reading, clock_.elapsed());
}

std::optional<Instruments::Live> Instruments::live(const InstrumentPlace& place) const {
  const auto found = readings_.find(place);
  if (found == readings_.end() || !found->second.fresh(clock_.elapsed())) return std::nullopt;
  const SteadyReading& r = found->second;
  return Live{r.latest(), r.mean(), r.spread(), r.steady()};
}

QString Instruments::status() const {
  if (!listening_) return tr("Not listening. Readings are typed.");
  if (stranger_)
    return tr("What sends at \"%1\" belongs to another user of this machine: it is not listened to. Readings can be "
              "typed meanwhile.")
        .arg(name_);
  if (!connected()) return tr("No gauges at \"%1\" yet; trying on. Readings can be typed meanwhile.").arg(name_);
  quint64 lost = 0;
  for (const auto& [place, r] : readings_) lost += r.lost();
  QString text = tr("%1 readings came in").arg(taken_);
  if (lost > 0) text += tr(", %1 lost").arg(lost);
  if (const quint64 bad = refused_ + lines_.passed_over(); bad > 0) text += tr(", %1 refused").arg(bad);
  text += QLatin1Char('.');
  if (!fault_.isEmpty()) text += QLatin1Char(' ') + tr("Last: %1.").arg(fault_);
  return text;
}

}  // namespace lowkite::app
