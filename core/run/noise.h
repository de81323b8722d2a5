#pragma once
#include <cstdint>

#include "parts/circuit.h"
#include "run/random.h"
#include "run/time.h"

namespace ignavo {

constexpr Nanoseconds noiseSlot = 1'000'000;  // a floating pin may change every millisecond

// What a pin that nothing holds picks up: hum of the mains (50 Hz), with a random disturbance in
// one slot out of four.
struct Hum {
  bool high;
  std::uint64_t stream, slot;
};
inline Hum humAt(const CircuitPin& pin, std::uint64_t seed, Nanoseconds now) {
  const auto slot = static_cast<std::uint64_t>(now / noiseSlot);
  const std::uint64_t stream = keyOf((pin.board + "." + pin.name).c_str());
  const std::uint64_t bits = randomBits(seed, stream, slot);
  const std::uint64_t phase = mixed(seed ^ stream) % 20;
  const bool hum = (slot + phase) % 20 < 10;
  return {(bits & 3) == 0 ? (bits & 4) != 0 : hum, stream, slot};
}

}  // namespace ignavo
