#include "app/track/tyre_weigher.h"

#include <algorithm>

#include <QDate>

#include "app/kept/kept.h"

namespace lowkite::app {
namespace {

const QString sinceKey = QStringLiteral("tyres/learnedSince");
const QString askedKey = QStringLiteral("tyres/weighed");
const QString compoundKey = QStringLiteral("tyres/compound");
constexpr int renewAfterMs = 1500;  ///< of the last edit of the log

/// The surface that a family is for, when it is for one.
Surface surfaceOf(const TyreFamily& family) {
  return family.surfaces.empty() ? Surface::unknown
                                 : value_of(surfaces(), family.surfaces.front()).value_or(Surface::unknown);
}

}  // namespace

TyreWeigher::TyreWeigher(TrackModel& model, TyreChoice& tyres, QObject* parent)
    : QObject(parent), model_(model), choice_(tyres), work_(this) {
  soon_.setSingleShot(true);
  soon_.setInterval(renewAfterMs);
  connect(&soon_, &QTimer::timeout, this, &TyreWeigher::renew);
  const auto later = [this] {
    if (!choice_.allWeighed().empty()) soon_.start();
  };
  connect(&model_, &TrackModel::runsChanged, this, later);
  connect(&model_, &TrackModel::chosen, this, later);
  connect(&model_.document(), &Document::carEdited, this, [this, later] {
    stamp_ = 0;
    later();
  });
  connect(&choice_, &TyreChoice::weightsWanted, this, [this](const QString& family) { ensure(family.toStdString()); });
}

QString TyreWeigher::compound() const {
  return Kept().value(compoundKey).toString();
}

void TyreWeigher::setCompound(const QString& compound) {
  if (compound == this->compound()) return;
  Kept().setValue(compoundKey, compound);
  renew();
}

QStringList TyreWeigher::compounds() {
  QStringList names;
  if (!model_.document().hasCar()) return names;
  for (const LoggedDay& day : model_.runsWithoutLaps(model_.document().car().id))
    for (const RunRecord& r : day.runs)
      if (const QString name = QString::fromStdString(r.run.tyres); !name.isEmpty() && !names.contains(name))
        names << name;
  names.sort();
  return names;
}

QString TyreWeigher::since() const {
  return Kept().value(sinceKey).toString();
}

void TyreWeigher::startOver() {
  Kept settings;
  if (settings.contains(sinceKey))
    settings.remove(sinceKey);
  else
    settings.setValue(sinceKey, QDate::currentDate().toString(Qt::ISODate));
  settings.remove(askedKey);
  waiting_.clear();
  work_.giveUp();
  choice_.forgetWeighed();
  Q_EMIT done();
}

std::vector<LoggedDay> TyreWeigher::counting() {
  const std::string from = since().toStdString();
  std::vector<LoggedDay> days;
  for (const LoggedDay& d : model_.everything())
    if (d.day.date >= from) days.push_back(d);
  return days;
}

void TyreWeigher::ensure(const std::string& family) {
  if (!Kept().value(askedKey).toBool() || !choice_.usesLog() || !model_.document().hasCar()) return;
  if (!model_.open() || choice_.weighed(model_.document().car(), family)) return;
  weigh(family);
}

std::size_t TyreWeigher::stamp(const std::vector<LoggedDay>& days) const {
  // FNV-1a over what evidence is read from.
  std::size_t stamp = 14695981039346656037ull;
  const auto add = [&](std::string_view text) {
    for (const char c : text) stamp = (stamp ^ static_cast<unsigned char>(c)) * 1099511628211ull;
    stamp = (stamp ^ 0xffu) * 1099511628211ull;
  };
  add(compound().toStdString());
  for (const LoggedDay& day : days) {
    add(day.day.date);
    add(id_in(surfaces(), day.day.surface));
    for (const RunRecord& r : day.runs) {
      for (const std::string* text : {&r.run.car_id, &r.run.setup, &r.run.tyres, &r.run.broke}) add(*text);
      for (const Feeling& f : r.run.feelings)
        add(std::to_string(static_cast<int>(f.phase)) + ' ' + std::to_string(static_cast<int>(f.sense)) + ' ' +
            std::to_string(f.amount));
      add(std::to_string(r.laps.size()));
    }
  }
  return stamp;
}

void TyreWeigher::renew() {
  if (!model_.document().hasCar() || stamp(counting()) == stamp_) return;
  // A family that was weighed by the log as it was.
  for (const TyreChoice::Weighed& w : std::vector(choice_.allWeighed()))
    if (w.car_id == model_.document().car().id) weigh(w.family);
}

void TyreWeigher::weigh(const std::string& wanted) {
  const Document& d = model_.document();
  if (!d.hasCar() || !choice_.any()) return;
  const TyreFamily* known = choice_.book().find(wanted);
  const TyreFamily family = known ? *known : choice_.family(d.car());
  const QString id = QString::fromStdString(family.id);
  if (work_.busy()) {
    if (!waiting_.contains(id)) waiting_ << id;
    return;
  }
  waiting_.removeAll(id);
  Kept().setValue(askedKey, true);
  std::vector<LoggedDay> days = counting();
  stamp_ = stamp(days);
  TyreChoice::Weighed weighed{d.car().id,
                              family.id,
                              choice_.warmth(),
                              choice_.ask(),
                              compound(),
                              draw_tyres(family, usual_draws, choice_.warmth()),
                              {}};
  Q_EMIT progress(0.0);
  std::shared_ptr<FeltSetups>& setups = setups_[family.id];
  if (!setups || !setups->is_for(d.sharedCar(), weighed.ask, weighed.tyres))
    setups = std::make_shared<FeltSetups>(d.sharedCar(), weighed.ask, weighed.tyres);
  work_.start(
      [days = std::move(days), setups, surface = surfaceOf(family), weighed = std::move(weighed),
       tell = toldInWindow<double>(this, [this](double share) { Q_EMIT progress(share); })](
          const std::atomic<bool>& cancelled) mutable {
        const auto evidence =
            tyre_evidence(days, surface, weighed.compound.toStdString(), *setups, 2, [&](double share) {
              tell(share);
              return !cancelled;
            });
        if (evidence) weighed.weights = weigh_tyres(*evidence, weighed.tyres.size());
        return std::move(weighed);
      },
      [this](TyreChoice::Weighed found) {
        if (!found.weights.weight.empty()) choice_.setWeighed(std::move(found));
        Q_EMIT done();
        if (!waiting_.isEmpty()) weigh(waiting_.first().toStdString());
      });
}

}  // namespace lowkite::app
