#include "core/io/atomic_file.hpp"

#include <cerrno>
#include <cmath>
#include <cstring>
#include <ctime>
#include <fstream>
#include <functional>
#include <sstream>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

namespace fs = std::filesystem;

Fault cannot(const fs::path& path, const std::string& what, int error) {
  return {path.string(), "", fmt::format("{} ({})", what, std::strerror(error)),
          error == ENOSPC ? say("free some space, or save to another disk; the old file is untouched")
                          : say("a file in a folder that you may write to; the old file is untouched")};
}

constexpr std::string_view half_written = ".lowkite-part-";

/// A temporary file beside the target that disappears unless it was renamed. Its name does not grow with the target's,
/// and it is locked while it is written: what is not locked was left by a program that was killed.
class TemporaryFile {
 public:
  explicit TemporaryFile(const fs::path& target)
      : name_((target.parent_path() / (std::string(half_written) + "XXXXXX")).string()) {
    fd_ = ::mkstemp(name_.data());
    if (fd_ >= 0) ::flock(fd_, LOCK_EX | LOCK_NB);
  }
  ~TemporaryFile() {
    close();
    if (!kept_) ::unlink(name_.c_str());
  }
  TemporaryFile(const TemporaryFile&) = delete;
  TemporaryFile& operator=(const TemporaryFile&) = delete;

  [[nodiscard]] bool open() const { return fd_ >= 0; }

  /// 0, or the errno of what failed.
  [[nodiscard]] int write(const std::string& content) const {
    std::size_t done = 0;
    while (done < content.size()) {
      const ssize_t n = ::write(fd_, content.data() + done, content.size() - done);
      if (n < 0 && errno == EINTR) continue;
      if (n <= 0) return n < 0 ? errno : EIO;
      done += static_cast<std::size_t>(n);
    }
    return ::fsync(fd_) == 0 ? 0 : errno;
  }

  int close() {
    const int fd = fd_;
    fd_ = -1;
    return fd >= 0 && ::close(fd) != 0 ? errno : 0;
  }

  [[nodiscard]] int rename_to(const fs::path& target) {
    if (::rename(name_.c_str(), target.c_str()) != 0) return errno;
    kept_ = true;
    return 0;
  }

  void take_mode(mode_t mode) const { [[maybe_unused]] const int ignored = ::fchmod(fd_, mode); }

 private:
  std::string name_;
  int fd_ = -1;
  bool kept_ = false;
};

mode_t mode_for(const fs::path& path) {
  struct stat info {};
  if (::stat(path.c_str(), &info) == 0) return info.st_mode & 07777;
  const mode_t mask = ::umask(0);
  ::umask(mask);
  return 0666 & ~mask;
}

void sync_folder(const fs::path& folder) {
  const int fd = ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY);
  if (fd < 0) return;
  ::fsync(fd);
  ::close(fd);
}

}  // namespace

FileStamp FileStamp::of(const std::string& content) {
  return {content.size(), std::hash<std::string>{}(content)};
}

tl::expected<std::string, Fault> read_file(const fs::path& path, std::uintmax_t most_bytes) {
  std::error_code ec;
  const fs::file_status status = fs::status(path, ec);
  if (!fs::exists(status))
    return tl::unexpected(Fault{path.string(), "", say("there is no such file"), say("the path of an existing file")});
  if (fs::is_directory(status))
    return tl::unexpected(Fault{path.string(), "", say("this is a folder, not a file"), say("a car or setup file")});
  std::ifstream in(path, std::ios::binary);
  if (!in)
    return tl::unexpected(Fault{path.string(), "", say("the file cannot be opened"), say("a file that you may read")});
  // Read up to one byte too many instead of trusting a size: pipes and devices have none.
  std::string content;
  std::array<char, 1 << 16> block;
  while (in.read(block.data(), block.size()), in.gcount() > 0) {
    content.append(block.data(), static_cast<std::size_t>(in.gcount()));
    if (content.size() > most_bytes)
      return tl::unexpected(Fault{path.string(), "", say("the file is larger than {} bytes", most_bytes),
                                  say("a car or setup file; these are a few kilobytes")});
  }
  if (in.bad())
    return tl::unexpected(
        Fault{path.string(), "", say("the file could not be read to its end"), say("an undamaged file")});
  return content;
}

tl::expected<FileStamp, Fault> replace_file(const fs::path& path, const std::string& content,
                                            const std::optional<FileStamp>& expected) {
  std::error_code ec;
  // A link is followed, so that its target is replaced and the link stays a link.
  const fs::path target = fs::is_symlink(path, ec) ? fs::weakly_canonical(path, ec) : path;
  if (expected && fs::exists(target, ec)) {
    const auto now = read_file(target);
    if (!now || FileStamp::of(*now) != *expected)
      return tl::unexpected(Fault{path.string(), "", say("the file was changed by somebody else since it was opened"),
                                  say("save under another name, or open the file again")});
  }
  TemporaryFile temporary(target);
  if (!temporary.open()) return tl::unexpected(cannot(path, say("cannot write in this folder"), errno));
  temporary.take_mode(mode_for(target));
  if (const int error = temporary.write(content))
    return tl::unexpected(cannot(path, say("the file could not be written"), error));
  if (const int error = temporary.close())
    return tl::unexpected(cannot(path, say("the file could not be written"), error));
  if (const int error = temporary.rename_to(target))
    return tl::unexpected(cannot(path, say("the file could not be replaced"), error));
  sync_folder(target.parent_path());
  return FileStamp::of(content);
}

int clear_half_written(const fs::path& folder) {
  int removed = 0;
  std::error_code ec;
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    if (!entry.path().filename().string().starts_with(half_written)) continue;
    const int fd = ::open(entry.path().c_str(), O_RDONLY | O_NOFOLLOW | O_CLOEXEC);
    if (fd < 0) continue;
    // A writer takes its lock just after it has made the file: one that is a moment old may not have it yet.
    struct stat info {};
    const bool new_born = ::fstat(fd, &info) == 0 && std::abs(std::difftime(std::time(nullptr), info.st_mtime)) < 2.0;
    if (!new_born && ::flock(fd, LOCK_EX | LOCK_NB) == 0 && ::unlink(entry.path().c_str()) == 0) ++removed;
    ::close(fd);
  }
  return removed;
}

}  // namespace lowkite
