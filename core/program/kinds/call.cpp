#include "program/kinds/list.h"

namespace ignavo {

const StepKind& callStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "call";
    k.label = "Run an own step";
    k.phrase = "run {step}[ with {inputs}]";
    k.example = "run ring with times 3";
    k.help =
        "Does the steps that stand under a name of your own, with the values that you give its "
        "inputs, then goes on.";
    k.aliases = {"run"};
    Expr none;
    none.shape = Expr::Shape::list;
    k.slots = {{ownNameKey, SlotKind::Type::own, "", Expr::of(std::string()), 0, 0, 1},
               {ownInputsKey, SlotKind::Type::inputs, "", none, 0, 0, 1, true}};
    k.runsOwn = true;
    k.inTurns = "it runs an own step";
    k.compile = [](Compiler& c, const Step& s) { c.run(s); };
    k.writeC = [](CWriter& w, const Step& s) { w.run(s); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
