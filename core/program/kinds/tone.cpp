#include "program/kinds/list.h"
#include "program/kinds/pin_step.h"
#include "program/pulses.h"

namespace ignavo {

const StepKind& toneStep() {
  static const StepKind kind = [] {
    StepKind k;
    k.kind = "tone";
    k.label = "Sound a tone";
    k.phrase = "tone of {hertz} on {pin}[ for {seconds}]";
    k.example = "tone of 440 Hz on d5 for 0.2 s";
    k.help =
        "Switches a pin on and off so many times a second: a piezo gives that tone. With a time "
        "the lane waits for its end; without, it sounds until a step ends it.";
    k.aliases = {"tone", "sound", "play", "beep"};
    k.slots = {
        pinSlot(),
        {"hertz", SlotKind::Type::number, "Hz", Expr::of(440.0), lowestHertz, highestHertz, 10},
        {"seconds", SlotKind::Type::number, "s", Expr::of(0.2), 0, 86400, 0.1, true, "until told"}};
    k.waits = "seconds";
    k.sounds = true;
    k.inTurns = "it sounds a tone";
    k.compile = [](Compiler& c, const Step& s) {
      const Expr* seconds = s.field("seconds");
      emitPulses(c, s, OpCode::tone, "hertz", !seconds);
      if (!seconds) return;
      c.value(seconds, ValueType::real);
      Instruction wait;
      wait.code = OpCode::wait;
      c.emit(wait);
      emitOnPin(c, s, OpCode::silence);
    };
    k.writeC = [](CWriter& w, const Step& s) {
      callOnPin(w, s, "sound", "hertz", ValueType::real);
      const Expr* seconds = s.field("seconds");
      if (!seconds) return;
      w.wait(*seconds);
      callOnPin(w, s, "silence");
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
