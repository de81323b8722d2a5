#include "make/firmware.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <vector>

#include "make/c_text.h"
#include "parts/catalogue.h"

extern char** environ;  // NOLINT: given by POSIX

namespace ignavo {

namespace {

namespace fs = std::filesystem;

struct Ran {
  bool started = false;
  int exit = -1;
  std::string output;  // both streams
};

Ran runProgram(const std::vector<std::string>& words) {
  Ran ran;
  int ends[2];
  if (pipe2(ends, O_CLOEXEC) != 0) return ran;
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, ends[1], 1);
  posix_spawn_file_actions_adddup2(&actions, ends[1], 2);
  std::vector<char*> argv;
  for (const std::string& w : words) argv.push_back(const_cast<char*>(w.c_str()));
  argv.push_back(nullptr);
  pid_t pid = 0;
  const int error = posix_spawnp(&pid, argv[0], &actions, nullptr, argv.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  close(ends[1]);
  if (error == 0) {
    ran.started = true;
    char buffer[4096];
    for (;;) {
      const ssize_t n = read(ends[0], buffer, sizeof buffer);
      if (n > 0)
        ran.output.append(buffer, static_cast<std::size_t>(n));
      else if (n == 0 || errno != EINTR)
        break;
    }
    int status = 0;
    while (waitpid(pid, &status, 0) < 0 && errno == EINTR) {
    }
    ran.exit = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  }
  close(ends[0]);
  return ran;
}

// A folder that is gone when the build is over.
class Folder {
 public:
  Folder() {
    std::string name = (fs::temp_directory_path() / "ignavo-XXXXXX").string();
    if (mkdtemp(name.data())) path_ = name;
  }
  ~Folder() {
    std::error_code ignored;
    if (!path_.empty()) fs::remove_all(path_, ignored);
  }
  Folder(const Folder&) = delete;
  Folder& operator=(const Folder&) = delete;
  bool ok() const { return !path_.empty(); }
  std::string file(const char* name) const { return (path_ / name).string(); }

 private:
  fs::path path_;
};

// Sizes of the sections, from avr-size -A.
void readSizes(const std::string& listing, Firmware& out) {
  std::istringstream lines(listing);
  std::string line;
  while (std::getline(lines, line)) {
    std::istringstream words(line);
    std::string section;
    int bytes = 0;
    if (!(words >> section >> bytes)) continue;
    if (section == ".text" || section == ".data") out.flashBytes += bytes;
    if (section == ".data" || section == ".bss" || section == ".noinit") out.ramBytes += bytes;
  }
}

}  // namespace

Firmware buildFirmware(const Project& project, const std::string& board,
                       const std::function<bool()>& cancelled) {
  Firmware out;
  const auto fail = [&](Firmware::Code code) {
    out.code = code;
    return out;
  };
  const auto stop = [&] { return cancelled && cancelled(); };
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return fail(Firmware::Code::noSuchBoard);
  out.flashMost = kind->flashBytes;
  out.ramMost = kind->ramBytes;

  const Folder folder;
  const std::string source = folder.file("program.c"), elf = folder.file("program.elf"),
                    hex = folder.file("program.hex");
  if (!folder.ok() || !(std::ofstream(source) << cText(project, board).text))
    return fail(Firmware::Code::cannotWrite);
  if (stop()) return fail(Firmware::Code::cancelled);

  const Ran compiled = runProgram({"avr-gcc", "-mmcu=" + kind->chip, "-std=gnu11", "-Os", "-Wall",
                                   "-Wextra", "-o", elf, source});
  if (!compiled.started || compiled.exit == 127) return fail(Firmware::Code::compilerMissing);
  out.messages = compiled.output;
  if (compiled.exit != 0) return fail(Firmware::Code::compilerFailed);
  if (stop()) return fail(Firmware::Code::cancelled);

  const Ran copied = runProgram({"avr-objcopy", "-O", "ihex", "-R", ".eeprom", elf, hex});
  const Ran sized = runProgram({"avr-size", "-A", elf});
  if (!copied.started || !sized.started) return fail(Firmware::Code::compilerMissing);
  if (copied.exit != 0) return fail(Firmware::Code::compilerFailed);
  readSizes(sized.output, out);
  std::ifstream in(hex);
  std::ostringstream text;
  text << in.rdbuf();
  out.hex = text.str();
  if (out.hex.empty()) return fail(Firmware::Code::cannotWrite);
  return out;
}

std::string sentence(const Firmware& f) {
  switch (f.code) {
    case Firmware::Code::done:
      return fmt::format("{} of {} bytes of flash, {} of {} bytes of memory", f.flashBytes,
                         f.flashMost, f.ramBytes, f.ramMost);
    case Firmware::Code::noSuchBoard:
      return "There is no such board in this project.";
    case Firmware::Code::compilerMissing:
      return "The compiler for this chip is not installed. On Debian: apt install gcc-avr avr-libc "
             "binutils-avr";
    case Firmware::Code::compilerFailed:
      return "The compiler refused the text.";
    case Firmware::Code::cannotWrite:
      return "There is no room for temporary files.";
    case Firmware::Code::cancelled:
      return "Cancelled.";
  }
  return {};
}

}  // namespace ignavo
