#include "program/pin_words.h"

#include <algorithm>
#include <array>
#include <utility>

#include "program/read_fields.h"
#include "program/typed.h"

// The longest words win; of as long ones the whole name of a part before a sort of part, that before
// a part of a name. "Light sensor" is the one that is called so, though a knob is of that sort, and
// "Red lamp" not "Red lamp 2". A part of a name counts where it is the beginning or the end of one,
// in whole words.
namespace ignavo {

using typed::isDigit, typed::lower, typed::trimmed;

namespace {

constexpr std::array<std::pair<const char*, PinPart::Is>, 26> sorts = {{
    {"temperature sensor", PinPart::Is::sensor},
    {"thermometer", PinPart::Is::sensor},
    {"temperature", PinPart::Is::sensor},
    {"light level", PinPart::Is::sensor},
    {"lamps", PinPart::Is::lamp},
    {"lamp", PinPart::Is::lamp},
    {"leds", PinPart::Is::lamp},
    {"led", PinPart::Is::lamp},
    {"lights", PinPart::Is::lamp},
    {"light", PinPart::Is::lamp},
    {"push button", PinPart::Is::button},
    {"button", PinPart::Is::button},
    {"switch", PinPart::Is::button},
    {"sensor", PinPart::Is::sensor},
    {"buzzer", PinPart::Is::sounder},
    {"sounder", PinPart::Is::sounder},
    {"piezo", PinPart::Is::sounder},
    {"speaker", PinPart::Is::sounder},
    {"buttons", PinPart::Is::button},
    {"light sensor", PinPart::Is::sensor},
    {"knob", PinPart::Is::sensor},
    {"motors", PinPart::Is::motor},
    {"servos", PinPart::Is::arm},
    {"motor", PinPart::Is::motor},
    {"servo", PinPart::Is::arm},
    {"arm", PinPart::Is::arm},
}};

// Of the words of a name: all that begin it or end it, the longest first.
std::vector<std::string> beginningsAndEnds(const std::string& name) {
  std::vector<std::string> out{name};
  for (std::size_t at = name.rfind(' '); at != std::string::npos && at > 0;
       at = name.rfind(' ', at - 1))
    out.push_back(name.substr(0, at));
  for (std::size_t at = name.find(' '); at != std::string::npos; at = name.find(' ', at + 1))
    out.push_back(name.substr(at + 1));
  return out;
}

// What a pin can be called, and whether that is all of a name. A number says nothing alone.
std::vector<std::pair<std::string, bool>> namesOf(const PinWords& pin) {
  std::vector<std::pair<std::string, bool>> out;
  const auto add = [&](const std::string& name) {
    for (const std::string& part : beginningsAndEnds(lower(name)))
      if (!part.empty() && !std::all_of(part.begin(), part.end(), isDigit))
        out.emplace_back(part, part.size() == name.size());
  };
  for (const PinPart& part : pin.parts) add(part.name);
  add(pin.label);
  return out;
}

// "d4", "d 4", "pin 4", "4".
std::optional<std::string> takePinName(std::string& rest, const Vocabulary& words,
                                       bool bareNumbers) {
  std::string behind = rest;
  const bool said = dropWord(behind, {"pin"});
  std::string word = takeWord(behind);
  if (const auto pin = words.pin(word)) {
    rest = behind;
    return pin;
  }
  if (std::string number = behind; word.size() == 1 && !isDigit(word[0])) {
    const std::string digits = takeWord(number);
    if (const auto pin = words.pin(word + digits)) {
      rest = number;
      return pin;
    }
  }
  if (!word.empty() && std::all_of(word.begin(), word.end(), isDigit))
    if (const auto pin = words.pin("D" + word);
        pin && (said || (bareNumbers && word.size() <= 2))) {
      rest = behind;
      return pin;
    }
  return std::nullopt;
}

}  // namespace

std::vector<std::string> pinsOf(PinPart::Is is, const Vocabulary& words) {
  std::vector<std::string> out;
  for (const bool own : {false, true}) {
    for (const PinWords& pin : words.wired)
      if (pin.ownLamp == own &&
          (pin.part(is) || (is == PinPart::Is::sounder && pin.part(PinPart::Is::buzzer))))
        out.push_back(pin.pin);
    if (!out.empty()) break;
  }
  return out;
}

std::vector<std::string> dimmable(const Vocabulary& words) {
  constexpr std::size_t few = 3;
  std::vector<std::string> out;
  for (const bool wired : {true, false})
    for (const PinWords& pin : words.wired)
      if (pin.dims && wired == !pin.parts.empty() &&
          (!wired || pin.part(PinPart::Is::lamp) || pin.part(PinPart::Is::motor)))
        out.push_back(pin.pin);
  if (out.size() > few) out.resize(few);
  return out;
}

std::string pinInWords(const std::string& pin, const Vocabulary& words) {
  const PinWords* about = words.about(pin);
  return about && !about->label.empty() ? pin + " · " + about->label : pin;
}

std::vector<std::string> sortWords() {
  std::vector<std::string> out;
  for (const auto& [word, is] : sorts) out.push_back(word);
  return out;
}

std::optional<PinsMeant> takePin(std::string& rest, const Vocabulary& words, PinWording wording) {
  std::string behind = trimmed(rest);
  while (wording.articles && dropWord(behind, {"the", "my", "a", "an"})) {
  }
  const std::string from = behind;
  const auto taken = [&](PinsMeant out) {
    out.said = trimmed(from.substr(0, from.size() - behind.size()));
    rest = behind;
    return out;
  };
  if (const auto pin = takePinName(behind, words, wording.bareNumbers))
    return taken({{}, {*pin}, {}});
  PinsMeant best;
  std::size_t most = 0;
  std::string after;
  for (const PinWords& pin : words.wired)
    for (const auto& [name, whole] : namesOf(pin)) {
      std::string left = behind;
      if (name.size() < most || !takeWords(left, name)) continue;
      const bool better = name.size() > most || (whole && best.partly);
      if (!better && !whole && !best.partly) continue;
      if (better) best = {};
      most = name.size();
      after = left;
      best.partly = !whole;
      if (best.pins.empty() || best.pins.back() != pin.pin) best.pins.push_back(pin.pin);
    }
  for (const auto& [sort, is] : sorts) {
    std::string left = behind;
    const std::size_t length = std::char_traits<char>::length(sort);
    if (length < most || (length == most && !best.partly)) continue;
    if (!takeWords(left, sort)) continue;
    most = length;
    after = left;
    best = {{}, pinsOf(is, words), is, std::string(sort).ends_with('s')};
    break;
  }
  if (most == 0) return std::nullopt;
  // "the red led", "the green one": the sort beside a part of the name.
  if (best.partly) {
    std::string left = after;
    if (dropWord(left, {"one"})) after = left;
    for (const auto& [sort, is] : sorts) {
      left = after;
      if (!takeWords(left, sort)) continue;
      std::vector<std::string> fit = best.pins;
      std::erase_if(fit, [&](const std::string& pin) {
        const PinWords* about = words.about(pin);
        return !about || !about->part(is);
      });
      if (fit.empty()) continue;
      best.pins = fit;
      best.partly = false;
      after = left;
      break;
    }
  }
  behind = after;
  return taken(std::move(best));
}

}  // namespace ignavo
