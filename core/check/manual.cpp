#include "check/manual.h"

#include <fmt/format.h>

#include "check/rule.h"

namespace ignavo {

namespace {

constexpr const char* head =
    R"(# What the check finds

This page is made from the rules themselves: `ignavo-cli checks > docs/checks.md`.

The check works on the solved circuit, not on the drawing. It goes through all combinations of
buttons, switches, output pins, and knobs and sensors at both ends and the middle of their range,
island by island, and looks at what flows. Of the output pins only those combinations count that
the program can produce for a millisecond or more, or again and again. More than 4,096 combinations
in one island are sampled, and the result says so.

Each finding has a severity, the combination it happens in, its figures, and where possible an edit
that mends it, which can be previewed and undone. A cause silences its consequences: one fault gives
one finding. Where one mend ends several findings, they are told as one, with that mend. "It is meant
so" hides a finding for those parts.

Without a program the rules about programs are silent, and a pin is tried as an output, one at a
time and all together, if it reaches a lamp, a sounder, a motor or a transistor, and no button.

Severities: **Would break** (danger), **Won't work** (warning), **Good to know** (note). Below stands
the gravest that a rule can give.
)";

}  // namespace

std::string checksManual() {
  std::string out = head;
  out += "\n| rule | severity | what it means |\n|---|---|---|\n";
  for (const Rule* rule : rules())
    out += fmt::format("| [`{0}`](#{0}) | {1} | {2} |\n", rule->id, severityId(rule->severity),
                       rule->meaning);
  for (const Rule* rule : rules()) {
    out += fmt::format("\n## {}\n\n", rule->id);
    out += fmt::format("**{}{}** {}\n\n", severityTitle(rule->severity),
                       rule->needsProgram ? ", with a program." : ".", rule->meaning);
    if (!rule->ofLastCompile) out += fmt::format("![{0}](checks/{0}.png)\n\n", rule->id);
    out += fmt::format("- On the table: {}\n", rule->why);
    out += fmt::format("- What to do: {}\n", rule->mend);
  }
  return out;
}

}  // namespace ignavo
