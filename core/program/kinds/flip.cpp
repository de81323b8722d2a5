#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"

namespace ignavo {

const StepKind& flipStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "flip";
    k.label = "Flip a pin";
    k.phrase = "flip {pin}";
    k.example = "flip d4";
    k.help =
        "Sets a pin to the other level: high becomes low, low becomes high. A dimmed pin becomes "
        "low.";
    k.aliases = {"toggle"};
    k.slots = {pinSlot()};
    k.addsUp = k.flips = true;
    k.compile = [](Compiler& c, const Step& s) { emitOnPin(c, s, OpCode::flipPin); };
    k.writeC = [](CWriter& w, const Step& s) { callOnPin(w, s, "flip"); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
