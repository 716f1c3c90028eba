#include "app/settings/usual_ranges.h"

#include <QDir>
#include <QStandardPaths>

#include "app/kept/kept.h"
#include "core/io/atomic_file.hpp"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

const QString surfaceKey = QStringLiteral("usual/surface");

std::filesystem::path shippedPath() {
  return data_folder() / "usual" / "usual.json";
}

}  // namespace

UsualRanges::UsualRanges(QObject* parent) : QObject(parent) {
  auto read = load_usual(shippedPath(), ownPath().toStdString());
  if (!read) {
    fault_ = QString::fromStdString(read.error().front().line());
    read = load_usual(shippedPath());
  }
  if (read) book_ = std::move(*read);
  if (const Kept settings; settings.contains(surfaceKey))
    surface_ = value_of(surfaces(), settings.value(surfaceKey).toString().toStdString());
}

Surface UsualRanges::surface(const Car& car) const {
  if (surface_) return *surface_;
  const std::vector<Surface> known = book_.surfaces_for(car);
  return known.empty() ? Surface::unknown : known.front();
}

QString UsualRanges::ownPath() {
  return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation))
      .filePath(QStringLiteral("my-usual-ranges.json"));
}

void UsualRanges::setSurface(Surface surface) {
  if (surface == surface_) return;
  surface_ = surface;
  Kept().setValue(surfaceKey, QString::fromStdString(std::string(id_in(surfaces(), surface))));
  Q_EMIT changed();
}

QString UsualRanges::makeOwn() {
  const QString path = ownPath();
  if (QFile::exists(path)) return {};
  QDir().mkpath(QFileInfo(path).path());
  const auto text = read_file(shippedPath());
  if (!text) return QString::fromStdString(text.error().line());
  const auto written = replace_file(path.toStdString(), *text);
  return written ? QString() : QString::fromStdString(written.error().line());
}

const UsualRange* UsualRanges::find(const Car& car, End end, const FigureSpec& figure) const {
  const Surface on = surface(car);
  return on == Surface::unknown ? nullptr : book_.find(car, on, end, figure);
}

}  // namespace lowkite::app
