#include "program/pulses.h"

namespace ignavo {

PulseTrain toneTrain(float hertz) {
  if (!(hertz >= lowestHertz)) return {};
  if (hertz > highestHertz) hertz = highestHertz;
  // Half a second in parts of ticks is 32,000,000.
  const auto width = static_cast<std::uint32_t>(32'000'000.0F / hertz + 0.5F);
  return {width, 2 * width};
}

PulseTrain servoTrain(float degrees) {
  if (!(degrees >= 0)) degrees = 0;
  if (degrees > 180) degrees = 180;
  // A millisecond is 64,000 parts of ticks, the fiftieth part of a second twenty times as many.
  const auto width = static_cast<std::uint32_t>(degrees * (64'000.0F / 180) + 64'000.5F);
  return {width, 1'280'000};
}

}  // namespace ignavo
