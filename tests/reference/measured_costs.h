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
  void drive(int pin, avr::Drive, avr::Cycle when) override {
    if (pin != counted_) return;
    ++flips;
    last = when;
  }
  std::uint8_t levels(int, std::uint8_t, avr::Cycle) override { return 0; }
  int measure(int, avr::Cycle) override { return PinAccess::stages / 3; }
  void sent(std::uint8_t, avr::Cycle) override {}
  std::int64_t flips = 0;
  avr::Cycle last = 0;

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
  void flipPin(int pin, Nanoseconds when) override {
    if (program_.pins[static_cast<std::size_t>(pin)] != "D8") return;
    ++flips;
    last = when;
  }
  void setLevel(int, double, Nanoseconds) override {}
  bool sound(int pin, float hertz, Nanoseconds, Nanoseconds) override {
    return change(pin, hertz + 10);
  }
  void silence(int pin, Nanoseconds) override { (void)change(pin, 0); }
  bool turnServo(int pin, float degrees, Nanoseconds, Nanoseconds) override {
    return change(pin, -degrees - 10);
  }
  int say(const SaidLine& line, SayingTime, Nanoseconds) override {
    return static_cast<int>(wireLine(line.note, line.number, line.seconds, line.text).size());
  }
  bool saying(Nanoseconds, Nanoseconds) override { return false; }
  std::int64_t flips = 0;
  Nanoseconds last = 0;

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
    Chip chip(program, runner);
    chip.machine.run(chip.outside, begin);
    const std::int64_t before = chip.outside.flips;
    const avr::Cycle slept = chip.machine.slept();
    chip.machine.run(chip.outside, end);
    const avr::Cycle asleep = chip.machine.slept() - slept;
    if (chip.machine.fault().code != avr::Fault::Code::none) throw std::runtime_error("a fault");
    return plain
               ? static_cast<double>(end - begin) / static_cast<double>(chip.outside.flips - before)
               : static_cast<double>(end - begin - asleep) / seconds;
  }
  // When D8 changes for the last time, in cycles.
  static double lastOnChip(const CostRow::Program& program, ProgramRunner& runner) {
    Chip chip(program, runner);
    chip.machine.run(chip.outside, end);
    return static_cast<double>(chip.outside.last);
  }

  // What the steps count for that.
  double bySteps(const CostRow::Program& program, bool plain, const CostTable& costs) const {
    Steps steps(program, costs);
    steps.goTo(inNanoseconds(begin));
    const std::int64_t flips = steps.pins.flips;
    const auto* turns = dynamic_cast<const TurnProcessor*>(steps.processor.get());
    const Nanoseconds work = turns ? turns->work() : 0;
    steps.goTo(inNanoseconds(end));
    if (plain)
      return static_cast<double>(end - begin) / static_cast<double>(steps.pins.flips - flips);
    return static_cast<double>(turns->work() - work) * hertz / 1e9 / seconds;
  }
  static double lastBySteps(const CostRow::Program& program) {
    Steps steps(program, CostTable());
    steps.goTo(inNanoseconds(end));
    return static_cast<double>(steps.pins.last) * hertz / 1e9;
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
  struct Chip {
    Chip(const CostRow::Program& program, ProgramRunner& runner)
        : code(codeOf(program, runner)),
          kind(*avr::chipNamed(code.chip)),
          machine(kind, std::make_shared<const avr::Flash>(kind, code.bytes), hertz),
          outside(kind.pinNamed("PB0")) {
      machine.reset(outside);
    }
    ChipProgram code;
    const avr::Chip& kind;
    avr::Machine machine;
    CountingChip outside;
  };
  static ChipProgram codeOf(const CostRow::Program& program, ProgramRunner& runner) {
    const Project project = benchOf(program);
    const Firmware f = buildFirmware(project, "b1", runner);
    if (f.code != Firmware::Code::done) throw std::runtime_error(inWords(sentence(f)) + f.messages);
    return chipProgramOf(project, "b1", f);
  }
  struct Steps {
    Steps(const CostRow::Program& program, const CostTable& costs)
        : project(benchOf(program)),
          compiled(compiledWith(*project.programs[0], costs)),
          processor(stepProcessor(compiled)),
          pins(*compiled) {
      processor->start(0);
    }
    static std::shared_ptr<const CompiledProgram> compiledWith(const ignavo::Program& program,
                                                               const CostTable& costs) {
      CompileTarget target = targetOf(*catalogue().boardKind("tern"), program, 1);
      target.costs = costs;
      return std::make_shared<const CompiledProgram>(compile(program, target));
    }
    void goTo(Nanoseconds until) {
      while (processor->nextTime() <= until) (void)processor->execute(pins, until);
    }
    Project project;
    std::shared_ptr<const CompiledProgram> compiled;
    std::unique_ptr<Processor> processor;
    NoPins pins;
  };
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
