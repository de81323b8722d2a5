#include "program/kinds/list.h"

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
    k.slots = {{"pin", SlotKind::Type::pin, "", Expr::of(std::string()), 0, 0, 1},
               {"to", SlotKind::Type::level, "", Expr::of(std::string("high")), 0, 0, 1}};
    k.compile = [](Compiler& c, const Step& s) {
      c.value(s.field("to"));
      Instruction i;
      i.code = OpCode::setPin;
      const Expr* pin = s.field("pin");
      i.arg = c.pin(pin ? pin->text : std::string());
      i.nanoseconds = c.costs().setPin;
      i.endsStep = true;
      c.emit(i);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const Expr* pin = s.field("pin");
      if (!pin || pin->text.empty()) return w.line("/* a step without a pin */");
      w.line("set_" + pin->text + "(" + w.expression(*s.field("to")) + ");" +
             w.remarkFor(pin->text));
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
