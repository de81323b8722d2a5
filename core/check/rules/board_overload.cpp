
#include <set>

#include "check/rules/list.h"
#include "check/totals.h"

namespace ignavo {

namespace {

const Say say("board-overload");

void report(CheckContext& c, const BoardItem& board, const std::string& what,
            const std::string& who, double amps, double most, const std::string& reason) {
  Finding f;
  f.rule = "board-overload";
  f.severity = Severity::warning;
  f.parts = {};
  f.sockets = {{board.id, what}};
  f.title = say("{} {}; {} is its limit", who, asAmps(amps), asAmps(most));
  f.reason = reason;
  f.figures = {{"amps", amps}, {"most_amps", most}};
  c.findings.push_back(std::move(f));
}

void applyBoardOverload(CheckContext& c) {
  for (std::size_t b = 0; b < c.project.boards.size(); ++b) {
    const BoardItem& board = c.project.boards[b];
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (!kind) continue;
    // What would break anyway explains a large sum.
    const bool explained = std::any_of(c.findings.begin(), c.findings.end(), [](const Finding& f) {
      return f.severity == Severity::danger && f.rule != "no-flyback" && !f.meant;
    });
    if (explained || c.circuit.shorted(static_cast<int>(b))) continue;
    const BoardTotal total = totalOf(c.circuit, c.sweep, static_cast<int>(b));
    if (exceeds(total.chipAmps, kind->chipMostAmps))
      report(c, board, "chip", "The chip’s pins together carry", total.chipAmps, kind->chipMostAmps,
             "Each pin alone is fine, but all of them go through the same chip. Larger resistors, "
             "or transistors, take the load off it.");
    for (std::size_t k = 0; k < kind->supplies.size(); ++k) {
      const SupplyKind& supply = kind->supplies[k];
      const std::string who = k == 0 ? "The board gives" : "The " + supply.label + " pin gives";
      if (exceeds(total.supplyAmps[k], supply.maxAmps))
        report(c, board, supply.pin, who, total.supplyAmps[k], supply.maxAmps, supply.advice);
    }
  }
}

}  // namespace

const Rule& boardOverloadRule() {
  static const Rule rule{
      "board-overload",
      Severity::warning,
      "All together take more than the chip or the supply can give.",
      "The voltage drops and the board starts again and again, or the chip gets hot.",
      "Less at a time, larger resistors, or a supply of its own for what needs much.",
      false,
      applyBoardOverload};
  return rule;
}

}  // namespace ignavo
