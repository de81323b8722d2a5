#include "explain/why.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "bench/placing.h"
#include "explain/words.h"
#include "explain/working.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/steps.h"
#include "project/edits.h"
#include "project/indexing.h"

// The circuit is asked with pins, buttons and knobs changed, fewest first (explain/working.h).
// Where it works so, it is sound, and what had to be changed is the reason: pins are followed into
// the program (explain/pin_reason.h), the rest is told as it stands. Where it never works, what is
// damaged is made whole, then what the check found is mended: the first mend with which it works is
// the circuit's fault, and with it the program is asked as if the circuit were sound.
namespace ignavo {

namespace {

// Rules of the check that tell why something is dark, dim, silent or still.
constexpr std::array darkening = {"short-circuit",    "led-reversed",      "led-dark",
                                  "led-dim",          "lamps-in-parallel", "part-bypassed",
                                  "leg-loose",        "rail-unfed",        "pin-fight",
                                  "no-common-ground", "over-voltage",      "motor-on-pin",
                                  "diode-backwards",  "button-bridged",    "button-along-trench",
                                  "board-overload",   "shared-resistor",   "part-overload",
                                  "pin-overload",     "wire-loose",        "capacitor-reversed"};
bool darkens(const Fault& fault) {
  return std::find(darkening.begin(), darkening.end(), fault.rule) != darkening.end();
}

template <typename T>
bool holds(const std::vector<T>& list, const T& what) {
  return std::find(list.begin(), list.end(), what) != list.end();
}

// With its full stop.
Message closed(const Message& words) {
  return words.text.ends_with('.') ? words : sayWhy("{}.", words);
}

class Asking {
 public:
  Asking(const RunMoment& moment, int part, const std::vector<Fault>& faults)
      : m_(moment),
        project_(*moment.now.project),
        faults_(faults),
        circuit_(project_),
        index_(part),
        part_(*at(*project_.parts, part)),
        kind_(*circuit_.kindOf(part)) {}

  Why answer();

 private:
  // ---- how it stands
  const Circuit::Island& island() { return circuit_.island(circuit_.islandOfPart(index_)); }
  std::vector<int> boards();
  std::vector<int> driven(const Circuit& circuit, int part) const;
  std::vector<int> uncertain(const Circuit& circuit) const;
  PinWays ways(const Circuit& circuit, int part) const;
  bool hasPower();
  bool gaveUp() const { return m_.now.tripped; }

  // ---- the circuit
  void judgeCircuit(Why& out);
  bool judgeDamage(Why& out);
  bool judgeFault(Why& out);  // true: it is known what mends it
  void tellWouldFlow(Why& out);
  bool worksByDetour();
  int changesOf(const Working& working, const Circuit& circuit) const;
  const Fault* faultThatDarkens();
  std::optional<int> pinThatLeadsNowhere();
  int nearness(const Fault& fault);
  Working mendedBy(const Fault& fault);
  Working workingIn(const Project& mended);
  bool judgeTurned(Why& out);
  void aboutBreak(Why& out);
  void aboutChanges(Why& out);

  // ---- the program
  void judgeProgram(Why& out);
  void judgePins(Why& out, const Circuit& circuit, const std::vector<Change>& changes);
  void judgeUnmended(Why& out);
  void judgeSteady(Why& out);
  void judgeArm(Why& out);
  bool wasSo(const std::string& board, const std::string& pin, bool high) const;
  void take(Why& out, const std::string& board, const std::string& pin, const PinReason& reason);
  std::optional<CircuitPin> controlling(const Working& working);
  void tellWhatDrives(Why& out);

  void tell(Why& out);
  void headline(Why& out);

  const RunMoment& m_;
  const Project& project_;
  const std::vector<Fault>& faults_;
  Circuit circuit_;
  int index_;
  const Part& part_;
  const PartKind& kind_;
  CircuitState state_;      // as it stands, with all cables plugged
  bool sentences_ = false;  // what is told of the circuit are whole sentences
  Working working_;         // from there
  // Of a circuit that is not sound: as it would be, and what had to be changed in it beside.
  std::unique_ptr<Circuit> mendedCircuit_;
  Working mended_;
};

// Those whose pins or supplies have to do with it.
std::vector<int> Asking::boards() {
  std::vector<int> out;
  const auto add = [&](int board) {
    if (!holds(out, board)) out.push_back(board);
  };
  for (const int p : island().pins) add(at(circuit_.pins(), p).ref.board);
  for (const int part : island().parts)
    for (int leg = 0; leg < static_cast<int>(at(*project_.parts, part)->legs.size()); ++leg) {
      const int net = circuit_.nets().ofLeg({part, leg});
      for (int b = 0; b < static_cast<int>(project_.boards.size()); ++b)
        if (holds(circuit_.supplyNets(b), net)) add(b);
    }
  return out;
}

bool Asking::hasPower() {
  if (!m_.now.powered) return false;
  const std::vector<int> all = boards();
  return std::all_of(all.begin(), all.end(), [&](int b) {
    return at(m_.now.fed, b) != 0 && !holds(m_.now.trippedBoards, at(project_.boards, b).id);
  });
}

// Pins around a part that the programs write, those with most ways first.
std::vector<int> Asking::driven(const Circuit& circuit, int part) const {
  std::vector<int> out;
  for (const int p : circuit.island(circuit.islandOfPart(part)).pins) {
    const CircuitPin& pin = at(circuit.pins(), p);
    const Program* program = project_.program(pin.board);
    if (!program) continue;
    for (const PinUse& use : pinUses(*program))
      if (use.pin == pin.name && !use.writers.empty()) out.push_back(p);
  }
  return out;
}

// Pins that changed so lately that they may as well stand the other way.
std::vector<int> Asking::uncertain(const Circuit& circuit) const {
  constexpr Nanoseconds lately = 20'000'000;
  std::vector<int> out;
  for (int p = 0; p < static_cast<int>(circuit.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit.pins(), p);
    const int signal = m_.trace.find(Signal::What::pinLevel, pin.board, pin.name);
    const Nanoseconds from = std::max(m_.trace.begin(), m_.now.now - lately);
    if (signal >= 0 && m_.trace.countEdges(signal, from, m_.now.now) >= 2) out.push_back(p);
  }
  return out;
}

// Pins that a program only reads are no outputs: what would flow over them is not meant.
PinWays Asking::ways(const Circuit& circuit, int part) const {
  PinWays out{uncertain(circuit), driven(circuit, part), {}};
  for (const int p : circuit.island(circuit.islandOfPart(part)).pins) {
    const CircuitPin& pin = at(circuit.pins(), p);
    const Program* program = project_.program(pin.board);
    if (!program) continue;
    for (const PinUse& use : pinUses(*program))
      if (use.pin == pin.name && use.writers.empty() && use.isRead()) out.kept.push_back(p);
  }
  return out;
}

// ---- the circuit

// What stands otherwise where it works: told where no pin is among it.
void Asking::aboutChanges(Why& out) {
  for (const Change& change : working_.changes) {
    if (change.what == Change::What::pin) continue;
    const Part& other = *at(*project_.parts, change.index);
    const PartKind& kind = *circuit_.kindOf(change.index);
    out.circuit.parts.push_back(other.id);
    if (change.what == Change::What::knob)
      out.circuit.words =
          sayWhy("turned otherwise, {} lets {} through", other.name, asAmps(working_.amps));
    else if (!kind.pressable)
      out.circuit.words =
          sayWhy("thrown over, {} lets {} through", other.name, asAmps(working_.amps));
    else
      out.circuit.words =
          change.on
              ? sayWhy("{} is up; held, it lets {} through", other.name, asAmps(working_.amps))
              : sayWhy("{} is held; let go, {} flow", other.name, asAmps(working_.amps));
    return;
  }
}

void Asking::judgeCircuit(Why& out) {
  state_ = m_.now.state;
  state_.unplugged.clear();
  working_ = nearestWorking(circuit_, index_, state_, ways(circuit_, index_));
  const bool byDuty = out.look.looks == "dim" && out.look.peakAmps >= dimAmps;
  const bool dim = out.look.looks == "dim" && !byDuty;
  if (out.look.works && !dim) {
    out.circuit.amps = kind_.shows == Shows::light
                           ? out.look.peakAmps
                           : std::abs(at(m_.now.reading.parts, index_).amps);
    out.circuit.words = sayWhy("{} flow through it", asAmps(out.circuit.amps));
    return;
  }
  if (working_.found && !worksByDetour()) return tellWouldFlow(out);
  out.circuit.fine = false;
  if (judgeDamage(out) || judgeFault(out)) return;
  // Nothing that is known mends it: then perhaps a pin is only read that was to be set.
  PinWays all = ways(circuit_, index_);
  if (all.kept.empty()) return;
  all.kept.clear();
  const Working found = nearestWorking(circuit_, index_, state_, all);
  if (!found.found) return;
  working_ = found;
  sentences_ = false;
  out.circuit = {};
  tellWouldFlow(out);
}

// How much would have to be otherwise; pins that go up and down by themselves are not counted.
int Asking::changesOf(const Working& working, const Circuit& circuit) const {
  const std::vector<int> either = uncertain(circuit);
  return static_cast<int>(
      std::count_if(working.changes.begin(), working.changes.end(), [&](const Change& change) {
        return change.what != Change::What::pin || !holds(either, change.index);
      }));
}

// It could work, but by a way that nobody meant: where a fault in its path is mended, less has to
// be otherwise.
bool Asking::worksByDetour() {
  const int now = changesOf(working_, circuit_);
  if (now == 0) return false;
  for (const Fault& fault : faults_) {
    if (fault.ofProgram || !darkens(fault) || nearness(fault) < 2) continue;
    const Working then = mendedBy(fault);
    if (then.found && changesOf(then, *mendedCircuit_) < now) return true;
  }
  mendedCircuit_ = nullptr;
  return false;
}

void Asking::tellWouldFlow(Why& out) {
  out.circuit.amps = working_.amps;
  out.circuit.words = kind_.moves == Moves::angle
                          ? sayWhy("it has its supply")
                          : sayWhy("{} would flow through it", asAmps(std::abs(working_.amps)));
  aboutChanges(out);
}

// Made whole again it would work.
bool Asking::judgeDamage(Why& out) {
  CircuitState whole = state_;
  std::vector<std::string> broken;
  for (const int p : island().parts)
    if (at(whole.broken, p) != 0) {
      at(whole.broken, p) = 0;
      broken.push_back(at(*project_.parts, p)->id);
    }
  for (const int p : island().pins)
    if (at(whole.pins, p) == PinDrive::burnt) {
      const CircuitPin& pin = at(circuit_.pins(), p);
      at(whole.pins, p) = PinDrive::input;
      broken.push_back(pin.board + "." + pin.name);
    }
  if (broken.empty()) return false;
  mended_ = nearestWorking(circuit_, index_, whole, ways(circuit_, index_));
  if (!mended_.found) return false;
  const Event* event = nullptr;
  for (const Event& e : m_.events)
    if (e.at <= m_.now.now && e.what == Event::What::broke && holds(broken, e.id)) event = &e;
  const std::string id = event ? event->id : broken.front();
  const Part* part = project_.part(id);
  const auto pin = part ? std::nullopt : Socket::parse(id);
  out.circuit.rule = part ? "part-overload" : "pin-overload";
  if (const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr) {
    if (kind->shows == Shows::light) out.circuit.rule = "led-overcurrent";
    if (kind->ratedWatts) out.circuit.rule = "resistor-hot";
    if (kind->stores) out.circuit.rule = "capacitor-voltage";
  }
  const std::string burnt = pin ? pinNameOf(project_, pin->owner, pin->point) : std::string();
  for (const Fault& fault : faults_)
    if (!fault.ofProgram && (holds(fault.parts, id) || (pin && holds(fault.pins, burnt)))) {
      out.circuit.rule = fault.rule;
      break;
    }
  sentences_ = true;
  if (part) {
    out.circuit.parts = {id};
    for (const Leg& leg : part->legs)
      if (leg.in) out.circuit.sockets.push_back(*leg.in);
  } else if (pin) {
    out.circuit.sockets = {*pin};
  }
  const std::string name = part  ? part->name
                           : pin ? pinNameOf(project_, pin->owner, pin->point)
                                 : id;
  out.circuit.words = event && event->figure > 0
                          ? sayWhy("{} was damaged at {} by {}", name, momentInWords(event->at),
                                   asAmps(event->figure))
                      : event ? sayWhy("{} was damaged at {}", name, momentInWords(event->at))
                              : sayWhy("{} is damaged", name);
  return true;
}

// How much a fault has to do with it: 3 it is named, 2 something in its path is, 1 a place there.
int Asking::nearness(const Fault& fault) {
  if (holds(fault.parts, part_.id)) return 3;
  std::vector<int> nets = island().nets, parts = island().parts;
  for (int leg = 0; leg < static_cast<int>(part_.legs.size()); ++leg)
    for (const int net : netsBehind(project_, circuit_, circuit_.nets().ofLeg({index_, leg})))
      if (!holds(nets, net) && !circuit_.supplyVolts(net)) nets.push_back(net);
  for (const int p : parts)
    if (holds(fault.parts, at(*project_.parts, p)->id)) return 2;
  for (const int net : nets)
    for (const LegRef& leg : at(circuit_.nets().all(), net).legs)
      if (holds(fault.parts, at(*project_.parts, leg.part)->id)) return 2;
  for (const Socket& socket : fault.sockets) {
    const int net = circuit_.nets().of(socket);
    if (net >= 0 && (holds(nets, net) || (fault.parts.empty() && circuit_.isSupplyNet(net))))
      return 1;
  }
  return 0;
}

// With its mend: what had to be changed beside for the part to work.
Working Asking::mendedBy(const Fault& fault) {
  for (const auto& project : fault.mended)
    if (project)
      if (Working found = workingIn(*project); found.found) return found;
  return {};
}

// In another project with the same part, where pins and buttons stand as they do here.
Working Asking::workingIn(const Project& other) {
  const auto index = [](const Project& in, const std::string& id) {
    for (std::size_t p = 0; p < in.parts->size(); ++p)
      if ((*in.parts)[p]->id == id) return static_cast<int>(p);
    return -1;
  };
  const int part = index(other, part_.id);
  if (part < 0) return {};
  auto circuit = std::make_unique<Circuit>(other);
  CircuitState state = circuit->restState();
  for (std::size_t p = 0; p < circuit->pins().size(); ++p)
    if (const int was = circuit_.pinIndex(circuit->pins()[p].board, circuit->pins()[p].name);
        was >= 0)
      state.pins[p] = at(state_.pins, was);
  for (std::size_t p = 0; p < other.parts->size(); ++p)
    if (const int was = index(project_, (*other.parts)[p]->id); was >= 0)
      state.pressed[p] = at(state_.pressed, was);
  Working found = nearestWorking(*circuit, part, state, ways(*circuit, part));
  if (found.found) mendedCircuit_ = std::move(circuit);
  return found;
}

// The other way round it would work.
bool Asking::judgeTurned(Why& out) {
  if (!kind_.print.polarised || part_.legs.size() != 2) return false;
  mended_ = workingIn(
      edits::changePart(project_, part_.id, [](Part& p) { p = flipped(p, catalogue()); }));
  if (!mended_.found) return false;
  out.circuit.rule = kind_.shows == Shows::light ? "led-reversed" : "led-dark";
  out.circuit.parts = {part_.id};
  for (const Leg& leg : part_.legs)
    if (leg.in) out.circuit.sockets.push_back(*leg.in);
  out.circuit.words = sayWhy("{} faces against the current", part_.name);
  sentences_ = true;
  return true;
}

const Fault* Asking::faultThatDarkens() {
  std::vector<std::pair<int, const Fault*>> near;
  for (const Fault& fault : faults_)
    if (const int how = fault.ofProgram ? 0 : nearness(fault); how > 0)
      near.emplace_back(how, &fault);
  std::stable_sort(near.begin(), near.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  for (const auto& [how, fault] : near)
    if (mended_ = mendedBy(*fault); mended_.found) return fault;
  for (const auto& [how, fault] : near)
    if (darkens(*fault)) return fault;
  // A short somewhere else takes the power from all.
  for (const Fault& fault : faults_)
    if (circuit_.anyShorted() && fault.rule == "short-circuit") return &fault;
  return nullptr;
}

void Asking::aboutBreak(Why& out) {
  out.circuit.rule = "led-dark";
  out.circuit.parts = {part_.id};
  const PathBreak gap = breakOf(project_, circuit_, index_);
  const auto add = [&](int part) {
    for (const Leg& leg : at(*project_.parts, part)->legs)
      if (leg.in) out.circuit.sockets.push_back(*leg.in);
  };
  if (!gap.found()) {
    add(index_);
    out.circuit.words = sayWhy("its path lets no current through, however pins and buttons stand");
    return;
  }
  const Leg& leg = at(part_.legs, gap.leg);
  const std::string meaning = at(kind_.print.legs, gap.leg).meaning;
  if (!leg.in) {
    add(index_);
    out.circuit.words = sayWhy("its {} is in no hole",
                               meaning.empty() ? at(kind_.print.legs, gap.leg).id : meaning);
    return;
  }
  const Net& net = at(circuit_.nets().all(), gap.net);
  for (const LegRef& end : net.legs)
    if (const Leg& there = at(at(*project_.parts, end.part)->legs, end.leg); there.in)
      out.circuit.sockets.push_back(*there.in);
  if (out.circuit.sockets.empty()) add(index_);
  out.circuit.words = sayWhy("its path ends at {}: nothing there leads on", net.name);
}

bool Asking::judgeFault(Why& out) {
  const Fault* fault = faultThatDarkens();
  if (!mended_.found && judgeTurned(out)) return true;
  if (!fault) {
    aboutBreak(out);
    return false;
  }
  out.circuit.rule = fault->rule;
  out.circuit.parts = fault->parts;
  out.circuit.sockets = fault->sockets;
  // That it is dark is known; why, is not.
  sentences_ = true;
  out.circuit.words = fault->rule == "led-dark" && !fault->reason.empty()
                          ? fault->reason.all().front()
                          : fault->title;
  if (out.circuit.sockets.empty())
    for (const std::string& id : fault->parts)
      if (const Part* part = project_.part(id))
        for (const Leg& leg : part->legs)
          if (leg.in) out.circuit.sockets.push_back(*leg.in);
  return mended_.found;
}

// ---- the program

void Asking::take(Why& out, const std::string& board, const std::string& pin,
                  const PinReason& reason) {
  out.program.board = board;
  out.program.pin = pin;
  out.program.lastSet = reason.lastSet;
  out.program.words = reason.words;
  out.program.steps = reason.steps;
  out.program.fine = reason.byHand;
}

// Within the last second, long enough to be seen.
bool Asking::wasSo(const std::string& board, const std::string& pin, bool high) const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board, pin);
  if (signal < 0) return false;
  const Nanoseconds from = std::max(m_.trace.begin(), m_.now.now - second);
  const double seconds = inSeconds(m_.now.now - from);
  const double share = seconds > 0 ? m_.trace.integral(signal, from, m_.now.now) / seconds
                                   : m_.trace.valueAt(signal, m_.now.now);
  constexpr double least = 0.002;
  return (high ? share : 1 - share) > least;
}

void Asking::judgePins(Why& out, const Circuit& circuit, const std::vector<Change>& changes) {
  for (const Change& change : changes) {
    if (change.what != Change::What::pin) continue;
    const CircuitPin& pin = at(circuit.pins(), change.index);
    if (!out.circuit.fine && wasSo(pin.board, pin.name, change.on)) continue;
    const PinReason reason = whyNot(m_, pin.board, pin.name, change.on, faults_);
    if (!out.program.words.empty()) continue;  // the first is told
    take(out, pin.board, pin.name, reason);
    // Without power nothing is done; that no step ever would, can be told all the same.
    if (!out.power && !reason.never) out.program = {};
  }
}

// The one pin that a program sets with nothing behind it that shows anything.
std::optional<int> Asking::pinThatLeadsNowhere() {
  std::vector<int> out;
  for (int p = 0; p < static_cast<int>(circuit_.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit_.pins(), p);
    const Program* program = project_.program(pin.board);
    if (!program || pin.kind->lampPin == pin.name || pin.island < 0) continue;
    bool written = false, shows = false;
    for (const PinUse& use : pinUses(*program))
      written = written || (use.pin == pin.name && !use.writers.empty());
    for (const int part : circuit_.island(pin.island).parts)
      shows = shows || (circuit_.kindOf(part) && circuit_.kindOf(part)->shows != Shows::nothing);
    if (written && !shows) out.push_back(p);
  }
  return out.size() == 1 ? std::optional(out.front()) : std::nullopt;
}

// Of a circuit whose mend nobody knows: a pin on one side of it has to be other than what is on the
// other side.
void Asking::judgeUnmended(Why& out) {
  const auto ends = [&](int leg) {
    return endsOf(circuit_,
                  netsBehind(project_, circuit_, circuit_.nets().ofLeg({index_, leg}), index_));
  };
  const PathEnds a = ends(kind_.readLegs.first), b = ends(kind_.readLegs.second);
  std::vector<Change> changes;
  const auto look = [&](const PathEnds& here, const PathEnds& there) {
    const std::vector<int> likely = driven(circuit_, index_);
    for (const bool first : {true, false})
      for (const int p : here.pins)
        if (changes.empty() && holds(likely, p) == first)
          changes.push_back({Change::What::pin, p, !(there.plus && !there.minus)});
  };
  look(a, b);
  look(b, a);
  if (changes.empty())
    if (const auto pin = pinThatLeadsNowhere()) changes.push_back({Change::What::pin, *pin, true});
  judgePins(out, circuit_, changes);
}

// The pin that has it work: with the other level it would not.
std::optional<CircuitPin> Asking::controlling(const Working& working) {
  if (!working.found) return std::nullopt;
  std::vector<int> pins = driven(circuit_, index_);
  for (const int p : island().pins)
    if (!holds(pins, p)) pins.push_back(p);
  for (const int p : pins) {
    CircuitState other = working.state;
    PinDrive& drive = at(other.pins, p);
    if (drive != PinDrive::high && drive != PinDrive::low) continue;
    drive = drive == PinDrive::high ? PinDrive::low : PinDrive::high;
    if (!works(circuit_, index_, other)) return at(circuit_.pins(), p);
  }
  return std::nullopt;
}

// A sounder that is heard only while its volts change.
void Asking::judgeSteady(Why& out) {
  const auto pin = controlling(working_);
  if (!pin) {
    out.circuit.fine = false;
    out.circuit.rule = "piezo-steady";
    out.circuit.parts = {part_.id};
    for (const Leg& leg : part_.legs)
      if (leg.in) out.circuit.sockets.push_back(*leg.in);
    out.circuit.words = sayWhy("no pin changes its level: it is heard only while that changes");
    return;
  }
  take(out, pin->board, pin->name, whySteady(m_, pin->board, pin->name));
}

// An arm that came to where it was sent stands there.
void Asking::judgeArm(Why& out) {
  const double degrees = at(m_.now.motion, index_).degrees;
  const auto pin = controlling(working_);
  if (pin) out.program.lastSet = lastSetOf(m_, pin->board, pin->name);
  out.program.words = sayWhy("it stands at {}°, where it was sent", asNumber(std::round(degrees)));
  if (out.program.lastSet && !out.program.lastSet->step.empty()) {
    out.program.steps = {out.program.lastSet->step};
    if (const Step* step = project_.step(out.program.lastSet->step))
      out.program.words = sayWhy("it stands at {}°, where “{}” sent it",
                                 asNumber(std::round(degrees)), phraseOf(*step));
  }
  if (pin) out.program.board = pin->board, out.program.pin = pin->name;
}

// Of what works: which step has it so.
void Asking::tellWhatDrives(Why& out) {
  const auto pin = controlling(working_);
  if (!pin) {
    out.program.words = sayWhy("no pin has to do with it");
    return;
  }
  out.program.board = pin->board;
  out.program.pin = pin->name;
  const std::string name = pinNameOf(project_, pin->board, pin->name);
  out.program.lastSet = lastSetOf(m_, pin->board, pin->name);
  for (const Snapshot::HeldPin& held : m_.now.held)
    if (held.board == pin->board && held.pin == pin->name) {
      out.program.words = sayWhy("{} is held by hand at {} %", name, asNumber(held.percent));
      return;
    }
  if (!out.program.lastSet) {
    out.program.words = sayWhy("{} stands so since the power came on", name);
    return;
  }
  const LastSet& last = *out.program.lastSet;
  if (!last.step.empty()) out.program.steps = {last.step};
  const Step* step = project_.step(last.step);
  const LampLook& lamp = out.look.lamp;
  if (out.look.looks == "too-fast")
    out.program.words = sayWhy("{} changes every {}: too fast to see", name,
                               asSeconds(inSeconds(lamp.changesEvery)));
  else if (out.look.looks == "blinking" && step)
    out.program.words =
        sayWhy("“{}” was done last, at {}", phraseOf(*step), momentInWords(last.at));
  else if (step)
    out.program.words = sayWhy("“{}” was done at {}", phraseOf(*step), momentInWords(last.at));
  else
    out.program.words = sayWhy("{} is so since {}", name, momentInWords(last.at));
}

void Asking::judgeProgram(Why& out) {
  if (out.circuit.fine) {
    if (out.look.works &&
        !(out.look.looks == "dim" && !working_.changes.empty() && out.look.peakAmps < dimAmps))
      return tellWhatDrives(out);
    if (out.look.flash > 0) {
      tellWhatDrives(out);
      out.circuit.words = sayWhy("it is lit for {} at a time: too briefly to see",
                                 asSeconds(inSeconds(out.look.flash)));
      return;
    }
    if (kind_.moves == Moves::angle && at(m_.now.motion, index_).degrees >= 0) return judgeArm(out);
    if (kind_.moves == Moves::tone && working_.changes.empty()) return judgeSteady(out);
    judgePins(out, circuit_, working_.changes);
    if (out.program.words.empty()) tellWhatDrives(out);
    return;
  }
  if (mended_.found)
    judgePins(out, mendedCircuit_ ? *mendedCircuit_ : circuit_, mended_.changes);
  else
    judgeUnmended(out);
  if (out.program.words.empty())
    out.program.words = sayWhy("nothing in it keeps {} {}", part_.name, out.look.looks);
}

// ---- in words

void Asking::headline(Why& out) {
  const std::string& looks = out.look.looks;
  const LampLook& lamp = out.look.lamp;
  if (looks == "dark")
    out.headline = out.look.since >= 0
                       ? sayWhy("{} is dark since {}", part_.name, momentInWords(out.look.since))
                       : sayWhy("{} is dark", part_.name);
  else if (looks == "dim")
    out.headline = sayWhy("{} is dim", part_.name);
  else if (looks == "lit")
    out.headline = sayWhy("{} is lit", part_.name);
  else if (looks == "blinking")
    out.headline = sayWhy("{} blinks {} times a second", part_.name, asNumber(lamp.perSecond, 2));
  else if (looks == "too-fast")
    out.headline = sayWhy("{} looks half lit", part_.name);
  else if (looks == "silent")
    out.headline = sayWhy("{} is silent", part_.name);
  else if (looks == "sounding")
    out.headline = sayWhy("{} sounds at {} Hz", part_.name,
                          asNumber(std::round(at(m_.now.motion, index_).hertz)));
  else if (looks == "turning")
    out.headline = sayWhy("{} turns", part_.name);
  else
    out.headline = sayWhy("{} stands still", part_.name);
}

void Asking::tell(Why& out) {
  headline(out);
  if (out.board.empty()) out.board = sayWhy("nothing sent yet");
  if (!out.power && m_.now.powered && gaveUp()) {
    out.sentence = sayWhy("{}: its power gave up.", out.headline);
    if (!out.circuit.fine) out.sentence.add(closed(out.circuit.words));
  } else if (!out.power) {
    out.sentence = sayWhy("{}: its power is off.", out.headline);
  } else if (!out.circuit.fine) {
    // What names the part itself needs no headline.
    const bool named = sentences_ && !out.circuit.parts.empty() &&
                       out.circuit.parts.front() == part_.id && out.circuit.rule != "led-dark";
    if (!named) out.sentence = sentences_ ? sayWhy("{}.", out.headline) : Sentences();
    out.sentence.add(sentences_ ? closed(out.circuit.words)
                                : sayWhy("{}: {}.", out.headline, out.circuit.words));
    if (!out.program.fine)
      out.sentence.add(sayWhy("The program leaves it so as well: {}.", out.program.words));
  } else if (!out.program.fine) {
    out.sentence = sayWhy("{}: {}.", out.headline, out.program.words);
    if (!working_.changes.empty() && !out.circuit.parts.empty())
      out.sentence.add(sayWhy("And {}.", out.circuit.words));
  } else if (out.program.board.empty()) {
    out.sentence = sayWhy("{}: {}.", out.headline, out.circuit.words);
  } else {
    out.sentence = sayWhy("{}: {}; {}.", out.headline, out.circuit.words, out.program.words);
  }
}

Why Asking::answer() {
  Why out;
  out.part = part_.id;
  out.look = outputLook(m_, index_);
  out.power = hasPower();
  judgeCircuit(out);
  if (!out.power && m_.now.powered && gaveUp() && out.circuit.fine) {
    // What the check says would take the power away.
    for (const Fault& fault : faults_)
      if (out.circuit.fine && (fault.rule == "short-circuit" || fault.rule == "board-overload" ||
                               fault.rule == "pin-fight" || fault.rule == "motor-on-pin")) {
        out.circuit.fine = false;
        out.circuit.rule = fault.rule;
        out.circuit.parts = fault.parts;
        out.circuit.sockets = fault.sockets;
        out.circuit.words = fault.title;
        sentences_ = true;
        mended_ = working_;
      }
  }
  judgeProgram(out);
  tell(out);
  return out;
}

}  // namespace

std::optional<Why> whyOf(const RunMoment& moment, const std::string& part,
                         const std::vector<Fault>& faults) {
  const Project& project = *moment.now.project;
  for (std::size_t p = 0; p < project.parts->size(); ++p) {
    if ((*project.parts)[p]->id != part) continue;
    const PartKind* kind = catalogue().partKind((*project.parts)[p]->type);
    if (!kind || kind->shows == Shows::nothing) return std::nullopt;
    return Asking(moment, static_cast<int>(p), faults).answer();
  }
  return std::nullopt;
}

}  // namespace ignavo
