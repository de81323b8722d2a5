#include "parts/island_transient.h"

#include <algorithm>

#include "project/indexing.h"

namespace ignavo {

namespace {

constexpr double drivenOhms = 1e6;  // a gate behind more keeps its charge
constexpr double longestSeconds = 0.5;

using electric::Blend;

double mix(const Blend& w, double before, double here, double there) {
  return (w.before == 0 ? 0 : w.before * before) + w.here * here + w.there * there;
}
std::optional<double> mix(const Blend& w, std::optional<double> before, std::optional<double> here,
                          std::optional<double> there) {
  if (!here || !there || (w.before != 0 && !before)) return here;
  return mix(w, before.value_or(0), *here, *there);
}
std::vector<double> mix(const Blend& w, const std::vector<double>& before,
                        const std::vector<double>& here, const std::vector<double>& there) {
  std::vector<double> out = here;
  for (std::size_t k = 0; k < out.size(); ++k) out[k] = mix(w, before[k], here[k], there[k]);
  return out;
}
// Those values of a reading; the others are what they are here.
template <typename Reading, typename... Values>
Reading mixed(const Blend& w, const Reading& before, const Reading& here, const Reading& there,
              Values... values) {
  Reading out = here;
  ((out.*values = mix(w, before.*values, here.*values, there.*values)), ...);
  return out;
}
PinReading mix(const Blend& w, const PinReading& before, const PinReading& here,
               const PinReading& there) {
  return mixed(w, before, here, there, &PinReading::volts, &PinReading::amps,
               &PinReading::groundVolts, &PinReading::supplyVolts);
}
PartReading mix(const Blend& w, const PartReading& before, const PartReading& here,
                const PartReading& there) {
  return mixed(w, before, here, there, &PartReading::volts, &PartReading::amps, &PartReading::watts,
               &PartReading::radiansPerSecond, &PartReading::tracedVolts, &PartReading::legs,
               &PartReading::lamps);
}
}  // namespace

IslandTransient::IslandTransient(Circuit& circuit, int island)
    : circuit_(circuit),
      index_(island),
      work_(circuit.builtIsland(island)),
      transient_(work_.network) {
  // A capacitor that ends nowhere takes no charge; the solver's own leak would give it one.
  dangling_.assign(work_.network.capacitors.size(), 0);
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    const int part = work_.shape.parts[i];
    const PartDevices& d = at(circuit_.devices_, part);
    for (std::size_t k = 0; k < work_.parts[i].capacitors.size(); ++k)
      for (const int leg : {d.capacitors[k].a, d.capacitors[k].b}) {
        const int net = at(at(circuit_.legNets_, part), leg);
        const Net& n = at(circuit_.nets().all(), net);
        if (!d.capacitors[k].ifUndriven && n.legs.size() == 1 && n.pins.empty())
          at(dangling_, work_.parts[i].capacitors[k]) = 1;
      }
  }
}

std::map<int, PartMemory> IslandTransient::memory() const {
  std::map<int, PartMemory> out;
  const electric::StateVariables& state = transient_.state();
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    PartMemory m;
    for (int c : work_.parts[i].capacitors) m.capacitorVolts.push_back(at(state.capacitorVolts, c));
    for (int k : work_.parts[i].motors) m.motors.push_back(at(state.motors, k));
    if (!m.capacitorVolts.empty() || !m.motors.empty()) out[work_.shape.parts[i]] = std::move(m);
  }
  return out;
}

void IslandTransient::recall(const std::map<int, PartMemory>& memory) {
  electric::StateVariables state = transient_.state();
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    const auto it = memory.find(work_.shape.parts[i]);
    if (it == memory.end()) continue;
    const PartSlots& slots = work_.parts[i];
    for (std::size_t k = 0; k < slots.capacitors.size() && k < it->second.capacitorVolts.size();
         ++k)
      at(state.capacitorVolts, slots.capacitors[k]) = it->second.capacitorVolts[k];
    for (std::size_t k = 0; k < slots.motors.size() && k < it->second.motors.size(); ++k)
      at(state.motors, slots.motors[k]) = it->second.motors[k];
  }
  transient_.setState(std::move(state));
}

void IslandTransient::read(const electric::Solution& solution, IslandReading& r) const {
  circuit_.readIsland(work_, transient_.network(), solution, reached_, r);
  for (std::size_t k = 0; k < r.pins.size(); ++k) r.pins[k].floating = target_.pins[k].floating;
}

// Where the capacitors and motors will be once nothing changes any more.
electric::StateVariables IslandTransient::settledVariables() const {
  electric::StateVariables goal = transient_.state();
  const auto voltsOf = [&](int net) {
    const auto it = std::find(work_.shape.nets.begin(), work_.shape.nets.end(), net);
    if (it != work_.shape.nets.end())
      return target_.nets[static_cast<std::size_t>(it - work_.shape.nets.begin())].value_or(0);
    // At the edge of the island: one of the supplies that it is cut at.
    for (const IslandReading::Supply& s : target_.supplies)
      if (s.net == net) return s.volts;
    return 0.0;
  };
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    const int part = work_.shape.parts[i];
    const PartDevices& d = at(circuit_.devices_, part);
    const PartSlots& slots = work_.parts[i];
    const auto net = [&](int leg) { return at(at(circuit_.legNets_, part), leg); };
    for (std::size_t k = 0; k < slots.capacitors.size(); ++k)
      at(goal.capacitorVolts, slots.capacitors[k]) =
          voltsOf(net(d.capacitors[k].a)) - voltsOf(net(d.capacitors[k].b));
    for (std::size_t k = 0; k < slots.motors.size(); ++k)
      at(goal.motors, slots.motors[k]) = {
          target_.parts[i].legs[static_cast<std::size_t>(d.motors[k].a)],
          target_.parts[i].radiansPerSecond};
  }
  return goal;
}

// A gate is a capacitor only while nothing drives it; then it keeps what it had.
void IslandTransient::watchGates(const electric::StateVariables& before) {
  electric::Network& net = transient_.network();
  electric::StateVariables state = transient_.state();
  bool kept = false;
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    const PartDevices& d = at(circuit_.devices_, work_.shape.parts[i]);
    for (std::size_t k = 0; k < work_.parts[i].capacitors.size(); ++k) {
      const int c = work_.parts[i].capacitors[k];
      electric::Capacitor& gate = at(net.capacitors, c);
      if (!d.capacitors[k].ifUndriven || gate.a == 0 ||
          transient_.resistanceAt(gate.a) < drivenOhms)
        continue;
      kept = true;
      gate.open = false;
      gate.siemens = 1 / gate.ohms;
      at(state.capacitorVolts, c) = at(before.capacitorVolts, c);
    }
  }
  if (!kept) return;
  transient_.setState(std::move(state));
  circuit_.tieBatteries(work_, net, reached_);
  solved_ = transient_.changed();
}

void IslandTransient::change(const CircuitState& state, double seconds) {
  circuit_.keyOf(work_.shape, state, wantedKey_);
  if (begun_ && wantedKey_ == key_) return advance(seconds);
  reach(seconds);
  begun_ = true;
  key_ = wantedKey_;
  target_ = circuit_.solveIsland(index_, state);
  electric::Network& net = transient_.network();
  circuit_.setParameters(work_, state, net);
  for (std::size_t i = 0; i < work_.parts.size(); ++i) {
    const PartDevices& d = at(circuit_.devices_, work_.shape.parts[i]);
    for (std::size_t k = 0; k < work_.parts[i].capacitors.size(); ++k)
      if (d.capacitors[k].ifUndriven) at(net.capacitors, work_.parts[i].capacitors[k]).open = true;
  }
  for (std::size_t c = 0; c < net.capacitors.size(); ++c)
    if (dangling_[c]) net.capacitors[c].open = true;
  for (electric::Capacitor& c : net.capacitors) c.siemens = c.open ? 0 : 1 / c.ohms;
  circuit_.tieBatteries(work_, net, reached_);
  const electric::StateVariables before = transient_.state();
  solved_ = target_.converged && transient_.changed();
  if (solved_) watchGates(before);
  goal_ = settledVariables();
  if (solved_) {
    read(transient_.here(), here_);
    transient_.easeTo(goal_);
  }
  begin();
}

// Works out the step that begins here, unless there is nothing to wait for.
void IslandTransient::begin() {
  settled_ = !solved_ || transient_.nearTo(goal_);
  if (!settled_) {
    stepSeconds_ = transient_.propose(longestSeconds);
    if (stepSeconds_ > 0) {
      read(transient_.there(), there_);
      return;
    }
    settled_ = true;
    solved_ = false;
  }
  transient_.setState(goal_);
  here_ = target_;
  stepSeconds_ = 0;
}

// Within a tenth of a nanosecond of the end of a step is its end.
void IslandTransient::reach(double seconds) {
  constexpr double nearSeconds = 1e-10;
  if (settled_ || seconds <= 0) return;
  if (seconds >= stepSeconds_ - nearSeconds) {
    transient_.accept();
    std::swap(before_, here_);
    std::swap(here_, there_);
  } else {
    solved_ = transient_.go(seconds);
    std::swap(before_, here_);
    if (solved_) read(transient_.here(), here_);
  }
}

void IslandTransient::advance(double seconds) {
  if (settled_ || seconds <= 0) return;
  reach(seconds);
  begin();
}

IslandReading IslandTransient::reading(double seconds) const {
  IslandReading r = here_;
  if (settled_) return r;
  const Blend w = transient_.blendAt(seconds);
  // Without a step before, its place is taken by what is not looked at.
  const IslandReading& before = w.before == 0 ? here_ : before_;
  for (std::size_t i = 0; i < r.nets.size(); ++i)
    r.nets[i] = mix(w, before.nets[i], here_.nets[i], there_.nets[i]);
  for (std::size_t i = 0; i < r.parts.size(); ++i)
    r.parts[i] = mix(w, before.parts[i], here_.parts[i], there_.parts[i]);
  for (std::size_t i = 0; i < r.pins.size(); ++i)
    r.pins[i] = mix(w, before.pins[i], here_.pins[i], there_.pins[i]);
  for (std::size_t i = 0; i < r.supplies.size(); ++i) {
    r.supplies[i].volts =
        mix(w, before.supplies[i].volts, here_.supplies[i].volts, there_.supplies[i].volts);
    r.supplies[i].amps =
        mix(w, before.supplies[i].amps, here_.supplies[i].amps, there_.supplies[i].amps);
  }
  r.supplyAmps = mix(w, before.supplyAmps, here_.supplyAmps, there_.supplyAmps);
  return r;
}

PinReading IslandTransient::pin(std::size_t index, double seconds) const {
  if (settled_) return here_.pins[index];
  const Blend w = transient_.blendAt(seconds);
  return mix(w, (w.before == 0 ? here_ : before_).pins[index], here_.pins[index],
             there_.pins[index]);
}

std::vector<double> IslandTransient::signature() const {
  if (settled_) return {};
  std::vector<double> out = transient_.signature();
  out.push_back(stepSeconds_);
  return out;
}

}  // namespace ignavo
