#include "program/kinds/list.h"

namespace ignavo {

const StepKind& endStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "end";
    k.label = "End this lane";
    k.phrase = "end this lane";
    k.example = "end this lane";
    k.help =
        "Nothing more of this lane until it is started again: by its pin, or by switching the "
        "board on.";
    k.aliases = {"end", "stop"};
    k.turnsOff = StepKind::TurnsOff::lane;
    k.compile = [](Compiler& c, const Step&) { c.endLane(); };
    k.writeC = [](CWriter& w, const Step&) { w.endLane(); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
