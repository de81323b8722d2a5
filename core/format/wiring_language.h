#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/expressions.h"
#include "project/project.h"
#include "text/message.h"

// Wiring as text: one line, one thing. `docs/wiring-language.md` describes it.
namespace ignavo {

// The names that steps of a board's program may use.
Vocabulary wordsOf(const Project& project, const std::string& board);

// What is wrong with a line, and where: characters counted from 0, in bytes.
struct TypedProblem {
  std::size_t column = 0;
  std::size_t length = 0;
  Message message;  // "Hole e14 is taken by R1"
};

// The project after a line, or what is wrong with the line.
struct Typed {
  Project project;
  Message name;                  // of the edit: "place Red lamp"
  std::vector<std::string> ids;  // what was added or changed
  std::optional<TypedProblem> problem;
  bool empty = false;  // nothing but space or a remark
};
// `board`: whose a pin is that is named without its board, and whose program a step is for; empty:
// the first.
Typed typeLine(const Project& project, const std::string& line, const std::string& board = {});

// How the line may go on: whole lines, the likeliest first, with what each means.
struct Completion {
  std::string line;
  Message means;
};
std::vector<Completion> completeLine(const Project& project, const std::string& line,
                                     const std::string& board = {});

// A whole circuit as text. Lines that cannot be read are listed and left out.
struct WiringProblem {
  int line = 0;  // from 1
  TypedProblem what;
};
struct WiringText {
  Project project;
  std::vector<WiringProblem> problems;
};
WiringText readWiring(const std::string& text);
// The text that makes the same boards, breadboards, parts and wires.
std::string writeWiring(const Project& project);

}  // namespace ignavo
