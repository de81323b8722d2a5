#include "explain/never.h"

#include <vector>

#include "explain/words.h"
#include "program/facts.h"
#include "program/own_steps.h"

namespace ignavo {

namespace {

bool readsAPin(const Step& step) {
  bool reads = false;
  for (const auto& [key, value] : step.fields)
    forEachPinRead(value, [&](const std::string&) { reads = true; });
  return reads;
}

// Looks for an endless loop that keeps the lane from something: steps behind it, or a test that
// stands outside of it and would have to be asked again.
class Lookout {
 public:
  std::optional<StuckLoop> found;

  void walk(const Steps& steps, const std::vector<const Step*>& tests, bool rounds) {
    std::vector<const Step*> asked = tests;
    for (std::size_t i = 0; i < steps.size() && !found; ++i) {
      const Step& step = steps[i];
      if (isEndless(step)) {
        if (i + 1 < steps.size()) found = stuckLoop(step, steps[i + 1], true);
        if (!found && rounds && !asked.empty()) found = stuckLoop(step, *asked.back(), false);
        const Steps* inner = bodyOf(step, Runs::again);
        if (inner && !found) walk(*inner, {}, true);
        return;
      }
      if (readsAPin(step)) asked.push_back(&step);
      // Behind the branch with the loop something may never be reached either.
      for (const auto& [key, body] : step.bodies)
        if (!found) walk(body, asked, rounds);
    }
  }
};

}  // namespace

std::optional<NeverSet> neverSet(const Program& program, const std::string& pin,
                                 const std::string& name, bool high) {
  const Step* other = nullptr;
  bool could = false;
  for (const auto& lane : program.lanes) {
    if (isOwn(*lane)) continue;  // those that are run stand where they are
    const LevelsGiven kept = levelsGiven(lane->trigger);
    if (isKept(lane->trigger) && lane->trigger.pin == pin)
      could = could || (high ? kept.high : kept.low);
    forEachStep(lane->steps, [&](const Step& step) {
      if (pinWritten(step) != pin) return;
      const LevelsGiven gives = levelsGiven(step);
      could = could || (high ? gives.high : gives.low);
      if (!other) other = &step;
    });
  }
  if (could || !other) return std::nullopt;
  NeverSet out;
  out.step = other->id;
  out.title =
      high ? sayWhy("No step ever sets {} high", name) : sayWhy("No step ever sets {} low", name);
  out.because = sayWhy("“{}” is all that is done with it", phraseOf(*other));
  out.words = high ? sayWhy("no step ever sets {} high; {}", name, out.because)
                   : sayWhy("no step ever sets {} low; {}", name, out.because);
  return out;
}

StuckLoop stuckLoop(const Step& loop, const Step& missed, bool behind) {
  const std::string round = phraseOf(loop), kept = phraseOf(missed);
  return {
      loop.id, missed.id, behind,
      behind ? sayWhy("“{}” is never reached", kept) : sayWhy("“{}” is never asked again", kept),
      behind ? sayWhy("“{}” above it goes on for ever", round)
             : sayWhy("“{}” goes on for ever once its lane is inside", round)};
}

std::optional<StuckLoop> stuckLoopIn(const Lane& lane) {
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  Lookout look;
  look.walk(lane.steps, {}, trigger && trigger->endless);
  return look.found;
}

Message onNothing(const OnNothing& what) {
  if (what.writes && what.wired)
    return sayWhy("“{}” switches {}, but what is plugged in there leads to no part", what.phrase,
                  what.pin);
  if (what.wired)
    return sayWhy("“{}” reads {}, but what is plugged in there leads to no part", what.phrase,
                  what.pin);
  if (what.writes)
    return sayWhy("“{}” switches {}, but no wire or part is plugged in there", what.phrase,
                  what.pin);
  return sayWhy("“{}” reads {}, but no wire or part is plugged in there", what.phrase, what.pin);
}

}  // namespace ignavo
