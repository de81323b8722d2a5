#include <algorithm>

#include "check/remedies.h"
#include "check/rules/lamps.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double wantedAmps = 0.015;

double bestLampAmps(const Project& project, const std::string& part) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  double best = 0;
  for (int p = 0; p < static_cast<int>(project.parts->size()); ++p)
    if ((*project.parts)[static_cast<std::size_t>(p)]->id == part)
      for (const Peak& lamp : sweep.part(p).lamps) best = std::max(best, lamp.value);
  return best;
}

// The smallest resistor of a beginner's box that leaves at most `wantedAmps`, tried out on the
// circuit.
void addRemedy(const CheckContext& c, Finding& f, const Part& lamp, const Part& resistor,
               double volts) {
  for (const double ohms : ownedOhms()) {
    if (ohms < volts / wantedAmps * 0.5 || ohms == resistor.number("ohms", 0)) continue;
    auto remedy = remedies::changeResistor(c.project, resistor.id, ohms);
    if (!remedy) return;
    const double then = bestLampAmps(remedy->after, lamp.id);
    if (then > wantedAmps) continue;
    if (then < dimAmps) return;
    f.reason.add(say("{} makes it {}.", ohmsText(ohms), asAmps(then)));
    f.figures.push_back({"remedy_ohms", ohms});
    f.remedies.push_back(std::move(*remedy));
    return;
  }
}

void applyLedDim(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    if (c.cancelled()) return;
    if (!c.isLamp(p)) continue;
    const PartSweep& s = c.sweep.part(p);
    const Part& part = c.part(p);
    if (s.lamps.empty() || lampExplained(c, p)) continue;
    // Of a part with several lamps the brightest one counts.
    const auto best =
        std::max_element(s.lamps.begin(), s.lamps.end(),
                         [](const Peak& a, const Peak& b) { return a.value < b.value; });
    if (best->value < darkAmps || best->value >= dimAmps) continue;
    const int island = c.circuit.islandOfPart(p);
    Finding f;
    f.rule = "led-dim";
    f.severity = Severity::warning;
    f.parts = {part.id};
    c.showPart(f, p);
    f.pose = c.sweep.poseOf(island, best->state);
    f.title =
        say("{} gets only {} mA: hardly to be seen", part.name, asNumber(best->value * 1000, 2));
    f.figures = {{"amps", best->value}};
    if (const Part* resistor = resistorWith(c, island, best->value, best->state)) {
      f.parts.push_back(resistor->id);
      f.reason =
          say("{} in its path has {}.", resistor->name, ohmsText(resistor->number("ohms", 220)));
      const PartReading r = c.reading(c.partIndex(resistor->id), best->state);
      if (c.mayTry()) addRemedy(c, f, part, *resistor, std::abs(r.volts.value_or(0)));
    } else {
      f.reason =
          say("{} across it are too few for this colour, or too much current goes elsewhere.",
              asVolts(c.reading(p, best->state).volts.value_or(0)));
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& ledDimRule() {
  static const Rule rule = darkening(
      {"led-dim", Severity::warning, "A lamp never gets more than 1 mA.",
       "In daylight it looks dark, and one searches for a fault that is none.",
       "A smaller resistor; the one that leaves at most 15 mA is offered.", false, applyLedDim});
  return rule;
}

}  // namespace ignavo
