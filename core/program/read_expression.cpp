#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

#include "program/expressions.h"
#include "program/keys.h"
#include "program/signals.h"
#include "program/words.h"
#include "project/project.h"

// Typed expressions: a precedence parser over words and signs. Signs between operands climb by how
// tightly they bind; what begins with words ("smaller of") is read along its row's phrase.
namespace ignavo {

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
      if (const std::size_t open = quoteAt(text, i)) {
        i = quoted(text, i + open, open > 1);
        continue;
      }
      std::size_t end = i + signAt(text, i);
      const auto word = [&](std::size_t at) {
        const auto ch = static_cast<unsigned char>(text[at]);
        return std::isalnum(ch) || ch == '.' || ch == '_' ||
               (ch >= 0x80 && signAt(text, at) == 0 && quoteAt(text, at) == 0);
      };
      if (end == i && word(i)) {
        while (end < text.size() && word(end)) ++end;
      } else if (end == i) {
        end = i + 1;
        if (end < text.size() && text[end] == '=' && (c == '<' || c == '>' || c == '!' || c == '='))
          ++end;
      }
      words_.push_back(text.substr(i, end - i));
      i = end;
    }
  }
  // How many bytes a sign of more than one takes there.
  static std::size_t signAt(const std::string& text, std::size_t at) {
    for (const char* sign : {"×", "÷", "−", "≠", "≤", "≥", "…"})
      if (text.compare(at, std::char_traits<char>::length(sign), sign) == 0)
        return std::char_traits<char>::length(sign);
    return 0;
  }
  static std::size_t quoteAt(const std::string& text, std::size_t at) {
    for (const char* sign : {"\"", "“", "”", "„"})
      if (text.compare(at, std::char_traits<char>::length(sign), sign) == 0)
        return std::char_traits<char>::length(sign);
    return 0;
  }
  // One word, with a quote before it that tells it from others; behind its end.
  // Plain quotes are closed by plain ones, others by any.
  std::size_t quoted(const std::string& text, std::size_t at, bool curly) {
    std::string inside = "\"";
    for (; at < text.size(); ++at) {
      if (const std::size_t close = quoteAt(text, at); close == 1 || (curly && close > 0)) {
        at += close;
        words_.push_back(std::move(inside));
        return at;
      }
      if (text[at] == '\\' && at + 1 < text.size()) ++at;
      inside += text[at];
    }
    words_.push_back(std::move(inside));
    return at;
  }
  static int depthOf(const Expr& e) {
    int deepest = 0;
    for (const auto& [key, inner] : e.args) deepest = std::max(deepest, depthOf(inner));
    return deepest + 1;
  }
  std::string lower() const { return lowerAt(at_); }
  std::string lowerAt(std::size_t at) const {
    std::string w = at < words_.size() ? words_[at] : std::string();
    if (w.starts_with('"')) return w;
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
      const bool open = at_ > 0 && words_[at_ - 1] != ")";
      ++at_;
      std::optional<Expr> right = binary(binds + 1);
      if (!right) return std::nullopt;
      if (name == "or" && open && alsoComparedWith(*left, *right)) continue;
      // "D2 is high": high and low are truth values beside a comparison.
      if (right->shape == Expr::Shape::text &&
          (right->text == levelHigh || right->text == levelLow))
        right = Expr::of(right->text == levelHigh);
      // "A0 < 40": only a level can be compared with such a number.
      if (!k->takesTruth && k->gives == OperatorKind::Gives::truth &&
          right->shape == Expr::Shape::number && right->number != 0 && right->number != 1 &&
          left->shape == Expr::Shape::get && left->text == "pin")
        left->text = "level";
      if (k->gives == OperatorKind::Gives::truth && left->shape == Expr::Shape::get &&
          left->text == "level" && right->shape == Expr::Shape::number && right->number > 100)
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
  // "berth is 2 or 3", "berth ≠ 2 or 3": what was compared with the one number is compared with the
  // other; a number alone would be a truth, and the whole always so.
  bool alsoComparedWith(Expr& left, const Expr& right) const {
    if (right.shape != Expr::Shape::number || words_[at_ - 1] == ")") return false;
    Expr *last = &left, *joined = nullptr;
    const auto is = [](const Expr* e, const char* name) {
      return e && e->shape == Expr::Shape::op && e->text == name;
    };
    while (is(last, "or") || is(last, "and")) joined = last, last = &last->args.back().second;
    if (!is(last, "=") && !is(last, "≠")) return false;
    const char* joint = is(last, "=") ? "or" : "and";
    Expr& row = is(joined, joint) ? *joined : *last;
    row = Expr::binary(joint, row, Expr::binary(last->text, last->args.front().second, right));
    return true;
  }
  // With what may stand behind it: "D2 held for 3 s".
  std::optional<Expr> unary() {
    auto out = single();
    while (out) {
      const SignalKind* k = follows();
      if (!k) break;
      Expr e;
      e.shape = Expr::Shape::sig;
      e.text = k->name;
      std::vector<PhrasePiece> pieces = piecesOf(k->phrase);
      e.args.emplace_back(pieces.front().text, std::move(*out));
      pieces.erase(pieces.begin());
      out = along(*k, pieces, std::move(e));
    }
    return out;
  }
  // The signal operator whose words come next, "is" before them left out.
  const SignalKind* follows() {
    const std::size_t from = at_;
    if (lower() == "is") ++at_;
    for (const SignalKind& k : signalKinds()) {
      const std::vector<PhrasePiece> pieces = piecesOf(k.phrase);
      if (pieces.front().field && comes(pieces[1].text)) return &k;
    }
    at_ = from;
    return nullptr;
  }
  // Do those words come next?
  bool comes(const std::string& phrase) {
    const Reader words(phrase, {});
    for (std::size_t i = 0; i < words.words_.size(); ++i)
      if (at_ + i >= words_.size() || lowerAt(at_ + i) != words.words_[i]) return false;
    return true;
  }
  // The rest of a signal operator along its phrase.
  std::optional<Expr> along(const SignalKind& k, const std::vector<PhrasePiece>& pieces, Expr e) {
    for (const PhrasePiece& piece : pieces) {
      if (!piece.field) {
        if (piece.optional && !comes(piece.text)) break;
        const Reader words(piece.text, {});
        for (const std::string& word : words.words_)
          if (!takeWord(word)) return fail(stepSay("Here “{}” is missing: {}.", word, k.phrase));
        continue;
      }
      const bool test = k.chooses && piece.text == "if";
      std::optional<Expr> operand;
      if (depth_ >= limits::nesting)
        return fail(stepSay("This is nested too deeply: {} levels are the most.", limits::nesting));
      ++depth_;
      operand = test ? binary(1) : k.chooses ? binary(5) : single();
      --depth_;
      if (!operand) return std::nullopt;
      e.args.emplace_back(piece.text, std::move(*operand));
    }
    if (!k.flag.empty()) {
      const bool set = lower() == k.flag;
      if (set) ++at_;
      e.args.emplace_back(k.flagKey(), Expr::of(set));
    }
    // In the order of the file.
    std::vector<std::pair<std::string, Expr>> ordered;
    for (const SignalKind::Operand& operand : k.operands)
      for (auto& [key, value] : e.args)
        if (key == operand.key) ordered.emplace_back(key, std::move(value));
    e.args = std::move(ordered);
    return e;
  }
  std::optional<Expr> single() {
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
    for (const SignalKind& k : signalKinds()) {
      const std::vector<PhrasePiece> pieces = piecesOf(k.phrase);
      if (pieces.front().field || !comes(pieces.front().text)) continue;
      Expr e;
      e.shape = Expr::Shape::sig;
      e.text = k.name;
      const bool own = ownName().has_value();
      const std::size_t from = at_;
      auto read = along(k, pieces, std::move(e));
      if (read || !own) return read;
      // A variable that is called as the operator begins: "count + 1".
      at_ = from;
      problem_ = {};
    }
    for (const GetterKind& k : getterKinds())
      if (!k.asksPin() && firstWord(k.phrase) == w && (!ownName() || beginsWhole(k.phrase)))
        return asked(k);
    return atom(w);
  }
  static std::string firstWord(const std::string& phrase) {
    return phrase.substr(0, phrase.find(' '));
  }
  // Do all words that the phrase begins with come next, and more than one? So a variable that is
  // called "random" does not hide "random from 1 to 6".
  bool beginsWhole(const std::string& phrase) {
    const PhrasePiece first = piecesOf(phrase).front();
    return first.text.find(' ') != std::string::npos && comes(first.text);
  }
  static bool isFiller(const std::string& word) {
    static const char* const fillers[] = {"number", "from", "between", "to", "and", "…", ",", "of"};
    return std::find(std::begin(fillers), std::end(fillers), word) != std::end(fillers);
  }
  // "random from 1 to 6"; the words but the first may be left out or be said otherwise.
  std::optional<Expr> asked(const GetterKind& k) {
    Expr e;
    e.shape = Expr::Shape::get;
    e.text = k.name;
    for (const PhrasePiece& piece : piecesOf(k.phrase)) {
      if (!piece.field) {
        const Reader words(piece.text, {});
        for (const std::string& word : words.words_)
          if (lower() == word) ++at_;
        while (isFiller(lower())) ++at_;
        continue;
      }
      if (fieldKind(piece.text) == FieldKind::key) {
        const std::string key = at_ < words_.size() ? keyOf(words_[at_]) : std::string();
        if (key.empty())
          return fail(
              stepSay("Which key? Keys are a to z, 0 to 9, space, return, left, right, up "
                      "and down."));
        ++at_;
        e.args.emplace_back(piece.text, Expr::of(key));
        continue;
      }
      if (fieldKind(piece.text) == FieldKind::list) {
        auto name = list();
        if (!name) return std::nullopt;
        e.args.emplace_back(piece.text, Expr::of(std::move(*name)));
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
      auto operand = isRange(piece.text) ? range() : inside(k.operandsBind);
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
      if (unit.empty() && (lower() == "s" || lower() == "ms" || lower() == "us" || lower() == "%" ||
                           lower() == "hz" || lower() == "°")) {
        unit = lower();
        ++at_;
      }
      if (unit == "ms")
        number /= 1000;
      else if (unit == "us")
        number /= 1e6;
      else if (!unit.empty() && unit != "s" && unit != "%" && unit != "hz" && unit != "°")
        return fail(stepSay("“{}” is not a unit here.", unit));
      return Expr::of(negative ? -number : number);
    }
    if (negative) return fail(stepSay("A number is missing after the minus sign."));
    if (w == "variable" && at_ + 1 < words_.size()) {
      ++at_;
      const auto name = names_.variable(bare(words_[at_]));
      if (!name) return fail(stepSay("There is no variable called {}.", bare(words_[at_])));
      ++at_;
      return Expr::readVariable(*name);
    }
    if (w.starts_with('"')) return Expr::of(bare(words_[at_++]));
    if (const auto name = ownName()) {
      ++at_;
      return Expr::readVariable(*name);
    }
    ++at_;
    if (w == "true" || w == "false") return Expr::of(w == "true");
    if (w == "high" || w == "low") return Expr::of(w);
    for (const GetterKind& getter : getterKinds())
      if (getter.measures && firstWord(getter.phrase) == w) return measured(getter);
    if (w == "pin" && names_.pin(lower())) w = words_[at_++];
    if (const auto pin = names_.pin(w)) return Expr::readPin(*pin);
    return fail(stepSay("“{}” is neither a number nor a pin, and no variable is called so.",
                        words_[at_ - 1]));
  }
  static std::string bare(const std::string& word) {
    return word.starts_with('"') ? word.substr(1) : word;
  }
  // A variable of that name that could not be taken for something else.
  std::optional<std::string> ownName() const {
    if (at_ >= words_.size()) return std::nullopt;
    const auto name = names_.variable(words_[at_]);
    return name && !nameText(*name).starts_with('"') ? name : std::nullopt;
  }
  std::optional<std::string> list() {
    if (lower() == "list") ++at_;
    if (at_ >= words_.size()) {
      fail(stepSay("Of which list?"));
      return std::nullopt;
    }
    const std::string typed = bare(words_[at_]);
    auto name = names_.list(typed);
    if (!name) {
      fail(stepSay("There is no list called {}.", typed));
      return std::nullopt;
    }
    ++at_;
    return name;
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
