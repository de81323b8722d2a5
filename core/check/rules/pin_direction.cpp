#include <fmt/format.h>

#include "check/rules/inputs.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// Parts whose metal touches the pin, over resistors at most.
std::vector<int> near(const CheckContext& c, const CircuitPin& pin) {
  std::vector<int> out;
  for (int part : c.circuit.island(pin.island).parts) out.push_back(part);
  return out;
}

void apply(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || c.circuit.supplyVolts(pin.net)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-fight"})) continue;
    int button = -1, shown = -1;
    for (int part : near(c, pin)) {
      const PartKind* kind = c.circuit.kindOf(part);
      if (kind->sweepable() || kind->senses) button = button < 0 ? part : button;
      if (kind->shows != Shows::nothing || kind->gated) shown = shown < 0 ? part : shown;
    }
    // A button in the path of a lamp is no input.
    const bool written = !use->writers.empty() && button >= 0 && shown < 0;
    const bool read = use->writers.empty() && !use->readers.empty() && shown >= 0 && button < 0;
    if (!written && !read) continue;
    const Part& part = c.part(written ? button : shown);
    Finding f;
    f.rule = "pin-direction";
    f.severity = Severity::warning;
    f.pins = {name};
    f.parts = {part.id};
    f.steps = written ? use->writers : use->readers;
    f.sockets = {{pin.board, pin.name}};
    const Step* step = c.project.step(f.steps.front());
    const std::string phrase = step ? phraseOf(*step) : std::string("?");
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
