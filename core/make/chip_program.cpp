#include "make/chip_program.h"

#include <algorithm>
#include <cstdlib>
#include <map>
#include <sstream>

#include "avr/hex.h"
#include "make/c_names.h"
#include "make/c_text.h"
#include "program/own_steps.h"
#include "program/said.h"

// The compiler's tables are read: names to addresses, addresses to lines of the text; and the
// generator knows whose lines they are.
namespace ignavo {

namespace {

constexpr std::uint32_t dataBegin = 0x800000;  // where the tables show memory

// "0080017c b my_lit": places in memory, and functions in flash.
std::map<std::string, std::uint32_t> readSymbols(const std::string& listing) {
  std::map<std::string, std::uint32_t> out;
  std::istringstream lines(listing);
  for (std::string line; std::getline(lines, line);) {
    std::istringstream words(line);
    std::uint32_t address = 0;
    std::string sort, name;
    if (words >> std::hex >> address >> sort >> name) out[name] = address;
  }
  return out;
}

// By line, from 0: the innermost step that it belongs to.
std::vector<std::string> stepsOfLines(const CText& text) {
  std::vector<std::string> out;
  for (const CText::Span& span : text.spans)
    for (int line = span.first; line <= span.last; ++line) {
      const auto at = static_cast<std::size_t>(line);
      if (out.size() <= at) out.resize(at + 1);
      out[at] = span.step;
    }
  return out;
}

// "0x00000082", and below it "/…/program.c:16", then who called that, from the inside out: the
// innermost that belongs to a step. Where nothing does, the address belongs to none.
std::vector<ChipProgram::Stretch> stretchesOf(const std::string& listing,
                                              const std::vector<std::string>& stepOfLine) {
  std::map<std::uint32_t, std::string> found;
  std::istringstream lines(listing);
  std::string* step = nullptr;
  for (std::string text; std::getline(lines, text);) {
    if (text.starts_with("0x")) {
      step = &found[static_cast<std::uint32_t>(std::stoul(text, nullptr, 16))];
      step->clear();
      continue;
    }
    const std::string file = "/program.c:";
    const std::size_t at = text.rfind(file);
    if (!step || !step->empty() || at == std::string::npos) continue;
    const std::size_t line = std::strtoul(text.c_str() + at + file.size(), nullptr, 10);
    if (line < stepOfLine.size()) *step = stepOfLine[line];
  }
  std::vector<ChipProgram::Stretch> out;
  for (auto& [from, what] : found)
    if (out.empty() || out.back().step != what) out.push_back({from, what});
  return out;
}

std::uint16_t inMemory(const std::map<std::string, std::uint32_t>& symbols,
                       const std::string& name) {
  const auto it = symbols.find(name);
  return it == symbols.end() || it->second < dataBegin
             ? std::uint16_t{0}
             : static_cast<std::uint16_t>(it->second - dataBegin);
}

}  // namespace

ChipProgram chipProgramOf(const Project& project, const std::string& board,
                          const Firmware& firmware) {
  ChipProgram out;
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const Program* program = project.program(board);
  if (!kind) return out;
  out.chip = kind->chip;
  out.bytes = avr::readHex(firmware.hex, static_cast<std::size_t>(kind->flashBytes)).bytes;
  const auto symbols = readSymbols(firmware.symbols);
  if (const auto main = symbols.find("main"); main != symbols.end()) out.begins = main->second;
  out.freeFrom = inMemory(symbols, "_end");
  if (!program) return out;

  const CText text = cText(project, board);
  out.stepOfLine = stepsOfLines(text);
  out.steps = stretchesOf(firmware.lines, out.stepOfLine);
  out.texts = text.texts;
  out.says = sayingSteps(*program);
  const CNames names(*program);
  const auto add = [&](const std::string& name, const std::string& inC, int item_, ValueType type,
                       int bytes) {
    const std::uint16_t at = inMemory(symbols, inC);
    if (at == 0) return;
    const int place = std::max(item_ - 1, 0) * bytes;
    out.variables.push_back({name, item_, type, static_cast<std::uint16_t>(at + place)});
  };
  for (const Variable& v : program->variables)
    add(v.name, names.variable(v.name), 0, names.types().variable(v.name), 0);
  for (const NumberList& list : program->lists) {
    const ValueType type = names.types().list(list.name);
    for (int n = 1; n <= static_cast<int>(list.items.size()); ++n)
      add(list.name, names.list(list.name), n, type, type == ValueType::truth ? 1 : 4);
  }
  int number = 0;
  for (const auto& lane : program->lanes) {
    if (isOwn(*lane)) continue;
    const std::uint16_t state = inMemory(symbols, "state" + std::to_string(++number));
    out.lanes.push_back({lane->id, state, static_cast<std::uint16_t>(state == 0 ? 0 : state + 2)});
  }
  return out;
}

ForeignProgram foreignProgram(const BoardKind& board, const std::string& hex) {
  using Code = avr::HexImage::Code;
  const Say say("hex");
  const avr::HexImage image = avr::readHex(hex, static_cast<std::size_t>(board.flashBytes));
  const auto refused = [&](Message problem) {
    return ForeignProgram{std::nullopt, std::move(problem)};
  };
  switch (image.code) {
    case Code::done:
      break;
    case Code::notARecord:
      return refused(
          say("Line {} is no Intel HEX: a record is a colon and hexadecimal digits.", image.line));
    case Code::cut:
      return refused(
          say("Line {} is shorter or longer than it says. Was the file cut?", image.line));
    case Code::wrongSum:
      return refused(say("The sum of line {} is wrong: something in it was changed.", image.line));
    case Code::wrongKind:
      return refused(say("Line {} is a kind of record that flash has no use for.", image.line));
    case Code::beyondFlash:
      return refused(
          say("Line {0} goes beyond the chip’s flash of {1} bytes. Was it made for "
              "another chip?",
              image.line, board.flashBytes));
    case Code::twice:
      return refused(say("Line {} says otherwise what an earlier line says.", image.line));
    case Code::noEnd:
      return refused(say("The file’s last record is missing: it was cut."));
    case Code::empty:
      return refused(say("There is no program in this file."));
  }
  ChipProgram out;
  out.chip = board.chip;
  out.bytes = image.bytes;
  return {std::move(out), {}};
}

}  // namespace ignavo
