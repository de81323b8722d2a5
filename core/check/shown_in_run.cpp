#include "check/shown_in_run.h"

#include <algorithm>

#include "parts/catalogue.h"

// From edge to edge of the pins that are named, and from press to press of the parts.
namespace ignavo {

namespace {

struct Wanted {
  int signal = -1;    // of a pin
  std::string part;   // or of a part that is pressed
  bool high = false;  // or pressed
};

// Nothing: something in it cannot be followed.
std::optional<std::vector<Wanted>> wantedBy(const Finding& finding, const Project& project,
                                            const Trace& trace) {
  std::vector<Wanted> out;
  for (const auto& [key, how] : finding.pose) {
    const Part* part = project.part(key);
    const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
    if (kind && kind->pressable && (how == "pressed" || how == "released")) {
      out.push_back({-1, key, how == "pressed"});
      continue;
    }
    if (kind || (how != "high" && how != "low")) return std::nullopt;
    const auto socket = Socket::parse(key);
    const std::string board = socket                   ? socket->owner
                              : project.boards.empty() ? std::string()
                                                       : project.boards.front().id;
    const int signal = trace.find(Signal::What::pinLevel, board, socket ? socket->point : key);
    if (signal < 0) return std::nullopt;
    out.push_back({signal, {}, how == "high"});
  }
  return out;
}

bool isPressed(const std::string& part, const std::vector<Event>& events, Nanoseconds at) {
  bool down = false;
  for (const Event& e : events) {
    if (e.at > at) break;
    if (e.id == part && e.what == Event::What::press) down = true;
    if (e.id == part && e.what == Event::What::release) down = false;
  }
  return down;
}

}  // namespace

std::optional<Nanoseconds> firstShown(const Finding& finding, const Project& project,
                                      const Trace& trace, const std::vector<Event>& events,
                                      Nanoseconds from, Nanoseconds to) {
  const auto wanted = wantedBy(finding, project, trace);
  if (!wanted) return std::nullopt;
  to = std::min(to, trace.end());
  Nanoseconds at = std::max(from + 1, trace.begin());
  constexpr int most = 20'000;  // moments that are looked at, at one time
  for (int k = 0; k < most && at <= to; ++k) {
    bool all = true;
    Nanoseconds next = -1;  // when the first of those that do not stand so changes
    for (const Wanted& w : *wanted) {
      const bool stands = w.signal >= 0 ? (trace.valueAt(w.signal, at) > 0.5F) == w.high
                                        : isPressed(w.part, events, at) == w.high;
      if (stands) continue;
      all = false;
      Nanoseconds change = -1;
      if (w.signal >= 0) {
        change = trace.nextEdge(w.signal, at);
      } else {
        const auto later = std::find_if(events.begin(), events.end(), [&](const Event& e) {
          return e.at > at && e.id == w.part;
        });
        if (later != events.end()) change = later->at;
      }
      if (change < 0) return std::nullopt;  // it does not come to be so
      next = std::max(next, change);
    }
    if (all) return at;
    at = next;
  }
  return std::nullopt;
}

}  // namespace ignavo
