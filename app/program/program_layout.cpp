#include "program/program_layout.h"

#include <QFontMetricsF>
#include <algorithm>

#include "program/facts.h"
#include "program/signals.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

class Builder {
 public:
  Builder(double width, const PinNamer& namer) : width_(width), namer_(namer) {}

  ProgramPicture build(const Program& program) {
    for (const auto& lane : program.lanes) laneRows(*lane);
    out_.height = y_ + 8;
    return std::move(out_);
  }

 private:
  static double trunkX(int level) { return rail::base + rail::indent * level; }

  void laneRows(const Lane& lane) {
    lane_ = lane.id;
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    ProgramRow sign;
    sign.what = ProgramRow::What::sign;
    sign.lane = lane.id;
    signTokens(lane, sign);
    double right = 0;
    for (const Token& t : sign.tokens) right = std::max(right, t.box.right());
    sign.box = QRectF(trunkX(0) - 14, y_ + 4, right - trunkX(0) + 14 + 30,
                      sign.tokens.back().box.bottom() - y_);
    out_.rows.push_back(sign);
    if (trigger && trigger->keeps != TriggerKind::Keeps::nothing) {
      y_ = sign.box.bottom() + 14;
      return;
    }
    const double signMiddle = sign.box.center().y();
    y_ = sign.box.bottom() + 10;
    const double top = sign.box.bottom();
    edits::StepPlace place{lane.id, {}, {}, 0};
    const double end = body(lane.steps, place, 0, top, RailPiece::What::trunk, nullptr);
    ProgramRow last;
    last.what = ProgramRow::What::end;
    last.lane = lane.id;
    last.box =
        QRectF(trunkX(0) + rail::cardGap - 6, y_, width_ - trunkX(0) - rail::cardGap - 8, 28);
    out_.rows.push_back(last);
    const double bottom = y_ + 14;
    piece(RailPiece::What::trunk, nullptr, {{trunkX(0), end}, {trunkX(0), bottom + 6}});
    y_ += rail::rowHeight + 12;
    // What an event starts waits for the next one at a buffer stop.
    if (trigger && trigger->startsAgain()) {
      const double y = bottom + 6, half = 8;
      piece(RailPiece::What::stop, nullptr, {{trunkX(0) - half, y}, {trunkX(0) + half, y}});
      ProgramRow stop;
      stop.what = ProgramRow::What::stop;
      stop.lane = lane.id;
      stop.box =
          QRectF(trunkX(0) + rail::cardGap - 4, y_ - 8, width_ - trunkX(0) - rail::cardGap - 8, 18);
      stop.tokens.push_back({Token::What::label, waitsFor(lane.trigger, *trigger)});
      out_.rows.push_back(stop);
      y_ += 12;
    }
    if (trigger && trigger->endless && !lane.steps.empty())
      piece(RailPiece::What::back, nullptr,
            {{trunkX(0), bottom + 6},
             {trunkX(0), y_ - 4},
             {14, y_ - 4},
             {14, signMiddle},
             {trunkX(0) - 14, signMiddle}});
    y_ += 14;
  }

  // "waits for the next time that Call button goes high"
  QString waitsFor(const Trigger& trigger, const TriggerKind& kind) const {
    if (kind.starts == TriggerKind::Starts::test)
      return QStringLiteral("waits until it becomes true again");
    if (kind.starts == TriggerKind::Starts::clock) return QStringLiteral("waits for the next time");
    if (kind.starts == TriggerKind::Starts::key)
      return QStringLiteral("waits until the key is struck again");
    const QString label = trigger.pin.empty() ? QStringLiteral("…") : namer_(trigger.pin);
    return QStringLiteral("waits until %1 goes %2 again")
        .arg(label.isEmpty() ? str(trigger.pin) : label,
             kind.edge == TriggerKind::Edge::rise ? "high" : "low");
  }

  // "Each time D2 · Call button goes high", the pin as a chip.
  void signTokens(const Lane& lane, ProgramRow& sign) const {
    const QFontMetricsF font(theme().text(13, QFont::DemiBold));
    double x = trunkX(0);
    // A long one goes on below.
    double line = 0;
    // Behind it stands what it gives just now.
    const double room = width_ - (isKept(lane.trigger) || startTestOf(lane.trigger) ? 130 : 60);
    const auto put = [&](Token t, double width) {
      if (x + width > room && x > trunkX(0) + 40) {
        x = trunkX(0) + 12;
        ++line;
      }
      t.box = QRectF(x, y_ + 8 + line * 24, std::min(width, room - x), 20);
      x += width + 6;
      sign.tokens.push_back(std::move(t));
    };
    const auto word = [&](const QString& text) {
      if (!text.isEmpty()) put({Token::What::word, text}, font.horizontalAdvance(text));
    };
    const TriggerKind* kind = triggerKind(lane.trigger.on);
    if (!kind) return word(str(signOf(lane.trigger)));
    std::vector<Token> tokens;
    for (const PhrasePiece& piece : piecesOf(kind->sign)) {
      const SlotKind* slot = piece.field ? kind->slot(piece.text) : nullptr;
      if (piece.optional && !isGiven(lane.trigger.field(optionalOf(kind->sign)))) continue;
      if (!piece.field)
        tokens.push_back({Token::What::word, str(piece.text).trimmed()});
      else if (kind->own)  // its name and inputs are typed with the sign
        tokens.push_back(
            {Token::What::word, str(slotText(*lane.trigger.field(piece.text), *slot))});
      else if (piece.text == pinKey)
        pinTokens(lane.trigger.pin, pinKey, tokens);
      else if (const Expr* value = lane.trigger.field(piece.text))
        slotTokens(*value, *slot, tokens);
    }
    if (const std::string& again = againOf(lane.trigger).words; !again.empty())
      tokens.push_back({Token::What::word, QStringLiteral("· ") + str(again)});
    for (const Token& t : tokens)
      if (t.isField())
        put(t, widthOf(t));
      else
        word(t.text);
  }

  void piece(RailPiece::What what, const Step* owner, std::vector<QPointF> points) {
    out_.rails.push_back({what, owner, std::move(points), lane_});
  }

  // Rows of a list of steps at `level`; the rail comes in at `railFrom`.
  // Returns where the rail at this level ends.
  double body(const Steps& steps, edits::StepPlace place, int level, double railFrom,
              RailPiece::What what, const Step* owner) {
    const double x = trunkX(level);
    double from = railFrom;
    for (std::size_t i = 0; i < steps.size(); ++i) {
      place.index = i;
      gap(place, level);
      const Step& s = steps[i];
      stepRow(s, level);
      const double dot = out_.rows.back().dotY;
      piece(what, owner, {{x, from}, {x, dot}});
      from = dot;
      if (s.bodies.empty()) continue;
      from = isFork(s) ? forkRows(s, level, dot) : loopRows(s, level, dot);
    }
    place.index = steps.size();
    if (!steps.empty() || owner == nullptr) gap(place, level);
    return from;
  }

  void gap(const edits::StepPlace& place, int level) {
    const double x = trunkX(level) + rail::cardGap;
    out_.gaps.push_back({place, y_ - rail::rowGap / 2, x, width_ - 10});
  }

  // An if: the yes-branch hangs on its own rail; its exit runs in the gutter
  // past the no-branch, and both join below.
  double forkRows(const Step& s, int level, double dot) {
    const double x = trunkX(level), inner = trunkX(level + 1), gutter = x - 12;
    branchRow(s, level, Runs::ifSo);
    const double yesTop = out_.rows.back().box.bottom();
    piece(RailPiece::What::yes, &s,
          {{x, dot}, {x, yesTop - 14}, {inner, yesTop - 14}, {inner, yesTop + 4}});
    const double yesEnd =
        inside(s, bodyKey(s, Runs::ifSo), level, yesTop + 4, RailPiece::What::yes);
    const Steps* otherwise = bodyOf(s, Runs::ifNot);
    if (!otherwise || otherwise->empty()) return goesOn(s, level, dot, yesEnd);
    const double yesOut = y_ + 2;
    y_ += 8;
    branchRow(s, level, Runs::ifNot);
    const double noTop = out_.rows.back().box.bottom();
    piece(RailPiece::What::no, &s,
          {{x, dot}, {x, noTop - 8}, {inner, noTop - 8}, {inner, noTop + 4}});
    const double noEnd = inside(s, bodyKey(s, Runs::ifNot), level, noTop + 4, RailPiece::What::no);
    const double join = y_ + 8;
    piece(RailPiece::What::yes, &s,
          {{inner, yesEnd}, {inner, yesOut}, {gutter, yesOut}, {gutter, join}, {x, join}});
    out_.rails.back().under = {x, yesOut};
    out_.rails.back().exit = true;
    piece(RailPiece::What::no, &s, {{inner, noEnd}, {inner, join}, {x, join}});
    out_.rails.back().exit = true;
    y_ += 16;
    return join;
  }

  // Nothing happens otherwise: the trunk goes straight on, and the yes-branch comes back to it. One
  // row says so, where steps can be added.
  double goesOn(const Step& s, int level, double dot, double yesEnd) {
    const double x = trunkX(level), inner = trunkX(level + 1);
    const double join = y_ + 8;
    piece(RailPiece::What::no, &s, {{x, dot}, {x, join}});
    piece(RailPiece::What::yes, &s, {{inner, yesEnd}, {inner, join}, {x, join}});
    out_.rails.back().exit = true;
    y_ += 14;
    ProgramRow row;
    row.what = ProgramRow::What::empty;
    row.slim = true;
    row.lane = lane_;
    row.step = &s;
    row.body = bodyKey(s, Runs::ifNot);
    row.level = level + 1;
    const QString text = QStringLiteral("no: goes on  +");
    row.tokens.push_back({Token::What::label, text});
    const double w = QFontMetricsF(theme().text(12)).horizontalAdvance(text) + 26;
    row.box = QRectF(inner + rail::cardGap, y_, w, 20);
    gap({lane_, s.id, row.body, 0}, level + 1);
    out_.rows.push_back(row);
    y_ += 20 + rail::rowGap;
    piece(RailPiece::What::trunk, &s, {{x, join}, {x, y_}});
    return y_;
  }

  double loopRows(const Step& s, int level, double dot) {
    const double x = trunkX(level), inner = trunkX(level + 1);
    const double top = y_;
    piece(RailPiece::What::body, &s, {{x, dot}, {x, top}, {inner, top}, {inner, top + 8}});
    y_ += 6;
    const double end = inside(s, s.bodies.front().first, level, top + 8, RailPiece::What::body);
    const double out = y_ + 4;
    // Back up to its head, dotted.
    piece(RailPiece::What::back, &s,
          {{inner, end}, {inner, out}, {x - 10, out}, {x - 10, dot}, {x - 5, dot}});
    y_ += 14;
    if (isEndless(s)) return out;
    out_.rails.back().under = {x, out};
    piece(RailPiece::What::body, &s, {{x, dot + 6}, {x, y_}});
    return y_;
  }

  double inside(const Step& s, const std::string& key, int level, double railFrom,
                RailPiece::What what) {
    const Steps* steps = s.body(key);
    edits::StepPlace place{lane_, s.id, key, 0};
    if (!steps || steps->empty()) {
      ProgramRow row;
      row.what = ProgramRow::What::empty;
      row.lane = lane_;
      row.step = &s;
      row.body = key;
      row.level = level + 1;
      row.box = QRectF(trunkX(level + 1) + rail::cardGap, y_,
                       width_ - trunkX(level + 1) - rail::cardGap - 10, rail::rowHeight);
      gap(place, level + 1);
      out_.rows.push_back(row);
      y_ += rail::rowHeight + rail::rowGap;
      return railFrom;
    }
    return body(*steps, place, level + 1, railFrom, what, &s);
  }

  void branchRow(const Step& s, int level, Runs when) {
    const bool yes = when == Runs::ifSo;
    ProgramRow row;
    row.what = ProgramRow::What::branch;
    row.lane = lane_;
    row.step = &s;
    row.body = bodyKey(s, when);
    row.yes = yes;
    row.level = level + 1;
    const Expr* test = testOf(s);
    QString text = yes ? QStringLiteral("yes") : QStringLiteral("no");
    if (test) {
      const QString words = sentence(*test, yes);
      if (!words.isEmpty()) text += QStringLiteral(": ") + words;
    }
    row.tokens.push_back({Token::What::label, text});
    const double w = QFontMetricsF(theme().text(12, QFont::DemiBold)).horizontalAdvance(text) + 26;
    row.box = QRectF(trunkX(level + 1) + rail::cardGap, y_ + 1,
                     std::min(w, width_ - trunkX(level + 1) - rail::cardGap - 10), 20);
    out_.rows.push_back(row);
    y_ += 27;
  }

  // "Call button is high", "Dusk sensor ≥ 40 %", for a plain test of a pin.
  QString sentence(const Expr& test, bool yes) const {
    const Expr *a = operandOf(test, 0), *b = operandOf(test, 1);
    const std::string* pin = a ? pinRead(*a) : nullptr;
    if (!pin || !b || !b->isLiteral()) return {};
    const QString label = namer_(*pin);
    const QString name = label.isEmpty() ? str(*pin) : label;
    if (const auto asked = pinTest(test))
      return name + (asked->high == yes ? QStringLiteral(" is high") : QStringLiteral(" is low"));
    const std::string opposite = oppositeOf(test.text);
    if (measures(*a) && b->shape == Expr::Shape::number && !opposite.empty())
      return QStringLiteral("%1 %2 %3 %")
          .arg(name, str(yes ? test.text : opposite), str(phraseOf(*b)));
    return {};
  }

  void stepRow(const Step& s, int level) {
    ProgramRow row;
    row.lane = lane_;
    row.step = &s;
    row.level = level;
    const double left = trunkX(level) + rail::cardGap;
    row.tokens = tokens(s);
    const double right = width_ - 10;
    double x = left + 12, line = 0;
    const double room = right - 8;
    for (Token& t : row.tokens) {
      // Names may be elided, pins and values never.
      double w = widthOf(t);
      if (t.what == Token::What::label) w = std::min(w, std::max(40.0, (room - left) * 0.5));
      if (x + w > room && x > left + 40) {
        x = left + 28;
        ++line;
      }
      t.box = QRectF(x, y_ + 4 + line * 24, std::min(w, std::max(20.0, room - x)), 20);
      x += w + 6;
    }
    row.box = QRectF(left, y_, right - left, rail::rowHeight + line * 24);
    row.dotX = trunkX(level);
    row.dotY = y_ + rail::rowHeight / 2;
    out_.rows.push_back(row);
    y_ += row.box.height() + rail::rowGap;
  }

  double widthOf(const Token& t) const {
    switch (t.what) {
      case Token::What::pin:
        return std::max(34.0, pinFont_.horizontalAdvance(t.text) + 14);
      case Token::What::value:
      case Token::What::level:
      case Token::What::condition:
        return valueFont_.horizontalAdvance(t.text) + 14;
      case Token::What::label:
      case Token::What::word:
        return wordFont_.horizontalAdvance(t.text);
    }
    return 0;
  }

  // The step's phrase, with its fields as fields.
  std::vector<Token> tokens(const Step& s) const {
    std::vector<Token> out;
    const StepKind* kind = stepKind(s.kind);
    if (!kind) return out;
    for (const PhrasePiece& piece : piecesOf(kind->phrase)) {
      const SlotKind* slot = piece.field ? kind->slot(piece.text) : nullptr;
      const Expr* value = slot ? s.field(slot->key) : nullptr;
      if (value && (!slot->optional || isGiven(value)))
        slotTokens(*value, *slot, out);
      else if (slot && !slot->absent.empty())
        out.push_back({Token::What::value, str(slot->absent), slot->key, {}, slot->type});
      else if (const QString words = str(piece.text).trimmed();
               !words.isEmpty() && !piece.field &&
               (!piece.optional || isGiven(s.field(optionalOf(kind->phrase)))))
        out.push_back({Token::What::word, words});
    }
    return out;
  }

  // A list that is empty is none.
  static bool isGiven(const Expr* field) {
    return field && !(field->shape == Expr::Shape::list && field->args.empty());
  }

  void pinTokens(const std::string& pin, const std::string& path, std::vector<Token>& out) const {
    Token t{Token::What::pin, pin.empty() ? QStringLiteral("pin?") : str(pin), path, pin,
            SlotKind::Type::pin};
    out.push_back(t);
    const QString label = namer_(pin);
    if (!label.isEmpty()) out.push_back({Token::What::label, label});
  }

  // Fields that are read and typed as one text.
  static bool isText(SlotKind::Type type) {
    using Type = SlotKind::Type;
    return type == Type::own || type == Type::key || type == Type::said || type == Type::items ||
           type == Type::inputs || type == Type::name || type == Type::names;
  }

  void slotTokens(const Expr& held, const SlotKind& slot, std::vector<Token>& out) const {
    const Expr* value = &held;
    if (slot.type == SlotKind::Type::pin) return pinTokens(value->text, slot.key, out);
    if (slot.type == SlotKind::Type::variable || slot.type == SlotKind::Type::list) {
      const QString name = value->text.empty() ? QStringLiteral("…") : str(value->text);
      out.push_back({Token::What::value, name, slot.key, {}, slot.type});
      return;
    }
    if (slot.type == SlotKind::Type::level && value->isLiteral()) {
      out.push_back({Token::What::level, str(phraseOf(*value)), slot.key, {}, slot.type});
      return;
    }
    if (slot.type == SlotKind::Type::text) {
      const QString text = str(value->text);
      out.push_back({Token::What::value,
                     text.isEmpty() ? QStringLiteral("…") : text,
                     slot.key,
                     {},
                     slot.type});
      return;
    }
    if (isText(slot.type)) {
      const QString text = str(slotText(*value, slot));
      out.push_back({Token::What::value,
                     text.isEmpty() ? QStringLiteral("…") : text,
                     slot.key,
                     {},
                     slot.type});
      return;
    }
    if (slot.type == SlotKind::Type::number && value->isLiteral()) {
      out.push_back({Token::What::value, str(phraseOf(*value)), slot.key, {}, slot.type});
      if (!slot.unit.empty()) out.push_back({Token::What::word, str(slot.unit)});
      return;
    }
    expression(*value, slot.key, slot.type, out);
  }

  // The field that may be left out of a phrase.
  static std::string optionalOf(const std::string& phrase) {
    for (const PhrasePiece& piece : piecesOf(phrase))
      if (piece.optional && piece.field) return piece.text;
    return {};
  }
  // What words and fields take turns in.
  void worded(const Expr& e, const std::string& phrase, const std::string& path,
              SlotKind::Type type, std::vector<Token>& out) const {
    for (const PhrasePiece& piece : piecesOf(phrase)) {
      const Expr* operand = piece.field ? e.arg(piece.text) : nullptr;
      if (piece.field && piece.text == pinKey) {
        pinTokens(operand ? operand->text : std::string(), path + "/" + pinKey, out);
      } else if (piece.field && fieldKind(piece.text) != FieldKind::whole &&
                 e.shape == Expr::Shape::get) {
        named(e, piece.text, path, out);
      } else if (!piece.field) {
        if (!piece.optional || e.arg(optionalOf(phrase)))
          out.push_back({Token::What::word, str(piece.text).trimmed()});
      } else if (operand && operand->shape == Expr::Shape::list) {
        for (std::size_t i = 0; i < operand->args.size(); ++i) {
          if (i > 0) out.push_back({Token::What::word, QStringLiteral("…")});
          operandTokens(operand->args[i].second, path + "/" + piece.text + "/" + std::to_string(i),
                        type, out);
        }
      } else if (operand) {
        operandTokens(*operand, path + "/" + piece.text, type, out);
        const SignalKind* k = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
        const std::string unit = k ? k->operand(piece.text)->unit : std::string();
        if (operand->isLiteral() && !unit.empty()) out.push_back({Token::What::word, str(unit)});
      }
    }
  }
  void named(const Expr& e, const std::string& key, const std::string& path,
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
  void operandTokens(const Expr& e, const std::string& path, SlotKind::Type type,
                     std::vector<Token>& out) const {
    const bool brackets =
        (e.shape == Expr::Shape::op && !pinTest(e)) || e.shape == Expr::Shape::sig;
    if (brackets) out.push_back({Token::What::word, QStringLiteral("(")});
    expression(e, path, type, out);
    if (brackets) out.push_back({Token::What::word, QStringLiteral(")")});
  }

  void expression(const Expr& e, const std::string& path, SlotKind::Type type,
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
      operandTokens(*a, path + "/" + firstOperand, type, out);
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
      if (b) operandTokens(*b, path + "/" + secondOperand, type, out);
      return;
    }
    out.push_back({Token::What::value, str(phraseOf(e)), path, {}, SlotKind::Type::number});
  }

  double width_;
  const PinNamer& namer_;
  const QFontMetricsF pinFont_{theme().mono(12.5, QFont::Bold)};
  const QFontMetricsF valueFont_{theme().mono(12.5)};
  const QFontMetricsF wordFont_{theme().text(13)};
  ProgramPicture out_;
  std::string lane_;
  double y_ = 6;
};

}  // namespace

ProgramPicture layOutProgram(const Program& program, double width, const PinNamer& namer) {
  return Builder(width, namer).build(program);
}

}  // namespace ignavo::app
