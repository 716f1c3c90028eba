// Weighs the tyres of a family by the racer's log, beside the window; anew when the log or the corner becomes another.
// It starts by itself only once the racer has asked for it.
#pragma once

#include <map>
#include <memory>
#include <string>

#include <QObject>
#include <QTimer>

#include "app/settings/tyre_choice.h"
#include "app/track/track_model.h"

namespace lowkite::app {

class TyreWeigher : public QObject {
  Q_OBJECT
 public:
  TyreWeigher(TrackModel& model, TyreChoice& tyres, QObject* parent);

  [[nodiscard]] bool busy() const { return work_.busy(); }
  /// The tyres of a family (empty: the chosen one) by the log as it is now; from now on they are kept up to date.
  void weigh(const std::string& family = {});
  /// The same, if the racer has once asked for it and these are not weighed yet.
  void ensure(const std::string& family);

  /// Only runs on these tyres count, as they are called in the log; empty: all.
  [[nodiscard]] QString compound() const;
  void setCompound(const QString& compound);
  /// How the runs of this car call their tyres.
  [[nodiscard]] QStringList compounds();

  /// The day from which on runs count; empty: all do.
  [[nodiscard]] QString since() const;
  /// Runs before today no longer count; called again they do. What was learned is forgotten.
  void startOver();

 Q_SIGNALS:
  void progress(double share);
  void done();

 private:
  void renew();
  [[nodiscard]] std::vector<LoggedDay> counting();
  /// Another one when anything that weighs became another.
  [[nodiscard]] std::size_t stamp(const std::vector<LoggedDay>& days) const;

  TrackModel& model_;
  TyreChoice& choice_;
  InBackground work_;
  QTimer soon_;
  QStringList waiting_;                                        ///< families
  std::size_t stamp_ = 0;                                      ///< of the log, as it was weighed
  std::map<std::string, std::shared_ptr<FeltSetups>> setups_;  ///< worked out so far, by family
};

}  // namespace lowkite::app
