#include "app/plan/parts/adjuster_row.h"

#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWhatsThis>
#include <QWheelEvent>

#include "app/drawing/part_glyph.h"
#include "app/help/explain.h"
#include "app/look/theme.h"
#include "app/settings/bench_tools.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int leastValueHeight = 38;

}  // namespace

AdjusterRow::AdjusterRow(PlanModel& model, PartHandle adjuster, QWidget* parent)
    : QFrame(parent), model_(model), adjuster_(adjuster) {
  const QString name = QStringLiteral("adjuster.%1").arg(QString::fromStdString(part().id));
  setObjectName(name);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QString::fromStdString(part().name));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 4, 6, 3);
  column->setSpacing(0);
  const QString called = QString::fromStdString(part().name);
  auto* title = new QLabel(part().only_kept() ? tr("%1 (kept, not computed)").arg(called) : called, this);
  title->setObjectName(name + QStringLiteral(".title"));
  title->setTextFormat(Qt::PlainText);
  title->setFont(textFont(textSize, true));
  value_ = new QLabel(this);
  value_->setObjectName(name + QStringLiteral(".value"));
  value_->setFont(figureFont(12));
  value_->setWordWrap(true);
  glyph_ = new PartGlyph(part(), this);
  glyph_->setObjectName(name + QStringLiteral(".glyph"));
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  if (part().positions()) {
    // The picture of holes and blocks already says which one is used.
    value_->hide();
    row->addWidget(glyph_, 1);
  } else {
    glyph_->setFixedWidth(part().kind == AdjusterKind::turnbuckle ? 78 : 62);
    row->addWidget(glyph_);
    // Its height is set by hand: new words must not lay out the whole list anew.
    value_->setFixedSize(part().kind == AdjusterKind::turnbuckle ? 76 : 92, leastValueHeight);
    row->addWidget(value_);
    row->addStretch();
    if (isMeasured()) value_->installEventFilter(this);
  }
  const auto button = [&](const QString& text, const QString& id, const QString& tip, int by) {
    auto* b = new QToolButton(this);
    b->setText(text);
    b->setObjectName(name + id);
    b->setToolTip(tip);
    b->setAccessibleName(QStringLiteral("%1: %2").arg(QString::fromStdString(part().name), tip));
    b->setFocusPolicy(Qt::NoFocus);
    b->setAutoRepeat(true);
    b->setProperty("stepper", true);
    b->setFixedSize(40, 38);
    connect(b, &QToolButton::clicked, this, [this, by] { step(by); });
    row->addWidget(b);
    return b;
  };
  constexpr std::size_t fewPositions = 4;  // more of them take the row's width, and are picked by a click
  const bool steppers = !part().positions() || part().positions()->list.size() < fewPositions;
  less_ = button(QStringLiteral("\u2212"), QStringLiteral(".less"), tr("One step less (Down)"), -1);
  more_ = button(QStringLiteral("+"), QStringLiteral(".more"), tr("One step more (Up)"), 1);
  less_->setVisible(steppers);
  more_->setVisible(steppers);
  connect(glyph_, &PartGlyph::picked, this, [this](double value) {
    model_.setPart(adjuster_);
    model_.document().setValue(adjuster_, model_.sides(), value);
  });
  end_ = new QLabel(this);
  end_->setObjectName(name + QStringLiteral(".end"));
  end_->setProperty("role", QStringLiteral("quiet"));
  end_->hide();
  title->setWordWrap(true);
  column->addWidget(title);
  column->addLayout(row);
  column->addWidget(end_);
  refresh();
}

const Adjuster& AdjusterRow::part() const {
  return model_.document().car().adjusters[adjuster_];
}

void AdjusterRow::refresh() {
  const Setting& now = model_.document().setup().of(adjuster_);
  const Setting& was = model_.document().baseline().of(adjuster_);
  const Shown shows{now, was, model_.shownSide(), model_.part() == adjuster_, isMeasured() ? caliperLength() : 0.0};
  if (shown_ == shows) return;
  shown_ = shows;
  const bool changed = now != was;
  const bool apart = now.left != now.right;
  QString text = valueText(part(), now.left);
  const Tokens& t = tokens(palette());
  if (apart) {
    const auto side = [&](const QString& sign, double value, double before) {
      return QStringLiteral("<span style='color:%1'>%2%3</span>")
          .arg(value != before ? t.kite.name() : t.ink.name(), value != before ? QStringLiteral("\u25C6 ") : QString(),
               sign.arg(valueText(part(), value)).toHtmlEscaped());
    };
    text = side(tr("L %1"), now.left, was.left) + QStringLiteral("<br>") + side(tr("R %1"), now.right, was.right);
  } else if (changed) {
    const QString before = was.left == was.right ? valueText(part(), was.left) : tr("uneven");
    text = QStringLiteral(
               "<span style='color:%1;font-weight:600'>\u25C6 %2</span><br><span "
               "style='color:%3;font-size:11px'>%4</span>")
               .arg(t.kite.name(), text.toHtmlEscaped(), t.soft.name(), tr("was %1").arg(before).toHtmlEscaped());
  } else {
    text = text.toHtmlEscaped();
  }
  if (isMeasured()) {
    const QString length = tr("%1 mm").arg(number(shows.length_mm, 1));
    if (!apart && !changed) text = tr("%1<br>%2").arg(text, length);
    value_->setToolTip(tr("%1, %2. Double-click, or F2, to type another length.")
                           .arg(length, fromCore(name_of(savedBench().caliper))));
  }
  value_->setText(text);
  const int lines = std::max(leastValueHeight, value_->heightForWidth(value_->width()));
  if (value_->height() != lines && !value_->isHidden()) value_->setFixedHeight(lines);
  const Side side = shows.side;
  const QString noLess = endReason(part(), now.on(side), -1);
  const QString noMore = endReason(part(), now.on(side), 1);
  less_->setEnabled(noLess.isEmpty());
  more_->setEnabled(noMore.isEmpty());
  less_->setToolTip(noLess.isEmpty() ? tr("One step less (Down)") : noLess);
  more_->setToolTip(noMore.isEmpty() ? tr("One step more (Up)") : noMore);
  // Said in the row itself while the part is in hand: no tip opens under a key.
  const QString end = !shows.inHand ? QString() : !noLess.isEmpty() && noMore.isEmpty() ? noLess : noMore;
  end_->setText(end);
  end_->setVisible(!end.isEmpty());
  glyph_->setValues(now.left, now.right, was.on(side), changed);
  update();
}

bool AdjusterRow::event(QEvent* event) {
  if (event->type() == QEvent::QueryWhatsThis) {
    event->accept();
    return true;
  }
  if (event->type() != QEvent::WhatsThis) return QFrame::event(event);
  const Document& document = model_.document();
  QWhatsThis::showText(static_cast<QHelpEvent*>(event)->globalPos(),
                       explainPart(document.car(), document.setup(), adjuster_), this);
  return true;
}

bool AdjusterRow::isMeasured() const {
  const Range* r = part().range();
  if (part().kind != AdjusterKind::turnbuckle || !r || !r->link) return false;
  return part().steering || !model_.document().car().axle(part().end).mechanism->links[r->link].pin;
}

double AdjusterRow::caliperLength() const {
  const Document& document = model_.document();
  return caliper_reading(link_length_mm(document.car(), document.setup(), adjuster_, model_.shownSide()), savedBench());
}

void AdjusterRow::typeLength() {
  model_.setPart(adjuster_);
  if (!length_) {
    length_ = new QDoubleSpinBox(this);
    length_->setObjectName(objectName() + QStringLiteral(".length"));
    length_->setAccessibleName(tr("Length of %1").arg(QString::fromStdString(part().name)));
    length_->setRange(1.0, 400.0);
    length_->setDecimals(1);
    length_->setSuffix(tr(" mm"));
    length_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    length_->installEventFilter(this);
    connect(length_, &QDoubleSpinBox::editingFinished, this, &AdjusterRow::takeLength);
  }
  length_->setValue(caliperLength());
  length_->setGeometry(value_->geometry());
  length_->show();
  length_->setFocus(Qt::OtherFocusReason);
  length_->selectAll();
}

void AdjusterRow::takeLength() {
  if (!length_->isVisible()) return;
  length_->hide();
  const double mm = centres_from_caliper(length_->value(), savedBench());
  // What was not touched does not turn anything, however it is rounded.
  if (std::abs(length_->value() - caliperLength()) < 0.05) return;
  if (const auto done = model_.typeLength(adjuster_, mm); !done)
    Q_EMIT told(tr("%1 %2: %3.").arg(QString::fromStdString(part().name), length_->text(), done.error()));
}

bool AdjusterRow::eventFilter(QObject* watched, QEvent* event) {
  if (watched == value_ && event->type() == QEvent::MouseButtonDblClick) {
    typeLength();
    return true;
  }
  if (watched == length_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
    length_->hide();
    setFocus();
    return true;
  }
  return QFrame::eventFilter(watched, event);
}

void AdjusterRow::step(int by) {
  model_.setPart(adjuster_);
  model_.stepPart(by);
}

void AdjusterRow::paintEvent(QPaintEvent*) {
  const Tokens& t = tokens(palette());
  QPainter p(this);
  const bool inHand = model_.part() == adjuster_;
  if (inHand) {
    p.fillRect(rect(), t.paper);
    p.fillRect(QRect(0, 0, 4, height()), t.kite);
  }
  p.setPen(t.line);
  p.drawLine(0, height() - 1, width(), height() - 1);
}

void AdjusterRow::changeEvent(QEvent* event) {
  QFrame::changeEvent(event);
  if (event->type() != QEvent::PaletteChange || !end_) return;
  shown_.reset();
  refresh();
}

void AdjusterRow::focusInEvent(QFocusEvent* event) {
  QFrame::focusInEvent(event);
  model_.setPart(adjuster_);
}

void AdjusterRow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_F2 && isMeasured())
    typeLength();
  else
    QFrame::keyPressEvent(event);
}

void AdjusterRow::wheelEvent(QWheelEvent* event) {
  // Over the part in hand the wheel steps it; over others it scrolls the list, and goes on doing so when the part in
  // hand comes under the pointer.
  constexpr qint64 oneTurnMs = 700;
  static QElapsedTimer scrolled;
  const bool scrolling = scrolled.isValid() && scrolled.elapsed() < oneTurnMs;
  if (model_.part() != adjuster_ || event->angleDelta().y() == 0 || scrolling) {
    scrolled.start();
    QFrame::wheelEvent(event);
    return;
  }
  model_.stepPart(event->angleDelta().y() > 0 ? 1 : -1);
  event->accept();
}

void AdjusterRow::mousePressEvent(QMouseEvent* event) {
  QFrame::mousePressEvent(event);
  setFocus(Qt::MouseFocusReason);
  model_.setPart(adjuster_);
}

}  // namespace lowkite::app
