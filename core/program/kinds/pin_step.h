#pragma once
#include "program/steps.h"

// What the step kinds that change one pin have in common.
namespace ignavo {

inline SlotKind pinSlot() { return {"pin", SlotKind::Type::pin, "", Expr::of(std::string())}; }

// The instruction that does it; what it takes off the stack has been compiled.
inline void emitOnPin(Compiler& c, const Step& s, OpCode code, bool endsStep = true) {
  Instruction i;
  i.code = code;
  const Expr* pin = s.field("pin");
  i.arg = c.pin(pin ? pin->text : std::string());
  i.endsStep = endsStep;
  c.emit(i);
}

// The same for pulses that a timer makes; where none is left for them nothing is done.
inline void emitPulses(Compiler& c, const Step& s, OpCode code, const char* value, bool endsStep) {
  if (!c.makesPulses()) return c.nothing();
  const Expr* wanted = s.field(value);
  c.value(wanted, ValueType::real);
  emitOnPin(c, s, code, endsStep);
  if (wanted && c.isConstant(*wanted)) c.costsAsWritten(c.here() - 1);
}

// "set_D4(…);  /* Red lamp */"; `value`: the key of the field that it takes, or none.
inline void callOnPin(CWriter& w, const Step& s, const std::string& verb,
                      const char* value = nullptr, ValueType type = ValueType::truth) {
  const Expr* pin = s.field("pin");
  if (!pin || pin->text.empty()) return w.line("/* a step without a pin */");
  w.line(verb + "_" + pin->text + "(" +
         (value ? w.argument(*s.field(value), type) : std::string()) + ");" +
         w.remarkFor(pin->text));
}

}  // namespace ignavo
