#pragma once
#include <string>
#include <vector>

// The commands of ignavo-cli. Each returns the exit status: 0 fine, 1 findings,
// 2 wrong use or unreadable file.
namespace ignavo::cli {

constexpr int fine = 0, found = 1, wrong = 2;

struct CheckOptions {
  std::vector<std::string> files;
  std::string failOn = "warning";
  bool json = false, sarif = false;
};
// Over many files at once, on all cores; what it prints is in their order.
int check(const CheckOptions& options);

struct SolveOptions {
  std::string file;
  std::vector<std::string> pins;   // D4=high
  std::vector<std::string> press;  // part ids
  std::vector<std::string> set;    // ID.PROP=VALUE
  bool json = false;
};
int solve(const SolveOptions& options);

struct RunOptions {
  std::string file;
  double seconds = 0;
  std::vector<std::string> at;      // pairs: seconds, "press btn1"
  std::string replay;               // a recording of the project
  std::vector<std::string> probes;  // sockets and parts
  std::string vcd, csv;
  std::string only;       // id of the step that is tried alone
  bool firmware = false;  // every board runs its own compiled code
  std::string hex;        // or that one of `board`
  std::string board;
  bool json = false;
};
int run(const RunOptions& options);
// Runs a project by its steps and by its firmware, and says whether they do the same.
int compare(const RunOptions& options);
// Why a part is dark, silent or still at the end of a run, or is not.
int why(const RunOptions& options, const std::string& part);

int code(const std::string& file, const std::string& board, bool json);
int firmware(const std::string& file, const std::string& out, const std::string& board, bool json);
// Wiring text to a project file; with `toText` a project file to wiring text.
int wire(const std::string& in, const std::string& out, bool toText);
// What a typed phrase means, for the first board of the file, or for a new project.
int phrase(const std::string& typed, const std::string& file, bool json);
int demos(bool json);
int schema();
int checks();

}  // namespace ignavo::cli
