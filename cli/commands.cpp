#include "commands.h"

#include <fmt/format.h>

#include <charconv>
#include <cstdio>
#include <fstream>
#include <iostream>

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

namespace {

// Messages for people go to standard error.
void say(const std::string& text) { fmt::print(stderr, "{}\n", text); }

std::optional<Project> open(const std::string& file) {
  ReadResult r = readProjectFile(file);
  for (const FileProblem& p : r.problems) say(file + ": " + inWords(sentence(p)));
  if (!r.sound()) return std::nullopt;
  return std::move(r.project);
}

std::optional<double> number(const std::string& text) {
  double v = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return v;
}

// "D4=high" or "b1.D4=high" -> board, pin, level.
struct PinLevel {
  std::string board, pin;
  bool high = false;
};
std::optional<PinLevel> pinLevel(const Project& p, const std::string& text) {
  const auto equals = text.find('=');
  if (equals == std::string::npos) return std::nullopt;
  const std::string level = text.substr(equals + 1);
  if (level != "high" && level != "low") return std::nullopt;
  std::string pin = text.substr(0, equals);
  std::string board = p.boards.empty() ? "" : p.boards.front().id;
  if (const auto dot = pin.find('.'); dot != std::string::npos) {
    board = pin.substr(0, dot);
    pin = pin.substr(dot + 1);
  }
  const BoardItem* item = p.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return std::nullopt;
  for (const BoardPin& k : kind->pins)
    if (k.name == pin && k.role == PinShape::Role::io) return PinLevel{board, pin, level == "high"};
  return std::nullopt;
}

// "r1.ohms=330" -> part, property, value; checked against the catalogue.
struct PropChange {
  std::string part, key;
  PropValue value;
};
std::optional<PropChange> propChange(const Project& p, const std::string& text) {
  const auto equals = text.find('='), dot = text.find('.');
  if (equals == std::string::npos || dot == std::string::npos || dot > equals) return std::nullopt;
  PropChange c{text.substr(0, dot), text.substr(dot + 1, equals - dot - 1), std::string()};
  const std::string value = text.substr(equals + 1);
  const Part* part = p.part(c.part);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind) return std::nullopt;
  for (const PropKind& prop : kind->props) {
    if (prop.key == "colour" && c.key == "color") c.key = prop.key;
    if (prop.key != c.key) continue;
    if (prop.type == PropKind::Type::number) {
      const auto v = number(value);
      if (!v || *v < prop.min || *v > prop.max) return std::nullopt;
      c.value = *v;
      return c;
    }
    if (prop.type == PropKind::Type::truth) {
      if (value != "true" && value != "false") return std::nullopt;
      c.value = value == "true";
      return c;
    }
    if (const std::string* choice = prop.choiceCalled(value)) {
      c.value = *choice;
      return c;
    }
  }
  return std::nullopt;
}

bool isPressable(const Project& p, const std::string& id) {
  const Part* part = p.part(id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  return kind && kind->pressable;
}

// "“x” is nothing that can be pressed; these are: btn1, btn2"
std::string notPressable(const Project& p, const std::string& id) {
  std::string names;
  for (const auto& part : *p.parts)
    if (isPressable(p, part->id)) names += (names.empty() ? "" : ", ") + part->id;
  return fmt::format("“{}” is nothing that can be pressed; {}", plainLine(id),
                     names.empty() ? "nothing on this bench is" : "these are: " + names);
}

int bad(const std::string& sentence) {
  say(sentence);
  return wrong;
}

bool writeFile(const std::string& path, const std::string& text) {
  std::ofstream out(path, std::ios::binary);
  out << text;
  out.close();
  if (!out) say(fmt::format("“{}” cannot be written", path));
  return static_cast<bool>(out);
}

}  // namespace

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
    const auto level = pinLevel(*project, text);
    if (!level) return bad(fmt::format("“{}” is not a pin and level such as D4=high", text));
    state.pins[static_cast<std::size_t>(circuit.pinIndex(level->board, level->pin))] =
        level->high ? PinDrive::high : PinDrive::low;
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

namespace {

// How long a key is down that is struck.
constexpr Nanoseconds struckFor = 50'000'000;

// "press btn1", "set r1.ohms=330", "power off", "pin D4=high", "reset", "key-down space".
std::optional<Input> inputOf(const Project& p, double seconds, const std::string& text) {
  Input in;
  in.at = static_cast<Nanoseconds>(seconds * 1e9 + 0.5);
  // A word, and what follows it.
  const auto cut = [](const std::string& words) {
    const auto space = words.find(' ');
    return std::pair(words.substr(0, space),
                     space == std::string::npos ? std::string() : words.substr(space + 1));
  };
  const auto [verb, rest] = cut(text);
  using What = Input::What;
  if (verb == "press" || verb == "release") {
    if (!isPressable(p, rest)) return std::nullopt;
    in.what = verb == "press" ? What::press : What::release;
    in.id = rest;
  } else if (verb == "set") {
    const auto change = propChange(p, rest);
    if (!change) return std::nullopt;
    in.what = What::setProp;
    in.id = change->part;
    in.key = change->key;
    in.value = change->value;
  } else if (verb == "pin") {
    const auto level = pinLevel(p, rest);
    if (!level) return std::nullopt;
    in.what = What::drivePin;
    in.id = level->board;
    in.key = level->pin;
    in.value = level->high;
  } else if (verb == "reset" || verb == "power") {
    // Of all boards, or of the one that is named last.
    const auto [first, second] = cut(rest);
    in.id = verb == "reset" ? rest : second;
    if (verb == "power" && first != "on" && first != "off") return std::nullopt;
    in.what = verb == "reset" ? What::reset : first == "on" ? What::powerOn : What::powerOff;
    if (!in.id.empty() && !p.board(in.id)) return std::nullopt;
  } else if (verb == "key-down" || verb == "key-up") {
    in.what = verb == "key-down" ? What::keyDown : What::keyUp;
    in.key = keyOf(rest);
    if (in.key.empty()) return std::nullopt;
  } else {
    return std::nullopt;
  }
  return in;
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
  constexpr double longest = 9e8;  // about 28 years in nanoseconds
  if (!(options.seconds >= 0 && options.seconds <= longest))
    return bad(fmt::format("--for takes seconds from 0 to {}", longest));
  Kernel kernel(std::make_shared<const Project>(*project));
  for (std::size_t i = 0; i + 1 < options.at.size(); i += 2) {
    const auto when = number(options.at[i]);
    if (!when || *when < 0 || *when > longest)
      return bad(fmt::format("“{}” is not a time in seconds", options.at[i]));
    std::string said = options.at[i + 1];
    const bool struck = said.starts_with("key ");
    if (struck) said.insert(3, "-down");
    const auto input = inputOf(*project, *when, said);
    for (const char* verb : {"press ", "release "})
      if (!input && said.starts_with(verb))
        return bad(notPressable(*project, said.substr(std::string(verb).size())));
    if (!input)
      return bad(fmt::format("“{}” is not something that can happen here", options.at[i + 1]));
    kernel.schedule(*input);
    if (!struck) continue;
    Input up = *input;
    up.what = Input::What::keyUp;
    up.at += struckFor;
    kernel.schedule(up);
  }
  kernel.advance(static_cast<Nanoseconds>(options.seconds * 1e9 + 0.5));
  const Snapshot end = kernel.snapshot();
  if (!options.vcd.empty() && !writeFile(options.vcd, vcdText(kernel.trace()))) return wrong;
  if (!options.csv.empty() && !writeFile(options.csv, csvText(kernel.trace()))) return wrong;
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

namespace {
std::string boardOr(const Project& p, const std::string& wanted) {
  return wanted.empty() && !p.boards.empty() ? p.boards.front().id : wanted;
}
}  // namespace

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
