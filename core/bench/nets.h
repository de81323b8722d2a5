#pragma once
#include <string>
#include <vector>

#include "bench/shapes.h"

namespace ignavo {

struct BreadboardKind;

struct LegRef {
  int part = 0;  // index in Project::parts
  int leg = 0;   // index in the footprint
  auto operator<=>(const LegRef&) const = default;
};
struct PinRef {
  int board = 0;  // index in Project::boards
  int pin = 0;    // index in the board's shape
  auto operator<=>(const PinRef&) const = default;
};
struct StripRef {
  int breadboard = 0;
  int strip = 0;
  auto operator<=>(const StripRef&) const = default;
};

// Everything that is joined by metal: holes of a strip, wires, always-joined legs.
struct Net {
  IGNAVO_VALUE(Net);

  std::string name;  // as people say it: "D4", "5 V", "left − rail", "row 14 left"
  std::vector<PinRef> pins;
  std::vector<LegRef> legs;
  std::vector<int> wires;  // indices in Project::wires; both ends lie in this net
  std::vector<StripRef> strips;
  bool used() const { return !pins.empty() || !legs.empty() || !wires.empty(); }
};

// The netlist of a project; the shapes must outlive it. Built in time n log n in strips, pins, legs
// and wires; sockets that do not exist are in no net (-1).
class Nets {
 public:
  Nets() = default;
  Nets(const Project& project, const Shapes& shapes);

  const std::vector<Net>& all() const { return nets_; }
  int of(const Socket& socket) const;
  int ofPin(PinRef pin) const;
  int ofLeg(LegRef leg) const;
  // Every socket of a net, empty holes included, sorted by owner as in the project.
  std::vector<Socket> sockets(int net, const Project& project, const Shapes& shapes) const;

 private:
  // A board, breadboard or part, and the first of its nodes.
  struct Owner {
    std::string id;
    int base = 0;
    const BoardShape* board = nullptr;  // one of the three
    const BreadboardKind* breadboard = nullptr;
    const Footprint* part = nullptr;
  };
  int nodeOf(const Socket& socket) const;
  void joinAll(const Project& project, const std::vector<const Footprint*>& prints,
               std::vector<int>& parents) const;
  void nameAll(const Project& project, const Shapes& shapes);
  std::string nameOf(const Net& net, const Project& project, const Shapes& shapes) const;

  std::vector<Owner> owners_;  // by id
  std::vector<int> pinBase_, legBase_;
  std::vector<int> netOfNode_;
  std::vector<Net> nets_;
};

}  // namespace ignavo
