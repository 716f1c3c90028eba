// Opening: a car or a setup is read into a fresh state; the present document is only given up when that has worked.
#pragma once

#include <filesystem>
#include <vector>

#include <QDateTime>
#include <QList>
#include <QString>
#include <QStringList>

#include "app/document/document.h"

namespace lowkite::app {

/// Opens a car file (with its kit setup) or a setup file (with the car it names, found beside it or among the shipped
/// cars). The baseline is the setup as opened.
tl::expected<DocumentState, Faults> openFile(const QString& path);

/// Opens what was named on the command line: a car, a setup, or a car and one of its setups.
tl::expected<DocumentState, Faults> openFiles(const QStringList& paths);

/// The demo: the shipped touring car with its club setup.
tl::expected<DocumentState, Faults> openDemo();

/// Where cars of the racer's own are kept, beside the settings; setups find them there by their id.
QString ownCarsFolder();
/// Where setups of the racer's own are kept unless he chooses another place.
QString ownSetupsFolder();
/// Folders in which setups of the open car may lie: beside it, beside the open setup, the racer's own, the shipped.
std::vector<std::filesystem::path> setupFolders(const DocumentState& state);
/// Where a car of that name is kept.
QString ownCarPath(const QString& name);

/// A car of one's own that starts as a copy of an open one: a new name, every point marked as the template's, kit
/// setup. It lies on no disk until it is saved.
tl::expected<DocumentState, Faults> ownCopy(const DocumentState& from, const QString& name);

/// A car of the racer's own.
struct OwnCar {
  std::shared_ptr<const Car> car;
  QString title;
  QString path;
  QDateTime lastUsed;  ///< not valid: never opened on this machine
  int setups = 0;      ///< setups for it among the racer's own
};
/// Every car in the racer's folder, the one used last first. Files that cannot be read are passed over.
std::vector<OwnCar> ownCars();

/// A car or setup that comes with the program.
struct ShippedFile {
  QString title;
  QString path;
  bool isCar = true;
  std::shared_ptr<const Car> car;  ///< itself, or the one that the setup is for
};
/// Every shipped car, each followed by the setups for it. Files that cannot be read are passed over.
QList<ShippedFile> shippedFiles();

}  // namespace lowkite::app
