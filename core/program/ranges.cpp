#include "program/ranges.h"

#include <algorithm>
#include <cmath>

#include "program/facts.h"
#include "program/signals.h"

namespace ignavo {

namespace {

constexpr ValueRange anything;
constexpr double mostWhole = 2147483647;

ValueRange only(double value) { return {value, value}; }
ValueRange hull(ValueRange a, ValueRange b) {
  return {std::min(a.least, b.least), std::max(a.most, b.most)};
}
// What goes beyond the ends of whole numbers comes back at the other.
ValueRange wrapped(ValueRange r, bool whole) {
  return whole && (r.least < -mostWhole - 1 || r.most > mostWhole)
             ? ValueRange{-mostWhole - 1, mostWhole}
             : r;
}
ValueRange product(ValueRange a, ValueRange b) {
  if (!a.isKnown() || !b.isKnown()) return anything;
  const double all[] = {a.least * b.least, a.least * b.most, a.most * b.least, a.most * b.most};
  return {*std::min_element(std::begin(all), std::end(all)),
          *std::max_element(std::begin(all), std::end(all))};
}
// From between two ends to between two others; those are written out, or nothing is known.
ValueRange mapped(ValueRange a, ValueRange p, ValueRange q, ValueRange r, ValueRange s) {
  const bool plain = p.least == p.most && q.least == q.most && r.least == r.most &&
                     s.least == s.most && p.least != q.least;
  if (!plain || !a.isKnown()) return anything;
  const double slope = (s.least - r.least) / (q.least - p.least);
  return hull(only(r.least + (a.least - p.least) * slope),
              only(r.least + (a.most - p.least) * slope));
}
ValueRange rounded(ValueRange r) {
  return r.isKnown() ? ValueRange{std::round(r.least), std::round(r.most)} : r;
}

}  // namespace

bool Ranges::join(std::map<std::string, ValueRange>& names, const std::string& name,
                  ValueRange with, bool widen) {
  const auto [it, fresh] = names.emplace(name, with);
  if (fresh) return true;
  const ValueRange all = hull(it->second, with);
  if (all.least == it->second.least && all.most == it->second.most) return false;
  // Not at an end yet, and still growing: it may go on for ever.
  it->second = {all.least < it->second.least && widen ? anything.least : all.least,
                all.most > it->second.most && widen ? anything.most : all.most};
  return true;
}

Ranges::Ranges(const Program& program) : program_(program), types_(program) {
  for (const Variable& v : program.variables) join(variables_, v.name, of(v.start), false);
  for (const NumberList& l : program.lists)
    for (const double item : l.items) join(lists_, l.name, only(item), false);
  constexpr int patience = 12;
  for (int round = 0;; ++round) {
    bool more = false;
    const bool widen = round > patience;
    for (const auto& lane : program.lanes) {
      if (const Expr* name = lane->trigger.field(variableKey))
        if (const Expr* from = keptOf(lane->trigger))
          more = join(variables_, name->text, of(*from), widen) || more;
      forEachStep(lane->steps, [&](const Step& s) {
        const auto change = changeOf(s);
        if (!change || !change->value) return;
        ValueRange value = of(*change->value);
        if (change->adds) {
          const ValueRange held = of(Expr::readVariable(change->name));
          value = wrapped({held.least + value.least, held.most + value.most},
                          types_.variable(change->name) == ValueType::whole);
        } else if (!change->list && types_.variable(change->name) == ValueType::whole) {
          value = rounded(value);
        }
        more = join(change->list ? lists_ : variables_, change->name, value, widen) || more;
      });
    }
    if (!more) return;
  }
}

ValueRange Ranges::of(const Expr& e) const {
  const auto operand = [&](std::size_t i) {
    const std::vector<const Expr*> all = operandsOf(e);
    return i < all.size() && all[i] ? of(*all[i]) : only(0);
  };
  if (e.shape == Expr::Shape::number) return only(e.number);
  if (e.shape == Expr::Shape::truth) return only(e.truth ? 1 : 0);
  const ValueType type = typeOf(e, types_);
  if (type == ValueType::text) return anything;
  if (type == ValueType::truth && e.shape != Expr::Shape::get) {
    const Outcome out = outcome(e);
    return {out.mayFail ? 0.0 : 1.0, out.mayHold ? 1.0 : 0.0};
  }
  if (e.shape == Expr::Shape::get) {
    const GetterKind* kind = getterKind(e.text);
    const Expr* named = e.arg(kind && kind->code == OpCode::load ? variableKey : listKey);
    if (!kind) return anything;
    if (kind->counts) {
      const NumberList* list = named ? program_.list(named->text) : nullptr;
      return only(list ? static_cast<double>(list->items.size()) : 0);
    }
    switch (kind->code) {
      case OpCode::load:
      case OpCode::item: {
        const auto& names = kind->code == OpCode::load ? variables_ : lists_;
        const auto it = names.find(named ? named->text : std::string());
        return it == names.end() ? anything : it->second;
      }
      case OpCode::random:
        return rounded(hull(operand(0), operand(1)));
      case OpCode::readPin:
        return {0, 1};
      case OpCode::readLevel:
        return {0, kind->full};
      case OpCode::seconds:
        return {0, anything.most};
      default:
        return type == ValueType::truth ? ValueRange{0, 1} : anything;
    }
  }
  if (const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr) {
    const Expr *then = e.arg("then"), *otherwise = e.arg("else");
    if (kind->chooses && then && otherwise) return hull(of(*then), of(*otherwise));
    const Expr *from = e.arg("from"), *to = e.arg("to");
    if (kind->gives == ValueType::whole && from && to) return rounded(hull(of(*from), of(*to)));
    return anything;
  }
  if (e.shape != Expr::Shape::op) return anything;
  const ValueRange exact = operandsOf(e).size() > 2
                               ? mapped(operand(0), operand(1), operand(2), operand(3), operand(4))
                               : calculated(e, operand(0), operand(1), type == ValueType::whole);
  if (type != ValueType::real) return exact;
  // Floats round with each operation.
  constexpr double share = 1e-5;
  return {exact.least - std::abs(exact.least) * share, exact.most + std::abs(exact.most) * share};
}

ValueRange Ranges::calculated(const Expr& e, ValueRange a, ValueRange b, bool whole) {
  if (e.text == "+") return wrapped({a.least + b.least, a.most + b.most}, whole);
  if (e.text == "-") return wrapped({a.least - b.most, a.most - b.least}, whole);
  if (e.text == "*") return wrapped(product(a, b), whole);
  if (e.text == "min") return {std::min(a.least, b.least), std::min(a.most, b.most)};
  if (e.text == "max") return {std::max(a.least, b.least), std::max(a.most, b.most)};
  if (e.text == "round") return rounded(a);
  if (e.text == "abs" && a.isKnown()) {
    const double most = std::max(std::abs(a.least), std::abs(a.most));
    return {a.least <= 0 && a.most >= 0 ? 0 : std::min(std::abs(a.least), std::abs(a.most)), most};
  }
  // The sign of the divisor, and less than it.
  if (e.text == "mod" && b.isKnown())
    return {std::min(0.0, whole && b.least < 0 ? b.least + 1 : b.least),
            std::max(0.0, whole && b.most > 0 ? b.most - 1 : b.most)};
  if (e.text == "/" && a.isKnown() && b.isKnown() && (b.least > 0 || b.most < 0))
    return product(a, {1 / b.most, 1 / b.least});
  return anything;
}

Ranges::Outcome Ranges::outcome(const Expr& test) const {
  if (test.shape == Expr::Shape::truth) return {test.truth, !test.truth};
  if (test.shape == Expr::Shape::get && typeOf(test, types_) == ValueType::truth &&
      !pinRead(test)) {
    const ValueRange held = of(test);
    return {held.most > 0, held.least <= 0};
  }
  if (test.shape != Expr::Shape::op) return {};
  const OperatorKind* kind = operatorKind(test.text);
  const Expr *first = operandOf(test, 0), *second = operandOf(test, 1);
  if (!kind || !first || kind->gives != OperatorKind::Gives::truth) return {};
  using Is = OperatorKind::Is;
  const Outcome a = outcome(*first);
  if (kind->is == Is::negation) return {a.mayFail, a.mayHold};
  if (!second) return {};
  if (kind->takesTruth) {
    const Outcome b = outcome(*second);
    if (kind->is == Is::conjunction) return {a.mayHold && b.mayHold, a.mayFail || b.mayFail};
    return {a.mayHold || b.mayHold, a.mayFail && b.mayFail};
  }
  // A pin's level is what it is; of numbers it is where they lie.
  const ValueType left = typeOf(*first, types_), right = typeOf(*second, types_);
  if (left == ValueType::text || right == ValueType::text) return {};
  const ValueRange x = of(*first), y = of(*second);
  const bool apart = x.most < y.least || y.most < x.least;
  const bool same = x.least == x.most && y.least == y.most && x.least == y.least;
  if (kind->is == Is::equality) return {!apart, !same};
  if (kind->is == Is::inequality) return {!same, !apart};
  // As it stands at the ends that suit it best and worst.
  const auto holds = [&](double l, double r) {
    return kind->calculated(std::clamp(l, -1e30, 1e30), std::clamp(r, -1e30, 1e30)) != 0;
  };
  const bool rises = kind->calculated(1, 0) != 0;  // > or ≥
  return {rises ? holds(x.most, y.least) : holds(x.least, y.most),
          !(rises ? holds(x.least, y.most) : holds(x.most, y.least))};
}

std::optional<ValueRange> reachedEnds(const Expr& value, const Program& program,
                                      const Ranges& ranges) {
  const Expr* asked = &value;
  // A variable that only a signal keeps is what that gives.
  if (const Expr* name = value.shape == Expr::Shape::get ? value.arg(variableKey) : nullptr) {
    int changes = 0;
    for (const auto& lane : program.lanes) {
      const Expr* kept = lane->trigger.field(variableKey);
      if (kept && kept->text == name->text) ++changes, asked = keptOf(lane->trigger);
      forEachStep(lane->steps, [&](const Step& s) {
        const auto change = changeOf(s);
        if (change && !change->list && change->name == name->text) changes += 2;
      });
    }
    if (changes != 1 || !asked) return std::nullopt;
  }
  const SignalKind* signal = asked->shape == Expr::Shape::sig ? signalKind(asked->text) : nullptr;
  const bool counts = signal && signal->gives == ValueType::whole;
  const GetterKind* getter = asked->shape == Expr::Shape::get ? getterKind(asked->text) : nullptr;
  const bool thrown = getter && getter->code == OpCode::random;
  if (asked->shape != Expr::Shape::number && !counts && !thrown) return std::nullopt;
  for (const auto& [key, inner] : asked->args)
    if (key != "on" && key != "reset" && inner.shape != Expr::Shape::number) return std::nullopt;
  return ranges.of(*asked);
}

}  // namespace ignavo
