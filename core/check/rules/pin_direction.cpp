#include <algorithm>

#include "check/remedies.h"
#include "check/rules/inputs.h"
#include "check/rules/list.h"
#include "check/rules/presses.h"
#include "program/switching.h"

namespace ignavo {

namespace {

bool batteryOn(const CheckContext& c, int net) {
  const auto& legs = c.net(net).legs;
  return std::any_of(legs.begin(), legs.end(), [&](const LegRef& l) {
    const PartKind* kind = c.circuit.kindOf(l.part);
    return kind &&
           kind->print.legs[static_cast<std::size_t>(l.leg)].feeds != LegShape::Feeds::nothing;
  });
}

// What hangs on a pin: parts and other pins that are reached over resistors and contacts
// alone, not beyond a supply or a battery.
struct Hanging {
  std::vector<int> parts, nets;
};
Hanging hanging(const CheckContext& c, const CircuitPin& pin) {
  Hanging out{{}, {pin.net}};
  for (std::size_t i = 0; i < out.nets.size(); ++i) {
    const int net = out.nets[i];
    if (c.circuit.supplyVolts(net) || batteryOn(c, net)) continue;
    for (const LegRef& leg : c.net(net).legs)
      if (std::find(out.parts.begin(), out.parts.end(), leg.part) == out.parts.end())
        out.parts.push_back(leg.part);
    for (const OhmicEdge& edge : c.circuit.edges()) {
      if (edge.netA != net && edge.netB != net) continue;
      const int next = edge.netA == net ? edge.netB : edge.netA;
      if (std::find(out.nets.begin(), out.nets.end(), next) == out.nets.end())
        out.nets.push_back(next);
    }
  }
  return out;
}

// Another pin there that does what this one does not: one that reads what this one feeds,
// or one that switches what this one watches.
bool sharedWith(const CheckContext& c, const Hanging& there, const CircuitPin& pin, bool reader) {
  return std::any_of(c.circuit.pins().begin(), c.circuit.pins().end(), [&](const CircuitPin& o) {
    if (&o == &pin || c.circuit.supplyVolts(o.net)) return false;
    if (std::find(there.nets.begin(), there.nets.end(), o.net) == there.nets.end()) return false;
    const PinUse* use = c.use(o);
    return use && (reader ? use->isRead() && use->writers.empty() : !use->writers.empty());
  });
}

// The pins that steps of one stretch write: what stands side by side, between two waits.
std::vector<std::string> writtenBeside(const Steps& steps, std::size_t at) {
  const auto isPart = [&](std::size_t i) { return pinWritten(steps[i]).has_value(); };
  std::size_t from = at, to = at + 1;
  while (from > 0 && isPart(from - 1)) --from;
  while (to < steps.size() && isPart(to)) ++to;
  std::vector<std::string> out;
  for (std::size_t i = from; i < to; ++i) out.push_back(*pinWritten(steps[i]));
  return out;
}

// The step with the pins of its own stretch; those of each stretch of the lane.
struct Stretches {
  const Step* step = nullptr;
  std::vector<std::string> mine;
  std::vector<std::vector<std::string>> all;
};
void walk(const Steps& steps, const std::string& id, Stretches& out) {
  for (std::size_t i = 0; i < steps.size(); ++i) {
    if (steps[i].id == id) out.step = &steps[i], out.mine = writtenBeside(steps, i);
    if (pinWritten(steps[i]) && (i == 0 || !pinWritten(steps[i - 1])))
      out.all.push_back(writtenBeside(steps, i));
    for (const auto& [key, body] : steps[i].bodies) walk(body, id, out);
  }
}

bool holds(const std::vector<std::string>& list, const std::string& what) {
  return std::find(list.begin(), list.end(), what) != list.end();
}

// A pin that the step may have meant, and what speaks for it.
struct MeantPin {
  const CircuitPin* pin = nullptr;
  enum Why { unused, neverSo, leftOut } why = unused;
};

// Where a step that sets the button's pin was copied and not changed: the one lamp that no step
// gives this level, or that its neighbours switch and this stretch leaves out.
std::optional<MeantPin> meantBy(const CheckContext& c, const CircuitPin& pin,
                                const std::vector<std::string>& writers) {
  const Program* program = c.program(pin.board);
  Stretches found;
  for (const auto& lane : program->lanes)
    if (!found.step) found.all.clear(), walk(lane->steps, writers.front(), found);
  if (!found.step || writers.size() > 1) return std::nullopt;
  const Expr* to = levelOf(*found.step);
  const auto level = to ? namedLevel(*to) : std::nullopt;
  std::vector<MeantPin> never, left;
  for (const CircuitPin& other : c.circuit.pins()) {
    const PinUse* use = c.use(other);
    if (&other == &pin || other.ref.board != pin.ref.board || !use || use->writers.empty())
      continue;
    const Hanging on = hanging(c, other);
    if (std::none_of(on.parts.begin(), on.parts.end(),
                     [&](int q) { return c.circuit.kindOf(q)->shows != Shows::nothing; }) ||
        holds(found.mine, other.name))
      continue;
    const Switching s = switchingOf(*program, other.name);
    if (level && !(*level ? s.mayGoHigh : s.mayGoLow)) never.push_back({&other, MeantPin::neverSo});
    if (std::any_of(found.all.begin(), found.all.end(),
                    [&](const auto& stretch) { return holds(stretch, other.name); }))
      left.push_back({&other, MeantPin::leftOut});
  }
  return never.size() == 1                   ? std::optional(never.front())
         : left.size() == 1 && never.empty() ? std::optional(left.front())
                                             : std::nullopt;
}

// The one pin that nothing uses and that has the other sort of part on it.
std::optional<MeantPin> unusedFor(const CheckContext& c, const CircuitPin& pin, bool lamp) {
  std::vector<const CircuitPin*> meant;
  for (const CircuitPin& other : c.circuit.pins()) {
    if (other.ref.board != pin.ref.board || !c.wired(other) || c.use(other)) continue;
    const Hanging on = hanging(c, other);
    if (std::any_of(on.parts.begin(), on.parts.end(), [&](int q) {
          const PartKind* kind = c.circuit.kindOf(q);
          return lamp ? kind->shows != Shows::nothing : kind->sweepable() || kind->senses;
        }))
      meant.push_back(&other);
  }
  if (meant.size() != 1) return std::nullopt;
  return MeantPin{meant.front(), MeantPin::unused};
}

// A fight of the pin that goes through the button: it only comes of it that the step sets the pin
// of a button. Any other has a reason, and a mend, of its own.
std::vector<Finding>::iterator fightThrough(CheckContext& c, const std::string& pin, int button) {
  return std::find_if(c.findings.begin(), c.findings.end(), [&](const Finding& g) {
    return g.rule == "pin-fight" && g.pins.front() == pin && button >= 0 &&
           holds(g.parts, c.part(button).id);
  });
}

// The current is told with the step, and is as grave as it is.
void takeFight(CheckContext& c, Finding& f, int button, std::vector<Finding>::iterator fight) {
  f.severity = fight->severity;
  f.pose = fight->pose;
  f.figures = fight->figures;
  const auto held = f.pose.find(c.part(button).id);
  const Place flows = asAmps(fight->figure("amps")), most = asAmps(fight->figure("most_amps"));
  f.consequence = held == f.pose.end()
                      ? say("As it is, {} flow through {}: above {} a pin is damaged.", flows,
                            f.pins.front(), most)
                      : say("While {}, {} flow through {}: above {} a pin is damaged.",
                            c.standing({{held->first, held->second}}), flows, f.pins.front(), most);
  c.findings.erase(fight);
}

void applyPinDirection(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || c.circuit.supplyVolts(pin.net)) continue;
    const std::string name = c.pinName(pin);
    int button = -1, shown = -1;
    const Hanging there = hanging(c, pin);
    for (int part : there.parts) {
      const PartKind* kind = c.circuit.kindOf(part);
      if (kind->sweepable() || kind->senses) button = button < 0 ? part : button;
      if (kind->shows != Shows::nothing || kind->gated) shown = shown < 0 ? part : shown;
    }
    // A button in the path of a lamp is no input.
    const bool written = !use->writers.empty() && button >= 0 && shown < 0;
    const bool read = use->writers.empty() && use->isRead() && shown >= 0 && button < 0;
    if ((!written && !read) || sharedWith(c, there, pin, written)) continue;
    auto meant = unusedFor(c, pin, written);
    if (!meant && written) meant = meantBy(c, pin, use->writers);
    // A pin that is nowhere asked and for which no other is at hand may well be meant for what it
    // does; then the current is what there is to say.
    const auto fight = fightThrough(c, name, button);
    const bool mine = written && (use->isRead() || meant) && fight != c.findings.end();
    if (c.pinExplained(name, {"pin-fight"}) && !mine) continue;
    const Part& part = c.part(written ? button : shown);
    Finding f;
    f.rule = "pin-direction";
    f.severity = Severity::warning;
    f.pins = {name};
    f.parts = {part.id};
    f.steps = written ? use->writers : use->reading();
    f.sockets = {{pin.board, pin.name}};
    f.figures = {{"steps", static_cast<double>(f.steps.size())}};
    const std::string phrase = c.phraseAt(f.steps.front());
    if (written && meant && meant->why != MeantPin::unused) {
      f.title = say("“{}” sets the pin that {} is on", phrase, part.name);
      const Expr* to = levelOf(*c.project.step(f.steps.front()));
      f.reason =
          meant->why == MeantPin::neverSo
              ? say("Nothing sets {} {}: is {} meant?", meant->pin->name, to->text,
                    c.pinTitle(*meant->pin))
              : say("The steps around it set {}: is that one meant?", c.pinTitle(*meant->pin));
    } else if (written) {
      f.title = say("{} is set by a step, but {} hangs on it", name, part.name);
      f.reason = say(
          "“{}” makes the pin an output, and then it cannot feel what {} does. Which pin is meant?",
          phrase, part.name);
    } else {
      f.title = say("{} is only read, but {} hangs on it", name, part.name);
      f.reason = say("“{}” makes the pin an input, so nothing switches {} on. Which pin is meant?",
                     phrase, part.name);
    }
    if (mine) takeFight(c, f, button, fight);
    if (meant) {
      f.pins.push_back(c.pinName(*meant->pin));  // so nothing more is said of it
      if (auto made = remedies::changePin(c.project, pin.name, meant->pin->name, f.steps))
        f.remedies.push_back(std::move(*made));
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinDirectionRule() {
  static const Rule rule{
      "pin-direction",
      Severity::danger,
      "A step sets the pin of a button, or the pin of a lamp is only read.",
      "A pin is either an output or an input: it cannot feel what it sets itself.",
      "Change the pin in the step, or move the wire.",
      true,
      applyPinDirection};
  return rule;
}

}  // namespace ignavo
