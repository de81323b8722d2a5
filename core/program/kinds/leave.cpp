#include "program/kinds/list.h"

namespace ignavo {

const StepKind& leaveStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "leave";
    k.label = "Leave the loop";
    k.phrase = "leave the loop";
    k.example = "leave the loop";
    k.help =
        "Goes on behind the loop that this step stands in, the innermost if there are several.";
    k.aliases = {"leave", "break", "exit"};
    k.turnsOff = StepKind::TurnsOff::loop;
    k.compile = [](Compiler& c, const Step&) {
      Instruction jump;
      jump.code = OpCode::jump;
      jump.endsStep = true;
      c.leave(jump);
    };
    k.writeC = [](CWriter& w, const Step&) { w.leave(); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
