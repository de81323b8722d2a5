#include <cmath>

#include "explain/asking.h"
#include "explain/ohmic_path.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/steps.h"

// The program of a question: would it have the part work, and if not, why not?
namespace ignavo {

void Why::OfProgram::take(const std::string& itsBoard, const std::string& itsPin,
                          const PinReason& reason) {
  board = itsBoard;
  pin = itsPin;
  lastSet = reason.lastSet;
  words = reason.words;
  steps = reason.steps;
}

void Asking::take(Why& out, const std::string& board, const std::string& pin,
                  const PinReason& reason) {
  out.program.take(board, pin, reason);
  out.program.fine = reason.byHand || reason.circuit;
  if (!reason.circuit || !out.circuit.fine) return;
  // The program does what it should with what it reads.
  ofInput_ = true;
  takeFault(out, *reason.circuit);
  out.circuit.sure = true;
}

// Within the last second, long enough to be seen.
bool Asking::wasSo(const std::string& board, const std::string& pin, bool high) const {
  const int signal = m_.trace.find(Signal::What::pinLevel, board, pin);
  if (signal < 0) return false;
  const Nanoseconds from = std::max(m_.trace.begin(), m_.now.now - second);
  const double seconds = inSeconds(m_.now.now - from);
  const double share = seconds > 0 ? m_.trace.integral(signal, from, m_.now.now) / seconds
                                   : m_.trace.valueAt(signal, m_.now.now);
  constexpr double least = 0.002;  // of a second: two milliseconds, as bright as the dimmest lamp
  return (high ? share : 1 - share) > least;
}

// Nets that lead to a part through nothing but resistors and contacts: pins there feed it, others
// may only take its current away.
std::vector<int> Asking::netsThatFeed(const Circuit& circuit, int part) const {
  std::vector<int> out;
  for (int leg = 0; leg < static_cast<int>(part_.legs.size()); ++leg)
    for (const int net : ohmicReach(circuit, circuit.nets().ofLeg({part, leg}))) out.push_back(net);
  return out;
}

// `part`: its place in that circuit. Pins that feed it are told first.
void Asking::judgePins(Why& out, const Circuit& circuit, int part, std::vector<Change> changes) {
  const std::vector<int> near = netsThatFeed(circuit, part);
  std::stable_partition(changes.begin(), changes.end(), [&](const Change& change) {
    return change.what == Change::What::pin && holds(near, at(circuit.pins(), change.index).net);
  });
  for (const Change& change : changes) {
    if (change.what != Change::What::pin) continue;
    const CircuitPin& pin = at(circuit.pins(), change.index);
    if (!out.circuit.fine && wasSo(pin.board, pin.name, change.on)) continue;
    const PinReason reason = whyNot(m_, pin.board, pin.name, change.on, faults_);
    if (!out.program.words.empty()) {  // the first is told; of others only their steps
      for (const std::string& step : reason.steps)
        if (!holds(out.program.steps, step)) out.program.steps.push_back(step);
      continue;
    }
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
  const int anode = output_.lamp < 0 ? kind_.readLegs.first : at(kind_.lamps, output_.lamp);
  const PathEnds a = ends(anode), b = ends(kind_.readLegs.second);
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
  judgePins(out, circuit_, index_, changes);
}

// The pin that has it work: with the other level it would not. Those that feed it first.
std::optional<CircuitPin> Asking::controlling(const Working& working) {
  if (!working.found) return std::nullopt;
  const std::vector<int> near = netsThatFeed(circuit_, index_);
  std::vector<int> pins;
  const std::vector<int> written = driven(circuit_, index_);
  for (const bool close : {true, false})
    for (const bool likely : {true, false})
      for (const int p : island().pins)
        if (holds(near, at(circuit_.pins(), p).net) == close && holds(written, p) == likely)
          pins.push_back(p);
  for (const int p : pins) {
    CircuitState other = working.state;
    PinDrive& drive = at(other.pins, p);
    if (drive != PinDrive::high && drive != PinDrive::low) continue;
    drive = drive == PinDrive::high ? PinDrive::low : PinDrive::high;
    if (!works(circuit_, output_, other)) return at(circuit_.pins(), p);
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
  out.program.take(pin->board, pin->name, whatDrives(m_, pin->board, pin->name, out.look));
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
    judgePins(out, circuit_, index_, working_.changes);
    if (out.program.words.empty()) tellWhatDrives(out);
    return;
  }
  if (mended_.found && mendedCircuit_)
    judgePins(out, *mendedCircuit_, mendedIndex_, mended_.changes);
  else if (mended_.found)
    judgePins(out, circuit_, index_, mended_.changes);
  else
    judgeUnmended(out);
  if (out.program.words.empty())
    out.program.words = sayWhy("nothing in it keeps {} {}", name_, out.look.looks);
}

}  // namespace ignavo
