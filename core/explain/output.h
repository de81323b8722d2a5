#pragma once
#include <optional>
#include <string>

#include "parts/circuit.h"

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
// The names of the lamps inside a part; none where it has one, or none.
std::vector<std::string> lampsInside(const Project& project, const std::string& part);
// As it is told: "Red lamp", "Deck lamp (red)", "the board’s own lamp".
std::string nameOf(const Project& project, const Output& output);

}  // namespace ignavo
