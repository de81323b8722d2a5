#pragma once
#include <cstdint>
#include <optional>
#include <vector>

// Plain netlists of devices. SI units throughout; node 0 is the reference.
namespace ignavo::electric {

using Node = int;

// pn junction, I = Is·(exp(Vj/(n·Vt)) − 1), in series with a resistance
// (Shockley's equation; n·Vt is called emissionVolts). With an offset it conducts only
// beyond so many volts, as something does that breaks through.
struct JunctionModel {
  double saturationAmps = 1e-14;
  double emissionVolts = 0.02585;
  double seriesOhms = 0;
  double offsetVolts = 0;
  // The model that passes `amps` at `volts` across junction and series resistance.
  static JunctionModel through(double volts, double amps, double emission, double ohms);
  // One that blocks up to `volts`, where 10 mA flow, and little more for any current.
  static JunctionModel breakdown(double volts);
};

constexpr double thermalVolts = 0.02585;  // at 25 °C

struct Conductor {
  Node a = 0, b = 0;
  double siemens = 0;  // 0: open
};
struct Junction {
  Node anode = 0, cathode = 0;
  JunctionModel model;
  bool open = false;
};
// Ideal source from the reference to a node, one at most for each node. What feeds a board
// delivers but absorbs no current: it lets go of a node that something else lifts. One that is
// shared with networks solved elsewhere is held in both directions, and whoever adds them up
// sees to it that together they do not give back more than they take.
struct Source {
  Node plus = 0;
  double volts = 0;
  enum class Gives { delivers, bothWays, nothing } gives = Gives::delivers;
};

// Ideal source in series with a resistance; takes current as well as it gives it.
struct Battery {
  Node plus = 0, minus = 0;
  double volts = 0;
  double ohms = 1;
  bool open = false;
};

// Keeps its output at so many volts above its reference as long as its input stands higher by
// what it drops at least; below, the output follows the input at that distance. It delivers but
// absorbs nothing. What it delivers comes out of its input: out of its reference, for one that is
// a source of its own, whose input and reference are the same node. Its output has an inner
// resistance, so that it can stand anywhere in a network.
struct RegulatorModel {
  double volts = 5;
  double dropVolts = 0;
  double ohms = 1e-4;
};
struct Regulator {
  Node in = 0, out = 0, reference = 0;
  RegulatorModel model;
  bool isSource() const { return in == reference; }
};

// npn transistor after Ebers and Moll, in its transport form:
// Ict = Is·(exp(Vbe/Vt) − exp(Vbc/Vt)), Ib = Is/βf·(exp(Vbe/Vt) − 1) + Is/βr·(exp(Vbc/Vt) − 1).
struct BipolarModel {
  double saturationAmps = 1.74e-14;
  double forwardBeta = 200;
  double reverseBeta = 4;
  double collectorOhms = 0.5;
  double baseOhms = 10;
};
struct Bipolar {
  Node collector = 0, base = 0, emitter = 0;
  Node innerCollector = 0, innerBase = 0;
  BipolarModel model;
  bool open = false;
};

// n-channel MOSFET after Shichman and Hodges (level 1), without its body diode:
// K·((Vgs − Vth)·Vds − Vds²/2) below saturation, K/2·(Vgs − Vth)² in it.
struct MosfetModel {
  double thresholdVolts = 1.6;
  double ampsPerSquareVolt = 1.96;
};
struct Mosfet {
  Node drain = 0, gate = 0, source = 0;
  MosfetModel model;
  bool open = false;
};

// A capacitor with a resistance in series. Settled it is open (siemens 0); in a step of
// time it is its companion, amps + siemens·V from a to b, which Transient works out.
struct Capacitor {
  Node a = 0, b = 0;
  double farads = 1e-7;
  double ohms = 0.1;
  double siemens = 0, amps = 0;
  bool open = false;
};

// Brushed motor: V = R·I + L·dIL/dt + k·ω and J·dω/dt = k·IL − T(ω), with the friction
// and load torque T(ω) = (friction + load)·tanh(ω / 10). Settled, both rates are zero. The
// losses of its iron lie across the coil: I = IL + L·dIL/dt / Riron.
struct MotorModel {
  double ohms = 7;
  double newtonMetresPerAmp = 0.0045;  // also volt-seconds
  double frictionNewtonMetres = 3.15e-4;
  double loadNewtonMetres = 0;
  double henries = 2e-3;
  double kilogramSquareMetres = 1.74e-7;
  double ironOhms = 2e3;
  // A coil that is cut off drives its voltage up until its brushes or the contact
  // that opened spark over; so does air at a fraction of a millimetre.
  double sparkVolts = 300;
  double sparkOhms = 10;
};
struct MotorState {
  double amps = 0;  // through the coil
  double radiansPerSecond = 0;
  bool operator==(const MotorState&) const = default;
};
// A step of time: from where, how fast it changed there, and how long it takes.
struct MotorStep {
  double seconds = 0;
  double weight = 1;  // of the end: 1 backward Euler, 1/2 trapezoidal
  MotorState from, rates;
};
struct Motor {
  Node a = 0, b = 0;
  MotorModel model;
  bool open = false;
  std::optional<MotorStep> step;  // none: settled
};

// Topology and parameters. The topology is fixed once a Solver was made from
// it; parameters (siemens, open, volts) may change between solves.
class Network {
 public:
  Node addNode() { return nodes_++; }
  int addConductor(Node a, Node b, double siemens);
  int addJunction(Node anode, Node cathode, const JunctionModel& model);
  int addSource(Node plus, double volts);
  int addBattery(Node plus, Node minus, double volts, double ohms);
  int addRegulator(Node in, Node out, Node reference, const RegulatorModel& model);
  int addBipolar(Node collector, Node base, Node emitter, const BipolarModel& model);
  int addMosfet(Node drain, Node gate, Node source, const MosfetModel& model);
  int addMotor(Node a, Node b, const MotorModel& model);
  int addCapacitor(Node a, Node b, double farads, double ohms);

  int nodes() const { return nodes_; }  // reference included
  // Per node: nothing leads from it to the reference. Those leak a little (nodeLeakSiemens), so
  // that there is a solution; all others stand where their devices hold them. Empty: all leak.
  std::vector<std::uint8_t> loose;
  double leakOf(Node node) const;
  std::vector<Conductor> conductors;
  std::vector<Junction> junctions;
  std::vector<Source> sources;
  std::vector<Battery> batteries;
  std::vector<Regulator> regulators;
  std::vector<Bipolar> bipolars;
  std::vector<Mosfet> mosfets;
  std::vector<Motor> motors;
  std::vector<Capacitor> capacitors;

 private:
  int nodes_ = 1;
};

}  // namespace ignavo::electric
