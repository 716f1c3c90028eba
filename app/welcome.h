// The first start: three questions, and the shortest useful way in. It can be skipped.
#pragma once

#include <QFrame>

#include "core/log/log.hpp"

class QCheckBox;

namespace lowkite::app {

class Segmented;

class Welcome : public QFrame {
  Q_OBJECT
 public:
  /// What is at hand on the racer's bench.
  struct Tools {
    bool caliper = false;
    bool gauges = false;
    bool scales = false;
  };
  struct Answers {
    QString carPath;  ///< the shipped car of that kind
    Surface surface = Surface::unknown;
    Tools tools;
  };

  explicit Welcome(QWidget* parent = nullptr);

  /// True until it was answered or skipped once on this machine.
  [[nodiscard]] static bool isWanted();

 Q_SIGNALS:
  void answered(const lowkite::app::Welcome::Answers& answers);
  void skipped();

 private:
  void begin();

  QStringList cars_;
  std::vector<Surface> surfaces_;
  Segmented* kind_;
  Segmented* surface_;
  QCheckBox* caliper_;
  QCheckBox* gauges_;
  QCheckBox* scales_;
};

}  // namespace lowkite::app
