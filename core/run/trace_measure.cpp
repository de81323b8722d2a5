#include "run/trace_measure.h"

#include <algorithm>
#include <cassert>

namespace ignavo {

Stretch stretchOf(const Trace& trace, int signal, Nanoseconds from, Nanoseconds to) {
  assert(from <= to);
  Stretch out;
  out.length = to - from;
  if (out.length == 0) return out;
  out.edges = trace.countEdges(signal, from, to);
  out.duty = trace.integral(signal, from, to) / inSeconds(out.length);
  // Between the first and the last rise there are whole periods, and in each of them two edges.
  const auto rises = [&](Nanoseconds at) { return at >= 0 && trace.valueAt(signal, at) > 0; };
  Nanoseconds first = trace.nextEdge(signal, from), last = trace.lastEdge(signal, to + 1);
  if (first >= 0 && first <= to && !rises(first)) first = trace.nextEdge(signal, first);
  if (last > from && !rises(last)) last = trace.lastEdge(signal, last);
  if (first < 0 || first > to || last <= first) return out;
  const std::int64_t between = trace.countEdges(signal, first, last);
  out.seconds = inSeconds(last - first) / (static_cast<double>(between) / 2);
  return out;
}

namespace {
template <typename One>
void eachOf(const Trace& trace, int signal, One one) {
  if (signal >= 0) return one(signal);
  for (std::size_t s = 0; s < trace.signals().size(); ++s)
    if (trace.signals()[s].what == Signal::What::pinLevel) one(static_cast<int>(s));
}
}  // namespace

Nanoseconds edgeAfter(const Trace& trace, int signal, Nanoseconds moment) {
  Nanoseconds soonest = -1;
  eachOf(trace, signal, [&](int s) {
    const Nanoseconds at = trace.nextEdge(s, moment);
    if (at >= 0 && (soonest < 0 || at < soonest)) soonest = at;
  });
  return soonest;
}

Nanoseconds edgeBefore(const Trace& trace, int signal, Nanoseconds moment) {
  Nanoseconds latest = -1;
  eachOf(trace, signal, [&](int s) { latest = std::max(latest, trace.lastEdge(s, moment)); });
  return latest;
}

}  // namespace ignavo
