#pragma once
#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "explain/pin_reason.h"
#include "explain/words.h"
#include "program/facts.h"
#include "program/own_steps.h"
#include "program/steps.h"

// For explain/pin_reason: a board's program at a moment of its run, seen from one pin.
namespace ignavo {

// A step with what it stands in, from outside.
struct Placed {
  const Step* step = nullptr;
  const Lane* lane = nullptr;
  struct Around {
    const Step* step;
    Runs branch;
  };
  std::vector<Around> around;
  const Step* behind = nullptr;  // nothing gets past that one: it leaves, or is never left
};

// Do several stand there, one at least?
bool hasAny(const Place& place);

class Reasoning {
 public:
  Reasoning(const RunMoment& moment, std::string board, std::string pin,
            const std::vector<Fault>& faults = {});
  Reasoning(const Reasoning&) = delete;
  Reasoning& operator=(const Reasoning&) = delete;

  // It runs machine code: when its steps were done nobody knows.
  bool runsCode() const;
  bool anySteps() const { return !steps_.empty() || keeper_; }
  const std::vector<const Placed*>& writers() const { return writers_; }
  const Program& program() const { return whole_.program; }  // own steps where they are run
  const Lane* keeper() const { return keeper_; }
  std::string name() const { return pinNameOf(*m_.now.project, board_, pin_); }

  std::int64_t timesDone(const Step& step) const {
    const auto it = m_.now.stepCounts.find(step.id);
    return it == m_.now.stepCounts.end() ? 0 : it->second;
  }
  std::optional<Nanoseconds> doneAt(const Step& step) const {
    const auto it = m_.now.lastRuns.find(step.id);
    return it == m_.now.lastRuns.end() ? std::nullopt : std::optional(it->second);
  }
  // Of the steps of a kind the one that was done last; of two in the same turn the one further on.
  template <typename Want>
  const Placed* lastDone(Want&& want) const {
    const Placed* out = nullptr;
    Nanoseconds when = 0;
    for (const Placed* p : writers_) {
      const auto at = doneAt(*p->step);
      if (at && want(*p) && (!out || *at >= when)) out = p, when = *at;
    }
    return out;
  }

  const Placed* lastGiving(bool high) const {
    return lastDone([&](const Placed& p) {
      const LevelsGiven gives = levelsGiven(*p.step);
      return high ? gives.high : gives.low;
    });
  }

  // Of the pin, up to the moment; -1: none is known.
  Nanoseconds lastEdge() const;
  // When the pin was given another level after what that step gave it; where that did not last at
  // all, when that was done.
  Nanoseconds takenBackAt(const Placed& gave) const {
    return std::max(lastEdge(), *doneAt(*gave.step));
  }
  // For how long the pin had that level; nothing, where that did not last at all.
  Nanoseconds lastedFor(const Placed& gave) const;
  std::int64_t edgesSince(Nanoseconds from) const;

  Message level(bool high) const { return high ? sayWhy("high") : sayWhy("low"); }
  int circuitPin() const { return programPinIndex(*m_.now.project, board_, pin_); }
  std::string levelNow() const;
  std::string shareNow() const;
  std::optional<LastSet> lastSet() const;

  // Why a step is not done (again), and which one is in its way; null: none is.
  Message whyNotDone(const Placed& wanted, const Step** inTheWay) const;
  // Values that a test asks for, as they are: "n is 3", "D2 is low"; nothing: there are none.
  Place valuesIn(const Expr& test) const;
  Message forkWords(const Placed::Around& fork) const;

  // Of all that was told: the fault of a circuit that is why an input reads as it does; null: none.
  const Fault* blamed() const { return blamed_; }

  const RunMoment& m_;
  std::vector<Fault> faults_;
  std::string board_, pin_;

 private:
  const LaneView* viewOf(const Lane& lane) const {
    for (const LaneView& view : m_.now.lanes)
      if (view.id == lane.id) return &view;
    return nullptr;
  }
  const Step* stepOf(const std::string& id) const {
    for (const Placed& p : steps_)
      if (p.step->id == id) return p.step;
    return nullptr;
  }
  void gather(const Expr& e, bool alone, Place::Several& out) const;
  void askWhoChanges(const std::string& variable) const;
  void lookAtStart(const Lane& lane) const;
  bool passesBy(const Placed::Around& around, const Placed& wanted, const Step* running) const;
  const Fault* lookAround(const std::string& pin, bool measured, bool alone) const;
  std::optional<Message> pressUnseen(const Expr& test, Nanoseconds looked) const;

  Unfolded whole_;
  std::vector<Placed> steps_;
  std::vector<const Placed*> writers_;
  mutable const Fault* blamed_ = nullptr;  // found while it is told
  const Lane* keeper_ = nullptr;           // a lane without steps that keeps the pin at something
};

}  // namespace ignavo
