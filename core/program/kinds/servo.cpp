#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"

namespace ignavo {

const StepKind& servoStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "servo";
    k.label = "Turn a servo";
    k.phrase = "turn servo on {pin} to {degrees}";
    k.example = "turn servo on d9 to 90";
    k.help =
        "Sends pulses that a servo understands as an angle, from 0 to 180 degrees, until a step "
        "sets or silences the pin. The arm takes its time to get there.";
    k.aliases = {"servo"};
    k.slots = {pinSlot(), {"degrees", SlotKind::Type::number, "°", Expr::of(90.0), 0, 180, 5}};
    k.pulses = true;
    k.inTurns = "it turns a servo";
    k.compile = [](Compiler& c, const Step& s) {
      emitPulses(c, s, OpCode::turnServo, "degrees", true);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      callOnPin(w, s, "turn", "degrees", ValueType::real);
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
