#include "format/sound.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "format/file_words.h"
#include "parts/catalogue.h"
#include "program/facts.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "text/plain.h"

// The limits of the file, asked of a project that was edited. The reader asks the same of a file;
// tests/laws/tst_edits.cpp holds the two together.
namespace ignavo {

namespace {

using Code = FileProblem::Code;
using Found = std::optional<FileProblem>;

Found problem(std::string path, Code code, Message value, Message wanted = {}) {
  return FileProblem{std::move(path), code, std::move(value), std::move(wanted)};
}

Found tooMany(const char* what, std::size_t has, std::size_t most) {
  return has > most ? problem(what, Code::tooMany, std::to_string(most)) : std::nullopt;
}

Found badText(const std::string& path, const std::string& text, std::size_t most, bool lines) {
  if (letterCount(text) > most) return problem(path, Code::tooLong, std::to_string(most));
  if ((lines ? plainText(text) : plainLine(text)) != text)
    return problem(path, Code::wrongType, fileSay("a text without control characters"));
  return std::nullopt;
}

Found badPlace(const std::string& path, Point p) {
  return limits::isPlace(p)
             ? std::nullopt
             : problem(path, Code::outOfRange, fmt::format("-{0} to {0}", limits::farthestPitch));
}

Found badPart(const Part& part) {
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind) return problem(part.id, Code::unknownKind, part.type, fileSay("part"));
  if (auto bad = badText(part.id + ".name", part.name, limits::textLetters, false)) return bad;
  for (const auto& [key, value] : part.props) {
    const std::string path = part.id + "." + key;
    const double* number = std::get_if<double>(&value);
    if (!number) continue;
    const PropKind* prop = kind->prop(key);
    const double least = prop ? prop->min : -HUGE_VAL, most = prop ? prop->max : HUGE_VAL;
    if (!std::isfinite(*number) || !(*number >= least && *number <= most))
      return problem(path, Code::outOfRange,
                     prop ? fmt::format("{} to {}", least, most) : std::string("a number"));
  }
  return part.at ? badPlace(part.id + ".at", *part.at) : std::nullopt;
}

Found badWire(const Wire& wire) {
  if (wire.bends.size() > limits::bends)
    return problem(wire.id + ".bends", Code::tooMany, std::to_string(limits::bends));
  for (const Point& bend : wire.bends)
    if (auto bad = badPlace(wire.id + ".bends", bend)) return bad;
  return std::nullopt;
}

// One program against its board's pins.
class ProgramChecker {
 public:
  ProgramChecker(const Program& program, const BoardKind* board)
      : program_(program), board_(board) {}

  Found check(const Program* before) {
    for (const PinSetting& s : program_.pins) {
      if (!isPin(s.pin)) return problem("pins." + s.pin, Code::noPin, s.pin);
      if (auto bad = badText("pins." + s.pin + ".label", s.label, limits::textLetters, false))
        return bad;
    }
    for (auto bad : {tooMany("variables", program_.variables.size(), limits::variables),
                     tooMany("lists", program_.lists.size(), limits::lists)})
      if (bad) return bad;
    if (auto bad = badNames(program_.variables, "variables")) return bad;
    if (auto bad = badNames(program_.lists, "lists")) return bad;
    for (const Variable& v : program_.variables)
      if (auto bad = badExpression(v.start, 1, "variables." + v.name)) return bad;
    for (const NumberList& l : program_.lists) {
      if (auto bad = tooMany("items", l.items.size(), limits::listItems)) return bad;
      for (const double item : l.items)
        if (!std::isfinite(item))
          return problem("lists." + l.name, Code::wrongType, fileSay("a number"));
    }
    std::size_t steps = 0, own = 0;
    std::set<std::string> ownNames;
    for (const auto& lane : program_.lanes) {
      if (isOwn(*lane) && ++own && !ownNames.insert(ownName(*lane)).second)
        return problem(lane->id, Code::duplicateId, ownName(*lane));
      if (isOwn(*lane) && !isName(ownName(*lane)))
        return problem(lane->id, Code::wrongType, fileSay("a name"));
      forEachStep(lane->steps, [&](const Step&) { ++steps; });
      if (auto bad = tooMany("steps", steps, limits::steps)) return bad;
    }
    if (auto bad = tooMany("lanes", program_.lanes.size() - own, limits::lanes)) return bad;
    if (auto bad = tooMany("own", own, limits::lanes)) return bad;
    for (std::size_t i = 0; i < program_.lanes.size(); ++i) {
      const auto& lane = program_.lanes[i];
      const bool known = before && i < before->lanes.size() && before->lanes[i].sharesWith(lane);
      if (known) continue;
      if (!lane->trigger.pin.empty() && !isPin(lane->trigger.pin))
        return problem(lane->id, Code::noPin, lane->trigger.pin);
      const TriggerKind* kind = triggerKind(lane->trigger.on);
      if (!kind) return problem(lane->id, Code::unknownKind, lane->trigger.on, fileSay("trigger"));
      for (const auto& [key, value] : lane->trigger.fields)
        if (const SlotKind* slot = kind->slot(key))
          if (auto bad = badValue(value, *slot, signOf(lane->trigger))) return bad;
      if (auto bad = badSteps(lane->steps, 1, lane->id)) return bad;
    }
    return std::nullopt;
  }

 private:
  template <typename Named>
  static Found badNames(const std::vector<Named>& list, const std::string& path) {
    std::set<std::string> taken;
    for (const Named& each : list) {
      if (!isName(each.name)) return problem(path, Code::wrongType, fileSay("a name"));
      if (auto bad = badText(path, each.name, limits::nameLetters, false)) return bad;
      if (!taken.insert(each.name).second) return problem(path, Code::duplicateId, each.name);
    }
    return std::nullopt;
  }
  bool isPin(const std::string& name) const {
    return board_ && std::any_of(board_->pins.begin(), board_->pins.end(), [&](const BoardPin& p) {
             return p.role == PinShape::Role::io && p.name == name;
           });
  }
  Found badSteps(const Steps& steps, int depth, const std::string& in) const {
    if (steps.empty()) return std::nullopt;
    if (depth > limits::nesting) return problem(in, Code::tooDeep, std::to_string(limits::nesting));
    for (const Step& step : steps) {
      const StepKind* kind = stepKind(step.kind);
      if (!kind) return problem(step.id + ".do", Code::unknownKind, step.kind, fileSay("step"));
      for (const auto& [key, value] : step.fields)
        if (const SlotKind* slot = kind->slot(key))
          if (auto bad = badValue(value, *slot, phraseOf(step))) return bad;
      for (const auto& [key, body] : step.bodies)
        if (auto bad = badSteps(body, depth + 1, step.id)) return bad;
    }
    return std::nullopt;
  }
  Found badValue(const Expr& value, const SlotKind& slot, const std::string& path) const {
    if (slot.type == SlotKind::Type::pin && value.shape != Expr::Shape::text)
      return problem(path, Code::wrongType, fileSay("the name of a pin"));
    const bool named = slot.type == SlotKind::Type::variable || slot.type == SlotKind::Type::list ||
                       slot.type == SlotKind::Type::own || slot.type == SlotKind::Type::name ||
                       slot.type == SlotKind::Type::key;
    const bool several = slot.type == SlotKind::Type::names ||
                         slot.type == SlotKind::Type::inputs || slot.type == SlotKind::Type::items;
    if (several && value.shape != Expr::Shape::list)
      return problem(path, Code::wrongType, fileSay("a list"));
    if (slot.type == SlotKind::Type::key && keyOf(value.text).empty())
      return problem(path, Code::notAChoice, value.text, fileSay("the keys that there are"));
    if ((slot.type == SlotKind::Type::text || named) && value.shape != Expr::Shape::text)
      return problem(path, Code::wrongType, fileSay("a text"));
    if (slot.type == SlotKind::Type::pin)
      return value.text.empty() || isPin(value.text) ? std::nullopt
                                                     : problem(path, Code::noPin, value.text);
    if (auto bad = badExpression(value, 1, path)) return bad;
    if (slot.type == SlotKind::Type::number && value.shape == Expr::Shape::number &&
        !(value.number >= slot.min && value.number <= slot.max))
      return problem(path, Code::outOfRange, fmt::format("{} to {}", slot.min, slot.max));
    if (slot.type == SlotKind::Type::number &&
        (value.shape == Expr::Shape::text || value.shape == Expr::Shape::truth))
      return problem(path, Code::wrongType, fileSay("a number"));
    if (slot.type == SlotKind::Type::level && value.shape == Expr::Shape::text &&
        !namedLevel(value))
      return problem(path, Code::notAChoice, value.text, fileSay("high, low or a truth value"));
    return std::nullopt;
  }
  Found badExpression(const Expr& e, int depth, const std::string& path) const {
    if (depth > limits::nesting)
      return problem(path, Code::tooDeep, std::to_string(limits::nesting));
    if (e.shape == Expr::Shape::number && !std::isfinite(e.number))
      return problem(path, Code::wrongType, fileSay("a number"));
    if (e.shape == Expr::Shape::text)
      if (auto bad = badText(path, e.text, limits::textLetters, false)) return bad;
    if (e.shape == Expr::Shape::get) {
      const std::string* pin = pinRead(e);
      if (pin && !pin->empty() && !isPin(*pin)) return problem(path, Code::noPin, *pin);
    }
    for (const auto& [key, inner] : e.args)
      if (key != pinKey)
        if (auto bad = badExpression(inner, depth + 1, path)) return bad;
    return std::nullopt;
  }

  const Program& program_;
  const BoardKind* board_;
};

// The elements of a shared list that the list before does not hold at the same place.
template <typename T, typename Check>
Found eachFresh(const std::vector<Cow<T>>& now, const std::vector<Cow<T>>& before, Check check) {
  for (std::size_t i = 0; i < now.size(); ++i)
    if (!(i < before.size() && before[i].sharesWith(now[i])))
      if (auto bad = check(*now[i])) return bad;
  return std::nullopt;
}

}  // namespace

std::optional<FileProblem> unsound(const Project& now, const Project& before) {
  for (auto bad : {tooMany("parts", now.parts->size(), limits::parts),
                   tooMany("wires", now.wires->size(), limits::wires),
                   tooMany("boards", now.boards.size(), limits::boards),
                   tooMany("breadboards", now.breadboards.size(), limits::breadboards),
                   tooMany("meant", now.meant.size(), limits::meant),
                   tooMany("recordings", now.recordings.size(), limits::recordings),
                   badText("title", now.title, limits::textLetters, false),
                   badText("about", now.about, limits::aboutLetters, true)})
    if (bad) return bad;
  for (const auto* items : {&now.boards, &now.breadboards})
    for (const BoardItem& item : *items)
      if (auto bad = badPlace(item.id + ".at", item.at)) return bad;
  if (!now.parts.sharesWith(before.parts))
    if (auto bad = eachFresh(*now.parts, *before.parts, badPart)) return bad;
  if (!now.wires.sharesWith(before.wires))
    if (auto bad = eachFresh(*now.wires, *before.wires, badWire)) return bad;
  for (std::size_t i = 0; i < now.programs.size(); ++i) {
    const bool there = i < before.programs.size();
    if (there && before.programs[i].sharesWith(now.programs[i])) continue;
    const BoardItem* board = now.board(now.programs[i]->board);
    ProgramChecker checker(*now.programs[i], board ? catalogue().boardKind(board->type) : nullptr);
    if (auto bad = checker.check(there ? &*before.programs[i] : nullptr)) return bad;
  }
  return std::nullopt;
}

}  // namespace ignavo
