#include "electric/devices.h"

#include <algorithm>
#include <cmath>

#include "electric/tolerances.h"

namespace ignavo::electric {

namespace tol = tolerances;

TwoTerminalPoint evaluate(const JunctionModel& m, double volts, double leak) {
  const double x = volts / m.emissionVolts;
  const double capped = std::min(x, tol::largestExponent);
  const double e = std::exp(capped);
  const double slope = m.saturationAmps * e / m.emissionVolts;
  const double amps = m.saturationAmps * (e - 1) + slope * (x - capped) * m.emissionVolts;
  return {amps + leak * volts, slope + leak};
}

double limitedStep(double saturationAmps, double nvt, double wanted, double last, bool& cut) {
  const double critical = nvt * std::log(nvt / (std::sqrt(2.0) * saturationAmps));
  if (wanted <= critical || std::abs(wanted - last) <= 2 * nvt) return wanted;
  cut = true;
  if (last <= 0) return nvt * std::log(std::max(wanted / nvt, 1.0));
  const double growth = 1 + (wanted - last) / nvt;
  return growth > 0 ? last + nvt * std::log(growth) : critical;
}

BipolarPoint evaluate(const BipolarModel& m, double be, double bc, double leak) {
  const JunctionModel ideal{m.saturationAmps, thermalVolts, 0};
  const TwoTerminalPoint forward = evaluate(ideal, be, 0), reverse = evaluate(ideal, bc, 0);
  BipolarPoint p;
  const double gbe = forward.siemens / m.forwardBeta + leak;
  const double gbc = reverse.siemens / m.reverseBeta + leak;
  const double ibe = forward.amps / m.forwardBeta + leak * be;
  const double ibc = reverse.amps / m.reverseBeta + leak * bc;
  p.collectorAmps = forward.amps - reverse.amps - ibc;
  p.baseAmps = ibe + ibc;
  p.cByBe = forward.siemens;
  p.cByBc = -reverse.siemens - gbc;
  p.bByBe = gbe;
  p.bByBc = gbc;
  return p;
}

MosfetPoint evaluate(const MosfetModel& m, double gs, double ds, double leak) {
  if (ds < 0) {
    // Seen from the other end: Vgd takes the place of Vgs.
    const MosfetPoint q = evaluate(m, gs - ds, -ds, 0);
    return {-q.amps + leak * ds, -q.byGate, q.byGate + q.byDrain + leak};
  }
  MosfetPoint p;
  const double over = gs - m.thresholdVolts;
  if (over > 0 && ds < over) {
    p.amps = m.ampsPerSquareVolt * (over * ds - ds * ds / 2);
    p.byGate = m.ampsPerSquareVolt * ds;
    p.byDrain = m.ampsPerSquareVolt * (over - ds);
  } else if (over > 0) {
    p.amps = m.ampsPerSquareVolt * over * over / 2;
    p.byGate = m.ampsPerSquareVolt * over;
  }
  p.amps += leak * ds;
  p.byDrain += leak;
  return p;
}

MotorPoint evaluate(const MotorModel& m, double volts) {
  constexpr double soft = 10;  // rad/s over which the friction changes its sign
  const double most = m.frictionNewtonMetres + m.loadNewtonMetres;
  const double k = m.newtonMetresPerAmp;
  const double v = std::abs(volts);
  // k·ω + R·T(ω)/k − V grows with ω: Newton, kept inside a bracket.
  double low = 0, high = v / k, w = std::min(high, soft);
  const auto excess = [&](double x) { return k * x + m.ohms * most * std::tanh(x / soft) / k - v; };
  const auto slopeOfTorque = [&](double x) {
    const double c = std::cosh(std::min(x / soft, 300.0));
    return most / (soft * c * c);
  };
  for (int i = 0; i < 100; ++i) {
    const double f = excess(w);
    (f > 0 ? high : low) = w;
    double next = w - f / (k + m.ohms * slopeOfTorque(w) / k);
    if (!(next > low && next < high)) next = (low + high) / 2;
    if (std::abs(next - w) <= 1e-12 * (1 + std::abs(next))) break;
    w = next;
  }
  const double torque = most * std::tanh(w / soft);
  const double t = slopeOfTorque(w);
  MotorPoint p;
  p.amps = std::copysign(torque / k, volts);
  p.siemens = (t / k) / (k + m.ohms * t / k);
  p.radiansPerSecond = std::copysign(w, volts);
  return p;
}

}  // namespace ignavo::electric
