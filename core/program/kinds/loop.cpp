#include "program/kinds/list.h"

namespace ignavo {

const StepKind& loopStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "loop";
    k.label = "Keep going round";
    k.phrase = "keep going round";
    k.example = "keep going round";
    k.help = "Does the steps inside again and again, for ever. Nothing below it is ever reached.";
    k.aliases = {"forever", "loop"};
    k.bodies = {{"steps", false}};
    k.endless = true;
    k.compile = [](Compiler& c, const Step& s) {
      const int top = c.here();
      c.steps(s.body("steps"));
      Instruction back;
      back.code = OpCode::jump;
      back.target = top;
      back.endsStep = true;
      back.loopHead = true;
      c.emit(back);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      w.open("for (;;)");
      w.body(s.body("steps"));
      w.close();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
