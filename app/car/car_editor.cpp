#include "app/car/car_editor.h"

#include "core/io/json_document.hpp"

#include <algorithm>

#include <QDateTime>

namespace lowkite::app {
namespace {

constexpr int dragMerge = 1;  // + the point's place in the list: drags of one point are one undo step

}  // namespace

QString originText(PointOrigin origin) {
  switch (origin) {
    case PointOrigin::described:
      return CarEditor::tr("car file");
    case PointOrigin::from_template:
      return CarEditor::tr("template");
    case PointOrigin::by_hand:
      return CarEditor::tr("by hand");
    case PointOrigin::measured:
      return CarEditor::tr("measured");
  }
  return {};
}

CarEditor::CarEditor(Document& document, QObject* parent) : QObject(parent), document_(document) {
  connect(&document_, &Document::replaced, this, [this] {
    point_.reset();
    shown_.reset();
    spots_.clear();
    bodies_.clear();
    pickable_.clear();
    side_ = Side::left;
    if (!document_.car().steering.spec && group_ == Group::steering) group_ = Group::front;
    refresh();
    Q_EMIT selectionChanged();
  });
  connect(&document_, &Document::carEdited, this, &CarEditor::refresh);
  connect(&document_, &Document::fileChanged, this, &CarEditor::changed);
}

void CarEditor::refresh() {
  readings_ = document_.hasCar() ? readings_in(source(), document_.car()) : std::vector<CaliperReading>{};
  fit_.reset();
  if (!readings_.empty())
    if (auto fit = fit_points(document_.car(), readings_)) fit_ = std::move(*fit);
  plan_.reset();
  Q_EMIT changed();
}

void CarEditor::setGroup(Group group) {
  if (group == group_) return;
  group_ = group;
  plan_.reset();
  point_.reset();
  shown_.reset();
  if (group == Group::steering) side_ = Side::left;
  Q_EMIT selectionChanged();
}

void CarEditor::setSide(Side side) {
  if (side == side_ || group_ == Group::steering) return;
  side_ = side;
  Q_EMIT selectionChanged();
}

std::vector<PointRef> CarEditor::points() const {
  std::vector<PointRef> some;
  if (!document_.hasCar()) return some;
  for (const PointRef& ref : points_of(document_.car()))
    if (ref.steering == (group_ == Group::steering) &&
        (ref.steering || ref.end == (group_ == Group::front ? End::front : End::rear)))
      some.push_back(ref);
  return some;
}

void CarEditor::setPoint(const std::optional<PointRef>& ref) {
  if (ref == point_) return;
  point_ = ref;
  Q_EMIT selectionChanged();
}

Vec3 CarEditor::place(const PointRef& ref, Side side) const {
  if (ref.steering || side == Side::left) return place_of(document_.car(), ref);
  return mirrored(document_.car().axle(ref.end).points[at(Side::right)][ref.point]);
}

bool CarEditor::edit(Json after, const QString& what, int merge) {
  if (!editable()) {
    Q_EMIT told(tr("This car comes with the program. Make it your own to change it."));
    return false;
  }
  const auto done = document_.editCar(after, what, merge);
  if (!done) Q_EMIT told(QString::fromStdString(in_words(done.error().front(), after).line()));
  return done.has_value();
}

bool CarEditor::movePoint(const PointRef& ref, const Vec3& mm, bool dragging) {
  Json after = source();
  if (side_ == Side::right && !ref.steering)
    put_right_point(after, document_.car(), ref, mm);
  else
    put_point(after, document_.car(), ref, mm, PointOrigin::by_hand);
  const std::vector<PointRef> all = points_of(document_.car());
  const auto number = static_cast<int>(std::find(all.begin(), all.end(), ref) - all.begin());
  return edit(std::move(after),
              tr("Move %1").arg(QString::fromUtf8(spec_of(document_.car(), ref).label.data(),
                                                  static_cast<qsizetype>(spec_of(document_.car(), ref).label.size()))),
              dragging ? dragMerge + number : 0);
}

void CarEditor::mirrorAgain(const PointRef& ref) {
  Json after = source();
  put_right_point(after, document_.car(), ref, std::nullopt);
  edit(std::move(after), tr("Mirror a point"));
}

bool CarEditor::putField(const CarField& field, const QString& typed) {
  Json after = source();
  if (const auto fault = put_field(after, field, typed.toStdString())) {
    Q_EMIT told(QString::fromStdString(fault->line()));
    return false;
  }
  return edit(std::move(after), QString::fromStdString(field.label));
}

std::vector<GuideStep> CarEditor::guide() {
  if (!document_.hasCar()) return {};
  if (guideFor_ != document_.sharedCar()) {
    guide_ = measuring_guide(document_.car());
    guideFor_ = document_.sharedCar();
  }
  std::vector<GuideStep> some;
  for (const GuideStep& step : guide_) {
    // A steering point is often found from a pin of the front arm: either end decides.
    const CaliperReading& r = step.reading;
    const bool steering =
        r.a.steering || ((r.kind == ReadingKind::distance || r.kind == ReadingKind::along) && r.b.steering);
    if (steering == (group_ == Group::steering) &&
        (steering || r.a.end == (group_ == Group::front ? End::front : End::rear)))
      some.push_back(step);
  }
  return some;
}

const ReadingPlan& CarEditor::readingPlan() {
  if (!plan_) {
    plan_ = document_.hasCar()
                ? plan_readings(document_.car(), fit_, guide(), group_ == Group::rear ? End::rear : End::front)
                : ReadingPlan{};
  }
  return *plan_;
}

std::optional<double> CarEditor::readingAt(const CaliperReading& place) const {
  for (const CaliperReading& r : readings_)
    if (r.same_place(place)) return r.mm;
  return std::nullopt;
}

void CarEditor::takeReading(CaliperReading reading, double mm) {
  reading.mm = mm;
  Json after = source();
  put_reading(after, document_.car(), reading, QDateTime::currentDateTime().toString(Qt::ISODate).toStdString());
  edit(std::move(after), tr("Caliper reading"));
}

void CarEditor::takeBack(const CaliperReading& place) {
  Json after = source();
  remove_reading(after, document_.car(), place);
  edit(std::move(after), tr("Take a reading back"));
}

void CarEditor::takeFit() {
  if (!fit_) return;
  Json after = source();
  int known = 0;
  for (const FittedPoint& p : fit_->points) {
    const bool measured = p.sigma_mm.maxCoeff() <= known_mm;
    known += measured ? 1 : 0;
    put_point(after, document_.car(), p.ref, p.to,
              measured ? PointOrigin::measured : origin_of(source(), document_.car(), p.ref));
  }
  if (edit(std::move(after), tr("Points from calipers")))
    Q_EMIT told(
        tr("%1 points moved to where the readings have them; %2 are known to %3 mm or better, the rest still lean on "
           "the template.")
            .arg(fit_ ? fit_->points.size() : 0)
            .arg(known)
            .arg(known_mm));
}

void CarEditor::setSpots(std::vector<PartSpot> spots, std::vector<DrawnBody> bodies) {
  if (spots.empty() && spots_.empty() && bodies.empty() && bodies_.empty()) return;
  spots_ = std::move(spots);
  bodies_ = std::move(bodies);
  Q_EMIT spotsChanged();
}

void CarEditor::setPickable(std::vector<FoundAt> parts) {
  if (parts.empty() && pickable_.empty()) return;
  pickable_ = std::move(parts);
  Q_EMIT spotsChanged();
}

void CarEditor::setShownReading(const std::optional<CaliperReading>& reading, double offset_mm) {
  shown_ = reading;
  shownOffset_ = offset_mm;
  Q_EMIT selectionChanged();
}

}  // namespace lowkite::app
