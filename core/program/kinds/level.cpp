#include "program/kinds/list.h"

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
    k.slots = {{"pin", SlotKind::Type::pin, "", Expr::of(std::string()), 0, 0, 1},
               {"percent", SlotKind::Type::number, "%", Expr::of(50.0), 0, 100, 5}};
    k.dims = true;
    k.compile = [](Compiler& c, const Step& s) {
      c.value(s.field("percent"));
      Instruction i;
      i.code = OpCode::setLevel;
      const Expr* pin = s.field("pin");
      i.arg = c.pin(pin ? pin->text : std::string());
      i.nanoseconds = c.costs().setLevel;
      i.endsStep = true;
      c.emit(i);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const Expr* pin = s.field("pin");
      if (!pin || pin->text.empty()) return w.line("/* a step without a pin */");
      w.line("dim_" + pin->text + "(" + w.expression(*s.field("percent")) + ");" +
             w.remarkFor(pin->text));
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
