#include "run/processor.h"

namespace ignavo {

Message sentence(const ProgramFault& fault) {
  const Say say("run");
  switch (fault.what) {
    case ProgramFault::What::wrapped:
      return say(
          "A whole number grew beyond 2,147,483,647, the largest that the chip can hold, and went "
          "on from the other end.");
    case ProgramFault::What::dividedByZero:
      return say("Something was divided by zero: that gives 0.");
  }
  return {};
}

}  // namespace ignavo
