#pragma once
#include <cstdint>
#include <memory>

#include "run/time.h"

namespace ignavo {

class Run;

// Something in a run that has a future of its own: a board's processor, contacts that bounce, a
// motor on its way. All that the scheduler knows of it is here. A device is a value: it holds no
// reference to the run, which is handed in wherever it may do something.
class Device {
 public:
  virtual ~Device() = default;
  virtual std::unique_ptr<Device> copy() const = 0;

  // When it does something next if nothing else happens; `never` if nothing.
  virtual Nanoseconds due() const = 0;
  // Does what is due now (run.now() is due()), and what follows from it.
  struct Done {
    bool event = false;  // something that someone who goes from event to event stops at
    bool step = false;   // a program's step was completed
    // It came round, to the head of a loop or the beginning of a period: everything may stand as it
    // did here before.
    bool atLoopHead = false;
    // It only looked at what stands still: nothing came of it but in itself, and all that it saw
    // it sees again.
    bool quiet = false;
  };
  virtual Done act(Run& run) = 0;

  // Will it go on as `then`, the same device earlier, did `later` before? All of its state that
  // decides how it goes on is compared, its times less `later`.
  virtual bool sameAs(const Device& then, Nanoseconds later) const = 0;
  // Times ahead need not move along: what waits for a moment of its own waits through rounds of
  // other things. The first such moment: a jump stays before it. `never`: all move along.
  virtual Nanoseconds standsUntil(const Device& /*then*/) const { return never; }
  // What it did since `then`, `later` before, it did `times` times more: shifts its times but for
  // those that stand, and goes on counting what it counts.
  virtual void jump(const Device& then, Nanoseconds later, std::int64_t times) = 0;

 private:
  friend class Devices;
  int place_ = -1;             // in its list
  std::uint64_t version_ = 0;  // changes with its state
};

// Takes the casts off a kind of device. Self has copyable state, sameAs(const Self&, later) and
// jump(const Self&, later, times).
template <typename Self>
class DeviceOf : public Device {
 public:
  std::unique_ptr<Device> copy() const final {
    return std::make_unique<Self>(static_cast<const Self&>(*this));
  }
  bool sameAs(const Device& then, Nanoseconds later) const final {
    return static_cast<const Self&>(*this).repeats(static_cast<const Self&>(then), later);
  }
  void jump(const Device& then, Nanoseconds later, std::int64_t times) final {
    static_cast<Self&>(*this).skip(static_cast<const Self&>(then), later, times);
  }
};

// A moment that lies ahead, or `never`, moved by a jump.
inline void shift(Nanoseconds& moment, Nanoseconds by) {
  if (moment != never) moment += by;
}
// Is it the same moment, `later` after?
inline bool sameMoment(Nanoseconds now, Nanoseconds then, Nanoseconds later) {
  return then == never ? now == never : now != never && now - later == then;
}

}  // namespace ignavo
