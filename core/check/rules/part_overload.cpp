#include <algorithm>

#include "check/remedies.h"
#include "check/rules/list.h"
#include "check/trial.h"

namespace ignavo {

namespace {

// A knob that carries too much at an end of its track: what is wired to its tap, the leg that
// may not stay open, belongs to an end, where there is one that takes it.
void aboutTurning(const CheckContext& c, Finding& f, int p, double most, const std::string& where) {
  const Part& part = c.part(p);
  const auto& shapes = c.circuit.kindOf(p)->print.legs;
  const auto tap =
      std::find_if(shapes.begin(), shapes.end(), [](const LegShape& l) { return !l.mayStayOpen; });
  if (tap == shapes.end()) return;
  f.title = say("{} burns when it is turned to {}", part.name, where);
  f.reason = say(
      "Hardly anything of its track is left there between its {0} and one end: {1} of heat, and "
      "{2} is its limit. Supply and ground on the two ends and the pin on the {0}, and it bears "
      "every turn.",
      tap->id, asWatts(f.figure("watts")), asWatts(most));
  for (const LegShape& end : shapes) {
    if (!end.mayStayOpen) continue;
    auto made = remedies::exchangeRows(c.project, *part.leg(tap->id), *part.leg(end.id));
    if (!made) continue;
    if (c.mayTry() && mostWatts(made->after, part.id) <= most) {
      f.remedies.push_back(std::move(*made));
      return;
    }
  }
}

void report(CheckContext& c, int p, const Peak& peak, double most, bool watts) {
  const Part& part = c.part(p);
  Finding f;
  f.rule = "part-overload";
  f.severity = Severity::danger;
  f.parts = {part.id};
  c.showPart(f, p);
  f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
  const auto text = [&](double v) { return watts ? asWatts(v) : asAmps(v); };
  const bool gives = c.circuit.kindOf(p)->print.legs.front().feeds != LegShape::Feeds::nothing;
  f.title =
      watts ? say("{} turns {} into heat; {} is its limit", part.name, text(peak.value), text(most))
      : gives ? say("{} gives {}; {} is its limit", part.name, text(peak.value), text(most))
              : say("{} carries {}; {} is its limit", part.name, text(peak.value), text(most));
  f.reason =
      gives ? say("It gets hot and is empty soon. Let less hang on it, or take a larger one.")
            : say("Above its limit it is destroyed. Less load or a resistor in its path helps.");
  f.figures = {{watts ? "watts" : "amps", peak.value}, {watts ? "most_watts" : "most_amps", most}};
  // Where it stands now all is well: it is turning it that does it.
  CircuitState asSet = peak.state;
  asSet.turned[static_cast<std::size_t>(p)] = Turned::asSet;
  if (const auto turned = f.pose.find(part.id);
      watts && turned != f.pose.end() && c.reading(p, asSet).watts <= most)
    aboutTurning(c, f, p, most, turned->second);
  c.findings.push_back(std::move(f));
}

// A lamp on the same path that burns as well says it.
bool besideABurntLamp(const CheckContext& c, int p) {
  const auto& parts = c.circuit.island(c.circuit.islandOfPart(p)).parts;
  return std::any_of(parts.begin(), parts.end(),
                     [&](int other) { return c.explained(c.part(other).id, {"led-overcurrent"}); });
}

void applyPartOverload(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind) continue;
    const Part& part = c.part(p);
    if (c.explained(part.id, {"short-circuit", "diode-backwards", "pin-fight"})) continue;
    if (besideABurntLamp(c, p)) continue;
    const PartSweep& s = c.sweep.part(p);
    if (kind->mostAmps) {
      const Peak& peak = s.amps.value > s.reverseAmps.value ? s.amps : s.reverseAmps;
      const double most = kind->mostAmps(part);
      if (peak.seen && exceeds(peak.value, most)) report(c, p, peak, most, false);
    } else if (kind->ratedWatts && !kind->passes) {
      const double most = kind->ratedWatts(part);
      if (s.watts.seen && exceeds(s.watts.value, most)) report(c, p, s.watts, most, true);
    }
  }
}

}  // namespace

const Rule& partOverloadRule() {
  static const Rule rule =
      darkening({"part-overload", Severity::danger,
                 "A transistor, diode, potentiometer or battery is over its limit.",
                 "It gets hot and fails, often within a second.",
                 "Less load, a resistor in its path, or a part that is made for more.", false,
                 applyPartOverload});
  return rule;
}

}  // namespace ignavo
