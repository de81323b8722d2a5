#include "make/c_names.h"

#include <fmt/format.h>

#include <cctype>
#include <set>

#include "make/c_expressions.h"
#include "program/names.h"

namespace ignavo {

const char* cType(ValueType type) {
  switch (type) {
    case ValueType::truth:
      return "bool";
    case ValueType::whole:
      return "int32_t";
    case ValueType::real:
      return "float";
    case ValueType::text:
      return "uint16_t";
  }
  return "";
}

CNames::CNames(const Program& program) : program_(program), types_(program) {
  std::set<std::string> taken;
  const auto called = [&](const std::string& name) {
    std::string safe = "my_";
    for (const char c : name) safe += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    constexpr std::size_t most = 40;
    safe = safe.substr(0, most);
    std::string free = safe;
    for (int n = 2; !taken.insert(free).second; ++n) free = safe + "_" + std::to_string(n);
    return free;
  };
  for (const Variable& v : program.variables) variables_.emplace(v.name, called(v.name));
  for (const NumberList& l : program.lists)
    if (!l.items.empty()) lists_.emplace(l.name, called(l.name));
}

std::string CNames::variable(const std::string& name) const {
  const auto it = variables_.find(name);
  return it == variables_.end() ? std::string() : it->second;
}
std::string CNames::list(const std::string& name) const {
  const auto it = lists_.find(name);
  return it == lists_.end() ? std::string() : it->second;
}
int CNames::length(const std::string& list) const {
  const NumberList* held = program_.list(list);
  return held ? static_cast<int>(held->items.size()) : 0;
}

std::vector<std::string> CNames::declarations() const {
  std::vector<std::string> out;
  CExpressions values;
  for (const Variable& v : program_.variables) {
    // Compilers complain of what nobody needs.
    const NameUse use = useOfVariable(program_, v.name);
    if (!use.read && !use.changed) continue;
    const ValueType type = types_.variable(v.name);
    out.push_back(fmt::format("static {} {} = {};", cType(type), variable(v.name),
                              type == ValueType::text ? "0" : values.argument(v.start, type)));
  }
  for (const NumberList& l : program_.lists) {
    const NameUse use = useOfList(program_, l.name);
    if (l.items.empty() || (!use.read && !use.changed)) continue;
    std::string items;
    for (const double item : l.items)
      items += (items.empty() ? "" : ", ") + values.argument(Expr::of(item), types_.list(l.name));
    out.push_back(fmt::format("static {} {}[{}] = {{{}}};", cType(types_.list(l.name)),
                              list(l.name), l.items.size(), items));
  }
  return out;
}

}  // namespace ignavo
