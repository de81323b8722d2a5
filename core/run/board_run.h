#pragma once
#include <algorithm>
#include <cmath>

#include "run/kernel.h"

// What the kernel keeps to itself.
namespace ignavo {

// What an analog pin measures: one of 1,024 stages, told in percent.
inline double percentMeasured(double shareOfSupply) {
  constexpr double stages = 1024;
  const double stage = std::clamp(std::floor(shareOfSupply * stages), 0.0, stages - 1);
  return stage * 100 / (stages - 1);
}

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
      kernel->seeLevel(p, kernel->noise(p));
    } else {
      kernel->takeLevel(p, reading);
    }
    if (run.signal >= 0) kernel->trace_.record(run.signal, when, run.level);
    return run.level != 0;
  }
  double readLevel(int pin, Nanoseconds when) override {
    const int p = circuitPin[static_cast<std::size_t>(pin)];
    if (p < 0) return 0;
    kernel->now_ = when;
    // A pin that cannot measure tells only high from low.
    if (!kernel->circuit_->pins()[static_cast<std::size_t>(p)].shape().analog)
      return readPin(pin, when) ? 100 : 0;
    const PinReading reading = kernel->pinNow(p);
    if (reading.floating || !reading.volts) {
      kernel->noiseRead_ = true;
      return kernel->driftOf(p);
    }
    return percentMeasured(reading.supplyVolts > 0 ? *reading.volts / reading.supplyVolts : 0);
  }
  void setPin(int pin, bool high, Nanoseconds when) override {
    if (const int p = circuitPin[static_cast<std::size_t>(pin)]; p >= 0) {
      kernel->now_ = when;
      kernel->makeOutput(p, high);
    }
  }
  void flipPin(int pin, Nanoseconds when) override {
    const int p = circuitPin[static_cast<std::size_t>(pin)];
    if (p < 0) return;
    const PinRun& run = kernel->pins_[static_cast<std::size_t>(p)];
    setPin(pin, !run.high && run.pulseDue == never, when);
  }
  void setLevel(int pin, double percent, Nanoseconds when) override {
    if (const int p = circuitPin[static_cast<std::size_t>(pin)]; p >= 0) {
      kernel->now_ = when;
      kernel->dimPin(p, percent);
    }
  }
};

// A state that the run is compared with, to find out that it repeats.
struct Kernel::Anchor {
  Nanoseconds at = 0;
  CircuitState state;
  std::vector<std::uint8_t> levels;
  std::vector<double> courses;      // of the islands that remember something
  std::vector<Nanoseconds> pulses;  // of the pins that are dimmed
  std::vector<Processor> processors;
  std::vector<std::vector<std::int64_t>> counts;
};

}  // namespace ignavo
