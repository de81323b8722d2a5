#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"

namespace ignavo {

const StepKind& silenceStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "silence";
    k.label = "Silence a pin";
    k.phrase = "silence {pin}";
    k.example = "silence d5";
    k.help = "Ends the tone of a pin, or the pulses for a servo: the pin is low.";
    k.aliases = {"quiet", "mute"};
    k.slots = {pinSlot()};
    k.silences = true;
    k.inTurns = "it ends a tone";
    k.compile = [](Compiler& c, const Step& s) { emitOnPin(c, s, OpCode::silence); };
    k.writeC = [](CWriter& w, const Step& s) { callOnPin(w, s, "silence"); };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
