// Numbers and parts in a racer's words. The core grades; here it is put into language.
#pragma once

#include <string_view>
#include <vector>

#include <QString>

#include "core/figures/figures.hpp"
#include "core/figures/load_source.hpp"
#include "core/load/turn.hpp"
#include "core/log/log.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite::app {

/// The core's own words (labels, titles, reasons) in the racer's language.
QString fromCore(std::string_view text);
/// A name for a button or a menu, where a single ampersand would make the letter after it a key.
QString withoutKeys(QString name);
/// A failure that the core tells in half a sentence, as a whole one.
QString sentenceOf(const std::string& failure);
inline QString sentenceOf(const CarFailure& failure) {
  return sentenceOf(failure.message);
}

/// "3/8", "1 1/4", "2"; the value is taken as a whole number of eighths.
QString turnsInEighths(double turns);
/// "3/8 turn", "1 turn", "1 1/4 turns".
QString turnsText(double turns);

/// A number with real minus sign and fixed decimals; never "-0.0".
QString number(double value, int decimals);
/// The same with its sign always shown.
QString signedNumber(double value, int decimals);

/// "1 lap", "12 laps": `one` and `many` hold %1.
QString counted(int n, const char* one, const char* many);

/// A part's name with its axle, where both are told together: "Front: camber link, inner ball".
QString partTitle(const Adjuster& adjuster);

/// What an adjuster's value says on the part: "2.5 mm", "hole 2", "1/4 turn longer".
QString valueText(const Adjuster& adjuster, double value);

/// Why a part goes no further up (+1) or down (-1) from `value`: "the thread ends here"; "" while it does.
QString endReason(const Adjuster& adjuster, double value, int way);

/// A figure's value without its unit: "1.0 out", "5.2"; "at infinity" when there is none.
QString figureText(const FigureSpec& figure, const std::optional<double>& value, int extraDecimals);
/// The same with its unit, where a racer says it: "1.0 deg out", "5.2 mm".
QString figureWithUnit(const FigureSpec& figure, const std::optional<double>& value, int extraDecimals);
/// The difference of two values, "" when they are the same to the last decimal shown.
QString differenceText(const FigureSpec& figure, const std::optional<double>& from, const std::optional<double>& to,
                       int extraDecimals);
/// True when two values differ by more than the last decimal shown can tell.
bool moved(const FigureSpec& figure, const std::optional<double>& from, const std::optional<double>& to,
           int extraDecimals);

/// "0.5 to 1.5 out", "-2 to -1": as few decimals as say it.
QString rangeText(const FigureSpec& figure, double least, double most);
/// The same with its unit: "0.5 to 1.5 out, deg", "-2 to -1 deg".
QString rangeWithUnit(const FigureSpec& figure, double least, double most);

QString figureLabel(const FigureSpec& figure);
QString unitText(Unit unit);
/// "front camber L, deg", "roll, deg".
QString placeLabel(const FigurePlace& place);
QString groupTitle(FigureGroup group);
QString endTitle(End end);
QString sideTitle(Side side);

/// Which way to turn the wrench: "clockwise seen from the wheel, top of the wrench towards you before the car"; empty
/// where the car does not tell its marked ends.
QString wrenchText(const Car& car, PartHandle turnbuckle, Side side, bool lengthen);
/// The same for both sides turned alike: what they have in common.
QString wrenchTextForBoth(const Car& car, PartHandle turnbuckle, bool lengthen);

/// The bench work in sentences, both sides of a pair told together.
/// `wrench`: with the way to turn it, where the car tells its marked ends.
QStringList resetSentences(const Car& car, const ResetResult& work, bool wrench = false);
struct DroopLine {
  QString text;
  PartHandle part = {};  ///< the adjuster that is turned or changed; none: what cannot be put back
  bool opens = false;    ///< a pair of shocks, for it
};
/// What gives the droop back, both sides of a pair told together, and what cannot be put back.
std::vector<DroopLine> droopLines(const Car& car, const BenchReset& bench);
/// "Front left collar 0.6 mm down" and its like, whatever holds the springs there.
QString collarMoveWords(const CollarMove& move, double mm);
/// "Front collars 0.6 mm down" and its like; where nothing is to be moved, "".
QString collarSentence(const Car& car, const BenchReset& bench, End end);
/// "end points: left 2.1 deg less" of the servo, or "".
QString endPointSentence(const BenchReset& bench);
/// What the rounding to eighths leaves: "front camber stays -1.4 (was -1.3)", or "".
QString leftOverSentence(const Comparison& comparison, End end);
/// What is not put back: "front droop 12.7 to 7.1 mm: ...", or "". What a part at its end leaves, droopLines tell.
QString lostDroopSentence(const Comparison& comparison, End end);

/// "Rear left shock pushed in as far as it goes"; several with "; " between them, "" when there is nothing to say.
QString standNotes(const CarModel& model, const Balance& balance);
/// The same of a setup put on its springs, as a sentence; where it cannot stand so, why.
QString standNotesOf(const Car& car, const Setup& setup, const HeldTurn& under);

/// "pushes wide, entry, left turns: a little": what was felt, where.
QString feelingText(const Feeling& feeling);

}  // namespace lowkite::app
