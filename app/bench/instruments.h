// Electronic gauges on a local socket: connects, keeps what comes in, works on when they go away.
#pragma once

#include <map>
#include <optional>

#include <QElapsedTimer>
#include <QLocalSocket>
#include <QObject>
#include <QTimer>

#include "core/bench/instrument.hpp"

namespace lowkite::app {

class Instruments : public QObject {
  Q_OBJECT
 public:
  explicit Instruments(QObject* parent = nullptr);

  /// Connects to the gauges at `socket` and tries again whenever they are gone, until `stop`.
  void listen(const QString& socket);
  void stop();
  [[nodiscard]] bool listening() const { return listening_; }
  [[nodiscard]] bool connected() const { return socket_.state() == QLocalSocket::ConnectedState; }

  /// What a gauge shows now; none while it is silent.
  struct Live {
    double latest = 0.0;
    double mean = 0.0;
    double spread = 0.0;
    bool steady = false;
  };
  [[nodiscard]] std::optional<Live> live(const InstrumentPlace& place) const;
  /// In a sentence: connected or not, lines lost or refused and the last reason.
  [[nodiscard]] QString status() const;

  static constexpr int retryMs = 500;
  static constexpr int tellMs = 100;  ///< many lines are told together

 Q_SIGNALS:
  void changed();

 private:
  void read();
  void take(std::string_view line);

  QTimer retry_;
  QTimer tell_;
  QElapsedTimer clock_;
  QString name_;
  bool listening_ = false;
  LineCutter lines_;
  std::map<InstrumentPlace, SteadyReading> readings_;
  quint64 taken_ = 0;
  quint64 refused_ = 0;
  QString fault_;
  bool stranger_ = false;  ///< who sends is another user of this machine
  QLocalSocket socket_;    ///< last: as it goes it still tells the others
};

}  // namespace lowkite::app
