#include "electric/transient.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "electric/tolerances.h"

namespace ignavo::electric {

namespace tol = tolerances;

namespace {

// Calls visit(a[i], b[i], …, tolerance) for each state variable of several sets.
template <typename Visit, typename... Sets>
void forEachVariable(const Network& n, Visit&& visit, Sets&... sets) {
  for (std::size_t i = 0; i < n.capacitors.size(); ++i)
    if (!n.capacitors[i].open) visit(tol::capacitorVolts, sets.capacitorVolts[i]...);
  for (std::size_t i = 0; i < n.motors.size(); ++i) {
    if (n.motors[i].open) continue;
    visit(tol::motorAmps, sets.motors[i].amps...);
    visit(tol::motorRadiansPerSecond, sets.motors[i].radiansPerSecond...);
  }
}

constexpr double firstGrowth = 2, mostGrowth = 4;  // of a step, to the next
constexpr double calmError = 0.3;

double wholeNanoseconds(double seconds) {
  return std::max(1.0, std::floor(seconds * 1e9 + 1e-3)) * 1e-9;
}

}  // namespace

Transient::Transient(const Network& network) : network_(network), solver_(network) {
  state_.capacitorVolts.assign(network.capacitors.size(), 0.0);
  state_.motors.assign(network.motors.size(), {});
  rates_ = ratesBefore_ = state_;
}

StateVariables Transient::settled(const Network& n, const Solution& s) {
  StateVariables out;
  for (const Capacitor& c : n.capacitors) out.capacitorVolts.push_back(s.volt(c.a) - s.volt(c.b));
  for (const MotorPoint& m : s.motors) out.motors.push_back({m.amps, m.radiansPerSecond});
  return out;
}

bool Transient::nearTo(const StateVariables& settled) const {
  bool near = true;
  forEachVariable(
      network_,
      [&](const tol::StateError& t, double x, double y) {
        near = near && std::abs(x - y) <= tol::restShare * (t.absolute + t.relative * std::abs(y));
      },
      state_, settled);
  return near;
}

void Transient::findRates(const StateVariables& state, const Solution& s,
                          StateVariables& out) const {
  out = state;
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i) {
    const Capacitor& c = network_.capacitors[i];
    out.capacitorVolts[i] = c.open ? 0 : s.capacitorAmps[i] / c.farads;
  }
  for (std::size_t i = 0; i < network_.motors.size(); ++i) {
    const Motor& m = network_.motors[i];
    out.motors[i] = m.open ? MotorState{}
                           : electric::ratesAt(m.model, state.motors[i], s.volt(m.a) - s.volt(m.b));
  }
}

// Solves the network at the end of a step, the companions of its devices in place.
bool Transient::take(double seconds, Step& step) {
  step.seconds = seconds;
  step.first = lastSeconds_ == 0;
  const double weight = step.first ? 1 : 0.5, early = seconds * (1 - weight);
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i) {
    Capacitor& c = network_.capacitors[i];
    c.siemens = 1 / (c.ohms + seconds * weight / c.farads);
    c.amps = -c.siemens * (state_.capacitorVolts[i] + early * rates_.capacitorVolts[i]);
  }
  for (std::size_t i = 0; i < network_.motors.size(); ++i) {
    Motor& m = network_.motors[i];
    m.step = MotorStep{seconds, weight, state_.motors[i], rates_.motors[i]};
    if (m.open) state_.motors[i] = {};
  }
  if (!step.first && seconds > 0) {
    // All goes on as it went: a good place to begin.
    guess_ = here_.volts;
    for (std::size_t i = 0; i < guess_.size(); ++i)
      guess_[i] += (guess_[i] - voltsBefore_[i]) * (seconds / lastSeconds_);
    solver_.beginAt(network_, guess_);
  }
  solver_.solveOn(network_, step.solution);
  if (!step.solution.converged) return false;
  step.state = state_;
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i) {
    const Capacitor& c = network_.capacitors[i];
    const double across = step.solution.volt(c.a) - step.solution.volt(c.b);
    // What is cut off here follows the voltage, to start from it when it is not.
    step.state.capacitorVolts[i] =
        c.open ? across : across - c.ohms * step.solution.capacitorAmps[i];
  }
  if (seconds > 0)
    for (std::size_t i = 0; i < network_.motors.size(); ++i) {
      const Motor& m = network_.motors[i];
      if (!m.open)
        step.state.motors[i] =
            stateAfter(m.model, *m.step, step.solution.volt(m.a) - step.solution.volt(m.b));
    }
  findRates(step.state, step.solution, step.rates);
  return true;
}

bool Transient::changed() {
  decay_.reset();
  lastSeconds_ = 0;
  Step now;
  if (!take(0, now)) return false;
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i)
    if (network_.capacitors[i].open) state_.capacitorVolts[i] = now.state.capacitorVolts[i];
  here_ = std::move(now.solution);
  rates_ = std::move(now.rates);
  wantedSeconds_ = firstSeconds_;
  abrupt_ = true;
  swung_ = false;
  return true;
}

// Between two moments at which it holds: all that is not linear passes next to nothing beside
// those amps, and supplies give or do not give at both. The voltages between lie on the line that
// joins them, so it holds on the whole way.
bool Transient::isLinear(const Solution& a, const Solution& b, double amps) const {
  const Network& n = network_;
  for (std::size_t i = 0; i < n.junctions.size(); ++i)
    if (!n.junctions[i].open && std::max(std::abs(a.junctionAmps[i]), std::abs(b.junctionAmps[i])) >
                                    tol::linearShare * amps)
      return false;
  for (std::size_t i = 0; i < n.sources.size(); ++i)
    if (n.sources[i].gives == Source::Gives::delivers &&
        (a.sourceAmps[i] > tol::absorbedAmps) != (b.sourceAmps[i] > tol::absorbedAmps))
      return false;
  return true;
}

// One capacitor with conductors and ideal sources: C·du/dt = i(u), and i is a straight line, known
// from here and from where it is nothing.
void Transient::easeTo(const StateVariables& goal) {
  const Network& n = network_;
  const auto isOpen = [](const auto& device) { return device.open; };
  if (!n.regulators.empty() || !std::all_of(n.bipolars.begin(), n.bipolars.end(), isOpen) ||
      !std::all_of(n.mosfets.begin(), n.mosfets.end(), isOpen) ||
      !std::all_of(n.motors.begin(), n.motors.end(), isOpen))
    return;
  if (std::count_if(n.capacitors.begin(), n.capacitors.end(), std::not_fn(isOpen)) != 1) return;
  const auto c = static_cast<std::size_t>(
      std::find_if_not(n.capacitors.begin(), n.capacitors.end(), isOpen) - n.capacitors.begin());
  const double amps = here_.capacitorAmps[c];
  const double way = goal.capacitorVolts[c] - state_.capacitorVolts[c];
  if (!(amps * way > 0) || !isLinear(here_, here_, std::abs(amps))) return;

  const StateVariables from = state_;
  state_.capacitorVolts[c] = goal.capacitorVolts[c];
  Step rest;
  const bool solved = take(0, rest);
  state_ = from;
  if (!solved) return;
  const double left = rest.solution.capacitorAmps[c];
  if (std::abs(left) > tol::restAmpsShare * std::abs(amps) ||
      !isLinear(here_, rest.solution, std::abs(amps)))
    return;
  const double siemens = (amps - left) / way;
  rest.state.capacitorVolts[c] = goal.capacitorVolts[c];
  decay_ = Decay{n.capacitors[c].farads / siemens, std::move(rest.solution), std::move(rest.state)};
}

// The end of a step on an exponential way.
void Transient::fade(double seconds, Step& step) const {
  const double left = std::exp(-seconds / decay_->seconds);
  const auto mix = [&](std::vector<double>& out, const std::vector<double>& from,
                       const std::vector<double>& to) {
    out.resize(from.size());
    for (std::size_t i = 0; i < from.size(); ++i) out[i] = to[i] + (from[i] - to[i]) * left;
  };
  const Solution& rest = decay_->rest;
  step.seconds = seconds;
  step.first = false;
  step.error = 0;
  step.solution.converged = true;
  step.solution.iterations = 0;
  step.solution.bipolarAmps = rest.bipolarAmps;
  step.solution.motors = rest.motors;
  step.solution.regulatorAmps = rest.regulatorAmps;
  step.solution.mosfetAmps = rest.mosfetAmps;
  mix(step.solution.volts, here_.volts, rest.volts);
  mix(step.solution.sourceAmps, here_.sourceAmps, rest.sourceAmps);
  mix(step.solution.junctionAmps, here_.junctionAmps, rest.junctionAmps);
  mix(step.solution.batteryAmps, here_.batteryAmps, rest.batteryAmps);
  mix(step.solution.capacitorAmps, here_.capacitorAmps, rest.capacitorAmps);
  step.state = state_;
  step.rates = rates_;
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i) {
    const Capacitor& c = network_.capacitors[i];
    double& volts = step.state.capacitorVolts[i];
    volts = c.open ? step.solution.volt(c.a) - step.solution.volt(c.b)
                   : decay_->restState.capacitorVolts[i] +
                         (state_.capacitorVolts[i] - decay_->restState.capacitorVolts[i]) * left;
    step.rates.capacitorVolts[i] = rates_.capacitorVolts[i] * left;
  }
}

// Of no step does its error decide here: what is drawn and recorded of it does.
double Transient::decayStep() const {
  double away = 0;
  for (std::size_t i = 0; i < network_.capacitors.size(); ++i)
    if (!network_.capacitors[i].open)
      away = std::abs(state_.capacitorVolts[i] - decay_->restState.capacitorVolts[i]);
  const bool quick = decay_->seconds < tol::quickDecaySeconds;
  const double step = (quick ? tol::quickDecayShare : tol::decayShare) * away + tol::decayVolts;
  return decay_->seconds * (step < away ? -std::log1p(-step / away) : 1);
}

Blend Transient::blendAt(double seconds) const {
  const double h = next_.seconds;
  if (!(seconds > 0)) return {};
  if (seconds >= h) return {0, 0, 1};
  if (decay_) {
    const double share = std::expm1(-seconds / decay_->seconds) / std::expm1(-h / decay_->seconds);
    return {0, 1 - share, share};
  }
  if (next_.first) return {0, 1 - seconds / h, seconds / h};
  const double back = lastSeconds_;
  return {seconds * (seconds - h) / (back * (back + h)),
          (seconds + back) * (h - seconds) / (back * h),
          (seconds + back) * seconds / ((h + back) * h)};
}

// The share of the allowed error that a step makes.
void Transient::measure(Step& step) const {
  const double h = step.seconds;
  step.error = 0;
  const double back = step.first ? 0 : h / lastSeconds_ / 2;
  const double share = step.first ? 0.5 : 1 / (3 * (1 + lastSeconds_ / h));
  forEachVariable(
      network_,
      [&](const tol::StateError& t, double from, double rate, double before, double to) {
        const double predicted = from + h * ((1 + back) * rate - back * before);
        const double allowed = t.absolute + t.relative * std::max(std::abs(from), std::abs(to));
        step.error = std::max(step.error, std::abs(to - predicted) * share / allowed);
      },
      state_, rates_, ratesBefore_, step.state);
}

// When the first current of a motor, going on as it goes, comes to nothing.
double Transient::secondsToStandstill() const {
  double soonest = HUGE_VAL;
  for (std::size_t i = 0; i < network_.motors.size(); ++i) {
    const double amps = state_.motors[i].amps, rate = rates_.motors[i].amps;
    if (network_.motors[i].open || std::abs(amps) <= tol::motorAmps.absolute) continue;
    if (amps * rate >= 0) continue;
    // amps + rate·h + bend·h² = 0
    const double bend =
        lastSeconds_ == 0 ? 0 : (rate - ratesBefore_.motors[i].amps) / (2 * lastSeconds_);
    const double root = rate * rate - 4 * bend * amps;
    if (root < 0) continue;
    soonest = std::min(soonest, 2 * std::abs(amps) / (std::abs(rate) + std::sqrt(root)));
  }
  return soonest;
}

// Does a motor's current come to nothing here? It may stay so, where a diode blocks: what
// led here says little about what follows.
bool Transient::halts() const {
  constexpr double least = tol::motorAmps.absolute;
  for (std::size_t i = 0; i < network_.motors.size(); ++i) {
    const double came = std::abs(ratesBefore_.motors[i].amps) * lastSeconds_;
    if (!network_.motors[i].open && came > least && std::abs(state_.motors[i].amps) <= least)
      return true;
  }
  return false;
}

double Transient::propose(double mostSeconds) {
  if (decay_) {
    fade(wholeNanoseconds(std::min(decayStep(), mostSeconds)), next_);
    return next_.seconds;
  }
  double h = wholeNanoseconds(std::min({wantedSeconds_, mostSeconds, secondsToStandstill()}));
  for (;;) {
    const bool least = h <= 1e-9;
    if (!take(h, next_)) {
      if (least) return 0;
      h = wholeNanoseconds(h / 8);
      lastSeconds_ = 0;
      continue;
    }
    measure(next_);
    const double error = std::max(next_.error, 1e-6);
    const double factor = 0.9 / (next_.first ? std::sqrt(error) : std::cbrt(error));
    if (next_.error <= 1 || least) {
      if (next_.first) (abrupt_ ? firstSeconds_ : againSeconds_) = h;
      wantedSeconds_ = h * std::clamp(factor, 0.3, mostGrowth);
      return h;
    }
    // What comes so unexpectedly is a bend: what was before it says nothing.
    if (next_.error > 20) lastSeconds_ = 0;
    h = wholeNanoseconds(h * std::clamp(factor, 0.1, 0.8));
  }
}

// The trapezoidal rule lets what is far quicker than the step swing to and fro for ever:
// its rate changes sign at every step.
bool Transient::swings() const {
  bool any = false;
  forEachVariable(
      network_,
      [&](const tol::StateError& t, double before, double rate, double next, double at) {
        const double allowed = t.absolute + t.relative * std::abs(at);
        any = any || (before * rate < 0 && rate * next < 0 &&
                      std::min(std::abs(rate), std::abs(next)) * next_.seconds > allowed / 50);
      },
      ratesBefore_, rates_, next_.rates, state_);
  return any;
}

void Transient::accept() {
  lastSeconds_ = next_.seconds;
  abrupt_ = false;
  if (decay_) {
    // Nothing of it need be found.
  } else if (!next_.first && swings()) {
    lastSeconds_ = 0;
    swung_ = true;
    wantedSeconds_ = std::min(wantedSeconds_, againSeconds_);
  } else if (swung_ && next_.error < calmError) {
    lastSeconds_ = 0;  // backward Euler does well enough, and does not swing
  } else if (next_.first) {
    // A trapezoidal step errs far less than the backward Euler step before it.
    swung_ = false;
    wantedSeconds_ *= firstGrowth;
  }
  voltsBefore_ = here_.volts;
  // Swapped, so that their memory is used again.
  std::swap(ratesBefore_, rates_);
  std::swap(rates_, next_.rates);
  std::swap(state_, next_.state);
  std::swap(here_, next_.solution);
  if (halts()) lastSeconds_ = 0, swung_ = true;
}

bool Transient::go(double seconds) {
  if (decay_)
    fade(seconds, next_);
  else if (!take(seconds, next_))
    return false;
  accept();
  return true;
}

std::vector<double> Transient::signature() const {
  std::vector<double> out{lastSeconds_, firstSeconds_, againSeconds_, wantedSeconds_,
                          swung_ ? 1.0 : 0.0};
  forEachVariable(
      network_,
      [&](const tol::StateError&, double x, double rate, double before) {
        out.insert(out.end(), {x, rate, before});
      },
      state_, rates_, ratesBefore_);
  if (decay_) out.push_back(decay_->seconds);
  out.insert(out.end(), here_.volts.begin(), here_.volts.end());
  out.insert(out.end(), voltsBefore_.begin(), voltsBefore_.end());
  return out;
}

}  // namespace ignavo::electric
