#include "program/facts.h"
#include "program/kinds/list.h"

namespace ignavo {

const StepKind& addStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "add";
    k.label = "Count";
    k.phrase = "add {by} to {name}";
    k.example = "add 1 to berth";
    k.help = "Makes a variable larger by that much, or smaller where it is below 0.";
    k.aliases = {"increase"};
    k.slots = {{"name", SlotKind::Type::variable, "", Expr::of(std::string()), 0, 0, 1},
               {"by", SlotKind::Type::any, "", Expr::of(1.0), 0, 0, 1}};
    k.changes = StepKind::Changes::sum;
    k.addsUp = true;
    k.compile = [](Compiler& c, const Step& s) {
      const std::string& name = s.field("name")->text;
      const ValueType type = c.types().variable(name);
      if (!c.hasVariable(name) || type == ValueType::text) return c.nothing();
      c.sum(name, s.field("by"));
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const std::string& name = s.field("name")->text;
      const ValueType type = w.types().variable(name);
      if (w.variable(name).empty() || type == ValueType::text)
        return w.line("/* there is no such number */");
      w.line(w.variable(name) + " += " + w.argument(*s.field("by"), type) + ";");
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
