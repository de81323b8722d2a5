#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"

namespace ignavo {

const StepKind& setStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "set";
    k.label = "Set a pin";
    k.phrase = "set {pin} {to}";
    k.example = "set d4 high";
    k.help =
        "Switches a pin: high gives 5 V, low gives 0 V. It stays so until another step changes it.";
    k.aliases = {"switch", "turn", "put"};
    k.slots = {pinSlot(),
               {"to", SlotKind::Type::level, "", Expr::of(std::string("high")), 0, 0, 1}};
    k.compile = [](Compiler& c, const Step& s) {
      c.truth(s.field("to"));
      emitOnPin(c, s, OpCode::setPin);
    };
    k.writeC = [](CWriter& w, const Step& s) { callOnPin(w, s, "set", "to"); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
