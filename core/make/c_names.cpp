#include "make/c_names.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <set>

#include "make/c_expressions.h"
#include "program/names.h"
#include "program/own_steps.h"

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

CNames::CNames(const Program& program, std::function<int(const std::string&)> text)
    : program_(program), text_(std::move(text)), all_(program), types_(all_) {
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
  for (const auto& lane : program.lanes) {
    if (!isOwn(*lane)) continue;
    taken.clear();  // members of a structure of its own
    for (const std::string& input : inputsOf(*lane))
      inputs_.emplace(std::pair(&*lane, input), called(input));
  }
}

void CNames::within(const Lane* own) {
  within_ = own;
  types_ = own ? all_.within(ownName(*own)) : all_;
}
std::string CNames::input(const Lane& own, const std::string& name) const {
  const auto it = inputs_.find({&own, name});
  return it == inputs_.end() ? std::string() : it->second;
}
int CNames::key(const std::string& name) const {
  const auto it = std::find(keys_.begin(), keys_.end(), name);
  return it == keys_.end() ? -1 : static_cast<int>(it - keys_.begin());
}

std::string CNames::variable(const std::string& name) const {
  if (within_)
    if (const std::string held = input(*within_, name); !held.empty()) return "o->" + held;
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
  const char* const looked = "/* volatile: in memory at every moment, for whoever looks. */";
  const auto begin = [&](const NameUse& use) {
    if (use.changed && std::find(out.begin(), out.end(), looked) == out.end())
      out.insert(out.begin(), looked);
    return use.changed ? "static volatile" : "static";
  };
  for (const Variable& v : program_.variables) {
    // Compilers complain of what nobody needs.
    const NameUse use = useOfVariable(program_, v.name);
    if (!use.read && !use.changed) continue;
    const ValueType type = types_.variable(v.name);
    out.push_back(fmt::format("{} {} {} = {};", begin(use), cType(type), variable(v.name),
                              type != ValueType::text ? values.argument(v.start, type)
                              : v.start.shape == Expr::Shape::text
                                  ? std::to_string(text(v.start.text))
                                  : std::string("0")));
  }
  for (const NumberList& l : program_.lists) {
    const NameUse use = useOfList(program_, l.name);
    if (l.items.empty() || (!use.read && !use.changed)) continue;
    std::string items;
    for (const double item : l.items)
      items += (items.empty() ? "" : ", ") + values.argument(Expr::of(item), types_.list(l.name));
    out.push_back(fmt::format("{} {} {}[{}] = {{{}}};", begin(use), cType(types_.list(l.name)),
                              list(l.name), l.items.size(), items));
  }
  return out;
}

}  // namespace ignavo
