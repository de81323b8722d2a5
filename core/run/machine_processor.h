#pragma once
#include <deque>
#include <memory>
#include <optional>

#include "avr/machine.h"
#include "run/chip_program.h"
#include "run/processor.h"

namespace ignavo {

// Runs a chip's own machine code. Pins are those of the chip, as avr::pinAt() counts them.
class MachineProcessor final : public Processor {
 public:
  MachineProcessor(std::shared_ptr<const ChipProgram> program, std::int64_t hertz);

  std::unique_ptr<Processor> copy() const override;
  void start(Nanoseconds at) override;
  void adopt(const Processor& before, Nanoseconds now) override;
  Nanoseconds nextTime() const override;
  Executed execute(PinAccess& pins, Nanoseconds limit) override;
  void forgetBeyond(Nanoseconds done) override;
  void pinChanged(int pin, bool high, Nanoseconds now) override;
  void keyChanged(const std::string& key, bool down, Nanoseconds now) override;
  bool sameAs(const Processor& then, Nanoseconds later) const override;
  void jump(const Processor& then, Nanoseconds later, std::int64_t times) override;
  void show(PinAccess& pins, Nanoseconds now, bool running, ProcessorView& out) const override;

 private:
  class Surroundings;
  // Moments and cycles: t is 0 at start_, where the chip is at cycle base_.
  Nanoseconds moment(avr::Cycle cycle) const;
  avr::Cycle lastBy(Nanoseconds moment) const;
  void powerUp(PinAccess& pins);
  bool endRound(bool cameRound);
  void lookAhead(Nanoseconds until);
  avr::Machine standing(Nanoseconds now) const;
  const std::string& stepOf(const avr::Machine& machine) const;

  std::shared_ptr<const ChipProgram> program_;
  std::shared_ptr<const avr::Flash> flash_;
  avr::Machine machine_;
  // What it comes to by itself until it asks or changes anything outside, or comes round.
  std::optional<avr::Machine> ahead_;
  avr::Cycle reach_ = 0;                               // how far it may look
  std::int64_t unitCycles_ = 1, unitNanoseconds_ = 1;  // the fewest cycles that take whole ones
  Nanoseconds start_ = 0;
  avr::Cycle base_ = 0;
  bool fresh_ = true;  // power came on, and nothing was done yet
  // What comes over the serial line, and when it is all there.
  struct Letter {
    Nanoseconds at;
    std::uint8_t byte;
  };
  std::deque<Letter> coming_;
  std::string line_;  // that it says
  // Looking at rounds: not at each where it is in vain.
  std::int64_t rounds_ = 0;
  avr::Cycle watchesFrom_ = 0;
};

}  // namespace ignavo
