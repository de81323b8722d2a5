#include <fmt/format.h>

#include <cassert>
#include <fstream>
#include <sstream>

#include "arguments.h"
#include "bench/nets.h"
#include "check/faults.h"
#include "commands.h"
#include "format/trace_text.h"
#include "make/chip_program.h"
#include "output.h"
#include "parts/catalogue.h"
#include "posix_runner.h"
#include "program/facts.h"
#include "program/signals.h"
#include "program/steps.h"
#include "program/trial.h"
#include "run/comparison.h"
#include "text/plain.h"

// Runs: by steps, by the boards' own code, and both beside each other.
namespace ignavo::cli {

namespace {

constexpr double longest = limits::longestSeconds;
// How long a key is down that is struck.
constexpr Nanoseconds struckFor = 50'000'000;

std::string noRecording(const Project& p, const std::string& name) {
  std::string names;
  for (const auto& held : p.recordings)
    names += (names.empty() ? "“" : ", “") + plainLine(held->name) + "”";
  return fmt::format("there is no recording “{}”; {}", plainLine(name),
                     names.empty() ? "the project has none" : "these are: " + names);
}

Nanoseconds momentOf(double seconds) { return static_cast<Nanoseconds>(seconds * 1e9 + 0.5); }

// What a recording has, and what was said to happen when; nothing, and it is said, where something
// cannot.
std::optional<std::vector<Input>> inputsOf(const Project& project, const RunOptions& options) {
  std::vector<Input> out;
  const auto refused = [](const std::string& sentence) {
    (void)bad(sentence);
    return std::nullopt;
  };
  if (!options.replay.empty()) {
    const Recording* recording = project.recording(options.replay);
    if (!recording) return refused(noRecording(project, options.replay));
    for (const RecordedInput& recorded : recording->inputs) {
      const auto input = readInput(project, recorded.what);
      if (!input)
        return refused(fmt::format("“{}” of that recording cannot happen here", recorded.what));
      out.push_back(*input);
      out.back().at = recorded.at;
    }
  }
  const std::vector<std::string>& at = options.at;
  for (std::size_t i = 0; i + 1 < at.size(); i += 2) {
    const auto when = number(at[i]);
    if (!when || *when < 0 || *when > longest)
      return refused(fmt::format("“{}” is not a time in seconds", at[i]));
    std::string said = at[i + 1];
    const bool struck = said.starts_with("key ");
    if (struck) said.insert(3, "-down");
    const auto input = inputOf(project, *when, said);
    for (const char* verb : {"press ", "release "})
      if (!input && said.starts_with(verb))
        return refused(notPressable(project, said.substr(std::string(verb).size())));
    if (!input)
      return refused(fmt::format("“{}” is not something that can happen here", at[i + 1]));
    out.push_back(*input);
    if (!struck) continue;
    out.push_back(*input);
    out.back().what = Input::What::keyUp;
    out.back().at += struckFor;
  }
  return out;
}

// "b1.n": the program of that board, and what it is asked for; null: there is none.
std::pair<const Program*, std::string> askedOfProgram(const Project& project,
                                                      const std::string& said) {
  const std::size_t dot = said.find('.');
  if (dot == std::string::npos) return {nullptr, {}};
  return {project.program(said.substr(0, dot)), said.substr(dot + 1)};
}

const Variable* variableOf(const Project& project, const std::string& said) {
  const auto [program, name] = askedOfProgram(project, said);
  if (program)
    for (const Variable& variable : program->variables)
      if (variable.name == name) return &variable;
  return nullptr;
}

const Lane* laneOf(const Project& project, const std::string& said) {
  const auto [program, id] = askedOfProgram(project, said);
  if (program)
    for (const auto& lane : program->lanes)
      if (lane->id == id) return &*lane;
  return nullptr;
}

// What `said` names of a signal operator: a lane and a path to it (b1.l2:on/of).
std::optional<Signal> operatorOf(const Project& project, const std::string& said) {
  const auto [program, name] = askedOfProgram(project, said);
  std::optional<Signal> out;
  if (!program) return out;
  for (const auto& lane : program->lanes) {
    const Expr* from = sensedBy(lane->trigger);
    if (!from) continue;
    forEachOperator(*from, [&](const std::string& path, const Expr&) {
      if (operatorName(lane->id, path) == name)
        out = Signal{Signal::What::kept, program->board, name};
    });
  }
  return out;
}

// Volts at a socket; of a part its volts and amps; of a variable (b1.name) what it holds; of a lane
// (b1.id) the step that it is at, of one without steps what it keeps; of a signal operator what it
// gives.
std::optional<std::vector<Signal>> probesOf(const Project& project, const RunOptions& options) {
  std::vector<Signal> out;
  const Nets nets(project, catalogue());
  for (const std::string& said : options.probes) {
    const auto socket = Socket::parse(said);
    if (project.part(said)) {
      out.push_back({Signal::What::partVolts, said, {}});
      out.push_back({Signal::What::partAmps, said, {}});
    } else if (socket && nets.of(*socket) >= 0) {
      out.push_back({Signal::What::volts, socket->owner, socket->point});
    } else if (const Variable* variable = variableOf(project, said)) {
      out.push_back({Signal::What::variable, said.substr(0, said.find('.')), variable->name});
    } else if (const Lane* lane = laneOf(project, said)) {
      out.push_back({isKept(lane->trigger) ? Signal::What::kept : Signal::What::step,
                     said.substr(0, said.find('.')), lane->id});
    } else if (const auto one = operatorOf(project, said)) {
      out.push_back(*one);
    } else {
      (void)bad(fmt::format("“{}” is neither a part nor a socket such as bb.a14", said));
      return std::nullopt;
    }
  }
  return out;
}

// Every board with a program and a chip that the compiler knows runs its own code.
std::optional<ChipPrograms> compiledPrograms(const Project& project) {
  ChipPrograms out;
  PosixRunner runner;
  for (const BoardItem& board : project.boards) {
    if (!project.program(board.id)) continue;
    const Firmware firmware = buildFirmware(project, board.id, runner);
    if (firmware.code != Firmware::Code::done) {
      (void)bad(fmt::format("{}: {}", board.id, inWords(sentence(firmware))));
      return std::nullopt;
    }
    out[board.id] = std::make_shared<const ChipProgram>(chipProgramOf(project, board.id, firmware));
  }
  return out;
}

std::optional<ChipPrograms> hexProgram(const Project& project, const RunOptions& options) {
  const std::string id = boardOr(project, options.board);
  const BoardItem* board = project.board(id);
  const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
  const auto refused = [](const std::string& sentence) {
    (void)bad(sentence);
    return std::nullopt;
  };
  if (!kind) return refused(fmt::format("there is no board “{}”", id));
  std::ifstream in(options.hex, std::ios::binary);
  std::ostringstream text;
  text << in.rdbuf();
  if (!in) return refused(fmt::format("“{}” cannot be read", options.hex));
  ForeignProgram read = foreignProgram(*kind, text.str());
  if (!read.program) return refused(options.hex + ": " + inWords(read.problem));
  return ChipPrograms{{id, std::make_shared<const ChipProgram>(std::move(*read.program))}};
}

bool secondsFit(double seconds) {
  if (seconds >= 0 && seconds <= longest) return true;
  (void)bad(fmt::format("--for takes seconds from 0 to {}", longest));
  return false;
}

// What was recorded, as a file.
bool keepTrace(const std::string& path, const Trace& trace,
               bool (*write)(const Trace&, const TakeText&)) {
  std::ofstream out(path, std::ios::binary);
  write(trace, [&](std::string_view piece, double) { return static_cast<bool>(out << piece); });
  out.close();
  if (!out) say(fmt::format("“{}” cannot be written", path));
  return static_cast<bool>(out);
}

}  // namespace

int run(const RunOptions& options) {
  auto project = open(options.file);
  if (!project) return wrong;
  if (!options.only.empty()) {
    if (!project->step(options.only))
      return bad(fmt::format("There is no step “{}”", options.only));
    project = onlyTrial(std::move(*project), {options.only, {}, "trial"});
  }
  if (!secondsFit(options.seconds)) return wrong;
  const auto inputs = inputsOf(*project, options);
  if (!inputs) return wrong;
  if (options.firmware && !options.hex.empty()) return bad("either --firmware or --hex, not both");
  std::optional<ChipPrograms> code = ChipPrograms{};
  if (options.firmware) code = compiledPrograms(*project);
  if (!options.hex.empty()) code = hexProgram(*project, options);
  if (!code) return wrong;
  auto probes = probesOf(*project, options);
  if (!probes) return wrong;
  RunSetup setup;
  setup.chipPrograms = std::move(*code);
  setup.probes = std::move(*probes);
  Kernel kernel(std::make_shared<const Project>(*project), std::move(setup));
  for (const Input& input : *inputs) kernel.schedule(input);
  kernel.advance(momentOf(options.seconds));
  const Snapshot end = kernel.snapshot();
  if (!options.vcd.empty() && !keepTrace(options.vcd, kernel.trace(), writeVcd)) return wrong;
  if (!options.csv.empty() && !keepTrace(options.csv, kernel.trace(), writeCsv)) return wrong;
  for (const Event& h : kernel.events()) {
    if (h.what == Event::What::broke)
      say(fmt::format("{:.3f} s: {} was damaged at {}", inSeconds(h.at), h.id,
                      fmt::format("{:.0f} mA", h.figure * 1e3)));
    if (h.what == Event::What::tripped)
      say(project->boards.size() > 1
              ? fmt::format("{:.3f} s: the supply of {} was overloaded and switched off",
                            inSeconds(h.at), h.id)
              : fmt::format("{:.3f} s: the supply was overloaded and switched off",
                            inSeconds(h.at)));
  }
  const Json out = runJson(kernel, end);
  if (options.json) {
    fmt::print("{}\n", out.dump(2));
    return fine;
  }
  fmt::print("{} s simulated\n", options.seconds);
  for (const SaidLine& line : kernel.said())
    fmt::print("{:.6f} s  {} {}\n", inSeconds(line.at), line.note ? "note" : "log ", line.text);
  for (const auto& [id, board] : out["boards"].items())
    for (const auto& [pin, p] : board["pins"].items())
      fmt::print("{:<6} {:<6} {:>8} edges, high for {:.6g} s\n", id, pin,
                 p["edges"].get<std::int64_t>(), p["high_seconds"].get<double>());
  for (const auto& [id, part] : out["parts"].items())
    if (part.contains("flashes"))
      fmt::print("{:<13} lit for {:.6g} s, {} flashes, peak {:.1f} mA{}\n", id,
                 part["lit_seconds"].get<double>(), part["flashes"].get<std::int64_t>(),
                 part["peak_amps"].get<double>() * 1e3,
                 part["damaged"].get<bool>() ? ", damaged" : "");
  return fine;
}

int compare(const RunOptions& options) {
  const auto project = open(options.file);
  if (!project || !secondsFit(options.seconds)) return wrong;
  const auto inputs = inputsOf(*project, options);
  if (!inputs) return wrong;
  const auto code = compiledPrograms(*project);
  if (!code) return wrong;
  const Comparison c = comparedRuns(std::make_shared<const Project>(*project), *code, *inputs,
                                    momentOf(options.seconds));
  if (options.json) {
    fmt::print("{}\n", comparisonJson(c).dump(2));
  } else {
    const std::string where = c.same()               ? std::string()
                              : c.first->pin.empty() ? c.first->board
                                                     : c.first->board + "." + c.first->pin;
    fmt::print("{}\n", inWords(verdict(c, where)));
  }
  return c.same() ? fine : found;
}

int why(const RunOptions& options, const std::string& part) {
  const auto project = open(options.file);
  if (!project || !secondsFit(options.seconds)) return wrong;
  const auto inputs = inputsOf(*project, options);
  if (!inputs) return wrong;
  if (!outputNamed(*project, part))
    return bad(project->part(part)
                   ? fmt::format("“{}” gives nothing to see or hear", plainLine(part))
                   : fmt::format("there is no part “{}”", plainLine(part)));
  Kernel kernel(std::make_shared<const Project>(*project));
  for (const Input& input : *inputs) kernel.schedule(input);
  kernel.advance(momentOf(options.seconds));
  const Snapshot end = kernel.snapshot();
  const auto answer = whyOf({end, kernel.trace(), kernel.events()}, part,
                            faultsOf(ignavo::check(*project).findings),
                            [&] { return faultsWithoutPrograms(*project); });
  assert(answer);
  if (options.json) {
    fmt::print("{}\n", whyJson(*project, *answer).dump(2));
    return fine;
  }
  fmt::print("{}\n  {} Circuit  {}\n  {} Program  {}\n  – Board    {}\n", inWords(answer->headline),
             answer->circuit.fine ? "✓" : "✕", inWords(answer->circuit.words),
             answer->program.fine ? "✓" : "✕", inWords(answer->program.words),
             inWords(answer->board));
  return fine;
}

}  // namespace ignavo::cli
