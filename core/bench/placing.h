#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench/shapes.h"
#include "text/message.h"

namespace ignavo {

class Taken;

// What sits in a socket.
struct Occupant {
  std::string id;    // part or wire
  std::string what;  // leg id, or "from" / "to" of a wire
  bool operator==(const Occupant&) const = default;
};
using Occupancy = std::map<Socket, Occupant>;

// Which sockets are taken. Clips on legs do not take anything.
Occupancy occupancy(const Project& project);
// The same for one socket; nothing when it is free, or a leg.
std::optional<Occupant> occupantOf(const Project& project, const Socket& socket);

// Where a socket lies on the bench; nothing when it does not exist.
std::optional<Point> socketAt(const Project& project, const Shapes& shapes, const Socket& socket);
// The hole or pin nearest to `p` within `within` pitches; with `legs` also the
// legs that are in no hole, to be clipped.
std::optional<Socket> nearestSocket(const Project& project, const Shapes& shapes, Point p,
                                    double within, bool legs = false);

// The reason why something cannot lie where it was asked to.
struct Obstacle {
  enum class Code {
    none,
    noHole,
    taken,
    outOfReach,
    noSuchSocket,
    rowFull,  // no free hole left in that row for a wire that comes along
    noRoom,   // no free rows anywhere
    covers,   // the body would lie on something
    locked,
  };
  Code code = Code::none;
  std::string leg;       // leg concerned
  std::string hole;      // address concerned
  std::string occupant;  // id of what sits there
  double pitches = 0;    // distance, for outOfReach
  double limit = 0;
  bool clear() const { return code == Code::none; }
};

// What is in the way, as a sentence without its full stop; `type` names the
// part kind whose leg is meant.
Message sentence(const Obstacle& obstacle, const Project& project, const Shapes& shapes,
                 const std::string& type = {});
// Are the legs of a part that stretches within its reach of each other?
Obstacle reachOf(const Project& project, const Shapes& shapes, const Part& part);

// A part's legs laid out somewhere: sockets in the footprint's order.
struct Placement {
  std::vector<std::optional<Socket>> sockets;
  int way = 0;
  Obstacle obstacle;
};

// Lays `type` with its first leg at `at`, in the way numbered `way`. `moving`
// is the id of a part whose own holes count as free.
Placement layOut(const Project& project, const Shapes& shapes, const std::string& type, Point at,
                 int way, const std::string& moving = {});
// Tries the ways in turn, beginning with `preferred`, and gives the first that
// is clear and joins no two separate legs; else the first one with its obstacle.
Placement layOutBest(const Project& project, const Shapes& shapes, const std::string& type,
                     Point at, int preferred);
// May this leg go to that socket? Checks that it is free and within the part's reach.
Obstacle canPlug(const Project& project, const Shapes& shapes, const Part& part,
                 const std::string& leg, const Socket& to);
// May this wire end go to that socket? `wire` is the id of a wire being re-plugged, or empty;
// `taken`, if somebody has it, is that of the project.
Obstacle canWire(const Project& project, const Shapes& shapes, const Socket& to,
                 const std::string& wire = {}, const Taken* taken = nullptr);

// The part with its polarised ends exchanged in place.
Part flipped(Part part, const Shapes& shapes);

}  // namespace ignavo
