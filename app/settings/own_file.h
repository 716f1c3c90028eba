// A file of the racer's own that the program adds to: rules, tyres, boxes. What another window or a hand has written to
// it is never written over unseen, nor what cannot be read.
#pragma once

#include <optional>
#include <string>

#include <QString>

#include "core/io/atomic_file.hpp"

namespace lowkite::app {

class OwnFile {
 public:
  /// The file need not be there.
  explicit OwnFile(QString path) : path_(std::move(path)) {}

  [[nodiscard]] const QString& path() const { return path_; }
  [[nodiscard]] bool isThere() const { return stamp_.has_value(); }
  /// Whether the file is another than the one that was read or written here last.
  [[nodiscard]] bool changed() const;
  /// What stands in it; empty where there is none. It counts as seen from now on, readable or not.
  tl::expected<std::string, Fault> read();
  /// Replaces it. A fault, and nothing written, where it changed since it was seen.
  tl::expected<void, Fault> write(const std::string& text);
  /// Removes it; the same.
  tl::expected<void, Fault> remove();

 private:
  [[nodiscard]] std::optional<FileStamp> now() const;

  QString path_;
  std::optional<FileStamp> stamp_;  ///< of what was read or written last; none: there is no file
};

}  // namespace lowkite::app
