// Reading and replacing files so that a crash, a full disk or a second program never leaves half a file behind.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"

namespace lowkite {

/// Identifies the content that was read or written, to notice that somebody else changed the file since.
struct FileStamp {
  std::uintmax_t size = 0;
  std::size_t hash = 0;

  static FileStamp of(const std::string& content);
  bool operator==(const FileStamp&) const = default;
};

/// The whole file, at most `most_bytes`.
tl::expected<std::string, Fault> read_file(const std::filesystem::path& path, std::uintmax_t most_bytes = 4u << 20);

/// Writes `content` to a new file beside `path`, brings it to the disk, then renames it over `path`. At every moment
/// `path` holds either the old content or the new one, whole. On failure the old file is untouched.
/// `expected`: when given, a file that no longer has this content is not overwritten.
tl::expected<FileStamp, Fault> replace_file(const std::filesystem::path& path, const std::string& content,
                                            const std::optional<FileStamp>& expected = std::nullopt);

/// Removes what a killed program left half written in `folder` by `replace_file`. A file that is being written is held
/// by its writer and stays. Returns how many were removed; a folder that is not there has none.
int clear_half_written(const std::filesystem::path& folder);

}  // namespace lowkite
