#pragma once
#include <functional>
#include <string>
#include <vector>

namespace ignavo {

// How a program of the system was run.
struct Ran {
  bool started = false;    // false: there is no such program
  bool cancelled = false;  // it was ended
  int exit = -1;           // its exit status; −1: it did not come to that
};

// Runs programs of the system for the core, which only says which, with which words and files: the
// compiler, the uploader. The window and the command line each do it their own way.
class ProgramRunner {
 public:
  virtual ~ProgramRunner() = default;
  // A folder for the files of one errand, gone with the runner; empty: none can be made.
  virtual std::string folder() = 0;
  // Runs a program, found as the system finds programs, to its end. `line` gets each line that it
  // prints on either stream, as it comes, without its end. Where `cancelled` says so, asked some
  // twenty times a second, the program and all that it has started are ended.
  virtual Ran run(const std::vector<std::string>& words,
                  const std::function<void(const std::string&)>& line,
                  const std::function<bool()>& cancelled) = 0;
};

// Cuts what comes in pieces into lines.
class LineCutter {
 public:
  explicit LineCutter(const std::function<void(const std::string&)>& line) : line_(line) {}
  void add(const char* text, std::size_t length);
  void finish();  // what has no end is a line as well

 private:
  const std::function<void(const std::string&)>& line_;
  std::string rest_;
};

}  // namespace ignavo
