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

/// "1 1/4 turn", or mm where the collar's thread is not known.
QString collarAmount(const Car& car, End end, double mm) {
  const double pitch = car.axle(end).collar_pitch_mm;
  if (!(pitch > 0.0)) return GaugeWords::tr("%1 mm").arg(number(std::abs(mm), 1));
  return GaugeWords::tr("%1 (%2 mm)").arg(turnsText(mm / pitch), number(std::abs(mm), 1));
}

/// Which part, which way, how far.
QString todo(const Car& car, const Gauge& g, Side side, const GaugeAnswer& a) {
  if (a.collars) {
    const QString way = a.told > 0 ? GaugeWords::tr("down the shock") : GaugeWords::tr("up the shock");
    switch (spring_holder(car, g.end)) {
      case SpringHolder::collars:
        return GaugeWords::tr("move both %1 spring collars %2, each by %3")
            .arg(endTitle(g.end).toLower(), way, collarAmount(car, g.end, a.told));
      case SpringHolder::pod:
        return GaugeWords::tr("move the collar in the middle %1 by %2").arg(way, collarAmount(car, g.end, a.told));
      case SpringHolder::spacers:
        return GaugeWords::tr("both %1 springs: %2 %3 mm of spacers each")
            .arg(endTitle(g.end).toLower(), a.told > 0 ? GaugeWords::tr("put in") : GaugeWords::tr("take out"),
                 number(std::abs(a.told), 2));
    }
  }
  if (a.end_point)
    return GaugeWords::tr("set the end point so that the wheel turns %1 deg %2")
        .arg(number(std::abs(a.told), 1), a.told > 0 ? GaugeWords::tr("more") : GaugeWords::tr("less"));
  QStringList names;
  for (const PartHandle i : a.adjusters) names << QString::fromStdString(car.adjusters[i].name);
  const Adjuster& part = car.adjusters[a.adjusters.front()];
  const QString which = GaugeWords::tr("%1, %2").arg(names.join(GaugeWords::tr(" and ")), sideTitle(side));
  if (a.verdict == GaugeAnswer::Verdict::until_it_moves)
    return GaugeWords::tr("%1: it does not reach what it stops. Turn it %2 until the reading changes, then read again")
        .arg(which, a.told > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
  const QString turns = turnsText(a.told);
  if (part.kind == AdjusterKind::turnbuckle) {
    const QString wrench = a.adjusters.size() == 1 ? wrenchText(car, a.adjusters.front(), side, a.told > 0) : QString();
    return GaugeWords::tr("%1: %2 %3%4")
        .arg(which, a.told > 0 ? GaugeWords::tr("lengthen") : GaugeWords::tr("shorten"), turns,
             wrench.isEmpty() ? QString() : GaugeWords::tr(", %1").arg(wrench));
  }
  if (part.kind == AdjusterKind::screw)
    return GaugeWords::tr("%1: %2 %3").arg(which, turns, a.told > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
  return GaugeWords::tr("%1: %2 %3 mm")
      .arg(which, a.told > 0 ? GaugeWords::tr("add") : GaugeWords::tr("take out"), number(std::abs(a.told), 2));
}

}  // namespace

QString gaugeNumber(const GaugeSpec& spec, double value) {
  if (spec.wording == Wording::toe && std::abs(value) >= 0.5 * std::pow(10.0, -spec.decimals))
    return GaugeWords::tr("%1 %2").arg(number(std::abs(value), spec.decimals),
                                       value > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
  return number(value, spec.decimals);
}

QString gaugeText(const GaugeSpec& spec, double value) {
  if (spec.unit == Unit::turns) return turnsText(value);
  const QString plain = GaugeWords::tr("%1 %2").arg(
      number(spec.wording == Wording::toe ? std::abs(value) : value, spec.decimals), unitText(spec.unit));
  if (spec.wording == Wording::plain || std::abs(value) < 0.5 * std::pow(10.0, -spec.decimals)) return plain;
  return GaugeWords::tr("%1 %2").arg(plain, value > 0 ? GaugeWords::tr("in") : GaugeWords::tr("out"));
}

QString targetText(const GaugeSpec& spec, double value) {
  if (!spec.play) return gaugeText(spec, value);
  if (spec.play->least <= 0.0) return GaugeWords::tr("up to %1").arg(gaugeText(spec, spec.play->most));
  if (spec.unit == Unit::turns) return gaugeText(spec, value);
  return GaugeWords::tr("%1 to %2").arg(gaugeNumber(spec, spec.play->least), gaugeText(spec, spec.play->most));
}

QString tellsText(const GaugeSpec& spec) {
  return spec.play ? QString()
                   : GaugeWords::tr("tells \u00B1 %1 %2").arg(QString::number(spec.resolution), unitText(spec.unit));
}

namespace {

/// Of play: whether it is what is wanted, what gives or takes it, and what to look for.
QString playText(const GaugeSpec& spec, const GaugeAnswer& a, const Tokens& t) {
  const double read = a.target + a.difference;
  if (a.verdict == GaugeAnswer::Verdict::as_it_should)
    return coloured(t.good, GaugeWords::tr("\u2713 As it should be: as much play as is wanted."));
  const QString is = read > spec.play->most ? GaugeWords::tr("! %1: looser than wanted.").arg(gaugeText(spec, read))
                                            : GaugeWords::tr("! %1: tighter than wanted.").arg(gaugeText(spec, read));
  QString told = coloured(t.warn, is);
  if (a.verdict == GaugeAnswer::Verdict::turn)
    told +=
        QStringLiteral("<br><b>%1 %2.</b>")
            .arg(fromCore(a.told > 0.0 ? spec.play->looser : spec.play->tighter), gaugeText(spec, std::abs(a.told)));
  if (read > spec.play->most && !spec.play->besides.empty())
    told += QStringLiteral("<br>") + (a.verdict == GaugeAnswer::Verdict::turn
                                          ? GaugeWords::tr("Or look first: %1").arg(fromCore(spec.play->besides))
                                          : fromCore(spec.play->besides));
  return told;
}

}  // namespace

QString answerText(const Car& car, const Gauge& g, Side side, const GaugeAnswer& a, const Tokens& t) {
  if (g.spec().play) return playText(g.spec(), a, t);
  const QString off =
      GaugeWords::tr("%1 %2 off").arg(signedNumber(a.difference, g.spec().decimals), unitText(g.spec().unit));
  switch (a.verdict) {
    case GaugeAnswer::Verdict::as_it_should:
      return coloured(t.good, GaugeWords::tr("\u2713 As it should read, to what the gauge can tell."));
    case GaugeAnswer::Verdict::closest:
      return coloured(t.good, GaugeWords::tr("\u2713 %1: as near as the smallest step brings it.").arg(off));
    case GaugeAnswer::Verdict::other_side:
      return coloured(t.soft, GaugeWords::tr("Read the other side too: only both together tell what to turn."));
    case GaugeAnswer::Verdict::out_of_reach:
      if (g.kind == &gauge::bar_lift)
        return coloured(t.bad, GaugeWords::tr("\u2715 %1. No place of the links reads like both. Look for a bent wire, "
                                              "an arm that binds, or unequal droop.")
                                   .arg(off));
      if (a.collars) return coloured(t.bad, GaugeWords::tr("\u2715 %1. The box has no spacers for that.").arg(off));
      if (a.thread_ends)
        return coloured(t.bad,
                        GaugeWords::tr("\u2715 %1. Its thread is at its end there: look for another part that is "
                                       "not as planned.")
                            .arg(off));
      return coloured(
          t.bad,
          GaugeWords::tr("\u2715 %1. No place of its part would read like that: look for a bent or a wrong part.")
              .arg(off));
    case GaugeAnswer::Verdict::no_part:
      return coloured(t.warn, GaugeWords::tr("! %1. No single part answers this gauge.").arg(off));
    case GaugeAnswer::Verdict::turn:
    case GaugeAnswer::Verdict::until_it_moves:
      break;
  }
  QString told = coloured(t.warn, GaugeWords::tr("! %1.").arg(off)) +
                 QStringLiteral("<br><b>%1.</b>").arg(todo(car, g, side, a).toHtmlEscaped());
  if (a.thread_ends) told += QLatin1Char(' ') + GaugeWords::tr("More the thread does not give.");
  if (g.spec().pair_off_by || a.collars) told += QLatin1Char(' ') + GaugeWords::tr("Then measure again.");
  return told;
}

}  // namespace lowkite::app
