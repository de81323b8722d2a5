#include "program/vocabulary.h"

#include <algorithm>

#include "program/own_steps.h"
#include "program/typed.h"

namespace ignavo {

using typed::lower;

namespace {

std::optional<std::string> known(const std::vector<std::string>& names, const std::string& typed) {
  for (const std::string& name : names)
    if (lower(name) == lower(typed)) return name;
  return std::nullopt;
}

}  // namespace

const PinPart* PinWords::part(PinPart::Is is) const {
  for (const PinPart& part : parts)
    if (part.is == is) return &part;
  return nullptr;
}

bool PinWords::onlyButtons() const {
  return !parts.empty() && std::all_of(parts.begin(), parts.end(), [](const PinPart& part) {
    return part.is == PinPart::Is::button;
  });
}

Vocabulary::Vocabulary(std::vector<std::string> pinNames, const Program* program)
    : pins(std::move(pinNames)) {
  if (!program) return;
  for (const Variable& v : program->variables) variables.push_back(v.name);
  for (const NumberList& l : program->lists) lists.push_back(l.name);
  for (const auto& lane : program->lanes) {
    if (!isOwn(*lane)) continue;
    own.push_back({ownName(*lane), inputsOf(*lane)});
    // In its steps they are variables like others.
    for (const std::string& input : own.back().inputs)
      if (!variable(input)) variables.push_back(input);
  }
}

std::optional<std::string> Vocabulary::pin(const std::string& typed) const {
  return known(pins, typed);
}

const PinWords* Vocabulary::about(const std::string& pin) const {
  for (const PinWords& words : wired)
    if (words.pin == pin) return &words;
  return nullptr;
}

const Vocabulary::Own* Vocabulary::ownStep(const std::string& typed) const {
  for (const Own& held : own)
    if (lower(held.name) == lower(typed)) return &held;
  return nullptr;
}

std::optional<std::string> Vocabulary::variable(const std::string& typed) const {
  return known(variables, typed);
}
std::optional<std::string> Vocabulary::list(const std::string& typed) const {
  return known(lists, typed);
}

}  // namespace ignavo
