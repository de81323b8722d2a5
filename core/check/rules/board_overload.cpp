#include <set>

#include "check/rules/list.h"
#include "check/totals.h"

namespace ignavo {

namespace {

void report(CheckContext& c, const BoardItem& board, const std::string& what, double amps,
            double most, Message title, Message reason) {
  Finding f;
  f.rule = "board-overload";
  f.severity = Severity::warning;
  f.sockets = {{board.id, what}};
  f.title = std::move(title);
  f.reason = std::move(reason);
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
    const Place chipMost = asAmps(kind->chipMostAmps);
    if (exceeds(total.chipAmps, kind->chipMostAmps))
      report(c, board, "chip", total.chipAmps, kind->chipMostAmps,
             say("The chip’s pins together carry {}; {} is its limit", asAmps(total.chipAmps),
                 chipMost),
             say("Each pin alone is fine, but all of them go through the same chip. Larger "
                 "resistors, or transistors, take the load off it."));
    for (std::size_t k = 0; k < kind->supplies.size(); ++k) {
      const SupplyKind& supply = kind->supplies[k];
      const double amps = total.supplyAmps[k];
      if (!exceeds(amps, supply.maxAmps)) continue;
      report(c, board, supply.pin, amps, supply.maxAmps,
             k == 0
                 ? say("The board gives {}; {} is its limit", asAmps(amps), asAmps(supply.maxAmps))
                 : say("The {} pin gives {}; {} is its limit", supply.label, asAmps(amps),
                       asAmps(supply.maxAmps)),
             say(supply.advice.c_str()));
    }
  }
}

}  // namespace

const Rule& boardOverloadRule() {
  static const Rule rule =
      takingPower({"board-overload", Severity::warning,
                   "All together take more than the chip or the supply can give.",
                   "The voltage drops and the board starts again and again, or the chip gets hot.",
                   "Less at a time, larger resistors, or a supply of its own for what needs much.",
                   false, applyBoardOverload});
  return rule;
}

}  // namespace ignavo
