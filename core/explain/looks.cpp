#include "explain/looks.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "explain/reach.h"
#include "explain/words.h"
#include "parts/catalogue.h"
#include "project/indexing.h"
#include "run/lamp_light.h"

namespace ignavo {

namespace {

const char* wordOf(Looks looks) {
  switch (looks) {
    case Looks::dark:
      return "dark";
    case Looks::dim:
      return "dim";
    case Looks::lit:
      return "lit";
    case Looks::blinking:
      return "blinking";
    case Looks::tooFast:
      return "too-fast";
  }
  return "";
}

// Values of a lamp's signal, whatever it is.
struct LampSignal {
  const Trace& trace;
  int signal;
  double unit = ampsPerUnit(trace, signal);
  double amps(double value) const { return unit * value; }
  bool shines(double value) const { return lightOf(amps(value)) > litLight; }
};

// When it shone last before a moment; -1: never, as far as the trace reaches.
Nanoseconds shoneLast(const LampSignal& lamp, Nanoseconds moment) {
  constexpr int farthest = 64;
  Nanoseconds t = moment + 1;
  for (int k = 0; k < farthest; ++k) {
    const Nanoseconds edge = lamp.trace.lastEdge(lamp.signal, t);
    if (edge < 0 || edge <= lamp.trace.begin()) return -1;
    if (lamp.shines(lamp.trace.valueAt(lamp.signal, edge - 1))) return edge;
    t = edge;
  }
  return -1;
}

// Flashes within the last second: the longest of them, and the most current.
void flashesOf(const LampSignal& lamp, Nanoseconds moment, OutputLook& out) {
  const Nanoseconds from = std::max(lamp.trace.begin(), moment - second);
  double value = lamp.trace.valueAt(lamp.signal, from);
  Nanoseconds since = from;
  int flashes = 0;
  const auto until = [&](Nanoseconds t) {
    out.peakAmps = std::max(out.peakAmps, lamp.amps(value));
    if (!lamp.shines(value)) return;
    ++flashes;
    out.flash = std::max(out.flash, t - since);
  };
  int left = 4000;
  lamp.trace.forEachEdge(lamp.signal, from, moment, [&](const Edge& e) {
    until(e.at);
    if (lamp.shines(value) != lamp.shines(e.value)) since = e.at;
    value = e.value;
    return --left > 0;
  });
  if (left > 0) until(moment);
  if (flashes < 2) out.flash = 0;
}

// So short that it is not seen: its charge, spread over the time that the eye takes for one moment,
// gives less than the least light.
bool unseen(const OutputLook& look) {
  return look.flash > 0 &&
         lightOf(look.peakAmps * static_cast<double>(look.flash) / lightWindow) <= litLight;
}

// Whether it works follows from how it looks.
void finishLook(const RunMoment& m, OutputLook& out) {
  out.works = out.lamp.looks != Looks::dark;
  out.looks = wordOf(out.lamp.looks);
  if (out.signal < 0) return;
  const LampSignal lamp{m.trace, out.signal};
  flashesOf(lamp, m.now.now, out);
  if (out.works || !unseen(out)) out.flash = 0;
  const bool dark = !out.works || (out.lamp.looks == Looks::blinking &&
                                   !lamp.shines(m.trace.valueAt(out.signal, m.now.now)));
  if (dark) out.since = shoneLast(lamp, m.now.now);
}

// `name`: of the lamp among several in the part; empty: the brightest of all.
void lookAtLamp(const RunMoment& m, const std::string& part, const std::string& name,
                OutputLook& out) {
  const auto& signals = m.trace.signals();
  for (int s = 0; s < static_cast<int>(signals.size()); ++s) {
    const Signal& signal = at(signals, s);
    if (signal.what != Signal::What::partAmps || signal.owner != part) continue;
    if (!name.empty() && signal.name != name) continue;
    const LampLook look = lampLook(m.trace, s, m.now.now);
    const bool better =
        out.signal < 0 || (look.looks != Looks::dark &&
                           (out.lamp.looks == Looks::dark || look.light > out.lamp.light));
    if (better) out.lamp = look, out.signal = s;
  }
  finishLook(m, out);
}

// A board's own lamp shines with its pin.
void lookAtBoardLamp(const RunMoment& m, int board, OutputLook& out) {
  const BoardItem& item = at(m.now.project->boards, board);
  out.signal =
      m.trace.find(Signal::What::pinLevel, item.id, catalogue().boardKind(item.type)->lampPin);
  // Of a pin that is only read nothing shines.
  const int pin =
      programPinIndex(*m.now.project, item.id, catalogue().boardKind(item.type)->lampPin);
  const PinDrive drive = at(m.now.state.pins, pin);
  const bool driven = drive == PinDrive::high || drive == PinDrive::low;
  if (at(m.now.fed, board) != 0 && !driven) out.signal = -1;
  if (out.signal >= 0) out.lamp = lampLook(m.trace, out.signal, m.now.now);
  finishLook(m, out);
}

Message blinking(const OutputLook& look, const std::string& name) {
  constexpr double slow = 1.5;  // a second; slower ones are told by how long one takes
  const double perSecond = look.lamp.perSecond;
  const Message how = perSecond < slow ? sayWhy("every {}", asSeconds(1 / perSecond))
                                       : sayWhy("{} times a second", asNumber(perSecond, 2));
  return look.since >= 0
             ? sayWhy("{} blinks {}, and is dark since {}", name, how, momentInWords(look.since))
             : sayWhy("{} blinks {}", name, how);
}

}  // namespace

bool isTurning(const Motion& motion) {
  return std::abs(motion.revolutionsPerMinute) * std::numbers::pi / 30 >= leastRadians;
}

OutputLook outputLook(const RunMoment& m, const Output& output) {
  OutputLook out;
  if (output.board >= 0) {
    lookAtBoardLamp(m, output.board, out);
    return out;
  }
  const int index = output.part;
  const Part& part = *at(*m.now.project->parts, index);
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind) return out;
  const Motion& motion = at(m.now.motion, index);
  switch (kind->shows) {
    case Shows::nothing:
      break;
    case Shows::light:
      lookAtLamp(m, part.id,
                 output.lamp < 0 ? "" : at(kind->print.legs, at(kind->lamps, output.lamp)).id, out);
      break;
    case Shows::sound:
      out.works = motion.hertz > 0;
      out.looks = out.works ? "sounding" : "silent";
      out.hertz = motion.hertz;
      break;
    case Shows::turning:
      out.works =
          kind->moves == Moves::angle ? at(m.now.state.pressed, index) != 0 : isTurning(motion);
      out.looks = out.works ? "turning" : "still";
      break;
  }
  return out;
}

Message lookInWords(const OutputLook& look, const std::string& name) {
  const std::string& looks = look.looks;
  if (looks == "dark" && look.since >= 0)
    return sayWhy("{} is dark since {}", name, momentInWords(look.since));
  if (looks == "dark") return sayWhy("{} is dark", name);
  if (looks == "dim") return sayWhy("{} is dim", name);
  if (looks == "lit") return sayWhy("{} is lit", name);
  if (looks == "blinking") return blinking(look, name);
  if (looks == "too-fast") return sayWhy("{} looks half lit", name);
  if (looks == "silent") return sayWhy("{} is silent", name);
  if (looks == "sounding")
    return sayWhy("{} sounds at {} Hz", name, asNumber(std::round(look.hertz)));
  if (looks == "turning") return sayWhy("{} turns", name);
  return sayWhy("{} stands still", name);
}

}  // namespace ignavo
