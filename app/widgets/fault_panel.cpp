#include "app/widgets/fault_panel.h"

#include <algorithm>
#include <array>

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "core/linkage/at.hpp"
#include "core/words/say.hpp"

namespace lowkite::app {
namespace {

constexpr int mostTableHeight = 260;  ///< beyond that it scrolls, so that the work stays in sight

}  // namespace

FaultPanel::FaultPanel(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("faults"));
  setProperty("panel", true);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 16, 12);
  auto* top = new QHBoxLayout;
  heading_ = new QLabel(this);
  heading_->setObjectName(QStringLiteral("faults.heading"));
  heading_->setFont(textFont(16, true));
  auto* copyButton = new QPushButton(tr("Copy"), this);
  copyButton->setObjectName(QStringLiteral("faults.copy"));
  auto* close = new QPushButton(tr("Close"), this);
  close->setObjectName(QStringLiteral("faults.close"));
  top->addWidget(heading_, 1);
  top->addWidget(copyButton);
  top->addWidget(close);
  table_ = new QTableWidget(0, 4, this);
  table_->setObjectName(QStringLiteral("faults.table"));
  table_->setHorizontalHeaderLabels({tr("File"), tr("Field"), tr("What is wrong"), tr("What is allowed")});
  table_->verticalHeader()->hide();
  table_->setWordWrap(true);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  column->addLayout(top);
  column->addWidget(table_, 1);
  connect(copyButton, &QPushButton::clicked, this, &FaultPanel::copy);
  connect(close, &QPushButton::clicked, this, &QWidget::hide);
  hide();
}

void FaultPanel::show(const Faults& faults) {
  const QString count = QString::fromStdString(word("%1 thing to mend", "%1 things to mend", faults.size()));
  fill(faults,
       tr("\u2715  The file was not opened: %1. What was open before is untouched.").arg(count.arg(faults.size())));
}

void FaultPanel::showLeftOut(const Faults& faults) {
  const std::string told = word("\u25C6  Left out: %1 thing. All else was taken.",
                                "\u25C6  Left out: %1 things. All else was taken.", faults.size());
  fill(faults, QString::fromStdString(told).arg(faults.size()));
}

void FaultPanel::fill(const Faults& faults, const QString& heading) {
  faults_ = faults;
  heading_->setText(heading);
  table_->setRowCount(static_cast<int>(faults.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const Fault& f = faults[at(row)];
    const std::array<const std::string*, 4> cells{&f.file, &f.place, &f.wrong, &f.allowed};
    for (int c = 0; c < 4; ++c) table_->setItem(row, c, new QTableWidgetItem(QString::fromStdString(*cells[at(c)])));
  }
  QFrame::show();
  table_->resizeRowsToContents();
  int high = table_->horizontalHeader()->height() + 4;
  for (int row = 0; row < table_->rowCount(); ++row) high += table_->rowHeight(row);
  // Never so much that the window would have to grow.
  table_->setFixedHeight(std::min({high, mostTableHeight, window()->height() / 4}));
}

void FaultPanel::copy() const {
  QString text;
  for (const Fault& f : faults_) text += QString::fromStdString(f.line()) + QLatin1Char('\n');
  QApplication::clipboard()->setText(text);
}

}  // namespace lowkite::app
