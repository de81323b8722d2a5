#include "program/facts.h"
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
    k.takesTurn = false;
    k.compile = [](Compiler& c, const Step& s) {
      const int top = c.loop();
      c.steps(s.body("steps"));
      c.goRound(top, takeNoTurn(*s.body("steps")));
      c.leaveLoop();
    };
    k.writeC = [](CWriter& w, const Step& s) {
      w.open("for (;;)");
      w.body(s.body("steps"));
      w.round(takeNoTurn(*s.body("steps")));
      w.close();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
