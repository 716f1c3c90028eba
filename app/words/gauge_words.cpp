#include "app/words/gauge_words.h"

#include <cmath>

#include <QCoreApplication>
#include <QStringList>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

struct GaugeWords {
  Q_DECLARE_TR_FUNCTIONS(GaugeWords)
};

/// Which part, which way, how far.
QString todo(const Car& car, const Gauge& g, Side side, const GaugeAnswer& a) {
  if (a.collars) {
    const QString way = a.change > 0 ? GaugeWords::tr("down the shock") : GaugeWords::tr("up the shock");
    const QString mm = number(std::abs(a.change), 1);
    switch (spring_holder(car, g.end)) {
      case SpringHolder::collars:
        return GaugeWords::tr("move the %1 spring collar %2 by %3 mm").arg(sideTitle(side), way, mm);
      case SpringHolder::pod:
        return GaugeWords::tr("move the collar in the middle %1 by %2 mm").arg(way, mm);
      case SpringHolder::spacers:
        return GaugeWords::tr("%1 spring: %2 %3 mm of spacers")
            .arg(sideTitle(side), a.change > 0 ? GaugeWords::tr("put in") : GaugeWords::tr("take out"),
                 number(std::abs(a.change), 2));
    }
  }
  if (a.end_point)
    return GaugeWords::tr("set the end point so that the wheel turns %1 deg %2")
        .arg(number(std::abs(a.change), 1), a.change > 0 ? GaugeWords::tr("more") : GaugeWords::tr("less"));
  QStringList names;
  for (const int i : a.adjusters) names << QString::fromStdString(car.adjusters[static_cast<std::size_t>(i)].name);
  const Adjuster& part = car.adjusters[static_cast<std::size_t>(a.adjusters.front())];
  const QString which = GaugeWords::tr("%1, %2").arg(names.join(GaugeWords::tr(" and ")), sideTitle(side));
  // A bar's ball studs are turned by quarters; everything else can be told to an eighth.
  const double parts = g.spec().parts_of_a_turn;
  const QString turns = turnsInEighths(std::round(std::abs(a.change) * parts) / parts);
  if (part.kind == AdjusterKind::turnbuckle)
    return GaugeWords::tr("%1: %2 %3 turn")
        .arg(which, a.change > 0 ? GaugeWords::tr("lengthen") : GaugeWords::tr("shorten"), turns);
  if (part.kind == AdjusterKind::screw)
    return GaugeWords::tr("%1: %2 %3 turn")
        .arg(which, a.change > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"), turns);
  return GaugeWords::tr("%1: %2 %3 mm")
      .arg(which, a.change > 0 ? GaugeWords::tr("add") : GaugeWords::tr("take out"), number(std::abs(a.change), 2));
}

}  // namespace

QString gaugeNumber(const GaugeSpec& spec, double value) {
  if (spec.wording == Wording::toe && std::abs(value) >= 0.5 * std::pow(10.0, -spec.decimals))
    return GaugeWords::tr("%1 %2").arg(number(std::abs(value), spec.decimals),
                                       value > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
  return number(value, spec.decimals);
}

QString gaugeText(const GaugeSpec& spec, double value) {
  const QString plain = GaugeWords::tr("%1 %2").arg(
      number(spec.wording == Wording::toe ? std::abs(value) : value, spec.decimals), unitText(spec.unit));
  if (spec.wording == Wording::plain || std::abs(value) < 0.5 * std::pow(10.0, -spec.decimals)) return plain;
  return GaugeWords::tr("%1 %2").arg(plain, value > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
}

QString answerText(const Car& car, const Gauge& g, Side side, const GaugeAnswer& a, const Tokens& t) {
  const QString off =
      GaugeWords::tr("%1 %2 off").arg(signedNumber(a.difference, g.spec().decimals), unitText(g.spec().unit));
  switch (a.verdict) {
    case GaugeAnswer::Verdict::as_it_should:
      return coloured(t.good, GaugeWords::tr("\u2713 As it should read, to what the gauge can tell."));
    case GaugeAnswer::Verdict::out_of_reach:
      return coloured(
          t.bad,
          GaugeWords::tr("\u2715 %1. No place of its part would read like that: look for a bent or a wrong part.")
              .arg(off));
    case GaugeAnswer::Verdict::no_part:
      return coloured(t.warn, GaugeWords::tr("! %1. No single part answers this gauge.").arg(off));
    case GaugeAnswer::Verdict::turn:
      break;
  }
  return coloured(t.warn, GaugeWords::tr("! %1.").arg(off)) +
         QStringLiteral("<br><b>%1.</b>").arg(todo(car, g, side, a).toHtmlEscaped());
}

}  // namespace lowkite::app
