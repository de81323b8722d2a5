#include "project/program_model.h"

#include <algorithm>

namespace ignavo {

IGNAVO_VALUE_DEFINED(Expr);
bool Expr::operator==(const Expr&) const = default;
IGNAVO_VALUE_DEFINED(Step);
bool Step::operator==(const Step&) const = default;
IGNAVO_VALUE_DEFINED(Trigger);
bool Trigger::operator==(const Trigger&) const = default;
Trigger::Trigger(std::string when, std::string of, Fields with)
    : on(std::move(when)), pin(std::move(of)), fields(std::move(with)) {}
IGNAVO_VALUE_DEFINED(Lane);
bool Lane::operator==(const Lane&) const = default;
IGNAVO_VALUE_DEFINED(Variable);
bool Variable::operator==(const Variable&) const = default;
IGNAVO_VALUE_DEFINED(NumberList);
bool NumberList::operator==(const NumberList&) const = default;
IGNAVO_VALUE_DEFINED(Program);
bool Program::operator==(const Program&) const = default;

Expr Expr::of(double value) {
  Expr e;
  e.number = value;
  return e;
}

Expr Expr::of(bool value) {
  Expr e;
  e.shape = Shape::truth;
  e.truth = value;
  return e;
}

Expr Expr::of(std::string value) {
  Expr e;
  e.shape = Shape::text;
  e.text = std::move(value);
  return e;
}

namespace {
Expr getter(const char* name, std::string pin, const char* key = pinKey) {
  Expr e;
  e.shape = Expr::Shape::get;
  e.text = name;
  e.args.emplace_back(key, Expr::of(std::move(pin)));
  return e;
}
}  // namespace

void renamePin(Expr& e, const std::string& from, const std::string& to) {
  for (auto& [key, inner] : e.args) {
    if (key == pinKey && inner.text == from) inner.text = to;
    renamePin(inner, from, to);
  }
}

Expr Expr::readPin(std::string pin) { return getter("pin", std::move(pin)); }
Expr Expr::readVariable(std::string name) { return getter("var", std::move(name), variableKey); }
Expr Expr::readLevel(std::string pin) { return getter("level", std::move(pin)); }

Expr Expr::binary(std::string op, Expr a, Expr b) {
  Expr e;
  e.shape = Shape::op;
  e.text = std::move(op);
  e.args.emplace_back("a", std::move(a));
  e.args.emplace_back("b", std::move(b));
  return e;
}

namespace {
template <typename List>
auto* find(List& list, const std::string& key) {
  auto it = std::find_if(list.begin(), list.end(), [&](const auto& p) { return p.first == key; });
  return it == list.end() ? nullptr : &it->second;
}
}  // namespace

const Expr* Expr::arg(const std::string& key) const { return find(args, key); }
const Expr* Trigger::field(const std::string& key) const { return find(fields, key); }
void Trigger::setField(const std::string& key, Expr value) {
  if (Expr* held = find(fields, key))
    *held = std::move(value);
  else
    fields.emplace_back(key, std::move(value));
}
const Expr* Step::field(const std::string& key) const { return find(fields, key); }
Expr* Step::field(const std::string& key) { return find(fields, key); }
const Steps* Step::body(const std::string& key) const { return find(bodies, key); }
Steps* Step::body(const std::string& key) { return find(bodies, key); }

void Step::setField(const std::string& key, Expr value) {
  if (Expr* held = field(key))
    *held = std::move(value);
  else
    fields.emplace_back(key, std::move(value));
}

bool Program::hasSteps() const {
  return std::any_of(lanes.begin(), lanes.end(),
                     [](const auto& l) { return !l->steps.empty() || l->trigger.field(keptKey); });
}

bool Program::pulledUp(const std::string& pin) const {
  return std::any_of(pins.begin(), pins.end(),
                     [&](const PinSetting& p) { return p.pin == pin && p.pull == "up"; });
}

const Variable* Program::variable(const std::string& name) const {
  for (const Variable& v : variables)
    if (v.name == name) return &v;
  return nullptr;
}
const NumberList* Program::list(const std::string& name) const {
  for (const NumberList& l : lists)
    if (l.name == name) return &l;
  return nullptr;
}

std::string Program::labelOf(const std::string& pin) const {
  for (const PinSetting& setting : pins)
    if (setting.pin == pin) return setting.label;
  return {};
}

}  // namespace ignavo
