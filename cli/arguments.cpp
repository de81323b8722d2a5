#include "arguments.h"

#include <fmt/format.h>

#include <charconv>
#include <cstdio>
#include <fstream>

#include "commands.h"
#include "format/files.h"
#include "format/project_file.h"
#include "parts/catalogue.h"
#include "program/keys.h"
#include "text/plain.h"

namespace ignavo::cli {

void say(const std::string& text) { fmt::print(stderr, "{}\n", text); }

std::optional<Project> open(const std::string& file) {
  ReadResult r = readProjectFile(file);
  for (const FileProblem& p : r.problems) say(file + ": " + inWords(sentence(p)));
  if (!r.sound()) return std::nullopt;
  return std::move(r.project);
}

std::optional<double> number(const std::string& text) {
  double v = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return v;
}

std::string notPressable(const Project& p, const std::string& id) {
  std::string names;
  for (const auto& part : *p.parts)
    if (isPressable(p, part->id)) names += (names.empty() ? "" : ", ") + part->id;
  return fmt::format("“{}” is nothing that can be pressed; {}", plainLine(id),
                     names.empty() ? "nothing on this bench is" : "these are: " + names);
}

int bad(const std::string& sentence) {
  say(sentence);
  return wrong;
}

bool writeFile(const std::string& path, const std::string& text) {
  std::ofstream out(path, std::ios::binary);
  out << text;
  out.close();
  if (!out) say(fmt::format("“{}” cannot be written", path));
  return static_cast<bool>(out);
}

std::string boardOr(const Project& p, const std::string& wanted) {
  return wanted.empty() && !p.boards.empty() ? p.boards.front().id : wanted;
}

std::optional<Input> inputOf(const Project& p, double seconds, const std::string& text) {
  auto in = readInput(p, text);
  if (in) in->at = static_cast<Nanoseconds>(seconds * 1e9 + 0.5);
  return in;
}

}  // namespace ignavo::cli
