#include "run/lamp_looks.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

#include "parts/kinds.h"
#include "run/lamp_light.h"

// Edges of the current are counted from dark to lit. Very many of them are not looked at one by
// one: then each second one counts.
namespace ignavo {

namespace {

constexpr double mostFlashes = 25;  // a second, that can be told from each other
constexpr double dimLight = 0.2;
constexpr double dimmedPerSecond = 1e9 / 1'024'000;  // periods of the timers that dim pins

bool isLit(double amps) { return lightOf(amps) > litLight; }

Looks steadily(double light) {
  return light <= litLight ? Looks::dark : light <= dimLight ? Looks::dim : Looks::lit;
}

struct Flashes {
  std::int64_t begun = 0;  // from dark to lit
  Nanoseconds last = 0;    // when it became lit or dark last
  bool before = false, now = false;
  std::vector<Nanoseconds> turns;  // all such moments, as the eye sees them
};

// What is on or off for too short a time is none for the eye: a flash that gives too little light,
// spread over the time of one glance; a darkness in which it goes on seeing what was before (while
// a button's contacts bounce).
class Seen {
 public:
  Seen(double amps, Nanoseconds from) : amps_(amps), lit_(isLit(amps)), since_(from) {
    out_.before = out_.now = lit_;
  }
  void becomes(double amps, Nanoseconds at) {
    if (isLit(amps) != lit_) {
      end(at);
      since_ = at;
      charge_ = 0;
      lit_ = !lit_;
    } else if (lit_) {
      charge_ += amps_ * static_cast<double>(at - std::max(at_, since_));
    }
    at_ = at;
    amps_ = amps;
  }
  Flashes until(Nanoseconds to) {
    end(to);
    return out_;
  }

 private:
  static constexpr Nanoseconds leastDarkness = 5'000'000;
  void end(Nanoseconds at) {
    if (lit_) charge_ += amps_ * static_cast<double>(at - std::max(at_, since_));
    const bool seen =
        lit_ ? isLit(charge_ / static_cast<double>(lightWindow)) : at - since_ >= leastDarkness;
    if (!seen || lit_ == out_.now) return;
    out_.now = lit_;
    out_.last = since_;
    out_.turns.push_back(since_);
    if (lit_) ++out_.begun;
  }
  double amps_, charge_ = 0;  // ampere-nanoseconds of the flash
  bool lit_;
  Nanoseconds since_, at_ = 0;
  Flashes out_;
};

// `eye`: as it is seen; else each one.
constexpr std::int64_t mostLampEdges = 2000;
Flashes flashesIn(const Trace& trace, int signal, Nanoseconds from, Nanoseconds to, bool eye) {
  Flashes out;
  const double amps = ampsPerUnit(trace, signal);
  out.before = out.now = isLit(amps * trace.valueAt(signal, from));
  const std::int64_t all = trace.countEdges(signal, from, to);
  if (all > mostLampEdges) {
    out.begun = all / 2;
    out.now = isLit(amps * trace.valueAt(signal, to));
    out.last = to;
    return out;
  }
  Seen seen(amps * trace.valueAt(signal, from), from);
  trace.forEachEdge(signal, from, to, [&](const Edge& e) {
    if (eye) {
      seen.becomes(amps * e.value, e.at);
      return true;
    }
    const bool lit = isLit(amps * e.value);
    if (lit != out.now) {
      out.last = e.at;
      if (lit) ++out.begun;
    }
    out.now = lit;
    return true;
  });
  return eye ? seen.until(to) : out;
}

// A lamp that goes on and off: from one flash to the next, and it is not over for longer than that.
struct Round {
  double seconds = 0;            // of one, the mean of those of the last second, else the last one
  Nanoseconds from = 0, to = 0;  // whole ones of those
};
std::optional<Round> roundOf(const Trace& trace, int signal, Nanoseconds moment) {
  constexpr Nanoseconds longest = 4 * second;  // slower ones are a lamp that is lit, and dark
  Nanoseconds from = std::max(trace.begin(), moment - 2 * longest);
  if (trace.countEdges(signal, from, moment) > mostLampEdges)
    from = std::max(trace.begin(), moment - second);
  const std::vector<Nanoseconds> turns = flashesIn(trace, signal, from, moment, true).turns;
  const std::size_t n = turns.size();
  if (n < 3) return std::nullopt;
  const Nanoseconds last = turns[n - 1] - turns[n - 3];
  if (last > longest || moment - turns[n - 1] > last) return std::nullopt;
  std::size_t first = n - 3;
  while (first >= 2 && turns[first - 2] > moment - second) first -= 2;
  const double rounds = static_cast<double>(n - 1 - first) / 2;
  return Round{inSeconds(turns[n - 1] - turns[first]) / rounds, turns[first], turns[n - 1]};
}

}  // namespace

LampLook lampLook(const Trace& trace, int signal, Nanoseconds moment) {
  LampLook out;
  if (signal < 0 || signal >= static_cast<int>(trace.signals().size())) return out;
  moment = std::clamp(moment, trace.begin(), trace.end());
  // What is too fast is told from what it does now: since the power came on, or a step was
  // changed, it may have been otherwise.
  constexpr Nanoseconds lately = 4 * lightWindow;
  const Nanoseconds recent = std::max(trace.begin(), moment - lately);
  out.light = lightAt(trace, signal, moment);
  if (moment > recent) {
    const Flashes now = flashesIn(trace, signal, recent, moment, false);
    const double seconds = static_cast<double>(moment - recent) * 1e-9;
    const double perSecond = static_cast<double>(now.begun) / seconds;
    const bool goesOn = now.begun >= 2 && moment - now.last < lightWindow;
    // A pin that is dimmed goes on and off as it should.
    const bool dimmed = std::abs(perSecond / dimmedPerSecond - 1) < 0.02;
    if (goesOn && dimmed) {
      out.looks = steadily(out.light);
      return out;
    }
    if (goesOn && perSecond > mostFlashes && out.light > litLight) {
      out.looks = Looks::tooFast;
      out.perSecond = perSecond;
      out.changesEvery = static_cast<Nanoseconds>(std::llround(5e8 / perSecond));
      return out;
    }
  }
  if (const auto round = roundOf(trace, signal, moment)) {
    out.looks = Looks::blinking;
    out.perSecond = 1 / round->seconds;
    out.light =
        lightOf(ampsPerUnit(trace, signal) * trace.integral(signal, round->from, round->to) /
                inSeconds(round->to - round->from));
    return out;
  }
  out.looks = steadily(out.light);
  return out;
}

}  // namespace ignavo
