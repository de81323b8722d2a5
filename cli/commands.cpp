#include "commands.h"

#include <fmt/format.h>

#include <charconv>
#include <cstdio>
#include <fstream>
#include <iostream>

#include "arguments.h"
#include "check/manual.h"
#include "demos.h"
#include "format/bench_words.h"
#include "format/files.h"
#include "format/project_file.h"
#include "format/trace_text.h"
#include "format/wiring_language.h"
#include "make/c_text.h"
#include "make/firmware.h"
#include "output.h"
#include "parts/catalogue.h"
#include "posix_runner.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/phrases/reading.h"
#include "program/steps.h"
#include "program/trial.h"
#include "text/plain.h"

namespace ignavo::cli {

int solve(const SolveOptions& options) {
  auto project = open(options.file);
  if (!project) return wrong;
  for (const std::string& text : options.set) {
    const auto change = propChange(*project, text);
    if (!change)
      return bad(fmt::format("“{}” is not a property and value such as r1.ohms=330", text));
    for (auto& part : project->parts.edit())
      if (part->id == change->part) part.edit().setProp(change->key, change->value);
  }
  Circuit circuit(*project);
  CircuitState state = circuit.restState();
  for (const std::string& text : options.pins) {
    const auto level = pinChange(*project, text);
    if (!level || (level->percent && *level->percent > 0 && *level->percent < 100))
      return bad(fmt::format("“{}” is not a pin and level such as D4=high", text));
    if (!level->percent) continue;
    state.pins[static_cast<std::size_t>(circuit.pinIndex(level->board, level->pin))] =
        *level->percent > 0 ? PinDrive::high : PinDrive::low;
  }
  for (const std::string& id : options.press) {
    if (!isPressable(*project, id)) return bad(notPressable(*project, id));
    for (std::size_t i = 0; i < project->parts->size(); ++i)
      if ((*project->parts)[i]->id == id) state.pressed[i] = 1;
  }
  const CircuitReading reading = circuit.solve(state);
  if (reading.shorted)
    say(fmt::format("{} and GND are joined by less than 1 Ω: this circuit has no solution",
                    reading.shortedSupply));
  for (const std::string& id : reading.unsolved)
    say(fmt::format("the circuit around “{}” could not be solved", id));
  if (options.json) {
    fmt::print("{}\n", solutionJson(*project, circuit, state, reading).dump(2));
    return reading.converged ? fine : found;
  }
  for (std::size_t n = 0; n < reading.nets.size(); ++n) {
    const Net& net = circuit.nets().all()[n];
    if (net.legs.empty() && net.wires.empty()) continue;
    fmt::print("{:<24} {}\n", net.name,
               reading.nets[n] ? fmt::format("{:.3f} V", *reading.nets[n]) : "no voltage");
  }
  for (std::size_t p = 0; p < reading.parts.size(); ++p) {
    const PartReading& r = reading.parts[p];
    fmt::print("{:<24} {:>8}  {:>9.3f} mA  {:>8.2f} mW\n", (*project->parts)[p]->name,
               r.volts ? fmt::format("{:.3f} V", *r.volts) : "–", r.amps * 1e3, r.watts * 1e3);
  }
  return reading.converged ? fine : found;
}

int code(const std::string& file, const std::string& board, bool json) {
  const auto project = open(file);
  if (!project) return wrong;
  const CText c = cText(*project, boardOr(*project, board));
  if (c.text.empty()) return bad(fmt::format("there is no board “{}”", board));
  if (!json) {
    fmt::print("{}", c.text);
    return fine;
  }
  Json spans = Json::array();
  for (const CText::Span& s : c.spans)
    spans.push_back({{"step", stepPath(*project, s.step)}, {"first", s.first}, {"last", s.last}});
  fmt::print("{}\n", Json{{"text", c.text}, {"steps", spans}}.dump(2));
  return fine;
}

int firmware(const std::string& file, const std::string& out, const std::string& board, bool json) {
  const auto project = open(file);
  if (!project) return wrong;
  PosixRunner runner;
  const Firmware f = buildFirmware(*project, boardOr(*project, board), runner);
  if (!f.messages.empty()) say(f.messages);
  if (f.code != Firmware::Code::done) return bad(inWords(sentence(f)));
  if (!writeFile(out, f.hex)) return wrong;
  if (json)
    fmt::print("{}\n", Json{{"file", out},
                            {"flash", f.flashBytes},
                            {"flash_most", f.flashMost},
                            {"ram", f.ramBytes},
                            {"ram_most", f.ramMost}}
                           .dump(2));
  else
    fmt::print("{}: {}\n", out, inWords(sentence(f)));
  return fine;
}

int wire(const std::string& in, const std::string& out, bool toText) {
  if (toText) {
    const auto project = open(in);
    if (!project) return wrong;
    return writeFile(out, writeWiring(*project)) ? fine : wrong;
  }
  const TextFile file = readTextFile(in, limits::fileBytes);
  if (file.problem) return bad(fmt::format("{}: {}", in, inWords(sentence(*file.problem))));
  const WiringText read = readWiring(file.text);
  for (const WiringProblem& p : read.problems)
    say(fmt::format("{}:{}:{}: {}", in, p.line, p.what.column + 1, inWords(p.what.message)));
  // All or nothing: a circuit with a line left out would be another circuit.
  if (!read.problems.empty()) return wrong;
  if (const auto problem = saveProjectFile(read.project, out))
    return bad(inWords(sentence(*problem)));
  return fine;
}

int phrase(const std::string& typed, const std::string& file, bool json) {
  Project project = emptyProject();
  if (!file.empty()) {
    const auto read = open(file);
    if (!read) return wrong;
    project = *read;
  }
  const std::string board = project.boards.empty() ? std::string() : project.boards.front().id;
  const Vocabulary words = benchWords(project, Nets(project, catalogue()), board);
  const auto print = [&](const char* key, const std::string& value, const std::string& said) {
    if (json)
      fmt::print("{{\"{}\": {}}}\n", key, value);
    else
      fmt::print("{}\n", said);
    return fine;
  };
  const Reading read = readPhrase(typed, words);
  if (read.lane) {
    Lane lane;
    lane.trigger = *read.lane;
    lane.steps = read.steps;
    return print("lane", writeLane(lane), signOf(*read.lane));
  }
  if (read.named && read.named->list) {
    Project with = withName(project, board, *read.named);
    return print("list", writeList(with.program(board)->lists.back()), textOf(*read.named->list));
  }
  if (read.named && read.named->variable)
    return print("variable", writeVariable(*read.named->variable), textOf(*read.named->variable));
  if (read.otherwise) return print("else", "true", "otherwise");
  if (read.steps.size() == 1)
    return print("step", writeStep(read.steps.front()), textOf(read.steps));
  if (!read.steps.empty()) return print("steps", writeSteps(read.steps), textOf(read.steps));
  const phrases::Question& asks = *read.question;
  if (json) {
    fmt::print("{}\n", Json{{"problem", inWords(asks.problem)},
                            {"at", asks.length > 0 ? Json(asks.at) : Json(nullptr)},
                            {"choices", asks.choices}}
                           .dump(2));
  } else {
    say(inWords(asks.problem));
    for (const std::string& choice : asks.choices) say("  " + choice);
  }
  return found;
}

int demos(bool json) {
  Json list = Json::array();
  for (const Demo& d : ignavo::demos()) {
    const ReadResult r = readProject(d.text);
    if (json)
      list.push_back({{"name", d.name}, {"title", r.project.title}, {"about", r.project.about}});
    else
      fmt::print("{:<18} {}\n", d.name, r.project.about);
  }
  if (json) fmt::print("{}\n", list.dump(2));
  return fine;
}

int checks() {
  fmt::print("{}", checksManual());
  return fine;
}

int schema() {
  fmt::print("{}", projectSchema());
  return fine;
}

}  // namespace ignavo::cli
