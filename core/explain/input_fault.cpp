#include "explain/input_fault.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include "explain/mended.h"
#include "explain/words.h"
#include "parts/catalogue.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

bool among(const std::vector<std::string>& list, const std::string& what) {
  return std::find(list.begin(), list.end(), what) != list.end();
}

bool alike(const std::optional<double>& a, const std::optional<double>& b) {
  constexpr double least = 0.05;  // of the supply: fifty stages of an analog pin
  return a.has_value() == b.has_value() && (!a || std::abs(*a - *b) < least);
}

// A pin of a circuit, and what it reads in a state, as a share of the supply or rounded to its
// level; nothing where that is at random.
class Reads {
 public:
  Reads(const Project& project, const std::string& board, const std::string& pin, bool measured)
      : project_(project),
        circuit_(project),
        index_(circuit_.pinIndex(board, pin)),
        measured_(measured) {}

  bool isThere() const { return index_ >= 0 && island() >= 0; }
  std::optional<double> in(const CircuitState& state) {
    const auto& pins = circuit_.island(island()).pins;
    const auto place = std::find(pins.begin(), pins.end(), index_) - pins.begin();
    const IslandReading& all = circuit_.solveIsland(island(), state);
    if (!all.converged || place >= static_cast<std::ptrdiff_t>(all.pins.size())) return {};
    const PinReading& r = all.pins[static_cast<std::size_t>(place)];
    const BoardKind& kind = *at(circuit_.pins(), index_).kind;
    if (r.floating || !r.volts || r.supplyVolts <= 0) return {};
    const double share = *r.volts / r.supplyVolts;
    if (measured_) return share;
    return share > kind.highShare  ? std::optional(1.0)
           : share < kind.lowShare ? std::optional(0.0)
                                   : std::nullopt;
  }
  // Does it read otherwise while a part of that id is held down than while it is up?
  bool noticesPress(CircuitState state, const std::string& id) {
    for (std::size_t p = 0; p < project_.parts->size(); ++p) {
      if ((*project_.parts)[p]->id != id) continue;
      state.pressed[p] = 0;
      const std::optional<double> up = in(state);
      state.pressed[p] = 1;
      return !alike(up, in(state));
    }
    return false;
  }
  const Circuit& circuit() const { return circuit_; }

 private:
  int island() const { return at(circuit_.pins(), index_).island; }
  const Project& project_;
  Circuit circuit_;
  int index_;
  bool measured_;
};

std::set<std::string> pressedBefore(const RunMoment& m) {
  std::set<std::string> out;
  for (const Event& event : m.events) {
    if (event.at > m.now.now) break;
    if (event.what == Event::What::powerOn || event.what == Event::What::reset) out.clear();
    if (event.what == Event::What::press) out.insert(event.id);
  }
  return out;
}

}  // namespace

// It is named, or what hangs on it is, or something in its net is loose.
const Fault* faultAround(const RunMoment& m, const std::string& board, const std::string& pin,
                         const std::vector<Fault>& faults) {
  const Project& project = *m.now.project;
  const Nets nets(project, catalogue());
  const std::string name = pinNameOf(project, board, pin);
  const std::string hangs = hangsOn(project, nets, board, pin);
  for (const Fault& fault : faults) {
    if (fault.isNote) continue;
    if (among(fault.pins, name) && fault.ofInputs) return &fault;
    if (fault.ofProgram) continue;
    if (among(fault.pins, name)) return &fault;
    for (const auto& part : *project.parts)
      if (!hangs.empty() && part->name == hangs && among(fault.parts, part->id)) return &fault;
    const int net = nets.of({board, pin});
    if (net < 0) continue;
    for (const LegRef& leg : at(nets.all(), net).legs)
      if (among(fault.parts, at(*project.parts, leg.part)->id)) return &fault;
  }
  return nullptr;
}

bool keepsFromLevel(const RunMoment& m, const std::string& board, const std::string& pin,
                    const Fault& fault, bool measured) {
  const Project& project = *m.now.project;
  Reads here(project, board, pin, measured);
  if (!here.isThere()) return false;
  CircuitState state = m.now.state;
  state.unplugged.clear();
  const std::optional<double> reads = here.in(state);
  bool known = false;
  for (const auto& mended : fault.mended) {
    if (!mended) continue;
    Reads there(*mended, board, pin, measured);
    if (!there.isThere()) continue;
    known = true;
    const CircuitState then = carriedOver(project, here.circuit(), state, *mended, there.circuit());
    if (!alike(there.in(then), reads)) return true;
    for (const std::string& id : pressedBefore(m))
      if (there.noticesPress(then, id) && !here.noticesPress(state, id)) return true;
  }
  if (known) return false;
  const std::set<std::string> pressed = pressedBefore(m);
  return !reads || std::any_of(pressed.begin(), pressed.end(), [&](const std::string& id) {
    return among(fault.parts, id) && !here.noticesPress(state, id);
  });
}

}  // namespace ignavo
