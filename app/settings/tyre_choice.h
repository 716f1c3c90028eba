// Which tyres handling is told over, and what is asked of the corner: chosen once, kept between starts.
#pragma once

#include <optional>

#include <QObject>
#include <QString>

#include "app/settings/own_file.h"
#include "core/advice/tyre_weights.hpp"
#include "core/io/tyre_file.hpp"
#include "core/plan/wishes.hpp"

namespace lowkite::app {

class TyreChoice : public QObject {
  Q_OBJECT
 public:
  explicit TyreChoice(QObject* parent = nullptr);

  /// The racer's own families; the file need not be there.
  [[nodiscard]] static QString ownPath();
  /// What is wrong with it; empty: nothing. The shipped families hold then.
  [[nodiscard]] const QString& fault() const { return fault_; }
  [[nodiscard]] const TyreBook& book() const { return book_; }
  /// False where not even the shipped file could be read: then there is no family.
  [[nodiscard]] bool any() const { return !book_.families.empty(); }
  /// The one that was chosen, or the first that suits the car. Precondition: any().
  [[nodiscard]] const TyreFamily& family(const Car& car) const;
  /// The same where it is for that ground (an id as in the log), else the first that is. Precondition: any().
  [[nodiscard]] const TyreFamily& familyOn(const Car& car, std::string_view ground) const;
  [[nodiscard]] TyreWarmth warmth() const { return warmth_; }
  [[nodiscard]] const CornerAsk& ask() const { return ask_; }

  void setFamily(const std::string& id);
  void setWarmth(TyreWarmth warmth);
  void setAsk(const CornerAsk& ask);
  /// What the racer's log says of the tyres of a family, for a car.
  struct Weighed {
    std::string car_id, family;
    TyreWarmth warmth = TyreWarmth::right;
    CornerAsk ask;
    QString compound;  ///< only runs on these; empty: on any
    std::vector<TyreDraw> tyres;
    TyreWeights weights;
  };
  /// How the racer's log weighs these tyres of a family for a car; empty: it does not, or is not to be used.
  [[nodiscard]] std::vector<double> weights(const Car& car, const std::string& family,
                                            const std::vector<TyreDraw>& tyres) const;
  /// The tyres, their weights and the corner of a search; what is wished is empty. Precondition: any().
  [[nodiscard]] WishOrder wishOrder(const Car& car) const;
  /// nullptr: that family's tyres are not weighed, or were for another corner or warmth.
  [[nodiscard]] const Weighed* weighed(const Car& car, const std::string& family) const;
  [[nodiscard]] const std::vector<Weighed>& allWeighed() const { return weighed_; }
  void setWeighed(Weighed weighed);
  void forgetWeighed();
  /// Says that handling is about to be told over these; who can weigh them does.
  void wantWeights(const std::string& family) { Q_EMIT weightsWanted(QString::fromStdString(family)); }
  [[nodiscard]] bool usesLog() const { return usesLog_; }
  void setUsesLog(bool uses);

  /// Another belief in one property: the family becomes the racer's own. A sentence when it cannot be kept.
  QString setBelief(const Car& car, TyreParameter parameter, double least, double most);
  /// Ours again. A sentence when the file cannot be written.
  QString forgetOwn(const Car& car);

 Q_SIGNALS:
  void changed();
  void weightsWanted(const QString& family);

 private:
  void read();
  /// Takes in what another window or a hand has changed. Why the racer's file is left alone; empty: it can be added to.
  QString lookAgain();
  QString keep(const std::vector<TyreFamily>& own);

  OwnFile file_;
  TyreBook book_;
  QString fault_;
  std::string chosen_;
  TyreWarmth warmth_ = TyreWarmth::right;
  CornerAsk ask_;
  std::vector<Weighed> weighed_;
  bool usesLog_ = true;
};

}  // namespace lowkite::app
