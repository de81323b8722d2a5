#include <algorithm>

#include "program/expressions.h"
#include "program/read_fields.h"
#include "program/typed.h"

// The signs of lanes: what starts them, or what they keep.
namespace ignavo {

using typed::lower, typed::trimmed;

namespace {

SlotKind pinOfSign() { return {pinKey, SlotKind::Type::pin, "", Expr::of(std::string()), 0, 0, 1}; }
SlotKind truthOfSign(const char* key) {
  return {
      key, SlotKind::Type::truth, "", Expr::binary("=", Expr::readPin("D2"), Expr::of(true)), 0, 0,
      1};
}
TriggerKind edge(const char* on, const char* sign, TriggerKind::Edge edge, const char* help) {
  TriggerKind k;
  k.on = on;
  k.sign = sign;
  k.edge = edge;
  k.slots = {pinOfSign()};
  k.help = help;
  return k;
}
TriggerKind keeps(const char* on, const char* sign, const char* heading, TriggerKind::Keeps what,
                  std::vector<SlotKind> slots, const char* help) {
  TriggerKind k;
  k.on = on;
  k.sign = sign;
  k.heading = heading;
  k.keeps = what;
  k.slots = std::move(slots);
  k.help = help;
  return k;
}

}  // namespace

const std::vector<TriggerKind>& triggerKinds() {
  using Keeps = TriggerKind::Keeps;
  static const std::vector<TriggerKind> kinds = [] {
    TriggerKind power{"power", "When power comes on"};
    power.once = true;
    power.help = "Once, from power-on";
    TriggerKind always{"always", "Round and round"};
    always.endless = true;
    always.help = "Again and again, from power-on";
    TriggerKind when{"when", "Each time {test}"};
    when.slots = {truthOfSign("test")};
    when.starts = TriggerKind::Starts::test;
    when.help = "Each time a condition becomes true";
    TriggerKind every{"every", "Every {seconds}"};
    every.slots = {{"seconds", SlotKind::Type::number, "s", Expr::of(0.25), 0.00025, 86400, 0.05}};
    every.starts = TriggerKind::Starts::clock;
    every.help = "By the clock, for the first time after that long";
    TriggerKind key{"key", "When key {key} is struck"};
    key.slots = {{keyKey, SlotKind::Type::key, "", Expr::of(std::string("space")), 0, 0, 1}};
    key.starts = TriggerKind::Starts::key;
    key.help = "Each time a key of the computer is struck";
    TriggerKind own{ownTrigger, "Own step {step}[ with {inputs}]"};
    Expr none;
    none.shape = Expr::Shape::list;
    own.slots = {{ownNameKey, SlotKind::Type::name, "", Expr::of(std::string("ring")), 0, 0, 1},
                 {ownInputsKey, SlotKind::Type::names, "", none, 0, 0, 1, true}};
    own.heading = "{step}[ · {inputs}]";
    own.own = true;
    own.help = "Steps under a name of your own, to be run from other lanes";
    return std::vector<TriggerKind>{
        power,
        always,
        edge("rise", "Each time {pin} goes high", TriggerKind::Edge::rise,
             "Each time a pin goes high"),
        edge("fall", "Each time {pin} goes low", TriggerKind::Edge::fall,
             "Each time a pin goes low"),
        when,
        every,
        key,
        keeps("follow", "Keep {pin} at {from}", "Keeps {pin} equal to", Keeps::pin,
              {pinOfSign(), truthOfSign("from")}, "Keeps a pin equal to a condition, all the time"),
        keeps("follow-level", "Keep the level of {pin} at {from}",
              "Keeps the level of {pin} equal to", Keeps::level,
              {pinOfSign(), {"from", SlotKind::Type::number, "%", Expr::of(50.0), 0, 100, 5}},
              "Keeps a pin dimmed to a value, all the time"),
        keeps("follow-variable", "Keep the variable {name} at {from}", "Keeps {name} equal to",
              Keeps::variable,
              {{variableKey, SlotKind::Type::variable, "", Expr::of(std::string()), 0, 0, 1},
               {"from", SlotKind::Type::any, "", Expr::of(0.0), 0, 0, 1}},
              "Keeps a variable equal to a value, all the time"),
        own};
  }();
  return kinds;
}

const std::vector<AgainKind>& againKinds() {
  using Again = CompiledLane::Again;
  static const std::vector<AgainKind> kinds = {
      {Again::ignore, "ignore", "", "it is ignored, and counted"},
      {Again::restart, "restart", "starting over", "it starts over"},
      {Again::queue, "queue", "one after the other", "it runs again afterwards"}};
  return kinds;
}

const AgainKind& againOf(const Trigger& trigger) {
  for (const AgainKind& kind : againKinds())
    if (kind.name == trigger.again) return kind;
  return againKinds().front();
}

const TriggerKind* triggerKind(const std::string& on) {
  for (const TriggerKind& k : triggerKinds())
    if (k.on == on) return &k;
  return nullptr;
}

const SlotKind* TriggerKind::slot(const std::string& key) const {
  for (const SlotKind& s : slots)
    if (s.key == key) return &s;
  return nullptr;
}

Trigger newTrigger(const TriggerKind& kind, std::string pin) {
  Trigger out(kind.on, std::move(pin));
  for (const SlotKind& slot : kind.slots)
    if (slot.type != SlotKind::Type::pin) out.fields.emplace_back(slot.key, slot.defaultValue);
  return out;
}

std::string signOf(const Trigger& trigger) {
  const TriggerKind* kind = triggerKind(trigger.on);
  if (!kind) return trigger.on;
  std::string out = filled(kind->sign, [&](const std::string& key) {
    const SlotKind* slot = kind->slot(key);
    const Expr* value = trigger.field(key);
    std::string text = key == pinKey ? trigger.pin
                       : value       ? slotText(*value, *slot)
                                     : std::string();
    if (text.empty() && !slot->optional) text = "…";
    if (!slot->unit.empty() && value && value->isLiteral()) text += " " + slot->unit;
    return text;
  });
  const std::string& again = againOf(trigger).words;
  return again.empty() ? out : out + ", " + again;
}

std::optional<Trigger> parseSign(const std::string& typed, const Vocabulary& words) {
  std::string said = trimmed(typed);
  std::string again;
  for (const AgainKind& kind : againKinds())
    if (const std::string tail = ", " + kind.words;
        !kind.words.empty() && lower(said).ends_with(tail)) {
      said = said.substr(0, said.size() - tail.size());
      again = kind.name;
    }
  for (const TriggerKind& kind : triggerKinds()) {
    std::vector<PhrasePiece> pieces = piecesOf(kind.sign);
    std::string rest = said;
    if (!takeWords(rest, trimmed(pieces.front().text))) continue;
    // All the words of a sign stand there: without them it is another.
    bool there = true;
    for (const PhrasePiece& piece : pieces)
      there = there && (piece.field || piece.optional || &piece == &pieces.front() ||
                        findWords(rest, trimmed(piece.text), 0) != std::string::npos);
    if (!there) continue;
    pieces.erase(pieces.begin());
    Fields fields;
    if (!readFields(kind.slots, pieces, 0, rest, words, fields).empty()) continue;
    Trigger out(kind.on, {});
    if (kind.startsAgain()) out.again = again;
    for (auto& [key, value] : fields)
      if (key == pinKey)
        out.pin = value.text;
      else
        out.fields.emplace_back(key, std::move(value));
    for (const SlotKind& slot : kind.slots)
      if (slot.optional && !out.field(slot.key)) out.setField(slot.key, slot.defaultValue);
    return out;
  }
  return std::nullopt;
}

}  // namespace ignavo
