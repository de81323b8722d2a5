#include <cmath>

#include "bench/placing.h"
#include "explain/asking.h"
#include "explain/mended.h"
#include "parts/catalogue.h"
#include "program/steps.h"
#include "project/edits.h"

// The circuit of a question: is it sound, and if not, what is amiss with it?
namespace ignavo {

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

// Pins around a part that the programs write.
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
  working_ = nearestWorking(circuit_, output_, state_, ways(circuit_, index_));
  const bool byDuty = out.look.looks == "dim" && out.look.peakAmps >= dimAmps;
  const bool dim = out.look.looks == "dim" && !byDuty;
  if (out.look.works && !dim) {
    out.circuit.amps = kind_.shows == Shows::light
                           ? out.look.peakAmps
                           : std::abs(at(m_.now.reading.parts, index_).amps);
    // What sounds by its volts alone takes hardly any current.
    out.circuit.words = kind_.moves == Moves::tone
                            ? sayWhy("its volts go up and down")
                            : sayWhy("{} flow through it", asAmps(out.circuit.amps));
    return;
  }
  if (working_.found && !worksByDetour()) return tellWouldFlow(out);
  out.circuit.fine = false;
  out.circuit.sure = judgeDamage(out) || judgeFault(out);
  if (out.circuit.sure) return;
  // Nothing that is known mends it: then perhaps a pin is only read that was to be set.
  PinWays all = ways(circuit_, index_);
  if (all.kept.empty()) return;
  all.kept.clear();
  const Working found = nearestWorking(circuit_, output_, state_, all);
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
    if (fault.ofProgram || !fault.darkens || nearness(fault) < 2) continue;
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
  mended_ = nearestWorking(circuit_, output_, whole, ways(circuit_, index_));
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
  // What is about a lamp on a pin tells of the lamp, not of the pin.
  const auto tellsOfPin = [&](const Fault& fault) {
    const Part* main = fault.parts.empty() ? nullptr : project_.part(fault.parts.front());
    const PartKind* kind = main ? catalogue().partKind(main->type) : nullptr;
    return pin && holds(fault.pins, burnt) && !(kind && kind->shows == Shows::light);
  };
  for (const Fault& fault : faults_)
    if (!fault.ofProgram && (holds(fault.parts, id) || tellsOfPin(fault))) {
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
  const CircuitState state = carriedOver(project_, circuit_, state_, other, *circuit);
  Working found = nearestWorking(*circuit, {part, output_.lamp}, state, ways(*circuit, part));
  if (found.found) mendedCircuit_ = std::move(circuit), mendedIndex_ = part;
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
  // What is no place in its path can still be mended by a way to it: a pin with nothing on it.
  std::vector<std::pair<int, const Fault*>> near;
  for (const Fault& fault : faults_)
    if (const int how = nearness(fault); fault.ofProgram ? fault.darkens : how > 0 || fault.darkens)
      near.emplace_back(how, &fault);
  std::stable_sort(near.begin(), near.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  for (const auto& [how, fault] : near)
    if (mended_ = mendedBy(*fault); mended_.found) return fault;
  for (const auto& [how, fault] : near)
    if (fault->darkens && how > 0) return fault;
  // A short somewhere else takes the power from all.
  for (const Fault& fault : faults_)
    if (circuit_.anyShorted() && fault.takesPower) return &fault;
  return nullptr;
}

void Asking::aboutBreak(Why& out) {
  out.circuit.rule = "led-dark";
  out.circuit.parts = {part_.id};
  const PathBreak gap = breakOf(project_, circuit_, index_, output_.lamp);
  const auto add = [&](int part) {
    for (const Leg& leg : at(*project_.parts, part)->legs)
      if (leg.in) out.circuit.sockets.push_back(*leg.in);
  };
  if (!gap.found()) {
    add(index_);
    const double amps = std::abs(at(m_.now.reading.parts, index_).amps);
    out.circuit.words =
        amps < darkAmps ? sayWhy("its path lets no current through, however pins and buttons stand")
        : kind_.shows == Shows::turning
            ? sayWhy("{} flow through it, too few to turn it", asAmps(amps))
            : sayWhy("{} flow through it, too few to be noticed", asAmps(amps));
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

void Why::OfCircuit::take(const Fault& fault, const Project& project) {
  fine = false;
  rule = fault.rule;
  parts = fault.parts;
  sockets = fault.sockets;
  // That it is dark is known; why, is not.
  words =
      fault.rule == "led-dark" && !fault.reason.empty() ? fault.reason.all().front() : fault.title;
  if (!sockets.empty()) return;
  for (const std::string& id : parts)
    if (const Part* part = project.part(id))
      for (const Leg& leg : part->legs)
        if (leg.in) sockets.push_back(*leg.in);
}

void Asking::takeFault(Why& out, const Fault& fault) {
  sentences_ = true;
  out.circuit.take(fault, project_);
}

bool Asking::judgeFault(Why& out) {
  const Fault* fault = faultThatDarkens();
  if (!mended_.found && judgeTurned(out)) return true;
  if (!fault) {
    aboutBreak(out);
    return false;
  }
  takeFault(out, *fault);
  return mended_.found;
}

}  // namespace ignavo
