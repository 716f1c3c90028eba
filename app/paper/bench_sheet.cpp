#include "app/paper/bench_sheet.h"

#include <QCoreApplication>

#include "app/words/gauge_words.h"
#include "app/words/wording.h"
#include "core/bench/verdict.hpp"

namespace lowkite::app {
namespace {

struct BenchSheetWords {
  Q_DECLARE_TR_FUNCTIONS(BenchSheetWords)
};

QString cell(const QString& text, const char* attributes = "") {
  return QStringLiteral("<td %1>%2</td>").arg(QLatin1String(attributes), text);
}

/// What is read is written by hand into a box, unless it was read already.
QString box(const StepRecord& record, Side side, const GaugeSpec& spec) {
  const auto read = known_reading(record, side);
  return read ? gaugeText(spec, *read) : QString();
}

QString mark(StepState state) {
  switch (state) {
    case StepState::done:
    case StepState::measured:
      return QStringLiteral("\u2713");
    case StepState::left:
      return BenchSheetWords::tr("left");
    case StepState::unmeasured:
      return BenchSheetWords::tr("not read");
    case StepState::skipped:
      return BenchSheetWords::tr("skipped");
    case StepState::open:
      break;
  }
  return QStringLiteral("\u25A1");
}

}  // namespace

Sheet benchSheet(const Car& car, const BenchRun& run) {
  QString rows;
  for (const BenchStep& step : steps_of(car, run)) {
    const auto found = run.records.find(step.id);
    const StepRecord record = found == run.records.end() ? StepRecord{} : found->second;
    const QString done = mark(record.state);
    QString row = cell(done, "align='center'") + cell(fromCore(step.title).toHtmlEscaped());
    const auto verdict = step.gauge ? judge(car, run, step) : tl::expected<StepVerdict, CarFailure>(StepVerdict{});
    if (!step.gauge || !verdict) {
      row += cell(QString(), "colspan='5'");
    } else {
      const GaugeSpec& spec = step.gauge->spec();
      const auto target = [&](Side side) {
        const auto& t = verdict->side[at(side)].target;
        return t ? targetText(spec, *t) : QString();
      };
      if (reads_each_side(*step.gauge, run.bench))
        row += cell(target(Side::left), "align='right'") + cell(box(record, Side::left, spec)) +
               cell(target(Side::right), "align='right'") + cell(box(record, Side::right, spec));
      else
        row += cell(target(Side::left), "align='right'") + cell(box(record, Side::left, spec), "colspan='3'");
      row += cell(spec.play ? QString() : QStringLiteral("\u00B1 %1").arg(QString::number(spec.resolution)),
                  "align='right'");
    }
    rows += QStringLiteral("<tr>%1</tr>").arg(row);
  }
  const QString head =
      QStringLiteral(
          "<tr><th width='5%'></th><th align='left' width='34%'>%1</th><th width='14%'>%2</th><th width='13%'>%3</th>"
          "<th width='14%'>%4</th><th width='13%'>%3</th><th width='7%'>%5</th></tr>")
          .arg(BenchSheetWords::tr("Step"), BenchSheetWords::tr("Left should read"), BenchSheetWords::tr("reads"),
               BenchSheetWords::tr("Right should read"), BenchSheetWords::tr("tells"));
  const QString kit = BenchSheetWords::tr("Blocks %1 mm, play %2 mm, caliper %3 (cup %4 mm).")
                          .arg(number(run.bench.down_stop_blocks_mm, 1), number(run.bench.slop_mm, 1),
                               fromCore(name_of(run.bench.caliper)), number(run.bench.cup_mm, 1));
  const QString html =
      QStringLiteral(
          "<h2>%1</h2><p>%2<br>%3</p><table border='1' cellspacing='0' cellpadding='5' width='100%' "
          "style='border-collapse:collapse; border-color:#999'><thead>%4</thead>%5</table><p>%6</p>")
          .arg(BenchSheetWords::tr("Bench sheet: %1").arg(QString::fromStdString(car.name).toHtmlEscaped()),
               BenchSheetWords::tr("Setup %1, %2")
                   .arg(QString::fromStdString(run.planned.name).toHtmlEscaped(),
                        QString::fromStdString(run.started).left(10)),
               kit, head, rows,
               BenchSheetWords::tr(
                   "Battery out, or motor unplugged and pinion off mesh, before end points are set or hands come near "
                   "gears. The rules of "
                   "your club or federation come first."));
  return {BenchSheetWords::tr("Low Kite bench sheet"), html, {}};
}

}  // namespace lowkite::app
