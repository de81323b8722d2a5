#pragma once
#include <string>

#include "bench/placing.h"

namespace ignavo {

// Adds a wire as the last one. A wire to a pin gets the pin's identity colour,
// so that the pin keeps it whatever happens to other wires.
Project withWire(const Project& project, const Shapes& shapes, const Socket& from,
                 const Socket& to);
// A bend at that place, in its order along the wire.
Project withBend(const Project& project, const Shapes& shapes, const std::string& wire, Point at);
// May a board or breadboard stand there? Nothing else may be under it.
Obstacle roomFor(const Project& project, const Shapes& shapes, const BoardItem& item);

}  // namespace ignavo
