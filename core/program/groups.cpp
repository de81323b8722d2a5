#include "program/groups.h"

#include <algorithm>
#include <sstream>

#include "program/pin_words.h"
#include "program/read_fields.h"
#include "program/typed.h"
#include "program/words.h"

// A group is text: its row's steps with pins and levels put in, read like any typed steps. What was
// typed says which group by its head, and the words between and behind say on which pins; a place
// that nobody named is the only part of its sort, or a free pin where none is wired.
namespace ignavo {

using typed::lower, typed::trimmed;

namespace {

using Is = PinPart::Is;
constexpr const char* gap = "…";

GroupKind group(const char* name, const char* phrase, std::vector<std::string> heads,
                std::vector<GroupKind::Place> places, const char* help, const char* steps) {
  GroupKind out;
  out.name = name;
  out.phrase = phrase;
  out.heads = std::move(heads);
  out.places = std::move(places);
  out.help = help;
  out.steps = steps;
  return out;
}

std::string replaced(std::string text, const std::string& what, const std::string& by) {
  for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at))
    text.replace(at, what.size(), by), at += by.size();
  return text;
}

bool whenLow(const std::string& pin, Is is, const Vocabulary& words) {
  const PinWords* about = words.about(pin);
  const PinPart* part = about ? about->part(is) : nullptr;
  return part && part->whenLow;
}

std::string withLamp(const std::string& text, const std::string& pin, const Vocabulary& words) {
  const bool low = whenLow(pin, Is::lamp, words);
  std::string out = replaced(text, "{lamp}", pin);
  out = replaced(out, "{on}", low ? "low" : "high");
  out = replaced(out, "{off}", low ? "high" : "low");
  return replaced(out, "{lit}", low ? "100 - {level}" : "{level}");
}

std::string withButton(const std::string& text, const std::string& pin, const Vocabulary& words) {
  const bool low = whenLow(pin, Is::button, words);
  const std::string high = pin + " is high", isLow = pin + " is low";
  std::string out = replaced(text, "{button}", pin);
  out = replaced(out, "{down}", low ? "(" + isLow + ")" : pin);
  out = replaced(out, "{pressed}", low ? isLow : high);
  return replaced(out, "{released}", low ? high : isLow);
}

// Lines from "each" to "end" once for each lamp.
std::string withLamps(const std::string& text, const std::vector<std::string>& pins,
                      const Vocabulary& words) {
  std::istringstream lines(text);
  std::string line, out, each;
  bool within = false;
  while (std::getline(lines, line)) {
    if (line == "each") {
      within = true;
    } else if (line == "end") {
      for (const std::string& pin : pins) out += withLamp(each, pin, words);
      within = false;
    } else {
      (within ? each : out) += line + "\n";
    }
  }
  return pins.empty() ? out : withLamp(out, pins.front(), words);
}

std::string unusedVariable(const Vocabulary& words) {
  const std::string stem = "brightness";
  std::string out = stem;
  for (int n = 2; words.variable(out) || words.list(out); ++n) out = stem + std::to_string(n);
  return out;
}

// The words of what was typed that say where, or nothing: it is not that group.
std::optional<std::string> behindHead(const std::string& typed, const std::string& head) {
  const std::size_t split = head.find(gap);
  std::string rest = typed;
  if (split == std::string::npos) {
    if (!takeWords(rest, head)) return std::nullopt;
    return rest;
  }
  // "… toggles …": a place, the words, another.
  const std::string words = trimmed(head.substr(split + std::string(gap).size()));
  const std::size_t at = findWords(typed, words, 1);
  if (at == std::string::npos) return std::nullopt;
  return trimmed(typed.substr(0, at)) + " " + trimmed(typed.substr(at + words.size()));
}

// Free pins that would do: nothing hangs on them, and nothing is sent over them.
std::vector<std::string> freePins(const GroupKind::Place& place, const Vocabulary& words) {
  std::vector<std::string> out;
  for (const PinWords& pin : words.wired)
    if (pin.parts.empty() && pin.label.empty() && !pin.serial && (!place.dims || pin.dims))
      out.push_back(pin.pin);
  if (words.wired.empty()) out = words.pins;
  return out;
}

const char* sortInWords(Is is) { return is == Is::button ? "button" : "lamp"; }

struct Chosen {
  std::vector<std::vector<std::string>> pins;  // of each place
  Message problem;
  std::vector<std::string> choices;
  bool strange = false;  // words stand there that name no pin
};

// Those of the pins that would do in that place.
std::vector<std::string> fitting(const GroupKind::Place& place, std::vector<std::string> pins,
                                 const Vocabulary& words) {
  std::erase_if(pins, [&](const std::string& pin) {
    const PinWords* about = words.about(pin);
    return about && place.dims && !about->dims;
  });
  return pins;
}

class Choosing {
 public:
  Choosing(const GroupKind& kind, const Vocabulary& words) : kind_(kind), words_(words) {}

  Chosen run(std::string where) {
    out_.pins.resize(kind_.places.size());
    if (!readNamed(std::move(where))) return std::move(out_);
    for (std::size_t i = 0; i < kind_.places.size() && out_.problem.empty(); ++i)
      if (out_.pins[i].empty() || (kind_.places[i].many && out_.pins[i].size() < 2)) choose(i);
    return std::move(out_);
  }

 private:
  // Pins that were named go to the place of their sort, else to the next that has none.
  bool readNamed(std::string where) {
    std::replace(where.begin(), where.end(), ',', ' ');
    // "fade d5 from 0 to 100 %": as it does anyway.
    for (const char* all : {"from 0 % to 100 %", "from 0% to 100%", "from 0 to 100 %",
                            "from 0 to 100%", "from 0 to 100"})
      if (where.ends_with(all) && kind_.places.front().dims)
        where.resize(where.size() - std::char_traits<char>::length(all));
    while (true) {
      while (dropWord(where,
                      {"on", "of", "at", "with", "by", "and", "for", "to", "in", "over", "from"})) {
      }
      if (where.empty()) return true;
      const auto meant = takePin(where, words_);
      if (!meant) {
        out_.problem = stepSay("“{}” is not expected here.", where);
        out_.strange = true;
        return false;
      }
      if (!give(*meant)) return false;
    }
  }

  bool give(const PinsMeant& meant) {
    // All lamps are meant, or none is wired: that is chosen as if nothing had been said.
    if (meant.is && meant.pins.size() != 1) {
      for (std::size_t i = 0; i < kind_.places.size(); ++i)
        if (kind_.places[i].is == *meant.is) return true;
    }
    if (meant.pins.size() != 1) {
      ask(meant.pins, stepSay("“{}” could be {}: which?", meant.said, inWordsOf(meant.pins)));
      return false;
    }
    const std::string& pin = meant.pins.front();
    const std::size_t place = placeFor(pin);
    if (place == kind_.places.size()) {
      out_.problem = stepSay("{} has no place for {}.", kind_.name, pinInWords(pin, words_));
      return false;
    }
    const PinWords* about = words_.about(pin);
    if (about && kind_.places[place].dims && !about->dims) {
      cannotDim(pin, kind_.places[place]);
      return false;
    }
    out_.pins[place].push_back(pin);
    return true;
  }

  void cannotDim(const std::string& pin, const GroupKind::Place& place) {
    out_.problem = stepSay("{} cannot be dimmed; pins with a ∿ can: {}.", pinInWords(pin, words_),
                           fitting(place, words_.pins, words_));
  }

  std::size_t placeFor(const std::string& pin) const {
    const PinWords* about = words_.about(pin);
    const auto open = [&](std::size_t i) { return kind_.places[i].many || out_.pins[i].empty(); };
    for (std::size_t i = 0; i < kind_.places.size(); ++i)
      if (open(i) && about && about->part(kind_.places[i].is)) return i;
    for (std::size_t i = 0; i < kind_.places.size(); ++i)
      if (open(i)) return i;
    return kind_.places.size();
  }

  std::vector<std::string> inWordsOf(const std::vector<std::string>& pins) const {
    std::vector<std::string> out;
    for (const std::string& pin : pins) out.push_back(pinInWords(pin, words_));
    return out;
  }

  void ask(const std::vector<std::string>& pins, Message problem) {
    out_.problem = std::move(problem);
    for (const std::string& pin : pins) {
      std::string phrase = kind_.phrase;
      // The place that is asked for stands last in the phrase.
      const std::size_t at = phrase.rfind(gap);
      if (at != std::string::npos) phrase.replace(at, std::string(gap).size(), pin);
      for (std::size_t i = 0; i + 1 < out_.pins.size(); ++i)
        if (!out_.pins[i].empty() && phrase.find(gap) != std::string::npos)
          phrase.replace(phrase.find(gap), std::string(gap).size(), out_.pins[i].front());
      out_.choices.push_back(std::move(phrase));
    }
  }

  // Nobody said which.
  void choose(std::size_t i) {
    const GroupKind::Place& place = kind_.places[i];
    std::vector<std::string> wired = fitting(place, pinsOf(place.is, words_), words_);
    std::vector<std::string> free = freePins(place, words_);
    for (const auto& others : out_.pins)
      for (const std::string& taken : others) {
        std::erase(wired, taken);
        std::erase(free, taken);
      }
    if (place.many) {
      const std::size_t few = 3;
      std::vector<std::string>& pins = out_.pins[i];
      if (pins.empty() && wired.size() >= 2)
        pins = wired;
      else if (pins.empty() && wired.size() < 2)
        pins.assign(free.begin(),
                    free.begin() + static_cast<std::ptrdiff_t>(std::min(few, free.size())));
      if (pins.size() < 2) out_.problem = stepSay("{} needs two lamps at least.", kind_.name);
      return;
    }
    // The lamp that hangs there is meant, though its pin cannot do it.
    const std::vector<std::string> any = pinsOf(place.is, words_);
    if (wired.empty() && any.size() == 1 && !words_.about(any.front())->ownLamp && place.dims)
      return cannotDim(any.front(), place);
    if (wired.size() > 1)
      return ask(wired, stepSay("Which {}: {}?", sortInWords(place.is), inWordsOf(wired)));
    if (wired.empty() && free.empty()) {
      out_.problem = stepSay("No pin is left for a {}.", sortInWords(place.is));
      return;
    }
    out_.pins[i] = {wired.empty() ? free.front() : wired.front()};
  }

  const GroupKind& kind_;
  const Vocabulary& words_;
  Chosen out_;
};

Steps made(const GroupKind& kind, const Chosen& chosen, const Vocabulary& words) {
  std::string text = kind.steps;
  for (std::size_t i = 0; i < kind.places.size(); ++i)
    text = kind.places[i].is == Is::button ? withButton(text, chosen.pins[i].front(), words)
                                           : withLamps(text, chosen.pins[i], words);
  Vocabulary with = words;
  const std::string level = unusedVariable(words);
  with.variables.push_back(level);
  return parseSteps(replaced(text, "{level}", level), with).steps;
}

}  // namespace

const std::vector<GroupKind>& groupKinds() {
  static const std::vector<GroupKind> all = {
      group("blink", "blink …", {"blink", "flash"}, {{Is::lamp}},
            "On for half a second, off for half a second.",
            "set {lamp} {on}\nwait 0.5 s\nset {lamp} {off}\nwait 0.5 s\n"),
      group("button switches lamp", "… switches …", {"… switches", "… toggles", "… toggle"},
            {{Is::button}, {Is::lamp}},
            "Each press switches the lamp on or off, without counting a bounce.",
            "wait until rise of ({down} steady for 0.02 s)\nflip {lamp}\n"),
      group("debounced press", "debounced press of …",
            {"debounced press", "debounced button", "debounce"}, {{Is::button}},
            "Goes on once for each press; what the contacts bounce goes unseen.",
            "wait until rise of ({down} steady for 0.02 s)\n"
            "remark Here stands what one press should do\n"),
      group("fade", "fade …", {"fade"}, {{Is::lamp, true}},
            "Brighter in twenty small steps, then darker again.",
            "let {level} be 0\nrepeat 20 times\n  add 5 to {level}\n  dim {lamp} to {lit}\n"
            "  wait 0.05 s\nrepeat 20 times\n  add -5 to {level}\n  dim {lamp} to {lit}\n"
            "  wait 0.05 s\n"),
      group("hold or tap", "hold or tap … for …", {"hold or tap", "tap or hold"},
            {{Is::button}, {Is::lamp}},
            "A short press switches the lamp over; holding for a second switches it off.",
            "wait until ({down} steady for 0.02 s) held for 1 s or ({down} steady for "
            "0.02 s) tapped within 1 s\nif {pressed}\n  set {lamp} {off}\n  wait until "
            "({released}) steady for 0.02 s\notherwise\n  flip {lamp}\n"),
      group("running light", "running light on …", {"running light", "running lights", "chase"},
            {{Is::lamp, false, true}}, "One lamp after the other, a tenth of a second each.",
            "each\nset {lamp} {on}\nwait 0.1 s\nset {lamp} {off}\nend\n"),
  };
  return all;
}

std::optional<ParsedGroup> parseGroup(const std::string& typed, const Vocabulary& words) {
  const std::string rest = trimmed(typed);
  for (const GroupKind& kind : groupKinds())
    for (const std::string& head : kind.heads) {
      const auto where = behindHead(rest, head);
      if (!where) continue;
      Chosen chosen = Choosing(kind, words).run(*where);
      // "when pressed, toggle d4" is something else.
      if (chosen.strange && head.find(gap) != std::string::npos) continue;
      if (!chosen.problem.empty())
        return ParsedGroup{std::nullopt, std::move(chosen.problem), std::move(chosen.choices),
                           &kind};
      return ParsedGroup{made(kind, chosen, words), {}, {}, &kind};
    }
  return std::nullopt;
}

std::vector<std::string> groupPhrases(const Vocabulary& words) {
  std::vector<std::string> out;
  for (const GroupKind& kind : groupKinds()) {
    // Without a word about where: the one that would be chosen, or one for each that could be.
    const Chosen chosen = Choosing(kind, words).run({});
    if (!chosen.choices.empty()) {
      out.insert(out.end(), chosen.choices.begin(), chosen.choices.end());
      continue;
    }
    if (!chosen.problem.empty()) continue;
    std::string phrase = kind.phrase;
    for (const auto& pins : chosen.pins) {
      const std::size_t at = phrase.find(gap);
      if (at == std::string::npos) break;
      std::string said;
      for (const std::string& pin : pins) said += (said.empty() ? "" : ", ") + pin;
      phrase.replace(at, std::string(gap).size(), said);
    }
    out.push_back(std::move(phrase));
  }
  return out;
}

}  // namespace ignavo
