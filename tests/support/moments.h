#pragma once
#include <QString>
#include <cmath>

#include "run/kernel.h"

// Moments of two runs, side by side.
namespace ignavo::test {

inline bool alike(double a, double b) { return std::abs(a - b) <= 1e-9 * (1 + std::abs(a)); }

// Everything that can be looked at of a moment; where it differs, in a word.
inline QString difference(const Snapshot& a, const Snapshot& b) {
  if (a.now != b.now) return "moment";
  if (a.powered != b.powered || a.tripped != b.tripped) return "power";
  if (!(*a.project == *b.project)) return "project";
  if (!(a.state == b.state)) return "state";
  if (a.levels != b.levels) return "levels";
  if (a.reading.nets != b.reading.nets) return "volts";
  for (std::size_t p = 0; p < a.light.size(); ++p) {
    if (!alike(a.light[p], b.light[p]))
      return QString("light %1 of %2 and %3")
          .arg(p)
          .arg(a.light[p], 0, 'g', 17)
          .arg(b.light[p], 0, 'g', 17);
    if (a.reading.parts[p].amps != b.reading.parts[p].amps) return "amps";
    const Motion &x = a.motion[p], &y = b.motion[p];
    if (!alike(x.hertz, y.hertz) || !alike(x.revolutionsPerMinute, y.revolutionsPerMinute) ||
        x.degrees != y.degrees)
      return "motion";
  }
  for (std::size_t l = 0; l < a.lanes.size(); ++l) {
    const LaneView &x = a.lanes[l], &y = b.lanes[l];
    if (x.step != y.step || x.waitLeft != y.waitLeft || x.over != y.over || x.missed != y.missed ||
        x.bounced != y.bounced)
      return "lanes";
  }
  if (a.stepCounts != b.stepCounts || a.forks != b.forks) return "counts";
  return {};
}

}  // namespace ignavo::test
