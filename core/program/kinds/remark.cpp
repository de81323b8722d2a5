#include "program/kinds/list.h"

namespace ignavo {

const StepKind& remarkStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "remark";
    k.label = "Remark";
    k.phrase = "remark {text}";
    k.example = "remark the ferry is in";
    k.help = "Does nothing and takes no time: a line for whoever reads the program.";
    k.aliases = {"comment"};
    k.slots = {{"text", SlotKind::Type::text, "", Expr::of(std::string()), 0, 0, 1}};
    k.takesTurn = false;
    k.compile = [](Compiler&, const Step&) {};
    k.writeC = [](CWriter& w, const Step& s) { w.remark(s.field("text")->text); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
