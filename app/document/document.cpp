#include "app/document/document.h"

#include <QDir>
#include <QFileInfo>

#include "app/document/commands.h"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/plan/settling.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite::app {

Document::Document(QObject* parent) : QObject(parent) {}

QString Document::title() const {
  if (!hasCar()) return {};
  const QString name = QString::fromStdString(setup().name);
  return tr("%1 \u2013 %2").arg(QString::fromStdString(car().name), name);
}

void Document::replace(DocumentState state, bool unsaved) {
  state_ = std::move(state);
  savedCar_ = state_.carStamp ? state_.carSource : KeptJson();
  savedSetup_ = setup();
  savedFor_ = state_.car;
  undo_.clear();
  if (unsaved) undo_.resetClean();
  Q_EMIT replaced();
  Q_EMIT inputsChanged();
  Q_EMIT fileChanged();
}

void Document::setValue(PartHandle adjuster, Sides sides, double value) {
  if (!hasPart(adjuster)) return;
  // What an axle has once has no sides.
  if (car().adjusters[adjuster].one_piece()) sides = Sides::both;
  Setup after = setup();
  Setting& s = after.of(adjuster);
  if (sides != Sides::right) s.left = value;
  if (sides != Sides::left) s.right = value;
  if (after == setup()) return;
  const Adjuster& part = car().adjusters[adjuster];
  after = with_what_is_wanted(car(), baseline(), setup(), std::move(after), adjuster);
  after = with_heights_of_parts(car(), baseline(), setup(), std::move(after));
  undo_.push(new SetupCommand(*this, std::move(after), adjuster.number(), QString::fromStdString(part.name)));
}

bool Document::hasPart(PartHandle adjuster) const {
  return hasCar() && adjuster && adjuster.place() < car().adjusters.size();
}

bool Document::step(PartHandle adjuster, Sides sides, int steps) {
  if (!hasPart(adjuster)) return false;
  const Adjuster& part = car().adjusters[adjuster];
  Setup after = setup();
  Setting& s = after.of(adjuster);
  if (part.one_piece()) sides = Sides::both;
  if (sides != Sides::right) s.left = part.stepped(s.left, steps);
  if (sides != Sides::left) s.right = part.stepped(s.right, steps);
  if (after == setup()) return false;
  after = with_what_is_wanted(car(), baseline(), setup(), std::move(after), adjuster);
  after = with_heights_of_parts(car(), baseline(), setup(), std::move(after));
  undo_.push(new SetupCommand(*this, std::move(after), adjuster.number(), QString::fromStdString(part.name)));
  return true;
}

void Document::setRideHeight(End end, double mm) {
  Setup after = setup();
  after.ride_height_mm[at(end)] = mm;
  if (after == setup()) return;
  // Merged like the steps of a part; the numbers stand after those of the adjusters.
  const int part = static_cast<int>(car().adjusters.size()) + static_cast<int>(at(end));
  undo_.push(new SetupCommand(*this, std::move(after), part, tr("Ride height")));
}

void Document::pinBaseline() {
  if (baseline() == setup()) return;
  undo_.push(new BaselineCommand(*this, setup(), tr("Pin baseline")));
}

void Document::putBaseline(const Setup& setup, const QString& what) {
  if (!hasCar() || !fits(setup, car()) || setup == baseline()) return;
  undo_.push(new BaselineCommand(*this, setup, what));
}

void Document::putSetup(const Setup& setup, const QString& what) {
  if (!hasCar() || !fits(setup, car()) || setup == this->setup()) return;
  undo_.push(new SetupCommand(*this, with_heights_of_parts(car(), baseline(), this->setup(), setup), -1, what));
}

bool isShipped(const QString& path) {
  if (path.isEmpty()) return false;
  const QString data = QFileInfo(QString::fromStdString(data_folder().string())).canonicalFilePath();
  const QFileInfo file(path);
  // A file that is not there yet would lie in its folder.
  const QString place = file.exists() ? file.canonicalFilePath() : file.dir().canonicalPath() + QLatin1Char('/');
  return !data.isEmpty() && place.startsWith(data + QLatin1Char('/'));
}

bool Document::carIsShipped() const {
  return isShipped(state_.carPath);
}

tl::expected<void, Faults> Document::editCar(Json source, const QString& what, int merge) {
  if (source == state_.carSource) return {};
  auto edited = recheck(std::move(source), car().name);
  if (!edited) return tl::unexpected(edited.error());
  undo_.push(new CarCommand(*this, std::move(*edited), merge, what));
  return {};
}

tl::expected<void, Fault> Document::saveCar(const QString& path) {
  const QString target = path.isEmpty() ? state_.carPath : path;
  const bool same = QFileInfo(target) == QFileInfo(state_.carPath);
  const auto stamp =
      replace_file(target.toStdString(), write_car(state_.carSource), same ? state_.carStamp : std::nullopt);
  if (!stamp) return tl::unexpected(stamp.error());
  state_.carPath = target;
  state_.carStamp = *stamp;
  savedCar_ = state_.carSource;
  if (carried_over(*savedFor_, savedSetup_, car()) == setup()) undo_.setClean();
  Q_EMIT fileChanged();
  return {};
}

void Document::keepOverDisk(const QString& path) {
  const auto text = read_file(path.toStdString());
  if (!text) return;
  if (path == state_.setupPath) state_.stamp = FileStamp::of(*text);
  if (path == state_.carPath) state_.carStamp = FileStamp::of(*text);
}

tl::expected<void, Fault> Document::save(const QString& path) {
  const QString target = path.isEmpty() ? state_.setupPath : path;
  if (isShipped(target))
    return tl::unexpected(Fault{target.toStdString(), "", "this file comes with the program and stays as it is",
                                "a folder of your own: Save as"});
  const bool same = QFileInfo(target) == QFileInfo(state_.setupPath);
  Setup saved = setup();
  // A setup saved beside the one that it came from is a setup of its own, and knows its origin.
  if (!same && (saved.name == "Kit" || saved.name == savedSetup_.name)) {
    if (saved.name != "Kit" && !state_.setupPath.isEmpty()) saved.based_on = saved.name;
    if (saved.name == "Kit" || !state_.setupPath.isEmpty())
      saved.name = QFileInfo(target).fileName().section(QLatin1Char('.'), 0, 0).toStdString();
  }
  const std::string text = write_setup(saved, car(), state_.file.source);
  const auto stamp = replace_file(target.toStdString(), text, same ? state_.stamp : std::nullopt);
  if (!stamp) return tl::unexpected(stamp.error());
  // Only now: a save that failed has changed nothing.
  putSetup(saved, tr("Name"));
  state_.setupPath = target;
  state_.stamp = *stamp;
  savedSetup_ = setup();
  savedFor_ = state_.car;
  if (auto document = parse_json(text, target.toStdString())) state_.file.source = std::move(*document);
  undo_.setClean();
  Q_EMIT fileChanged();
  return {};
}

void Document::restoreSetup(const Setup& setup) {
  state_.file.setup = setup;
  Q_EMIT inputsChanged();
}

void Document::restoreCar(const CarFile& file, const Setup& setup, const Setup& baseline) {
  state_.car = file.car;
  state_.carSource = file.source;
  state_.file.setup = setup;
  state_.baseline = baseline;
  Q_EMIT carEdited();
  Q_EMIT inputsChanged();
  Q_EMIT fileChanged();
}

void Document::restoreBaseline(const Setup& baseline) {
  state_.baseline = baseline;
  Q_EMIT inputsChanged();
}

}  // namespace lowkite::app
