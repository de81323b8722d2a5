#include "explain/looks.h"

#include <algorithm>
#include <cmath>

#include "explain/reach.h"
#include "parts/catalogue.h"
#include "project/indexing.h"
#include "run/lamp_light.h"

namespace ignavo {

namespace {

constexpr double leastSpeed = 1;  // revolutions a minute

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

bool shines(double amps) { return lightOf(amps) > litLight; }

// When it shone last before a moment; -1: never, as far as the trace reaches.
Nanoseconds shoneLast(const Trace& trace, int signal, Nanoseconds moment) {
  constexpr int farthest = 64;
  Nanoseconds t = moment + 1;
  for (int k = 0; k < farthest; ++k) {
    const Nanoseconds edge = trace.lastEdge(signal, t);
    if (edge < 0 || edge <= trace.begin()) return -1;
    if (shines(trace.valueAt(signal, edge - 1))) return edge;
    t = edge;
  }
  return -1;
}

// Flashes within the last second: the longest of them, and the most current.
void flashesOf(const Trace& trace, int signal, Nanoseconds moment, OutputLook& out) {
  const Nanoseconds from = std::max(trace.begin(), moment - second);
  double value = trace.valueAt(signal, from);
  Nanoseconds since = from;
  int flashes = 0;
  const auto until = [&](Nanoseconds t) {
    out.peakAmps = std::max(out.peakAmps, value);
    if (!shines(value)) return;
    ++flashes;
    out.flash = std::max(out.flash, t - since);
  };
  int left = 4000;
  trace.forEachEdge(signal, from, moment, [&](const Edge& e) {
    until(e.at);
    if (shines(value) != shines(e.value)) since = e.at;
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

void lookAtLamp(const RunMoment& m, const Part& part, OutputLook& out) {
  const auto& signals = m.trace.signals();
  for (int s = 0; s < static_cast<int>(signals.size()); ++s) {
    if (at(signals, s).what != Signal::What::partAmps || at(signals, s).owner != part.id) continue;
    const LampLook look = lampLook(m.trace, s, m.now.now);
    const bool better =
        out.signal < 0 || (look.looks != Looks::dark &&
                           (out.lamp.looks == Looks::dark || look.light > out.lamp.light));
    if (better) out.lamp = look, out.signal = s;
  }
  out.works = out.lamp.looks != Looks::dark;
  out.looks = wordOf(out.lamp.looks);
  if (out.signal < 0) return;
  flashesOf(m.trace, out.signal, m.now.now, out);
  if (out.works || !unseen(out)) out.flash = 0;
  const bool dark = !out.works || (out.lamp.looks == Looks::blinking &&
                                   !shines(m.trace.valueAt(out.signal, m.now.now)));
  if (dark) out.since = shoneLast(m.trace, out.signal, m.now.now);
}

}  // namespace

OutputLook outputLook(const RunMoment& m, int index) {
  OutputLook out;
  const Part& part = *at(*m.now.project->parts, index);
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind) return out;
  const Motion& motion = at(m.now.motion, index);
  switch (kind->shows) {
    case Shows::nothing:
      break;
    case Shows::light:
      lookAtLamp(m, part, out);
      break;
    case Shows::sound:
      out.works = motion.hertz > 0;
      out.looks = out.works ? "sounding" : "silent";
      break;
    case Shows::turning:
      out.works = kind->moves == Moves::angle ? at(m.now.state.pressed, index) != 0
                                              : std::abs(motion.revolutionsPerMinute) >= leastSpeed;
      out.looks = out.works ? "turning" : "still";
      break;
  }
  return out;
}

}  // namespace ignavo
