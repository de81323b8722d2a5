#include "format/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/random.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>

#include "format/file_words.h"

namespace ignavo {

namespace {

namespace fs = std::filesystem;
using Code = FileProblem::Code;

FileProblem problem(Code code, Message value = {}) { return {{}, code, std::move(value), {}}; }
FileProblem cannotWrite(const std::string& path) {
  return problem(Code::cannotWrite, fmt::format("{} ({})", path, std::strerror(errno)));
}

class Descriptor {
 public:
  explicit Descriptor(int fd) : fd_(fd) {}
  ~Descriptor() {
    if (fd_ >= 0) ::close(fd_);
  }
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  int get() const { return fd_; }
  bool ok() const { return fd_ >= 0; }

 private:
  int fd_;
};

bool writeAll(int fd, std::string_view text) {
  while (!text.empty()) {
    const ssize_t n = ::write(fd, text.data(), text.size());
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return false;
    text.remove_prefix(static_cast<std::size_t>(n));
  }
  return ::fsync(fd) == 0;
}

// Up to `most` + 1 bytes from where the descriptor stands; false when it cannot be read.
bool readUpTo(int fd, std::uint64_t most, std::string& out) {
  char buffer[1 << 16];
  while (out.size() <= most) {
    const std::uint64_t room = most + 1 - out.size();
    const ssize_t n = ::read(fd, buffer, std::min<std::uint64_t>(sizeof buffer, room));
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) return false;
    if (n == 0) break;
    out.append(buffer, static_cast<std::size_t>(n));
  }
  return true;
}

// The file that a chain of symbolic links ends at, whether it is there yet or not.
std::string behindLinks(const std::string& path) {
  fs::path at = path;
  std::error_code error;
  for (int links = 0; links < 40 && fs::is_symlink(fs::symlink_status(at, error)); ++links) {
    const fs::path to = fs::read_symlink(at, error);
    if (error) break;
    at = to.is_absolute() ? to : at.parent_path() / to;
  }
  return at.string();
}

// A file of its own beside `path`; its name is in `name`. Mode as the user's mask says.
int createBeside(const std::string& path, std::string& name) {
  const fs::path beside(path);
  for (int tries = 0; tries < 100; ++tries) {
    std::uint64_t bits = 0;
    if (::getrandom(&bits, sizeof bits, 0) != sizeof bits) return -1;
    name = (beside.parent_path() / fmt::format(".{:016x}.part", bits)).string();
    const int fd = ::open(name.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
    if (fd >= 0 || errno != EEXIST) return fd;
  }
  return -1;
}

bool sameAsWritten(int fd, std::string_view text) {
  std::string back;
  return ::lseek(fd, 0, SEEK_SET) == 0 && readUpTo(fd, text.size(), back) && back == text;
}

// Over what is there, for a file that must stay the very one.
std::optional<FileProblem> writeInPlace(const std::string& path, std::string_view text) {
  const Descriptor file(::open(path.c_str(), O_WRONLY | O_TRUNC | O_NOFOLLOW | O_CLOEXEC));
  if (!file.ok() || !writeAll(file.get(), text)) return cannotWrite(path);
  return std::nullopt;
}

}  // namespace

FileStamp stampOf(std::string_view text) {
  FileStamp stamp{text.size(), 0xcbf29ce484222325u};
  for (const char c : text)
    stamp.hash = (stamp.hash ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
  return stamp;
}

TextFile readTextFile(const std::string& path, std::uint64_t most) {
  TextFile out;
  // A pipe that nobody writes to would hold up opening it for ever.
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC));
  struct stat info {};
  if (!file.ok() || ::fstat(file.get(), &info) != 0 || S_ISDIR(info.st_mode)) {
    out.problem = problem(Code::cannotOpen, path);
    return out;
  }
  const auto size = static_cast<std::uint64_t>(info.st_size);
  if (S_ISREG(info.st_mode) && size > most) {
    out.problem = problem(Code::tooLarge, std::to_string(size));
    return out;
  }
  ::fcntl(file.get(), F_SETFL, 0);
  if (!readUpTo(file.get(), most, out.text)) {
    out.problem = problem(Code::cannotOpen, path);
  } else if (out.text.size() > most) {
    out.text.clear();
    out.problem = problem(Code::tooLarge);
  }
  return out;
}

std::optional<FileProblem> replaceFile(const std::string& given, std::string_view text,
                                       const std::optional<FileStamp>& seen) {
  const std::string path = behindLinks(given);
  struct stat was {};
  const bool there = ::lstat(path.c_str(), &was) == 0;
  if (there) {
    if (!S_ISREG(was.st_mode)) return problem(Code::notAFile, given);
    constexpr mode_t anyoneWrites = S_IWUSR | S_IWGRP | S_IWOTH;
    if ((was.st_mode & anyoneWrites) == 0 || ::access(path.c_str(), W_OK) != 0)
      return problem(Code::readOnly, given);
    if (seen) {
      const TextFile now = readTextFile(path, limits::fileBytes);
      if (now.problem || stampOf(now.text) != *seen) return problem(Code::changedBehind, given);
    }
  }
  std::string beside;
  const Descriptor file(createBeside(path, beside));
  if (!file.ok()) return cannotWrite(given);
  const auto fail = [&](FileProblem why) {
    ::unlink(beside.c_str());
    return why;
  };
  if (!writeAll(file.get(), text)) return fail(cannotWrite(given));
  if (!sameAsWritten(file.get(), text))
    return fail(problem(Code::notReadBack, fileSay("the disk gave something else back")));
  if (there) {
    struct stat made {};
    const bool owned = ::fstat(file.get(), &made) == 0 &&
                       ((made.st_uid == was.st_uid && made.st_gid == was.st_gid) ||
                        ::fchown(file.get(), was.st_uid, was.st_gid) == 0);
    if (!owned || was.st_nlink > 1) {
      if (auto why = writeInPlace(path, text)) {
        why->wanted = beside;
        return why;  // what is beside it is all that is left
      }
      ::unlink(beside.c_str());
      return std::nullopt;
    }
    ::fchmod(file.get(), was.st_mode & 07777);
  }
  if (::rename(beside.c_str(), path.c_str()) != 0) return fail(cannotWrite(given));
  const std::string folder = fs::path(path).parent_path().string();
  const Descriptor holder(
      ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  if (holder.ok()) ::fsync(holder.get());
  return std::nullopt;
}

}  // namespace ignavo
