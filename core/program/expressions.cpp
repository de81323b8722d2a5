#include "program/expressions.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

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
        arithmetic(
            "/", "{a} ÷ {b}", 6, nullptr,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(real::quotient(c[0].real(), c[1].real(), f));
            },
            "/", "quotient"),
        arithmetic(
            "mod", "remainder of {a} ÷ {b}", 0,
            [](const Cell* c, NumberFault& f) {
              return Cell::of(whole::remainder(c[0].whole(), c[1].whole(), f));
            },
            [](const Cell* c, NumberFault& f) {
              return Cell::of(real::remainder(c[0].real(), c[1].real(), f));
            },
            "remainder_of", "remainder_of_f"),
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
        arithmetic(
            "round", "round {a}", 0, [](const Cell* c, NumberFault&) { return c[0]; },
            [](const Cell* c, NumberFault&) { return Cell::of(rounded(c[0].real())); }, "",
            "rounded"),
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
    for (OperatorKind& k : all) {
      if (k.gives == Gives::number && !k.whole) k.gives = Gives::real;
      if (k.name == "/") k.is = Is::quotient;
      if (k.name == "round") k.gives = Gives::whole;
    }
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

double OperatorKind::calculated(double a, double b) const {
  const bool asWhole = whole && isWhole(a) && isWhole(b);
  const Cell operands[] = {asWhole ? literal(a) : Cell::of(static_cast<float>(a)),
                           asWhole ? literal(b) : Cell::of(static_cast<float>(b))};
  NumberFault fault = NumberFault::none;
  if (takesTruth) {
    const Cell truths[] = {Cell::of(a != 0), Cell::of(b != 0)};
    return number(whole(truths, fault), ValueType::truth);
  }
  const Cell value = asWhole ? whole(operands, fault) : real(operands, fault);
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
      {"random", "random from {from} to {to}", ValueType::whole, OpCode::random, "random_from",
       false, "", 1, true}};
  return kinds;
}

bool GetterKind::asksPin() const { return phrase.ends_with("{pin}"); }

std::vector<std::string> GetterKind::operands() const {
  std::vector<std::string> out;
  for (const PhrasePiece& piece : piecesOf(phrase))
    if (piece.field && piece.text != pinKey) out.push_back(piece.text);
  return out;
}

bool changes(const Expr& e) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  return (kind && kind->changes) || std::any_of(e.args.begin(), e.args.end(), [](const auto& arg) {
           return changes(arg.second);
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

ValueType operandType(const Expr& e) {
  const OperatorKind* kind = operatorKind(e.text);
  if (!kind || kind->takesTruth) return ValueType::truth;
  if (!kind->whole) return ValueType::real;
  ValueType all = ValueType::whole;
  for (const Expr* operand : operandsOf(e))
    if (operand && typeOf(*operand) == ValueType::real) all = ValueType::real;
  return all;
}

ValueType typeOf(const Expr& e) {
  switch (e.shape) {
    case Expr::Shape::number:
      return isWhole(e.number) ? ValueType::whole : ValueType::real;
    case Expr::Shape::truth:
      return ValueType::truth;
    case Expr::Shape::text:
      return ValueType::text;
    case Expr::Shape::get: {
      const GetterKind* k = getterKind(e.text);
      return k ? k->gives : ValueType::whole;
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
          return operandType(e);
      }
      return ValueType::whole;
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
      return e.text;
    case Expr::Shape::get: {
      const GetterKind* k = getterKind(e.text);
      if (!k || (k->asksPin() && !e.arg(pinKey))) return e.text;
      const std::string s = filled(k->phrase, [&](const std::string& key) {
        const Expr* field = e.arg(key);
        return !field ? std::string() : key == pinKey ? field->text : phraseOf(*field, true);
      });
      return nested && !k->asksPin() ? "(" + s + ")" : s;
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

std::optional<std::string> Vocabulary::pin(const std::string& typed) const {
  const auto same = [](unsigned char a, unsigned char b) {
    return std::tolower(a) == std::tolower(b);
  };
  for (const std::string& name : pins)
    if (std::equal(name.begin(), name.end(), typed.begin(), typed.end(), same)) return name;
  return std::nullopt;
}

namespace {

// A small precedence parser over words and signs.
class Reader {
 public:
  Reader(const std::string& text, const Vocabulary& names) : names_(names) { split(text); }

  ParsedExpr read() {
    ParsedExpr out;
    if (words_.empty()) return {std::nullopt, stepSay("A value is missing here.")};
    out.value = binary(1);
    if (problem_.empty() && at_ < words_.size())
      problem_ = stepSay("“{}” is not expected here.", words_[at_]);
    if (problem_.empty() && depthOf(*out.value) > limits::nesting)
      problem_ = stepSay("This is nested too deeply: {} levels are the most.", limits::nesting);
    if (!problem_.empty()) return {std::nullopt, problem_};
    return out;
  }

 private:
  void split(const std::string& text) {
    for (std::size_t i = 0; i < text.size();) {
      const auto c = static_cast<unsigned char>(text[i]);
      if (std::isspace(c)) {
        ++i;
        continue;
      }
      std::size_t end = i + 1;
      const auto word = [](unsigned char ch) { return std::isalnum(ch) || ch == '.' || ch == '_'; };
      if (word(c)) {
        while (end < text.size() && word(static_cast<unsigned char>(text[end]))) ++end;
      } else if (c >= 0x80) {
        while (end < text.size() && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) ++end;
      } else if (end < text.size() && text[end] == '=' &&
                 (c == '<' || c == '>' || c == '!' || c == '=')) {
        ++end;
      }
      words_.push_back(text.substr(i, end - i));
      i = end;
    }
  }
  static int depthOf(const Expr& e) {
    int deepest = 0;
    for (const auto& [key, inner] : e.args) deepest = std::max(deepest, depthOf(inner));
    return deepest + 1;
  }
  std::string lower() const {
    std::string w = at_ < words_.size() ? words_[at_] : std::string();
    for (char& c : w) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return w;
  }
  static std::string operatorFor(const std::string& word) {
    if (word == "is" || word == "==" || word == "equals") return "=";
    if (word == "!=") return "≠";
    if (word == "<=") return "≤";
    if (word == ">=") return "≥";
    if (word == "×" || word == "x" || word == "times") return "*";
    if (word == "÷") return "/";
    if (word == "−") return "-";
    return word;
  }
  // Every way into an operand inside an operand goes through here.
  std::optional<Expr> inside(int binds) {
    if (depth_ >= limits::nesting)
      return fail(stepSay("This is nested too deeply: {} levels are the most.", limits::nesting));
    ++depth_;
    auto inner = binary(binds);
    --depth_;
    return inner;
  }
  std::optional<Expr> binary(int binds) {
    if (binds > 6) return unary();
    std::optional<Expr> left = binary(binds + 1);
    int terms = 0;
    while (left && at_ < words_.size()) {
      const std::string name = operatorFor(lower());
      const OperatorKind* k = operatorKind(name);
      if (!k || !k->isSign() || k->binds != binds) break;
      ++at_;
      std::optional<Expr> right = binary(binds + 1);
      if (!right) return std::nullopt;
      // "D2 is high": high and low are truth values beside a comparison.
      if (right->shape == Expr::Shape::text &&
          (right->text == levelHigh || right->text == levelLow))
        right = Expr::of(right->text == levelHigh);
      // "A0 < 40": only a level can be compared with such a number.
      if (!k->takesTruth && k->gives == OperatorKind::Gives::truth &&
          right->shape == Expr::Shape::number && right->number != 0 && right->number != 1 &&
          left->shape == Expr::Shape::get && left->text == "pin")
        left->text = "level";
      if (left->shape == Expr::Shape::get && left->text == "level" &&
          right->shape == Expr::Shape::number && right->number > 100)
        return fail(stepSay("A level goes from 0 to 100 %. {} of 1,023 are {} %.",
                            asNumber(right->number),
                            asNumber(std::round(right->number * 100 / 1023))));
      left = Expr::binary(name, std::move(*left), std::move(*right));
      // "1 + 1 + 1 …" is a tree as deep as it is long.
      if (++terms > limits::nesting - 2)
        return fail(stepSay("At most {} values can stand in one row here.", limits::nesting - 1));
    }
    return left;
  }
  std::optional<Expr> unary() {
    const std::string w = lower();
    if (w.empty()) return fail(stepSay("A value is missing at the end."));
    if (w == "not") {
      ++at_;
      auto inner = inside(4);
      if (!inner) return std::nullopt;
      Expr e;
      e.shape = Expr::Shape::op;
      e.text = "not";
      e.args.emplace_back("a", std::move(*inner));
      return e;
    }
    if (w == "(") {
      ++at_;
      auto inner = inside(1);
      if (!inner) return std::nullopt;
      if (lower() != ")") return fail(stepSay("A bracket is not closed."));
      ++at_;
      return inner;
    }
    for (const OperatorKind& k : operatorKinds())
      if (!k.isSign() && k.is != OperatorKind::Is::negation && begins(k)) return worded(k);
    for (const GetterKind& k : getterKinds())
      if (!k.asksPin() && firstWord(k.phrase) == w) return asked(k);
    return atom(w);
  }
  static std::string firstWord(const std::string& phrase) {
    return phrase.substr(0, phrase.find(' '));
  }
  static bool isFiller(const std::string& word) {
    static const char* const fillers[] = {"number", "from", "between", "to", "and", "…", ","};
    return std::find(std::begin(fillers), std::end(fillers), word) != std::end(fillers);
  }
  // "random from 1 to 6"; the words but the first may be left out or be said otherwise.
  std::optional<Expr> asked(const GetterKind& k) {
    Expr e;
    e.shape = Expr::Shape::get;
    e.text = k.name;
    ++at_;
    for (const PhrasePiece& piece : piecesOf(k.phrase)) {
      if (!piece.field) {
        while (isFiller(lower())) ++at_;
        continue;
      }
      auto operand = inside(5);
      if (!operand) return std::nullopt;
      e.args.emplace_back(piece.text, std::move(*operand));
    }
    return e;
  }
  // The words before the operands: "smaller of".
  static std::vector<std::string> firstWords(const OperatorKind& k) {
    const Reader words(piecesOf(k.phrase).front().text, {});
    return words.words_;
  }
  bool begins(const OperatorKind& k) {
    const std::size_t from = at_;
    bool same = true;
    for (const std::string& word : firstWords(k)) {
      same = same && lower() == word;
      ++at_;
    }
    at_ = from;
    return same;
  }
  // "smaller of 3 and 4", "map level of A0 from 0 … 100 to 0 … 255".
  std::optional<Expr> worded(const OperatorKind& k) {
    constexpr int signsOfSums = 5, tight = 7;
    Expr e;
    e.shape = Expr::Shape::op;
    e.text = k.name;
    for (const PhrasePiece& piece : piecesOf(k.phrase)) {
      if (!piece.field) {
        const Reader words(piece.text, names_);
        for (const std::string& word : words.words_)
          if (!takeWord(word)) return fail(stepSay("Here “{}” is missing: {}.", word, k.phrase));
        continue;
      }
      // What divides ends the first operand of a remainder.
      auto operand = isRange(piece.text) ? range() : inside(k.name == "mod" ? tight : signsOfSums);
      if (!operand) return std::nullopt;
      // "map A0 from …": only a level is spread over a range.
      if (!k.whole && operand->shape == Expr::Shape::get && operand->text == "pin")
        operand->text = "level";
      e.args.emplace_back(piece.text, std::move(*operand));
    }
    return e;
  }
  bool takeWord(const std::string& word) {
    const std::string typed = lower();
    const bool same = typed == word || (word == "÷" && (typed == "/" || typed == "by")) ||
                      (word == "and" && typed == ",");
    if (same) ++at_;
    return same;
  }
  std::optional<Expr> range() {
    Expr out;
    out.shape = Expr::Shape::list;
    auto from = inside(7);
    if (!from) return std::nullopt;
    if (const std::string w = lower();
        w != "…" && w != "..." && w != ".." && w != "," && w != "and")
      return fail(stepSay("Between the two ends of a range stands …: from 0 … 100."));
    ++at_;
    auto to = inside(7);
    if (!to) return std::nullopt;
    out.args = {{"", std::move(*from)}, {"", std::move(*to)}};
    return out;
  }
  std::optional<Expr> atom(std::string w) {
    const bool negative = w == "-" || w == "−";
    if (negative) {
      ++at_;
      w = lower();
    }
    double number = 0;
    const auto [stop, error] = std::from_chars(w.data(), w.data() + w.size(), number);
    // from_chars reads "nan" and "inf" as well; here they are words like others.
    const bool digits =
        !w.empty() && (std::isdigit(static_cast<unsigned char>(w[0])) || w[0] == '.');
    if (digits && error == std::errc::result_out_of_range)
      return fail(stepSay("“{}” is too large or too small a number.", w));
    if (digits && error == std::errc() && stop != w.data()) {
      ++at_;
      std::string unit = w.substr(static_cast<std::size_t>(stop - w.data()));
      if (unit.empty() &&
          (lower() == "s" || lower() == "ms" || lower() == "us" || lower() == "%")) {
        unit = lower();
        ++at_;
      }
      if (unit == "ms")
        number /= 1000;
      else if (unit == "us")
        number /= 1e6;
      else if (!unit.empty() && unit != "s" && unit != "%")
        return fail(stepSay("“{}” is not a unit here.", unit));
      return Expr::of(negative ? -number : number);
    }
    if (negative) return fail(stepSay("A number is missing after the minus sign."));
    ++at_;
    if (w == "true" || w == "false") return Expr::of(w == "true");
    if (w == "high" || w == "low") return Expr::of(w);
    for (const GetterKind& getter : getterKinds())
      if (getter.measures && firstWord(getter.phrase) == w) return measured(getter);
    if (w == "pin" && names_.pin(lower())) w = words_[at_++];
    if (const auto pin = names_.pin(w)) return Expr::readPin(*pin);
    return fail(stepSay("“{}” is neither a number nor a pin.", words_[at_ - 1]));
  }
  // "level of A0"; all its words but the first may be left out.
  std::optional<Expr> measured(const GetterKind& getter) {
    const Reader words(piecesOf(getter.phrase).front().text, names_);
    for (std::size_t k = 1; k < words.words_.size(); ++k)
      if (lower() == words.words_[k]) ++at_;
    const auto pin = names_.pin(lower());
    if (!pin) return fail(stepSay(getter.question));
    ++at_;
    Expr e = Expr::readPin(*pin);
    e.text = getter.name;
    return e;
  }
  std::optional<Expr> fail(Message sentence) {
    if (problem_.empty()) problem_ = std::move(sentence);
    return std::nullopt;
  }

  const Vocabulary& names_;
  std::vector<std::string> words_;
  std::size_t at_ = 0;
  int depth_ = 0;
  Message problem_;
};

}  // namespace

ParsedExpr parseExpr(const std::string& typed, const Vocabulary& words) {
  return Reader(typed, words).read();
}

}  // namespace ignavo
