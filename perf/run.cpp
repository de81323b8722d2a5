// The run's figures: how fast programs go against their circuits, what a copy of a run's state
// costs, and how long it takes to look at a moment of the past.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <fstream>
#include <random>

#include "demos.h"
#include "format/project_file.h"
#include "run/by_hand.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

namespace {

using namespace ignavo;
using namespace ignavo::test;
using Clock = std::chrono::steady_clock;

double secondsOf(Clock::duration d) { return std::chrono::duration<double>(d).count(); }

void runAgainstRealTime(benchmark::State& state, const Project& project, double simulated,
                        bool skipping) {
  const auto p = shared(project);
  double total = 0;
  for (auto _ : state) {
    Kernel kernel(p);
    kernel.allowSkipping(skipping);
    kernel.advance(static_cast<Nanoseconds>(simulated * 1e9));
    benchmark::DoNotOptimize(kernel.trace().end());
    total += simulated;
  }
  state.counters["times_real_time"] = benchmark::Counter(total, benchmark::Counter::kIsRate);
}

void blinkSkipping(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program(blink), 1e6, true);
}
void blinkEveryEdge(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program(blink), 2000, false);
}
void noWaits(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program("set d4 high\nset d4 low\n"), 1000, true);
}
// A motor on PWM of 977 Hz through a transistor, with its diode: two edges in each period, and its
// way between them.
void dimmedMotor(benchmark::State& state) { runAgainstRealTime(state, winch(dimmed), 2, false); }

// In turns: something in every one of them.
void inTurns(benchmark::State& state) {
  Bench b = beacon()
                .lane("always", "flip d4\nwait 0.05")
                .lane("always", "wait until d2 is high\nset d13 high")
                .lane("Every 0.1", "flip d12");
  runAgainstRealTime(state, b, 20, false);
}
// A signal lane of five operators, a turn of it, over a step of a plain program.
void signalOverStep(benchmark::State& state) {
  // D2 is pulled up: what floats would cost its noise besides.
  const auto signal = shared(beacon().pullUp("D2").lane(
      "Keep D4 at flips on ((rise of (D2 steady for 0.02)) at most every 0.2) and (D2 held for 1)",
      ""));
  const auto steps = shared(beacon().program("set d4 high\nset d4 low\n"));
  const auto took = [](const std::shared_ptr<const Project>& project, Nanoseconds until) {
    const auto began = Clock::now();
    Kernel kernel(project);
    kernel.allowSkipping(false);
    kernel.advance(until);
    return secondsOf(Clock::now() - began);
  };
  std::vector<double> ratios;
  for (auto _ : state) {
    // 400,000 turns, and as many steps: two to a round of 375 ns.
    const double turns = took(signal, 100 * second), plain = took(steps, 400'000 / 2 * 375);
    ratios.push_back(turns / plain);
  }
  std::sort(ratios.begin(), ratios.end());
  state.counters["ratio"] = ratios[ratios.size() / 2];
}

// A lamp's pin set high and low again, every edge of it simulated, solved and recorded.
void setSteps(benchmark::State& state) {
  const auto p = shared(beacon().program("set d4 high\nset d4 low\n"));
  double steps = 0;
  for (auto _ : state) {
    Kernel kernel(p);
    kernel.allowSkipping(false);
    kernel.advance(second);
    for (const auto& [id, count] : kernel.snapshot().stepCounts)
      steps += static_cast<double>(count);
  }
  state.counters["steps_a_second"] = benchmark::Counter(steps, benchmark::Counter::kIsRate);
}

// A motor that runs up, with its transistor and diode, and 18 lamps with their resistors between
// the rails: 40 parts.
Project panelWithMotor() {
  Bench bench = winch("set d9 high\nwait 1\nset d9 low\nwait 1\n");
  bench.wire("g20", "lp1").wire("GND3", "ln1");
  for (int i = 0; i < 18; ++i) {
    const std::string row = std::to_string(22 + i % 9), k = std::to_string(i + 2);
    const bool left = i < 9;
    bench.resistor("rl" + k, 1000, "lp" + k, (left ? "a" : "f") + row);
    bench.led("led" + k, (left ? "b" : "g") + row, "ln" + k);
  }
  return bench;
}

void copyOfState(benchmark::State& state) {
  const Project p = panelWithMotor();
  Kernel kernel(shared(p));
  kernel.advance(30'000'000);  // the motor runs up
  double copies = 0, spent = 0;
  for (auto _ : state) {
    const auto begin = Clock::now();
    for (int i = 0; i < 200; ++i) {
      RunState copy = kernel.state();
      benchmark::DoNotOptimize(copy.now);
    }
    spent += secondsOf(Clock::now() - begin);
    copies += 200;
  }
  state.counters["parts"] = static_cast<double>(p.parts->size());
  state.counters["microseconds"] = spent / copies * 1e6;
}

// Ten minutes of Berth signals, the button pressed now and then; any moment of it.
void lookingBack(benchmark::State& state) {
  Kernel kernel(shared(readProject(demo("berth-signals")->text).project));
  for (int k = 0; k < 120; ++k) {
    const double t = 1 + 5 * k;
    kernel.schedule(at(t, Input::What::press, "btn1"));
    kernel.schedule(at(t + 0.3 + 0.02 * k, Input::What::release, "btn1"));
  }
  kernel.advance(600 * second);
  std::mt19937 random(7);
  double longest = 0;
  for (auto _ : state) {
    const auto moment = std::uniform_int_distribution<Nanoseconds>(0, 600 * second)(random);
    const auto begin = Clock::now();
    benchmark::DoNotOptimize(kernel.lookBack(moment).now);
    longest = std::max(longest, secondsOf(Clock::now() - begin));
  }
  state.counters["longest_in_60_Hz_frames"] = longest * 60;
}

// A minute of each demo, its buttons pressed every two seconds, made anew after a change: the
// slowest of them, until the trace has what all pins do, and until all of it is there.
void turningThePast(benchmark::State& state) {
  double slowest = 0, whole = 0;
  for (auto _ : state)
    for (const Demo& demo : demos()) {
      const auto project = shared(readProject(demo.text).project);
      Kernel kernel(project);
      for (const auto& part : *project->parts)
        for (int n = 0; part->type == "button" && n < 60; ++n)
          kernel.schedule(at(n + 0.3, n % 2 ? Input::What::release : Input::What::press, part->id));
      kernel.advance(60 * second);
      const RunRecord record = kernel.record();
      Project changed = *project;
      changed.parts.edit()[0].edit().setProp("name", std::string("another"));
      const auto begin = Clock::now();
      const auto first = shared(asAtPowerOn(changed, *record.project));
      const auto ran = [&](bool sketch) {
        RunSetup setup;
        setup.sketch = sketch;
        Kernel again(first, setup);
        if (sketch && !again.leavesOut()) return false;
        for (Input& input : doneByHand(record)) again.schedule(std::move(input));
        again.advance(record.now);
        return true;
      };
      const bool sketched = ran(true);
      const double pins = secondsOf(Clock::now() - begin);
      (void)ran(false);
      const double all = secondsOf(Clock::now() - begin), seconds = sketched ? pins : all;
      if (seconds > slowest) state.SetLabel(demo.name);
      slowest = std::max(slowest, seconds);
      whole = std::max(whole, all);
    }
  state.counters["slowest_in_100_ms"] = slowest * 10;
  state.counters["with_motors_in_100_ms"] = whole * 10;
}

long residentKilobytes() {
  std::ifstream in("/proc/self/status");
  std::string word;
  long kilobytes = 0;
  while (in >> word)
    if (word == "VmRSS:") in >> kilobytes;
  return kilobytes;
}

// A day of each demo that nobody touches: the slowest, and what the last 23 hours took of memory.
void aDay(benchmark::State& state) {
  double slowest = 0;
  long most = 0;
  for (auto _ : state)
    for (const Demo& demo : demos()) {
      Kernel kernel(shared(readProject(demo.text).project));
      const auto begin = Clock::now();
      kernel.advance(3600 * second);
      const long before = residentKilobytes();
      kernel.advance(24 * 3600 * second);
      most = std::max(most, residentKilobytes() - before);
      const double seconds = secondsOf(Clock::now() - begin);
      if (seconds > slowest) state.SetLabel(demo.name);
      slowest = std::max(slowest, seconds);
    }
  state.counters["slowest_in_10_s"] = slowest / 10;
  state.counters["more_megabytes"] = static_cast<double>(most) / 1024;
}

// A level that changes ten times a second, until the trace is full: what the window is handed sixty
// times a second while it goes on, and a look at a moment in the middle of it.
void longTrace(benchmark::State& state) {
  Kernel kernel(shared(beacon()
                           .resistor("r2", 220, "f5", "f10")
                           .led("led2", "g10", "g12")
                           .wire("D3", "h5")
                           .wire("GND", "h12")
                           .program("set level of d3 to 30 %\nwait 0.1\n"
                                    "set level of d3 to 60 %\nwait 0.1\n")));
  kernel.advance(24 * 3600 * second);
  const Nanoseconds middle = (kernel.trace().begin() + kernel.now()) / 2;
  double copies = 0, looks = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    { const Trace copy = kernel.trace(); }
    copies = std::max(copies, secondsOf(Clock::now() - begin));
    begin = Clock::now();
    benchmark::DoNotOptimize(kernel.lookBack(middle).now);
    looks = std::max(looks, secondsOf(Clock::now() - begin));
  }
  state.counters["copied_in_60_Hz_frames"] = copies * 60;
  state.counters["looked_back_in_60_Hz_frames"] = looks * 60;
  state.counters["hours"] = inSeconds(kernel.now() - kernel.trace().begin()) / 3600;
}

// Random edges, so that nothing repeats: bytes for each.
void bytesAnEdge(benchmark::State& state) {
  double bytes = 0;
  for (auto _ : state) {
    std::vector<Signal> signals;
    for (int s = 0; s < 20; ++s)
      signals.push_back({Signal::What::pinLevel, "b1", "D" + std::to_string(s)});
    std::mt19937 random(5);
    const long before = residentKilobytes();
    Trace trace(std::move(signals));
    Nanoseconds now = 0;
    for (int i = 0; i < 8'000'000; ++i)
      trace.record(static_cast<int>(random() % 20), now += 1 + random() % 5000,
                   static_cast<float>(random() % 2));
    bytes = static_cast<double>(residentKilobytes() - before) * 1024 /
            static_cast<double>(trace.storedEdges());
  }
  state.counters["bytes"] = bytes;
}

BENCHMARK(aDay)->Name("a day of each demo (at most 10 s each)")->Iterations(1);
BENCHMARK(bytesAnEdge)->Name("a trace, for each edge (at most 16 bytes)")->Iterations(1);
BENCHMARK(longTrace)
    ->Name("a long trace handed over, looked back in (at most 1 frame)")
    ->Iterations(20);
BENCHMARK(turningThePast)->Name("a minute of the past turned (at most 100 ms)")->Iterations(3);
BENCHMARK(blinkSkipping)->Name("blink: times real time")->MinTime(0.3);
BENCHMARK(blinkEveryEdge)->Name("blink, every edge simulated")->MinTime(0.3);
BENCHMARK(noWaits)->Name("a pin without waits: times real time")->MinTime(0.3);
BENCHMARK(inTurns)
    ->Name("in turns, something in each: times real time (at least 500)")
    ->MinTime(0.5);
BENCHMARK(signalOverStep)
    ->Name("a signal lane of five operators, a turn of it over a step (at most 5)")
    ->Iterations(5);
BENCHMARK(setSteps)->Name("set steps, circuit and trace (at least 8M a second)")->MinTime(0.5);
BENCHMARK(copyOfState)->Name("copy of a run's state (at most 20 microseconds)")->MinTime(0.3);
BENCHMARK(lookingBack)->Name("looking back at ten minutes (at most 1 frame)")->MinTime(0.5);
BENCHMARK(dimmedMotor)
    ->Name("motor on PWM through a transistor: times real time (at least 20)")
    ->MinTime(0.5);

}  // namespace
