#include "app/plan/curves/curve_panel.h"

#include <algorithm>
#include <cmath>

#include <QBuffer>
#include <QChart>
#include <QChartView>
#include <QComboBox>
#include <QEvent>
#include <QFileDialog>
#include <QGraphicsLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineSeries>
#include <QMenu>
#include <QPainter>
#include <QSignalBlocker>
#include <QSvgGenerator>
#include <QToolButton>
#include <QVBoxLayout>
#include <QValueAxis>

#include "app/document/write_file.h"
#include "app/look/theme.h"
#include "app/widgets/line_chart.h"
#include "app/words/wording.h"
#include "core/io/csv.hpp"
#include "core/io/json_document.hpp"

namespace lowkite::app {
namespace {

bool drawable(const FigureSpec& f) {
  return !f.whole_travel && f.id != "ride_height";
}

/// The least span of an axis, so that a flat curve looks flat.
double leastSpan(const FigureSpec& f) {
  return 8.0 * f.resolution() * (f.decimals == 0 ? 2.0 : 1.0);
}

Sweep sweepOver(SweepOver over, const PlanModel::Reach& reach) {
  switch (over) {
    case SweepOver::travel:
      return {over, -reach.droop_mm, reach.bump_mm, PlanModel::curveSamples};
    case SweepOver::roll:
      return {over, -degrees(reach.roll_rad), degrees(reach.roll_rad), PlanModel::curveSamples};
    case SweepOver::pitch:
      return {over, -degrees(reach.pitch_rad), degrees(reach.pitch_rad), PlanModel::curveSamples};
    case SweepOver::steer:
      if (reach.rack_mm > 0.0) return {over, -reach.rack_mm, reach.rack_mm, PlanModel::curveSamples};
      return {over, -degrees(std::min(reach.servo_rad, radians(45.0))),
              degrees(std::min(reach.servo_rad, radians(45.0))), PlanModel::curveSamples};
  }
  return {};
}

double readingOf(SweepOver over, const ViewAttitude& a, bool rack) {
  switch (over) {
    case SweepOver::travel:
      return a.bump_mm;
    case SweepOver::roll:
      return degrees(a.roll_rad);
    case SweepOver::pitch:
      return degrees(a.pitch_rad);
    case SweepOver::steer:
      return rack ? a.rack_mm : degrees(a.servo_rad);
  }
  return 0.0;
}

void setPoints(QLineSeries& line, const QList<QPointF>& points) {
  if (line.points() != points) line.replace(points);
}

}  // namespace

CurvePanel::CurvePanel(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("curves"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 0, 4, 2);
  column->setSpacing(0);
  legend_ = new QLabel(this);
  legend_->setObjectName(QStringLiteral("curves.legend"));
  overChoice_ = new QComboBox(this);
  overChoice_->setObjectName(QStringLiteral("curves.over"));
  overChoice_->setMinimumHeight(targetHeight);
  overChoice_->setAccessibleName(tr("What the curves run over"));
  overChoice_->addItems({tr("over travel, mm"), tr("over roll, deg"), tr("over pitch, deg"), tr("over servo, deg")});
  connect(overChoice_, &QComboBox::currentIndexChanged, this, [this](int i) { setOver(static_cast<SweepOver>(i)); });
  auto* out = new QToolButton(this);
  out->setObjectName(QStringLiteral("curves.export"));
  out->setText(tr("Export"));
  out->setPopupMode(QToolButton::InstantPopup);
  auto* menu = new QMenu(out);
  for (const char* suffix : {"csv", "json", "svg", "png"})
    menu->addAction(QString::fromLatin1(suffix).toUpper(), this,
                    [this, suffix] { exportAs(QString::fromLatin1(suffix)); });
  out->setMenu(menu);
  auto* top = new QHBoxLayout;
  top->setContentsMargins(8, 0, 4, 2);
  top->setSpacing(8);
  legend_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  out->setMinimumWidth(84);
  top->addWidget(legend_, 1);
  top->addWidget(overChoice_);
  top->addWidget(out);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  for (int i = 0; i < plotCount; ++i) {
    plots_[at(i)] = makePlot(i);
    auto* one = new QVBoxLayout;
    one->setSpacing(0);
    one->addWidget(plots_[at(i)].choice);
    one->addWidget(plots_[at(i)].view, 1);
    row->addLayout(one, 1);
  }
  column->addLayout(top);
  column->addLayout(row, 1);
  connect(&model_, &PlanModel::comparisonChanged, this, &CurvePanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &CurvePanel::refresh);
  askPath = [this](const QString& suffix) {
    return QFileDialog::getSaveFileName(this, tr("Export the curves"), QStringLiteral("curves.%1").arg(suffix),
                                        QStringLiteral("*.%1").arg(suffix));
  };
  restyle();
}

CurvePanel::Plot CurvePanel::makePlot(int index) {
  Plot plot;
  plot.choice = new QComboBox(this);
  plot.choice->setObjectName(QStringLiteral("curve.%1.figure").arg(index));
  plot.choice->setAccessibleName(tr("Figure of curve %1").arg(index + 1));
  plot.choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  plot.choice->setMinimumHeight(28);
  plot.choice->setMinimumContentsLength(8);
  plot.choice->setMaxVisibleItems(24);
  connect(plot.choice, &QComboBox::activated, this, [this, index](int row) {
    const QByteArray id = plots_[at(index)].choice->itemData(row).toByteArray();
    setFigure(index, id.toStdString());
  });
  plot.chart = new QChart;
  plot.chart->legend()->hide();
  plot.chart->setMargins(QMargins(0, 0, 4, 0));
  plot.chart->setBackgroundVisible(false);
  plot.chart->layout()->setContentsMargins(0, 0, 0, 0);
  plot.x = new QValueAxis;
  plot.y = new QValueAxis;
  plot.chart->addAxis(plot.x, Qt::AlignBottom);
  plot.chart->addAxis(plot.y, Qt::AlignLeft);
  for (QLineSeries*& line : plot.lines) {
    line = new QLineSeries;
    plot.chart->addSeries(line);
    line->attachAxis(plot.x);
    line->attachAxis(plot.y);
  }
  plot.view = new QChartView(plot.chart, this);
  plot.view->setObjectName(QStringLiteral("curve.%1").arg(index));
  plot.view->setRenderHint(QPainter::Antialiasing);
  plot.view->setViewportUpdateMode(QGraphicsView::FullViewportUpdate);
  plot.view->setOptimizationFlags(QGraphicsView::DontSavePainterState | QGraphicsView::DontAdjustForAntialiasing);
  plot.view->setFrameShape(QFrame::NoFrame);
  plot.view->setFocusPolicy(Qt::NoFocus);
  plot.view->setMinimumHeight(70);
  plot.figure = plot.wanted = flagged(geometry_figures(), first_curve)[at(index)];
  return plot;
}

void CurvePanel::setOver(SweepOver over) {
  over_ = over;
  const QSignalBlocker quiet(overChoice_);
  overChoice_->setCurrentIndex(static_cast<int>(over));
  refresh();
}

void CurvePanel::setFigure(int plot, std::string_view figure) {
  plots_[at(plot)].wanted = find_figure(figure);
  filledFor_.reset();
  refresh();
}

/// Lists the figures that mean something on this axle and chooses again what was chosen, as far as it still does.
void CurvePanel::fillChoices() {
  if (filledFor_ == model_.document().sharedCar() && filledEnd_ == model_.end()) return;
  filledFor_ = model_.document().sharedCar();
  filledEnd_ = model_.end();
  for (std::size_t i = 0; i < plots_.size(); ++i) {
    Plot& plot = plots_[i];
    const QSignalBlocker quiet(plot.choice);
    plot.choice->clear();
    // Where the wanted figure means nothing, the first one that no plot before shows.
    int chosen = -1, free = 0;
    for (const FigureGroup group : figure_groups())
      for (const FigureSpec& f : geometry_figures()) {
        if (f.group != group || !drawable(f) || !applies(f, *filledFor_, filledEnd_)) continue;
        if (&f == plot.wanted) chosen = plot.choice->count();
        if (free == plot.choice->count() && std::any_of(plots_.begin(), plots_.begin() + static_cast<std::ptrdiff_t>(i),
                                                        [&](const Plot& before) { return before.figure == &f; }))
          ++free;
        const QString unit = unitText(f.unit);
        plot.choice->addItem(unit.isEmpty() ? figureLabel(f) : tr("%1, %2").arg(figureLabel(f), unit),
                             QByteArray(f.id.data(), static_cast<qsizetype>(f.id.size())));
      }
    plot.choice->setCurrentIndex(chosen >= 0 ? chosen : std::min(free, plot.choice->count() - 1));
    plot.figure = find_figure(plot.choice->currentData().toByteArray().toStdString());
  }
}

void CurvePanel::restyle() {
  const Tokens& t = tokens(palette());
  for (Plot& plot : plots_) {
    plot.view->setBackgroundBrush(t.surface);
    plot.choice->setFont(textFont(labelSize, true));
    for (QValueAxis* axis : {plot.x, plot.y}) {
      axis->setLabelsBrush(t.soft);
      axis->setLabelsFont(figureFont(labelSize));
      axis->setGridLineColor(t.line);
      axis->setLinePenColor(t.soft);
      axis->setGridLineVisible(axis == plot.y);
    }
    plot.lines[baselineLine]->setPen(QPen(t.base, 1.5, Qt::DashLine));
    plot.lines[changedLine]->setPen(QPen(t.ink, 1.5, Qt::DotLine));
    plot.lines[resetLine]->setPen(QPen(t.kite, 2.0));
    plot.lines[readingLine]->setPen(QPen(t.soft, 1.0));
  }
  refresh();
}

void CurvePanel::changeEvent(QEvent* event) {
  if (event->type() == QEvent::PaletteChange) restyle();
  QWidget::changeEvent(event);
}

void CurvePanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (stale_) refresh();
}

const std::vector<SweepPoint>& CurvePanel::swept(const std::shared_ptr<const Variant>& variant) {
  const Sweep sweep = sweepOver(over_, model_.reach());
  // What is swept replaces its own part of the attitude.
  ViewAttitude view = model_.attitude();
  if (over_ == SweepOver::travel) view.bump_mm = 0.0;
  if (over_ == SweepOver::roll) view.roll_rad = 0.0;
  if (over_ == SweepOver::pitch) view.pitch_rad = 0.0;
  if (over_ == SweepOver::steer) view.servo_rad = view.rack_mm = 0.0;
  for (const Swept& s : kept_)
    if (s.variant == variant && s.view == view && s.sweep.over == sweep.over && s.sweep.from == sweep.from &&
        s.sweep.to == sweep.to)
      return s.points;
  // Two variants stay from one step to the next at most; a handful more costs nothing.
  if (kept_.size() > 5) kept_.erase(kept_.begin());
  kept_.push_back({variant, sweep, view, lowkite::sweep(variant->model, held_attitude(variant->model, view), sweep)});
  return kept_.back().points;
}

std::optional<double> CurvePanel::valueAt(const FigureSpec& f, const Variant&, const SweepPoint& p, Side side) {
  if (!p.figures) return std::nullopt;
  scratch_.car = *p.figures;
  const auto value = f.read(scratch_, model_.end(), side);
  return value && std::abs(*value) < 1e4 ? value : std::nullopt;
}

void CurvePanel::refresh() {
  const Comparison* c = model_.comparison();
  stale_ = !isVisible();
  if (!c || stale_) return;
  fillChoices();
  const Tokens& t = tokens(palette());
  const Side side = model_.shownSide();
  const bool rack = model_.reach().rack_mm > 0.0;
  overChoice_->setItemText(static_cast<int>(SweepOver::steer), rack ? tr("over rack, mm") : tr("over servo, deg"));
  const QString legend =
      tr("<span style='color:%1'>\u254D baseline</span> &nbsp; <span style='color:%2'>\u22EF as changed</span> &nbsp; "
         "<span style='color:%3'>\u2501 re-set</span> &nbsp; <span style='color:%4'>%5 wheel</span>")
          .arg(t.base.name(), t.ink.name(), t.kite.name(), t.soft.name(), sideTitle(side));
  if (legend_->text() != legend) legend_->setText(legend);
  const std::array<std::shared_ptr<const Variant>, 3> variants{c->baseline, c->changed, c->reset};
  for (Plot& plot : plots_) {
    double low = 1e9, high = -1e9, from = 1e9, to = -1e9;
    for (std::size_t k = 0; k < variants.size(); ++k) {
      QList<QPointF> points;
      for (const SweepPoint& p : swept(variants[k])) {
        const auto value = valueAt(*plot.figure, *variants[k], p, side);
        if (!value) continue;
        points << QPointF(p.x, *value);
        low = std::min(low, *value);
        high = std::max(high, *value);
        from = std::min(from, p.x);
        to = std::max(to, p.x);
      }
      setPoints(*plot.lines[k], points);
    }
    if (low > high) {
      setPoints(*plot.lines[readingLine], {});
      continue;
    }
    const double margin = 0.5 * std::max(0.08 * (high - low), leastSpan(*plot.figure) - (high - low));
    setAxis(*plot.x, from, to, 3);
    setAxis(*plot.y, low - margin, high + margin, 3);
    const double reading = std::clamp(readingOf(over_, model_.attitude(), rack), from, to);
    setPoints(*plot.lines[readingLine], {QPointF(reading, plot.y->min()), QPointF(reading, plot.y->max())});
  }
}

QString CurvePanel::asCsv() const {
  QStringList lines;
  const SweepSpec& spec = spec_of(over_);
  QStringList header{QStringLiteral("%1_%2").arg(QString::fromUtf8(spec.id.data(), qsizetype(spec.id.size())),
                                                 QString::fromUtf8(spec.unit.data(), qsizetype(spec.unit.size())))};
  for (const Plot& plot : plots_)
    for (const char* which : {"baseline", "changed", "reset"}) {
      QString unit = QString::fromUtf8(symbol(plot.figure->unit).data(), qsizetype(symbol(plot.figure->unit).size()));
      unit.replace(QLatin1Char('/'), QStringLiteral("_per_")).replace(QLatin1Char('%'), QStringLiteral("percent"));
      const QString id = QString::fromUtf8(plot.figure->id.data(), qsizetype(plot.figure->id.size()));
      header << (unit.isEmpty() ? QStringLiteral("%1_%2").arg(id, QLatin1String(which))
                                : QStringLiteral("%1_%2_%3").arg(id, unit, QLatin1String(which)));
    }
  lines << header.join(QLatin1Char(','));
  // Each line holds only the places that it has a value for: rows are gathered by x.
  std::map<double, QStringList> rows;
  int cell = 0;
  const int cells = plotCount * 3;
  for (const Plot& plot : plots_)
    for (int k = 0; k < 3; ++k, ++cell)
      for (const QPointF& p : plot.lines[at(k)]->points()) {
        QStringList& row = rows[p.x()];
        while (row.size() < cells) row << QString();
        row[cell] = QString::number(p.y(), 'g', 10);
      }
  for (const auto& [x, row] : rows)
    lines << QString::number(x, 'g', 10) + QLatin1Char(',') + row.join(QLatin1Char(','));
  return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

tl::expected<void, Fault> CurvePanel::exportCsv(const QString& path) {
  return writeFile(path, asCsv().toUtf8());
}

QString CurvePanel::asJson() const {
  // The same table, one list a column; a place without a value is null.
  const CsvRows rows = parse_csv(asCsv().toStdString(), ',');
  Json j = Json::object();
  for (std::size_t column = 0; column < rows.front().size(); ++column) {
    Json values = Json::array();
    for (std::size_t row = 1; row < rows.size(); ++row)
      values.push_back(rows[row][column].empty() ? Json(nullptr) : Json::parse(rows[row][column]));
    j[rows.front()[column]] = std::move(values);
  }
  return QString::fromStdString(j.dump(1)) + QLatin1Char('\n');
}

tl::expected<void, Fault> CurvePanel::exportJson(const QString& path) {
  return writeFile(path, asJson().toUtf8());
}

tl::expected<void, Fault> CurvePanel::exportSvg(const QString& path) {
  QBuffer file;
  file.open(QIODevice::WriteOnly);
  QSvgGenerator svg;
  svg.setOutputDevice(&file);
  svg.setSize(size());
  svg.setViewBox(rect());
  svg.setTitle(tr("Low Kite: curves"));
  {
    QPainter painter(&svg);
    painter.fillRect(rect(), palette().color(QPalette::Base));
    painter.setFont(textFont(labelSize, true));
    for (const Plot& plot : plots_) {
      const QRect place(plot.view->mapTo(this, QPoint(0, 0)), plot.view->size());
      painter.setPen(tokens(palette()).ink);
      painter.drawText(QRect(place.left(), place.top() - 18, place.width(), 16), Qt::AlignCenter,
                       plot.choice->currentText());
      plot.view->render(&painter, place);
    }
  }
  return writeFile(path, file.data());
}

tl::expected<void, Fault> CurvePanel::exportPng(const QString& path) {
  QBuffer file;
  file.open(QIODevice::WriteOnly);
  grab().save(&file, "PNG");
  return writeFile(path, file.data());
}

void CurvePanel::exportAs(const QString& suffix) {
  const QString path = askPath(suffix);
  if (path.isEmpty()) return;
  const auto written = suffix == QLatin1String("csv")    ? exportCsv(path)
                       : suffix == QLatin1String("json") ? exportJson(path)
                       : suffix == QLatin1String("svg")  ? exportSvg(path)
                                                         : exportPng(path);
  Q_EMIT told(toldOf(written, path));
}

}  // namespace lowkite::app
