// What the Car workspace shows and how it edits: the point in hand, the axle looked at, the caliper readings and what
// they make of the points. Every edit goes through the document's one way of editing a car.
#pragma once

#include <optional>

#include <QObject>

#include "app/document/document.h"
#include "core/parts/found_at.hpp"
#include "core/plan/next_reading.hpp"

namespace lowkite::app {

class CarEditor : public QObject {
  Q_OBJECT
 public:
  /// What of the car is looked at.
  enum class Group { front, rear, steering };

  explicit CarEditor(Document& document, QObject* parent = nullptr);

  [[nodiscard]] Document& document() { return document_; }
  [[nodiscard]] const Document& document() const { return document_; }
  /// False for cars that come with the program, and when none is open.
  [[nodiscard]] bool editable() const { return document_.hasCar() && !document_.carIsShipped(); }
  [[nodiscard]] const Json& source() const { return document_.state().carSource; }

  [[nodiscard]] Group group() const { return group_; }
  void setGroup(Group group);
  [[nodiscard]] Side side() const { return side_; }
  void setSide(Side side);
  /// The points of the group that is looked at.
  [[nodiscard]] std::vector<PointRef> points() const;
  [[nodiscard]] std::optional<PointRef> point() const { return point_; }
  void setPoint(const std::optional<PointRef>& ref);

  /// A point of the side that is edited, mm in chassis axes (true sign of y).
  [[nodiscard]] Vec3 place(const PointRef& ref, Side side) const;
  /// Moves it. `dragging`: one of many small moves, undone as one.
  bool movePoint(const PointRef& ref, const Vec3& mm, bool dragging = false);
  /// The right side's point as the mirror image of the left one again.
  void mirrorAgain(const PointRef& ref);
  bool putField(const CarField& field, const QString& typed);
  bool edit(Json source, const QString& what, int merge = 0);

  /// The guide's steps of the group, in their order.
  [[nodiscard]] std::vector<GuideStep> guide();
  /// Which of them tells most next, and what is known so far.
  [[nodiscard]] const ReadingPlan& readingPlan();
  [[nodiscard]] const std::vector<CaliperReading>& readings() const { return readings_; }
  [[nodiscard]] std::optional<double> readingAt(const CaliperReading& place) const;
  void takeReading(CaliperReading reading, double mm);
  void takeBack(const CaliperReading& place);
  /// What the readings make of the points; none while there are none.
  [[nodiscard]] const std::optional<Fit>& fit() const { return fit_; }
  /// Puts the computed points into the car, as one edit.
  void takeFit();
  /// The reading that is drawn as a dimension.
  /// `offset_mm`: what the caliper shows more than the reading that is kept, as it is laid.
  void setShownReading(const std::optional<CaliperReading>& reading, double offset_mm = 0.0);
  [[nodiscard]] const std::optional<CaliperReading>& shownReading() const { return shown_; }
  [[nodiscard]] double shownOffset() const { return shownOffset_; }

  /// Where the part that is looked at, or described, has its points in each of its positions: the drawing shows them.
  [[nodiscard]] const std::vector<PartSpot>& spots() const { return spots_; }
  /// `bodies`: two parts that may touch, as thick as they are.
  void setSpots(std::vector<PartSpot> spots, std::vector<DrawnBody> bodies = {});
  [[nodiscard]] const std::vector<DrawnBody>& bodies() const { return bodies_; }
  /// The parts that a click in the drawing chooses; none while no list of parts is on show.
  void setPickable(std::vector<FoundAt> parts);
  [[nodiscard]] const std::vector<FoundAt>& pickable() const { return pickable_; }

 Q_SIGNALS:
  /// These of the pickable parts lie under a click, in their order.
  void partsClicked(const std::vector<int>& parts);
  void changed();           ///< the car or its readings
  void selectionChanged();  ///< group, side, point or the reading on show
  void told(const QString& news);
  void spotsChanged();

 private:
  void refresh();

  Document& document_;
  Group group_ = Group::front;
  Side side_ = Side::left;
  std::optional<PointRef> point_;
  std::vector<CaliperReading> readings_;
  std::optional<Fit> fit_;
  std::optional<CaliperReading> shown_;
  double shownOffset_ = 0.0;
  std::vector<PartSpot> spots_;
  std::vector<DrawnBody> bodies_;
  std::vector<FoundAt> pickable_;
  std::vector<GuideStep> guide_;
  std::shared_ptr<const Car> guideFor_;
  std::optional<ReadingPlan> plan_;
};

/// Where a point's coordinates come from, in a word or two.
QString originText(PointOrigin origin);

}  // namespace lowkite::app
