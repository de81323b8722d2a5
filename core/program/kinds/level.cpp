#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"

namespace ignavo {

const StepKind& levelStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "level";
    k.label = "Dim a pin";
    k.phrase = "dim {pin} to {percent}";
    k.example = "dim d9 to 30 %";
    k.help =
        "Switches a pin on and off so fast that a lamp looks dimmed: high for that share of the "
        "time. Pins with a ∿ can do it.";
    k.aliases = {"level", "brightness"};
    k.slots = {pinSlot(), {"percent", SlotKind::Type::number, "%", Expr::of(50.0), 0, 100, 5}};
    k.dims = true;
    k.compile = [](Compiler& c, const Step& s) {
      const Expr* percent = s.field("percent");
      c.value(percent, ValueType::real);
      emitOnPin(c, s, OpCode::setLevel);
      if (percent && c.isConstant(*percent)) c.costsAsWritten(c.here() - 1);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      callOnPin(w, s, "dim", "percent", ValueType::real);
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
