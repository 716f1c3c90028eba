#include "app/track/laps_page.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

const QString mappingsKey = QStringLiteral("track/mappings");
struct LapColumn {
  enum : int { number, seconds, mark, count };
};

QString standingText(LapStanding s, LapMark m) {
  switch (s) {
    case LapStanding::counts:
      return LapsPage::tr("counts");
    case LapStanding::marked:
      return fromCore(label_in(lap_marks(), m));
    case LapStanding::too_slow:
      return LapsPage::tr("set aside: slow");
    case LapStanding::too_fast:
      return LapsPage::tr("set aside: fast");
  }
  return {};
}

}  // namespace

LapsPage::LapsPage(TrackModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("lapsPage"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 8, 12, 8);
  row->setSpacing(12);
  auto* left = new QVBoxLayout;
  left->setSpacing(6);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("laps.table"));
  dressTable(*table_, {{tr("Lap"), 52, Qt::AlignRight}, {tr("Seconds"), 90, Qt::AlignRight}, {tr("Stands for")}});
  left->addWidget(table_, 1);
  auto* marks = new QHBoxLayout;
  marks->setSpacing(4);
  for (const Named<LapMark>& m : lap_marks()) {
    auto* b = new QPushButton(fromCore(m.label), this);
    b->setObjectName(
        QStringLiteral("laps.mark.%1").arg(QString::fromUtf8(m.id.data(), static_cast<qsizetype>(m.id.size()))));
    b->setToolTip(tr("Marks the lap in hand"));
    connect(b, &QPushButton::clicked, this, [this, mark = m.value] {
      const int at = table_->currentRow();
      if (!model_.run() || at < 0 || static_cast<std::size_t>(at) >= model_.run()->laps.size()) return;
      RunRecord next = *model_.run();
      next.laps[at].mark = mark;
      model_.putRun(next, tr("Mark of a lap"));
    });
    marks->addWidget(b);
  }
  auto* remove = new QPushButton(tr("Remove"), this);
  remove->setObjectName(QStringLiteral("laps.remove"));
  connect(remove, &QPushButton::clicked, this, [this] {
    const int at = table_->currentRow();
    if (!model_.run() || at < 0 || static_cast<std::size_t>(at) >= model_.run()->laps.size()) return;
    RunRecord next = *model_.run();
    next.laps.erase(next.laps.begin() + at);
    model_.putRun(next, tr("Remove a lap"));
  });
  marks->addWidget(remove);
  left->addLayout(marks);
  typed_ = new QPlainTextEdit(this);
  typed_->setObjectName(QStringLiteral("laps.typed"));
  typed_->setAccessibleName(tr("Laps, typed or pasted"));
  typed_->setPlaceholderText(
      tr("14.83  14,91  1:02.3 \u2013 one after the other or a line each; numbers in front are kept"));
  typed_->setFixedHeight(64);
  typed_->setTabChangesFocus(true);
  left->addWidget(typed_);
  add_ = new QPushButton(tr("Add these laps"), this);
  add_->setObjectName(QStringLiteral("laps.add"));
  add_->setProperty("bench", true);
  auto* import = new QPushButton(tr("From a timing system's table..."), this);
  import->setObjectName(QStringLiteral("laps.import"));
  import->setProperty("bench", true);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(add_);
  buttons->addWidget(import);
  left->addLayout(buttons);
  wrong_ = new QLabel(this);
  wrong_->setObjectName(QStringLiteral("laps.wrong"));
  wrong_->setWordWrap(true);
  left->addWidget(wrong_);

  mapBox_ = new QWidget(this);
  auto* grid = new QGridLayout(mapBox_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(4);
  const auto choice = [&](int at, const QString& name, const QString& text) {
    auto* b = new QComboBox(mapBox_);
    b->setObjectName(name);
    b->setAccessibleName(text);
    b->setMinimumHeight(targetHeight);
    b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    b->setMinimumContentsLength(9);
    auto* l = new QLabel(text, mapBox_);
    l->setProperty("role", "quiet");
    grid->addWidget(l, 0, at);
    grid->addWidget(b, 1, at);
    return b;
  };
  time_ = choice(0, QStringLiteral("laps.map.time"), tr("Lap times"));
  number_ = choice(1, QStringLiteral("laps.map.number"), tr("Lap numbers"));
  driverColumn_ = choice(2, QStringLiteral("laps.map.driverColumn"), tr("Drivers"));
  driver_ = choice(3, QStringLiteral("laps.map.driver"), tr("Which of them"));
  preview_ = new QLabel(mapBox_);
  preview_->setObjectName(QStringLiteral("laps.map.preview"));
  preview_->setWordWrap(true);
  grid->addWidget(preview_, 2, 0, 1, 3);
  auto* take = new QPushButton(tr("Take these laps"), mapBox_);
  take->setObjectName(QStringLiteral("laps.map.take"));
  take->setProperty("primary", true);
  grid->addWidget(take, 2, 3);
  mapBox_->hide();
  left->addWidget(mapBox_);

  auto* right = new QVBoxLayout;
  right->setSpacing(6);
  figures_ = new QLabel(this);
  figures_->setObjectName(QStringLiteral("laps.figures"));
  figures_->setWordWrap(true);
  figures_->setFont(textFont(15));
  chart_ = new LineChart(QStringLiteral("laps.chart"), this);
  slower_ = new QDoubleSpinBox(this);
  slower_->setObjectName(QStringLiteral("laps.slower"));
  slower_->setAccessibleName(tr("Laps this much slower than the median are set aside"));
  slower_->setRange(1.0, 100.0);
  slower_->setDecimals(0);
  slower_->setSuffix(tr(" %"));
  slower_->setMinimumHeight(targetHeight);
  slower_->setValue(100.0 * model_.lapRule().slower_share);
  auto* rule = new QHBoxLayout;
  auto* ruleText =
      new QLabel(tr("Set aside as traffic or a crash, unless marked: slower than the median by more than"), this);
  ruleText->setProperty("role", "quiet");
  ruleText->setWordWrap(true);
  rule->addWidget(ruleText, 1);
  rule->addWidget(slower_);
  right->addWidget(figures_);
  right->addWidget(chart_, 1);
  right->addLayout(rule);
  row->addLayout(left, 5);
  row->addLayout(right, 6);

  askTable = [this] {
    return QFileDialog::getOpenFileName(this, tr("A table with lap times"), {},
                                        tr("Tables (*.csv *.txt *.tsv);;All files (*)"));
  };
  connect(add_, &QPushButton::clicked, this, &LapsPage::addTyped);
  connect(import, &QPushButton::clicked, this, [this] {
    if (const QString path = askTable(); !path.isEmpty()) openTable(path);
  });
  connect(take, &QPushButton::clicked, this, &LapsPage::takeTable);
  for (QComboBox* b : {time_, number_, driverColumn_, driver_})
    connect(b, &QComboBox::currentIndexChanged, this, [this, b] {
      if (filling_) return;
      if (b == driverColumn_) {
        const QSignalBlocker quiet(driver_);
        driver_->clear();
        for (const std::string& d : read_->different(driverColumn_->currentData().toInt(), heading_))
          driver_->addItem(QString::fromStdString(d));
      }
      fillMapping();
    });
  connect(slower_, &QDoubleSpinBox::valueChanged, this, [this](double percent) {
    LapRule r = model_.lapRule();
    r.slower_share = percent / 100.0;
    model_.setLapRule(r);
  });
  connect(&model_, &TrackModel::chosen, this, &LapsPage::refresh);
  refresh();
}

void LapsPage::addTyped() {
  if (!model_.run()) {
    wrong_->setText(tr("There is no run to add laps to: begin one with \u201CNew run\u201D."));
    return;
  }
  auto laps = laps_from_text(typed_->toPlainText().toStdString());
  if (!laps) {
    wrong_->setText(QString::fromStdString(laps.error()) + QLatin1Char('.'));
    return;
  }
  if (laps->empty()) return;
  wrong_->clear();
  RunRecord next = *model_.run();
  // Laps that begin at one again go on after those that are there.
  const int last = next.laps.empty() ? 0 : next.laps.back().number;
  const int shift = laps->front().number <= last ? last + 1 - laps->front().number : 0;
  for (Lap l : *laps) {
    l.number += shift;
    next.laps.push_back(l);
  }
  model_.putRun(next, tr("Add laps"));
  typed_->clear();
}

bool LapsPage::openTable(const QString& path) {
  auto table = load_timing(path.toStdString());
  if (!table) {
    wrong_->setText(QString::fromStdString(table.error().line()));
    return false;
  }
  const auto kept = read_mappings(Kept().value(mappingsKey).toString().toStdString());
  auto guess = guess_mapping(*table);
  if (const auto found = kept.find(table->signature()); found != kept.end()) guess = found->second;
  if (!guess) {
    wrong_->setText(
        tr("%1: no column holds lap times; allowed: 14.83, 14,83 or 1:02.34.").arg(QFileInfo(path).fileName()));
    return false;
  }
  wrong_->clear();
  read_ = std::move(*table);
  readName_ = QFileInfo(path).fileName();
  heading_ = guess->heading;
  filling_ = true;
  const auto columns = [&](QComboBox* box, const QString& none, int chosen) {
    box->clear();
    if (!none.isEmpty()) box->addItem(none, -1);
    for (int c = 0; c < static_cast<int>(read_->columns()); ++c) {
      const auto& head = read_->rows.front();
      box->addItem(heading_ && at(c) < head.size() ? QString::fromStdString(head[at(c)]) : tr("column %1").arg(c + 1),
                   c);
    }
    box->setCurrentIndex(std::max(0, box->findData(chosen)));
  };
  columns(time_, {}, guess->time_column);
  columns(number_, tr("as they come"), guess->number_column);
  columns(driverColumn_, tr("only mine"), guess->driver_column);
  driver_->clear();
  for (const std::string& d : read_->different(guess->driver_column, heading_))
    driver_->addItem(QString::fromStdString(d));
  driver_->setCurrentIndex(std::max(0, driver_->findText(QString::fromStdString(guess->driver))));
  filling_ = false;
  mapBox_->show();
  fillMapping();
  return true;
}

LapMapping LapsPage::mapping() const {
  LapMapping m;
  m.time_column = time_->currentData().toInt();
  m.number_column = number_->currentData().toInt();
  m.driver_column = driverColumn_->currentData().toInt();
  m.driver = driver_->currentText().toStdString();
  m.heading = heading_;
  return m;
}

void LapsPage::fillMapping() {
  if (!read_) return;
  driver_->setEnabled(driverColumn_->currentData().toInt() >= 0);
  const auto in = import_laps(*read_, mapping(), readName_.toStdString());
  if (!in) {
    preview_->setText(QString::fromStdString(in.error().line()));
    return;
  }
  QStringList first;
  for (std::size_t i = 0; i < std::min<std::size_t>(3, in->laps.size()); ++i)
    first << tr("%1: %2").arg(in->laps[i].number).arg(QString::fromStdString(lap_text(in->laps[i].seconds, 3)));
  QString text =
      tr("%1: %2 ...")
          .arg(counted(static_cast<int>(in->laps.size()), "%1 lap", "%1 laps"), first.join(QStringLiteral(", ")));
  if (in->missing > 0) text += tr(" %1 missing.").arg(in->missing);
  for (const std::string& r : in->remarks) text += QLatin1Char(' ') + QString::fromStdString(r) + QLatin1Char('.');
  preview_->setText(text);
}

void LapsPage::takeTable() {
  if (!read_ || !model_.run()) return;
  const LapMapping m = mapping();
  const auto in = import_laps(*read_, m, readName_.toStdString());
  if (!in) {
    preview_->setText(QString::fromStdString(in.error().line()));
    return;
  }
  Kept s;
  auto kept = read_mappings(s.value(mappingsKey).toString().toStdString());
  kept[read_->signature()] = m;
  s.setValue(mappingsKey, QString::fromStdString(write_mappings(kept)));
  RunRecord next = *model_.run();
  next.laps = in->laps;
  model_.putRun(next, tr("Laps from %1").arg(readName_));
  mapBox_->hide();
  read_.reset();
}

void LapsPage::refresh() {
  const auto& record = model_.run();
  const int was = table_->currentRow();
  table_->setRowCount(0);
  add_->setEnabled(record.has_value());
  const Tokens& t = tokens(palette());
  if (!record) {
    figures_->setText(tr("No run is in hand."));
    chart_->show({}, {}, {});
    return;
  }
  const auto standing = standings(record->laps, model_.lapRule());
  ChartLine dots{LineKind::points, {}, {}}, line{LineKind::now, {}, {}}, fade{LineKind::before, {}, {}};
  for (std::size_t i = 0; i < record->laps.size(); ++i) {
    const Lap& l = record->laps[i];
    const bool counts = standing[i] == LapStanding::counts;
    const int at = table_->rowCount();
    table_->insertRow(at);
    const std::array<QString, LapColumn::count> cells{
        QString::number(l.number), QString::fromStdString(lap_text(l.seconds, 3)), standingText(standing[i], l.mark)};
    for (int c = 0; c < LapColumn::count; ++c) {
      auto* item = new QTableWidgetItem(cells[static_cast<std::size_t>(c)]);
      item->setFont(figureFont(13, counts && c == LapColumn::seconds));
      item->setTextAlignment((c == LapColumn::mark ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setForeground(counts ? t.ink : t.soft);
      table_->setItem(at, c, item);
    }
    table_->setRowHeight(at, 28);
    (counts ? line : dots).points << QPointF(l.number, l.seconds);
  }
  if (was >= 0 && was < table_->rowCount()) table_->setCurrentCell(was, 0);
  const auto f = lap_figures(record->laps, model_.lapRule());
  if (!f) {
    figures_->setText(tr("No lap counts yet."));
    chart_->show({}, {}, {});
    return;
  }
  if (f->fade && !line.points.isEmpty())
    for (const double x : {line.points.front().x(), line.points.back().x()}) fade.points << QPointF(x, f->fade->at(x));
  // Laps far off would press the rest flat: they are told in the table.
  dots.points.removeIf([&](const QPointF& p) { return p.y() > 1.05 * f->median_s || p.y() < 0.95 * f->median_s; });
  chart_->show(tr("lap"), tr("seconds"), {fade, line, dots}, 0.2);
  const auto s = [](double v) { return QString::fromStdString(lap_text(v)); };
  QString text =
      tr("<b>Best %1 s</b>, mean %2 s, median %3 s. Spread of one lap %4 s, the middle half within %5 s.")
          .arg(s(f->best_s), s(f->mean_s), s(f->median_s), number(f->deviation_s, 2), number(f->middle_half_s, 2));
  if (f->best_in_a_row_s) text += tr(" Best %1 in a row %2 s.").arg(f->row).arg(s(*f->best_in_a_row_s));
  if (f->fade)
    text += f->fades() ? tr(" %1 by %2 \u00B1 %3 s a lap.")
                             .arg(f->fade->slope > 0 ? tr("Fades") : tr("Gets quicker"),
                                  number(std::abs(f->fade->slope), 3), number(f->fade->slope_error, 3))
                       : tr(" No fade that could be told (%1 \u00B1 %2 s a lap).")
                             .arg(signedNumber(f->fade->slope, 3), number(f->fade->slope_error, 3));
  QStringList lost;
  const auto add_lost = [&](double seconds, const QString& to) {
    if (seconds >= 0.05) lost << to.arg(number(seconds, 1));
  };
  add_lost(f->lost_to_crashes_s, tr("%1 s to crashes"));
  add_lost(f->lost_to_traffic_s, tr("%1 s to traffic"));
  add_lost(f->lost_otherwise_s, tr("%1 s to slow laps without a mark"));
  if (!lost.isEmpty()) text += tr(" <b>Lost: %1.</b>").arg(lost.join(tr(", ")));
  text += tr(" Laps that count: %1, set aside: %2").arg(f->counted).arg(f->set_aside);
  text += f->missing > 0 ? tr(", %1 were not recorded.").arg(f->missing) : QStringLiteral(".");
  figures_->setText(text);
}

}  // namespace lowkite::app
