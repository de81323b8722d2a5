#pragma once

// Every tolerance of the solver and of what is read off it, with its reason.
namespace ignavo::electric::tolerances {

// Newton stops when no node moves by more than this. It doubles the digits with each
// step (the bend of a junction at room temperature is below 1 / 26 mV), so what is left
// after a step of a microvolt is some 1e-11 V.
constexpr double stepVolts = 1e-6;
// A source that is off is switched on again when its node is lower than its volts by this.
constexpr double sunkVolts = 1e-9;
// A device may miss its line by so much; some ten of them at a node stay below kirchhoffAmps.
constexpr double lineAmps = 1e-10;
// So many steps of n·Vt downwards in a row mean that a junction goes out.
constexpr int walkedSteps = 3;
// A junction that has moved by less keeps its tangent: at 0.1 A it is wrong by 0.2 pA.
constexpr double sameLineVolts = 1e-7;
// Nets that hang on leaks alone have voltages of any last digit, however well
// the currents balance. After this many iterations a balance to within
// settledAmps at every node (a millivolt across 100 MΩ) is convergence as well.
constexpr int settleAfter = 8;
constexpr double settledAmps = 1e-11;
// Kirchhoff's law must hold at every node to this, or the answer is refused.
constexpr double kirchhoffAmps = 1e-9;
constexpr double kirchhoffRelative = 1e-6;
// Error that one step of time may make in a state variable: a share of it, or so much of it as
// nobody would see of a circuit of a few volts. Of a capacitor less, for a level that is crossed
// tells when it was: a millivolt at 3 V in a charge of a second is half a millisecond.
struct StateError {
  double absolute, relative;
};
constexpr StateError capacitorVolts{2e-4, 2e-4};
constexpr StateError motorAmps{1e-3, 2e-3};
constexpr StateError motorRadiansPerSecond{1, 2e-3};
// A network nearer than this share of those errors to its settled state has settled.
constexpr double restShare = 0.1;
// On an exponential way: what is not linear may pass this share of the capacitor's current (its
// time constant is then right to that), and so much may be left of it where it is to be at rest
// (the last digits of volts over a tenth of an ohm, beside a microamp).
constexpr double linearShare = 1e-5;
constexpr double restAmpsShare = 1e-3;
// A step of it takes so much of what is left, and so many volts besides: what is recorded of a
// course is its mean in each step. Of what is over within microseconds nobody sees the course.
constexpr double decayShare = 0.3;
constexpr double quickDecayShare = 0.5;
constexpr double quickDecaySeconds = 2e-6;
constexpr double decayVolts = 0.02;
// Leak across every junction (1 pS), so that a string of dark junctions has
// defined voltages; 5 pA at 5 V.
constexpr double junctionLeakSiemens = 1e-12;
// Leak of every node to the reference, so that a net behind an open contact
// does not make the matrix singular. Such a net is reported without a voltage.
constexpr double nodeLeakSiemens = 1e-12;
// Leak of a board that is afloat to the ground of the others: it stands somewhere, even if nothing
// but a dark junction leads to it. 1 GΩ: a thousandth of what is looked at as dark.
constexpr double groundLeakSiemens = 1e-9;
// A regulator without a load stands at its volts but for the last digits; only what is higher by
// more than this (a nanoamp into its output) is something that lifts it.
constexpr double regulatorVolts = 1e-13;
// Newton takes 5 to 20 iterations; more than this means that it wanders.
constexpr int newtonIterations = 150;
// A source whose current is above this times -1 is taken to deliver nothing.
constexpr double absorbedAmps = 1e-12;
// A supply lets go when all islands together would give it back more than this; less is what
// the last digits of some amperes leave.
constexpr double givenBackAmps = 1e-10;
// A MOSFET's voltages change by at most this per iteration.
constexpr double mosfetStepVolts = 1.0;
// Share of a step that devices with a bent curve take: whole ones, and smaller ones when
// Newton goes to and fro.
constexpr double shareOfStep(int iteration) {
  return iteration < 20 ? 1 : iteration < 60 ? 0.5 : 0.2;
}
// Exponents above this are continued as a straight line: e^80 A flows nowhere.
constexpr double largestExponent = 80;

}  // namespace ignavo::electric::tolerances
