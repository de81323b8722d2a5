// The chip's figures: how fast its core goes against the chip itself, alone and with its circuit,
// awake and asleep; and how long it takes from a program to its firmware running.
#include <benchmark/benchmark.h>

#include <chrono>
#include <stdexcept>

#include "avr/machine.h"
#include "demos.h"
#include "format/project_file.h"
#include "make/chip_program.h"
#include "make/firmware.h"
#include "posix_runner.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

namespace {

using namespace ignavo;
using namespace ignavo::test;
using Clock = std::chrono::steady_clock;

std::shared_ptr<const ChipProgram> compiled(const Project& project) {
  PosixRunner runner;
  const Firmware f = buildFirmware(project, "b1", runner);
  if (f.code != Firmware::Code::done) throw std::runtime_error(inWords(sentence(f)));
  return std::make_shared<const ChipProgram>(chipProgramOf(project, "b1", f));
}

void withCircuit(benchmark::State& state, const Project& project, double simulated) {
  const auto p = shared(project);
  const ChipPrograms code{{"b1", compiled(project)}};
  double total = 0;
  for (auto _ : state) {
    Kernel kernel(p, {code, false});
    kernel.advance(static_cast<Nanoseconds>(simulated * 1e9));
    benchmark::DoNotOptimize(kernel.trace().end());
    total += simulated;
  }
  state.counters["times_real_time"] = benchmark::Counter(total, benchmark::Counter::kIsRate);
}

// Nothing hangs on its pins.
class Nothing final : public avr::Outside {
 public:
  void drive(int, avr::Drive, avr::Cycle) override {}
  std::uint8_t levels(int, std::uint8_t, avr::Cycle) override { return 0; }
  int measure(int, avr::Cycle) override { return 0; }
  void sent(std::uint8_t, avr::Cycle) override {}
};

void alone(benchmark::State& state, const Project& project, double simulated) {
  const auto program = compiled(project);
  const avr::Chip& chip = *avr::chipNamed(program->chip);
  const auto flash = std::make_shared<const avr::Flash>(chip, program->bytes);
  constexpr std::int64_t hertz = 16'000'000;
  double total = 0;
  for (auto _ : state) {
    avr::Machine machine(chip, flash, hertz);
    Nothing outside;
    machine.reset(outside);
    machine.run(outside, static_cast<avr::Cycle>(simulated * hertz));
    total += simulated;
  }
  state.counters["times_real_time"] = benchmark::Counter(total, benchmark::Counter::kIsRate);
}

// Always awake: it counts, looks at a button, works with floats, and now and then the lamp changes.
Project busy() {
  return beacon()
      .pullUp("D2")
      .name("variable count is 0")
      .name("variable mean is 0.5")
      .lane(
          "always",
          "add 1 to count\nlet mean be mean × 0.99 + count × 0.01\nif D2 is low\n  let count be 0\n"
          "if count > 5000\n  flip D4\n  let count be 0\n");
}
// Three lanes that mostly wait.
Project threeLanes() {
  return beacon()
      .pullUp("D2")
      .lane("always", "flip D4\nwait 0.5\n")
      .lane("Each time D2 goes low", "flip D13\n")
      .lane("Every 0.25 s", "flip D12\n");
}

void awakeWithCircuit(benchmark::State& state) { withCircuit(state, busy(), 2); }
void awakeAlone(benchmark::State& state) { alone(state, busy(), 2); }
void asleepWithCircuit(benchmark::State& state) { withCircuit(state, threeLanes(), 20); }
void blinks(benchmark::State& state) { withCircuit(state, beacon().program(blink), 20'000); }

// From a demo's steps to its firmware's first moment.
void compileAndStart(benchmark::State& state) {
  double longest = 0;
  for (auto _ : state)
    for (const Demo& demo : demos()) {
      const auto began = Clock::now();
      const auto project = shared(readProject(demo.text).project);
      Kernel kernel(project, {{{"b1", compiled(*project)}}, false});
      kernel.advance(1'000'000);
      longest = std::max(longest, std::chrono::duration<double>(Clock::now() - began).count());
    }
  state.counters["longest_in_seconds"] = longest;
}

BENCHMARK(awakeAlone)->Name("chip awake, alone: times real time (at least 8)")->MinTime(0.5);
BENCHMARK(awakeWithCircuit)
    ->Name("chip awake, with the beacon's circuit: times real time (at least 4)")
    ->MinTime(0.5);
BENCHMARK(asleepWithCircuit)
    ->Name("chip, three lanes that mostly sleep: times real time (at least 20)")
    ->MinTime(0.5);
BENCHMARK(blinks)->Name("chip, a blink: times real time (at least 1000)")->MinTime(0.3);
BENCHMARK(compileAndStart)->Name("compiling and starting a demo (at most 1 second)")->Iterations(1);

}  // namespace
