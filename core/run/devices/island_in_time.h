#pragma once
#include "parts/island_transient.h"
#include "run/device.h"

namespace ignavo {

// An island of the circuit with capacitors, motors or gates, on its way through time.
class IslandInTime final : public DeviceOf<IslandInTime> {
 public:
  IslandInTime(Circuit& circuit, int island, Nanoseconds now)
      : island_(island), course_(circuit, island), since_(now) {}

  int island() const { return island_; }
  bool settled() const { return course_.settled(); }
  std::map<int, PartMemory> memory() const { return course_.memory(); }
  void recall(const std::map<int, PartMemory>& memory) { course_.recall(memory); }

  // Brings it up to now.
  void catchUp(Nanoseconds now);
  // The circuit stands otherwise from now on, or there is no voltage anywhere any more.
  void change(Run& run);
  void stop() { due_ = never; }
  IslandReading reading(Nanoseconds now) const;
  PinReading pin(std::size_t index, Nanoseconds now) const;

  // When the step under way is to be looked at: its end, or a moment in it.
  Nanoseconds due() const override { return due_; }
  Done act(Run& run) override;
  bool repeats(const IslandInTime& then, Nanoseconds later) const;
  void skip(const IslandInTime& then, Nanoseconds later, std::int64_t times);

 private:
  void plan(Run& run);
  void look(Run& run);
  Nanoseconds end() const;
  bool hasCrossed(const CircuitPin& pin, std::size_t index, bool level, double seconds) const;

  int island_;
  IslandTransient course_;
  Nanoseconds since_ = 0;  // the moment up to which it has come: where the step under way begins
  int looks_ = 1;          // so many times in that step its course is written down
  Nanoseconds due_ = never;
};

}  // namespace ignavo
