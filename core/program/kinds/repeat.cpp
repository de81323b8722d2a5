#include "program/facts.h"
#include "program/kinds/list.h"

namespace ignavo {

const StepKind& repeatStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "repeat";
    k.label = "Repeat";
    k.phrase = "repeat {times} times";
    k.example = "repeat 5 times";
    k.help = "Does the steps inside that many times, then goes on.";
    k.aliases = {"do"};
    k.slots = {{"times", SlotKind::Type::number, "", Expr::of(3.0), 0, 1e9, 1}};
    k.bodies = {{"steps", false}};
    k.counts = "times";
    k.compile = [](Compiler& c, const Step& s) {
      c.value(s.field("times"), ValueType::whole);
      const int counter = c.newCounter();
      Instruction start;
      start.code = OpCode::countStart;
      start.arg = counter;
      const int begins = c.emit(start);
      const int top = c.loop();
      Instruction turn;
      turn.code = OpCode::countTurn;
      turn.arg = counter;
      turn.endsStep = true;
      c.emit(turn);
      if (c.isNever(*s.field("times"))) c.at(begins).cycles = c.at(top).cycles = 0;
      c.steps(s.body("steps"));
      Instruction back;
      back.code = OpCode::jump;
      back.target = top;
      back.takesTurn = takeNoTurn(*s.body("steps"));
      c.emit(back);
      c.land(top);
      c.leaveLoop();
    };
    k.writeC = [](CWriter& w, const Step& s) {
      const std::string i = w.counterVariable();
      const std::string times = w.argument(*s.field("times"), ValueType::whole);
      // How often is asked once, before the first time.
      if (s.field("times")->isLiteral())
        w.open("for (" + i + " = 0; " + i + " < " + times + "; " + i + "++)");
      else
        w.open("for (" + i + " = " + times + "; " + i + " > 0; " + i + "--)");
      w.body(s.body("steps"));
      w.round(takeNoTurn(*s.body("steps")));
      w.close();
      w.counterDone();
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
