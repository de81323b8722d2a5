#pragma once
#include <vector>

#include "program/pulses.h"
#include "run/device.h"

namespace ignavo {

// Tones and servo pulses of a board: a timer of it makes their edges, beside the program.
class PulseTrains final : public DeviceOf<PulseTrains> {
 public:
  PulseTrains() = default;

  // Power came on: nothing sounds, ticks count from now.
  void start(Nanoseconds now);
  // The pin sounds from now on. Where it does already it goes on from its last edge; the same tone
  // goes on as it is. Where it begins now, it does with a rise. Its edges are counted from the
  // beginning of the turn, also where that is long ago.
  enum class Becomes : std::uint8_t { same, other, begins };
  Becomes sound(int pin, PulseTrain tone, Nanoseconds turn, Nanoseconds now);
  // Pulses for a servo; where there are some already the next one is the first of that width.
  Becomes turn(int pin, PulseTrain pulses, Nanoseconds turn, Nanoseconds now);
  void release(int pin);  // no edges of its own any more
  bool has(int pin) const;
  // How many edges those that there are now make after `from`, up to `until`.
  std::int64_t edges(Nanoseconds from, Nanoseconds until) const;
  // What those of tones take of a turn (program/turn_work.h), in microseconds.
  int load(int microsecondsOfEdge) const;
  // The project was edited: pins have other numbers now (-1: gone).
  void renumber(const std::vector<int>& places);

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const PulseTrains& then, Nanoseconds later) const;
  void skip(const PulseTrains& then, Nanoseconds later, std::int64_t times);

 private:
  // Times in 256ths of ticks since power-on.
  struct Train {
    int pin;
    bool servo = false;
    bool high = true;
    std::int64_t rise = 0;    // when the last pulse began
    PulseTrain now, next;     // of this pulse, and of those after it
    Nanoseconds due = never;  // of its next edge
  };
  void settle(Train& train, Nanoseconds earliest) const;
  Train* find(int pin);
  Becomes begin(int pin, PulseTrain train, bool servo, Nanoseconds turn, Nanoseconds now);

  Nanoseconds began_ = 0;
  std::vector<Train> trains_;  // by pin
};

}  // namespace ignavo
