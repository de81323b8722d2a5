#include "run/motion.h"

#include <algorithm>
#include <cmath>

namespace ignavo {

namespace {

constexpr Nanoseconds meanWindow = 20'000'000;    // a tone is heard against its own mean
constexpr Nanoseconds heardWindow = longestLook;  // and over so long

// Rises of the signal through its own mean, over the last tenth of a second.
double toneOf(const Trace& trace, int signal, Nanoseconds now) {
  const Nanoseconds from = std::max<Nanoseconds>(trace.begin(), now - heardWindow);
  const Nanoseconds meanFrom = std::max<Nanoseconds>(trace.begin(), now - meanWindow);
  if (now <= meanFrom) return 0;
  const double mean = trace.integral(signal, meanFrom, now) /
                      (static_cast<double>(now - meanFrom) / static_cast<double>(second));
  bool above = trace.valueAt(signal, from) > mean;
  Nanoseconds first = -1, last = -1;
  int rises = 0;
  trace.forEachEdge(signal, from, now, [&](const Edge& e) {
    const bool high = e.value > mean;
    if (high && !above) {
      if (first < 0) first = e.at;
      last = e.at;
      ++rises;
    }
    above = high;
    return true;
  });
  // Silent when the last rise is longer ago than one and a half periods.
  if (rises < 2) return 0;
  const double period = static_cast<double>(last - first) / (rises - 1);
  if (static_cast<double>(now - last) > 1.5 * period + 1e6) return 0;
  return static_cast<double>(second) / period;
}

}  // namespace

Motion motionOf(const PartKind& kind, const PartReading& reading, const Trace& trace, int signal,
                Nanoseconds now) {
  Motion m;
  switch (kind.moves) {
    case Moves::nothing:
      break;
    case Moves::tone:
      if (signal >= 0) m.hertz = toneOf(trace, signal, now);
      break;
    case Moves::buzz:
      if (reading.volts && *reading.volts > buzzerVolts) m.hertz = buzzerHertz;
      break;
    case Moves::spin:
      m.revolutionsPerMinute = reading.radiansPerSecond * 60 / (2 * 3.14159265358979323846);
      break;
    case Moves::angle:
      break;
  }
  return m;
}

}  // namespace ignavo
