#pragma once
#include <cmath>
#include <memory>
#include <string>
#include <vector>

#include "avr/hex.h"
#include "avr/machine.h"
#include "make/chip_program.h"
#include "make/firmware.h"
#include "program/compiled.h"
#include "program/costs.h"
#include "program/said.h"
#include "run/model.h"
#include "run/step_processor.h"
#include "run/turn_processor.h"
#include "support/build.h"

// What steps, getters and operators really take: a program of each is compiled, run on the chip's
// core, and what it works there is set beside what the step simulator counts for the same program.
//
// A row of the cost table is measured by two programs that differ in what it is the cost of. In
// turns the work of a second is what the chip is awake; a program that runs freely flips D8 once a
// round, and the work is that of a round. The row is then so much more or less as the difference
// of both programs is on the chip more or less than the table says. Rows that others build on come
// first.
namespace ignavo::test {

struct CostRow {
  std::string name;                      // as the table calls it
  std::vector<int CostTable::*> fields;  // empty: of an operator
  std::string op;
  bool real = false;
  bool plain = false;  // measured freely
  // What is less cannot be told: how the compiler arranges what stands around a step makes as much
  // of a difference.
  static constexpr double least = 50;
  struct Program {
    std::vector<std::pair<std::string, std::string>> lanes;
    std::vector<std::string> names;
  } with, without;
};

// Nothing hangs on a chip's pins: they are low, A0 is at a third. Counts how often D8 is driven.
class CountingChip final : public avr::Outside {
 public:
  explicit CountingChip(int counted) : counted_(counted) {}
  void drive(int pin, avr::Drive, avr::Cycle) override { flips += pin == counted_ ? 1 : 0; }
  std::uint8_t levels(int, std::uint8_t, avr::Cycle) override { return 0; }
  int measure(int, avr::Cycle) override { return PinAccess::stages / 3; }
  void sent(std::uint8_t, avr::Cycle) override {}
  std::int64_t flips = 0;

 private:
  int counted_;
};

// The same for the steps.
class NoPins final : public PinAccess {
 public:
  explicit NoPins(const CompiledProgram& program) : program_(program) {}
  bool readPin(int, Nanoseconds) override { return false; }
  int readLevel(int, Nanoseconds) override { return stages / 3; }
  bool setPin(int pin, bool high, Nanoseconds) override { return change(pin, high ? 1 : 0); }
  void flipPin(int pin, Nanoseconds) override {
    flips += program_.pins[static_cast<std::size_t>(pin)] == "D8" ? 1 : 0;
  }
  void setLevel(int, double, Nanoseconds) override {}
  bool sound(int pin, float hertz, Nanoseconds) override { return change(pin, hertz + 10); }
  void silence(int pin, Nanoseconds) override { (void)change(pin, 0); }
  bool turnServo(int pin, float degrees, Nanoseconds) override {
    return change(pin, -degrees - 10);
  }
  int say(const SaidLine& line, Nanoseconds, Nanoseconds, Nanoseconds) override {
    return static_cast<int>(wireLine(line.note, line.number, line.seconds, line.text).size());
  }
  bool saying(Nanoseconds, Nanoseconds) override { return false; }
  std::int64_t flips = 0;

 private:
  bool change(int pin, float to) {
    float& held = held_[pin];
    return std::exchange(held, to) != to;
  }
  const CompiledProgram& program_;
  std::map<int, float> held_;
};

class CostBench {
 public:
  // Cycles of work on the chip: of a second in turns, of a round where it runs freely.
  double onChip(const CostRow::Program& program, bool plain, ProgramRunner& runner) const {
    const Project project = benchOf(program);
    const Firmware f = buildFirmware(project, "b1", runner);
    if (f.code != Firmware::Code::done) throw std::runtime_error(inWords(sentence(f)) + f.messages);
    const ChipProgram code = chipProgramOf(project, "b1", f);
    const avr::Chip& chip = *avr::chipNamed(code.chip);
    avr::Machine machine(chip, std::make_shared<const avr::Flash>(chip, code.bytes), hertz);
    CountingChip outside(chip.pinNamed("PB0"));
    machine.reset(outside);
    machine.run(outside, begin);
    const std::int64_t before = outside.flips;
    const avr::Cycle slept = machine.slept();
    machine.run(outside, end);
    const avr::Cycle asleep = machine.slept() - slept;
    if (machine.fault().code != avr::Fault::Code::none) throw std::runtime_error("a fault");
    return plain ? static_cast<double>(end - begin) / static_cast<double>(outside.flips - before)
                 : static_cast<double>(end - begin - asleep) / seconds;
  }

  // What the steps count for that.
  double bySteps(const CostRow::Program& program, bool plain, const CostTable& costs) const {
    const Project project = benchOf(program);
    CompileTarget target = targetOf(*catalogue().boardKind("tern"), *project.programs[0], 1);
    target.costs = costs;
    const auto compiled =
        std::make_shared<const CompiledProgram>(compile(*project.programs[0], target));
    const auto processor = stepProcessor(compiled);
    NoPins pins(*compiled);
    processor->start(0);
    const auto goTo = [&](Nanoseconds until) {
      while (processor->nextTime() <= until) (void)processor->execute(pins, until);
    };
    const auto* turns = dynamic_cast<const TurnProcessor*>(processor.get());
    goTo(inNanoseconds(begin));
    const std::int64_t flips = pins.flips;
    const Nanoseconds work = turns ? turns->work() : 0;
    goTo(inNanoseconds(end));
    if (plain) return static_cast<double>(end - begin) / static_cast<double>(pins.flips - flips);
    return static_cast<double>(turns->work() - work) * hertz / 1e9 / seconds;
  }

  // What the row should be for the chip's work to be that of the steps.
  double measured(const CostRow& row, const CostTable& costs, ProgramRunner& runner) const {
    const auto difference = [&](auto work) {
      return work(row.with) - (row.without.lanes.empty() ? 0 : work(row.without));
    };
    const double chip =
        difference([&](const auto& program) { return onChip(program, row.plain, runner); });
    const auto counted = [&](const CostTable& table) {
      return difference([&](const auto& program) { return bySteps(program, row.plain, table); });
    };
    constexpr int nudge = 64;
    const double now = counted(costs), more = counted(changed(row, costs, get(row, costs) + nudge));
    const double each = (more - now) / nudge;  // how often it is done
    if (std::abs(each) < 1e-9) throw std::runtime_error(row.name + " is not done");
    return get(row, costs) + (chip - now) / each;
  }

  static int get(const CostRow& row, const CostTable& costs) {
    if (!row.fields.empty()) return costs.*row.fields.front();
    const CostTable::Operation& o = costs.operations[CostTable::operationNamed(row.op)];
    return row.real ? o.real : o.whole;
  }
  static CostTable changed(const CostRow& row, CostTable costs, int cycles) {
    for (int CostTable::*field : row.fields) costs.*field = cycles;
    if (row.fields.empty()) {
      CostTable::Operation& o = costs.operations[CostTable::operationNamed(row.op)];
      (row.real ? o.real : o.whole) = cycles;
    }
    return costs;
  }

 private:
  static Project benchOf(const CostRow::Program& program) {
    Bench bench;
    for (const std::string& name : program.names) bench.name(name);
    for (const auto& [sign, steps] : program.lanes) bench.lane(sign, steps);
    return bench;
  }
  static constexpr std::int64_t hertz = 16'000'000;
  static constexpr double seconds = 0.5;
  static constexpr avr::Cycle begin = hertz / 20, end = begin + hertz / 2;
  static Nanoseconds inNanoseconds(avr::Cycle cycles) {
    return cycles * 1000 / (hertz / 1'000'000);
  }
};

}  // namespace ignavo::test
