// The look: contrast of the tokens, dark mode, targets large enough, nothing without its unit.
#include <cmath>

#include <QAbstractButton>
#include <QAction>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QStyleOption>

#include "app/look/theme.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

// Relative luminance and contrast ratio of WCAG 2.1 (formulas from memory).
double luminance(const QColor& c) {
  const auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a) + 0.05;
  const double y = luminance(b) + 0.05;
  return std::max(x, y) / std::min(x, y);
}

TEST(ContrastFormula, GivesTheKnownExtremes) {
  EXPECT_NEAR(contrast(Qt::black, Qt::white), 21.0, 1e-3);
  EXPECT_NEAR(contrast(Qt::red, Qt::red), 1.0, 1e-9);
}

TEST(Tokens, AreReadableOnPaperAndSurface) {
  for (const Shade shade : {Shade::light, Shade::dark}) {
    const Tokens& t = tokens(shade);
    for (const QColor& ground : {t.paper, t.surface})
      for (const QColor& c : {t.ink, t.soft, t.kite, t.base, t.good, t.warn, t.bad})
        EXPECT_GE(contrast(c, ground), 5.0) << c.name().toStdString();
  }
}

class Look : public WindowTest {};

TEST_F(Look, DarkIsSwitchedOnAndOffAndRepaintsTheDrawing) {
  const auto paper = [&] { return window_->grab().toImage().pixelColor(4, 2); };
  EXPECT_EQ(paper(), tokens(Shade::light).paper);
  key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(window_->shade(), Shade::dark);
  EXPECT_EQ(paper(), tokens(Shade::dark).paper);
  key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(paper(), tokens(Shade::light).paper);
}

TEST_F(Look, AScrollBarIsDraggedAndPagedWhereItIsDrawn) {
  auto* area = find<QScrollArea>(QStringLiteral("adjusters.scroll"));
  QScrollBar* bar = area->verticalScrollBar();
  ASSERT_GT(bar->maximum(), 0);
  QStyleOptionSlider option;
  option.initFrom(bar);
  option.orientation = Qt::Vertical;
  option.minimum = bar->minimum();
  option.maximum = bar->maximum();
  option.pageStep = bar->pageStep();
  const auto handle = [&] {
    option.sliderPosition = option.sliderValue = bar->value();
    return bar->style()->subControlRect(QStyle::CC_ScrollBar, &option, QStyle::SC_ScrollBarSlider, bar);
  };
  bar->setValue(0);
  EXPECT_EQ(handle().top(), 0);
  // Drawn there, in the colour of a line.
  EXPECT_EQ(bar->grab().toImage().pixelColor(handle().center()), tokens(Shade::light).line);
  const QPoint from = handle().center();
  QTest::mousePress(bar, Qt::LeftButton, {}, from);
  QTest::mouseMove(bar, from + QPoint(0, 40));
  QTest::mouseRelease(bar, Qt::LeftButton, {}, from + QPoint(0, 40));
  EXPECT_NEAR(handle().center().y(), from.y() + 40, 2);
  const int dragged = bar->value();
  QTest::mouseClick(bar, Qt::LeftButton, {}, QPoint(bar->width() / 2, bar->height() - 3));
  EXPECT_GT(bar->value(), dragged) << "below the handle: a page on";
  bar->setValue(bar->maximum());
  EXPECT_EQ(handle().bottom(), bar->height() - 1);
  EXPECT_GE(handle().height(), targetHeight);
}

TEST_F(Look, EveryButtonIsLargeEnoughForAThumb) {
  for (QAbstractButton* b : window_->findChildren<QAbstractButton*>()) {
    if (!b->isVisible()) continue;
    EXPECT_GE(b->height(), targetHeight) << b->objectName().toStdString();
    EXPECT_GE(b->width(), targetHeight) << b->objectName().toStdString();
  }
}

TEST_F(Look, NoButtonsTextIsCut) {
  openPage(PlanWorkspace::Page::rollCentre);
  for (QAbstractButton* b : window_->findChildren<QAbstractButton*>()) {
    if (!b->isVisible() || b->text().size() < 2) continue;
    EXPECT_LE(b->fontMetrics().horizontalAdvance(b->text()), b->width() - 8) << b->text().toStdString();
  }
}

TEST_F(Look, EveryFigureHasAUnit) {
  for (const FigureSpec& f : geometry_figures()) EXPECT_FALSE(symbol(f.unit).empty()) << f.id;
}

TEST_F(Look, AChangedPartIsMarkedByASignNotByColourAlone) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(text(QStringLiteral("adjuster.front_link_inner_shims.value")).contains(QChar(0x25C6)));
  EXPECT_TRUE(text(QStringLiteral("adjuster.front_link_inner_shims.value")).contains(QStringLiteral("was 2 mm")));
}

TEST_F(Look, TheWindowFits1280By800) {
  EXPECT_LE(window_->minimumSizeHint().width(), 1280);
  EXPECT_LE(window_->minimumSizeHint().height(), 800);
  EXPECT_EQ(window_->size(), QSize(1280, 800));
}

}  // namespace
}  // namespace lowkite::app
