#include "program/facts.h"
#include "program/kinds/list.h"

namespace ignavo {

const StepKind& letStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "let";
    k.label = "Remember";
    k.phrase = "let {name} be {value}";
    k.example = "let berth be 3";
    k.help = "Puts a value into a variable: it stays there until another step changes it.";
    k.aliases = {"remember"};
    k.slots = {{"name", SlotKind::Type::variable, "", Expr::of(std::string()), 0, 0, 1},
               {"value", SlotKind::Type::any, "", Expr::of(0.0), 0, 0, 1}};
    k.changes = StepKind::Changes::variable;
    k.compile = [](Compiler& c, const Step& s) {
      const std::string& name = s.field("name")->text;
      if (!c.hasVariable(name)) return c.nothing();
      c.value(s.field("value"), c.types().variable(name));
      c.store(name);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const std::string& name = s.field("name")->text;
      if (w.variable(name).empty()) return w.line("/* there is no such variable */");
      w.line(w.variable(name) + " = " + w.argument(*s.field("value"), w.types().variable(name)) +
             ";");
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
