#include "program/kinds/list.h"
#include "program/kinds/test_slot.h"

namespace ignavo {

const StepKind& whileStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "while";
    k.label = "As long as";
    k.phrase = "as long as {test}";
    k.example = "as long as d2 high";
    k.help = "Looks first, each time: does the steps inside again and again while it is so.";
    k.aliases = {"while"};
    k.slots = {testSlot()};
    k.bodies = {{"steps", false}};
    k.compile = [](Compiler& c, const Step& s) {
      const int top = c.loop();
      Instruction branch;
      branch.endsStep = true;
      const int exit = c.branch(s.field("test"), branch);
      c.steps(s.body("steps"));
      c.goRound(top, false);
      c.land(exit);
      c.leaveLoop();
    };
    k.writeC = [](CWriter& w, const Step& s) {
      w.asLongAs(w.expression(*s.field("test"), ValueType::truth));
      w.body(s.body("steps"));
      w.close();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
