#include "app/settings/own_file.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>

namespace lowkite::app {
namespace {

std::string nameOf(const QString& path) {
  return QFileInfo(path).fileName().toStdString();
}

Fault overtaken(const QString& path) {
  return {nameOf(path), "", "the file was changed by another program since it was read",
          "to look at it as it is now, and to do this once more"};
}

}  // namespace

std::optional<FileStamp> OwnFile::now() const {
  if (!QFile::exists(path_)) return std::nullopt;
  const auto text = read_file(path_.toStdString());
  return text ? std::optional(FileStamp::of(*text)) : stamp_;
}

bool OwnFile::changed() const {
  return now() != stamp_;
}

tl::expected<std::string, Fault> OwnFile::read() {
  stamp_.reset();
  if (!QFile::exists(path_)) return std::string();
  auto text = read_file(path_.toStdString());
  if (text) stamp_ = FileStamp::of(*text);
  return text;
}

tl::expected<void, Fault> OwnFile::write(const std::string& text) {
  QDir().mkpath(QFileInfo(path_).path());
  // What was removed meanwhile is written again; what has come meanwhile, or was never read, is not written over.
  const bool there = QFile::exists(path_);
  if (there && (!stamp_ || changed())) return tl::unexpected(overtaken(path_));
  const auto written = replace_file(path_.toStdString(), text, there ? stamp_ : std::nullopt);
  if (!written) return tl::unexpected(written.error());
  stamp_ = *written;
  return {};
}

tl::expected<void, Fault> OwnFile::remove() {
  if (QFile::exists(path_) && (!stamp_ || changed())) return tl::unexpected(overtaken(path_));
  if (QFile::exists(path_) && !QFile::remove(path_))
    return tl::unexpected(Fault{nameOf(path_), "", "the file cannot be removed", "a folder that can be written to"});
  stamp_.reset();
  return {};
}

}  // namespace lowkite::app
