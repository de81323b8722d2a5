#include "run/processor.h"

namespace ignavo {

Message sentence(const ProgramFault& fault) {
  const Say say("run");
  switch (fault.what) {
    case NumberFault::none:
      break;
    case NumberFault::wrapped:
      return say(
          "A whole number grew beyond 2,147,483,647, the largest that the chip can hold, and went "
          "on from the other end.");
    case NumberFault::dividedByZero:
      return say("Something was divided by zero: that gives 0.");
    case NumberFault::outside:
      return say("The list has no item at that position; the nearest one at its end was taken.");
  }
  return {};
}

}  // namespace ignavo
