// How the program's controls are drawn and how large they are. Colours come from the palette, so that another shade is
// another palette and nothing else; what a control is for it says by a property.
#pragma once

#include <QProxyStyle>

namespace lowkite::app {

/// Properties that are heeded (all but `role` are switches):
///  - buttons: `primary` what to do next, `quiet` no frame, `segment` one of a few, `boxed` a segment with a frame,
///    `stepper` one step of a value, `tight`, `slim`, `big`, `scale`, `bench` for wet hands, `leftward` text at the
///    left;
///  - fields: `bench`;
///  - frames: `panel` a sheet with a frame, `stage` a sheet without;
///  - labels: `role` as `heading` or `quiet`;
///  - headers: `inset`, px, where the cells below have more than the usual room beside their text;
///  - splitters: `kept` no line where nothing points.
class KiteStyle : public QProxyStyle {
  Q_OBJECT
 public:
  KiteStyle();

  void polish(QWidget* widget) override;
  using QProxyStyle::polish;
  void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p,
                     const QWidget* widget) const override;
  void drawControl(ControlElement element, const QStyleOption* option, QPainter* p,
                   const QWidget* widget) const override;
  void drawComplexControl(ComplexControl control, const QStyleOptionComplex* option, QPainter* p,
                          const QWidget* widget) const override;
  [[nodiscard]] QRect subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl part,
                                     const QWidget* widget) const override;
  [[nodiscard]] QRect subElementRect(SubElement element, const QStyleOption* option,
                                     const QWidget* widget) const override;
  [[nodiscard]] QSize sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents,
                                       const QWidget* widget) const override;
  [[nodiscard]] int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override;
};

}  // namespace lowkite::app
