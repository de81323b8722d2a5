#pragma once
#include "electric/network.h"

// The equations of the devices, each with its slopes for Newton's iteration.
namespace ignavo::electric {

// Current and slope of a two-terminal device at a voltage.
struct TwoTerminalPoint {
  double amps = 0;
  double siemens = 0;
};
// A junction with its series resistance, as one device between its terminals. With no
// resistance the exponential is a straight line beyond the largest exponent. With one,
// Shockley's equation and Ohm's law give w + ln w = y for the scaled current, which is
// solved after Fritsch, Shafer and Crowley (1973). `leak` in siemens.
TwoTerminalPoint evaluate(const JunctionModel& model, double volts, double leak);

// The same for many voltages of one junction: what does not depend on them is worked
// out once.
class PreparedJunction {
 public:
  // Where the curve was solved last: a voltage near it is found from there. With the same
  // digits but for the last, wherever one comes from.
  struct Near {
    double y = 0, w = 0;  // w + ln w = y; w is 0 when there is none
  };
  explicit PreparedJunction(const JunctionModel& model);
  TwoTerminalPoint at(double volts, double leak) const;
  TwoTerminalPoint at(double volts, double leak, Near& near) const;

 private:
  JunctionModel model_;
  double scaled_ = 0, logScaled_ = 0, perVolt_ = 0;
};

// Shortens a step of a junction voltage that would overshoot its exponential:
// above the critical voltage the step becomes logarithmic. Sets `cut` when it did.
double criticalVolts(double saturationAmps, double emissionVolts);
double limitedStep(double criticalVolts, double emissionVolts, double wanted, double last,
                   bool& cut);

// Of a regulator: what it delivers, with its slopes to the volts of input and output; that to the
// volts of its reference makes their sum zero.
struct RegulatorPoint {
  double amps = 0;
  double byIn = 0, byOut = 0;
};
RegulatorPoint evaluate(const Regulator& regulator, double in, double out, double reference);

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
// The same at the end of a step of time; amps include a spark's.
MotorPoint evaluate(const MotorModel& model, const MotorStep& step, double volts);
MotorPoint evaluate(const Motor& motor, double volts);
// Where the coil and the shaft are at the end of a step, and how they change there.
MotorState stateAfter(const MotorModel& model, const MotorStep& step, double volts);
MotorState ratesAt(const MotorModel& model, const MotorState& state, double volts);

}  // namespace ignavo::electric
