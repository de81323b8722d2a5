#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/steps.h"

// Ready-made groups: ordinary steps that people often want together, on pins that are wired for
// them already, else on free ones.
namespace ignavo {

struct GroupKind {
  // A pin that the group needs, or as many as there are.
  struct Place {
    PinPart::Is is = PinPart::Is::lamp;
    bool dims = false;  // it must be able to
    bool many = false;  // all that are named, else all that are wired; two at least
  };
  std::string name;
  std::string phrase;  // as it is offered, with a "…" for each place: "blink …"
  // What it is known by. Where a pin stands between words they are split by "…".
  std::vector<std::string> heads;
  std::vector<Place> places;
  std::string help;
  // The steps as text. In braces: {lamp}, {on} and {off} for the level that lights it and the
  // other, {lit} for a brightness that {level} gives; {button}, {pressed} and {released}, {down}
  // for pressed as a signal; {level} a variable that nothing else uses. Lines from "each" to "end"
  // come once for each lamp.
  std::string steps;
};
const std::vector<GroupKind>& groupKinds();

struct ParsedGroup {
  std::optional<Steps> steps;
  Message problem;                   // where there are none
  std::vector<std::string> choices;  // phrases that say which is meant
  const GroupKind* kind = nullptr;
};
// Nothing where what was typed begins like no group.
std::optional<ParsedGroup> parseGroup(const std::string& typed, const Vocabulary& words);
// The phrases of all groups, each on pins that would do.
std::vector<std::string> groupPhrases(const Vocabulary& words);

}  // namespace ignavo
