#include "format/suggestion.h"

#include <fmt/format.h>

#include "format/bench_words.h"
#include "parts/catalogue.h"
#include "parts/hanging.h"
#include "program/facts.h"

namespace ignavo {

namespace {

constexpr Say suggestionSay("program");

// Canonical phrases, so that whatever the rows call their fields is theirs.
std::string phraseFor(const HangingPart& part, const BoardPin& pin) {
  const std::string level = part.whenLow ? "low" : "high";
  using Is = HangingPart::Is;
  switch (part.is) {
    case Is::lamp:
    case Is::buzzer:
      return fmt::format("set {} {}", pin.name, level);
    case Is::button:
      return fmt::format("if {} is {}", pin.name, level);
    case Is::sensor:
      return pin.analog ? fmt::format("if level of {} > 50", pin.name)
                        : fmt::format("if {} is high", pin.name);
    case Is::motor:
      return pin.pwm ? fmt::format("dim {} to 50", pin.name)
                     : fmt::format("set {} {}", pin.name, level);
    case Is::arm:
      return fmt::format("turn servo on {} to 90", pin.name);
    case Is::sounder:
      return fmt::format("tone of 440 on {} for 0.5", pin.name);
  }
  return {};
}

}  // namespace

Suggestion suggestionFor(const Project& project, const Nets& nets, const std::string& board,
                         const std::string& part) {
  Suggestion out;
  const Part* held = project.part(part);
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!held || !kind) return out;
  const Vocabulary words = benchWords(project, nets, board);
  for (const BoardPin& pin : kind->pins) {
    if (pin.role != PinShape::Role::io) continue;
    for (const HangingPart& hanging : hangingOn(project, nets, board, pin.name)) {
      if ((*project.parts)[static_cast<std::size_t>(hanging.part)]->id != part) continue;
      const ParsedStep read = parseStep(phraseFor(hanging, pin), words);
      if (!read.step) continue;
      out.steps = {*read.step};
      if (hanging.is == HangingPart::Is::button)
        out.lane =
            Trigger(triggerAt(hanging.whenLow ? TriggerKind::Edge::fall : TriggerKind::Edge::rise),
                    pin.name);
      return out;
    }
  }
  out.problem = suggestionSay("{} hangs on no pin yet. Wire it first; then it can be dragged here.",
                              held->name);
  return out;
}

}  // namespace ignavo
