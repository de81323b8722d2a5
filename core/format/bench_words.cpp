#include "format/bench_words.h"

#include "format/wiring_language.h"
#include "parts/catalogue.h"
#include "parts/hanging.h"

namespace ignavo {

namespace {

PinPart::Is sortOf(HangingPart::Is is) {
  switch (is) {
    case HangingPart::Is::lamp:
      return PinPart::Is::lamp;
    case HangingPart::Is::button:
      return PinPart::Is::button;
    case HangingPart::Is::sensor:
      return PinPart::Is::sensor;
    case HangingPart::Is::sounder:
      return PinPart::Is::sounder;
    case HangingPart::Is::buzzer:
      return PinPart::Is::buzzer;
    case HangingPart::Is::motor:
      return PinPart::Is::motor;
    case HangingPart::Is::arm:
      return PinPart::Is::arm;
  }
  return PinPart::Is::lamp;
}

}  // namespace

Vocabulary benchWords(const Project& project, const Nets& nets, const std::string& board) {
  Vocabulary out = wordsOf(project, board);
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return out;
  for (const BoardPin& pin : kind->pins) {
    if (pin.role != PinShape::Role::io) continue;
    PinWords& words = out.wired.emplace_back();
    words.pin = pin.name;
    words.dims = pin.pwm;
    words.measures = pin.analog;
    words.serial = !pin.serial.empty();
    for (const HangingPart& part : hangingOn(project, nets, board, pin.name))
      words.parts.push_back({(*project.parts)[static_cast<std::size_t>(part.part)]->name,
                             sortOf(part.is), part.whenLow});
    // Only where nothing else is meant.
    if (kind->lampPin == pin.name && words.parts.empty()) {
      words.parts.push_back({"board’s own lamp", PinPart::Is::lamp, false});
      words.ownLamp = true;
    }
    words.label = pinLabel(project, nets, board, pin.name);
  }
  return out;
}

Vocabulary findWords(const Project& project, const Nets& nets, const std::string& board) {
  Vocabulary out = benchWords(project, nets, board);
  for (PinWords& pin : out.wired) {
    if (pin.ownLamp) continue;
    std::erase_if(pin.parts, [&](const PinPart& part) {
      if (part.is == PinPart::Is::lamp && pin.label == part.name) pin.label.clear();
      return part.is == PinPart::Is::lamp;
    });
  }
  for (const auto& part : *project.parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    if (!kind || kind->shows != Shows::light || kind->lamps.size() != 1) continue;
    out.pins.push_back(part->id);
    PinWords& words = out.wired.emplace_back();
    words.pin = part->id;
    words.label = part->name;
    words.parts = {{part->name, PinPart::Is::lamp, false}};
  }
  return out;
}

}  // namespace ignavo
