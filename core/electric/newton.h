#pragma once
#include <cmath>
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

#include "electric/devices.h"
#include "electric/disjoint_set.h"
#include "electric/elimination.h"
#include "electric/pivoted_lu.h"
#include "electric/solver.h"
#include "electric/tolerances.h"

namespace ignavo::electric {

// Made where it is needed; a copy makes its own.
template <typename T>
struct MadeAnew : std::unique_ptr<T> {
  MadeAnew() = default;
  MadeAnew(const MadeAnew&) : std::unique_ptr<T>() {}
  MadeAnew& operator=(const MadeAnew&) = delete;
  MadeAnew(MadeAnew&&) noexcept = default;
  MadeAnew& operator=(MadeAnew&&) noexcept = default;
  using std::unique_ptr<T>::operator=;
};

// Newton's iteration over a network, with all that it needs between one solve and the next.
// Devices know the positions of their entries in the matrix. Only Solver uses it.
struct Newton {
  // The four entries of a two-terminal device; -1 at the reference.
  struct Quad {
    int aa = -1, ab = -1, ba = -1, bb = -1;
    void stamp(std::vector<double>& v, double g) const {
      if (aa >= 0) v[static_cast<std::size_t>(aa)] += g;
      if (bb >= 0) v[static_cast<std::size_t>(bb)] += g;
      if (ab >= 0) v[static_cast<std::size_t>(ab)] -= g;
      if (ba >= 0) v[static_cast<std::size_t>(ba)] -= g;
    }
  };
  // Those of a three-terminal device, rows and columns in the order of its terminals.
  struct Nine {
    int at[3][3];
    void add(std::vector<double>& v, int row, int column, double g) const {
      if (at[row][column] >= 0) v[static_cast<std::size_t>(at[row][column])] += g;
    }
  };

  int nodeCount = 0, n = 0;
  std::optional<Elimination> order;  // always there; made once its entries are known
  MadeAnew<PivotedLu> pivoted;       // only where the plain order does not do
  std::vector<int> sourceRows;
  std::vector<double> values, base, begun, rhs, x, baseRhs, begunRhs;
  std::vector<double> sourceVolts, delivered;
  std::vector<Quad> conductors, junctions, batteries, motors, capacitors;
  std::vector<Quad> collectorOhms, baseOhms;
  std::vector<Nine> regulators, bipolars, mosfets;
  std::vector<PreparedJunction> models;  // of the junctions
  std::vector<PreparedJunction::Near> near;
  std::vector<std::uint8_t> walked, tried;  // steps down in a row; tried at zero
  std::vector<double> criticals, bipolarCriticals;
  // What a device was linearised at, and what it did there.
  template <typename Volts, typename Point>
  struct Line {
    Volts volts{HUGE_VAL};
    Point at;
  };
  struct Pair {
    double first = 0, second = 0;
  };
  std::vector<Line<double, TwoTerminalPoint>> lines;
  std::vector<Line<double, MotorPoint>> motorLines;
  struct Three {
    double in = 0, out = 0, reference = 0;
  };
  std::vector<Line<Three, RegulatorPoint>> regulatorLines;
  std::vector<Line<Pair, BipolarPoint>> bipolarLines;
  std::vector<Line<Pair, MosfetPoint>> mosfetLines;
  void forgetLines() {
    for (auto& line : lines) line = {};
    for (auto& line : motorLines) line = {};
    for (auto& line : regulatorLines) line = {};
    for (auto& line : bipolarLines) line = {};
    for (auto& line : mosfetLines) line = {};
  }
  bool onLines = false;  // the devices do what their lines say
  std::vector<int> diagonal, allRows, bentRows;
  std::vector<double> junctionVolts, motorVolts;
  std::vector<Three> regulatorVolts;
  std::vector<Pair> bipolarVolts;  // base–emitter, base–collector
  std::vector<Pair> mosfetVolts;   // gate–source, drain–source
  Held sourceOn;
  double leak = tolerances::junctionLeakSiemens;
  double share = 1;  // of a step that motors and MOSFETs take
  bool searching = false, begins = false, factored = false;
  bool singular = false;             // in the plain order, when that was tried last
  DisjointSet groups;                // of nodes, joined by more than junctions
  std::vector<double> litVolts;      // of each junction when it conducted last
  std::vector<std::uint8_t> hung;    // did it hang on nothing else?
  std::vector<std::uint8_t> joined;  // of the conductors, when it was looked at last
  Solution scratch;
  std::vector<double> sums;

  explicit Newton(const Network& net);
  double nodeVolts(Node node) const {
    return node == 0 ? 0 : x[static_cast<std::size_t>(node - 1)];
  }
  // A current that flows from one node to another through a device.
  static void inject(std::vector<double>& amps, Node from, Node to, double value) {
    if (from > 0) amps[static_cast<std::size_t>(from - 1)] -= value;
    if (to > 0) amps[static_cast<std::size_t>(to - 1)] += value;
  }
  void stampLinear(const Network& net);
  void stampJunctions(const Network& net);
  void stampActive(const Network& net);
  // True when each device does what its line said.
  bool relinearise(const Network& net);
  void followJunctions(const Network& net, double& moved, bool& cut);
  bool factorAndSolve();
  // One step; `moved`: how far, relative; `cut`: something was held back.
  bool step(const Network& net, double& moved, bool& cut);
  // Until it has converged, from where it stands; false when it does not.
  bool iterate(const Network& net, int& iterations);
  // From rest, with all the aids there are.
  bool converge(const Network& net, int& iterations);
  void rest(const Network& net);
  void restWhatHangs(const Network& net);
  // What was found, device by device.
  void read(const Network& net, bool ok, int iterations, Solution& s) const;
};

}  // namespace ignavo::electric
