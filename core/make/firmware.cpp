#include "make/firmware.h"

#include <fmt/format.h>

#include <fstream>
#include <sstream>
#include <vector>

#include "make/c_text.h"
#include "parts/catalogue.h"

namespace ignavo {

namespace {

// Sizes of the sections, from avr-size -A.
void readSizes(const std::string& listing, Firmware& out) {
  std::istringstream lines(listing);
  std::string line;
  while (std::getline(lines, line)) {
    std::istringstream words(line);
    std::string section;
    int bytes = 0;
    if (!(words >> section >> bytes)) continue;
    if (section == ".text" || section == ".data") out.flashBytes += bytes;
    if (section == ".data" || section == ".bss" || section == ".noinit") out.ramBytes += bytes;
  }
}

// "program.c   57   0x80": where lines begin, a line each.
std::string addressesIn(const std::string& table) {
  std::string out;
  std::istringstream words(table);
  for (std::string word; words >> word;)
    if (word.starts_with("0x")) out += word + "\n";
  return out;
}

}  // namespace

Firmware buildFirmware(const Project& project, const std::string& board, ProgramRunner& runner,
                       const BuildWatch& watch) {
  using Stage = BuildWatch::Stage;
  Firmware out;
  const auto fail = [&](Firmware::Code code) {
    out.code = code;
    return out;
  };
  const auto enter = [&](Stage stage) {
    if (watch.stage) watch.stage(stage);
  };
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return fail(Firmware::Code::noSuchBoard);
  out.flashMost = kind->flashBytes;
  out.ramMost = kind->ramBytes;

  enter(Stage::writing);
  const std::string folder = runner.folder();
  const std::string source = folder + "/program.c", elf = folder + "/program.elf",
                    hex = folder + "/program.hex";
  if (folder.empty() || !(std::ofstream(source) << cText(project, board).text))
    return fail(Firmware::Code::cannotWrite);

  // Runs a tool; what went wrong with it, or `done`.
  const auto call = [&](const std::vector<std::string>& words, std::string& printed) {
    if (watch.cancelled && watch.cancelled()) return Firmware::Code::cancelled;
    const Ran ran = runner.run(
        words,
        [&](const std::string& line) {
          printed += line + "\n";
          if (watch.line) watch.line(line);
        },
        watch.cancelled);
    constexpr int noSuchCommand = 127;  // what a shell in between says
    if (ran.cancelled) return Firmware::Code::cancelled;
    if (!ran.started || ran.exit == noSuchCommand) return Firmware::Code::compilerMissing;
    return ran.exit == 0 ? Firmware::Code::done : Firmware::Code::compilerFailed;
  };
  enter(Stage::compiling);
  auto code =
      call({"avr-gcc", "-mmcu=" + kind->chip, "-std=gnu11", "-Os", "-gdwarf-2", "-fwrapv", "-Wall",
            // What does not fit is linked all the same, to see how large it is.
            "-Wextra", "-Wl,--defsym=__TEXT_REGION_LENGTH__=0x800000",
            "-Wl,--defsym=__DATA_REGION_LENGTH__=0xffa0", "-o", elf, source, "-lm"},
           out.messages);
  if (code != Firmware::Code::done) return fail(code);
  enter(Stage::packing);
  std::string ignored, listing, table;
  code = call({"avr-objcopy", "-O", "ihex", "-R", ".eeprom", elf, hex}, ignored);
  if (code == Firmware::Code::done) code = call({"avr-size", "-A", elf}, listing);
  if (code == Firmware::Code::done) code = call({"avr-nm", elf}, out.symbols);
  if (code == Firmware::Code::done) code = call({"avr-objdump", "--dwarf=decodedline", elf}, table);
  if (code != Firmware::Code::done) return fail(code);
  const std::string addresses = folder + "/addresses";
  if (!(std::ofstream(addresses) << addressesIn(table))) return fail(Firmware::Code::cannotWrite);
  code = call({"avr-addr2line", "-i", "-a", "-e", elf, "@" + addresses}, out.lines);
  if (code != Firmware::Code::done) return fail(code);
  readSizes(listing, out);
  if (out.flashBytes > out.flashMost || out.ramBytes > out.ramMost - Firmware::stackBytes)
    return fail(Firmware::Code::tooBig);
  std::ifstream in(hex);
  std::ostringstream text;
  text << in.rdbuf();
  out.hex = text.str();
  if (out.hex.empty()) return fail(Firmware::Code::cannotWrite);
  enter(Stage::done);
  return out;
}

Message sentence(const Firmware& f) {
  const Say say("build");
  switch (f.code) {
    case Firmware::Code::done:
      return say("{} of {} bytes of flash, {} of {} bytes of memory", f.flashBytes, f.flashMost,
                 f.ramBytes, f.ramMost);
    case Firmware::Code::noSuchBoard:
      return say("There is no such board in this project.");
    case Firmware::Code::compilerMissing:
      return say(
          "The compiler for this chip is not installed. On Debian: apt install gcc-avr avr-libc "
          "binutils-avr");
    case Firmware::Code::compilerFailed:
      return say("The compiler refused the text.");
    case Firmware::Code::tooBig:
      return f.flashBytes > f.flashMost
                 ? say("The program has {} bytes, and the chip’s flash holds {}: take steps out.",
                       f.flashBytes, f.flashMost)
                 : say("The variables take {} bytes of the chip’s {}, of which {} must stay free.",
                       f.ramBytes, f.ramMost, Firmware::stackBytes);
    case Firmware::Code::cannotWrite:
      return say("There is no room for temporary files.");
    case Firmware::Code::cancelled:
      return say("Cancelled.");
  }
  return {};
}

}  // namespace ignavo
