#include "program/kinds/list.h"
#include "program/kinds/test_slot.h"

namespace ignavo {

const StepKind& ifStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "if";
    k.label = "If … otherwise";
    k.phrase = "if {test}";
    k.example = "if d2 high";
    k.help = "Looks once, now: goes one way when it is so and the other way when it is not.";
    k.aliases = {"when"};
    k.slots = {testSlot()};
    k.bodies = {{"then", false, BodyKind::Runs::ifSo}, {"else", true, BodyKind::Runs::ifNot}};
    k.compile = [](Compiler& c, const Step& s) {
      Instruction branch;
      branch.endsStep = branch.isFork = true;
      const int fork = c.branch(s.field("test"), branch);
      c.steps(s.body("then"));
      const Steps* otherwise = s.body("else");
      if (otherwise && !otherwise->empty()) {
        Instruction jump;
        jump.code = OpCode::jump;
        const int skip = c.emit(jump);
        c.land(fork);
        c.steps(otherwise);
        c.land(skip);
      } else {
        c.land(fork);
      }
    };
    k.writeC = [](CWriter& w, const Step& s) {
      w.open("if (" + w.expression(*s.field("test"), ValueType::truth) + ")");
      w.body(s.body("then"));
      const Steps* otherwise = s.body("else");
      if (otherwise && !otherwise->empty()) {
        w.middle("else");
        w.body(otherwise);
      }
      w.close();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
