#pragma once
#include <vector>

#include "parts/circuit.h"

namespace ignavo {

// The pieces of metal of a project, and what joins them: wires, and legs that are one inside.
// Worked out once, for as long as the project stays as it is; then it tells of any reading of its
// circuit what goes through the wires.
class WireMetal {
 public:
  // `circuit` must be of this project.
  WireMetal(const Project& project, const Circuit& circuit);

  // Amps through each wire of Project::wires, from its `from` to its `to`. A net's metal shares its
  // current as if every wire had the same resistance; where wires make no ring within a net there
  // is but one way. Zeros where the reading did not converge.
  std::vector<double> amps(const CircuitReading& reading) const;

 private:
  struct Piece {
    int a, b;  // places in the net's spots
    int wire;  // -1: inside a part
  };
  struct NetMetal {
    std::vector<Piece> pieces;
    std::vector<int> spots;
    int reference = 0;  // place of the spot that gives or takes what is left
  };
  struct Leg {
    int spot, part, leg;
  };
  struct Pin {
    int spot, pin;
  };
  static void shareOut(const NetMetal& net, const std::vector<double>& into,
                       std::vector<double>& out);

  std::size_t wires_ = 0, parts_ = 0;
  int spots_ = 0;
  std::vector<NetMetal> nets_;
  std::vector<Leg> legs_;
  std::vector<Pin> pins_;
};

}  // namespace ignavo
