#include "app/settings/tyre_choice.h"

#include <algorithm>

#include <QDir>
#include <QStandardPaths>

#include "app/kept/kept.h"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

const QString familyKey = QStringLiteral("tyres/family");
const QString warmthKey = QStringLiteral("tyres/warmth");
const QString usesLogKey = QStringLiteral("tyres/usesLog");
const QString askKey = QStringLiteral("tyres/corner");

std::filesystem::path shippedTyres() {
  return data_folder() / "tyres" / "tyres.json";
}

bool off_road_car(const Car& car) {
  return car.vehicle_class.find("buggy") != std::string::npos;
}

}  // namespace

TyreChoice::TyreChoice(QObject* parent) : QObject(parent), file_(ownPath()) {
  read();
  const Kept settings;
  chosen_ = settings.value(familyKey).toString().toStdString();
  warmth_ = static_cast<TyreWarmth>(std::clamp(settings.value(warmthKey, 1).toInt(), 0, 2));
  usesLog_ = settings.value(usesLogKey, true).toBool();
  const QStringList kept = settings.value(askKey).toStringList();
  if (kept.size() == 5) {
    const auto within = [&](int i, double least, double most) { return std::clamp(kept[i].toDouble(), least, most); };
    ask_.lateral_g = within(0, 0.1, 3.0);
    ask_.radius_m = within(1, 0.5, 50.0);
    ask_.braking_g = within(2, 0.0, 1.5);
    ask_.power_g = within(3, 0.0, 1.5);
    ask_.to_the_left = kept[4] == QStringLiteral("left");
  }
}

void TyreChoice::read() {
  (void)file_.read();  // marks what is read below as seen
  fault_.clear();
  auto book = load_tyres(shippedTyres(), ownPath().toStdString());
  if (!book) {
    fault_ = QString::fromStdString(book.error().front().line());
    book = load_tyres(shippedTyres());
  }
  if (book) book_ = std::move(*book);
}

QString TyreChoice::lookAgain() {
  if (file_.changed()) {
    read();
    Q_EMIT changed();
  }
  return fault_.isEmpty() ? QString()
                          : tr("Your tyres are left as they are until their file is mended: %1").arg(fault_);
}

QString TyreChoice::ownPath() {
  return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation))
      .filePath(QStringLiteral("my-tyres.json"));
}

const TyreFamily& TyreChoice::family(const Car& car) const {
  if (const TyreFamily* f = book_.find(chosen_)) return *f;
  return book_.for_surface(off_road_car(car) ? "clay" : "carpet");
}

const TyreFamily& TyreChoice::familyOn(const Car& car, std::string_view ground) const {
  const TyreFamily& chosen = family(car);
  const bool suits = std::find(chosen.surfaces.begin(), chosen.surfaces.end(), ground) != chosen.surfaces.end();
  return suits ? chosen : book_.for_surface(ground);
}

void TyreChoice::setFamily(const std::string& id) {
  if (id == chosen_) return;
  chosen_ = id;
  Kept().setValue(familyKey, QString::fromStdString(id));
  Q_EMIT changed();
}

void TyreChoice::setWarmth(TyreWarmth warmth) {
  if (warmth == warmth_) return;
  warmth_ = warmth;
  Kept().setValue(warmthKey, static_cast<int>(warmth));
  Q_EMIT changed();
}

void TyreChoice::setAsk(const CornerAsk& ask) {
  if (ask == ask_) return;
  ask_ = ask;
  Kept().setValue(askKey, QStringList{QString::number(ask.lateral_g), QString::number(ask.radius_m),
                                      QString::number(ask.braking_g), QString::number(ask.power_g),
                                      ask.to_the_left ? QStringLiteral("left") : QStringLiteral("right")});
  Q_EMIT changed();
}

std::vector<double> TyreChoice::weights(const Car& car, const std::string& family,
                                        const std::vector<TyreDraw>& tyres) const {
  const Weighed* w = weighed(car, family);
  return usesLog_ && w && w->tyres == tyres ? w->weights.weight : std::vector<double>{};
}

WishOrder TyreChoice::wishOrder(const Car& car) const {
  constexpr std::size_t evenTyres = 32, weighedTyres = 64;  // of weighed ones few count
  WishOrder order;
  order.ask = ask_;
  const TyreFamily& of = family(car);
  order.tyres = draw_tyres(of, usual_draws, warmth_);
  order.weights = weights(car, of.id, order.tyres);
  order.tyres.resize(std::min(order.tyres.size(), order.weights.empty() ? evenTyres : weighedTyres));
  if (!order.weights.empty()) order.weights.resize(order.tyres.size());
  return order;
}

const TyreChoice::Weighed* TyreChoice::weighed(const Car& car, const std::string& family) const {
  for (const Weighed& w : weighed_)
    if (w.car_id == car.id && w.family == family && w.warmth == warmth_ && w.ask == ask_) return &w;
  return nullptr;
}

void TyreChoice::setWeighed(Weighed weighed) {
  std::erase_if(weighed_, [&](const Weighed& w) { return w.car_id == weighed.car_id && w.family == weighed.family; });
  weighed_.push_back(std::move(weighed));
  Q_EMIT changed();
}

void TyreChoice::forgetWeighed() {
  weighed_.clear();
  Q_EMIT changed();
}

void TyreChoice::setUsesLog(bool uses) {
  if (uses == usesLog_) return;
  usesLog_ = uses;
  Kept().setValue(usesLogKey, uses);
  Q_EMIT changed();
}

QString TyreChoice::keep(const std::vector<TyreFamily>& own) {
  const auto kept = own.empty() ? file_.remove() : file_.write(write_tyres(own));
  if (!kept) return QString::fromStdString(kept.error().line());
  read();
  Q_EMIT changed();
  return {};
}

QString TyreChoice::setBelief(const Car& car, TyreParameter parameter, double least, double most) {
  if (QString wrong = lookAgain(); !wrong.isEmpty()) return wrong;
  const TyreParameterSpec& spec = spec_of(parameter);
  TyreFamily mine = family(car);
  TyreBelief& belief = mine.belief[at(parameter)];
  least = std::clamp(least, spec.least, spec.most);
  most = std::clamp(most, spec.least, spec.most);
  if (most < least) return tr("The most, %1, is below the least, %2.").arg(most).arg(least);
  if (belief.least == least && belief.most == most) return {};
  belief.least = least;
  belief.most = most;
  belief.reason = tr("as you put it in").toStdString();
  std::vector<TyreFamily> own;
  for (const TyreFamily& f : book_.families)
    if (f.own && f.id != mine.id) own.push_back(f);
  own.push_back(std::move(mine));
  return keep(own);
}

QString TyreChoice::forgetOwn(const Car& car) {
  if (QString wrong = lookAgain(); !wrong.isEmpty()) return wrong;
  const std::string id = family(car).id;
  std::vector<TyreFamily> own;
  for (const TyreFamily& f : book_.families)
    if (f.own && f.id != id) own.push_back(f);
  return keep(own);
}

}  // namespace lowkite::app
