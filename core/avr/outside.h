#pragma once
#include <cstdint>

namespace ignavo::avr {

// Cycles of the chip's clock since power-on.
using Cycle = std::int64_t;
constexpr Cycle never = INT64_MAX;

// What a pin does to what hangs on it (14.2 in both data sheets).
enum class Drive : std::uint8_t { input, pullUp, low, high };

// What is around a chip. Moments never go back. Pins as pinAt() counts them.
class Outside {
 public:
  virtual ~Outside() = default;
  virtual void drive(int pin, Drive drive, Cycle at) = 0;
  // The levels of a port's pins as they are read, those that are asked for.
  virtual std::uint8_t levels(int port, std::uint8_t asked, Cycle at) = 0;
  // The voltage at a pin as a share of the supply, 0 … 1023.
  virtual int measure(int pin, Cycle at) = 0;
  // A byte went out over the serial line.
  virtual void sent(std::uint8_t byte, Cycle at) = 0;
};

}  // namespace ignavo::avr
