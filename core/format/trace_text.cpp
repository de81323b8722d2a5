#include "format/trace_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace ignavo {

namespace {
struct SignalEdge {
  Nanoseconds at;
  std::size_t signal;
  float value;
};

// All edges of all signals in order of time, but for those of the first moment: how things stand
// then is told with them. A trace that repeats itself may have very many: they are put in order a
// few at a time. `visit` gets those up to a moment, and it; until it returns false.
template <typename Visit>
bool inOrder(const Trace& trace, Visit&& visit) {
  constexpr std::int64_t most = 65'536;
  std::vector<SignalEdge> changes;
  Nanoseconds step = trace.end() - trace.begin();
  for (Nanoseconds from = trace.begin(); from < trace.end();) {
    const auto many = [&](Nanoseconds to) {
      std::int64_t edges = 0;
      for (std::size_t s = 0; s < trace.signals().size(); ++s)
        edges += trace.countEdges(static_cast<int>(s), from, to);
      return edges;
    };
    Nanoseconds to = std::min(trace.end(), from + step);
    while (to - from > 1 && many(to) > most)
      step = std::max<Nanoseconds>(1, (to - from) / 2), to = from + step;
    changes.clear();
    for (std::size_t s = 0; s < trace.signals().size(); ++s)
      trace.forEachEdge(static_cast<int>(s), from, to, [&](const Edge& e) {
        changes.push_back({e.at, s, e.value});
        return true;
      });
    std::sort(changes.begin(), changes.end(), [](const SignalEdge& a, const SignalEdge& b) {
      return a.at != b.at ? a.at < b.at : a.signal < b.signal;
    });
    if (!visit(changes, to)) return false;
    from = to;
    step = std::min(2 * step, trace.end() - trace.begin());
  }
  return true;
}

double shareOf(const Trace& trace, Nanoseconds moment) {
  const Nanoseconds all = trace.end() - trace.begin();
  return all > 0 ? static_cast<double>(moment - trace.begin()) / static_cast<double>(all) : 1;
}

std::string inOnePiece(const Trace& trace, bool (*write)(const Trace&, const TakeText&)) {
  std::string out;
  write(trace, [&](std::string_view piece, double) {
    out += piece;
    return true;
  });
  return out;
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

bool writeVcd(const Trace& trace, const TakeText& take) {
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
  out += "$upscope $end\n$enddefinitions $end\n";
  out += fmt::format("#{}\n$dumpvars\n", trace.begin());
  for (std::size_t s = 0; s < trace.signals().size(); ++s)
    out += value(s, trace.valueAt(static_cast<int>(s), trace.begin()));
  out += "$end\n";
  Nanoseconds last = trace.begin();
  const bool whole = inOrder(trace, [&](const std::vector<SignalEdge>& changes, Nanoseconds to) {
    for (const SignalEdge& change : changes) {
      if (change.at != last) out += fmt::format("#{}\n", change.at);
      last = change.at;
      out += value(change.signal, change.value);
    }
    if (!take(out, shareOf(trace, to))) return false;
    out.clear();
    return true;
  });
  // The end is told where nothing happens just then.
  if (trace.end() != last) out += fmt::format("#{}\n", trace.end());
  return whole && take(out, 1);
}

bool writeCsv(const Trace& trace, const TakeText& take) {
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
  const bool whole = inOrder(trace, [&](const std::vector<SignalEdge>& changes, Nanoseconds to) {
    for (const SignalEdge& change : changes) {
      if (change.at != at) row(at);
      at = change.at;
      now[change.signal] = change.value;
    }
    if (!take(out, shareOf(trace, to))) return false;
    out.clear();
    return true;
  });
  row(at);
  if (trace.end() != at) row(trace.end());
  return whole && take(out, 1);
}

std::string vcdText(const Trace& trace) { return inOnePiece(trace, writeVcd); }
std::string csvText(const Trace& trace) { return inOnePiece(trace, writeCsv); }

}  // namespace ignavo
