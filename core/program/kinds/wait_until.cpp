#include "program/kinds/list.h"
#include "program/kinds/test_slot.h"

namespace ignavo {

const StepKind& waitUntilStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "wait-until";
    k.label = "Wait until";
    k.phrase = "wait until {test}";
    k.example = "wait until d2 low";
    k.help = "Looks again and again, and goes on as soon as it is so. Other lanes go on meanwhile.";
    k.aliases = {"until", "wait for"};
    k.slots = {testSlot()};
    k.looksAgain = true;
    k.compile = [](Compiler& c, const Step& s) {
      const Expr* test = s.field("test");
      const bool remembers = test && senses(*test);
      const int forget = remembers ? c.afresh() : 0;
      const int top = c.loop();
      c.senses(test);
      c.truth(test);
      if (remembers) c.afresh(forget);
      c.at(top).takesTurn = true;
      Instruction branch;
      branch.code = OpCode::branch;
      branch.endsStep = true;
      branch.loopHead = true;
      branch.target = top;
      c.emit(branch);
      c.leaveLoop();
    };
    k.writeC = [](CWriter& w, const Step& s) { w.waitUntil(*s.field("test")); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
