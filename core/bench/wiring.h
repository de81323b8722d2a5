#pragma once
#include <string>

#include "bench/arranging.h"
#include "bench/placing.h"

namespace ignavo {

// Adds a wire as the last one. A wire to a pin gets the pin's identity colour,
// so that the pin keeps it whatever happens to other wires. `taken`, if somebody has it, is that of
// the project.
Project withWire(const Project& project, const Shapes& shapes, const Socket& from, const Socket& to,
                 Taken* taken = nullptr);
// A hole, pin or leg as it is told and typed: with its board only where there are several.
std::string placeName(const Project& project, const Socket& socket);
// A bend at that place, in its order along the wire.
Project withBend(const Project& project, const Shapes& shapes, const std::string& wire, Point at);
// What a wire that is being laid would catch at `p`: the nearest socket, or else
// the pin whose printed name is there, or the rail that runs past.
std::optional<Socket> nearestTarget(const Project& project, const Shapes& shapes, Point p,
                                    double within, bool legs);
// Adds a board (with an empty program) or a breadboard, if there is room for it.
Arranged withTable(const Project& project, const Shapes& shapes, const BoardItem& item);
// May a board or breadboard stand there? Nothing else may be under it.
Obstacle roomFor(const Project& project, const Shapes& shapes, const BoardItem& item);

}  // namespace ignavo
