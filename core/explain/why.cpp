#include "explain/why.h"

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

// What a program does with an input whose circuit is to blame.
Message comesTo(const Message& words) { return sayWhy("So it comes to this: {}.", words); }

// What is joined to it inside the board can only be damaged.
Why whyBoardLamp(const RunMoment& m, int board, const std::vector<Fault>& faults) {
  const Project& project = *m.now.project;
  const BoardItem& item = at(project.boards, board);
  const std::string& pin = catalogue().boardKind(item.type)->lampPin;
  Why out;
  const Output output{-1, -1, board};
  out.look = outputLook(m, output);
  out.headline = lookInWords(out.look, nameOf(project, output));
  out.board = sayWhy("nothing sent yet");
  out.power = m.now.powered && at(m.now.fed, board) != 0 && !holds(m.now.trippedBoards, item.id);
  const std::string name = pinNameOf(project, item.id, pin);
  out.circuit.words = sayWhy("inside the board it is joined to {}", name);
  const int index = programPinIndex(project, item.id, pin);
  if (at(m.now.state.pins, index) == PinDrive::burnt) {
    out.circuit.fine = false;
    out.circuit.rule = "pin-overload";
    out.circuit.sockets = {{item.id, pin}};
    out.circuit.words = sayWhy("{} is damaged", name);
  }
  const PinReason reason = out.look.works ? whatDrives(m, item.id, pin, out.look)
                                          : whyNot(m, item.id, pin, true, faults);
  out.program.fine = out.look.works || reason.byHand;
  if (out.power || out.look.works || reason.never) out.program.take(item.id, pin, reason);
  const bool ofInput = reason.circuit && out.circuit.fine && out.power;
  if (ofInput) {
    out.circuit.take(*reason.circuit, project);
    out.circuit.sure = out.program.fine = true;
  }
  if (!out.power)
    out.sentence = m.now.powered && m.now.tripped ? sayWhy("{}: its power gave up.", out.headline)
                                                  : sayWhy("{}: its power is off.", out.headline);
  else if (ofInput)
    out.sentence = Sentences(sayWhy("{}.", out.headline))
                       .add(closed(out.circuit.words))
                       .add(comesTo(out.program.words));
  else
    out.sentence =
        sayWhy("{}: {}.", out.headline, out.circuit.fine ? out.program.words : out.circuit.words);
  return out;
}

}  // namespace

void Asking::tell(Why& out) {
  out.headline = lookInWords(out.look, name_);
  if (out.board.empty()) out.board = sayWhy("nothing sent yet");
  if (!out.power && m_.now.powered && gaveUp()) {
    out.sentence = sayWhy("{}: its power gave up.", out.headline);
    if (!out.circuit.fine) out.sentence.add(closed(out.circuit.words));
  } else if (!out.power) {
    out.sentence = sayWhy("{}: its power is off.", out.headline);
  } else if (!out.circuit.fine) {
    out.sentence = sentences_ ? sayWhy("{}.", out.headline) : Sentences();
    out.sentence.add(sentences_ ? closed(out.circuit.words)
                                : sayWhy("{}: {}.", out.headline, out.circuit.words));
    if (ofInput_)
      out.sentence.add(comesTo(out.program.words));
    else if (!out.program.fine)
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
  out.look = outputLook(m_, output_);
  out.power = hasPower();
  judgeCircuit(out);
  if (!out.power && m_.now.powered && gaveUp() && out.circuit.fine) {
    // What the check says would take the power away.
    for (const Fault& fault : faults_)
      if (out.circuit.fine && fault.takesPower) {
        takeFault(out, fault);
        mended_ = working_;
      }
  }
  judgeProgram(out);
  tell(out);
  return out;
}

std::optional<Why> whyOf(const RunMoment& moment, const std::string& about,
                         const std::vector<Fault>& faults,
                         const std::function<std::vector<Fault>()>& more) {
  const auto output = outputNamed(*moment.now.project, about);
  if (!output) return std::nullopt;
  Why out = output->board >= 0 ? whyBoardLamp(moment, output->board, faults)
                               : Asking(moment, *output, faults).answer();
  if (!out.circuit.fine && !out.circuit.sure && more) {
    std::vector<Fault> all = faults;
    for (Fault& fault : more()) all.push_back(std::move(fault));
    return whyOf(moment, about, all);
  }
  out.part = about;
  return out;
}

}  // namespace ignavo
