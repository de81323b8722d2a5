#include <fmt/format.h>

#include <algorithm>

#include "check/rules/list.h"
#include "program/pace.h"

namespace ignavo {

namespace {

constexpr double seenSeconds = 0.020;  // what is shorter the eye does not see

// The lamp that hangs on a pin, or the board's own.
std::string lampOn(const CheckContext& c, const CircuitPin& pin) {
  for (int p : c.circuit.island(pin.island).parts)
    if (c.isLamp(p)) return c.part(p).name;
  return !c.wired(pin) && pin.kind->lampPin == pin.name ? "the board’s own lamp" : "";
}

std::string timeText(double seconds) {
  return seconds < 0.001 ? fmt::format("{:.0f} µs", seconds * 1e6)
                         : fmt::format("{:.0f} ms", seconds * 1e3);
}

void apply(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.project.program(board.id);
    if (!program) continue;
    std::vector<std::string> reported;
    for (const BriefLevel& brief : briefLevels(compile(*program, {}), seenSeconds)) {
      const int index = c.circuit.pinIndex(board.id, brief.pin);
      if (index < 0) continue;
      const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(index)];
      const std::string lamp = lampOn(c, pin), name = c.pinName(pin);
      // Once for each pin: the first such step says it.
      if (lamp.empty() || std::find(reported.begin(), reported.end(), name) != reported.end())
        continue;
      reported.push_back(name);
      Finding f;
      f.rule = "too-fast";
      f.severity = Severity::warning;
      f.steps = {brief.step};
      f.pins = {name};
      f.sockets = {{pin.board, pin.name}};
      f.title = brief.high ? fmt::format("{} is {} for {} only: too short to see", name,
                                         *brief.high ? "high" : "low", timeText(brief.seconds))
                           : fmt::format("{} is flipped again after {}: too short to see", name,
                                         timeText(brief.seconds));
      f.reason = fmt::format(
          "The next step that sets {} follows at once, so {} looks {}. A wait between the two "
          "shows it.",
          name, lamp,
          !brief.high   ? "steadily half lit"
          : *brief.high ? "dark or dim"
                        : "steadily lit");
      f.figures = {{"seconds", brief.seconds}};
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& tooFastRule() {
  static const Rule rule{
      "too-fast",
      Severity::warning,
      "The level of a lamp’s pin is replaced within 20 ms on every path, also round the loop.",
      "On and off without a wait looks steadily half lit: nobody sees it blink.",
      "A wait behind each step that should be seen; the last one before the loop begins again "
      "needs it too.",
      true,
      apply};
  return rule;
}

}  // namespace ignavo
