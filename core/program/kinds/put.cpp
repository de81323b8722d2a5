#include "program/facts.h"
#include "program/kinds/list.h"
#include "project/project.h"

namespace ignavo {

const StepKind& putStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "put";
    k.label = "Put into a list";
    k.phrase = "put {value} into item {index} of {list}";
    k.example = "put 30 into item 2 of levels";
    k.help = "Changes one value of a list. The first is item 1.";
    k.aliases = {};
    k.slots = {{"list", SlotKind::Type::list, "", Expr::of(std::string()), 0, 0, 1},
               {"index", SlotKind::Type::number, "", Expr::of(1.0), 1, limits::listItems, 1},
               {"value", SlotKind::Type::any, "", Expr::of(0.0), 0, 0, 1}};
    k.changes = StepKind::Changes::list;
    k.compile = [](Compiler& c, const Step& s) {
      const std::string& list = s.field("list")->text;
      if (!c.hasItems(list)) return c.nothing();
      c.value(s.field("value"), c.types().list(list));
      c.value(s.field("index"), ValueType::whole);
      c.storeItem(list);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const std::string& list = s.field("list")->text;
      if (w.list(list).empty()) return w.line("/* there is no such list, or it is empty */");
      const std::string value = w.argument(*s.field("value"), w.types().list(list));
      const std::string place = w.place(list, *s.field("index"));
      // C may work out either first.
      if (!changes(*s.field("value"))) return w.line(place + " = " + value + ";");
      w.open("");
      w.line((w.types().list(list) == ValueType::real ? "float value = " : "int32_t value = ") +
             value + ";");
      w.line(place + " = value;");
      w.close();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
