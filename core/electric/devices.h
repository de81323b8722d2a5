#pragma once
#include "electric/network.h"

// The equations of the devices, each with its slopes for Newton's iteration.
namespace ignavo::electric {

// Current and slope of a two-terminal device at a voltage.
struct TwoTerminalPoint {
  double amps = 0;
  double siemens = 0;
};
// A straight line beyond the largest exponent. `leak` in siemens.
TwoTerminalPoint evaluate(const JunctionModel& model, double volts, double leak);

// Shortens a step of a junction voltage that would overshoot its exponential:
// above the critical voltage the step becomes logarithmic. Sets `cut` when it did.
double limitedStep(double saturationAmps, double emissionVolts, double wanted, double last,
                   bool& cut);

struct BipolarPoint {
  double collectorAmps = 0, baseAmps = 0;  // into the inner terminals
  double cByBe = 0, cByBc = 0;             // slopes of the collector's current
  double bByBe = 0, bByBc = 0;             // slopes of the base's current
};
BipolarPoint evaluate(const BipolarModel& model, double baseEmitter, double baseCollector,
                      double leak);

struct MosfetPoint {
  double amps = 0;                 // drain to source
  double byGate = 0, byDrain = 0;  // slopes to Vgs and Vds
};
// Symmetric: with a negative Vds drain and source exchange their parts.
MosfetPoint evaluate(const MosfetModel& model, double gateSource, double drainSource, double leak);

struct MotorPoint {
  double amps = 0;
  double siemens = 0;
  double radiansPerSecond = 0;
};
MotorPoint evaluate(const MotorModel& model, double volts);

}  // namespace ignavo::electric
