#pragma once
#include <cstdint>

namespace ignavo {

// Tones and servo pulses are trains of pulses whose edges the chip makes beside the program, by the
// ticks of a timer. Times are in 256ths of a tick, so that a tone is right over many periods
// though the chip makes each edge at a tick, up to 4 µs late.
struct PulseTrain {
  std::uint32_t width = 0;   // of a pulse
  std::uint32_t period = 0;  // from one to the next; 0: there are none
  bool operator==(const PulseTrain&) const = default;
};
// Eight of those are 125 ns: a tick is 4 µs, a turn 16,000 of them.
inline constexpr std::int64_t tickParts = 256;
// The moment of so many, rounded up, and how many have passed at a moment.
constexpr std::int64_t nanosecondsOf(std::int64_t parts) { return (parts * 125 + 7) / 8; }
constexpr std::int64_t partsAt(std::int64_t nanoseconds) { return nanoseconds * 8 / 125; }

inline constexpr float highestHertz = 10'000, lowestHertz = 1;

// As the chip works it out, in 32-bit floats. Below the lowest tone, and of not-a-number, there is
// none; above the highest it is the highest.
PulseTrain toneTrain(float hertz);
// Pulses of 1 ms for 0 degrees to 2 ms for 180, fifty a second; beyond the ends the end.
PulseTrain servoTrain(float degrees);

}  // namespace ignavo
