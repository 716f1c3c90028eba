#include "app/paper/track_sheets.h"

#include <cmath>

#include <QCoreApplication>
#include <QPainter>

#include "app/look/theme.h"
#include "app/words/wording.h"
#include "core/car/car.hpp"
#include "core/log/run_comparison.hpp"

namespace lowkite::app {
namespace {

struct TrackSheetWords {
  Q_DECLARE_TR_FUNCTIONS(TrackSheetWords)
};

QString html(const std::string& text) {
  return QString::fromStdString(text).toHtmlEscaped();
}

/// A number stays with its unit.
QString unbroken(const std::string& text) {
  return html(text).replace(QLatin1Char(' '), QChar(QChar::Nbsp));
}

QString changesOf(const Run& before, const Run& after, const Car* car) {
  QStringList list;
  for (const SetupChange& c : setup_changes(before.setup, after.setup, car))
    list << QStringLiteral("%1: %2 \u2192 %3").arg(html(c.what), unbroken(c.from), unbroken(c.to));
  return list.join(QStringLiteral("; "));
}

QString feltIn(const Run& run) {
  QStringList list;
  for (const Feeling& f : run.feelings)
    if (f.amount != 0) list << feelingText(f).toHtmlEscaped();
  return list.join(QStringLiteral("; "));
}

/// Every lap of the day's runs, one run after the other.
QImage lapsPicture(const LoggedDay& day, const LapRule& rule) {
  constexpr int width = 1400, height = 380, margin = 60;
  QImage image(width, height, QImage::Format_RGB32);
  image.fill(Qt::white);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(textFont(20));
  double low = 1e9, high = 0.0;
  int laps = 0;
  for (const RunRecord& r : day.runs)
    for (const double s : counting(r.laps, rule)) {
      low = std::min(low, s);
      high = std::max(high, s);
      ++laps;
    }
  if (laps == 0) return image;
  const double span = std::max(0.2, high - low);
  const double gap = 2.0;
  const double step = (width - 2.0 * margin) / (laps + gap * static_cast<double>(day.runs.size()));
  double x = margin;
  const auto y = [&](double s) { return margin + (high - s) / span * (height - 2.0 * margin); };
  p.setPen(QPen(Qt::gray, 1));
  for (int i = 0; i <= 4; ++i) {
    const double s = low + span * i / 4.0;
    p.drawLine(QPointF(margin, y(s)), QPointF(width - margin, y(s)));
    p.drawText(QRectF(0, y(s) - 14, margin - 6, 28), Qt::AlignRight | Qt::AlignVCenter,
               QString::fromStdString(lap_text(s)));
  }
  p.setPen(Qt::darkGray);
  p.drawText(QRectF(margin, 4, width - 2.0 * margin, 28), Qt::AlignLeft, TrackSheetWords::tr("seconds a lap"));
  for (const RunRecord& r : day.runs) {
    const auto seconds = counting(r.laps, rule);
    QPolygonF line;
    const double from = x;
    for (const double s : seconds) {
      line << QPointF(x, y(s));
      x += step;
    }
    p.setPen(QPen(Qt::black, 2));
    p.drawPolyline(line);
    for (const QPointF& dot : line) p.drawEllipse(dot, 3, 3);
    p.drawText(QRectF(from, height - margin + 8, std::max(80.0, x - from), 28), Qt::AlignLeft,
               QString::fromStdString(r.run.started));
    x += gap * step;
  }
  return image;
}

}  // namespace

Sheet daySheet(const LoggedDay& day, const Car* car, const LapRule& rule) {
  const Day& d = day.day;
  QStringList facts;
  if (d.surface != Surface::unknown) facts << fromCore(label_in(surfaces(), d.surface));
  if (d.grip != Grip::unknown) facts << fromCore(label_in(grips(), d.grip));
  if (d.bumps != Bumps::unknown) facts << fromCore(label_in(bump_kinds(), d.bumps));
  if (d.air_celsius) facts << TrackSheetWords::tr("air %1 \u00B0C").arg(number(*d.air_celsius, 0));
  if (d.ground_celsius) facts << TrackSheetWords::tr("ground %1 \u00B0C").arg(number(*d.ground_celsius, 0));
  if (d.humidity_percent) facts << TrackSheetWords::tr("humidity %1 %").arg(number(*d.humidity_percent, 0));
  std::vector<SheetRow> rows;
  const Run* before = nullptr;
  for (const RunRecord& r : day.runs) {
    const auto f = lap_figures(r.laps, rule);
    const auto s = [](double v) { return QString::fromStdString(lap_text(v)); };
    QStringList words;
    if (before && before->car_id == r.run.car_id)
      if (const QString c = changesOf(*before, r.run, car && car->id == r.run.car_id ? car : nullptr); !c.isEmpty())
        words << TrackSheetWords::tr("<b>Changed:</b> %1").arg(c);
    if (const QString felt = feltIn(r.run); !felt.isEmpty()) words << TrackSheetWords::tr("<b>Felt:</b> %1").arg(felt);
    if (r.run.verdict != Verdict::none)
      words << (r.run.verdict == Verdict::same ? TrackSheetWords::tr("<b>%1</b> as the run before")
                                               : TrackSheetWords::tr("<b>%1</b> than the run before"))
                   .arg(fromCore(label_in(verdicts(), r.run.verdict)));
    if (!r.run.broke.empty()) words << TrackSheetWords::tr("<b>Broke:</b> %1").arg(html(r.run.broke));
    if (!r.run.notes.empty()) words << html(r.run.notes);
    rows.push_back(
        {{html(r.run.started), html(r.run.tyres), f ? s(f->best_s) : QString(), f ? s(f->mean_s) : QString(),
          f ? QStringLiteral("\u00B1\u00A0%1").arg(number(f->deviation_s, 2)) : QString(),
          f && f->best_in_a_row_s ? s(*f->best_in_a_row_s) : QString(), words.join(QStringLiteral("<br>"))}});
    before = &r.run;
  }
  Sheet sheet;
  sheet.title = TrackSheetWords::tr("Low Kite: a race day");
  sheet.drawings[QStringLiteral("laps")] = lapsPicture(day, rule);
  const QStringList head{TrackSheetWords::tr("Run"),
                         TrackSheetWords::tr("Tyres"),
                         TrackSheetWords::tr("Best, s"),
                         TrackSheetWords::tr("Mean, s"),
                         TrackSheetWords::tr("Spread, s"),
                         TrackSheetWords::tr("Five in a row, s"),
                         TrackSheetWords::tr("What was done and felt")};
  sheet.html = QStringLiteral("<h2>%1, %2</h2><p>%3</p><p>%4</p><p><img src='laps' width='680'></p>%5<p>%6</p>")
                   .arg(html(d.track), html(d.date), facts.join(QStringLiteral(", ")).toHtmlEscaped(), html(d.notes),
                        ruledTable(head, rows, {0, 1, 6}, {8, 8, 9, 9, 9, 11, 46}),
                        TrackSheetWords::tr(
                            "Laps slower than the run's median by more than %1 % are set aside as traffic or a crash, "
                            "as are marked ones.")
                            .arg(number(100.0 * rule.slower_share, 0)));
  return sheet;
}

Sheet historySheet(const std::vector<LoggedDay>& days, const Car& car, const LapRule& rule) {
  std::vector<SheetRow> rows;
  std::optional<Run> before;
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      if (r.run.car_id != car.id || r.run.setup.empty()) continue;
      const QString changes = before ? changesOf(*before, r.run, &car) : TrackSheetWords::tr("first setup in the log");
      if (!before || !changes.isEmpty()) {
        const auto f = lap_figures(r.laps, rule);
        const auto setup = setup_of(r.run, car);
        rows.push_back({{QStringLiteral("%1 %2").arg(html(d.day.date), html(r.run.started)), html(d.day.track),
                         setup ? html(setup->name) : QString(), changes,
                         f ? QString::fromStdString(lap_text(f->mean_s)) : QString(), feltIn(r.run)}});
      }
      before = r.run;
    }
  Sheet sheet;
  sheet.title = TrackSheetWords::tr("Low Kite: history of a setup");
  const QStringList head{TrackSheetWords::tr("Run"),     TrackSheetWords::tr("Track"),   TrackSheetWords::tr("Setup"),
                         TrackSheetWords::tr("Changed"), TrackSheetWords::tr("Mean, s"), TrackSheetWords::tr("Felt")};
  sheet.html = QStringLiteral("<h2>%1</h2>%2")
                   .arg(TrackSheetWords::tr("How the %1 came to its setup").arg(html(car.name)),
                        ruledTable(head, rows, {0, 1, 2, 3, 5}, {12, 14, 14, 34, 8, 18}));
  return sheet;
}

}  // namespace lowkite::app
