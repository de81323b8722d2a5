#pragma once
#include <string>
#include <vector>

#include "bench/shapes.h"

namespace ignavo {

// Lays wires so that they avoid the bodies of parts, the boards and each other:
// straight where nothing is in the way and no other wire lies on the same line, else along the
// channels between the holes (A* over half-pitch channels, corners and crossings cost extra).
// `wires` empty: all of them. Deterministic.
Project tidied(const Project& project, const Shapes& shapes, const std::vector<std::string>& wires);
// Takes the bends out.
Project straightened(const Project& project, const std::vector<std::string>& wires);
// How many wires lie across the body of a part that they do not end at.
int coveredParts(const Project& project, const Shapes& shapes);

}  // namespace ignavo
