#include "app/document/open_files.h"

#include <algorithm>
#include <filesystem>
#include <map>

#include <QCoreApplication>
#include <QStandardPaths>

#include "app/document/read_once.h"
#include "app/document/recent_files.h"
#include "core/io/atomic_file.hpp"
#include "core/io/car_edit.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/io/setup_family.hpp"
#include "core/pose/pose.hpp"

namespace lowkite::app {
namespace {

namespace fs = std::filesystem;

std::string named(const fs::path& path) {
  return path.filename().string();
}

tl::expected<DocumentState, Faults> withKit(const std::string& text, const fs::path& carPath) {
  auto car = read_car_file(text, named(carPath));
  if (!car) return tl::unexpected(car.error());
  DocumentState state;
  state.car = car->car;
  state.carSource = std::move(car->source);
  state.carStamp = FileStamp::of(text);
  state.carPath = QString::fromStdString(fs::absolute(carPath).string());
  state.file.setup = kit_setup(*state.car);
  state.baseline = state.file.setup;
  return state;
}

tl::expected<DocumentState, Faults> openSetup(const fs::path& path, const std::string& text, DocumentState state) {
  auto file = read_setup(text, named(path), *state.car);
  if (!file) return tl::unexpected(file.error());
  const auto model = build_model(*state.car, file->setup);
  if (!model)
    return tl::unexpected(
        Faults{{named(path), "values", model.error().message, "values with which the linkage closes"}});
  if (const auto stands = pose_car(*model, static_attitude(*model)); !stands)
    return tl::unexpected(
        Faults{{named(path), "ride_height_mm", stands.error().message, "a ride height at which the car can stand"}});
  state.file = std::move(*file);
  state.baseline = state.file.setup;
  state.setupPath = QString::fromStdString(fs::absolute(path).string());
  state.stamp = FileStamp::of(text);
  return state;
}

/// The format a file claims, so that a setup may be opened by its own name alone.
bool isSetup(const std::string& text, const std::string& name) {
  const auto document = parse_json(text, name);
  return document && document->is_object() && document->value("format", Json()) == Json("lowkite-setup");
}

}  // namespace

tl::expected<DocumentState, Faults> openFile(const QString& qpath) {
  const fs::path path = qpath.toStdString();
  const auto text = read_file(path);
  if (!text) return tl::unexpected(Faults{text.error()});
  if (!isSetup(*text, named(path))) return withKit(*text, path);
  const auto id = car_id_of_setup(*text, named(path));
  if (!id) return tl::unexpected(id.error());
  std::vector<fs::path> folders = car_folders_for(path, data_folder());
  folders.emplace_back(ownCarsFolder().toStdString());
  const auto carPath = find_car_file(*id, folders);
  if (!carPath)
    return tl::unexpected(
        Faults{{named(path), "car",
                QCoreApplication::translate("OpenFiles", "no car file with the id \"%1\" was found")
                    .arg(QString::fromStdString(*id))
                    .toStdString(),
                QCoreApplication::translate("OpenFiles", "a car beside the setup or in a cars folder beside its own")
                    .toStdString()}});
  const auto carText = read_file(*carPath);
  if (!carText) return tl::unexpected(Faults{carText.error()});
  auto state = withKit(*carText, *carPath);
  if (!state) return state;
  return openSetup(path, *text, std::move(*state));
}

tl::expected<DocumentState, Faults> openFiles(const QStringList& paths) {
  if (paths.size() == 1) return openFile(paths.front());
  auto state = openFile(paths[0]);
  if (!state) return state;
  const fs::path setup = paths[1].toStdString();
  const auto text = read_file(setup);
  if (!text) return tl::unexpected(Faults{text.error()});
  return openSetup(setup, *text, std::move(*state));
}

tl::expected<DocumentState, Faults> openDemo() {
  return openFile(QString::fromStdString((data_folder() / "setups" / "heron-club-carpet.kite-setup.json").string()));
}

QString ownCarsFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/cars");
}

QString ownSetupsFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/setups");
}

std::vector<fs::path> setupFolders(const DocumentState& state) {
  std::vector<fs::path> folders{ownSetupsFolder().toStdString(), data_folder() / "setups"};
  for (const QString& file : {state.carPath, state.setupPath})
    if (!file.isEmpty()) folders.push_back(fs::path(file.toStdString()).parent_path());
  return folders;
}

QString ownCarPath(const QString& name) {
  return ownCarsFolder() + QLatin1Char('/') + QString::fromStdString(id_from_name(name.toStdString())) +
         QStringLiteral(".kite-car.json");
}

tl::expected<DocumentState, Faults> ownCopy(const DocumentState& from, const QString& name) {
  auto car = recheck(own_copy(from.carSource, name.toStdString()), name.toStdString());
  if (!car) return tl::unexpected(car.error());
  DocumentState state;
  state.car = car->car;
  state.carSource = std::move(car->source);
  state.file.setup = carried_over(*from.car, from.file.setup, *state.car);
  state.baseline = state.file.setup;
  return state;
}

namespace {

std::vector<OwnCar> readOwnCars(const std::vector<fs::path>& folders) {
  std::vector<OwnCar> own;
  std::error_code missing;
  for (const auto& entry : fs::directory_iterator(folders[0], missing)) {
    auto car = load_car(entry.path());
    if (!car) continue;
    OwnCar found;
    found.car = std::make_shared<const Car>(std::move(*car));
    found.title = QString::fromStdString(found.car->name);
    found.path = QString::fromStdString(entry.path().string());
    // The kit leads every family.
    found.setups = static_cast<int>(setup_family(*found.car, {folders[1]}).size()) - 1;
    own.push_back(std::move(found));
  }
  return own;
}

QList<ShippedFile> readShippedFiles(const std::vector<fs::path>& folders) {
  const auto files_in = [](const fs::path& folder) {
    std::vector<fs::path> files;
    std::error_code missing;
    for (const auto& entry : fs::directory_iterator(folder, missing)) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    return files;
  };
  std::multimap<std::string, fs::path> setups;
  for (const fs::path& path : files_in(folders[1]))
    if (const auto text = read_file(path))
      if (const auto id = car_id_of_setup(*text, named(path))) setups.emplace(*id, path);
  QList<ShippedFile> all;
  for (const fs::path& path : files_in(folders[0])) {
    auto loaded = load_car(path);
    if (!loaded) continue;
    const auto car = std::make_shared<const Car>(std::move(*loaded));
    all.push_back(
        {QStringLiteral("%1 (%2)").arg(QString::fromStdString(car->name), QString::fromStdString(car->vehicle_class)),
         QString::fromStdString(path.string()), true, car});
    const auto [first, last] = setups.equal_range(car->id);
    for (auto it = first; it != last; ++it)
      if (const auto setup = load_setup(it->second, *car))
        all.push_back(
            {QString::fromStdString(setup->setup.name), QString::fromStdString(it->second.string()), false, car});
  }
  return all;
}

}  // namespace

std::vector<OwnCar> ownCars() {
  static ReadOnce<std::vector<OwnCar>> once;
  const std::vector<fs::path> folders{ownCarsFolder().toStdString(), ownSetupsFolder().toStdString()};
  std::vector<OwnCar> own = once.get(folders, [&] { return readOwnCars(folders); });
  for (OwnCar& found : own) found.lastUsed = RecentFiles::lastUsed(found.path);
  std::stable_sort(own.begin(), own.end(), [](const OwnCar& a, const OwnCar& b) {
    return a.lastUsed != b.lastUsed ? a.lastUsed > b.lastUsed : a.title < b.title;
  });
  return own;
}

QList<ShippedFile> shippedFiles() {
  static ReadOnce<QList<ShippedFile>> once;
  const std::vector<fs::path> folders{data_folder() / "cars", data_folder() / "setups"};
  return once.get(folders, [&] { return readShippedFiles(folders); });
}

}  // namespace lowkite::app
