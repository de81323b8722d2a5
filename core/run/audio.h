#pragma once
#include <array>
#include <span>
#include <vector>

#include "project/project.h"
#include "run/trace.h"

namespace ignavo {

// A part that can be heard, and the signal of the trace that it follows: the volts across a piezo,
// the amps through a buzzer.
struct Sounder {
  int signal = -1;
  bool buzzes = false;  // by itself, while it gets enough
  bool operator==(const Sounder&) const = default;
};
std::vector<Sounder> soundersOf(const Project& project, const Trace& trace);

// What the sounders of a run sound like, as samples from −1 to 1. They are band-limited:
// no edge falls between samples, and what is higher than half their rate does not come through; a
// steady level is silent. Goes on from one stretch to the next: keeps where
// the filters stand.
class AudioRenderer {
 public:
  // `rate`: samples a second.
  explicit AudioRenderer(int rate) : rate_(rate) {}
  int rate() const { return rate_; }
  // From a moment of the trace on; a sample takes that many simulated seconds (1 / rate at real
  // speed). Behind the end of the trace it is silent.
  void render(const Trace& trace, const std::vector<Sounder>& sounders, Nanoseconds from,
              double secondsEach, std::span<float> out);
  void forget() { filters_.clear(); }
  static constexpr std::size_t taps = 32;

 private:
  struct Filter {
    double before = 0, held = 0;          // of what takes the steady part away
    std::array<double, taps> quarters{};  // volts, of quarters of samples; `place`: the oldest
    std::size_t place = 0;
    double last = 0;
    double loud = 0;  // of a buzzer, so that it begins and ends without a click
  };
  int rate_;
  std::vector<Filter> filters_;  // per sounder
};

}  // namespace ignavo
