#include "program/kinds/list.h"

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
    k.slots = {{"pin", SlotKind::Type::pin, "", Expr::of(std::string()), 0, 0, 1}};
    k.addsUp = true;
    k.compile = [](Compiler& c, const Step& s) {
      Instruction i;
      i.code = OpCode::flipPin;
      const Expr* pin = s.field("pin");
      i.arg = c.pin(pin ? pin->text : std::string());
      i.nanoseconds = c.costs().setPin;
      i.endsStep = true;
      c.emit(i);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const Expr* pin = s.field("pin");
      if (!pin || pin->text.empty()) return w.line("/* a step without a pin */");
      w.line("flip_" + pin->text + "();" + w.remarkFor(pin->text));
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
