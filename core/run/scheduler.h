#pragma once
#include <optional>

#include "run/run.h"

namespace ignavo {

// Lets a run go on: whichever device is due first acts, again and again. Knows no kinds of devices.
//
// Rounds of one device are jumped over. Where it did nothing but look since its last loop head, and
// stands as it did there, it does so again until another is due: that is found without looking at
// any other.
//
// Periods of all are jumped over. Where a device says that it came round (a loop's head, a period
// that begins) and nothing more is due at that moment, everything is compared with how it stood at
// an earlier loop head. If it stands as it did then, what happened in between happens again and
// again until something from outside comes: whole periods are added to the trace, and all times
// move. Which earlier loop head to compare with is chosen as Brent does to find cycles (1980): the
// 1st, 2nd, 4th, 8th, … so that a period of any number of rounds is found.
//
// Where that is not found (a motor runs up beside a quick loop), only those devices are compared
// that did anything in between. If they stand as they did, they go round until the first of the
// others is due, provided that they have read nothing of those that was on its way.
class Scheduler {
 public:
  enum class Stop { atEnd, atStep, atEvent };
  // All that is due by `until` happens: done. Or only what comes up to the end of a step or the
  // next event: stopped. Or only so many `acts`: paused, to be gone on with. Periods are jumped
  // over up to `horizon`, when something comes from outside.
  enum class Outcome { done, stopped, paused };
  Outcome run(Run& run, Nanoseconds until, Nanoseconds horizon, Stop stop, std::int64_t acts);
  // Something came from outside.
  void forget();

  void allowSkipping(bool allow) { maySkip_ = allow; }
  bool skips() const { return maySkip_; }
  // How many periods were jumped over, rounds of one device among them.
  std::int64_t skipped() const { return skipped_; }

 private:
  // Of a device that did nothing but look since its last loop head. A copy is made of it where many
  // rounds may lie ahead, and compared at the next; the more often in vain, the more are left out.
  void onQuietLoopHead(Run& run, int place);
  void onLoopHead(Run& run, Nanoseconds horizon);
  // Where everything stands as in the cycle snapshot (`aside`: all that acted since), how far the
  // cycle goes on by itself: to `horizon`, or to the first moment of what stood aside.
  std::optional<Nanoseconds> repeatsUntil(const Run& run, Nanoseconds horizon, bool aside);
  bool stoodAside(const RunState& now, int place) const;

  bool maySkip_ = true;
  std::int64_t skipped_ = 0;
  // At an earlier loop head, while it is worth comparing with.
  RunState cycleSnapshot_;
  bool compares_ = false;
  // Loop heads since the last jump or input, or noise; below 0 some are left out, the more the
  // more often noise made a copy worthless.
  std::int64_t loopHeads_ = 0, afterNoise_ = 0;
  std::int64_t inVain_ = 0;  // since the last input, or jump of everything
  int differed_ = 0;         // the place that was not as before, when last compared

  // A device at its last loop head, while nothing has come of what it did since.
  struct Looking {
    int place = -1;  // -1: none is
    Nanoseconds at = 0;
    std::shared_ptr<const Device> then;  // null where it was not worth a copy
  };
  Looking looking_;
  int rest_ = 0, rests_ = 1;  // loop heads to leave out; after the next comparison in vain
};

}  // namespace ignavo
