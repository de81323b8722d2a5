#include "explain/why.h"

#include <cmath>

#include "explain/asking.h"
#include "parts/catalogue.h"

// The circuit is asked with pins, buttons and knobs changed, fewest first (explain/working.h).
// Where it works so, it is sound, and what had to be changed is the reason: pins are followed into
// the program (explain/pin_reason.h), the rest is told as it stands. Where it never works, what is
// damaged is made whole, then what the check found is mended: the first mend with which it works is
// the circuit's fault, and with it the program is asked as if the circuit were sound.
namespace ignavo {

namespace {

// With its full stop.
Message closed(const Message& words) {
  return words.text.ends_with('.') ? words : sayWhy("{}.", words);
}

}  // namespace

void Asking::blinks(Why& out) {
  constexpr double slow = 1.5;  // a second; slower ones are told by how long one takes
  const double perSecond = out.look.lamp.perSecond;
  const Message how = perSecond < slow ? sayWhy("every {}", asSeconds(1 / perSecond))
                                       : sayWhy("{} times a second", asNumber(perSecond, 2));
  out.headline = out.look.since >= 0 ? sayWhy("{} blinks {}, and is dark since {}", part_.name, how,
                                              momentInWords(out.look.since))
                                     : sayWhy("{} blinks {}", part_.name, how);
}

void Asking::headline(Why& out) {
  const std::string& looks = out.look.looks;
  if (looks == "dark")
    out.headline = out.look.since >= 0
                       ? sayWhy("{} is dark since {}", part_.name, momentInWords(out.look.since))
                       : sayWhy("{} is dark", part_.name);
  else if (looks == "dim")
    out.headline = sayWhy("{} is dim", part_.name);
  else if (looks == "lit")
    out.headline = sayWhy("{} is lit", part_.name);
  else if (looks == "blinking")
    blinks(out);
  else if (looks == "too-fast")
    out.headline = sayWhy("{} looks half lit", part_.name);
  else if (looks == "silent")
    out.headline = sayWhy("{} is silent", part_.name);
  else if (looks == "sounding")
    out.headline = sayWhy("{} sounds at {} Hz", part_.name,
                          asNumber(std::round(at(m_.now.motion, index_).hertz)));
  else if (looks == "turning")
    out.headline = sayWhy("{} turns", part_.name);
  else
    out.headline = sayWhy("{} stands still", part_.name);
}

void Asking::tell(Why& out) {
  headline(out);
  if (out.board.empty()) out.board = sayWhy("nothing sent yet");
  if (!out.power && m_.now.powered && gaveUp()) {
    out.sentence = sayWhy("{}: its power gave up.", out.headline);
    if (!out.circuit.fine) out.sentence.add(closed(out.circuit.words));
  } else if (!out.power) {
    out.sentence = sayWhy("{}: its power is off.", out.headline);
  } else if (!out.circuit.fine) {
    // What names the part itself needs no headline.
    const bool named = sentences_ && !out.circuit.parts.empty() &&
                       out.circuit.parts.front() == part_.id && out.circuit.rule != "led-dark";
    if (!named) out.sentence = sentences_ ? sayWhy("{}.", out.headline) : Sentences();
    out.sentence.add(sentences_ ? closed(out.circuit.words)
                                : sayWhy("{}: {}.", out.headline, out.circuit.words));
    if (!out.program.fine)
      out.sentence.add(sayWhy("The program leaves it so as well: {}.", out.program.words));
  } else if (!out.program.fine) {
    out.sentence = sayWhy("{}: {}.", out.headline, out.program.words);
    if (!working_.changes.empty() && !out.circuit.parts.empty())
      out.sentence.add(sayWhy("And {}.", out.circuit.words));
  } else if (out.program.board.empty()) {
    out.sentence = sayWhy("{}: {}.", out.headline, out.circuit.words);
  } else {
    out.sentence = sayWhy("{}: {}; {}.", out.headline, out.circuit.words, out.program.words);
  }
}

Why Asking::answer() {
  Why out;
  out.part = part_.id;
  out.look = outputLook(m_, index_);
  out.power = hasPower();
  judgeCircuit(out);
  if (!out.power && m_.now.powered && gaveUp() && out.circuit.fine) {
    // What the check says would take the power away.
    for (const Fault& fault : faults_)
      if (out.circuit.fine && fault.takesPower) {
        out.circuit.fine = false;
        out.circuit.rule = fault.rule;
        out.circuit.parts = fault.parts;
        out.circuit.sockets = fault.sockets;
        out.circuit.words = fault.title;
        sentences_ = true;
        mended_ = working_;
      }
  }
  judgeProgram(out);
  tell(out);
  return out;
}

std::optional<Why> whyOf(const RunMoment& moment, const std::string& part,
                         const std::vector<Fault>& faults) {
  const Project& project = *moment.now.project;
  for (std::size_t p = 0; p < project.parts->size(); ++p) {
    if ((*project.parts)[p]->id != part) continue;
    const PartKind* kind = catalogue().partKind((*project.parts)[p]->type);
    if (!kind || kind->shows == Shows::nothing) return std::nullopt;
    return Asking(moment, static_cast<int>(p), faults).answer();
  }
  return std::nullopt;
}

}  // namespace ignavo
