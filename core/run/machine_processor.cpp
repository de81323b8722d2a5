#include "run/machine_processor.h"

#include <algorithm>
#include <cassert>
#include <numeric>

#include "program/said.h"

// The chip runs from one thing that others see or make to the next. Its cycles are moments from the
// start on; what it reads at the beginning of an instruction counts as read when the processor is
// asked to do it, at the earliest.
//
// Where other boards run beside it, each could only ever do what is over before any other does the
// next thing: one instruction at a time. So it looks ahead: a copy of the chip goes on for as long
// as it keeps to itself, and the processor is due where that ends. If a pin changes before, the
// copy is thrown away and the chip goes from where it stood to that moment: nothing comes of having
// looked, but that chips take turns far less often.
namespace ignavo {

namespace {

constexpr std::int64_t oneSecond = 1'000'000'000;
constexpr Nanoseconds heardEvery = 4'000;       // a letter of a key, where there is room for it
constexpr avr::Cycle longestStart = 1'000'000;  // cycles up to main
// Rounds that are looked at one by one, and then how many cycles lie between two that are.
constexpr std::int64_t roundsEach = 256;
constexpr avr::Cycle between = 8192;
// How far it looks ahead: farther each time that it was worth it.
constexpr avr::Cycle shortestReach = 64, longestReach = 16384;

PinDrive driveOf(avr::Drive drive) {
  switch (drive) {
    case avr::Drive::input:
      return PinDrive::input;
    case avr::Drive::pullUp:
      return PinDrive::pullUp;
    case avr::Drive::low:
      return PinDrive::low;
    case avr::Drive::high:
      return PinDrive::high;
  }
  return PinDrive::input;
}

}  // namespace

const std::string& ChipProgram::stepAt(std::uint32_t address) const {
  static const std::string none;
  const auto after = std::upper_bound(steps.begin(), steps.end(), address,
                                      [](std::uint32_t a, const Stretch& s) { return a < s.from; });
  return after == steps.begin() ? none : std::prev(after)->step;
}

// The pins of a chip, in the processor's time.
class MachineProcessor::Surroundings final : public avr::Outside {
 public:
  Surroundings(MachineProcessor& processor, PinAccess& pins) : own_(processor), pins_(pins) {}

  void drive(int pin, avr::Drive drive, avr::Cycle at) override {
    pins_.drive(pin, driveOf(drive), own_.moment(at));
    own_.machine_.stop();  // others may follow from it
    acted_ = true;
  }
  std::uint8_t levels(int port, std::uint8_t asked, avr::Cycle at) override {
    unsigned out = 0;
    for (int b = 0; b < avr::pinsPerPort; ++b) {
      if ((asked >> b & 1) == 0) continue;
      const int pin = avr::pinAt(port, b);
      const bool high = own_.fresh_ ? pins_.seenPin(pin) : pins_.readPin(pin, own_.moment(at));
      out |= high ? 1U << b : 0U;
    }
    return static_cast<std::uint8_t>(out);
  }
  int measure(int pin, avr::Cycle at) override { return pins_.readLevel(pin, own_.moment(at)); }
  void sent(std::uint8_t byte, avr::Cycle at) override {
    if (byte != '\n') {
      constexpr std::size_t longest = 400;
      if (own_.line_.size() < longest) own_.line_ += static_cast<char>(byte);
      return;
    }
    if (const auto read = readWireLine(own_.line_)) {
      SaidLine line;
      line.at = own_.moment(at);
      line.note = read->note;
      line.number = read->number;
      line.seconds = read->seconds;
      line.text = read->text;
      const auto place = static_cast<std::size_t>(read->number) - 1;
      if (place < own_.program_->says.size()) line.step = own_.program_->says[place];
      pins_.heard(line, line.at);
    }
    own_.line_.clear();
  }
  bool acted() const { return acted_; }

 private:
  MachineProcessor& own_;
  PinAccess& pins_;
  bool acted_ = false;
};

MachineProcessor::MachineProcessor(std::shared_ptr<const ChipProgram> program, std::int64_t hertz)
    : program_(std::move(program)),
      flash_(std::make_shared<const avr::Flash>(*avr::chipNamed(program_->chip), program_->bytes)),
      machine_(*avr::chipNamed(program_->chip), flash_, hertz) {
  const std::int64_t common = std::gcd(hertz, oneSecond);
  unitCycles_ = hertz / common;
  unitNanoseconds_ = oneSecond / common;
}

std::unique_ptr<Processor> MachineProcessor::copy() const {
  return std::make_unique<MachineProcessor>(*this);
}

Nanoseconds MachineProcessor::moment(avr::Cycle cycle) const {
  const avr::Cycle passed = cycle - base_;
  return start_ + passed / unitCycles_ * unitNanoseconds_ +
         passed % unitCycles_ * unitNanoseconds_ / unitCycles_;
}

// The last cycle that is over by then.
avr::Cycle MachineProcessor::lastBy(Nanoseconds moment) const {
  if (moment == never) return avr::never / 2;
  const Nanoseconds passed = moment - start_;
  // Moments are told rounded down.
  const Nanoseconds rest = passed % unitNanoseconds_;
  const avr::Cycle more = ((rest + 1) * unitCycles_ - 1) / unitNanoseconds_;
  return base_ + passed / unitNanoseconds_ * unitCycles_ + std::min(more, unitCycles_ - 1);
}

void MachineProcessor::start(Nanoseconds at) {
  machine_ = avr::Machine(machine_.chip(), flash_, machine_.hertz());
  start_ = at;
  base_ = 0;
  fresh_ = true;
  coming_.clear();
  line_.clear();
  ahead_.reset();
  reach_ = shortestReach;
  rounds_ = 0;
  watchesFrom_ = 0;
}

// The same code goes on; other code begins.
void MachineProcessor::adopt(const Processor& before, Nanoseconds now) {
  const auto* was = dynamic_cast<const MachineProcessor*>(&before);
  if (was && was->program_ == program_)
    *this = *was;
  else
    start(now);
}

// Registers as after power-on; what comes before `main` takes no time.
void MachineProcessor::powerUp(PinAccess& pins) {
  Surroundings outside(*this, pins);
  machine_.reset(outside);
  if (program_->freeFrom != 0) machine_.keepStackAbove(program_->freeFrom);
  const avr::Cycle from = machine_.now();
  while (machine_.counter() != program_->begins && machine_.now() < from + longestStart &&
         machine_.nextTime() != avr::never) {
    base_ = machine_.nextTime();
    machine_.run(outside, machine_.nextTime());
  }
  base_ = machine_.now();
  fresh_ = false;
}

Nanoseconds MachineProcessor::nextTime() const {
  if (fresh_) return start_;
  const avr::Cycle next = !ahead_               ? machine_.nextTime()
                          : ahead_->cameRound() ? ahead_->now()
                                                : ahead_->nextTime();
  Nanoseconds at = next == avr::never ? never : moment(next);
  if (!coming_.empty() && machine_.fault().code == avr::Fault::Code::none)
    at = std::min(at, coming_.front().at);
  return at;
}

Processor::Executed MachineProcessor::execute(PinAccess& pins, Nanoseconds limit) {
  Executed done{nextTime()};
  if (fresh_) {
    powerUp(pins);
    return done;
  }
  Surroundings outside(*this, pins);
  // What is due now is done, even where something else is due at the same moment.
  limit = std::max(limit, done.at);
  const std::string& before = program_->stepAt(machine_.counter());
  if (ahead_) {
    machine_ = *ahead_;
    ahead_.reset();
    reach_ = std::min(2 * reach_, longestReach);
    done.atLoopHead = endRound(machine_.cameRound());
    done.step = &before != &program_->stepAt(machine_.counter());
    if (done.atLoopHead) return done;
  }
  const Nanoseconds until =
      coming_.empty() ? limit : std::min(limit, std::max(coming_.front().at, done.at));
  const avr::Cycle last = lastBy(until);
  const bool watches = machine_.now() >= watchesFrom_;
  machine_.run(outside, last, watches);
  if (!coming_.empty() && coming_.front().at <= until) {
    if (machine_.hasRoom()) {
      machine_.receive(outside, coming_.front().byte,
                       std::max(machine_.now(), lastBy(coming_.front().at)));
      coming_.pop_front();
    } else {
      const Nanoseconds later = until + heardEvery - coming_.front().at;
      for (Letter& letter : coming_) letter.at += later;
    }
  }
  done.at = std::clamp(moment(machine_.now()), done.at, limit);
  done.step = &before != &program_->stepAt(machine_.counter());
  done.atLoopHead = endRound(watches && machine_.cameRound());
  if (!done.atLoopHead && coming_.empty() && machine_.nextTime() > last)
    lookAhead(pins.mayLookAheadUntil);
  return done;
}

// Counts them, and looks at fewer where there are many.
bool MachineProcessor::endRound(bool cameRound) {
  if (cameRound && ++rounds_ > roundsEach) watchesFrom_ = machine_.now() + between;
  return cameRound;
}

void MachineProcessor::lookAhead(Nanoseconds until) {
  const avr::Cycle last = std::min(lastBy(until), machine_.now() + reach_);
  if (machine_.nextTime() > last) return;
  ahead_ = machine_;
  ahead_->runAlone(last, machine_.now() >= watchesFrom_);
}

namespace {
// Nothing outside is asked or changed when a pin only changed.
class Nothing final : public avr::Outside {
 public:
  void drive(int, avr::Drive, avr::Cycle) override { assert(!"nothing was due"); }
  std::uint8_t levels(int, std::uint8_t, avr::Cycle) override { return 0; }
  int measure(int, avr::Cycle) override { return 0; }
  void sent(std::uint8_t, avr::Cycle) override { assert(!"nothing was due"); }
};
}  // namespace

void MachineProcessor::forgetBeyond(Nanoseconds done) {
  if (!ahead_) return;
  ahead_.reset();
  reach_ = shortestReach;
  machine_.runAlone(lastBy(done));
}

// As it stands at a moment before it is due.
avr::Machine MachineProcessor::standing(Nanoseconds now) const {
  if (!ahead_) return machine_;
  const avr::Cycle by = lastBy(now);
  if (ahead_->now() <= by) return *ahead_;
  avr::Machine out = machine_;
  out.runAlone(by);
  return out;
}

void MachineProcessor::pinChanged(int pin, bool high, Nanoseconds now) {
  assert(!ahead_);
  rounds_ = 0;
  watchesFrom_ = 0;
  if (fresh_) return;  // it looks when it begins
  // Before what is due at the same cycle: that is for the processor's own turn.
  const avr::Cycle next = machine_.nextTime();
  const avr::Cycle last = next == avr::never ? next : next - 1;
  Nothing outside;
  machine_.pinChanged(outside, pin, high, std::max(machine_.now(), std::min(last, lastBy(now))));
}

// As it comes over the line, but at once, as in the run by steps: as fast as a chip can hear.
void MachineProcessor::keyChanged(const std::string& key, bool down, Nanoseconds now) {
  forgetBeyond(now - 1);
  rounds_ = 0;
  watchesFrom_ = 0;
  Nanoseconds at = coming_.empty() ? now : std::max(now, coming_.back().at);
  for (const char c : (down ? "+" : "-") + key + "\n") {
    at += heardEvery;
    coming_.push_back({at, static_cast<std::uint8_t>(c)});
  }
}

bool MachineProcessor::sameAs(const Processor& then, Nanoseconds later) const {
  const auto& o = static_cast<const MachineProcessor&>(then);
  if (fresh_ || o.fresh_ || !coming_.empty() || !o.coming_.empty() || line_ != o.line_ ||
      start_ != o.start_ || base_ != o.base_)
    return false;
  const avr::Cycle cycles = machine_.now() - o.machine_.now();
  return cycles % unitCycles_ == 0 && cycles / unitCycles_ * unitNanoseconds_ == later &&
         machine_.sameAs(o.machine_, cycles);
}

void MachineProcessor::jump(const Processor&, Nanoseconds later, std::int64_t times) {
  const avr::Cycle cycles = later / unitNanoseconds_ * unitCycles_ * times;
  machine_.shift(cycles);
  if (ahead_) ahead_->shift(cycles);
  rounds_ = 0;
  watchesFrom_ = 0;
}

// Where the counter stands in a function that several steps use: the innermost step that called it.
// What is on the stack is an address to return to where a call stands in front of it.
const std::string& MachineProcessor::stepOf(const avr::Machine& machine) const {
  const std::string& here = program_->stepAt(machine.counter());
  if (!here.empty() || program_->steps.empty()) return here;
  const unsigned last = machine.chip().ramEnd;
  for (unsigned at = machine.stackPointer() + 1U; at < last; ++at) {
    const std::uint32_t back =
        static_cast<std::uint32_t>(machine.memoryAt(static_cast<avr::Address>(at)) << 8 |
                                   machine.memoryAt(static_cast<avr::Address>(at + 1)));
    if (back == 0 || !flash_->isCallBefore(back)) continue;
    const std::string& step = program_->stepAt(back * 2 - 1);
    if (!step.empty()) return step;
  }
  return here;
}

void MachineProcessor::show(PinAccess&, Nanoseconds now, bool running, ProcessorView& out) const {
  const avr::Machine machine = standing(now);
  const auto cell = [&](std::uint16_t at, int bytes) {
    std::uint32_t value = 0;
    for (int k = bytes; k-- > 0;)
      value = value << 8 | machine.memoryAt(static_cast<avr::Address>(at + k));
    return value;
  };
  for (const ChipProgram::Variable& v : program_->variables) {
    VariableView view;
    view.name = v.name;
    view.item = v.item;
    view.type = v.type;
    const int bytes = v.type == ValueType::truth ? 1 : v.type == ValueType::text ? 2 : 4;
    const Cell held{running ? cell(v.at, bytes) : 0};
    view.number = number(held, v.type);
    if (v.type == ValueType::text && held.bits < program_->texts.size())
      view.text = program_->texts[held.bits];
    out.variables.push_back(std::move(view));
  }
  for (const ChipProgram::Lane& lane : program_->lanes) {
    LaneView view;
    view.id = lane.id;
    if (running && lane.line == 0) {
      view.step = stepOf(machine);
    } else if (running && machine.memoryAt(lane.runs) != 0) {
      const std::uint32_t line = cell(lane.line, 2);
      if (line < program_->stepOfLine.size()) view.step = program_->stepOfLine[line];
    }
    out.lanes.push_back(std::move(view));
  }
  const avr::Fault& fault = machine.fault();
  if (fault.code == avr::Fault::Code::none) return;
  ProgramFault told;
  told.what = NumberFault::none;
  told.at = moment(fault.at);
  told.step = program_->stepAt(fault.address);
  told.chip = fault;
  out.faults.push_back(std::move(told));
}

}  // namespace ignavo
