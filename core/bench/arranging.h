#pragma once
#include <map>
#include <string>
#include <vector>

#include "bench/placing.h"

// Rearranging what lies on the bench. Each function gives the project as it
// would be; when something is in the way, as it was asked for (to be shown,
// not to be kept) together with the obstacle. Parts that stay joined to their
// wires: a wire end in a row follows the leg that it serves.
namespace ignavo {

class Taken;

struct Arranged {
  Project project;
  Obstacle obstacle;
  std::vector<std::string> ids;  // what was added or moved
  bool clear() const { return obstacle.clear(); }
};

// Moves parts, wires, boards and breadboards by whole pitches. A breadboard
// takes along what is on it. A part that leaves all breadboards lies on the
// mat; one that comes back from there is plugged in.
Arranged moved(const Project& project, const Shapes& shapes, const std::vector<std::string>& ids,
               Point offset);
// The next way of lying that has room, around the first leg; on the mat by 90°.
Arranged turnedRound(const Project& project, const Shapes& shapes, const std::string& part);
// The polarised ends of each exchanged in place.
Arranged mirrored(const Project& project, const Shapes& shapes,
                  const std::vector<std::string>& parts);
// One leg into another hole, pin or leg; wires stay where they are.
Arranged plugged(const Project& project, const Shapes& shapes, const std::string& part,
                 const std::string& leg, const Socket& to);
// A lead pulled out: its end lies beside the body.
Arranged unplugged(const Project& project, const std::string& part, const std::string& leg);

// Things that were copied: parts and the wires between them, with the places
// of their sockets, in a project that holds nothing else but the boards and
// breadboards that they refer to.
Project extract(const Project& project, const std::vector<std::string>& ids);
// Adds the parts and wires of a fragment, with fresh ids and names. The first
// part goes to `at` if given, else everything goes to the nearest rows below
// that have room. Wires to pins that are taken are left out.
Arranged pasted(const Project& project, const Shapes& shapes, const Project& fragment,
                std::optional<Point> at = {});
Arranged duplicated(const Project& project, const Shapes& shapes,
                    const std::vector<std::string>& ids);
// Each part to the nearest rows that nothing else uses, its wires with it.
Arranged toFreeRows(const Project& project, const Shapes& shapes,
                    const std::vector<std::string>& parts);
// Each part into the columns of the first, in its own rows.
Arranged linedUp(const Project& project, const Shapes& shapes,
                 const std::vector<std::string>& parts);

// Where the body of a part with leads comes to lie: beside the breadboard,
// at the height of its first lead, where nothing else lies.
Point restingPlace(const Project& project, const Shapes& shapes, const Footprint& print,
                   const std::vector<std::optional<Socket>>& legs, const std::string& moving = {});
// A new part in those sockets, or lying at a point of the mat. `taken`, if somebody has it, is that
// of the project.
Arranged placed(const Project& project, const Shapes& shapes, Part part,
                const std::vector<std::optional<Socket>>& sockets, const Taken* taken = nullptr);
Arranged laidOnMat(const Project& project, const Shapes& shapes, Part part, Point at);

}  // namespace ignavo
