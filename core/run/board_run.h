#pragma once
#include <algorithm>

#include "run/kernel.h"

// What the kernel keeps to itself.
namespace ignavo {

// A board's processor joined to the circuit.
struct Kernel::BoardRun final : PinAccess {
  Kernel* kernel = nullptr;
  std::string board;
  Processor processor;
  std::vector<int> circuitPin;  // of each program pin; -1: no such pin

  bool readPin(int pin, Nanoseconds when) override {
    const int p = circuitPin[static_cast<std::size_t>(pin)];
    if (p < 0) return false;
    kernel->now_ = when;
    PinRun& run = kernel->pins_[static_cast<std::size_t>(p)];
    const PinReading reading = kernel->pinNow(p);
    if (reading.floating) {
      kernel->noiseRead_ = true;
      run.level = kernel->noise(p) ? 1 : 0;
    } else {
      kernel->takeLevel(p, reading);
    }
    if (run.signal >= 0) kernel->trace_.record(run.signal, when, run.level);
    return run.level != 0;
  }
  void setPin(int pin, bool high, Nanoseconds when) override {
    const int p = circuitPin[static_cast<std::size_t>(pin)];
    if (p < 0) return;
    kernel->now_ = when;
    PinRun& run = kernel->pins_[static_cast<std::size_t>(p)];
    if (run.role == PinRole::output && run.high == high) return;
    run.high = high;
    kernel->refreshPin(p);
  }
};

// A state that the run is compared with, to find out that it repeats.
struct Kernel::Anchor {
  Nanoseconds at = 0;
  CircuitState state;
  std::vector<std::uint8_t> levels;
  std::vector<double> courses;  // of the islands that remember something
  std::vector<Processor> processors;
  std::vector<std::vector<std::int64_t>> counts;
};

}  // namespace ignavo
