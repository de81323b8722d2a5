#include <algorithm>
#include <map>

#include "bench/placing.h"
#include "check/remedies.h"
#include "check/rules/lamps.h"
#include "check/rules/list.h"
#include "check/trial.h"
#include "project/edits.h"

namespace ignavo {

namespace {

Project turned(Project project, const std::vector<std::string>& ids) {
  for (const std::string& id : ids)
    project =
        edits::changePart(std::move(project), id, [](Part& p) { p = flipped(p, catalogue()); });
  return project;
}

// A dark lamp that may be the wrong way round: in some combination it bears volts from its
// cathode to its anode, more than a lamp of a long chain that lies as it should.
constexpr double leastVolts = 0.5;
bool mayBe(const CheckContext& c, int p) {
  const PartKind* kind = c.circuit.kindOf(p);
  return kind && kind->print.polarised && kind->shows == Shows::light && kind->lamps.size() == 1 &&
         c.sweep.part(p).amps.value < darkAmps && c.sweep.part(p).reverseVolts.seen &&
         c.sweep.part(p).reverseVolts.value > leastVolts &&
         !c.explained(c.part(p).id, {"leg-loose", "part-bypassed", "rail-unfed"});
}

// What each lamp would get turned. Where an island has one such lamp they are all tried at once:
// no island changes what flows in another.
class WhenTurned {
 public:
  explicit WhenTurned(const CheckContext& c) : c_(c) {
    std::map<int, std::vector<int>> byIsland;
    for (int p = 0; p < c.partCount(); ++p)
      if (mayBe(c, p)) byIsland[c.circuit.islandOfPart(p)].push_back(p);
    std::vector<std::string> ids;
    for (const auto& [island, lamps] : byIsland)
      if (lamps.size() == 1)
        alone_.push_back(lamps.front()), ids.push_back(c.part(alone_.back()).id);
    if (ids.empty()) return;
    const Project tried = turned(c.project, ids);
    Circuit circuit(tried);
    const Sweep sweep(tried, circuit, c.cancelled);
    for (const int p : alone_) amps_.push_back(sweep.part(p).amps.value);
  }
  double amps(int lamp) const {
    const auto it = std::find(alone_.begin(), alone_.end(), lamp);
    if (it != alone_.end()) return amps_[static_cast<std::size_t>(it - alone_.begin())];
    const std::string& id = c_.part(lamp).id;
    return c_.mayTry() ? bestAmps(turned(c_.project, {id}), id) : 0;
  }

 private:
  const CheckContext& c_;
  std::vector<int> alone_;
  std::vector<double> amps_;
};

void applyLedReversed(CheckContext& c) {
  const WhenTurned tried(c);
  for (int p = 0; p < c.partCount(); ++p) {
    if (!mayBe(c, p)) continue;
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (c.cancelled && c.cancelled()) return;
    if (c.explained(part.id, {"led-reversed"})) continue;
    // Turned alone, or else together with the dark ones in its own chain.
    std::vector<std::string> chain{part.id};
    double would = tried.amps(p);
    if (would < darkAmps) {
      for (int other : c.circuit.island(c.circuit.islandOfPart(p)).parts)
        if (other != p && mayBe(c, other)) chain.push_back(c.part(other).id);
      if (chain.size() > 1 && c.mayTry()) would = bestAmps(turned(c.project, chain), part.id);
    }
    if (would < darkAmps) continue;

    Finding f;
    f.rule = "led-reversed";
    f.severity = Severity::warning;
    f.parts = chain;
    const int island = c.circuit.islandOfPart(p);
    const Peak& peak = c.sweep.part(p).volts;
    f.pose = c.sweep.poseOf(island, peak.state);
    std::string source;
    for (int pin : c.circuit.island(island).pins)
      if (const CircuitPin& held = c.circuit.pins()[static_cast<std::size_t>(pin)];
          f.pose.contains(c.pinName(held)) && source.empty()) {
        source = c.pinName(held);
        f.pins.push_back(source);
      }
    if (source.empty()) source = "5 V";
    f.title = say("{} faces against the current", part.name);
    f.reason = say(
        "{} reaches its short leg, so no current can flow and it stays dark whatever the program "
        "does.",
        source);
    const bool burns = kind->burnsAmps > 0 && exceeds(would, kind->burnsAmps);
    f.reason.add(
        burns ? say("Turned, it gets {} and burns out: it needs a resistor as well.", asAmps(would))
              : say("Turned, it gets {}.", asAmps(would)));
    f.figures = {{"amps", c.sweep.part(p).amps.value},
                 {"amps_turned", would},
                 {"reverse_volts", peak.value}};
    for (const Leg& leg : part.legs)
      if (leg.in) f.sockets.push_back(*leg.in);
    if (burns && chain.size() == 1) {
      if (auto made = c.mayTry()
                          ? limited(turned(c.project, chain), part.id, 0, nullptr, c.cancelled)
                          : std::nullopt)
        f.remedies.push_back({say("Turn it round, with {} in its path", ohmsText(made->ohms)),
                              std::move(made->remedy.after)});
    } else if (chain.size() == 1) {
      if (auto r = remedies::turn(c.project, part.id)) f.remedies.push_back(std::move(*r));
    } else {
      f.remedies.push_back({say("Turn them round"), turned(c.project, chain)});
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& ledReversedRule() {
  static const Rule rule = darkening(
      {"led-reversed", Severity::warning,
       "A lamp stays dark in all combinations and would light if it were turned.",
       "A lamp lets current through in one direction only: from its long leg to its short one.",
       "Turn it round: F does it in place.", false, applyLedReversed});
  return rule;
}

}  // namespace ignavo
