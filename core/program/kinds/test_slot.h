#pragma once
#include "program/steps.h"

namespace ignavo {

// The condition of a step; at first, that the usual button is pressed.
inline SlotKind testSlot() {
  return {"test", SlotKind::Type::truth,
          "",     Expr::binary("=", Expr::readPin("D2"), Expr::of(true)),
          0,      0,
          1};
}

}  // namespace ignavo
