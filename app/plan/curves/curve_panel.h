// Three curves at once: any figure over travel, roll, pitch or steering; baseline, as changed, after the re-set.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <vector>

#include <QWidget>

#include "app/compute/plan_model.h"
#include "core/measure/sweep.hpp"

class QComboBox;
class QLabel;
class QLineSeries;
class QValueAxis;
class QChart;
class QChartView;

namespace lowkite::app {

class CurvePanel : public QWidget {
  Q_OBJECT
 public:
  static constexpr int plotCount = 3;

  explicit CurvePanel(PlanModel& model, QWidget* parent = nullptr);

  void setOver(SweepOver over);
  void setFigure(int plot, std::string_view figure);
  [[nodiscard]] SweepOver over() const { return over_; }

  /// What is drawn, as numbers: x, then baseline, as changed and after re-set of each plot.
  [[nodiscard]] QString asCsv() const;
  [[nodiscard]] QString asJson() const;
  tl::expected<void, Fault> exportJson(const QString& path);
  tl::expected<void, Fault> exportCsv(const QString& path);
  tl::expected<void, Fault> exportSvg(const QString& path);
  tl::expected<void, Fault> exportPng(const QString& path);

  /// Asks for a path to write to; answerable by tests.
  std::function<QString(const QString& suffix)> askPath;

 Q_SIGNALS:
  void told(const QString& news);

 protected:
  void changeEvent(QEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  enum Line { baselineLine, changedLine, resetLine, readingLine, lineCount };
  struct Plot {
    QComboBox* choice = nullptr;
    QChart* chart = nullptr;
    QChartView* view = nullptr;
    std::array<QLineSeries*, lineCount> lines{};
    QValueAxis* x = nullptr;
    QValueAxis* y = nullptr;
    const FigureSpec* figure = nullptr;
    const FigureSpec* wanted = nullptr;  ///< what was chosen; drawn again where it means something
  };
  Plot makePlot(int index);
  void fillChoices();
  void refresh();
  void restyle();
  void exportAs(const QString& suffix);
  /// The sweep of a variant; kept while neither it nor what is swept changes.
  const std::vector<SweepPoint>& swept(const std::shared_ptr<const Variant>& variant);
  [[nodiscard]] std::optional<double> valueAt(const FigureSpec& f, const Variant& v, const SweepPoint& p, Side side);

  PlanModel& model_;
  SweepOver over_ = SweepOver::travel;
  std::array<Plot, plotCount> plots_;
  QComboBox* overChoice_ = nullptr;
  QLabel* legend_;
  bool stale_ = true;
  std::shared_ptr<const Car> filledFor_;
  End filledEnd_ = End::front;
  struct Swept {
    std::shared_ptr<const Variant> variant;
    Sweep sweep;
    ViewAttitude view;
    std::vector<SweepPoint> points;
  };
  std::vector<Swept> kept_;
  FigureSource scratch_;
};

}  // namespace lowkite::app
