#include "format/wiring_language.h"

#include <sstream>

#include "bench/taken.h"
#include "format/bench_words.h"
#include "format/sound.h"
#include "format/wiring_line.h"
#include "parts/catalogue.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/phrases/reading.h"
#include "program/steps.h"
#include "project/edits.h"
#include "text/plain.h"

namespace ignavo {

using wiring::lower;

Typed typeLine(const Project& project, const std::string& line, const std::string& board) {
  Taken taken;
  return wiring::Line(project, line, board, taken).read();
}

std::vector<Completion> completeLine(const Project& project, const std::string& line,
                                     const std::string& board) {
  Taken taken;
  wiring::Line reader(project, line, board, taken, true);
  (void)reader.read();
  std::vector<Completion> out = reader.offers();
  if (out.size() > 40) out.resize(40);
  return out;
}

Vocabulary wordsOf(const Project& project, const std::string& board) {
  return {programPins(project, board), project.program(board)};
}

namespace {

// The sign of a lane; one that ends in a colon may be said as people type it.
std::optional<Trigger> signIn(const std::string& line, const std::string& sign,
                              const Project& project, const std::string& board) {
  if (auto strict = parseSign(sign, wordsOf(project, board))) return strict;
  if (!plainLine(line).ends_with(':')) return std::nullopt;
  Reading read = readWhen(sign, benchWords(project, Nets(project, catalogue()), board));
  const bool plain = !read.question && read.mended.empty() && read.steps.empty();
  return plain ? read.lane : std::nullopt;
}

}  // namespace

WiringText readWiring(const std::string& text) {
  WiringText out;
  out.project = Project{};
  const Project usual = emptyProject();
  bool table = false;
  Taken taken;
  std::istringstream lines(text);
  std::string line;
  std::string block;  // indented lines of a lane
  int number = 0, blockLine = 0;
  std::optional<Trigger> trigger;
  std::string chosen;  // by a line "program b2"
  // Lanes belong to the board that was chosen, else to the one that was laid last.
  const auto boardOfLanes = [&](const Project& project) {
    return !chosen.empty()            ? chosen
           : project.programs.empty() ? std::string()
                                      : project.programs.back()->board;
  };
  // The table is laid with what a new project has, unless the text says otherwise.
  const auto layTable = [&] {
    if (!table && out.project.boards.empty() && out.project.breadboards.empty()) {
      const std::string title = out.project.title, about = out.project.about;
      out.project = emptyProject();
      for (auto& program : out.project.programs) program.edit().lanes.clear();
      if (!title.empty()) out.project.title = title;
      out.project.about = about;
    }
    table = true;
  };
  // Own steps can be run before they are told.
  std::vector<Trigger> own;
  for (std::istringstream all(text); std::getline(all, line);) {
    if (!lower(line).starts_with("own step ")) continue;
    while (!line.empty() && (line.back() == ' ' || line.back() == ':' || line.back() == '\r'))
      line.pop_back();
    if (auto sign = parseSign(line, {})) own.push_back(std::move(*sign));
  }
  const auto flush = [&] {
    if (!trigger) return;
    layTable();
    const std::string board = boardOfLanes(out.project);
    Vocabulary words = benchWords(out.project, Nets(out.project, catalogue()), board);
    for (const Trigger& sign : own) addOwnStep(words, sign);
    const ParsedSteps steps = readSteps(block, words);
    if (out.project.programs.empty()) {
      out.problems.push_back(
          {blockLine, {0, 0, wiring::say("A program needs a board first: board tern")}});
    } else if (steps.badLine > 0) {
      out.problems.push_back({blockLine + steps.badLine, {0, 0, steps.problem}});
    } else {
      Lane lane;
      lane.trigger = *trigger;
      lane.steps = steps.steps;
      Project next = edits::addLane(out.project, board, std::move(lane));
      if (const auto bad = unsound(next, out.project))
        out.problems.push_back({blockLine, {0, 0, sentence(*bad)}});
      else
        out.project = declareNames(std::move(next), board);
    }
    trigger.reset();
    block.clear();
  };
  while (std::getline(lines, line)) {
    ++number;
    if (!line.empty() && line.back() == '\r') line.pop_back();
    const std::size_t begin = line.find_first_not_of(" \t");
    if (trigger) {
      if (begin == std::string::npos || begin > 0) {
        // Two spaces belong to the lane, further ones to its bodies.
        block += (begin == std::string::npos ? std::string()
                                             : line.substr(std::min<std::size_t>(2, begin))) +
                 "\n";
        continue;
      }
      flush();
    }
    std::string sign = begin == std::string::npos ? std::string() : line.substr(begin);
    while (!sign.empty() && (sign.back() == ' ' || sign.back() == ':')) sign.pop_back();
    const std::string head = lower(sign);
    // Without a board of its own the table gets the usual one, or is told so; its pins can be
    // named.
    const Project& laid = out.project.boards.empty() ? usual : out.project;
    if (std::optional<Trigger> read = signIn(line, sign, laid, boardOfLanes(laid))) {
      trigger = std::move(read);
      blockLine = number;
      continue;
    }
    if (text.size() > limits::fileBytes) {
      out.problems.push_back({number, {0, 0, wiring::say("The text is larger than 8 MB")}});
      return out;
    }
    constexpr std::string_view choosing = "program ";
    if (head.starts_with(choosing)) {
      const std::string wanted = plainLine(head.substr(choosing.size()));
      chosen.clear();
      for (const BoardItem& board : out.project.boards)
        if (lower(board.id) == wanted) chosen = board.id;
      if (chosen.empty())
        out.problems.push_back(
            {number, {0, 0, wiring::say("There is no board called {}", wanted)}});
      continue;
    }
    if (const auto named = parseName(line.substr(begin == std::string::npos ? 0 : begin))) {
      layTable();
      Project next = named->problem.empty()
                         ? withName(out.project, boardOfLanes(out.project), *named)
                         : out.project;
      if (!named->problem.empty())
        out.problems.push_back({number, {0, 0, named->problem}});
      else if (const auto bad = unsound(next, out.project))
        out.problems.push_back({number, {0, 0, sentence(*bad)}});
      else
        out.project = std::move(next);
      continue;
    }
    const bool lays = head.starts_with("board") || head.starts_with("breadboard") ||
                      head.starts_with("title") || head.starts_with("about") ||
                      head.starts_with("#") || head.empty();
    if (!lays) layTable();
    Typed typed = wiring::Line(out.project, line, {}, taken).read();
    if (typed.problem)
      out.problems.push_back({number, *typed.problem});
    else
      out.project = std::move(typed.project);
  }
  flush();
  if (out.project.boards.empty() && out.project.breadboards.empty() && out.project.parts->empty()) {
    const std::string title = out.project.title;
    out.project = emptyProject();
    if (!title.empty()) out.project.title = title;
  }
  // A program without a lane gets the empty one.
  for (auto& program : out.project.programs)
    if (program->lanes.empty()) {
      Lane lane;
      lane.trigger.on = "always";
      out.project = edits::addLane(std::move(out.project), program->board, std::move(lane));
    }
  return out;
}

}  // namespace ignavo
