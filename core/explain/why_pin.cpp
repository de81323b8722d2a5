#include <algorithm>

#include "explain/holding.h"
#include "explain/input_fault.h"
#include "explain/why.h"
#include "explain/words.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/steps.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

bool isWritten(const Project& project, const std::string& board, const std::string& pin) {
  const Program* program = project.program(board);
  if (!program) return false;
  const std::vector<PinUse> uses = pinUses(*program);
  return std::any_of(uses.begin(), uses.end(),
                     [&](const PinUse& use) { return use.pin == pin && !use.writers.empty(); });
}

}  // namespace

std::optional<WhyPin> whyPin(const RunMoment& m, const std::string& board, const std::string& pin,
                             const std::vector<Fault>& faults) {
  const Project& project = *m.now.project;
  const int index = programPinIndex(project, board, pin);
  if (index < 0) return std::nullopt;
  Circuit circuit(project);
  WhyPin out;
  out.board = board;
  out.pin = pin;
  out.high = at(m.now.levels, index) != 0;
  if (const int signal = m.trace.find(Signal::What::pinLevel, board, pin); signal >= 0)
    if (const Nanoseconds edge = m.trace.lastEdge(signal, m.now.now + 1); edge > 0)
      out.since = edge;
  const std::string label = pinLabel(project, circuit.nets(), board, pin);
  const std::string name = pinNameOf(project, board, pin) + (label.empty() ? "" : " · " + label);
  if (out.since >= 0)
    out.headline = out.high ? sayWhy("{} is high since {}", name, momentInWords(out.since))
                            : sayWhy("{} is low since {}", name, momentInWords(out.since));
  else
    out.headline = out.high ? sayWhy("{} is high", name) : sayWhy("{} is low", name);
  out.byProgram = isWritten(project, board, pin);
  const int net = at(circuit.pins(), index).net;
  const Holding held = holdingOf(project, circuit, net, m.now.state);
  out.circuit = held.words;
  out.parts = held.parts;
  if (out.byProgram) {
    const PinReason reason = whyNot(m, board, pin, !out.high, faults);
    out.program = reason.words;
    out.steps = reason.steps;
    out.lastSet = reason.lastSet;
    out.circuit = sayWhy("the pin itself holds it {}", out.high ? sayWhy("high") : sayWhy("low"));
    out.parts.clear();
    if (reason.circuit) {
      out.circuit = reason.circuit->title;
      out.parts = reason.circuit->parts;
    }
  } else {
    out.program = sayWhy("no step sets it");
    const Fault* fault = faultAround(m, board, pin, faults);
    if (fault && keepsFromLevel(m, board, pin, *fault, false)) {
      out.circuit = sayWhy("{}; {}", held.words, fault->title);
      out.parts = fault->parts;
    }
  }
  return out;
}

}  // namespace ignavo
