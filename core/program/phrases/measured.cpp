#include "program/phrases/measured.h"

#include <algorithm>

#include "program/facts.h"
#include "program/typed.h"
#include "program/words.h"

// Goes through what a step or a value holds, with what may stand at each place of it: a truth, a
// number, or anything. Only where anything may, and nothing hangs on the pin, both readings are
// sensible; the step that is asked about is then made twice, once with each of them.
namespace ignavo::phrases {

namespace {

// What may stand in a place.
enum class Place : std::uint8_t { truth, number, anything };
// What becomes of pins that are open.
enum class Open : std::uint8_t { stays, level, truth };

Place placeOf(SlotKind::Type type) {
  switch (type) {
    case SlotKind::Type::number:
      return Place::number;
    case SlotKind::Type::any:
    case SlotKind::Type::said:
    case SlotKind::Type::items:
    case SlotKind::Type::inputs:
      return Place::anything;
    default:
      return Place::truth;
  }
}

class Levels {
 public:
  Levels(const Vocabulary& words, Open open) : words_(words), open_(open) {}

  void take(Step& step) {
    const StepKind* kind = stepKind(step.kind);
    for (auto& [key, value] : step.fields)
      if (const SlotKind* slot = kind ? kind->slot(key) : nullptr) take(value, placeOf(slot->type));
    // What stands inside is asked nothing: it would take a line of its own.
    for (auto& [key, body] : step.bodies)
      for (Step& inner : body) Levels(words_, Open::level).take(inner);
  }
  void take(Expr& e, Place place) {
    if (pinRead(e)) return pin(e, place);
    if (e.shape == Expr::Shape::op) place = placeIn(e);
    if (e.shape == Expr::Shape::get) place = Place::number;
    if (e.shape == Expr::Shape::sig) return;
    for (auto& [key, inner] : e.args) take(inner, place);
  }
  const std::string& open() const { return isOpen_; }  // the first; empty: none is

 private:
  static Place placeIn(const Expr& e) {
    const OperatorKind* kind = operatorKind(e.text);
    const bool number = kind && !kind->takesTruth && !asksEqual(e) && !asksUnequal(e);
    return number ? Place::number : Place::truth;
  }
  void pin(Expr& e, Place place) {
    const std::string name = *pinRead(e);
    const PinWords* about = measures(e) ? nullptr : words_.about(name);
    if (!about || !about->measures || place == Place::truth) return;
    const bool bare = about->parts.empty();
    if (!bare && !about->part(PinPart::Is::sensor)) return;
    const bool plain = !bare || place == Place::number;
    if (!plain && isOpen_.empty()) isOpen_ = name;
    if (plain || open_ == Open::level)
      e.text = "level";
    else if (open_ == Open::truth)
      e = pinIs(name, true);
  }

  const Vocabulary& words_;
  Open open_;
  std::string isOpen_;
};

}  // namespace

std::optional<Question> takeLevels(Step& step, const std::string& typed, const Vocabulary& words) {
  const Step asTyped = step;
  Levels levels(words, Open::stays);
  levels.take(step);
  if (levels.open().empty()) return std::nullopt;
  Question q;
  q.plain = true;
  q.problem = stepSay("{}: its level from 0 to 100 %, or whether it is high?", levels.open());
  q.at = std::min(typed::lower(typed).find(typed::lower(levels.open())), typed.size());
  q.length = q.at < typed.size() ? levels.open().size() : 0;
  for (const Open as : {Open::level, Open::truth}) {
    Step choice = asTyped;
    Levels(words, as).take(choice);
    q.choices.push_back(phraseOf(choice));
  }
  return q;
}

void takeLevels(Expr& value, SlotKind::Type type, const Vocabulary& words) {
  Levels(words, Open::level).take(value, placeOf(type));
}

}  // namespace ignavo::phrases
