#pragma once
#include <optional>
#include <string>

#include "parts/circuit.h"
#include "run/trace.h"

namespace ignavo {

// What can be asked about: a part that gives something to see or hear, one of several lamps inside
// it, or a board's own lamp.
struct Output {
  int part = -1;   // in Project::parts
  int lamp = -1;   // in PartKind::lamps; -1: the part as a whole, as bright as its brightest lamp
  int board = -1;  // in Project::boards: its own lamp
};

// By its name: "led1", "disp1.c" (the lamp between that leg and the common one), "b1". Nothing
// where that gives nothing to see or hear.
std::optional<Output> outputNamed(const Project& project, const std::string& name);
// The lamps inside a part: what names each, and what it is ("bar b, upper right"); none where it
// has one, or none.
struct LampInside {
  std::string name, meaning;
};
std::vector<LampInside> lampsInside(const Project& project, const std::string& part);
// What shines, by name, as a learner would be asked about it: each lamp, of several in a part those
// that are wired, and the own lamps of boards whose program sets their pin.
std::vector<std::string> lampsOf(const Project& project);
// Of a lamp in a trace; -1: it is not recorded.
int lampSignal(const Trace& trace, const Project& project, const Output& output);
// As it is told: "Red lamp", "Deck lamp (red)", "Board’s own lamp".
std::string nameOf(const Project& project, const Output& output);

}  // namespace ignavo
