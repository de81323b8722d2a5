#include "run/trace_differences.h"

#include <algorithm>
#include <array>
#include <cmath>

// Both traces are walked edge by edge, a pin at a time, until two edges are not the same. Stretches
// that repeat can hold millions; what is the same that long is called the same.
namespace ignavo {

namespace {

constexpr Nanoseconds sameMomentWithin = 1000;
constexpr std::int64_t mostCompared = 20'000;
constexpr Say differenceSay("difference");

std::vector<Edge> firstEdges(const Trace& trace, int signal, Nanoseconds until) {
  std::vector<Edge> out;
  trace.forEachEdge(signal, -1, until, [&](const Edge& e) {
    out.push_back(e);
    return static_cast<std::int64_t>(out.size()) < mostCompared;
  });
  return out;
}

std::string ordinal(std::int64_t n) {
  static constexpr std::array<const char*, 11> words = {"",       "first", "second", "third",
                                                        "fourth", "fifth", "sixth",  "seventh",
                                                        "eighth", "ninth", "tenth"};
  if (n < static_cast<std::int64_t>(words.size())) return words[static_cast<std::size_t>(n)];
  const std::int64_t tens = n / 10 % 10, ones = n % 10;
  const char* const ending = tens == 1 || ones == 0 || ones > 3 ? "th"
                             : ones == 1                        ? "st"
                             : ones == 2                        ? "nd"
                                                                : "rd";
  return std::to_string(n) + ending;
}

}  // namespace

std::vector<TraceDifference> traceDifferences(const Trace& before, const Trace& now) {
  using What = TraceDifference::What;
  std::vector<TraceDifference> out;
  const Nanoseconds until = std::min(before.end(), now.end());
  for (int s = 0; s < static_cast<int>(now.signals().size()); ++s) {
    const Signal& signal = now.signals()[static_cast<std::size_t>(s)];
    if (signal.what != Signal::What::pinLevel) continue;
    const int old = before.find(signal.what, signal.owner, signal.name);
    if (old < 0) continue;
    const std::vector<Edge> a = firstEdges(before, old, until), b = firstEdges(now, s, until);
    std::size_t i = 0;
    while (i < a.size() && i < b.size() && a[i].value == b[i].value &&
           std::abs(a[i].at - b[i].at) <= sameMomentWithin)
      ++i;
    if (i >= static_cast<std::size_t>(mostCompared) || (i == a.size() && i == b.size())) continue;
    TraceDifference d{signal.owner, signal.name};
    d.edge = static_cast<std::int64_t>(i) + 1;
    if (i < a.size() && i < b.size() && a[i].value == b[i].value) {
      d.what = b[i].at > a[i].at ? What::later : What::earlier;
      d.by = std::abs(b[i].at - a[i].at);
      d.at = b[i].at;
    } else if (i < b.size()) {
      d.what = What::more;
      d.at = b[i].at;
    } else {
      // That close to where they end it may only be late.
      if (until - a[i].at <= sameMomentWithin) continue;
      d.what = What::fewer;
      d.at = a[i].at;
    }
    out.push_back(std::move(d));
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const TraceDifference& a, const TraceDifference& b) { return a.at < b.at; });
  return out;
}

Message sentence(const TraceDifference& d) {
  using What = TraceDifference::What;
  const auto time = [](Nanoseconds t) { return asSeconds(static_cast<double>(t) * 1e-9); };
  switch (d.what) {
    case What::later:
      return differenceSay("{0}’s {1} edge is {2} later", d.pin, ordinal(d.edge), time(d.by));
    case What::earlier:
      return differenceSay("{0}’s {1} edge is {2} earlier", d.pin, ordinal(d.edge), time(d.by));
    case What::more:
      return differenceSay("{0} has a {1} edge now, at {2}", d.pin, ordinal(d.edge), time(d.at));
    case What::fewer:
      return differenceSay("{0} has no {1} edge any more; it was at {2}", d.pin, ordinal(d.edge),
                           time(d.at));
  }
  return {};
}

}  // namespace ignavo
