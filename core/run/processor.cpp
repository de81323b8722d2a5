#include "run/processor.h"

#include <fmt/format.h>

namespace ignavo {

namespace {
Message sentence(const avr::Fault& fault) {
  using Code = avr::Fault::Code;
  const Say say("run");
  const std::string at = fmt::format("{:#06x}", fault.address);
  const std::string reached = fmt::format("{:#06x}", fault.reached);
  const std::string word = fmt::format("{:04x}", fault.word);
  switch (fault.code) {
    case Code::none:
      break;
    case Code::notAnInstruction:
      return say("The chip stands at {0}: {1} is none of its instructions.", at, word);
    case Code::jumpOutside:
      return say(
          "The chip stands at {0}: the instruction {1} goes to {2}, beyond the end of its "
          "flash.",
          at, word, reached);
    case Code::stackMeetsVariables:
      return say(
          "The chip stands at {0}: with the instruction {1} the stack has grown down to the "
          "variables.",
          at, word);
    case Code::stackOutside:
      return say("The chip stands at {0}: the instruction {1} takes from a stack that is empty.",
                 at, word);
    case Code::memoryOutside:
      return say(
          "The chip stands at {0}: the instruction {1} reaches for {2}, where it has no "
          "memory.",
          at, word, reached);
  }
  return {};
}
}  // namespace

Message sentence(const ProgramFault& fault) {
  if (fault.chip.code != avr::Fault::Code::none) return sentence(fault.chip);
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
