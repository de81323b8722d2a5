#pragma once
#include <vector>

// Plain netlists of devices. SI units throughout; node 0 is the reference.
namespace ignavo::electric {

using Node = int;

// pn junction, I = Is·(exp(Vj/(n·Vt)) − 1), in series with a resistance
// (Shockley's equation; n·Vt is called emissionVolts).
struct JunctionModel {
  double saturationAmps = 1e-14;
  double emissionVolts = 0.02585;
  double seriesOhms = 0;
  // The model that passes `amps` at `volts` across junction and series resistance.
  static JunctionModel through(double volts, double amps, double emission, double ohms);
};

constexpr double thermalVolts = 0.02585;  // at 25 °C

struct Conductor {
  Node a = 0, b = 0;
  double siemens = 0;  // 0: open
};
struct Junction {
  Node anode = 0, inner = 0, cathode = 0;  // anode –R– inner –▷|– cathode
  JunctionModel model;
  bool open = false;
};
// Ideal source that delivers but absorbs no current.
struct Source {
  Node plus = 0, minus = 0;
  double volts = 0;
};

// Topology and parameters. The topology is fixed once a Solver was made from
// it; parameters (siemens, open, volts) may change between solves.
class Network {
 public:
  Node addNode() { return nodes_++; }
  int addConductor(Node a, Node b, double siemens);
  int addJunction(Node anode, Node cathode, const JunctionModel& model);
  int addSource(Node plus, Node minus, double volts);

  int nodes() const { return nodes_; }  // reference included
  std::vector<Conductor> conductors;
  std::vector<Junction> junctions;
  std::vector<Source> sources;

 private:
  int nodes_ = 1;
};

}  // namespace ignavo::electric
