#pragma once
#include <optional>
#include <string>
#include <vector>

#include "bench/arranging.h"

// What moving, turning and copying have in common.
namespace ignavo {

constexpr double exactly = 0.30;  // legs of a stiff part must meet holes this closely, in pitches

// A piece of metal in a breadboard, across projects: "bb", 27.
struct Strip {
  std::string breadboard;
  int strip = -1;
  bool rail = false;
  auto operator<=>(const Strip&) const = default;
};
// Nothing for what is in no breadboard.
std::optional<Strip> stripOf(const Project& project, const Socket& socket);
// The same for rows alone, nothing for a rail.
std::optional<Strip> rowOf(const Project& project, const Socket& socket);
// A hole of the same row beyond the trench; nothing for what is in no row.
std::optional<Socket> acrossTrench(const Project& project, const Socket& socket);
// The hole at a point of the bench.
std::optional<Socket> holeAt(const Project& project, Point at, double within = exactly);
Part* partForEdit(Project& p, const std::string& id);

// New sockets for some parts; the wires in their rows go with them.
struct Relocation {
  std::string part;
  std::vector<std::optional<Socket>> sockets;  // in the footprint's order
};
// Puts parts into new sockets and takes the wire ends of their rows along.
Arranged relocated(const Project& project, const Shapes& shapes,
                   const std::vector<Relocation>& all);

}  // namespace ignavo
