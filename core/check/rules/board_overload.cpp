#include <fmt/format.h>

#include <set>

#include "check/rules/list.h"
#include "check/totals.h"

namespace ignavo {

namespace {

constexpr double supply3MostAmps = 0.050;

void report(CheckContext& c, const BoardItem& board, const std::string& what, double amps,
            double most, const std::string& reason) {
  Finding f;
  f.rule = "board-overload";
  f.severity = Severity::warning;
  f.parts = {};
  f.sockets = {{board.id, what}};
  f.title = fmt::format("{} {}; {} is its limit",
                        what == "5V"    ? "The board gives"
                        : what == "3V3" ? "The 3.3 V pin gives"
                                        : "The chip’s pins carry",
                        milliamps(amps) + (what == "chip" ? " together" : ""), milliamps(most));
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
    if (explained || c.circuit.shorted()) continue;
    const BoardTotal total = totalOf(c.circuit, c.sweep, static_cast<int>(b));
    if (exceeds(total.chipAmps, kind->chipMostAmps))
      report(c, board, "chip", total.chipAmps, kind->chipMostAmps,
             "Each pin alone is fine, but all of them go through the same chip. Larger resistors, "
             "or transistors, take the load off it.");
    if (exceeds(total.supplyAmps, kind->usbMostAmps))
      report(c, board, "5V", total.supplyAmps, kind->usbMostAmps,
             "The computer’s socket switches off above that. What needs much gets a supply of its "
             "own.");
    if (exceeds(total.supply3Amps, supply3MostAmps))
      report(c, board, "3V3", total.supply3Amps, supply3MostAmps,
             "It comes from a small regulator on the board. Use 5 V for what needs more.");
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
