#include <fmt/format.h>

#include <algorithm>

#include "check/remedies.h"
#include "check/rules/inputs.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

bool batteryOn(const CheckContext& c, int net) {
  const auto& legs = c.net(net).legs;
  return std::any_of(legs.begin(), legs.end(), [&](const LegRef& l) {
    const PartKind* kind = c.circuit.kindOf(l.part);
    return kind &&
           kind->print.legs[static_cast<std::size_t>(l.leg)].feeds != LegShape::Feeds::nothing;
  });
}

// What hangs on a pin: parts and other pins that are reached over resistors and contacts
// alone, not beyond a supply or a battery.
struct Hanging {
  std::vector<int> parts, nets;
};
Hanging hanging(const CheckContext& c, const CircuitPin& pin) {
  Hanging out{{}, {pin.net}};
  for (std::size_t i = 0; i < out.nets.size(); ++i) {
    const int net = out.nets[i];
    if (c.circuit.supplyVolts(net) || batteryOn(c, net)) continue;
    for (const LegRef& leg : c.net(net).legs)
      if (std::find(out.parts.begin(), out.parts.end(), leg.part) == out.parts.end())
        out.parts.push_back(leg.part);
    for (const OhmicEdge& edge : c.circuit.edges()) {
      if (edge.netA != net && edge.netB != net) continue;
      const int next = edge.netA == net ? edge.netB : edge.netA;
      if (std::find(out.nets.begin(), out.nets.end(), next) == out.nets.end())
        out.nets.push_back(next);
    }
  }
  return out;
}

// Another pin there that does what this one does not: one that reads what this one feeds,
// or one that switches what this one watches.
bool sharedWith(const CheckContext& c, const Hanging& there, const CircuitPin& pin, bool reader) {
  return std::any_of(c.circuit.pins().begin(), c.circuit.pins().end(), [&](const CircuitPin& o) {
    if (&o == &pin || c.circuit.supplyVolts(o.net)) return false;
    if (std::find(there.nets.begin(), there.nets.end(), o.net) == there.nets.end()) return false;
    const PinUse* use = c.use(o);
    return use && (reader ? use->isRead() && use->writers.empty() : !use->writers.empty());
  });
}

void apply(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || c.circuit.supplyVolts(pin.net)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-fight"})) continue;
    int button = -1, shown = -1;
    const Hanging there = hanging(c, pin);
    for (int part : there.parts) {
      const PartKind* kind = c.circuit.kindOf(part);
      if (kind->sweepable() || kind->senses) button = button < 0 ? part : button;
      if (kind->shows != Shows::nothing || kind->gated) shown = shown < 0 ? part : shown;
    }
    // A button in the path of a lamp is no input.
    const bool written = !use->writers.empty() && button >= 0 && shown < 0;
    const bool read = use->writers.empty() && use->isRead() && shown >= 0 && button < 0;
    if ((!written && !read) || sharedWith(c, there, pin, written)) continue;
    const Part& part = c.part(written ? button : shown);
    Finding f;
    f.rule = "pin-direction";
    f.severity = Severity::warning;
    f.pins = {name};
    f.parts = {part.id};
    f.steps = written ? use->writers : use->reading();
    f.sockets = {{pin.board, pin.name}};
    const std::string phrase = c.phraseAt(f.steps.front());
    if (written) {
      f.title = fmt::format("{} is set by a step, but {} hangs on it", name, part.name);
      f.reason = fmt::format(
          "“{}” makes the pin an output, and then it cannot feel what {} does. Which pin is meant?",
          phrase, part.name);
    } else {
      f.title = fmt::format("{} is only read, but {} hangs on it", name, part.name);
      f.reason =
          fmt::format("“{}” makes the pin an input, so nothing switches {} on. Which pin is meant?",
                      phrase, part.name);
    }
    f.figures = {{"steps", static_cast<double>(f.steps.size())}};
    // The one pin that nothing uses and that has the other sort of part on it.
    std::vector<const CircuitPin*> meant;
    for (const CircuitPin& other : c.circuit.pins()) {
      if (other.ref.board != pin.ref.board || !c.wired(other) || c.use(other)) continue;
      const Hanging on = hanging(c, other);
      if (std::any_of(on.parts.begin(), on.parts.end(), [&](int q) {
            const PartKind* kind = c.circuit.kindOf(q);
            return written ? kind->shows != Shows::nothing : kind->sweepable() || kind->senses;
          }))
        meant.push_back(&other);
    }
    if (meant.size() == 1) {
      f.pins.push_back(c.pinName(*meant.front()));  // so nothing more is said of it
      if (auto made = remedies::changePin(c.project, pin.name, meant.front()->name, f.steps))
        f.remedies.push_back(std::move(*made));
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinDirectionRule() {
  static const Rule rule{
      "pin-direction",
      Severity::warning,
      "A step sets the pin of a button, or the pin of a lamp is only read.",
      "A pin is either an output or an input: it cannot feel what it sets itself.",
      "Change the pin in the step, or move the wire.",
      true,
      apply};
  return rule;
}

}  // namespace ignavo
