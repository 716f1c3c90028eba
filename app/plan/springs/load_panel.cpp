#include "app/plan/springs/load_panel.h"

#include <cmath>

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QSignalBlocker>
#include <QSlider>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/springs/fields.h"
#include "app/widgets/form_column.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr double gPerStep = 0.1;
struct LoadColumn {
  enum : int { what, was, is, count };
};

QString lateralWords(double g) {
  return g == 0.0  ? LoadPanel::tr("straight on")
         : g > 0.0 ? LoadPanel::tr("left turn, %1 g").arg(number(g, 1))
                   : LoadPanel::tr("right turn, %1 g").arg(number(-g, 1));
}

QString longitudinalWords(double g) {
  return g == 0.0  ? LoadPanel::tr("steady speed")
         : g > 0.0 ? LoadPanel::tr("on power, %1 g").arg(number(g, 1))
                   : LoadPanel::tr("braking, %1 g").arg(number(-g, 1));
}

}  // namespace

/// The four wheels from above, front up, each with a bar as high as what it carries; the baseline as an outline.
class WheelLoadView : public QWidget {
 public:
  explicit WheelLoadView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("load.wheels"));
    setFixedWidth(220);
  }
  void show(const Balance* now, const Balance* before) {
    now_ = now ? std::optional(*now) : std::nullopt;
    before_ = before ? std::optional(*before) : std::nullopt;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    if (!now_) return;
    const Tokens& t = tokens(palette());
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double most = now_->total_n();
    const double half = 0.5 * height();
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const WheelState& w = now_->wheel[at(end)][at(side)];
        const double x = side == Side::left ? 4.0 : width() - 26.0;
        const double foot = (end == End::front ? 1.0 : 2.0) * half - 6.0;
        const double full = half - 12.0;
        const auto bar = [&](double n) {
          const double high = std::max(1.0, full * std::min(1.0, n / (0.6 * most)));
          return QRectF(x, foot - high, 22.0, high);
        };
        p.fillRect(bar(w.load_n), w.lifted ? t.warn : t.ink);
        if (before_) {
          p.setPen(QPen(t.base, 1.5, Qt::DashLine));
          p.drawRect(bar(before_->wheel[at(end)][at(side)].load_n));
        }
        p.setPen(w.lifted ? t.warn : t.ink);
        p.setFont(figureFont(12, true));
        const QString text = w.lifted ? LoadPanel::tr("lifted") : LoadPanel::tr("%1 g").arg(number(grams(w.load_n), 0));
        const QRectF place(side == Side::left ? x + 25.0 : x - 49.0, foot - 18.0, 46.0, 16.0);
        p.drawText(place, (side == Side::left ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, text);
      }
    p.setPen(t.soft);
    p.setFont(textFont(labelSize));
    for (const End end : both_ends)
      p.drawText(QRectF(0.0, (end == End::front ? 0.0 : half) + 2.0, width(), 14.0), Qt::AlignCenter, endTitle(end));
  }

 private:
  std::optional<Balance> now_, before_;
};

LoadPanel::LoadPanel(SprungCars& cars, QWidget* parent) : QWidget(parent), cars_(cars), model_(cars.model()) {
  setObjectName(QStringLiteral("load"));
  constexpr int sliderWidth = 280;
  const FormColumn page = formColumn(this, sliderWidth + 12);
  QVBoxLayout* const left = page.form;
  QHBoxLayout* const row = page.across;
  left->setSpacing(0);
  const auto slider = [&](const QString& name, const QString& said, int least, int most, QLabel*& text) {
    text = new QLabel(this);
    text->setObjectName(name + QStringLiteral(".text"));
    text->setFont(figureFont(12));
    auto* s = new QSlider(Qt::Horizontal, this);
    s->setObjectName(name);
    s->setAccessibleName(said);
    s->setRange(least, most);
    s->setMinimumHeight(targetHeight);
    s->setFixedWidth(sliderWidth);
    connect(s, &QSlider::valueChanged, this, &LoadPanel::refresh);
    left->addWidget(text);
    left->addWidget(s);
    return s;
  };
  lateral_ = slider(QStringLiteral("load.lateral"), tr("Cornering"), -25, 25, lateralText_);
  longitudinal_ = slider(QStringLiteral("load.longitudinal"), tr("Braking and power"), -15, 15, longitudinalText_);
  radius_ = radiusField(this, QStringLiteral("load.radius"));
  radius_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  radius_->setFixedWidth(160);
  connect(radius_, &QDoubleSpinBox::valueChanged, this, &LoadPanel::refresh);
  left->addWidget(radius_);
  show_ = new QCheckBox(tr("drawings follow"), this);
  show_->setObjectName(QStringLiteral("load.show"));
  connect(show_, &QCheckBox::toggled, this, [this](bool on) {
    if (on) {
      hold();
    } else {
      model_.setForces(std::nullopt);
      model_.setAttitude({});
    }
  });
  left->addWidget(show_, 0, Qt::AlignLeft);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("load.news"));
  news_->setWordWrap(true);
  news_->setFont(textFont(labelSize));
  news_->setFixedWidth(sliderWidth);
  left->addWidget(news_, 1);
  wheels_ = new WheelLoadView(this);
  row->addWidget(wheels_);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("load.table"));
  dressTable(*table_, {{QString()}, {tr("Baseline"), 90, Qt::AlignRight}, {tr("Re-set"), 90, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setMaximumWidth(560);
  row->addWidget(table_, 3);
  row->addStretch();
  connect(&cars_, &SprungCars::changed, this, &LoadPanel::refresh);
}

LoadPanel::~LoadPanel() = default;

void LoadPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

Acceleration LoadPanel::acceleration() const {
  return {gPerStep * lateral_->value(), gPerStep * longitudinal_->value()};
}

HeldTurn LoadPanel::turn() const {
  return {acceleration(), radius_->value()};
}

void LoadPanel::solve(Read& read, const SprungCar& sprung) {
  if (read.variant == sprung.variant && read.source && read.under == acceleration() &&
      read.radius_m == radius_->value())
    return;
  read = {sprung.variant, std::nullopt, acceleration(), radius_->value(), sprung.wrong};
  if (!sprung.car) return;
  const std::optional<double> radius_mm =
      radius_->value() > 0.0 ? std::optional(1000.0 * radius_->value()) : std::nullopt;
  const auto servo = servo_under(sprung.car->model(), acceleration(), radius_mm);
  auto source = read_load(*sprung.car, acceleration(), servo.value_or(0.0));
  if (!servo)
    read.wrong = sprung.car->model().steering ? tr("The steering does not turn that far: wheels straight.")
                                              : tr("The car file describes no steering: wheels straight.");
  if (source) {
    read.source = std::move(*source);
  } else {
    read.wrong = sentenceOf(source.error());
  }
}

void LoadPanel::refresh() {
  const Comparison* c = model_.comparison();
  lateralText_->setText(lateralWords(acceleration().lateral_g));
  longitudinalText_->setText(longitudinalWords(acceleration().longitudinal_g));
  if (!c || !isVisible()) return;
  solve(now_, cars_.now());
  solve(before_, cars_.before());
  wheels_->show(now(), before());
  QString news = now_.wrong;
  if (now())
    if (const QString notes = standNotes(now_.variant->model, *now()); !notes.isEmpty())
      news = tr("%1. %2").arg(notes, news).trimmed();
  news_->setText(news);
  news_->setToolTip(news);
  fillTable();
  if (show_->isChecked()) hold();
}

void LoadPanel::fillTable() {
  struct Line {
    QString text;
    std::optional<double> was, is;
    int decimals;
  };
  std::vector<Line> lines;
  for (const FigurePlace& p : places_of(load_figures())) {
    const auto of = [&](const Read& s) { return s.source ? p.read(*s.source) : std::optional<double>(); };
    const auto was = of(before_);
    const auto is = of(now_);
    if (was || is) lines.push_back({placeLabel(p), was, is, p.figure->decimals});
  }
  const Tokens& t = tokens(palette());
  table_->setRowCount(static_cast<int>(lines.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const Line& l = lines[at(row)];
    const auto shown = [&](const std::optional<double>& v) { return v ? number(*v, l.decimals) : tr("none"); };
    const bool moved = shown(l.was) != shown(l.is);
    const std::array<QString, LoadColumn::count> texts{l.text, shown(l.was), shown(l.is)};
    for (int i = 0; i < LoadColumn::count; ++i) {
      auto* item = new QTableWidgetItem(texts[at(i)]);
      item->setFont(i == LoadColumn::what ? textFont(12) : figureFont(12, i == LoadColumn::is));
      item->setTextAlignment((i == LoadColumn::what ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setForeground(i == LoadColumn::is && moved ? t.kite : i == LoadColumn::was ? t.base : t.ink);
      item->setToolTip(l.text);
      table_->setItem(row, i, item);
    }
    table_->setRowHeight(row, 22);
  }
}

void LoadPanel::hold() {
  if (!now()) return;
  const Attitude& a = now()->attitude;
  const auto& rest = now_.variant->model.ride_height_mm;
  ViewAttitude view = model_.attitude();
  view.bump_mm = 0.5 * (rest[0] + rest[1] - a.ride_height_mm[0] - a.ride_height_mm[1]);
  view.roll_rad = a.roll_rad;
  view.servo_rad = a.servo_rad;
  view.pitch_rad = now()->pitch_rad;
  if (view != model_.attitude()) model_.setAttitude(view);
  PerEnd<PerSide<GroundForce>> forces;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const WheelState& w = now()->wheel[at(end)][at(side)];
      forces[at(end)][at(side)] = {w.longitudinal_n, w.lateral_n, w.load_n};
    }
  model_.setForces(forces);
}

}  // namespace lowkite::app
