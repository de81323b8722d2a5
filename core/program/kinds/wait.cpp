#include "program/kinds/list.h"

namespace ignavo {

const StepKind& waitStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "wait";
    k.label = "Wait";
    k.phrase = "wait {seconds}";
    k.example = "wait 0.5";
    k.help = "Leaves everything as it is for that long. Other lanes go on meanwhile.";
    k.aliases = {"pause", "delay", "sleep"};
    k.slots = {{"seconds", SlotKind::Type::number, "s", Expr::of(0.5), 0, 86400, 0.1}};
    k.waits = "seconds";
    k.takesTurn = false;
    k.compile = [](Compiler& c, const Step& s) {
      c.value(s.field("seconds"), ValueType::real);
      Instruction i;
      i.code = OpCode::wait;
      i.endsStep = true;
      c.emit(i);
    };
    k.writeC = [](CWriter& w, const Step& s) { w.wait(*s.field("seconds")); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
