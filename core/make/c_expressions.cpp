#include "make/c_expressions.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <map>
#include <optional>

#include "make/c_names.h"
#include "program/facts.h"
#include "program/signals.h"

namespace ignavo {

namespace {

// A float is written with as few digits as tell it from its neighbours.
std::string floatText(double value) {
  std::string text = fmt::format("{}", static_cast<float>(value));
  if (text.find_first_of(".en") == std::string::npos) text += ".0";
  return text + "f";
}

std::string wholeText(double value) {
  // C has no negative numbers, only signs before them.
  if (value == std::numeric_limits<std::int32_t>::min()) return "(-2147483647L - 1)";
  return fmt::format("{}L", static_cast<std::int64_t>(value));
}

int bindingOf(const OperatorKind& kind) {
  static const std::map<std::string, int> signs = {{"||", 1}, {"&&", 2}, {"==", 3}, {"!=", 3},
                                                   {"<", 4},  {"<=", 4}, {">", 4},  {">=", 4},
                                                   {"+", 5},  {"-", 5},  {"*", 6},  {"/", 6}};
  const auto it = signs.find(kind.inC);
  return it == signs.end() ? 0 : it->second;
}

// The whole number that an expression without anything to look at gives, and whether it went round
// 2³² on the way: compilers warn of that.
struct Constant {
  std::int32_t value = 0;
  bool wrapped = false;
};
std::optional<Constant> constantOf(const Expr& e, const Types& types, const CNames* names) {
  if (e.shape == Expr::Shape::number && isWhole(e.number))
    return Constant{literal(e.number).whole()};
  // How many a list holds is written out, too.
  const GetterKind* getter = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  if (getter && getter->counts && names)
    return Constant{names->length(e.arg(listKey) ? e.arg(listKey)->text : std::string())};
  const OperatorKind* kind = e.shape == Expr::Shape::op ? operatorKind(e.text) : nullptr;
  // What leaves a whole number as it is, is not written out.
  if (const Expr* operand = operandOf(e, 0);
      kind && operand && !kind->isSign() && kind->whole && kind->inC.empty() &&
      kind->gives == OperatorKind::Gives::whole && operandType(e, types) == ValueType::whole)
    return constantOf(*operand, types, names);
  if (!kind || !kind->isSign() || !kind->whole || kind->gives != OperatorKind::Gives::number ||
      operandType(e, types) != ValueType::whole)
    return std::nullopt;
  Cell operands[2];
  Constant out;
  for (std::size_t i = 0; i < 2; ++i) {
    const Expr* operand = operandOf(e, static_cast<int>(i));
    const auto inner = operand ? constantOf(*operand, types, names) : std::nullopt;
    if (!inner) return std::nullopt;
    operands[i] = Cell::of(inner->value);
  }
  NumberFault fault = NumberFault::none;
  out.value = kind->whole(operands, fault).whole();
  out.wrapped = fault == NumberFault::wrapped;
  return out;
}

}  // namespace

std::string CExpressions::argument(const Expr& e, ValueType type) {
  const bool plain = e.shape == Expr::Shape::number && isWhole(e.number) &&
                     (type == ValueType::real || type == ValueType::whole);
  return plain ? fmt::format("{}", e.number) : text(e, type);
}

CExpressions::Piece CExpressions::piece(const Expr& e, ValueType type) {
  const ValueType is = typeOf(e, types());
  if (e.isLiteral()) return natural(e, type);
  return converted(natural(e, is), is, type);
}

CExpressions::Piece CExpressions::natural(const Expr& e, ValueType type) {
  switch (e.shape) {
    case Expr::Shape::number: {
      const Cell value = ignavo::converted(literal(e.number), typeOf(e), type);
      if (type == ValueType::truth) return {value.truth() ? "true" : "false"};
      const std::string text = type == ValueType::real
                                   ? floatText(isWhole(e.number) ? value.real() : e.number)
                                   : wholeText(value.whole());
      return {text, text.front() == '-' ? prefix : primary};
    }
    case Expr::Shape::truth:
    case Expr::Shape::text: {
      if (type == ValueType::text) {
        const bool words = e.shape == Expr::Shape::text && names_;
        return {words ? std::to_string(names_->text(e.text)) : std::string("0")};
      }
      const bool high = e.shape == Expr::Shape::truth ? e.truth : namedLevel(e).value_or(false);
      if (type == ValueType::whole) return {high ? "1L" : "0L"};
      if (type == ValueType::real) return {high ? "1.0f" : "0.0f"};
      if (e.shape == Expr::Shape::text) return {high ? "HIGH" : "LOW"};
      return {high ? "true" : "false"};
    }
    case Expr::Shape::get: {
      const std::string* pin = pinRead(e);
      const GetterKind* getter = getterKind(e.text);
      if (getter && !getter->asksPin() && getter->code != OpCode::random)
        return {held(e, *getter), getter->code == OpCode::seconds ? product : primary};
      if (getter && !getter->asksPin())
        return {call(getter->inC, operandsOf(e), ValueType::whole, "&" + dice_ + ", ")};
      if (!getter || !pin || pin->empty())
        return {type == ValueType::truth ? "false" : type == ValueType::real ? "0.0f" : "0L"};
      return {getter->inC + *pin + "()"};
    }
    case Expr::Shape::op:
      if (const OperatorKind* kind = operatorKind(e.text)) return operation(e, *kind);
      return {"0L"};
    case Expr::Shape::sig:
      if (const auto it = sensed_.find(&e); it != sensed_.end()) return {it->second};
      if (const SignalKind* kind = signalKind(e.text); kind && kind->chooses) return chosen(e);
      return {typeOf(e, types()) == ValueType::truth ? "false" : "0L"};
    default:
      return {"0L"};
  }
}

CExpressions::Piece CExpressions::chosen(const Expr& e) {
  static const Expr nothing;
  const auto operand = [&](const char* key) -> const Expr& {
    const Expr* held = e.arg(key);
    return held ? *held : nothing;
  };
  const ValueType type = typeOf(e, types());
  return {"(" + bracketed(piece(operand("if"), ValueType::truth), sum) + " ? " +
          piece(operand("then"), type).text + " : " + piece(operand("else"), type).text + ")"};
}

std::vector<std::string> CExpressions::senses(const Expr& e) {
  std::vector<std::string> lines;
  if (ignavo::senses(e)) sense(e, lines);
  return lines;
}

std::string CExpressions::turns(const Expr* seconds) {
  if (!seconds) return "0";
  if (seconds->shape == Expr::Shape::number) return fmt::format("{}UL", turnsOf(seconds->number));
  helpers_.insert("turns_of");
  return "turns_of(" + argument(*seconds, ValueType::real) + ")";
}

// Its operands before it, inner ones first, from left to right.
void CExpressions::sense(const Expr& e, std::vector<std::string>& lines) {
  for (const auto& [key, inner] : e.args) sense(inner, lines);
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  if (!kind || kind->chooses) return;
  static const Expr nothing;
  const std::string state = "&" + signalName(++signals_);
  const std::string name = "v" + std::to_string(++values_);
  std::string call;
  const Expr* hertz = hertzOf(e);
  if (kind->waves && hertz && hertz->shape == Expr::Shape::number) {
    const WaveSteps steps = waveSteps(hertz->number);
    const Expr* duty = dutyOf(e);
    helpers_.insert("phase");
    call = fmt::format("phase({}, {}UL, {}UL)", state, steps.step, steps.round);
    if (duty && duty->shape == Expr::Shape::number)
      call += fmt::format(" < {}UL", highPart(steps, duty->number));
    else
      call =
          fmt::format("(float){} < {} * ({}.0f / 100)", call,
                      duty ? bracketed(piece(*duty, ValueType::real), product) : "0", steps.round);
  } else {
    using Is = SignalKind::Operand::Is;
    helpers_.insert(kind->inC);
    call = kind->inC + "(" + state;
    for (const SignalKind::Operand& operand : kind->operands) {
      const Expr* held = e.arg(operand.key);
      call += ", ";
      if (operand.is == Is::seconds)
        call += turns(held);
      else if (!held)
        call += "false";
      else
        call += argument(*held, operand.is == Is::real    ? ValueType::real
                                : operand.is == Is::whole ? ValueType::whole
                                                          : ValueType::truth);
    }
    call += ")";
  }
  lines.push_back(std::string(kind->gives == ValueType::whole ? "int32_t " : "bool ") + name +
                  " = " + call + ";");
  sensed_[&e] = name;
}

const Types& CExpressions::types() const {
  static const Types nothing;
  return names_ ? names_->types() : nothing;
}

// What the program holds by name, or the time.
std::string CExpressions::held(const Expr& e, const GetterKind& getter) {
  const auto named = [&](const char* key) {
    const Expr* name = e.arg(key);
    return name ? name->text : std::string();
  };
  const std::string zero = typeOf(e, types()) == ValueType::real ? "0.0f" : "0";
  if (getter.code == OpCode::seconds) return "(float)turn / 4000";
  if (!names_) return zero;
  if (getter.code == OpCode::readKey) {
    const int key = names_->key(named(keyKey));
    return key < 0 ? std::string("false") : fmt::format("key_held[{}]", key);
  }
  if (getter.counts) return fmt::format("{}L", names_->length(named(listKey)));
  if (getter.code == OpCode::load) {
    const std::string name = names_->variable(named(variableKey));
    return name.empty() ? zero : name;
  }
  static const Expr nothing;
  const Expr* index = operandsOf(e).front();
  if (names_->list(named(listKey)).empty()) return zero;
  return place(named(listKey), index ? *index : nothing);
}

std::string CExpressions::place(const std::string& list, const Expr& index) {
  const int length = names_->length(list);
  if (index.shape == Expr::Shape::number) {
    const auto at = std::clamp<std::int32_t>(
        ignavo::converted(literal(index.number), typeOf(index), ValueType::whole).whole(), 1,
        length);
    return fmt::format("{}[{}]", names_->list(list), at - 1);
  }
  helpers_.insert("place_in");
  return fmt::format("{}[place_in({}, {})]", names_->list(list), text(index, ValueType::whole),
                     length);
}

CExpressions::Piece CExpressions::operation(const Expr& e, const OperatorKind& kind) {
  const std::vector<const Expr*> operands = operandsOf(e);
  static const Expr nothing;
  const auto operand = [&](std::size_t i) -> const Expr& {
    return i < operands.size() && operands[i] ? *operands[i] : nothing;
  };
  // "D2 is high" is simply what the pin reads.
  if (const auto test = pinTest(e)) {
    const Piece read = natural(operand(0), ValueType::truth);
    return test->high ? read : Piece{"!" + bracketed(read, prefix), prefix};
  }
  if (const auto constant = constantOf(e, types(), names_); constant && constant->wrapped) {
    const std::string text = wholeText(constant->value);
    return {text, text.front() == '-' ? prefix : primary};
  }
  ValueType type = operandType(e, types());
  if (kind.is == OperatorKind::Is::negation)
    return {"!" + bracketed(piece(operand(0), type), prefix), prefix};
  // A number that is written out and not 0 needs no care.
  const bool careful = kind.is == OperatorKind::Is::quotient &&
                       !(operand(1).shape == Expr::Shape::number && operand(1).number != 0);
  if (!kind.isSign() || careful) {
    const std::string& name = type == ValueType::real ? kind.realC : kind.inC;
    if (name.empty()) return piece(operand(0), type);  // a whole number is round
    return {call(name, operands, type)};
  }
  // Truths that are compared with each other stay truths.
  const bool compares = kind.gives == OperatorKind::Gives::truth && !kind.takesTruth;
  if (compares && type == ValueType::whole && typeOf(operand(0), types()) == ValueType::truth &&
      typeOf(operand(1), types()) == ValueType::truth)
    type = ValueType::truth;
  const int binds = bindingOf(kind);
  std::string before;
  std::vector<Piece> sides = {piece(operand(0), type), piece(operand(1), type)};
  if (!kind.takesTruth) sides = pieces({&operand(0), &operand(1)}, type, before);
  const Piece &left = sides[0], &right = sides[1];
  const auto side = [&](const Piece& p, const Expr& of, bool first) {
    // Compilers ask for brackets where people misread C: comparisons and "or" in one another.
    const bool chain = first && of.shape == Expr::Shape::op && of.text == e.text &&
                       binds != equal && binds != ordered && typeOf(of, types()) == type;
    const int atLeast = chain ? binds : binds <= ordered ? sum : first ? binds : binds + 1;
    return bracketed(p, atLeast);
  };
  const std::string text =
      side(left, operand(0), true) + " " + kind.inC + " " + side(right, operand(1), false);
  if (!before.empty()) return {"({ " + before + text + "; })"};
  return {text, binds};
}

std::vector<CExpressions::Piece> CExpressions::pieces(const std::vector<const Expr*>& operands,
                                                      ValueType type, std::string& before) {
  static const Expr nothing;
  std::vector<Piece> out;
  const auto changing = std::count_if(operands.begin(), operands.end(),
                                      [](const Expr* e) { return e && changes(*e); });
  for (const Expr* operand : operands) {
    Piece p = piece(operand ? *operand : nothing, type);
    if (changing > 1 && operand && !operand->isLiteral()) {
      const std::string name = "v" + std::to_string(out.size() + 1);
      before += (type == ValueType::real    ? "float "
                 : type == ValueType::truth ? "bool "
                                            : "int32_t ") +
                name + " = " + p.text + "; ";
      p = {name};
    }
    out.push_back(std::move(p));
  }
  return out;
}

std::string CExpressions::call(const std::string& helper, const std::vector<const Expr*>& operands,
                               ValueType type, const std::string& first) {
  helpers_.insert(helper);
  static const Expr nothing;
  std::string before, out;
  const std::vector<Piece> values = pieces(operands, type, before);
  for (std::size_t i = 0; i < operands.size(); ++i) {
    const Expr& e = operands[i] ? *operands[i] : nothing;
    out += (out.empty() ? "" : ", ") + (e.isLiteral() ? argument(e, type) : values[i].text);
  }
  const std::string text = helper + "(" + first + out + ")";
  return before.empty() ? text : "({ " + before + text + "; })";
}

CExpressions::Piece CExpressions::converted(Piece piece, ValueType from, ValueType to) {
  if (from == to || from == ValueType::text) return piece;
  switch (to) {
    case ValueType::truth:
      return {bracketed(piece, sum) + " != 0", equal};
    case ValueType::whole:
      if (from == ValueType::truth) return {"(int32_t)" + bracketed(piece, prefix), prefix};
      helpers_.insert("rounded");
      return {"rounded(" + piece.text + ")"};
    case ValueType::real:
      return {"(float)" + bracketed(piece, prefix), prefix};
    case ValueType::text:
      break;
  }
  return piece;
}

}  // namespace ignavo
