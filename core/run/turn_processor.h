#pragma once
#include <vector>

#include "run/step_processor.h"

namespace ignavo {

// Runs a program in turns of 250 microseconds: at each, edges are delivered, then each ready lane
// makes one step, in the order of the program. Turns in which nothing can happen are passed over.
class TurnProcessor final : public StepProcessor {
 public:
  explicit TurnProcessor(std::shared_ptr<const CompiledProgram> program);

  std::unique_ptr<Processor> copy() const override;
  Executed execute(PinAccess& pins, Nanoseconds limit) override;
  void pinChanged(int pin, bool high, Nanoseconds now) override;
  void keyChanged(const std::string& key, bool down, Nanoseconds now) override;
  bool sameAs(const Processor& then, Nanoseconds later) const override;
  void adopt(const Processor& before, Nanoseconds now) override;
  Nanoseconds standsUntil(const Processor& then) const override;
  void jump(const Processor& then, Nanoseconds later, std::int64_t times) override;
  // Nanoseconds of work that were counted in the turns it went through itself.
  Nanoseconds work() const { return work_; }

 private:
  void begin(Nanoseconds at) override;
  void choose() override;
  Nanoseconds endOfWait(const Instruction& wait, double seconds, Nanoseconds since) const override;

  // The turn at or after a moment.
  Nanoseconds turnFrom(Nanoseconds moment) const;
  // The one that sees what comes at that moment: the next one may begin late.
  Nanoseconds turnSeeing(Nanoseconds moment) const;
  void beginTurn(PinAccess& pins);
  void endTurn(PinAccess& pins);
  void startLane(Lane& lane, Nanoseconds turn);
  void came(int lane) override;
  void noteWhatCeased();
  bool makeSteps(Lane& lane, PinAccess& pins, Nanoseconds limit, Executed& done);
  Nanoseconds delayOf(const Instruction& i) const;
  static constexpr Nanoseconds aMoment = 60'000;
  static Nanoseconds momentFor(const Instruction& i);
  Nanoseconds busyUntil(std::int64_t more = 0, Nanoseconds moment = aMoment) const;
  std::int64_t keeping(OpCode code) const;
  std::int64_t toBegin(const Instruction& i, const Lane& lane) const;
  static bool leaps(Nanoseconds from, Nanoseconds to) {
    return to - from > turnsThatWavesFollow * turnNanoseconds;
  }
  std::int64_t cyclesNow(const Instruction& i, const Lane& lane) const;
  static std::int64_t levelEnds(const CompiledWave& wave, std::int64_t turn);
  bool sleeps(const Lane& lane) const { return !lane.over && !lane.idle && lane.wake > earliest_; }
  bool isReady(const Lane& lane) const { return !lane.over && !lane.idle && lane.wake <= turn_; }

  std::vector<Lane> signals_;       // what is worked out once a turn
  std::vector<Nanoseconds> every_;  // per lane: when the clock starts it; `never`
  // A pin that starts lanes.
  struct Watched {
    int pin;
    signed char was;        // at the turn before; -1: there was none
    bool high;              // now
    Nanoseconds since = 0;  // it was seen to be; may be just behind the moment at which it is
  };
  std::vector<Watched> watched_;
  // A test that starts a lane.
  struct Tested {
    int lane;
    int cell;  // of its value
    bool was;  // at the turn before
  };
  std::vector<Tested> tested_;
  std::vector<std::uint8_t> struck_;  // the program's keys that were struck since the last turn
  bool asksTime_ = false;             // never comes back to where it was
  std::int64_t beginning_ = 0;        // cycles of a turn in which nothing is done
  bool goesOn_ = false;               // the turns of an earlier version go on
  Nanoseconds began_ = 0;             // the first turn
  Nanoseconds next_ = 0;              // that has something to do; `never`
  Nanoseconds earliest_ = 0;          // the next one of all
  Nanoseconds late_ = 0;              // when the work of the last one is done
  int waiting_ = 0;                   // letters that have no room in the line
  Nanoseconds heard_ = 0;             // the one after a pin changed last
  int signal_ = -1, lane_ = -1;       // that has its say in this turn; no lane: none goes on
  Nanoseconds now_ = 0;               // in the turn: measuring takes its time
  std::int64_t worked_ = 0;           // cycles, beside measuring
  std::vector<int> missed_;           // lanes that were started in vain in this turn
  std::int64_t spared_ = 0;           // of them, for what stood so already
  Nanoseconds work_ = 0;              // of all turns
  bool counted_ = false;              // who is ready in it
  bool cameRound_ = false;            // a loop began anew in this turn
  bool leapt_ = false;                // waves cannot follow it from the turn before
};

}  // namespace ignavo
