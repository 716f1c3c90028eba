#include "app/plan/sheet/sheet_work.h"

#include <QDir>
#include <QFileInfo>

#include "app/document/write_file.h"
#include "app/settings/bench_tools.h"
#include "core/io/atomic_file.hpp"

namespace lowkite::app {

SheetWork::SheetWork(PlanModel& model, QObject* parent) : QObject(parent), model_(model) {}

void SheetWork::open(const QString& path) {
  files_.read(
      path, [this](SheetFile file) { takeFile(std::move(file)); },
      [this](const Fault& fault) { Q_EMIT failed(fault); });
}

void SheetWork::takeFile(SheetFile file) {
  file_ = std::move(file);
  picture_ = file_->form.fields.empty();
  asked_ = nullptr;
  refresh();
  Q_EMIT opened();
}

void SheetWork::askCar() {
  asked_ = document().sharedCar();
  places_ = sheet_places(*asked_);
  remembered_ = false;
  if (picture_) {
    // What was typed for a place that the new car has too stays.
    std::map<std::string, FormField> typed;
    for (std::size_t i = 0; i < matches_.size() && i < file_->form.fields.size(); ++i)
      if (matches_.size() == file_->form.fields.size()) typed[matches_[i].place] = file_->form.fields[i];
    file_->form.fields.clear();
    matches_.clear();
    for (const SheetPlace& p : places_) {
      if (p.kind == SheetPlaceKind::noted || p.kind == SheetPlaceKind::camber_minus ||
          p.kind == SheetPlaceKind::toe_out || p.kind == SheetPlaceKind::toe_in)
        continue;
      FormField f;
      if (const auto before = typed.find(p.id); before != typed.end()) f = before->second;
      f.name = p.id;
      f.label = p.label;
      file_->form.fields.push_back(f);
      matches_.push_back({p.id, std::nullopt, {}});
    }
    return;
  }
  matches_.clear();
  if (const auto text = read_file(sheetMatchesPath(file_->form).toStdString()))
    if (auto known = read_matches(*text, "sheet", file_->form)) {
      matches_ = std::move(*known);
      remembered_ = true;
    }
  // On a car that has few of the places remembered, the words say more.
  const auto has = std::count_if(matches_.begin(), matches_.end(), [&](const SheetMatch& m) {
    return !m.place.empty() && find_place(places_, m.place) >= 0;
  });
  const auto meant =
      std::count_if(matches_.begin(), matches_.end(), [](const SheetMatch& m) { return !m.place.empty(); });
  if (!remembered_ || 2 * has < meant) {
    matches_ = propose_matches(file_->form, places_, *asked_);
    remembered_ = false;
  }
}

void SheetWork::refresh() {
  if (!file_ || !document().hasCar()) return;
  if (asked_ != document().sharedCar()) askCar();
  const Setup base = restStays_ ? document().setup() : kit_setup(*asked_);
  auto taken = take_sheet(*asked_, base, file_->form, matches_, savedBench());
  taken_ = taken ? std::optional(std::move(*taken)) : std::nullopt;
  Q_EMIT changed();
}

void SheetWork::setMatch(int field, const SheetMatch& match) {
  if (!file_ || field < 0 || field >= static_cast<int>(matches_.size())) return;
  SheetMatch& now = matches_[at(field)];
  if (now == match) return;
  now = match;
  remember();
  refresh();
}

void SheetWork::setSaid(int field, const QString& text) {
  if (!file_ || !picture_ || field < 0 || field >= static_cast<int>(fields().size())) return;
  file_->form.fields[at(field)].text = text.trimmed().left(4000).toStdString();
  refresh();
}

void SheetWork::setPlace(int field, int page, const QPointF& at) {
  if (!file_ || !picture_ || field < 0 || field >= static_cast<int>(fields().size())) return;
  constexpr double wide = 0.06, high = 0.012;  // of the page: about a number
  FormField& f = file_->form.fields[static_cast<std::size_t>(field)];
  f.page = page;
  f.at = {at.x() - wide, at.y() - high, at.x() + wide, at.y() + high};
  Q_EMIT changed();
}

void SheetWork::setRestStays(bool stays) {
  if (restStays_ == stays) return;
  restStays_ = stays;
  refresh();
}

void SheetWork::remember() {
  if (picture_) return;
  const QString path = sheetMatchesPath(file_->form);
  QDir().mkpath(QFileInfo(path).absolutePath());
  const auto written = writeFile(path, QByteArray::fromStdString(write_matches(file_->form, matches_)));
  if (!written)
    Q_EMIT told(tr("What the fields stand for could not be remembered: %1")
                    .arg(QString::fromStdString(written.error().line())));
}

bool SheetWork::take() {
  if (!file_ || !taken_ || !document().hasCar() || asked_ != document().sharedCar()) return false;
  Setup setup = taken_->setup;
  setup.based_on = document().setup().based_on;
  remember();
  document().putSetup(setup, tr("Take over %1").arg(QFileInfo(file_->path).fileName()));
  return true;
}

void SheetWork::fill(const QString& path) {
  if (!file_ || picture_ || !document().hasCar() || asked_ != document().sharedCar()) return;
  const auto values = fill_sheet(*asked_, document().setup(), file_->form, matches_, savedBench());
  if (!values) {
    Q_EMIT told(QString::fromStdString(values.error().message));
    return;
  }
  remember();
  files_.fill(file_->path, file_->form, *values, path,
              [this, path](const tl::expected<void, Fault>& written) { Q_EMIT told(toldOf(written, path)); });
}

}  // namespace lowkite::app
