#pragma once
#include <memory>
#include <vector>

#include "electric/devices.h"
#include "electric/network.h"

namespace ignavo::electric {

struct BipolarAmps {  // into collector and base; the emitter gives both back
  double collector = 0, base = 0;
};

struct Solution {
  bool converged = false;
  int iterations = 0;
  std::vector<double> volts;         // per node, reference included
  std::vector<double> sourceAmps;    // delivered out of plus; below zero only of one held both ways
  std::vector<double> junctionAmps;  // anode to cathode
  std::vector<double> batteryAmps;   // delivered out of plus
  std::vector<double> regulatorAmps;  // delivered out of their outputs
  std::vector<BipolarAmps> bipolarAmps;
  std::vector<double> mosfetAmps;  // drain to source
  std::vector<MotorPoint> motors;
  std::vector<double> capacitorAmps;  // from a to b

  double volt(Node node) const { return volts[static_cast<std::size_t>(node)]; }
  double conductorAmps(const Network& n, int index) const {
    const Conductor& c = n.conductors[static_cast<std::size_t>(index)];
    return c.siemens * (volt(c.a) - volt(c.b));
  }
};

// The largest violation of Kirchhoff's current law over all nodes, in amps,
// worked out from the device equations, not from the solver's matrix.
double kirchhoffError(const Network& network, const Solution& solution);
// Delivered minus dissipated power, in watts.
double powerError(const Network& network, const Solution& solution);

struct Newton;

// Nodal analysis with Newton iteration on a sparse LU that is ordered once per
// topology. solve() starts every time from the same point, so an answer does not
// depend on what was solved before.
class Solver {
 public:
  explicit Solver(const Network& network);
  ~Solver();
  Solver(const Solver& other);  // goes on from where the other one stands
  Solver& operator=(const Solver&) = delete;
  Solver(Solver&&) noexcept;
  Solver& operator=(Solver&&) noexcept;

  // `network` must have the topology that the solver was made from. A circuit
  // that does not converge has converged == false and no volts to trust.
  Solution solve(const Network& network);
  // The same from where the last solve ended: quicker where little has changed, with
  // an answer that differs within the tolerances. Fills `out`, whose memory is used again.
  void solveOn(const Network& network, Solution& out);
  // The next solveOn() begins at these volts per node instead.
  void beginAt(const Network& network, const std::vector<double>& volts);
  // A solution once more from its volts and what the sources deliver.
  Solution solutionAt(const Network& network, const std::vector<double>& volts,
                      const std::vector<double>& sourceAmps);
  // Small-signal resistance in ohms from a node to the reference, at the last solution.
  double resistanceAt(Node node) const { return resistanceBetween(node, 0); }
  double resistanceBetween(Node a, Node b) const;
  int unknowns() const;
  // One Newton step from where the last one ended, for the benchmark.
  void iterateOnce(const Network& network);

 private:
  void settleSources(const Network& network, bool fromRest, Solution& out);
  std::unique_ptr<Newton> work_;
};

}  // namespace ignavo::electric
