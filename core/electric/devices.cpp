#include "electric/devices.h"

#include <algorithm>
#include <cmath>

#include "electric/tolerances.h"

namespace ignavo::electric {

namespace tol = tolerances;

namespace {

// One of Fritsch's steps towards w + ln w = y, from a w that misses y by z. What is left of
// z is below z⁴ / 72.
double fritschStep(double w, double z) {
  const double q = 2 * (1 + w) * (1 + w + z * (2.0 / 3));
  return w * (1 + z * (q - z) / ((1 + w) * (q - 2 * z)));
}
constexpr double lastMiss = 2e-4;  // z⁴ / 72 is below the last digit then
constexpr int mostSteps = 4;       // two do it; far out y itself has no such digits any more

// w with w + ln w = y: Wright's ω.
double wrightOmega(double y, PreparedJunction::Near& near) {
  constexpr double farthest = 1;
  constexpr double darkest = -45;  // 3e-20: no current that anything could tell from none
  if (y < darkest) return 0;
  if (y < -12) {
    const double e = std::exp(y);
    return e * (1 - e * (1 - 1.5 * e));
  }
  double w, z;
  if (near.w > 0 && std::abs(y - near.y) < farthest) {
    w = near.w;
    z = y - near.y;
  } else {
    if (y > 1) {
      w = y - std::log(y);
    } else {
      const double e = std::exp(y);
      w = e / (1 + e);
    }
    z = y - w - std::log(w);
  }
  w = fritschStep(w, z);
  for (int k = 0; k < mostSteps && std::abs(z) > lastMiss; ++k) {
    z = y - w - std::log(w);
    w = fritschStep(w, z);
  }
  near = {y, w};
  return w;
}

}  // namespace

PreparedJunction::PreparedJunction(const JunctionModel& model) : model_(model) {
  perVolt_ = 1 / model.emissionVolts;
  if (model.seriesOhms <= 0) return;
  scaled_ = model.seriesOhms * model.saturationAmps * perVolt_;
  logScaled_ = std::log(scaled_);
}

TwoTerminalPoint PreparedJunction::at(double volts, double leak) const {
  Near none;
  return at(volts, leak, none);
}

TwoTerminalPoint PreparedJunction::at(double volts, double leak, Near& near) const {
  const JunctionModel& m = model_;
  const double over = volts - m.offsetVolts;
  const double x = over * perVolt_;
  if (m.seriesOhms > 0) {
    const double w = wrightOmega(logScaled_ + x + scaled_, near);
    const double floor = m.offsetVolts > 0 ? 0 : m.saturationAmps;
    return {w * m.emissionVolts / m.seriesOhms - floor + leak * volts,
            w / (1 + w) / m.seriesOhms + leak};
  }
  constexpr double darkest = -40;  // e to that is nothing beside 1
  if (x < darkest) return {leak * volts - m.saturationAmps, leak};
  const double capped = std::min(x, tol::largestExponent);
  const double e = std::exp(capped);
  const double slope = m.saturationAmps * e * perVolt_;
  const double amps = m.saturationAmps * (e - 1) + slope * (x - capped) * m.emissionVolts;
  return {amps + leak * volts, slope + leak};
}

TwoTerminalPoint evaluate(const JunctionModel& model, double volts, double leak) {
  return PreparedJunction(model).at(volts, leak);
}

double criticalVolts(double saturationAmps, double nvt) {
  return nvt * std::log(nvt / (std::sqrt(2.0) * saturationAmps));
}

double limitedStep(double critical, double nvt, double wanted, double last, bool& cut) {
  if (wanted <= critical || std::abs(wanted - last) <= 2 * nvt) return wanted;
  cut = true;
  if (last <= 0) return nvt * std::log(std::max(wanted / nvt, 1.0));
  const double growth = 1 + (wanted - last) / nvt;
  return growth > 0 ? last + nvt * std::log(growth) : critical;
}

BipolarPoint evaluate(const BipolarModel& m, double be, double bc, double leak) {
  const JunctionModel ideal{m.saturationAmps, thermalVolts, 0, 0};
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

namespace {
constexpr double wholeTanh = 20;    // from here on tanh is 1 to the last digit
constexpr double softRadians = 10;  // per second, over which the friction changes its sign

struct Torque {
  double newtonMetres, slope;
};
Torque torqueAt(const MotorModel& m, double w) {
  const double most = m.frictionNewtonMetres + m.loadNewtonMetres;
  const double x = w / softRadians;
  const double t = std::abs(x) > wholeTanh ? std::copysign(1.0, x) : std::tanh(x);
  return {most * t, most / softRadians * (1 - t * t)};
}

// The root of a function that grows, between low and high: Newton, kept inside a bracket, which is
// halved where steps do not become half as long: across a bend they go to and fro.
// excess(w, slope) gives its value and its slope.
template <typename F>
double rootOf(F&& excess, double low, double high, double w) {
  double before = high - low;
  for (int i = 0; i < 200; ++i) {
    double slope = 0;
    const double f = excess(w, slope);
    const double step = f / slope;
    // The step behind this one would be its square.
    if (std::abs(step) <= 1e-7 * (1 + std::abs(w))) return w - step;
    (f > 0 ? high : low) = w;
    const double next = w - step;
    const bool shrinks = std::abs(step) <= before / 2 && next > low && next < high;
    before = shrinks ? std::abs(step) : (high - low) / 2;
    w = shrinks ? next : (low + high) / 2;
  }
  return w;
}

// The share of what is not lost in the resistance and not induced that lies across the coil.
double coilShare(const MotorModel& m) { return 1 / (1 + m.ohms / m.ironOhms); }

// A step's equations: IL = known + share·(V − k·ω) at its end, with share in siemens.
struct StepOfMotor {
  double known, share;  // amps, siemens
  double speed;         // ω at the end, known part
  double turn;          // seconds over inertia, of what acts at the end
  StepOfMotor(const MotorModel& m, const MotorStep& s) {
    const double late = s.seconds * s.weight, early = s.seconds - late;
    const double drive = late * coilShare(m) / m.henries;
    const double d = 1 + drive * m.ohms;
    known = (s.from.amps + early * s.rates.amps) / d;
    share = drive / d;
    speed = s.from.radiansPerSecond + early * s.rates.radiansPerSecond;
    turn = late / m.kilogramSquareMetres;
  }
  double amps(const MotorModel& m, double volts, double w) const {
    return known + share * (volts - m.newtonMetresPerAmp * w);
  }
  double slope(const MotorModel& m, const Torque& torque) const {
    const double k = m.newtonMetresPerAmp;
    return 1 + turn * (k * k * share + torque.slope);
  }
  double speedAfter(const MotorModel& m, double volts, double from) const {
    const double k = m.newtonMetresPerAmp;
    const auto excess = [&](double w, double& slopeThere) {
      const Torque t = torqueAt(m, w);
      slopeThere = slope(m, t);
      return w - speed - turn * (k * amps(m, volts, w) - t.newtonMetres);
    };
    // Friction is bounded, so the root lies around that without it.
    const double friction = turn * (m.frictionNewtonMetres + m.loadNewtonMetres);
    const double d = 1 + turn * k * k * share;
    const double bare = (speed + turn * k * (known + share * volts)) / d;
    // Far from standstill friction is all there, whatever the speed.
    const double quick = bare - std::copysign(friction / d, bare);
    if (std::abs(quick) > wholeTanh * softRadians && quick * bare > 0) return quick;
    const double most = friction + 1;
    return rootOf(excess, bare - most, bare + most, std::clamp(from, bare - most, bare + most));
  }
};
}  // namespace

RegulatorPoint evaluate(const Regulator& r, double in, double out, double reference) {
  const double siemens = 1 / r.model.ohms;
  const double kept = reference + r.model.volts - out;
  const double followed = in - r.model.dropVolts - out;
  if (!r.isSource() && followed < kept) {
    if (followed > -tol::regulatorVolts) return {siemens * followed, siemens, -siemens};
  } else if (kept > -tol::regulatorVolts) {
    return {siemens * kept, 0, -siemens};
  }
  // It lets go of what stands higher, and leaks like a dark junction.
  constexpr double leak = tol::junctionLeakSiemens;
  return {-leak * (out - reference), 0, -leak};
}

MotorPoint evaluate(const MotorModel& m, double volts) {
  const double k = m.newtonMetresPerAmp;
  const double v = std::abs(volts);
  // k·ω + R·T(ω)/k − V grows with ω.
  const auto excess = [&](double x, double& slope) {
    const Torque t = torqueAt(m, x);
    slope = k + m.ohms * t.slope / k;
    return k * x + m.ohms * t.newtonMetres / k - v;
  };
  const double w = rootOf(excess, 0, v / k + 1e-12, std::min(v / k, softRadians));
  const Torque t = torqueAt(m, w);
  MotorPoint p;
  p.amps = std::copysign(t.newtonMetres / k, volts);
  p.siemens = (t.slope / k) / (k + m.ohms * t.slope / k);
  p.radiansPerSecond = std::copysign(w, volts);
  return p;
}

MotorPoint evaluate(const MotorModel& m, const MotorStep& step, double volts) {
  const StepOfMotor s(m, step);
  const double k = m.newtonMetresPerAmp;
  MotorPoint p;
  p.radiansPerSecond = s.speedAfter(m, volts, step.from.radiansPerSecond);
  const double coil = s.amps(m, volts, p.radiansPerSecond), iron = coilShare(m) / m.ironOhms;
  p.amps = coil + iron * (volts - m.ohms * coil - k * p.radiansPerSecond);
  const double speedByVolts = s.turn * k * s.share / s.slope(m, torqueAt(m, p.radiansPerSecond));
  const double coilByVolts = s.share * (1 - k * speedByVolts);
  p.siemens = coilByVolts + iron * (1 - m.ohms * coilByVolts - k * speedByVolts);
  if (std::abs(volts) > m.sparkVolts) {
    p.amps += (volts - std::copysign(m.sparkVolts, volts)) / m.sparkOhms;
    p.siemens += 1 / m.sparkOhms;
  }
  return p;
}

MotorPoint evaluate(const Motor& m, double volts) {
  return m.step ? evaluate(m.model, *m.step, volts) : evaluate(m.model, volts);
}

MotorState stateAfter(const MotorModel& m, const MotorStep& step, double volts) {
  const StepOfMotor s(m, step);
  const double w = s.speedAfter(m, volts, step.from.radiansPerSecond);
  return {s.amps(m, volts, w), w};
}

MotorState ratesAt(const MotorModel& m, const MotorState& at, double volts) {
  const double k = m.newtonMetresPerAmp;
  return {coilShare(m) * (volts - m.ohms * at.amps - k * at.radiansPerSecond) / m.henries,
          (k * at.amps - torqueAt(m, at.radiansPerSecond).newtonMetres) / m.kilogramSquareMetres};
}

}  // namespace ignavo::electric
