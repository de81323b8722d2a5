#include <algorithm>

#include "bench/relocating.h"
#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// What is plugged into a strip besides the part itself.
struct Around {
  std::vector<std::pair<std::string, bool>> wires;  // id, is its "from"
  int others = 0;                                   // legs of other parts
  bool any() const { return !wires.empty() || others > 0; }
};

Around around(const CheckContext& c, const Part& part, const Socket& at) {
  Around out;
  const auto strip = stripOf(c.project, at);
  if (!strip) return out;
  for (const auto& wire : *c.project.wires) {
    if (stripOf(c.project, wire->from) == strip) out.wires.emplace_back(wire->id, true);
    if (stripOf(c.project, wire->to) == strip) out.wires.emplace_back(wire->id, false);
  }
  for (const auto& other : *c.project.parts)
    for (const Leg& leg : other->legs)
      if (other->id != part.id && leg.in && stripOf(c.project, *leg.in) == strip) ++out.others;
  return out;
}

std::string rowName(const Socket& s) {
  return "row " + s.point.substr(s.point.find_first_of("0123456789"));
}

// A wire of the used row goes to the other row, on its own side of the trench.
void addRemedy(const CheckContext& c, Finding& f, const Around& used, const Leg& other) {
  const auto strip = stripOf(c.project, *other.in);
  if (!strip) return;
  int index = 0;
  while (c.project.breadboards[static_cast<std::size_t>(index)].id != strip->breadboard) ++index;
  for (const auto& [wire, from] : used.wires)
    if (auto made = remedies::rewired(c.project, wire, from, {index, strip->strip})) {
      f.remedies.push_back(
          {say("Move the wire from {} to {}",
               (from ? c.project.wire(wire)->to : c.project.wire(wire)->from).point,
               rowName(*other.in)),
           std::move(*made)});
      return;
    }
}

void applyButtonBridged(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->pressable || kind->print.joined.size() < 2) continue;
    const Part& part = c.part(p);
    if (std::any_of(part.legs.begin(), part.legs.end(), [](const Leg& l) { return !l.in; }))
      continue;
    const auto& pairs = kind->print.joined;
    for (std::size_t k = 0; k < 2; ++k) {
      const auto leg = [&](int i) -> const Leg& { return part.legs[static_cast<std::size_t>(i)]; };
      const Leg &a = leg(pairs[k].first), &b = leg(pairs[k].second);
      const Leg &otherA = leg(pairs[1 - k].first), &otherB = leg(pairs[1 - k].second);
      if (around(c, part, *otherA.in).any() || around(c, part, *otherB.in).any()) continue;
      const Around left = around(c, part, *a.in), right = around(c, part, *b.in);
      if (!left.any() || !right.any()) continue;
      Finding f;
      f.rule = "button-bridged";
      f.severity = Severity::warning;
      f.parts = {part.id};
      f.sockets = {*a.in, *b.in};
      f.title = say("Pressing {} changes nothing", part.name);
      f.reason = say(
          "Its legs in {} and {} are always joined inside. Pressing joins {} to {}, and nothing "
          "is plugged in there.",
          a.in->point, b.in->point, rowName(*a.in), rowName(*otherA.in));
      f.figures = {{"ohms", 0}};
      addRemedy(c, f, right, otherB);
      addRemedy(c, f, left, otherA);
      c.findings.push_back(std::move(f));
      break;
    }
  }
}

}  // namespace

const Rule& buttonBridgedRule() {
  static const Rule rule =
      ofInputs({"button-bridged", Severity::warning,
                "Only two legs of a button are used, and these two are always joined.",
                "The circuit behaves as if the button were held down all the time.",
                "Use one leg of each row: pressing joins the upper row to the lower one.", false,
                applyButtonBridged});
  return rule;
}

}  // namespace ignavo
