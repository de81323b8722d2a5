#include "explain/guess.h"

#include <algorithm>

#include "explain/words.h"
#include "parts/kinds.h"
#include "run/lamp_light.h"

// The lamp is looked at every ten milliseconds, as the eye sees it (the mean of its current over 20
// ms); the moment that is told is the edge of its current that lies before what was seen.
namespace ignavo {

namespace {

constexpr Say guessSay("guess");
constexpr Nanoseconds glance = 10'000'000;

struct Seen {
  Nanoseconds firstLit = -1, firstDark = -1;
};

Seen seenIn(const Trace& trace, int signal, Nanoseconds to) {
  Seen out;
  const auto edgeBefore = [&](Nanoseconds t) {
    return std::max<Nanoseconds>(0, trace.lastEdge(signal, t + 1));
  };
  // Whatever is lit at power-on gives its light after a glance.
  for (Nanoseconds t = 2 * glance; t <= to; t += glance) {
    const bool lit = lightAt(trace, signal, t) > litLight;
    Nanoseconds& first = lit ? out.firstLit : out.firstDark;
    if (first < 0) first = t == 2 * glance && !lit ? 0 : edgeBefore(t);
    if (out.firstLit >= 0 && out.firstDark >= 0) break;
  }
  return out;
}

Message told(const std::string& guessed, const std::string& name, const GuessOutcome& o) {
  if (o.right)
    return guessed == "dark"  ? guessSay("Guessed dark; {} stayed dark", name)
           : guessed == "lit" ? guessSay("Guessed lit; {} was lit", name)
                              : guessSay("Guessed blinking; {} blinked", name);
  if (guessed == "unsure")
    return o.was == "dark"  ? guessSay("{} stayed dark", name)
           : o.was == "lit" ? guessSay("{} was lit all the time", name)
                            : guessSay("{} blinked", name);
  const Message when = momentInWords(std::max<Nanoseconds>(0, o.differs));
  const bool blinked = o.was == "blinking";
  if (guessed == "dark")
    return blinked ? guessSay("Guessed dark; {} blinked, first lit at {}", name, when)
                   : guessSay("Guessed dark; {} was lit", name);
  if (guessed == "lit")
    return blinked ? guessSay("Guessed lit; {} blinked, first dark at {}", name, when)
                   : guessSay("Guessed lit; {} stayed dark", name);
  return o.was == "dark" ? guessSay("Guessed blinking; {} stayed dark", name)
                         : guessSay("Guessed blinking; {} was lit all the time", name);
}

}  // namespace

GuessOutcome guessOutcome(const std::string& guessed, const std::string& name, const Trace& trace,
                          int signal) {
  GuessOutcome out;
  if (signal < 0 || trace.begin() > 0) return out;
  const Nanoseconds to = std::min(trace.end(), guessCounts);
  const Seen seen = seenIn(trace, signal, to);
  if (seen.firstLit < 0 && seen.firstDark < 0) return out;
  out.was = seen.firstLit < 0 ? "dark" : seen.firstDark < 0 ? "lit" : "blinking";
  const bool unsure = guessed == "unsure";
  out.right = out.was == guessed;
  // That it blinks is told as soon as it did; that it does not, when the time is over.
  out.known = out.was == "blinking" || (!unsure && guessed != out.was && guessed != "blinking") ||
              trace.end() >= guessCounts;
  if (!out.right) {
    if (guessed == "dark") out.differs = seen.firstLit;
    if (guessed == "lit") out.differs = seen.firstDark;
  }
  if (out.known) out.words = told(guessed, name, out);
  return out;
}

}  // namespace ignavo
