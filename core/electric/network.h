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

// Ideal source in series with a resistance; takes current as well as it gives it.
struct Battery {
  Node plus = 0, minus = 0;
  double volts = 0;
  double ohms = 1;
  bool open = false;
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

// Brushed motor at its settled speed: V = R·I + k·ω and k·I = T(ω), with the
// friction and load torque T(ω) = (friction + load)·tanh(ω / 10).
struct MotorModel {
  double ohms = 7;
  double newtonMetresPerAmp = 0.0045;  // also volt-seconds
  double frictionNewtonMetres = 3.15e-4;
  double loadNewtonMetres = 0;
};
struct Motor {
  Node a = 0, b = 0;
  MotorModel model;
  bool open = false;
};

// Topology and parameters. The topology is fixed once a Solver was made from
// it; parameters (siemens, open, volts) may change between solves.
class Network {
 public:
  Node addNode() { return nodes_++; }
  int addConductor(Node a, Node b, double siemens);
  int addJunction(Node anode, Node cathode, const JunctionModel& model);
  int addSource(Node plus, Node minus, double volts);
  int addBattery(Node plus, Node minus, double volts, double ohms);
  int addBipolar(Node collector, Node base, Node emitter, const BipolarModel& model);
  int addMosfet(Node drain, Node gate, Node source, const MosfetModel& model);
  int addMotor(Node a, Node b, const MotorModel& model);

  int nodes() const { return nodes_; }  // reference included
  std::vector<Conductor> conductors;
  std::vector<Junction> junctions;
  std::vector<Source> sources;
  std::vector<Battery> batteries;
  std::vector<Bipolar> bipolars;
  std::vector<Mosfet> mosfets;
  std::vector<Motor> motors;

 private:
  int nodes_ = 1;
};

}  // namespace ignavo::electric
