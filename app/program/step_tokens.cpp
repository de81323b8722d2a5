#include "program/step_tokens.h"

#include <algorithm>

#include "program/facts.h"
#include "program/signals.h"
#include "theme/text.h"
#include "theme/theme.h"

// A phrase of the language, as its row tells it, with a field for each pair of braces.
namespace ignavo::app {

namespace {

// A list that is empty is none.
bool isGiven(const Expr* field) {
  return field && !(field->shape == Expr::Shape::list && field->args.empty());
}

// Fields that are read and typed as one text.
bool isText(SlotKind::Type type) {
  using Type = SlotKind::Type;
  return type == Type::own || type == Type::key || type == Type::said || type == Type::items ||
         type == Type::inputs || type == Type::name || type == Type::names;
}

// The field that may be left out of a phrase.
std::string optionalOf(const std::string& phrase) {
  for (const PhrasePiece& piece : piecesOf(phrase))
    if (piece.optional && piece.field) return piece.text;
  return {};
}

}  // namespace

void TokenCache::named(std::map<std::string, QString> names) {
  if (names == names_) return;
  names_ = std::move(names);
  steps.clear();
}

TokenMaker::TokenMaker(const PinNamer& namer, TokenCache* cache)
    : namer_(namer),
      cache_(cache),
      pinFont_(theme().mono(12.5, QFont::Bold)),
      valueFont_(theme().mono(12.5)),
      wordFont_(theme().text(13)),
      boldFont_(theme().text(13, QFont::DemiBold)) {}

double TokenMaker::widthOf(const Token& t) const {
  const auto wide = [&](const QFontMetricsF& font, const QString& text) {
    double& known = widths_[&font == &pinFont_     ? QLatin1Char('b') + text
                            : &font == &valueFont_ ? QLatin1Char('v') + text
                                                   : QLatin1Char('w') + text];
    if (known == 0) known = font.horizontalAdvance(text);
    return known;
  };
  switch (t.what) {
    case Token::What::pin:
      return std::max(34.0, wide(pinFont_, t.text) + 14);
    case Token::What::value:
    case Token::What::level:
    case Token::What::condition:
      return wide(valueFont_, t.text) + 14;
    case Token::What::label:
    case Token::What::word:
      return wide(wordFont_, t.text);
    case Token::What::knot:
      break;  // as wide as what is in it
  }
  return 0;
}

double TokenMaker::boldWidth(const QString& text) const {
  return boldFont_.horizontalAdvance(text);
}

QString TokenMaker::nameOf(const std::string& name) const {
  const QString label = namer_(name);
  return label.isEmpty() ? str(name) : label;
}

// "Each time D2 · Call button goes high", the pin as a chip.
std::vector<Token> TokenMaker::ofSign(const Trigger& trigger) const {
  const TriggerKind* kind = triggerKind(trigger.on);
  if (!kind) return {{Token::What::word, str(signOf(trigger))}};
  std::vector<Token> out;
  for (const PhrasePiece& piece : piecesOf(kind->heading.empty() ? kind->sign : kind->heading)) {
    const SlotKind* field = piece.field ? kind->slot(piece.text) : nullptr;
    if (piece.optional && !isGiven(trigger.field(optionalOf(kind->sign)))) continue;
    if (!piece.field)
      out.push_back({Token::What::word, str(piece.text).trimmed()});
    else if (kind->own)  // its name and inputs are typed with the sign
      out.push_back({Token::What::word, str(slotText(*trigger.field(piece.text), *field))});
    else if (piece.text == pinKey)
      pin(trigger.pin, pinKey, out);
    else if (const Expr* value = trigger.field(piece.text))
      slot(*value, *field, out);
  }
  if (const std::string& again = againOf(trigger).words; !again.empty())
    out.push_back({Token::What::word, QStringLiteral("· ") + str(again)});
  return out;
}

std::vector<Token> TokenMaker::ofValue(const Expr& e, const std::string& path,
                                       SlotKind::Type type) const {
  std::vector<Token> out;
  expression(e, path, type, out);
  return out;
}

std::vector<Token> TokenMaker::ofOperator(const Expr& e, const std::string& path,
                                          SlotKind::Type type, const std::string& through) const {
  std::vector<Token> out;
  without_ = through.empty() ? std::string() : path + "/" + through;
  expression(e, path, type, out);
  without_.clear();
  // Where it comes in nothing need be said, but in the middle of a sentence.
  for (std::size_t i = 0; i < out.size(); ++i) {
    if (out[i].what != Token::What::word || !out[i].text.isEmpty()) continue;
    const bool inside = i > 0 && i + 1 < out.size();
    const SignalKind* signal = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
    if (inside && signal && signal->chooses) {
      out[i].text = QStringLiteral("so");
      break;
    }
    out.erase(out.begin() + static_cast<std::ptrdiff_t>(i));
    if (i < out.size() || i == 0 || out[i - 1].what != Token::What::word) break;
    // Nor the word that would lead to it.
    QString& last = out[i - 1].text;
    if (last == QLatin1String("on") || last == QLatin1String("of"))
      out.pop_back();
    else if (last.endsWith(QLatin1String(" on")) || last.endsWith(QLatin1String(" of")))
      last.chop(3);
    break;
  }
  return out;
}

QString TokenMaker::operatorText(const Expr& e, const std::string& through) {
  const PinNamer nameless = [](const std::string&) { return QString(); };
  QStringList words;
  for (const Token& t : TokenMaker(nameless).ofOperator(e, "from", SlotKind::Type::truth, through))
    words << t.text;
  return words.join(QLatin1Char(' '));
}

QString TokenMaker::sentenceOf(const Expr& e) const {
  QStringList words;
  for (const Token& t : ofValue(e, "from", SlotKind::Type::truth)) {
    if (t.what == Token::What::label) words.removeLast();  // the part stands for its pin
    words << t.text;
  }
  return words.join(QLatin1Char(' '))
      .replace(QStringLiteral("( "), QStringLiteral("("))
      .replace(QStringLiteral(" )"), QStringLiteral(")"));
}

std::vector<Token> TokenMaker::ofStep(const Step& s) const {
  if (cache_)
    if (const auto it = cache_->steps.find(s.id);
        it != cache_->steps.end() && it->second.kind == s.kind && it->second.fields == s.fields)
      return it->second.tokens;
  std::vector<Token> out = told(s);
  for (Token& t : out) t.box.setWidth(widthOf(t));
  if (cache_ && !s.id.empty())
    cache_->steps.insert_or_assign(s.id, TokenCache::Told{s.kind, s.fields, out});
  return out;
}

// The step's phrase, with its fields as fields.
std::vector<Token> TokenMaker::told(const Step& s) const {
  std::vector<Token> out;
  const StepKind* kind = stepKind(s.kind);
  if (!kind) return out;
  for (const PhrasePiece& piece : piecesOf(kind->phrase)) {
    const SlotKind* field = piece.field ? kind->slot(piece.text) : nullptr;
    const Expr* value = field ? s.field(field->key) : nullptr;
    if (value && (!field->optional || isGiven(value)))
      slot(*value, *field, out);
    else if (field && !field->absent.empty())
      out.push_back({Token::What::value, str(field->absent), field->key, {}, field->type});
    else if (const QString words = str(piece.text).trimmed();
             !words.isEmpty() && !piece.field &&
             (!piece.optional || isGiven(s.field(optionalOf(kind->phrase)))))
      out.push_back({Token::What::word, words});
  }
  return out;
}

void TokenMaker::pin(const std::string& name, const std::string& path,
                     std::vector<Token>& out) const {
  Token t{Token::What::pin, name.empty() ? QStringLiteral("pin?") : str(name), path, name,
          SlotKind::Type::pin};
  out.push_back(t);
  const QString label = namer_(name);
  if (!label.isEmpty()) out.push_back({Token::What::label, label});
}

void TokenMaker::slot(const Expr& held, const SlotKind& of, std::vector<Token>& out) const {
  const Expr* value = &held;
  if (of.type == SlotKind::Type::pin) return pin(value->text, of.key, out);
  if (of.type == SlotKind::Type::variable || of.type == SlotKind::Type::list) {
    const QString name = value->text.empty() ? QStringLiteral("…") : str(value->text);
    out.push_back({Token::What::value, name, of.key, {}, of.type});
    return;
  }
  if (of.type == SlotKind::Type::level && value->isLiteral()) {
    out.push_back({Token::What::level, str(phraseOf(*value)), of.key, {}, of.type});
    return;
  }
  if (of.type == SlotKind::Type::text) {
    const QString text = str(value->text);
    out.push_back(
        {Token::What::value, text.isEmpty() ? QStringLiteral("…") : text, of.key, {}, of.type});
    return;
  }
  if (isText(of.type)) {
    const QString text = str(slotText(*value, of));
    out.push_back(
        {Token::What::value, text.isEmpty() ? QStringLiteral("…") : text, of.key, {}, of.type});
    return;
  }
  if (of.type == SlotKind::Type::number && value->isLiteral()) {
    out.push_back({Token::What::value, str(phraseOf(*value)), of.key, {}, of.type});
    if (!of.unit.empty()) out.push_back({Token::What::word, str(of.unit)});
    return;
  }
  expression(*value, of.key, of.type, out);
}

// What words and fields take turns in.
void TokenMaker::worded(const Expr& e, const std::string& phrase, const std::string& path,
                        SlotKind::Type type, std::vector<Token>& out) const {
  for (const PhrasePiece& piece : piecesOf(phrase)) {
    const Expr* taken = piece.field ? e.arg(piece.text) : nullptr;
    if (piece.field && piece.text == pinKey) {
      pin(taken ? taken->text : std::string(), path + "/" + pinKey, out);
    } else if (piece.field && fieldKind(piece.text) != FieldKind::whole &&
               e.shape == Expr::Shape::get) {
      named(e, piece.text, path, out);
    } else if (!piece.field) {
      if (!piece.optional || e.arg(optionalOf(phrase)))
        out.push_back({Token::What::word, str(piece.text).trimmed()});
    } else if (taken && taken->shape == Expr::Shape::list) {
      for (std::size_t i = 0; i < taken->args.size(); ++i) {
        if (i > 0) out.push_back({Token::What::word, QStringLiteral("…")});
        operand(taken->args[i].second, path + "/" + piece.text + "/" + std::to_string(i), type,
                out);
      }
    } else if (taken) {
      operand(*taken, path + "/" + piece.text, type, out);
      const SignalKind* k = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
      const std::string unit = k ? k->operand(piece.text)->unit : std::string();
      if (taken->isLiteral() && !unit.empty()) out.push_back({Token::What::word, str(unit)});
    }
  }
}
void TokenMaker::named(const Expr& e, const std::string& key, const std::string& path,
                       std::vector<Token>& out) const {
  const Expr* name = e.arg(key);
  const bool list = key == listKey;
  out.push_back({Token::What::value,
                 name ? str(name->text) : QStringLiteral("…"),
                 path + "/" + key,
                 {},
                 list ? SlotKind::Type::list : SlotKind::Type::variable});
}
// Operators within operators stand in brackets; “D2 is high” reads well without.
void TokenMaker::operand(const Expr& e, const std::string& path, SlotKind::Type type,
                         std::vector<Token>& out) const {
  if (!without_.empty() && path == without_) return out.push_back({Token::What::word, QString()});
  const bool brackets = (e.shape == Expr::Shape::op && !pinTest(e)) || e.shape == Expr::Shape::sig;
  if (brackets) out.push_back({Token::What::word, QStringLiteral("(")});
  expression(e, path, type, out);
  if (brackets) out.push_back({Token::What::word, QStringLiteral(")")});
}

void TokenMaker::expression(const Expr& e, const std::string& path, SlotKind::Type type,
                            std::vector<Token>& out) const {
  const Expr *a = operandOf(e, 0), *b = operandOf(e, 1);
  if (const GetterKind* getter = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr)
    return worded(e, getter->phrase, path, type, out);
  if (const SignalKind* k = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr) {
    worded(e, k->phrase, path, type, out);
    const Expr* set = e.arg(k->flagKey());
    if (set && set->truth) out.push_back({Token::What::word, str(k->flag)});
    return;
  }
  if (e.shape == Expr::Shape::op && a) {
    const OperatorKind* k = operatorKind(e.text);
    if (k && !k->isSign()) return worded(e, k->phrase, path, type, out);
    operand(*a, path + "/" + firstOperand, type, out);
    if (asksEqual(e) && b && b->shape == Expr::Shape::truth) {
      out.push_back({Token::What::word, QStringLiteral("is")});
      out.push_back({Token::What::condition,
                     b->truth ? QStringLiteral("high") : QStringLiteral("low"),
                     path + "/" + secondOperand,
                     {},
                     type});
      return;
    }
    out.push_back(
        {Token::What::word, k ? str(piecesOf(k->phrase)[1].text).trimmed() : str(e.text)});
    if (b) operand(*b, path + "/" + secondOperand, type, out);
    return;
  }
  out.push_back({Token::What::value, str(phraseOf(e)), path, {}, SlotKind::Type::number});
}

}  // namespace ignavo::app
