#include "program/expressions.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

#include "program/facts.h"
#include "program/signals.h"
#include "program/words.h"
#include "project/project.h"

namespace ignavo {

namespace {

template <typename Compare>
Cell comparedWhole(const Cell* c, NumberFault&) {
  return Cell::of(Compare{}(c[0].whole(), c[1].whole()));
}
template <typename Compare>
Cell comparedReal(const Cell* c, NumberFault&) {
  return Cell::of(Compare{}(c[0].real(), c[1].real()));
}

// A comparison, with the sign that holds just where it does not, and the one that differs from it
// for equal values only.
template <typename Compare>
OperatorKind comparison(const char* name, const char* inC, const char* opposite, const char* border,
                        OperatorKind::Is is = OperatorKind::Is::other) {
  OperatorKind k;
  k.name = name;
  k.phrase = "{a} " + k.name + " {b}";
  k.binds = 4;
  k.gives = OperatorKind::Gives::truth;
  k.whole = comparedWhole<Compare>;
  k.real = comparedReal<Compare>;
  k.inC = inC;
  k.is = is;
  k.opposite = opposite;
  k.border = border;
  return k;
}

OperatorKind logical(const char* name, const char* phrase, int binds, OperatorKind::Is is,
                     OperatorKind::Calculation calculation, const char* inC) {
  OperatorKind k;
  k.name = name;
  k.phrase = phrase;
  k.binds = binds;
  k.gives = OperatorKind::Gives::truth;
  k.takesTruth = true;
  k.whole = calculation;
  k.inC = inC;
  k.is = is;
  return k;
}

OperatorKind arithmetic(const char* name, const char* phrase, int binds,
                        OperatorKind::Calculation whole, OperatorKind::Calculation real,
                        const char* inC, const char* realC = "") {
  OperatorKind k;
  k.name = name;
  k.phrase = phrase;
  k.binds = binds;
  k.whole = whole;
  k.real = real;
  k.inC = inC;
  k.realC = realC;
  return k;
}

OperatorKind quotient(OperatorKind k) {
  k.is = OperatorKind::Is::quotient;
  return k;
}
OperatorKind rounding(OperatorKind k) {
  k.gives = OperatorKind::Gives::whole;
  return k;
}
OperatorKind workedOut(OperatorKind k) {
  k.realWorkedOut = true;
  return k;
}
// A sign between its operands is its own: they are single values or stand in brackets.
OperatorKind tightly(OperatorKind k) {
  k.operandsBind = 7;
  return k;
}

}  // namespace

const std::vector<OperatorKind>& operatorKinds() {
  using Is = OperatorKind::Is;
  using Gives = OperatorKind::Gives;
  static const std::vector<OperatorKind> kinds = [] {
    std::vector<OperatorKind> all{
        logical(
            "or", "{a} or {b}", 1, Is::disjunction,
            [](const Cell* c, NumberFault&) { return Cell::of(c[0].truth() || c[1].truth()); },
            "||"),
        logical(
            "and", "{a} and {b}", 2, Is::conjunction,
            [](const Cell* c, NumberFault&) { return Cell::of(c[0].truth() && c[1].truth()); },
            "&&"),
        logical(
            "not", "not {a}", 0, Is::negation,
            [](const Cell* c, NumberFault&) { return Cell::of(!c[0].truth()); }, "!"),
        comparison<std::equal_to<>>("=", "==", "≠", "", Is::equality),
        comparison<std::not_equal_to<>>("≠", "!=", "=", "", Is::inequality),
        comparison<std::less<>>("<", "<", "≥", "≤"),
        comparison<std::less_equal<>>("≤", "<=", ">", "<"),
        comparison<std::greater<>>(">", ">", "≤", "≥"),
        comparison<std::greater_equal<>>("≥", ">=", "<", ">"),
        arithmetic(
            "+", "{a} + {b}", 5,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(whole::sum(c[0].whole(), c[1].whole(), f));
            },
            [](const Cell* c, NumberFault&) { return Cell::of(c[0].real() + c[1].real()); }, "+"),
        arithmetic(
            "-", "{a} - {b}", 5,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(whole::difference(c[0].whole(), c[1].whole(), f));
            },
            [](const Cell* c, NumberFault&) { return Cell::of(c[0].real() - c[1].real()); }, "-"),
        arithmetic(
            "*", "{a} × {b}", 6,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(whole::product(c[0].whole(), c[1].whole(), f));
            },
            [](const Cell* c, NumberFault&) { return Cell::of(c[0].real() * c[1].real()); }, "*"),
        quotient(arithmetic(
            "/", "{a} ÷ {b}", 6, nullptr,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(real::quotient(c[0].real(), c[1].real(), f));
            },
            "/", "quotient")),
        tightly(workedOut(arithmetic(
            "mod", "remainder of {a} ÷ {b}", 0,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(whole::remainder(c[0].whole(), c[1].whole(), f));
            },
            [](const Cell* c, NumberFault& f) {
              return Cell::of(real::remainder(c[0].real(), c[1].real(), f));
            },
            "remainder_of", "remainder_of_f"))),
        // With a not-a-number it is the second.
        arithmetic(
            "min", "smaller of {a} and {b}", 0,
            [](const Cell* c, NumberFault&) { return c[0].whole() < c[1].whole() ? c[0] : c[1]; },
            [](const Cell* c, NumberFault&) { return c[0].real() < c[1].real() ? c[0] : c[1]; },
            "smaller_of", "smaller_of_f"),
        arithmetic(
            "max", "larger of {a} and {b}", 0,
            [](const Cell* c, NumberFault&) { return c[0].whole() > c[1].whole() ? c[0] : c[1]; },
            [](const Cell* c, NumberFault&) { return c[0].real() > c[1].real() ? c[0] : c[1]; },
            "larger_of", "larger_of_f"),
        rounding(arithmetic(
            "round", "round {a}", 0, [](const Cell* c, NumberFault&) { return c[0]; },
            [](const Cell* c, NumberFault&) { return Cell::of(rounded(c[0].real())); }, "",
            "rounded")),
        arithmetic(
            "abs", "size of {a}", 0,
            [](const Cell* c, NumberFault& f) { return Cell::of(whole::size(c[0].whole(), f)); },
            [](const Cell* c, NumberFault&) { return Cell::of(std::abs(c[0].real())); }, "size_of",
            "size_of_f"),
        arithmetic(
            "map", "map {a} from {from} to {to}", 0, nullptr,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(
                  real::mapped(c[0].real(), c[1].real(), c[2].real(), c[3].real(), c[4].real(), f));
            },
            "", "mapped"),
    };
    for (OperatorKind& k : all)
      if (k.gives == Gives::number && !k.whole) k.gives = Gives::real;
    return all;
  }();
  return kinds;
}

bool isRange(const std::string& operandKey) { return operandKey == "from" || operandKey == "to"; }

std::vector<std::string> OperatorKind::operands() const {
  std::vector<std::string> out;
  for (const PhrasePiece& piece : piecesOf(phrase))
    if (piece.field) out.push_back(piece.text);
  return out;
}

double OperatorKind::calculated(double a, double b) const { return calculated({a, b}); }

double OperatorKind::calculated(const std::vector<double>& numbers) const {
  const bool asWhole = whole && std::all_of(numbers.begin(), numbers.end(), isWhole);
  std::vector<Cell> operands;
  for (const double n : numbers)
    operands.push_back(takesTruth ? Cell::of(n != 0)
                       : asWhole  ? literal(n)
                                  : Cell::of(static_cast<float>(n)));
  NumberFault fault = NumberFault::none;
  if (takesTruth) return number(whole(operands.data(), fault), ValueType::truth);
  const Cell value = asWhole ? whole(operands.data(), fault) : real(operands.data(), fault);
  const bool isReal = gives == Gives::real || (gives == Gives::number && !asWhole);
  return number(value, isReal ? ValueType::real : ValueType::whole);
}

int operatorIndex(const std::string& name) {
  const auto& kinds = operatorKinds();
  for (std::size_t i = 0; i < kinds.size(); ++i)
    if (kinds[i].name == name) return static_cast<int>(i);
  return -1;
}

const OperatorKind* operatorKind(const std::string& name) {
  const int i = operatorIndex(name);
  return i < 0 ? nullptr : &operatorKinds()[static_cast<std::size_t>(i)];
}

const std::vector<GetterKind>& getterKinds() {
  static const std::vector<GetterKind> kinds = {
      {"pin", "{pin}", ValueType::truth, OpCode::readPin, "read_"},
      {"level", "level of {pin}", ValueType::real, OpCode::readLevel, "level_", true,
       "The level of which pin? For example: level of A0.", 100},
      {"volts", "volts at {pin}", ValueType::real, OpCode::readLevel, "volts_", true,
       "The volts at which pin? For example: volts at A0.", 5},
      {"var", "{name}", ValueType::whole, OpCode::load, ""},
      {"item", "item {index} of {list}", ValueType::whole, OpCode::item, ""},
      {"length", "length of {list}", ValueType::whole, OpCode::push, "", false, "", 1, false, false,
       true},
      {"seconds", "seconds since power-on", ValueType::real, OpCode::seconds, "", false, "", 1,
       false, true},
      {"random", "random from {from} to {to}", ValueType::whole, OpCode::random, "random_from",
       false, "", 1, true},
      {"key", "key {key} held", ValueType::truth, OpCode::readKey, "held_", false, "", 1, false,
       true}};
  return kinds;
}

FieldKind fieldKind(const std::string& key) {
  return key == pinKey        ? FieldKind::pin
         : key == variableKey ? FieldKind::variable
         : key == listKey     ? FieldKind::list
         : key == keyKey      ? FieldKind::key
                              : FieldKind::whole;
}

bool GetterKind::asksPin() const { return phrase.ends_with("{pin}"); }

std::vector<std::string> GetterKind::fields() const {
  std::vector<std::string> out;
  for (const PhrasePiece& piece : piecesOf(phrase))
    if (piece.field) out.push_back(piece.text);
  return out;
}

std::vector<std::string> GetterKind::operands() const {
  std::vector<std::string> out = fields();
  std::erase_if(out, [](const std::string& key) { return fieldKind(key) != FieldKind::whole; });
  return out;
}

bool changes(const Expr& e) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  return (kind && kind->changes) || std::any_of(e.args.begin(), e.args.end(), [](const auto& arg) {
           return changes(arg.second);
         });
}

bool needsTurns(const Expr& e) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  return (kind && kind->inTurns) || std::any_of(e.args.begin(), e.args.end(), [](const auto& arg) {
           return needsTurns(arg.second);
         });
}

const GetterKind* getterKind(const std::string& name) {
  for (const GetterKind& k : getterKinds())
    if (k.name == name) return &k;
  return nullptr;
}

std::vector<const Expr*> operandsOf(const Expr& e) {
  std::vector<const Expr*> out;
  if (const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr)
    for (const std::string& key : kind->operands()) out.push_back(e.arg(key));
  if (const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr)
    for (const SignalKind::Operand& operand : kind->operands) out.push_back(e.arg(operand.key));
  if (const OperatorKind* kind = e.shape == Expr::Shape::op ? operatorKind(e.text) : nullptr)
    for (const std::string& key : kind->operands()) {
      const Expr* operand = e.arg(key);
      if (!isRange(key)) {
        out.push_back(operand);
        continue;
      }
      for (std::size_t end = 0; end < 2; ++end)
        out.push_back(operand && end < operand->args.size() ? &operand->args[end].second : nullptr);
    }
  return out;
}

ValueType operandType(const Expr& e, const Types& types) {
  const OperatorKind* kind = operatorKind(e.text);
  if (!kind || kind->takesTruth) return ValueType::truth;
  if (!kind->whole) return ValueType::real;
  ValueType all = ValueType::whole;
  for (const Expr* operand : operandsOf(e))
    if (operand && typeOf(*operand, types) == ValueType::real) all = ValueType::real;
  return all;
}

ValueType Types::variable(const std::string& name) const {
  const auto it = variables_.find(name);
  return it == variables_.end() ? ValueType::whole : it->second;
}
ValueType Types::list(const std::string& name) const {
  const auto it = lists_.find(name);
  return it == lists_.end() ? ValueType::whole : it->second;
}

ValueType typeOf(const Expr& e, const Types& types) {
  switch (e.shape) {
    case Expr::Shape::number:
      return isWhole(e.number) ? ValueType::whole : ValueType::real;
    case Expr::Shape::truth:
      return ValueType::truth;
    case Expr::Shape::text:
      return ValueType::text;
    case Expr::Shape::get: {
      const GetterKind* k = getterKind(e.text);
      if (!k) return ValueType::whole;
      const Expr* named = e.arg(k->code == OpCode::load ? variableKey : listKey);
      if (k->code == OpCode::load) return types.variable(named ? named->text : std::string());
      if (k->code == OpCode::item) return types.list(named ? named->text : std::string());
      return k->gives;
    }
    case Expr::Shape::op: {
      const OperatorKind* k = operatorKind(e.text);
      if (!k) return ValueType::whole;
      switch (k->gives) {
        case OperatorKind::Gives::truth:
          return ValueType::truth;
        case OperatorKind::Gives::real:
          return ValueType::real;
        case OperatorKind::Gives::whole:
          return ValueType::whole;
        case OperatorKind::Gives::number:
          return operandType(e, types);
      }
      return ValueType::whole;
    }
    case Expr::Shape::sig: {
      const SignalKind* k = signalKind(e.text);
      if (!k || !k->chooses) return k ? k->gives : ValueType::whole;
      const Expr *yes = e.arg("then"), *no = e.arg("else");
      return joined(yes ? typeOf(*yes, types) : ValueType::whole,
                    no ? typeOf(*no, types) : ValueType::whole);
    }
    default:
      return ValueType::whole;
  }
}

namespace {

// As short as it can be told from its neighbours, without an exponent.
std::string numberText(double number) {
  char text[64];
  const auto end = isWhole(number)
                       ? std::to_chars(text, text + sizeof text, static_cast<std::int32_t>(number))
                       : std::to_chars(text, text + sizeof text, static_cast<float>(number),
                                       std::chars_format::fixed);
  return {text, end.ptr};
}

}  // namespace

std::string phraseOf(const Expr& e, bool nested) {
  switch (e.shape) {
    case Expr::Shape::number:
      return numberText(e.number);
    case Expr::Shape::truth:
      return e.truth ? "true" : "false";
    case Expr::Shape::text:
      return namedLevel(e) ? e.text : quotedText(e.text);
    case Expr::Shape::get: {
      const GetterKind* k = getterKind(e.text);
      if (!k || (k->asksPin() && !e.arg(pinKey))) return e.text;
      if (k->code == OpCode::load) {
        const Expr* name = e.arg(variableKey);
        const std::string text = nameText(name ? name->text : std::string());
        return text.starts_with('"') ? "variable " + text : text;
      }
      const std::string s = filled(k->phrase, [&](const std::string& key) {
        const Expr* field = e.arg(key);
        if (!field) return std::string();
        switch (fieldKind(key)) {
          case FieldKind::pin:
          case FieldKind::key:
            return field->text;
          case FieldKind::variable:
          case FieldKind::list:
            return nameText(field->text);
          case FieldKind::whole:
            break;
        }
        return phraseOf(*field, true);
      });
      return nested && !k->operands().empty() ? "(" + s + ")" : s;
    }
    case Expr::Shape::sig: {
      const SignalKind* k = signalKind(e.text);
      if (!k) return e.text;
      std::string s = filled(k->phrase, [&](const std::string& key) {
        const Expr* operand = e.arg(key);
        if (!operand) return std::string();
        const std::string& unit = k->operand(key)->unit;
        return phraseOf(*operand, true) +
               (operand->isLiteral() && !unit.empty() ? " " + unit : std::string());
      });
      const Expr* set = e.arg(k->flagKey());
      if (set && set->truth) s += " " + k->flag;
      return nested ? "(" + s + ")" : s;
    }
    case Expr::Shape::list: {  // a range
      std::string out;
      for (const auto& [key, end] : e.args) out += (out.empty() ? "" : " … ") + phraseOf(end, true);
      return out;
    }
    case Expr::Shape::op: {
      const OperatorKind* k = operatorKind(e.text);
      const Expr* a = e.arg(firstOperand);
      const Expr* b = e.arg(secondOperand);
      if (!k || !a) return e.text;
      // A pin compared with true or false reads as a sentence.
      const bool sentence = k->is == OperatorKind::Is::equality && typeOf(*a) == ValueType::truth &&
                            a->shape == Expr::Shape::get && b && b->shape == Expr::Shape::truth;
      const std::string s = sentence ? phraseOf(*a) + (b->truth ? " is high" : " is low")
                                     : filled(k->phrase, [&](const std::string& key) {
                                         const Expr* operand = e.arg(key);
                                         return operand ? phraseOf(*operand, true) : std::string();
                                       });
      return nested ? "(" + s + ")" : s;
    }
    default:
      return e.text;
  }
}

}  // namespace ignavo
