#include <fmt/format.h>

#include <atomic>
#include <thread>

#include "commands.h"
#include "format/files.h"
#include "format/project_file.h"
#include "output.h"

namespace ignavo::cli {

namespace {

// What became of one file. Filled by one thread each, printed in order.
struct Checked {
  bool opened = false;
  std::vector<std::string> problems;  // sentences
  Project project;
  CheckResult result;
};

Checked checkFile(const std::string& file) {
  Checked out;
  ReadResult read = readProjectFile(file);
  for (const FileProblem& p : read.problems) out.problems.push_back(inWords(sentence(p)));
  out.opened = read.sound();
  if (!out.opened) return out;
  out.project = std::move(read.project);
  out.result = ignavo::check(out.project);
  return out;
}

std::vector<Checked> checkAll(const std::vector<std::string>& files) {
  std::vector<Checked> out(files.size());
  std::atomic<std::size_t> next = 0;
  const auto work = [&] {
    for (std::size_t i = next++; i < files.size(); i = next++) out[i] = checkFile(files[i]);
  };
  std::vector<std::thread> others;
  const auto cores = std::max(1u, std::thread::hardware_concurrency());
  for (std::size_t k = 1; k < std::min<std::size_t>(cores, files.size()); ++k)
    others.emplace_back(work);
  work();
  for (std::thread& t : others) t.join();
  return out;
}

void printForPeople(const std::string& file, const CheckResult& result) {
  if (result.findings.empty()) fmt::print("{}: nothing found\n", file);
  for (const Finding& f : result.findings) {
    fmt::print("{}: {}: {} [{}]\n    {}\n", file, f.meant ? "Meant so" : severityTitle(f.severity),
               inWords(f.title), f.rule, inWords(f.reason));
    for (const Remedy& r : f.remedies) fmt::print("    → {}\n", inWords(r.title));
  }
  for (const std::string& id : result.unsolved)
    fmt::print("{}: the circuit around {} could not be solved\n", file, id);
}

std::string textOf(const std::string& file) { return readTextFile(file, limits::fileBytes).text; }

}  // namespace

int check(const CheckOptions& options) {
  const std::map<std::string, Severity> levels = {
      {"note", Severity::note}, {"warning", Severity::warning}, {"danger", Severity::danger}};
  int status = fine;
  Json all = Json::array();
  SarifLog sarif;
  const std::vector<Checked> checked = checkAll(options.files);
  for (std::size_t i = 0; i < checked.size(); ++i) {
    const std::string& file = options.files[i];
    const Checked& c = checked[i];
    for (const std::string& problem : c.problems) fmt::print(stderr, "{}: {}\n", file, problem);
    if (!c.opened) {
      status = wrong;
      continue;
    }
    for (const Finding& f : c.result.findings)
      if (!f.meant && f.severity >= levels.at(options.failOn) && status == fine) status = found;
    if (!c.result.unsolved.empty() && status == fine) status = found;
    if (options.sarif)
      sarif.add(file, textOf(file), c.result);
    else if (options.json)
      all.push_back(findingsJson(file, c.project, c.result));
    else
      printForPeople(file, c.result);
  }
  if (options.sarif) {
    fmt::print("{}\n", sarif.json().dump(2));
  } else if (options.json) {
    const bool one = options.files.size() == 1;
    if (!(one && all.empty())) fmt::print("{}\n", (one ? all[0] : all).dump(2));
  }
  return status;
}

}  // namespace ignavo::cli
