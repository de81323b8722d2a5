#include "program/phrases/tokens.h"

#include <algorithm>
#include <charconv>
#include <map>

#include "program/groups.h"
#include "program/pin_words.h"
#include "program/typed.h"

// First the text falls into raw words, numbers and signs. Then raw words that nothing knows are
// mended, where exactly one known word is a slip away. Then, from the left, the longest run of raw
// words that means something becomes a token.
namespace ignavo::phrases {

using typed::isDigit, typed::lower;

namespace {

struct Raw {
  std::string text;  // lower case
  std::size_t at = 0, length = 0;
  bool number = false, quoted = false, mended = false;
  double value = 0;
};

bool isLetter(char c) {
  return std::isalpha(static_cast<unsigned char>(c)) || static_cast<unsigned char>(c) >= 0x80 ||
         c == '_' || c == '\'';
}

// Signs of several bytes that are no letters.
std::size_t signAt(const std::string& s, std::size_t i) {
  static const char* const signs[] = {"&&", "||", "==", "!=", "<=", ">=", "<>", "++",
                                      "--", "+=", "-=", ":=", "×",  "÷",  "−",  "≠",
                                      "≤",  "≥",  "…",  "°",  "½",  "=<", "=>", "::"};
  for (const char* sign : signs) {
    const std::size_t n = std::char_traits<char>::length(sign);
    if (s.compare(i, n, sign) == 0) return n;
  }
  return isLetter(s[i]) || isDigit(s[i]) ? 0 : 1;
}

// A comma between digits is a decimal one where it is the only one of the text. "1,000" could be a
// thousand.
bool decimalComma(const std::string& s, std::size_t i) {
  if (i == 0 || i + 1 >= s.size() || !isDigit(s[i - 1]) || !isDigit(s[i + 1]) ||
      std::count(s.begin(), s.end(), ',') != 1 || s.find('(') != std::string::npos)
    return false;
  std::size_t end = i + 1;
  while (end < s.size() && isDigit(s[end])) ++end;
  const bool zero = s[i - 1] == '0' && (i == 1 || !isDigit(s[i - 2]));
  return zero || end - i != 4;
}

std::size_t quoteAt(const std::string& s, std::size_t i) {
  for (const char* q : {"\"", "“", "”", "„"}) {
    const std::size_t n = std::char_traits<char>::length(q);
    if (s.compare(i, n, q) == 0) return n;
  }
  return 0;
}

std::vector<Raw> rawWords(const std::string& s) {
  std::vector<Raw> out;
  for (std::size_t i = 0; i < s.size();) {
    const std::size_t from = i;
    if (std::isspace(static_cast<unsigned char>(s[i]))) {
      ++i;
      continue;
    }
    Raw raw;
    if (const std::size_t quote = quoteAt(s, i)) {
      i += quote;
      while (i < s.size() && quoteAt(s, i) == 0) raw.text += s[i++];
      if (i < s.size()) i += quoteAt(s, i);
      raw.quoted = true;
    } else if (isDigit(s[i]) || (s[i] == '.' && i + 1 < s.size() && isDigit(s[i + 1]))) {
      std::string digits;
      for (bool point = false; i < s.size(); ++i) {
        const bool separates = !point && i + 1 < s.size() && isDigit(s[i + 1]) &&
                               (s[i] == '.' || (s[i] == ',' && decimalComma(s, i)));
        if (!isDigit(s[i]) && !separates) break;
        point = point || separates;
        digits += s[i] == ',' ? '.' : s[i];
      }
      std::from_chars(digits.data(), digits.data() + digits.size(), raw.value);
      raw.number = true;
      raw.text = digits;
    } else if (const std::size_t sign = signAt(s, i)) {
      raw.text = s.substr(i, sign);
      i += sign;
    } else {
      // "d4" is one word, "500ms" two.
      while (i < s.size() && (isLetter(s[i]) || isDigit(s[i])) &&
             !(isLetter(s[i]) && signAt(s, i) > 0))
        ++i;
      raw.text = lower(s.substr(from, i - from));
    }
    raw.at = from;
    raw.length = i - from;
    out.push_back(std::move(raw));
  }
  return out;
}

std::string joined(const std::vector<Raw>& raw, std::size_t from, std::size_t count) {
  std::string out;
  for (std::size_t k = 0; k < count; ++k) out += (k ? " " : "") + raw[from + k].text;
  return out;
}

// All single words that mean anything here, and of those that mean something alone, what.
using KnownWords = std::map<std::string, Concept>;
void takeWordsOf(const std::string& phrase, KnownWords& to) {
  for (const Raw& raw : rawWords(lower(phrase)))
    if (!raw.number) to.emplace(raw.text, Concept::unknown);
}

// Those that are known whatever the program is called about.
const KnownWords& usualWords() {
  static const KnownWords all = [] {
    KnownWords out;
    for (const Entry& e : lexicon())
      if (e.words.find(' ') == std::string::npos) out[e.words] = e.is;
    for (const Entry& e : lexicon()) takeWordsOf(e.words, out);
    for (const GroupKind& group : groupKinds())
      for (const std::string& head : group.heads) takeWordsOf(head, out);
    for (const std::string& sort : sortWords()) takeWordsOf(sort, out);
    return out;
  }();
  return all;
}

// And the names of this one.
KnownWords nameWords(const Vocabulary& words) {
  KnownWords out;
  for (const PinWords& pin : words.wired) {
    for (const PinPart& part : pin.parts) takeWordsOf(part.name, out);
    takeWordsOf(pin.label, out);
  }
  for (const auto* names : {&words.variables, &words.lists, &words.pins})
    for (const std::string& name : *names) takeWordsOf(name, out);
  for (const Vocabulary::Own& own : words.own) {
    takeWordsOf(own.name, out);
    for (const std::string& input : own.inputs) takeWordsOf(input, out);
  }
  return out;
}

const std::map<std::string, const Entry*>& entries() {
  static const std::map<std::string, const Entry*> all = [] {
    std::map<std::string, const Entry*> out;
    for (const Entry& e : lexicon()) out.emplace(e.words, &e);
    return out;
  }();
  return all;
}

// What a name is in what was typed, and how it is written.
using Names = std::map<std::string, std::pair<Concept, std::string>>;
Names namesIn(const Vocabulary& words) {
  Names out;
  for (const Vocabulary::Own& own : words.own) out[lower(own.name)] = {Concept::ownStep, own.name};
  for (const std::string& list : words.lists) out[lower(list)] = {Concept::nameOfList, list};
  for (const std::string& name : words.variables) out[lower(name)] = {Concept::name, name};
  return out;
}

class Matching {
 public:
  Matching(std::vector<Raw> raw, const Vocabulary& words)
      : raw_(std::move(raw)), words_(words), names_(namesIn(words)) {}

  void mend(std::vector<Mended>& mended) {
    const KnownWords names = nameWords(words_);
    const auto isKnown = [&](const std::string& word) {
      return names.contains(word) || usualWords().contains(word);
    };
    splitNumbers(isKnown);
    for (Raw& raw : raw_) {
      if (raw.number || raw.quoted || !isLetter(raw.text[0]) || isKnown(raw.text)) continue;
      if (looksLikePin(raw.text)) continue;
      const std::string near = nearest(raw.text, names);
      if (near.empty()) continue;
      mended.push_back({raw.at, raw.length, near});
      raw.text = near;
      raw.mended = true;
    }
  }

  std::vector<Token> tokens(const std::string& typed) {
    std::vector<Token> out;
    for (std::size_t i = 0; i < raw_.size();) {
      Token token = at(i);
      const std::size_t last = i + used_ - 1;
      token.at = raw_[i].at;
      token.length = raw_[last].at + raw_[last].length - token.at;
      for (std::size_t k = i; k <= last; ++k) token.mended = token.mended || raw_[k].mended;
      if (token.text.empty()) token.text = typed.substr(token.at, token.length);
      out.push_back(std::move(token));
      i += used_;
    }
    return out;
  }

 private:
  // "pin4" and "led4" are two words, where nothing is called so.
  template <typename IsKnown>
  void splitNumbers(const IsKnown& isKnown) {
    for (std::size_t i = 0; i < raw_.size(); ++i)
      for (const char* word : {"pin", "led", "lamp"}) {
        const std::string text = raw_[i].text;
        const std::size_t n = std::char_traits<char>::length(word);
        if (raw_[i].quoted || isKnown(text) || !text.starts_with(word) || text.size() == n ||
            !std::all_of(text.begin() + static_cast<std::ptrdiff_t>(n), text.end(), isDigit))
          continue;
        Raw digits;
        digits.text = text.substr(n);
        digits.at = raw_[i].at + n;
        digits.length = raw_[i].length - n;
        digits.number = true;
        std::from_chars(digits.text.data(), digits.text.data() + digits.text.size(), digits.value);
        raw_[i].text = word;
        raw_[i].length = n;
        raw_.insert(raw_.begin() + static_cast<std::ptrdiff_t>(i) + 1, std::move(digits));
      }
  }

  static bool looksLikePin(const std::string& word) {
    const auto digit = word.find_first_of("0123456789");
    return digit != std::string::npos && digit <= 2;
  }

  // The one known word that a slip makes of this; empty: none, or it could be several.
  static std::string nearest(const std::string& word, const KnownWords& names) {
    const int most = word.size() < 4 ? 0 : word.size() < 8 ? 1 : 2;
    std::string best;
    Concept means = Concept::unknown;
    int fewest = most + 1;
    bool several = false;
    for (const KnownWords* known : {&names, &usualWords()})
      for (const auto& [candidate, is] : *known) {
        if (candidate.size() < 3 || candidate == best) continue;
        const int slips = slipsBetween(word, candidate, most);
        if (slips > most || slips > fewest) continue;
        // Several words are no question where they mean the same.
        const bool same = is == means && is != Concept::unknown;
        several = slips == fewest && !best.empty() && (several || !same);
        if (slips == fewest && !best.empty()) continue;
        best = candidate;
        means = is;
        fewest = slips;
      }
    return several ? std::string() : best;
  }

  Token at(std::size_t i) {
    const Raw& raw = raw_[i];
    used_ = 1;
    if (raw.quoted) return named(Concept::text, raw.text);
    constexpr std::size_t longest = 6;
    Token best;
    std::size_t most = 0;
    for (std::size_t n = std::min(longest, raw_.size() - i); n > 0; --n) {
      const std::string phrase = joined(raw_, i, n);
      if (const auto it = names_.find(phrase); it != names_.end() && n > most) {
        best = named(it->second.first, it->second.second);
        most = n;
        break;
      }
      if (const auto it = entries().find(phrase); it != entries().end() && n > most) {
        best = Token{};
        best.is = it->second->is;
        best.value = it->second->value;
        best.exact = false;
        most = n;
        break;
      }
    }
    if (!raw.number) {
      // A pin or part beats other words of the same length.
      std::string rest = joined(raw_, i, raw_.size() - i);
      const std::size_t before = rest.size();
      if (auto meant = takePin(rest, words_, {.bareNumbers = false, .articles = false})) {
        std::size_t taken = 0, letters = 0;
        const std::size_t length = before - rest.size();
        while (i + taken < raw_.size() && letters < length)
          letters += raw_[i + taken++].text.size() + 1;
        const bool whole =
            taken > most || (taken == most && (!meant->is || best.is != Concept::name));
        // "switch red on" begins with a verb.
        const bool verb = meant->is && i == 0 && best.is == Concept::set && taken == most;
        if (whole && !verb && !(meant->partly && most >= taken)) {
          best = Token{};
          best.is = Concept::pin;
          best.pins = std::move(meant->pins);
          best.sort = meant->is;
          best.several = meant->several;
          most = taken;
        }
      }
    }
    if (most > 0) {
      used_ = most;
      return best;
    }
    Token out;
    out.is = raw.number                                      ? Concept::number
             : isLetter(raw.text[0]) || isDigit(raw.text[0]) ? Concept::unknown
                                                             : Concept::sign;
    out.value = raw.value;
    return out;
  }

  static Token named(Concept is, const std::string& name) {
    Token out;
    out.is = is;
    out.name = name;
    return out;
  }

  std::vector<Raw> raw_;
  const Vocabulary& words_;
  Names names_;
  std::size_t used_ = 1;
};

}  // namespace

int slipsBetween(const std::string& a, const std::string& b, int most) {
  const int n = static_cast<int>(a.size()), m = static_cast<int>(b.size());
  if (std::abs(n - m) > most) return most + 1;
  std::vector<std::vector<int>> d(a.size() + 1, std::vector<int>(b.size() + 1));
  const auto cell = [&](int i, int j) -> int& {
    return d[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)];
  };
  const auto same = [&](int i, int j) {
    return a[static_cast<std::size_t>(i)] == b[static_cast<std::size_t>(j)];
  };
  for (int i = 0; i <= n; ++i) cell(i, 0) = i;
  for (int j = 0; j <= m; ++j) cell(0, j) = j;
  for (int i = 1; i <= n; ++i)
    for (int j = 1; j <= m; ++j) {
      int best = std::min({cell(i - 1, j) + 1, cell(i, j - 1) + 1,
                           cell(i - 1, j - 1) + (same(i - 1, j - 1) ? 0 : 1)});
      if (i > 1 && j > 1 && same(i - 1, j - 2) && same(i - 2, j - 1))
        best = std::min(best, cell(i - 2, j - 2) + 1);
      cell(i, j) = best;
    }
  return cell(n, m);
}

Tokens tokensOf(const std::string& typed, const Vocabulary& words, bool mends) {
  Tokens out;
  out.typed = typed;
  Matching matching(rawWords(typed), words);
  if (mends) matching.mend(out.mended);
  out.all = matching.tokens(typed);
  return out;
}

}  // namespace ignavo::phrases
