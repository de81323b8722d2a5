#include "posix_runner.h"

#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>
#include <filesystem>

extern char** environ;  // NOLINT: given by POSIX

namespace ignavo {

namespace fs = std::filesystem;

PosixRunner::~PosixRunner() {
  std::error_code ignored;
  if (!folder_.empty()) fs::remove_all(folder_, ignored);
}

std::string PosixRunner::folder() {
  std::error_code ignored;
  if (folder_.empty()) {
    std::string name = (fs::temp_directory_path(ignored) / "ignavo-XXXXXX").string();
    if (mkdtemp(name.data())) folder_ = name;
  }
  return folder_;
}

Ran PosixRunner::run(const std::vector<std::string>& words,
                     const std::function<void(const std::string&)>& line,
                     const std::function<bool()>& cancelled) {
  Ran ran;
  int ends[2];
  if (pipe2(ends, O_CLOEXEC) != 0) return ran;
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, ends[1], 1);
  posix_spawn_file_actions_adddup2(&actions, ends[1], 2);
  // In a group of its own, so that what it starts can be ended with it.
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP);
  posix_spawnattr_setpgroup(&attributes, 0);
  std::vector<char*> argv;
  for (const std::string& w : words) argv.push_back(const_cast<char*>(w.c_str()));
  argv.push_back(nullptr);
  pid_t pid = 0;
  const int error = posix_spawnp(&pid, argv[0], &actions, &attributes, argv.data(), environ);
  posix_spawnattr_destroy(&attributes);
  posix_spawn_file_actions_destroy(&actions);
  close(ends[1]);
  if (error == 0) {
    ran.started = true;
    LineCutter cutter(line);
    char buffer[4096];
    constexpr int waitMilliseconds = 50;
    for (;;) {
      if (!ran.cancelled && cancelled && cancelled()) {
        ran.cancelled = true;
        kill(-pid, SIGKILL);
      }
      pollfd output{ends[0], POLLIN, 0};
      const int ready = poll(&output, 1, waitMilliseconds);
      if (ready == 0 || (ready < 0 && errno == EINTR)) continue;
      const ssize_t n = read(ends[0], buffer, sizeof buffer);
      if (n > 0)
        cutter.add(buffer, static_cast<std::size_t>(n));
      else if (n == 0 || errno != EINTR)
        break;
    }
    cutter.finish();
    int status = 0;
    while (waitpid(pid, &status, 0) < 0 && errno == EINTR) {
    }
    ran.exit = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  }
  close(ends[0]);
  return ran;
}

}  // namespace ignavo
