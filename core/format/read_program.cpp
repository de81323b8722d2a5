#include "format/read_program.h"

#include <algorithm>

#include "format/file_words.h"
#include "parts/catalogue.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/signals.h"
#include "program/steps.h"
#include "text/plain.h"

namespace ignavo {

namespace {
using Code = FileProblem::Code;
}

void ProgramReader::read(const Json& j, const std::string& at) {
  Program program;
  program.board = json_.text(j, "board", at, "", true);
  const BoardItem* board = project_.board(program.board);
  if (!board) {
    if (j.contains("board")) json_.problem(at + ".board", Code::noSuchOwner, program.board);
    return;
  }
  if (project_.program(program.board))
    return json_.problem(at + ".board", Code::duplicateId, program.board);
  board_ = catalogue().boardKind(board->type);
  if (const auto pins = j.find("pins"); pins != j.end()) {
    if (!pins->is_object())
      json_.problem(at + ".pins", Code::wrongType, fileSay("an object"));
    else
      for (const auto& [pin, value] : pins->items()) {
        const std::string path = at + ".pins." + pin;
        if (!isPin(pin)) {
          json_.problem(path, Code::noPin, pin, program.board);
          continue;
        }
        if (!value.is_object()) {
          json_.problem(path, Code::wrongType, fileSay("an object"));
          continue;
        }
        PinSetting setting{
            pin, json_.text(value, "pull", path, ""), json_.text(value, "label", path, ""), {}};
        if (!setting.pull.empty() && setting.pull != "up" && setting.pull != "none") {
          json_.problem(path + ".pull", Code::notAChoice, setting.pull, "up, none");
          setting.pull.clear();
        }
        JsonReader::keepUnknown(value, setting.extras, {"pull", "label"});
        program.pins.push_back(std::move(setting));
      }
  }
  json_.list(
      j, "variables", limits::variables,
      [&](const Json& o, const std::string& place) { readVariable(o, place, program); }, at);
  json_.list(
      j, "lists", limits::lists,
      [&](const Json& o, const std::string& place) { readList(o, place, program); }, at);
  json_.list(
      j, "lanes", limits::lanes,
      [&](const Json& o, const std::string& place) {
        if (auto lane = readLane(o, place)) program.lanes.emplace_back(std::move(*lane));
      },
      at);
  json_.list(
      j, "own", limits::lanes,
      [&](const Json& o, const std::string& place) {
        if (auto own = readOwn(o, place, program)) program.lanes.emplace_back(std::move(*own));
      },
      at);
  JsonReader::keepUnknown(j, program.extras,
                          {"board", "pins", "variables", "lists", "lanes", "own"});
  project_.programs.emplace_back(std::move(program));
}

// The name of a variable or list that is not there yet; nothing when that was reported.
std::optional<std::string> ProgramReader::name(const Json& j, const std::string& at, bool taken) {
  const std::string name = json_.text(j, "name", at, "", true);
  if (j.contains("name") && !isName(name))
    json_.problem(at + ".name", Code::wrongType, fileSay("a name"));
  if (taken) json_.problem(at + ".name", Code::duplicateId, name);
  return taken || !isName(name) ? std::nullopt : std::optional(name);
}

void ProgramReader::readVariable(const Json& j, const std::string& at, Program& program) {
  const auto given = j.find("name");
  const bool taken = given != j.end() && given->is_string() &&
                     program.variable(plainLine(given->get<std::string>()));
  const auto found = name(j, at, taken);
  if (!found) return;
  Variable v;
  v.name = *found;
  if (const auto start = j.find("start"); start != j.end()) {
    const auto value = expression(*start, at + ".start", 1);
    if (value && value->isLiteral())
      v.start = *value;
    else if (value)
      json_.problem(at + ".start", Code::wrongType, fileSay("a number, a truth or a text"));
  }
  JsonReader::keepUnknown(j, v.extras, {"name", "start"});
  program.variables.push_back(std::move(v));
}

void ProgramReader::readList(const Json& j, const std::string& at, Program& program) {
  const auto given = j.find("name");
  const bool taken =
      given != j.end() && given->is_string() && program.list(plainLine(given->get<std::string>()));
  const auto found = name(j, at, taken);
  if (!found) return;
  NumberList l;
  l.name = *found;
  if (const auto items = j.find("items"); items != j.end() && items->is_array()) {
    for (std::size_t i = 0; i < items->size(); ++i) {
      const std::string place = fmt::format("{}.items[{}]", at, i);
      if (i >= limits::listItems) {
        json_.problem(at + ".items", Code::tooMany, std::to_string(limits::listItems));
        break;
      }
      if ((*items)[i].is_number())
        l.items.push_back((*items)[i].get<double>());
      else
        json_.problem(place, Code::wrongType, fileSay("a number"));
    }
  } else {
    json_.problem(at + ".items", items == j.end() ? Code::missing : Code::wrongType,
                  fileSay("a list"));
  }
  JsonReader::keepUnknown(j, l.extras, {"name", "items"});
  program.lists.push_back(std::move(l));
}

bool ProgramReader::isPin(const std::string& name) const {
  return board_ && std::any_of(board_->pins.begin(), board_->pins.end(), [&](const BoardPin& p) {
           return p.role == PinShape::Role::io && p.name == name;
         });
}

std::optional<Lane> ProgramReader::readLane(const Json& j, const std::string& at) {
  Lane lane;
  if (j.contains("id")) lane.id = json_.id(j, at);
  if (const auto signal = j.find("signal"); signal != j.end()) {
    if (!readSignal(*signal, at + ".signal", lane.trigger)) return std::nullopt;
    JsonReader::keepUnknown(j, lane.extras, {"id", "signal"});
    return lane;
  }
  if (const auto t = j.find("trigger"); t == j.end()) {
    json_.problem(at + ".trigger", Code::missing);
    return std::nullopt;
  } else if (!readTrigger(*t, at + ".trigger", lane.trigger)) {
    return std::nullopt;
  }
  readSteps(j, "steps", at, lane.steps, 1);
  JsonReader::keepUnknown(j, lane.extras, {"id", "trigger", "steps"});
  return lane;
}

bool ProgramReader::readTrigger(const Json& j, const std::string& at, Trigger& out) {
  if (!j.is_object()) {
    json_.problem(at, Code::wrongType, fileSay("an object"));
    return false;
  }
  out.on = json_.text(j, "on", at, "always", true);
  const TriggerKind* kind = triggerKind(out.on);
  if (!kind || kind->own || kind->keeps != TriggerKind::Keeps::nothing) {
    json_.problem(at + ".on", Code::unknownKind, out.on, fileSay("trigger"));
    return false;
  }
  std::set<std::string> known{"on"};
  for (const SlotKind& slot : kind->slots) {
    known.insert(slot.key);
    if (slot.type == SlotKind::Type::pin)
      out.pin = pinOf(j, slot.key.c_str(), at);
    else if (const auto value = j.find(slot.key); value != j.end())
      out.setField(slot.key, slotValue(*value, slot, at + "." + slot.key));
    else
      json_.problem(at + "." + slot.key, Code::missing), out.setField(slot.key, slot.defaultValue);
  }
  if (kind->startsAgain()) {
    known.insert("again");
    out.again = json_.text(j, "again", at, againKinds().front().name);
    if (againOf(out).name != out.again) {
      std::string names;
      for (const AgainKind& k : againKinds()) names += (names.empty() ? "" : ", ") + k.name;
      json_.problem(at + ".again", Code::notAChoice, out.again, names);
    }
    // What is usual is not written.
    if (&againOf(out) == &againKinds().front()) out.again.clear();
  }
  JsonReader::keepUnknown(j, out.extras, known);
  return true;
}

// {"to": {"pin", "as"} or {"var"}, "from": …}
bool ProgramReader::readSignal(const Json& j, const std::string& at, Trigger& out) {
  using Keeps = TriggerKind::Keeps;
  const auto to = j.is_object() ? j.find("to") : j.end();
  if (!j.is_object() || to == j.end() || !to->is_object()) {
    json_.problem(j.is_object() ? at + ".to" : at,
                  j.is_object() && to == j.end() ? Code::missing : Code::wrongType,
                  fileSay("an object"));
    return false;
  }
  Keeps keeps = Keeps::variable;
  if (!to->contains("var")) {
    const std::string as = json_.text(*to, "as", at + ".to", "digital");
    if (as != "digital" && as != "level")
      json_.problem(at + ".to.as", Code::notAChoice, as, "digital, level");
    keeps = as == "level" ? Keeps::level : Keeps::pin;
    out.pin = pinOf(*to, "pin", at + ".to");
  }
  for (const TriggerKind& kind : triggerKinds()) {
    if (kind.keeps != keeps) continue;
    out.on = kind.on;
    if (keeps == Keeps::variable)
      out.setField(variableKey, Expr::of(json_.text(*to, "var", at + ".to", "", true)));
    const SlotKind& slot = *kind.slot(keptKey);
    if (const auto from = j.find("from"); from != j.end()) {
      out.setField(keptKey, slotValue(*from, slot, at + ".from"));
    } else {
      json_.problem(at + ".from", Code::missing);
      out.setField(keptKey, slot.defaultValue);
    }
  }
  JsonReader::keepUnknown(j, out.extras, {"to", "from"});
  return true;
}

std::string ProgramReader::pinOf(const Json& j, const char* key, const std::string& at) {
  std::string pin = json_.text(j, key, at, "", true);
  if (pin.empty() || isPin(pin)) return pin;
  json_.problem(at + "." + key, Code::noPin, pin);
  return {};
}

void ProgramReader::readSteps(const Json& j, const char* key, const std::string& at, Steps& out,
                              int depth) {
  const auto held = j.find(key);
  if (held != j.end() && held->is_array() && held->empty()) return;  // nests nothing
  if (depth > limits::nesting)
    return json_.problem(JsonReader::join(at, key), Code::tooDeep, std::to_string(limits::nesting));
  json_.list(
      j, key, limits::steps,
      [&](const Json& o, const std::string& place) {
        if (auto step = readStep(o, place, depth)) out.push_back(std::move(*step));
      },
      at);
}

std::optional<Step> ProgramReader::readStep(const Json& j, const std::string& at, int depth) {
  if (++count_ > limits::steps) {
    if (count_ == limits::steps + 1)
      json_.problem(at, Code::tooMany, std::to_string(limits::steps));
    return std::nullopt;
  }
  const auto what = json_.needed(j, "do", at);
  const StepKind* kind = what ? stepKind(*what) : nullptr;
  if (!kind) {
    if (what) json_.problem(at + ".do", Code::unknownKind, *what, fileSay("step"));
    return std::nullopt;
  }
  Step step;
  step.kind = *what;
  if (j.contains("id")) step.id = json_.id(j, at);
  std::set<std::string> known{"id", "do"};
  for (const SlotKind& slot : kind->slots) {
    known.insert(slot.key);
    const auto it = j.find(slot.key);
    if (it == j.end() && slot.optional) continue;
    if (it == j.end()) {
      json_.problem(at + "." + slot.key, Code::missing);
      step.fields.emplace_back(slot.key, slot.defaultValue);
    } else {
      step.fields.emplace_back(slot.key, slotValue(*it, slot, at + "." + slot.key));
    }
  }
  for (const BodyKind& body : kind->bodies) {
    known.insert(body.key);
    step.bodies.emplace_back(body.key, Steps{});
    if (!j.contains(body.key) && !body.optional) json_.problem(at + "." + body.key, Code::missing);
    readSteps(j, body.key.c_str(), at, step.bodies.back().second, depth + 1);
  }
  JsonReader::keepUnknown(j, step.extras, known);
  return step;
}

Expr ProgramReader::slotValue(const Json& j, const SlotKind& slot, const std::string& at) {
  if (slot.type == SlotKind::Type::pin) {
    if (!j.is_string()) {
      json_.problem(at, Code::wrongType, fileSay("the name of a pin"));
      return slot.defaultValue;
    }
    const auto name = j.get<std::string>();
    if (!name.empty() && !isPin(name)) {
      json_.problem(at, Code::noPin, name);
      return slot.defaultValue;
    }
    return Expr::of(name);
  }
  if (slot.type == SlotKind::Type::text || slot.type == SlotKind::Type::variable ||
      slot.type == SlotKind::Type::list || slot.type == SlotKind::Type::own) {
    if (j.is_string())
      return Expr::of(json_.shown(j.get<std::string>(), at, limits::textLetters, false));
    json_.problem(at, Code::wrongType, fileSay("a text"));
    return slot.defaultValue;
  }
  if (slot.type == SlotKind::Type::key) return keyValue(j, at).value_or(slot.defaultValue);
  if (slot.type == SlotKind::Type::names || slot.type == SlotKind::Type::items ||
      slot.type == SlotKind::Type::inputs)
    return listValue(j, slot, at);
  auto value = expression(j, at, 1);
  if (!value) return slot.defaultValue;
  if (slot.type == SlotKind::Type::level && value->shape == Expr::Shape::text &&
      value->text != "high" && value->text != "low") {
    json_.problem(at, Code::notAChoice, value->text, fileSay("high, low or a truth value"));
    return slot.defaultValue;
  }
  if (slot.type == SlotKind::Type::number) {
    if (value->shape == Expr::Shape::text || value->shape == Expr::Shape::truth) {
      json_.problem(at, Code::wrongType, fileSay("a number"));
      return slot.defaultValue;
    }
    if (value->shape == Expr::Shape::number &&
        !(value->number >= slot.min && value->number <= slot.max)) {
      json_.problem(at, Code::outOfRange, fmt::format("{} to {}", slot.min, slot.max));
      return slot.defaultValue;
    }
  }
  return *value;
}

// The fields of those keys, each of which must be there.
std::optional<Expr> ProgramReader::operands(const Json& j, const std::vector<std::string>& keys,
                                            const std::string& at, int depth, Expr e) {
  for (const std::string& key : keys) {
    const std::string place = at + "." + key;
    const auto held = j.find(key);
    if (held == j.end()) {
      json_.problem(place, Code::missing);
      return std::nullopt;
    }
    if (e.shape == Expr::Shape::get && fieldKind(key) != FieldKind::whole) {
      if (fieldKind(key) == FieldKind::key) {
        auto name = keyValue(*held, place);
        if (!name) return std::nullopt;
        e.args.emplace_back(key, std::move(*name));
        continue;
      }
      if (!held->is_string()) {
        json_.problem(place, Code::wrongType, fileSay("a name"));
        return std::nullopt;
      }
      e.args.emplace_back(key, Expr::of(json_.text(j, key.c_str(), at, "")));
      continue;
    }
    const bool ends = e.shape == Expr::Shape::op && isRange(key);
    auto inner = ends ? range(*held, place, depth + 1) : expression(*held, place, depth + 1);
    if (!inner) return std::nullopt;
    e.args.emplace_back(key, std::move(*inner));
  }
  return e;
}

// Both ends, as a list.
std::optional<Expr> ProgramReader::range(const Json& j, const std::string& at, int depth) {
  if (!j.is_array() || j.size() != 2) {
    json_.problem(at, Code::wrongType, fileSay("a range [from, to]"));
    return std::nullopt;
  }
  Expr out;
  out.shape = Expr::Shape::list;
  for (std::size_t i = 0; i < 2; ++i) {
    auto end = expression(j[i], fmt::format("{}[{}]", at, i), depth + 1);
    if (!end) return std::nullopt;
    out.args.emplace_back("", std::move(*end));
  }
  return out;
}

std::optional<Expr> ProgramReader::sensed(const Json& j, const Json& sig, const std::string& at,
                                          int depth) {
  const SignalKind* kind = sig.is_string() ? signalKind(sig.get<std::string>()) : nullptr;
  if (!kind) {
    json_.problem(at + ".sig", Code::unknownKind,
                  sig.is_string() ? sig.get<std::string>() : sig.dump(), fileSay("signal"));
    return std::nullopt;
  }
  Expr e;
  e.shape = Expr::Shape::sig;
  e.text = kind->name;
  for (const SignalKind::Operand& operand : kind->operands) {
    const std::string place = at + "." + operand.key;
    const auto held = j.find(operand.key);
    const bool flag = operand.is == SignalKind::Operand::Is::flag;
    if (held == j.end()) {
      if (flag) e.args.emplace_back(operand.key, Expr::of(false));
      if (flag || kind->mayLack(operand.key)) continue;
      json_.problem(place, Code::missing);
      return std::nullopt;
    }
    if (flag && !held->is_boolean()) {
      json_.problem(place, Code::wrongType, fileSay("true or false"));
      return std::nullopt;
    }
    auto inner = expression(*held, place, depth + 1);
    if (!inner) return std::nullopt;
    e.args.emplace_back(operand.key, std::move(*inner));
  }
  return e;
}

std::optional<Expr> ProgramReader::expression(const Json& j, const std::string& at, int depth) {
  if (depth > limits::nesting) {
    json_.problem(at, Code::tooDeep, std::to_string(limits::nesting));
    return std::nullopt;
  }
  if (j.is_number()) return Expr::of(j.get<double>());
  if (j.is_boolean()) return Expr::of(j.get<bool>());
  if (j.is_string())
    return Expr::of(json_.shown(j.get<std::string>(), at, limits::textLetters, false));
  if (!j.is_object()) {
    json_.problem(at, Code::wrongType, fileSay("a value"));
    return std::nullopt;
  }
  if (const auto get = j.find("get"); get != j.end()) {
    const GetterKind* getter = get->is_string() ? getterKind(get->get<std::string>()) : nullptr;
    if (!getter) {
      json_.problem(at + ".get", Code::unknownKind,
                    get->is_string() ? get->get<std::string>() : get->dump(), fileSay("value"));
      return std::nullopt;
    }
    if (!getter->asksPin()) {
      Expr e;
      e.shape = Expr::Shape::get;
      e.text = getter->name;
      return operands(j, getter->fields(), at, depth, std::move(e));
    }
    std::string pin = json_.text(j, "pin", at, "", true);
    if (!pin.empty() && !isPin(pin)) {
      json_.problem(at + ".pin", Code::noPin, pin);
      pin.clear();
    }
    Expr reading = Expr::readPin(std::move(pin));
    reading.text = getter->name;
    return reading;
  }
  if (const auto sig = j.find("sig"); sig != j.end()) return sensed(j, *sig, at, depth);
  if (const auto op = j.find("op"); op != j.end()) {
    const OperatorKind* kind = op->is_string() ? operatorKind(op->get<std::string>()) : nullptr;
    if (!kind) {
      json_.problem(at + ".op", Code::unknownKind,
                    op->is_string() ? op->get<std::string>() : op->dump(), fileSay("operator"));
      return std::nullopt;
    }
    Expr e;
    e.shape = Expr::Shape::op;
    e.text = kind->name;
    return operands(j, kind->operands(), at, depth, std::move(e));
  }
  json_.problem(at, Code::wrongType, fileSay("a value"));
  return std::nullopt;
}

}  // namespace ignavo
