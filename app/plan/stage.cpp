#include "app/plan/stage.h"

#include <cmath>

#include <QHBoxLayout>
#include <QMenu>
#include <QStackedWidget>
#include <QToolButton>
#include <QVariantList>

#include "app/drawing/axle_view.h"
#include "app/drawing/car_view.h"
#include "app/kept/kept.h"
#include "app/plan/ruler.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int toolHeight = 40;
const QString viewKey = QStringLiteral("stage/view");
const QString zoomKey = QStringLiteral("stage/zoom");

/// What one step of a ruler means, and where its value lives.
struct Held {
  double step;  ///< mm or degrees
  double (*get)(const ViewAttitude&);
  void (*set)(ViewAttitude&, double);
};

constexpr std::array<Held, 4> held{{
    {0.5, [](const ViewAttitude& a) { return a.bump_mm; }, [](ViewAttitude& a, double v) { a.bump_mm = v; }},
    {0.1, [](const ViewAttitude& a) { return degrees(a.roll_rad); },
     [](ViewAttitude& a, double v) { a.roll_rad = radians(v); }},
    {1.0, [](const ViewAttitude& a) { return degrees(a.servo_rad); },
     [](ViewAttitude& a, double v) { a.servo_rad = radians(v); }},
    {0.1, [](const ViewAttitude& a) { return degrees(a.pitch_rad); },
     [](ViewAttitude& a, double v) { a.pitch_rad = radians(v); }},
}};
/// Steering of a car whose steering linkage is not described: the tie rods' balls are moved sideways.
constexpr Held byRack{0.25, [](const ViewAttitude& a) { return a.rack_mm; },
                      [](ViewAttitude& a, double v) { a.rack_mm = v; }};

QString zoomText(DrawingView::Zoom zoom) {
  switch (zoom) {
    case DrawingView::Zoom::axle:
      return Stage::tr("Axle");
    case DrawingView::Zoom::leftCorner:
      return Stage::tr("Left");
    case DrawingView::Zoom::rightCorner:
      return Stage::tr("Right");
    case DrawingView::Zoom::car:
      break;
  }
  return Stage::tr("Car");
}

}  // namespace

Stage::Stage(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setObjectName(QStringLiteral("stage"));
  setProperty("stage", true);
  pages_ = new QStackedWidget(this);
  drawings_ = {new AxleView(model_, pages_), new CarView(model_, CarView::From::above, pages_),
               new CarView(model_, CarView::From::side, pages_), new CarView(model_, CarView::From::around, pages_)};
  for (DrawingView* d : drawings_) {
    pages_->addWidget(d);
    d->setEdges({Ruler::thicknessUpright, toolHeight + Ruler::thickness, Ruler::thicknessUpright, Ruler::thickness});
    connect(d, &DrawingView::figureAsked, this, &Stage::figureAsked);
  }
  makeTools();
  // The handle goes the way the car goes: down is lower, to the right rolls and steers to the right.
  rulers_ = {new Ruler(Ruler::Edge::left, QStringLiteral("bump"), tr("Bump"), this),
             new Ruler(Ruler::Edge::top, QStringLiteral("roll"), tr("Roll"), this),
             new Ruler(Ruler::Edge::bottom, QStringLiteral("steer"), tr("Steering"), this),
             new Ruler(Ruler::Edge::right, QStringLiteral("pitch"), tr("Pitch"), this)};
  rulers_[bump]->setEnds(tr("droop"), tr("bump"));
  rulers_[roll]->setEnds(tr("roll left"), tr("roll right"));
  rulers_[steer]->setEnds(tr("steer right"), tr("steer left"));
  rulers_[pitch]->setEnds(tr("nose up"), tr("down"));
  for (const Degree d : {bump, steer, pitch}) {
    rulers_[d]->setInvertedAppearance(true);
    rulers_[d]->setInvertedControls(true);
  }
  for (Ruler* r : rulers_) connect(r, &QSlider::valueChanged, this, &Stage::apply);
  connect(&model_, &PlanModel::comparisonChanged, this, &Stage::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &Stage::refresh);
  setMinimumSize(360, 200);
  const Kept kept;
  showView(static_cast<View>(std::clamp(kept.value(viewKey, 0).toInt(), 0, 3)));
  setZoom(static_cast<DrawingView::Zoom>(std::clamp(kept.value(zoomKey, 0).toInt(), 0, 3)));
  keepLooks();
  refresh();
}

void Stage::makeTools() {
  tools_ = new QWidget(this);
  auto* row = new QHBoxLayout(tools_);
  row->setContentsMargins(4, 2, 4, 2);
  row->setSpacing(2);
  view_ = new Segmented(QStringLiteral("view"), {tr("Front"), tr("Top"), tr("Side"), tr("Around")}, tools_);
  connect(view_, &Segmented::chosen, this, [this](int i) { showView(static_cast<View>(i)); });
  row->addWidget(view_);
  row->addStretch(1);
  const auto quiet = [&](const QString& name, const QString& text, const QString& tip) {
    auto* b = new QToolButton(tools_);
    b->setObjectName(name);
    b->setText(text);
    b->setToolTip(tip);
    b->setAccessibleName(tip);
    b->setProperty("quiet", true);
    b->setProperty("tight", text.size() == 1);
    row->addWidget(b);
    return b;
  };
  level_ = quiet(QStringLiteral("level"), tr("Level"), tr("Back to ride height, level and straight ahead (Ctrl+L)"));
  connect(level_, &QToolButton::clicked, this, [this] { model_.setAttitude({}); });
  smaller_ = quiet(QStringLiteral("zoom.out"), QStringLiteral("\u2212"), tr("Smaller (Ctrl+-)"));
  connect(smaller_, &QToolButton::clicked, this, [this] { magnify(-1); });
  larger_ = quiet(QStringLiteral("zoom.in"), QStringLiteral("+"), tr("Larger (Ctrl++)"));
  connect(larger_, &QToolButton::clicked, this, [this] { magnify(1); });
  QToolButton* fitAll = quiet(QStringLiteral("zoom.fit"), tr("Fit"), tr("All of it in sight (F)"));
  connect(fitAll, &QToolButton::clicked, this, &Stage::fit);
  what_ = quiet(QStringLiteral("zoom.what"), {}, tr("What the drawing shows"));
  what_->setPopupMode(QToolButton::InstantPopup);
  auto* menu = new QMenu(what_);
  for (const auto zoom :
       {DrawingView::Zoom::axle, DrawingView::Zoom::leftCorner, DrawingView::Zoom::rightCorner, DrawingView::Zoom::car})
    menu->addAction(zoomText(zoom), this, [this, zoom] { setZoom(zoom); });
  what_->setMenu(menu);
  what_->setText(tr("%1 \u25BE").arg(zoomText(zoom_)));
}

QString Stage::lookKey(const DrawingView& drawing) const {
  return QStringLiteral("plan/look/%1/%2").arg(carOnShow_, drawing.objectName());
}

void Stage::keepLooks() {
  for (DrawingView* d : drawings_)
    connect(d, &DrawingView::lookChanged, this, [this, d] {
      if (carOnShow_.isEmpty()) return;
      const DrawingView::Look look = d->look();
      Kept().setValue(lookKey(*d), QVariantList{look.magnified, look.panned.x(), look.panned.y()});
    });
}

void Stage::recallLooks() {
  if (!model_.document().hasCar()) return;
  const QString car = QString::fromStdString(model_.document().car().id);
  if (car == carOnShow_) return;
  carOnShow_ = car;
  for (DrawingView* d : drawings_) {
    const QVariantList kept = Kept().value(lookKey(*d)).toList();
    if (kept.size() == 3)
      d->setLook({kept[0].toDouble(), {kept[1].toDouble(), kept[2].toDouble()}});
    else
      d->fit();
  }
}

void Stage::showView(View view) {
  view_->setCurrent(static_cast<int>(view));
  pages_->setCurrentIndex(static_cast<int>(view));
  Kept().setValue(viewKey, static_cast<int>(view));
}

Stage::View Stage::view() const {
  return static_cast<View>(pages_->currentIndex());
}

DrawingView& Stage::drawing() const {
  return *drawings_[at(pages_->currentIndex())];
}

void Stage::setZoom(DrawingView::Zoom zoom) {
  zoom_ = zoom;
  what_->setText(tr("%1 \u25BE").arg(zoomText(zoom)));
  for (DrawingView* d : drawings_) d->setZoom(zoom);
  Kept().setValue(zoomKey, static_cast<int>(zoom));
}

void Stage::fit() {
  drawing().fit();
}

void Stage::magnify(int steps) {
  drawing().magnify(steps, QRectF(drawing().rect()).center());
}

void Stage::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  place();
}

void Stage::place() {
  pages_->setGeometry(rect());
  tools_->setGeometry(0, 0, width(), toolHeight);
  makeRoomForTools();
  const int upright = Ruler::thicknessUpright;
  const int lying = Ruler::thickness;
  rulers_[roll]->setGeometry(upright, toolHeight, width() - 2 * upright, lying);
  rulers_[steer]->setGeometry(upright, height() - lying, width() - 2 * upright, lying);
  rulers_[bump]->setGeometry(0, toolHeight + lying, upright, height() - toolHeight - 2 * lying);
  rulers_[pitch]->setGeometry(width() - upright, toolHeight + lying, upright, height() - toolHeight - 2 * lying);
}

void Stage::apply() {
  ViewAttitude a = model_.attitude();
  const bool rack = model_.reach().rack_mm > 0.0;
  for (std::size_t i = 0; i < rulers_.size(); ++i) {
    const Held& d = i == steer && rack ? byRack : held[i];
    // A place between two steps, reached by dragging, stays until its own ruler moves.
    if (std::lround(d.get(a) / d.step) != rulers_[i]->value()) d.set(a, rulers_[i]->value() * d.step);
  }
  model_.setAttitude(a);
}

namespace {

QString readingOf(int degree, double value, bool rack) {
  const auto tr = [](const char* text) { return Stage::tr(text); };
  const QString size = number(std::abs(value), 1);
  const bool none = std::abs(value) < 0.05;
  switch (degree) {
    case 0:
      return value < 0 ? tr("droop %1 mm").arg(size) : tr("bump %1 mm").arg(size);
    case 1:
      return none        ? tr("roll 0.0 deg")
             : value > 0 ? tr("roll %1 deg right").arg(size)
                         : tr("roll %1 deg left").arg(size);
    case 2:
      if (rack)
        return none        ? tr("rack 0.0 mm")
               : value > 0 ? tr("rack %1 mm left").arg(size)
                           : tr("rack %1 mm right").arg(size);
      return none        ? tr("servo 0.0 deg")
             : value > 0 ? tr("servo %1 deg left").arg(size)
                         : tr("servo %1 deg right").arg(size);
    default:
      return none        ? tr("pitch 0.0 deg")
             : value > 0 ? tr("pitch %1 deg nose down").arg(size)
                         : tr("pitch %1 deg nose up").arg(size);
  }
}

/// Where the wheels of an axle stop, and how far the servo may go, on the rulers.
std::vector<RulerMark> stopMarks(const Comparison& c, End end) {
  std::vector<RulerMark> marks;
  if (!c.changed->model.corner(end, Side::left).spec->independent) return marks;
  const auto& corners = c.changed->source.travel.corner[at(end)];
  for (const Side side : both_sides) {
    const CornerStops& stops = corners[at(side)].stops;
    for (const auto& [stop, sign, word] : {std::tuple(&stops.droop, -1.0, Stage::tr("droop ends at %1 mm: %2")),
                                           std::tuple(&stops.bump, 1.0, Stage::tr("bump ends at %1 mm: %2"))}) {
      const RulerMark mark{sign * stop->from_ride_height_mm,
                           word.arg(number(stop->from_ride_height_mm, 1), fromCore(name_of(stop->kind)))};
      const bool told =
          std::any_of(marks.begin(), marks.end(), [&](const RulerMark& m) { return std::abs(m.at - mark.at) < 0.05; });
      if (!told) marks.push_back(mark);
    }
  }
  return marks;
}

std::vector<RulerMark> lockMarks(const Comparison& c) {
  std::vector<RulerMark> marks;
  const auto& lock = c.changed->source.travel.lock;
  if (!lock) return marks;
  for (const Side way : both_sides) {
    const double deg = degrees(lock->end_point_rad[at(way)]);
    marks.push_back({way == Side::left ? deg : -deg,
                     Stage::tr("end point, steering %1: %2 deg of servo").arg(sideTitle(way), number(deg, 1))});
  }
  return marks;
}

}  // namespace

void Stage::refresh() {
  recallLooks();
  const PlanModel::Reach reach = model_.reach();
  const bool rack = reach.rack_mm > 0.0;
  const std::array<std::pair<double, double>, degreeCount> range{
      std::pair(-reach.droop_mm, reach.bump_mm), std::pair(-degrees(reach.roll_rad), degrees(reach.roll_rad)),
      rack ? std::pair(-reach.rack_mm, reach.rack_mm) : std::pair(-degrees(reach.servo_rad), degrees(reach.servo_rad)),
      std::pair(-degrees(reach.pitch_rad), degrees(reach.pitch_rad))};
  for (std::size_t i = 0; i < rulers_.size(); ++i) {
    const Held& d = i == steer && rack ? byRack : held[i];
    const QSignalBlocker quiet(rulers_[i]);
    rulers_[i]->setUnit(d.step, i == bump || (i == steer && rack) ? tr("mm") : tr("deg"), 1);
    rulers_[i]->setRange(static_cast<int>(std::lround(range[i].first / d.step)),
                         static_cast<int>(std::lround(range[i].second / d.step)));
    const double value = d.get(model_.attitude());
    rulers_[i]->setValue(static_cast<int>(std::lround(value / d.step)));
    rulers_[i]->setReading(readingOf(static_cast<int>(i), value, rack));
    rulers_[i]->setEnabled(range[i].second > range[i].first);
  }
  const Comparison* c = model_.comparison();
  rulers_[bump]->setMarks(c ? stopMarks(*c, model_.end()) : std::vector<RulerMark>());
  rulers_[steer]->setMarks(c ? lockMarks(*c) : std::vector<RulerMark>());
  level_->setVisible(model_.attitude() != ViewAttitude{});
  makeRoomForTools();
}

void Stage::makeRoomForTools() {
  // Larger and smaller have their keys and the wheel: they go first where words would be cut.
  int needed = view_->sizeHint().width() + 16;
  for (QToolButton* b : tools_->findChildren<QToolButton*>(Qt::FindDirectChildrenOnly))
    if (!b->isHidden() || b == smaller_ || b == larger_) needed += b->sizeHint().width() + 2;
  for (QToolButton* b : {smaller_, larger_}) b->setVisible(needed <= tools_->width());
}

}  // namespace lowkite::app
