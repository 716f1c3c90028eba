#include "app/paper/setup_sheet.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <QCoreApplication>
#include <QPainter>

#include "app/drawing/axle_scene.h"
#include "app/drawing/drawing_view.h"
#include "app/look/theme.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int drawingWidth = 340;  // as laid out
constexpr int drawingHeight = 190;
constexpr int drawingFineness = 4;  // dots of the picture for each dot of the layout

struct SetupSheetWords {
  Q_DECLARE_TR_FUNCTIONS(SetupSheetWords)
};

/// The axle as the front view shows it, on white.
QImage drawn(const Car& car, const Variant& variant, End end) {
  const AxleScene scene = axleSceneOf(car, variant, carSceneOf(car, variant), end);
  QImage image(drawingWidth * drawingFineness, drawingHeight * drawingFineness, QImage::Format_RGB32);
  image.fill(Qt::white);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.scale(drawingFineness, drawingFineness);
  p.setBackground(Qt::white);
  const Tokens& t = tokens(Shade::light);
  const double scale = std::min((drawingWidth - 16) / (2.0 * scene.halfWidth), (drawingHeight - 30) / scene.top);
  const QPointF ground(drawingWidth / 2.0, drawingHeight - 18.0);
  const auto at = [&](const FrontPlace& place) { return ground + QPointF(-place.x(), -place.y()) * scale; };
  const auto polygon = [&](const QPolygonF& q, const QColor& fill, const QPen& pen) {
    QPolygonF on;
    for (const QPointF& corner : q) on << at(corner);
    p.setBrush(fill);
    p.setPen(pen);
    p.drawPolygon(on);
  };
  polygon(scene.plate, faint(t.ink, 0.15), QPen(t.ink, 0.8));
  polygon(scene.bulkhead, faint(t.ink, 0.05), QPen(t.soft, 0.6));
  const auto strokes = [&](const std::vector<SceneStroke>& some) {
    for (const SceneStroke& s : some) paintPart(p, at(s.from), at(s.to), s.stroke, t, scale);
  };
  strokes(scene.steering);
  for (const SceneSide& s : scene.side) {
    polygon(s.tyre, Qt::transparent, QPen(t.ink, 1.2));
    polygon(s.hub, faint(t.ink, 0.08), QPen(t.soft, 0.6));
    strokes(s.strokes);
    p.setPen(QPen(t.ink, 0.8));
    p.setBrush(Qt::white);
    for (const FrontPlace& ball : s.balls) p.drawEllipse(at(ball), 2.0, 2.0);
  }
  p.setPen(QPen(t.ink, 0.8));
  p.drawLine(QPointF(6, ground.y()), QPointF(drawingWidth - 6, ground.y()));
  if (scene.rollCentre && std::isfinite(scene.rollCentre->height)) {
    const QPointF centre = at(QPointF(scene.rollCentre->across, scene.rollCentre->height));
    if (QRectF(0, 0, drawingWidth, drawingHeight).contains(centre)) {
      p.setPen(QPen(t.kite, 1.2));
      p.setBrush(Qt::NoBrush);
      p.drawPath(lozenge(centre, 4.5));
    }
  }
  // A scale, so that the drawing may be measured.
  p.setPen(QPen(t.ink, 0.8));
  p.drawLine(QPointF(8, drawingHeight - 6.0), QPointF(8 + 20 * scale, drawingHeight - 6.0));
  p.setFont(textFont(9));
  p.drawText(QPointF(12 + 20 * scale, drawingHeight - 3.0), SetupSheetWords::tr("20 mm"));
  return image;
}

/// What stands at the front beside what stands at the rear.
QString sideBySide(const QString& first, std::array<std::vector<SheetRow>, 2> axles) {
  const QStringList half{first, SetupSheetWords::tr("left"), SetupSheetWords::tr("right")};
  const std::size_t count = std::max(axles[0].size(), axles[1].size());
  std::vector<SheetRow> rows;
  for (std::size_t i = 0; i < count; ++i) {
    SheetRow row;
    for (std::size_t axle = 0; axle < axles.size(); ++axle) {
      if (axle > 0) row.cells << QString();
      const bool has = i < axles[axle].size();
      for (qsizetype k = 0; k < half.size(); ++k) {
        const QString cell = has ? axles[axle][i].cells[k] : QString();
        row.cells << (has && axles[axle][i].strong ? QStringLiteral("<b>%1</b>").arg(cell) : cell);
      }
    }
    rows.push_back(std::move(row));
  }
  return ruledTable(half + QStringList{QString()} + half, rows, {0, 4}, {24, 12, 12, 4, 24, 12, 12});
}

std::vector<SheetRow> partRows(const Car& car, const Setup& setup, End end) {
  std::vector<SheetRow> rows;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (a.end != end) continue;
    const Setting& s = setup.of(i);
    const bool changed = s.left != a.kit || s.right != a.kit;
    const QString name =
        QString::fromStdString(a.name).toHtmlEscaped() + (changed ? QStringLiteral(" \u25C6") : QString());
    const QString left = valueText(a, s.left).toHtmlEscaped();
    rows.push_back({{name, left, a.one_piece() ? QString() : valueText(a, s.right).toHtmlEscaped()}, changed});
  }
  return rows;
}

std::vector<SheetRow> gaugeRows(const Car& car, const Variant& variant, const BenchKit& bench, End end) {
  std::vector<SheetRow> rows;
  for (const Gauge& g : gauges_of(car)) {
    if (g.end != end) continue;
    const auto left = reading(g, variant.model, variant.source, bench, Side::left);
    const auto right = reading(g, variant.model, variant.source, bench, Side::right);
    if (!left && !right) continue;
    const auto told = [&](const std::optional<double>& v) { return v ? gaugeText(g.spec(), *v) : QString(); };
    rows.push_back({{fromCore(g.label), told(left), g.spec().per_wheel ? told(right) : QString()}});
  }
  return rows;
}

std::vector<SheetRow> figureRows(const Car& car, const Variant& variant, End end) {
  std::vector<SheetRow> rows;
  for (const FigureSpec& f : geometry_figures()) {
    if (!applies(f, car, end)) continue;
    const auto left = f.read(variant.source, end, Side::left);
    const auto right = f.read(variant.source, end, Side::right);
    rows.push_back(
        {{figureLabel(f), figureWithUnit(f, left, 0), f.per_wheel() ? figureWithUnit(f, right, 0) : QString()}});
  }
  return rows;
}

}  // namespace

Sheet setupSheet(const Car& car, const Variant& variant, const BenchKit& bench) {
  const Setup& setup = variant.setup;
  Sheet sheet;
  sheet.title = SetupSheetWords::tr("Low Kite setup sheet");
  const auto told = [](const std::string& s) { return QString::fromStdString(s).toHtmlEscaped(); };
  QStringList under;
  if (!setup.date.empty()) under << told(setup.date);
  if (!setup.track.empty()) under << told(setup.track);
  // Small enough for two pages, large enough for a pit table.
  sheet.html = QStringLiteral("<style>td, th { font-size: 10px; }</style>") +
               QStringLiteral("<h2>%1: %2</h2><p>%3</p>")
                   .arg(told(car.name), told(setup.name), under.join(QStringLiteral(", ")));
  if (!setup.notes.empty()) sheet.html += QStringLiteral("<p>%1</p>").arg(told(setup.notes));
  QString drawings;
  QString heights;
  std::array<std::vector<SheetRow>, 2> parts, gauges, figures;
  for (const End end : both_ends) {
    const QString name = QStringLiteral("axle%1").arg(static_cast<int>(end));
    sheet.drawings[name] = drawn(car, variant, end);
    drawings += QStringLiteral("<td width='50%' align='center'><img src='%1' width='%2' height='%3'></td>")
                    .arg(name)
                    .arg(drawingWidth)
                    .arg(drawingHeight);
    heights += QStringLiteral("<td width='50%'><h3>%1</h3>%2</td>")
                   .arg(end == End::front ? SetupSheetWords::tr("Front axle") : SetupSheetWords::tr("Rear axle"),
                        SetupSheetWords::tr("ride height %1 mm").arg(number(setup.ride_height_mm[at(end)], 1)));
    parts[at(end)] = partRows(car, setup, end);
    gauges[at(end)] = gaugeRows(car, variant, bench, end);
    figures[at(end)] = figureRows(car, variant, end);
  }
  const QString kit = SetupSheetWords::tr("Blocks %1 mm, play %2 mm, caliper %3 (cup %4 mm).")
                          .arg(number(bench.down_stop_blocks_mm, 1), number(bench.slop_mm, 1),
                               fromCore(name_of(bench.caliper)), number(bench.cup_mm, 1));
  sheet.html += QStringLiteral("<table width='100%' cellspacing='6'><tr>%1</tr><tr>%2</tr></table>%3<p>\u25C6 %4</p>")
                    .arg(drawings, heights, sideBySide(SetupSheetWords::tr("Part"), parts),
                         SetupSheetWords::tr("not as in the kit"));
  if (!setup.noted.empty()) {
    std::vector<SheetRow> noted;
    for (std::size_t i = 0; i < setup.noted.size(); i += 2) {
      SheetRow row;
      for (std::size_t k = i; k < i + 2; ++k)
        if (k < setup.noted.size())
          row.cells << told(setup.noted[k].name) << told(setup.noted[k].text);
        else
          row.cells << QString() << QString();
      noted.push_back(row);
    }
    const QString what = SetupSheetWords::tr("What"), is = SetupSheetWords::tr("is");
    sheet.html += QStringLiteral("<h3>%1</h3>%2")
                      .arg(SetupSheetWords::tr("Also noted"),
                           ruledTable({what, is, what, is}, noted, {0, 1, 2, 3}, {16, 34, 16, 34}));
  }
  sheet.html += QStringLiteral("<h3 style='page-break-before:always'>%1</h3><p>%2</p>")
                    .arg(SetupSheetWords::tr("On the bench"), kit) +
                sideBySide(SetupSheetWords::tr("Gauge should read"), gauges);
  sheet.html +=
      QStringLiteral("<h3>%1</h3>").arg(SetupSheetWords::tr("Computed, at ride height, steering in the middle")) +
      sideBySide(SetupSheetWords::tr("Figure"), figures);
  sheet.html +=
      QStringLiteral("<p>%1</p>").arg(SetupSheetWords::tr("The rules of your club or federation come first."));
  return sheet;
}

}  // namespace lowkite::app
