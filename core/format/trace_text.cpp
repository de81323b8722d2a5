#include "format/trace_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace ignavo {

namespace {
// All edges of all signals, in order of time.
// But for those of the first moment: how things stand then is told with them.
std::vector<std::pair<Nanoseconds, std::pair<std::size_t, float>>> allEdges(const Trace& trace) {
  std::vector<std::pair<Nanoseconds, std::pair<std::size_t, float>>> edges;
  for (std::size_t s = 0; s < trace.signals().size(); ++s)
    trace.forEachEdge(static_cast<int>(s), trace.begin(), trace.end(), [&](const Edge& e) {
      edges.push_back({e.at, {s, e.value}});
      return true;
    });
  std::sort(edges.begin(), edges.end());
  return edges;
}
std::string nameOf(const Signal& s) {
  return s.what == Signal::What::pinLevel    ? s.owner + "." + s.name
         : s.what == Signal::What::volts     ? s.owner + "." + s.name + ".volts"
         : s.what == Signal::What::partVolts ? s.owner + ".volts"
         : s.what == Signal::What::waits     ? s.owner + ".waits"
         : s.what == Signal::What::variable  ? s.owner + "." + s.name + ".value"
         : s.what == Signal::What::step      ? s.owner + "." + s.name + ".step"
         : s.what == Signal::What::kept      ? s.owner + "." + s.name + ".value"
         : s.name.empty()                    ? s.owner + ".amps"
                                             : s.owner + "." + s.name + ".amps";
}
}  // namespace

std::string vcdText(const Trace& trace) {
  std::string out = "$timescale 1ns $end\n$scope module ignavo $end\n";
  const auto code = [](std::size_t s) {
    std::string id;
    do id += static_cast<char>('!' + s % 94), s /= 94;
    while (s > 0);
    return id;
  };
  const auto value = [&](std::size_t s, float v) {
    return trace.signals()[s].what == Signal::What::pinLevel
               ? fmt::format("{}{}\n", v != 0 ? 1 : 0, code(s))
               : fmt::format("r{} {}\n", v, code(s));
  };
  for (std::size_t s = 0; s < trace.signals().size(); ++s) {
    std::string name = nameOf(trace.signals()[s]);
    for (char& c : name)
      if (c == ' ') c = '_';
    out += trace.signals()[s].what == Signal::What::pinLevel
               ? fmt::format("$var wire 1 {} {} $end\n", code(s), name)
               : fmt::format("$var real 64 {} {} $end\n", code(s), name);
  }
  out += "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
  for (std::size_t s = 0; s < trace.signals().size(); ++s)
    out += value(s, trace.valueAt(static_cast<int>(s), trace.begin()));
  out += "$end\n";
  Nanoseconds last = 0;
  for (const auto& [at, change] : allEdges(trace)) {
    if (at != last) out += fmt::format("#{}\n", at);
    last = at;
    out += value(change.first, change.second);
  }
  // The end is told where nothing happens just then.
  return trace.end() == last ? out : out + fmt::format("#{}\n", trace.end());
}

std::string csvText(const Trace& trace) {
  std::string out = "seconds";
  std::vector<float> now;
  for (std::size_t s = 0; s < trace.signals().size(); ++s) {
    out += "," + nameOf(trace.signals()[s]);
    now.push_back(trace.valueAt(static_cast<int>(s), trace.begin()));
  }
  out += "\n";
  const auto row = [&](Nanoseconds t) {
    out += fmt::format("{:.9f}", inSeconds(t));
    for (float v : now) out += std::isnan(v) ? "," : fmt::format(",{}", v);  // no voltage: empty
    out += "\n";
  };
  Nanoseconds at = trace.begin();
  for (const auto& [t, change] : allEdges(trace)) {
    if (t != at) row(at);
    at = t;
    now[change.first] = change.second;
  }
  row(at);
  if (trace.end() != at) row(trace.end());
  return out;
}

}  // namespace ignavo
