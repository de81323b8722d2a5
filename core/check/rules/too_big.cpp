#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr int stackBytes = 256;  // of the RAM, for what is under way

void applyTooBig(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const auto size = c.sizes.find(board.id);
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (size == c.sizes.end() || !kind || kind->flashBytes == 0) continue;
    const bool flash = size->second.flash > kind->flashBytes;
    const int most = flash ? kind->flashBytes : kind->ramBytes - stackBytes;
    const int needed = flash ? size->second.flash : size->second.ram;
    if (needed <= most) continue;
    Finding f;
    f.rule = "too-big";
    f.severity = Severity::danger;
    f.parts = {board.id};
    f.title = flash ? say("The program does not fit into the chip’s flash")
                    : say("The program does not fit into the chip’s memory");
    f.reason =
        flash ? say("When it was compiled last it had {} bytes; the chip holds {}.", needed, most)
              : say("When it was compiled last its variables took {} bytes; {} are there, "
                    "and 256 more that the chip needs itself.",
                    needed, most);
    f.figures = {{"bytes", static_cast<double>(needed)}, {"most", static_cast<double>(most)}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& tooBigRule() {
  static const Rule rule{"too-big",
                         Severity::danger,
                         "The program, as it was compiled last, is larger than the chip.",
                         "It cannot be sent, or it would overwrite its own memory.",
                         "Take steps out; an own step is written once, however often it is run.",
                         true,
                         applyTooBig,
                         Seeks::nothing,
                         0,
                         true};
  return rule;
}

}  // namespace ignavo
