#include <fmt/format.h>

#include <algorithm>

#include "format/file_words.h"
#include "format/read_program.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/steps.h"
#include "text/plain.h"

// Own steps, and fields that hold several values: what inputs are given, what is said, keys.
namespace ignavo {

namespace {
using Code = FileProblem::Code;
}

// An own step: {"name", "inputs", "steps"}.
std::optional<Lane> ProgramReader::readOwn(const Json& j, const std::string& at,
                                           const Program& program) {
  const auto given = j.find("name");
  const bool taken = given != j.end() && given->is_string() &&
                     ownStep(program, plainLine(given->get<std::string>()));
  const auto called = name(j, at, taken);
  if (!called) return std::nullopt;
  Lane own;
  if (j.contains("id")) own.id = json_.id(j, at);
  own.trigger.on = ownTrigger;
  own.trigger.setField(ownNameKey, Expr::of(*called));
  Expr inputs;
  inputs.shape = Expr::Shape::list;
  if (const auto held = j.find("inputs"); held != j.end()) {
    const SlotKind names{"inputs", SlotKind::Type::names, "", inputs, 0, 0, 1};
    inputs = slotValue(*held, names, at + ".inputs");
  }
  own.trigger.setField(ownInputsKey, std::move(inputs));
  readSteps(j, "steps", at, own.steps, 1);
  JsonReader::keepUnknown(j, own.extras, {"id", "name", "inputs", "steps"});
  return own;
}

std::optional<Expr> ProgramReader::keyValue(const Json& j, const std::string& at) {
  const std::string key = j.is_string() ? keyOf(j.get<std::string>()) : std::string();
  if (!key.empty()) return Expr::of(key);
  if (j.is_string())
    json_.problem(at, Code::notAChoice, plainLine(j.get<std::string>()),
                  fileSay("a to z, 0 to 9, space, return, left, right, up, down"));
  else
    json_.problem(at, Code::wrongType, fileSay("the name of a key"));
  return std::nullopt;
}

// Names of inputs, what is said in a line, or what inputs are given: {"pause": 0.5}.
Expr ProgramReader::listValue(const Json& j, const SlotKind& slot, const std::string& at) {
  Expr out;
  out.shape = Expr::Shape::list;
  constexpr std::size_t most = 100;
  const bool byName = slot.type == SlotKind::Type::inputs;
  if (byName ? !j.is_object() : !j.is_array()) {
    json_.problem(at, Code::wrongType, byName ? fileSay("an object") : fileSay("a list"));
    return slot.defaultValue;
  }
  std::size_t i = 0;
  for (const auto& [key, value] : j.items()) {
    const std::string place = byName ? JsonReader::join(at, key) : fmt::format("{}[{}]", at, i);
    if (++i > most) {
      json_.problem(at, Code::tooMany, std::to_string(most));
      break;
    }
    if (slot.type == SlotKind::Type::names) {
      const std::string name = value.is_string() ? plainLine(value.get<std::string>()) : "";
      const bool twice = std::any_of(out.args.begin(), out.args.end(),
                                     [&](const auto& held) { return held.second.text == name; });
      if (twice)
        json_.problem(place, Code::duplicateId, name);
      else if (!isName(name) || letterCount(name) > limits::nameLetters)
        json_.problem(place, Code::wrongType, fileSay("a name"));
      else
        out.args.emplace_back("", Expr::of(name));
    } else if (auto read = expression(value, place, 1)) {
      out.args.emplace_back(byName ? plainLine(key) : std::string(), std::move(*read));
    }
  }
  return out;
}

}  // namespace ignavo
