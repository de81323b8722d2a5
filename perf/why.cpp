// How long an answer to "why is this dark?" takes: of each demo, at moments of a run of ten minutes
// with presses, of each part that shows something; and where something is wrong with its circuit.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <random>

#include "bench/placing.h"
#include "check/faults.h"
#include "demos.h"
#include "explain/why.h"
#include "format/project_file.h"
#include "project/edits.h"
#include "run/kernel.h"
#include "support/runs.h"

namespace {

using namespace ignavo;
using namespace ignavo::test;
using Clock = std::chrono::steady_clock;

struct Times {
  double longest = 0, all = 0;
  int asked = 0;
};

void askAt(Kernel& kernel, const Snapshot& now, const std::vector<Fault>& faults, Times& out) {
  std::vector<std::string> names;  // of parts, and of boards: their own lamps
  for (const auto& part : *now.project->parts) names.push_back(part->id);
  for (const BoardItem& board : now.project->boards) names.push_back(board.id);
  for (const std::string& name : names) {
    if (!outputNamed(*now.project, name)) continue;
    const auto begin = Clock::now();
    benchmark::DoNotOptimize(whyOf({now, kernel.trace(), kernel.events()}, name, faults));
    const double took = std::chrono::duration<double>(Clock::now() - begin).count();
    out.longest = std::max(out.longest, took);
    out.all += took;
    ++out.asked;
  }
}

// For so many seconds; moments are chosen among them.
void askThrough(const Project& project, int seconds, Times& out) {
  Kernel kernel(shared(project));
  double t = 1;
  for (int k = 0; k < 100; ++k, t += 5)
    for (const auto& part : *project.parts)
      if (catalogue().partKind(part->type)->pressable) {
        kernel.schedule(at(t, Input::What::press, part->id));
        kernel.schedule(at(t + 0.5, Input::What::release, part->id));
      }
  kernel.advance(seconds * second);
  const std::vector<Fault> faults = faultsOf(check(project).findings);
  std::mt19937 random(7);
  for (int k = 0; k < 20; ++k)
    askAt(kernel,
          kernel.lookBack(std::uniform_int_distribution<Nanoseconds>(0, seconds * second)(random)),
          faults, out);
}

// One lamp after the other turned round.
Project turned(Project p, int which) {
  int seen = 0;
  for (const auto& part : *p.parts)
    if (part->type == "led" && seen++ == which)
      return edits::changePart(p, part->id, [](Part& q) { q = flipped(q, catalogue()); });
  return p;
}

// Without the wire to the first pin that is read, else to any: what an input does is then followed
// into the circuit, with each mend that is known.
Project withoutWire(const Project& p) {
  for (const auto& wire : *p.wires)
    for (const Socket& end : {wire->from, wire->to})
      if (end.point == "D2" || end.point == "A0") return edits::remove(p, {wire->id});
  return edits::remove(p, {p.wires->front()->id});
}

enum class Faulty { no, turned, withoutWire };
void why(benchmark::State& state, Faulty faulty) {
  Times times;
  for (auto _ : state)
    for (const Demo& one : demos()) {
      const Project p = readProject(one.text).project;
      askThrough(faulty == Faulty::turned        ? turned(p, 0)
                 : faulty == Faulty::withoutWire ? withoutWire(p)
                                                 : p,
                 // What reads at random repeats nothing: a run of it takes its time.
                 faulty == Faulty::withoutWire ? 30 : 600, times);
    }
  state.counters["asked"] = times.asked;
  state.counters["longest_in_60_Hz_frames"] = times.longest * 60;
  state.counters["mean_in_60_Hz_frames"] = times.all / times.asked * 60;
}

BENCHMARK_CAPTURE(why, sound, Faulty::no)
    ->Name("why is this dark, at any moment of ten minutes (at most 1 frame)")
    ->Iterations(1);
BENCHMARK_CAPTURE(why, turned, Faulty::turned)
    ->Name("why is this dark, with a lamp turned (at most 1 frame)")
    ->Iterations(1);
BENCHMARK_CAPTURE(why, withoutWire, Faulty::withoutWire)
    ->Name("why is this dark, without a wire (at most 1 frame)")
    ->Iterations(1);

}  // namespace
