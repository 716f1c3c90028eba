#include "app/words/wording.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>
#include <QStringList>

#include "core/car/wrench.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/wanted.hpp"
#include "core/words/say.hpp"

namespace lowkite::app {
namespace {

struct PlainWords {
  Q_DECLARE_TR_FUNCTIONS(PlainWords)
};

double halfLast(int decimals) {
  return 0.5 * std::pow(10.0, -decimals);
}

}  // namespace

QString withoutKeys(QString name) {
  return name.replace(QLatin1Char('&'), QStringLiteral("&&"));
}

QString fromCore(std::string_view text) {
  return QString::fromStdString(word(text));
}

QString sentenceOf(const std::string& failure) {
  const QString text = fromCore(failure);
  return text.left(1).toUpper() + text.mid(1) + (text.endsWith(QLatin1Char('.')) ? QString() : QStringLiteral("."));
}

QString turnsInEighths(double turns) {
  const auto eighths = std::lround(std::abs(turns) * 8.0);
  const auto whole = eighths / 8;
  auto part = eighths % 8;
  if (part == 0) return QString::number(whole);
  long of = 8;
  while (part % 2 == 0) {
    part /= 2;
    of /= 2;
  }
  const QString fraction = QStringLiteral("%1/%2").arg(part).arg(of);
  return whole == 0 ? fraction : QStringLiteral("%1 %2").arg(whole).arg(fraction);
}

QString turnsText(double turns) {
  return std::lround(std::abs(turns) * 8.0) > 8 ? PlainWords::tr("%1 turns").arg(turnsInEighths(turns))
                                                : PlainWords::tr("%1 turn").arg(turnsInEighths(turns));
}

QString number(double value, int decimals) {
  if (std::abs(value) < halfLast(decimals)) value = 0.0;
  QString text = QString::number(value, 'f', decimals);
  return text.replace(QLatin1Char('-'), QChar(0x2212));
}

QString counted(int n, const char* one, const char* many) {
  return QString::fromStdString(word(one, many, static_cast<unsigned long>(std::max(0, n)))).arg(n);
}

QString signedNumber(double value, int decimals) {
  const QString text = number(value, decimals);
  return value > 0 && std::abs(value) >= halfLast(decimals) ? QLatin1Char('+') + text : text;
}

QString endReason(const Adjuster& adjuster, double value, int way) {
  if (adjuster.stepped(value, way) != value) return {};
  switch (adjuster.kind) {
    case AdjusterKind::shim_stack:
      return way > 0        ? PlainWords::tr("the most that fits here")
             : value < 1e-9 ? PlainWords::tr("no shim is left to take out")
                            : PlainWords::tr("the least that fits here");
    case AdjusterKind::turnbuckle:
      return way > 0 ? PlainWords::tr("the thread ends here: no longer")
                     : PlainWords::tr("the thread ends here: no shorter");
    case AdjusterKind::screw:
      return way > 0 ? PlainWords::tr("the screw is all the way in") : PlainWords::tr("the screw is all the way out");
    case AdjusterKind::hole:
      return way > 0 ? PlainWords::tr("the last hole") : PlainWords::tr("the first hole");
    case AdjusterKind::insert:
    case AdjusterKind::choice:
    case AdjusterKind::spline:
    case AdjusterKind::kept:
      return way > 0 ? PlainWords::tr("the last of its choices") : PlainWords::tr("the first of its choices");
  }
  return {};
}

QString valueText(const Adjuster& adjuster, double value) {
  switch (adjuster.kind) {
    case AdjusterKind::shim_stack:
      return PlainWords::tr("%1 mm").arg(QString::number(value, 'g', 4));
    case AdjusterKind::hole:
      return PlainWords::tr("hole %1").arg(
          QString::fromStdString(adjuster.positions()->list[at(std::lround(value))].label));
    case AdjusterKind::insert:
    case AdjusterKind::choice:
    case AdjusterKind::spline:
    case AdjusterKind::kept:
      return QString::fromStdString(adjuster.positions()->list[at(std::lround(value))].label);
    case AdjusterKind::turnbuckle: {
      if (std::abs(value) < 1e-9) return PlainWords::tr("kit length");
      const bool eighth = std::abs(value * 8.0 - std::round(value * 8.0)) < 1e-6;
      const QString turns = eighth ? turnsText(value) : PlainWords::tr("%1 turns").arg(number(std::abs(value), 2));
      return value > 0 ? PlainWords::tr("%1 longer").arg(turns) : PlainWords::tr("%1 shorter").arg(turns);
    }
    case AdjusterKind::screw: {
      if (std::abs(value) < 1e-9) return PlainWords::tr("kit place");
      return value > 0 ? PlainWords::tr("%1 in").arg(turnsText(value)) : PlainWords::tr("%1 out").arg(turnsText(value));
    }
  }
  return {};
}

QString figureText(const FigureSpec& figure, const std::optional<double>& value, int extraDecimals) {
  if (!value) return fromCore(figure.without());
  const int decimals = figure.decimals + extraDecimals;
  switch (figure.wording) {
    case Wording::plain:
      return number(*value, decimals);
    case Wording::toe: {
      const QString size = number(std::abs(*value), decimals);
      if (std::abs(*value) < halfLast(decimals)) return size;
      return *value > 0 ? PlainWords::tr("%1 in").arg(size) : PlainWords::tr("%1 out").arg(size);
    }
  }
  return {};
}

QString figureWithUnit(const FigureSpec& figure, const std::optional<double>& value, int extraDecimals) {
  if (!value) return fromCore(figure.without());
  const int decimals = figure.decimals + extraDecimals;
  const QString plain = PlainWords::tr("%1 %2").arg(
      number(figure.wording == Wording::toe ? std::abs(*value) : *value, decimals), unitText(figure.unit));
  if (figure.wording == Wording::plain || std::abs(*value) < halfLast(decimals)) return plain;
  return *value > 0 ? PlainWords::tr("%1 in").arg(plain) : PlainWords::tr("%1 out").arg(plain);
}

bool moved(const FigureSpec& figure, const std::optional<double>& from, const std::optional<double>& to,
           int extraDecimals) {
  if (from.has_value() != to.has_value()) return true;
  return from && std::abs(*to - *from) >= halfLast(figure.decimals + extraDecimals);
}

QString differenceText(const FigureSpec& figure, const std::optional<double>& from, const std::optional<double>& to,
                       int extraDecimals) {
  if (!moved(figure, from, to, extraDecimals) || !from || !to) return {};
  // One decimal more than the values: else two that look alike would differ by "0.1".
  const int decimals = figure.decimals + extraDecimals + 1;
  const double change = *to - *from;
  switch (figure.wording) {
    case Wording::plain:
      return signedNumber(change, decimals);
    case Wording::toe:
      return change > 0 ? PlainWords::tr("%1 inw.").arg(number(change, decimals))
                        : PlainWords::tr("%1 outw.").arg(number(-change, decimals));
  }
  return {};
}

QString rangeText(const FigureSpec& figure, double least, double most) {
  const auto plain = [](double v) {
    QString text = QString::number(std::abs(v), 'g', 4);
    return v < 0.0 ? QChar(0x2212) + text : text;
  };
  if (figure.wording != Wording::toe) return PlainWords::tr("%1 to %2").arg(plain(least), plain(most));
  const QString in = PlainWords::tr("in");
  const QString out = PlainWords::tr("out");
  if (most <= 0.0) return PlainWords::tr("%1 to %2 %3").arg(plain(-most), plain(-least), out);
  if (least >= 0.0) return PlainWords::tr("%1 to %2 %3").arg(plain(least), plain(most), in);
  return PlainWords::tr("%1 %2 to %3 %4").arg(plain(-least), out, plain(most), in);
}

QString rangeWithUnit(const FigureSpec& figure, double least, double most) {
  return (figure.wording == Wording::toe ? PlainWords::tr("%1, %2") : PlainWords::tr("%1 %2"))
      .arg(rangeText(figure, least, most), unitText(figure.unit));
}

QString figureLabel(const FigureSpec& figure) {
  return fromCore(figure.label);
}

QString unitText(Unit unit) {
  return fromCore(symbol(unit));
}

QString groupTitle(FigureGroup group) {
  switch (group) {
    case FigureGroup::stance:
      return PlainWords::tr("Stance");
    case FigureGroup::tyre:
      return PlainWords::tr("Tyre to the ground");
    case FigureGroup::roll:
      return PlainWords::tr("Roll");
    case FigureGroup::side:
      return PlainWords::tr("From the side");
    case FigureGroup::steering:
      return PlainWords::tr("Kingpin and bump steer");
    case FigureGroup::lock:
      return PlainWords::tr("Steering and lock");
    case FigureGroup::travel:
      return PlainWords::tr("Travel");
    case FigureGroup::shock:
      return PlainWords::tr("Shock");
    case FigureGroup::shaft:
      return PlainWords::tr("Drive shaft");
    case FigureGroup::springs:
      return PlainWords::tr("On its springs");
    case FigureGroup::laps:
      return PlainWords::tr("Laps");
  }
  return {};
}

QString placeLabel(const FigurePlace& place) {
  QString text = fromCore(place.figure->label);
  if (place.side)
    text = PlainWords::tr("%1 %2").arg(text, *place.side == Side::left ? PlainWords::tr("L") : PlainWords::tr("R"));
  if (const QString unit = unitText(place.figure->unit); !unit.isEmpty())
    text = PlainWords::tr("%1, %2").arg(text, unit);
  return place.end ? PlainWords::tr("%1 %2").arg(endTitle(*place.end), text) : text;
}

QString partTitle(const Adjuster& adjuster) {
  const QString name = QString::fromStdString(adjuster.name);
  // A part that only moves weight belongs to the car, at whichever axle a hand finds it.
  const bool weight = adjuster.moves_weight() && !adjuster.moves_geometry();
  const QString end = weight ? PlainWords::tr("weights") : endTitle(adjuster.end);
  return PlainWords::tr("%1: %2").arg(end.left(1).toUpper() + end.mid(1), name.left(1).toLower() + name.mid(1));
}

QString endTitle(End end) {
  return end == End::front ? PlainWords::tr("front") : PlainWords::tr("rear");
}
QString sideTitle(Side side) {
  return side == Side::left ? PlainWords::tr("left") : PlainWords::tr("right");
}

namespace {

QString turnWay(const WrenchTurn& t) {
  return t.clockwise_from_outer ? PlainWords::tr("clockwise seen from the wheel")
                                : PlainWords::tr("counter-clockwise seen from the wheel");
}
/// One stands before the front axle, and behind the rear one.
QString topWay(const WrenchTurn& t, End end) {
  const bool towards = t.top_forward == (end == End::front);
  const QString where = end == End::front ? PlainWords::tr("before the car") : PlainWords::tr("behind the car");
  return towards ? PlainWords::tr("top of the wrench towards you %1").arg(where)
                 : PlainWords::tr("top of the wrench away from you %1").arg(where);
}

}  // namespace

QString wrenchText(const Car& car, PartHandle turnbuckle, Side side, bool lengthen) {
  const auto t = wrench_turn(car, turnbuckle, side, lengthen);
  if (!t) return {};
  return PlainWords::tr("%1, %2").arg(turnWay(*t), topWay(*t, car.adjusters[turnbuckle].end));
}

QString wrenchTextForBoth(const Car& car, PartHandle turnbuckle, bool lengthen) {
  const auto left = wrench_turn(car, turnbuckle, Side::left, lengthen);
  const auto right = wrench_turn(car, turnbuckle, Side::right, lengthen);
  if (!left || !right) return {};
  if (left->top_forward == right->top_forward) return topWay(*left, car.adjusters[turnbuckle].end);
  return left->clockwise_from_outer == right->clockwise_from_outer ? turnWay(*left) : QString();
}

QStringList resetSentences(const Car& car, const ResetResult& work, bool wrench) {
  QStringList sentences;
  std::vector<bool> told(work.steps.size(), false);
  for (std::size_t i = 0; i < work.steps.size(); ++i) {
    if (told[i]) continue;
    const ResetStep& step = work.steps[i];
    const Adjuster& part = car.adjusters[step.adjuster];
    bool both = false;
    for (std::size_t j = i + 1; j < work.steps.size(); ++j) {
      const ResetStep& other = work.steps[j];
      if (other.adjuster == step.adjuster && other.turns == step.turns && other.thread_ends == step.thread_ends) {
        told[j] = true;
        both = true;
      }
    }
    const QString verb = step.turns > 0 ? PlainWords::tr("Lengthen") : PlainWords::tr("Shorten");
    const QString which = both ? PlainWords::tr("both") : PlainWords::tr("the %1").arg(sideTitle(step.side));
    const MechanismSpec& mechanism = *car.axle(part.end).mechanism;
    const QString link = fromCore(mechanism.links[part.range()->link].label);
    const QString noun = both ? PlainWords::tr("%1s").arg(link) : link;
    QString text;
    if (step.turns != 0.0)
      text = PlainWords::tr("%1 %2 %3 %4 %5 (%6 mm)")
                 .arg(verb, which, endTitle(part.end), noun, turnsText(step.turns), signedNumber(step.mm, 2));
    const QString way = both ? wrenchTextForBoth(car, step.adjuster, step.turns > 0)
                             : wrenchText(car, step.adjuster, step.side, step.turns > 0);
    if (wrench && step.turns != 0.0 && !way.isEmpty()) text += PlainWords::tr(": %1").arg(way);
    if (step.thread_ends)
      text += PlainWords::tr("%1the thread of %2 %3 %4 ends there; %5 turns would be needed")
                  .arg(text.isEmpty() ? QString() : QStringLiteral(": "), which, endTitle(part.end), noun,
                       number(std::abs(step.exact_turns), 2));
    sentences << text;
  }
  return sentences;
}

std::vector<DroopLine> droopLines(const Car& car, const BenchReset& bench) {
  std::vector<DroopLine> lines;
  std::vector<const DroopStep*> told;
  for (const DroopStep& s : bench.droop) {
    if (std::find(told.begin(), told.end(), &s) != told.end()) continue;
    const Adjuster& part = car.adjusters[s.adjuster];
    // Both wheels at once, where they are to do the same.
    const auto other = std::find_if(bench.droop.begin(), bench.droop.end(), [&](const DroopStep& o) {
      return o.adjuster == s.adjuster && o.side != s.side && o.by == s.by && o.value == s.value && o.ends == s.ends &&
             o.other_stop == s.other_stop;
    });
    const bool alike = other != bench.droop.end();
    if (alike) told.push_back(&*other);
    if (s.other_stop) {
      lines.push_back({PlainWords::tr("%1 droop cannot be put back: something else stops the wheel first")
                           .arg(endTitle(part.end))});
      continue;
    }
    const bool screw = s.stop == StopKind::droop_screw;
    const QString whichPair = screw ? PlainWords::tr("both %1 droop screws") : PlainWords::tr("both %1 shocks");
    const QString whichOne = screw ? PlainWords::tr("the %1 %2 droop screw") : PlainWords::tr("the %1 %2 shock");
    const QString axle = endTitle(part.end).toLower();
    const QString which = alike ? whichPair.arg(axle) : whichOne.arg(axle, sideTitle(s.side));
    if (s.by != 0.0 && screw)
      lines.push_back({PlainWords::tr("Turn %1 %2 %3")
                           .arg(which, turnsText(s.by), s.by > 0.0 ? PlainWords::tr("in") : PlainWords::tr("out")),
                       s.adjuster});
    else if (s.by != 0.0)
      lines.push_back({(s.by > 0.0 ? PlainWords::tr("More spacers inside %1: %2 \u2192 %3")
                                   : PlainWords::tr("Fewer spacers inside %1: %2 \u2192 %3"))
                           .arg(which, valueText(part, s.value - s.by), valueText(part, s.value)),
                       s.adjuster, true});
    if (!s.ends) continue;
    if (screw)
      lines.push_back(
          {PlainWords::tr("%1 ends there; %2 turns would be needed").arg(which, number(std::abs(s.exact), 2))});
    else
      lines.push_back(
          {(s.exact > 0.0
                ? PlainWords::tr("%1: no more spacers go in; %2 mm more, or a shorter eyelet, would be needed")
                : PlainWords::tr("%1: no more spacers to take out; %2 mm less, or a longer eyelet, would be needed"))
               .arg(which, number(std::abs(s.exact - s.by), 1))});
  }
  return lines;
}

QString collarMoveWords(const CollarMove& move, double mm) {
  const bool fine = move.holder == SpringHolder::spacers || move.what == CollarMove::What::side_screws;
  const QString by = number(std::abs(mm), fine ? 2 : 1);
  const QString way = mm > 0.0 ? PlainWords::tr("down") : PlainWords::tr("up");
  switch (move.what) {
    case CollarMove::What::middle:
      return PlainWords::tr("%1 middle collar %2 mm %3").arg(endTitle(move.end), by, way);
    case CollarMove::What::side_screws:
      return PlainWords::tr("%1 side springs: left screw %2 mm %3, right one as much %4")
          .arg(endTitle(move.end), by, way, mm > 0.0 ? PlainWords::tr("up") : PlainWords::tr("down"));
    case CollarMove::What::left:
    case CollarMove::What::right:
      break;
  }
  const QString side = move.what == CollarMove::What::left ? PlainWords::tr("left") : PlainWords::tr("right");
  if (move.holder == SpringHolder::spacers)
    return PlainWords::tr("%1 %2 spring: %3 mm %4 spacers")
        .arg(endTitle(move.end), side, by, mm > 0.0 ? PlainWords::tr("more") : PlainWords::tr("less"));
  return PlainWords::tr("%1 %2 collar %3 mm %4").arg(endTitle(move.end), side, by, way);
}

QString collarSentence(const Car& car, const BenchReset& bench, End end) {
  const SpringHolder holder = spring_holder(car, end);
  if (holder == SpringHolder::spacers) return {};  // they stay in: the car stands as they let it
  const auto& mm = bench.collar_mm[at(end)];
  if (!mm[0] || !mm[1]) return {};
  constexpr double least_mm = 0.05;
  if (std::abs(*mm[0]) < least_mm && std::abs(*mm[1]) < least_mm) return {};
  const auto way = [](double by) { return by > 0 ? PlainWords::tr("down") : PlainWords::tr("up"); };
  if (holder == SpringHolder::pod)
    return PlainWords::tr("%1 middle collar %2 mm %3 the shock holds the ride height")
        .arg(endTitle(end), number(std::abs(*mm[0]), 1), way(*mm[0]));
  if (std::abs(*mm[0] - *mm[1]) < least_mm)
    return PlainWords::tr("%1 collars %2 mm %3 the shock hold the ride height")
        .arg(endTitle(end), number(std::abs(*mm[0]), 1), way(*mm[0]));
  return PlainWords::tr("%1 collars, left %2 mm %3, right %4 mm %5 the shock hold the ride height")
      .arg(endTitle(end), number(std::abs(*mm[0]), 1), way(*mm[0]), number(std::abs(*mm[1]), 1), way(*mm[1]));
}

QString endPointSentence(const BenchReset& bench) {
  if (!bench.end_point_rad) return {};
  constexpr double least_deg = 0.25;
  QStringList ways;
  for (const Side way : both_sides) {
    const double by = degrees((*bench.end_point_rad)[at(way)]);
    if (std::abs(by) >= least_deg)
      ways << PlainWords::tr("%1 %2 deg %3")
                  .arg(sideTitle(way), number(std::abs(by), 1),
                       by > 0 ? PlainWords::tr("more") : PlainWords::tr("less"));
  }
  return ways.isEmpty() ? QString() : PlainWords::tr("servo end points %1").arg(ways.join(PlainWords::tr(", ")));
}

QString leftOverSentence(const Comparison& c, End end) {
  QStringList parts;
  for (const auto& [id, member] :
       {std::pair("camber", &WheelError::camber_rad), std::pair("toe", &WheelError::toe_rad)}) {
    const FigureSpec& figure = *find_figure(id);
    // The side that is further off speaks for both.
    const auto& left_over = c.work.left_over[at(end)];
    const Side side = std::abs(left_over[0].*member) >= std::abs(left_over[1].*member) ? Side::left : Side::right;
    if (std::abs(degrees(left_over[at(side)].*member)) < 0.005) continue;
    const bool camber = member == &WheelError::camber_rad;
    // As the car stands, however it is looked at.
    const auto standing = [&](const Variant& v) -> std::optional<double> {
      const WheelFigures& w = v.source.standing.axle[at(end)].wheel[at(side)];
      return degrees(camber ? w.camber_rad : w.toe_rad);
    };
    const auto is = standing(*c.aligned);
    const auto was = standing(*c.baseline);
    // An angle that was set on purpose is held against what was wanted.
    const auto& wheel = c.changed->setup.wanted[at(end)][at(side)];
    const auto& wish = camber ? wheel.camber_deg : wheel.toe_deg;
    parts << (wish ? PlainWords::tr("%1 %2 (wanted %3)") : PlainWords::tr("%1 %2 (was %3)"))
                 .arg(figureLabel(figure), figureText(figure, is, 1), figureText(figure, wish ? wish : was, 1));
  }
  return parts.isEmpty() ? QString()
                         : PlainWords::tr("%1 stays %2").arg(endTitle(end), parts.join(PlainWords::tr(", ")));
}

QString lostDroopSentence(const Comparison& c, End end) {
  constexpr double told_mm = 0.3;
  const Car& car = *c.changed->model.car;
  if (!car.axle(end).mechanism->independent) return {};
  if (spring_holder(car, end) == SpringHolder::spacers) return {};  // it is told with the height
  bool opened = false;
  for (const DroopStep& s : c.bench->droop) {
    if (car.adjusters[s.adjuster].end != end) continue;
    if (s.ends || s.other_stop) return {};  // said there
    opened = opened || s.stop == StopKind::shock_extended;
  }
  // The side that is further off speaks for both.
  Side side = Side::left;
  PerSide<double> more{};
  for (const Side s : both_sides)
    more[at(s)] = c.reset->source.travel.corner[at(end)][at(s)].stops.hanging_wheel_low_mm -
                  wanted_hanging(*c.baseline, c.changed->setup, end, s);
  if (std::abs(more[1]) > std::abs(more[0])) side = Side::right;
  if (std::abs(more[at(side)]) < told_mm) return {};
  const FigureSpec& droop = *find_figure("droop");
  const auto is = droop.read(c.reset->source, end, side);
  if (!is) return {};
  const QString now = PlainWords::tr("%1 droop %2 to %3")
                          .arg(endTitle(end), figureText(droop, *is - more[at(side)], 0), figureWithUnit(droop, is, 0));
  const StopKind stop = c.reset->source.travel.corner[at(end)][at(side)].stops.droop.kind;
  const bool has_spacers = !parts_of_stop(car, end, StopKind::shock_extended).empty();
  if (opened) return PlainWords::tr("%1: no spacer comes nearer").arg(now);
  if (has_spacers && stop == StopKind::shock_extended)
    return PlainWords::tr("%1: a spacer brings back less than half of it, so no shock is opened").arg(now);
  return PlainWords::tr("%1: no screw puts it back, %2 would")
      .arg(now, more[at(side)] < 0.0 ? PlainWords::tr("a longer eyelet or a spacer less in the shock")
                                     : PlainWords::tr("a shorter eyelet or a spacer more in the shock"));
}

QString standNotes(const CarModel& model, const Balance& balance) {
  QStringList notes;
  for (const StandNote& note : notes_on(model, balance)) notes << fromCore(in_words(note));
  QString text = notes.join(QStringLiteral("; "));
  if (!text.isEmpty()) text[0] = text[0].toUpper();
  return text;
}

QString standNotesOf(const Car& car, const Setup& setup, const HeldTurn& under) {
  const auto model = build_model(car, setup);
  const auto load =
      model ? put_on_springs(car, setup, under) : tl::expected<LoadSource, CarFailure>(tl::unexpect, model.error());
  if (!load) return sentenceOf(load.error());
  const QString notes = standNotes(*model, load->balance);
  return notes.isEmpty() ? QString() : notes + QLatin1Char('.');
}

QString feelingText(const Feeling& f) {
  const SenseWords& w = words_of(f.sense);
  const QString where = f.turn == TurnWay::both ? fromCore(label_in(phases(), f.phase))
                                                : PlainWords::tr("%1, %2").arg(fromCore(label_in(phases(), f.phase)),
                                                                               fromCore(label_in(turn_ways(), f.turn)));
  const QString much = std::abs(f.amount) > 1 ? PlainWords::tr(" (a lot)") : QString();
  return PlainWords::tr("%1: %2 %3%4")
      .arg(where, fromCore(w.label).toLower(), fromCore(f.amount < 0 ? w.minus : w.plus), much);
}

}  // namespace lowkite::app
