#include "app/paper/setup_sheet.h"

#include <algorithm>
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

QString row(const QStringList& cells, bool strong = false) {
  QString html;
  for (int i = 0; i < cells.size(); ++i)
    html += QStringLiteral("<td%1>%2%3%4</td>")
                .arg(i > 0 ? QStringLiteral(" align='right'") : QString(), strong ? QStringLiteral("<b>") : QString(),
                     cells[i], strong ? QStringLiteral("</b>") : QString());
  return QStringLiteral("<tr>%1</tr>").arg(html);
}

QString table(const QString& rows) {
  return QStringLiteral(
             "<table width='100%' cellspacing='0' cellpadding='2' border='1' style='border-color:#999'>%1</table>")
      .arg(rows);
}

QString head(const QStringList& cells) {
  QString html;
  for (int i = 0; i < cells.size(); ++i)
    html += QStringLiteral("<th align='%1'>%2</th>")
                .arg(i > 0 ? QStringLiteral("right") : QStringLiteral("left"), cells[i]);
  return QStringLiteral("<tr>%1</tr>").arg(html);
}

QString partRows(const Car& car, const Setup& setup, End end) {
  QString rows = head({SetupSheetWords::tr("Part"), SetupSheetWords::tr("left"), SetupSheetWords::tr("right")});
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Adjuster& a = car.adjusters[i];
    if (a.end != end) continue;
    const Setting& s = setup.at_index(static_cast<int>(i));
    const bool changed = s.left != a.kit || s.right != a.kit;
    const QString name =
        QString::fromStdString(a.name).toHtmlEscaped() + (changed ? QStringLiteral(" \u25C6") : QString());
    const QString left = valueText(a, s.left).toHtmlEscaped();
    if (a.one_piece())
      rows += row({name, left, QString()}, changed);
    else
      rows += row({name, left, valueText(a, s.right).toHtmlEscaped()}, changed);
  }
  return rows;
}

QString gaugeRows(const Car& car, const Variant& variant, const BenchKit& bench, End end) {
  QString rows =
      head({SetupSheetWords::tr("Gauge should read"), SetupSheetWords::tr("left"), SetupSheetWords::tr("right")});
  for (const Gauge& g : gauges_of(car)) {
    if (g.end != end) continue;
    const auto left = reading(g, variant.model, variant.source, bench, Side::left);
    const auto right = reading(g, variant.model, variant.source, bench, Side::right);
    if (!left && !right) continue;
    const auto told = [&](const std::optional<double>& v) { return v ? gaugeText(g.spec(), *v) : QString(); };
    rows += row({fromCore(g.label), told(left), g.spec().per_wheel ? told(right) : QString()});
  }
  return rows;
}

QString figureRows(const Car& car, const Variant& variant, End end) {
  QString rows = head({SetupSheetWords::tr("Figure"), SetupSheetWords::tr("left"), SetupSheetWords::tr("right")});
  for (const FigureSpec& f : geometry_figures()) {
    if (!applies(f, car, end)) continue;
    const auto left = f.read(variant.source, end, Side::left);
    const auto right = f.read(variant.source, end, Side::right);
    rows += row({figureLabel(f), figureWithUnit(f, left, 0), f.per_wheel() ? figureWithUnit(f, right, 0) : QString()});
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
  QString parts;
  QString gauges;
  QString figures;
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
    const auto half = [](const QString& rows) {
      return QStringLiteral("<td width='50%' valign='top'>%1</td>").arg(table(rows));
    };
    parts += half(partRows(car, setup, end));
    gauges += half(gaugeRows(car, variant, bench, end));
    figures += half(figureRows(car, variant, end));
  }
  const QString kit = SetupSheetWords::tr("Blocks %1 mm, play %2 mm, caliper %3 (cup %4 mm).")
                          .arg(number(bench.down_stop_blocks_mm, 1), number(bench.slop_mm, 1),
                               fromCore(name_of(bench.caliper)), number(bench.cup_mm, 1));
  const QString pair = QStringLiteral("<table width='100%' cellspacing='6'><tr>%1</tr></table>");
  sheet.html +=
      QStringLiteral("<table width='100%' cellspacing='6'><tr>%1</tr><tr>%2</tr><tr>%3</tr></table><p>\u25C6 %4</p>")
          .arg(drawings, heights, parts, SetupSheetWords::tr("not as in the kit"));
  if (!setup.noted.empty()) {
    QString noted;
    for (std::size_t i = 0; i < setup.noted.size(); i += 2) {
      QString cells;
      for (std::size_t k = i; k < std::min(i + 2, setup.noted.size()); ++k)
        cells += QStringLiteral("<td width='16%'>%1</td><td width='34%'>%2</td>")
                     .arg(told(setup.noted[k].name), told(setup.noted[k].text));
      noted += QStringLiteral("<tr>%1</tr>").arg(cells);
    }
    sheet.html += QStringLiteral("<h3>%1</h3>%2").arg(SetupSheetWords::tr("Also noted"), table(noted));
  }
  sheet.html += QStringLiteral("<h3 style='page-break-before:always'>%1</h3><p>%2</p>")
                    .arg(SetupSheetWords::tr("On the bench"), kit) +
                pair.arg(gauges);
  sheet.html +=
      QStringLiteral("<h3>%1</h3>").arg(SetupSheetWords::tr("Computed, at ride height, steering in the middle")) +
      pair.arg(figures);
  sheet.html +=
      QStringLiteral("<p>%1</p>").arg(SetupSheetWords::tr("The rules of your club or federation come first."));
  return sheet;
}

}  // namespace lowkite::app
