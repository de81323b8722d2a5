#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

bool readsAPin(const Step& step) {
  bool reads = false;
  for (const auto& [key, value] : step.fields)
    forEachPinRead(value, [&](const std::string&) { reads = true; });
  return reads;
}

// Looks for an endless loop that keeps the lane from something: steps behind
// it, or a test that stands outside of it and would have to be asked again.
class Lookout {
 public:
  explicit Lookout(bool laneGoesRound) : goesRound_(laneGoesRound) {}

  const Step* stuck = nullptr;   // the loop
  const Step* missed = nullptr;  // what is never reached, or never asked again
  bool behind = false;

  void walk(const Steps& steps, const std::vector<const Step*>& tests, bool rounds) {
    std::vector<const Step*> asked = tests;
    for (std::size_t i = 0; i < steps.size(); ++i) {
      const Step& step = steps[i];
      if (isEndless(step)) {
        if (i + 1 < steps.size()) return found(step, steps[i + 1], true);
        if (rounds && !asked.empty()) return found(step, *asked.back(), false);
        const Steps* inner = bodyOf(step, Runs::again);
        if (inner && !stuck) walk(*inner, {}, true);
        return;
      }
      if (readsAPin(step)) asked.push_back(&step);
      for (const auto& [key, body] : step.bodies)
        if (!stuck) walk(body, asked, rounds);
      if (stuck) {
        // Behind the branch with the loop something may never be reached either.
        return;
      }
    }
  }
  void walk(const Steps& steps) { walk(steps, {}, goesRound_); }

 private:
  void found(const Step& loop, const Step& what, bool isBehind) {
    if (stuck) return;
    stuck = &loop;
    missed = &what;
    behind = isBehind;
  }
  bool goesRound_;
};

// What the loop does stands in its place. Where that alone does not help, nothing is offered.
std::optional<Remedy> withoutLoop(const Project& project, const Lane& lane, bool goesRound,
                                  const Step& loop) {
  const Steps* body = bodyOf(loop, Runs::again);
  if (!body || body->empty()) return std::nullopt;
  const edits::StepPlace place = edits::placeOf(project, loop.id);
  Project after = edits::insertSteps(edits::removeSteps(project, {loop.id}), place, *body);
  Lookout look(goesRound);
  for (const auto& program : after.programs)
    for (const auto& l : program->lanes)
      if (l->id == lane.id) look.walk(l->steps);
  if (look.stuck) return std::nullopt;
  return Remedy{say("Take the loop out, keep its steps"), std::move(after)};
}

void applyStuckLoop(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    for (const auto& lane : program->lanes) {
      const TriggerKind* trigger = triggerKind(lane->trigger.on);
      Lookout look(trigger && trigger->endless);
      look.walk(lane->steps);
      if (!look.stuck) continue;
      Finding f;
      f.rule = "stuck-loop";
      f.severity = Severity::warning;
      f.steps = {look.stuck->id, look.missed->id};
      f.title = look.behind ? say("“{}” is never reached", phraseOf(*look.missed))
                            : say("“{}” is never asked again", phraseOf(*look.missed));
      f.reason = look.behind
                     ? say("The loop above it goes on for ever. Take the loop out, or repeat so "
                           "many times.")
                     : say("Once inside, the loop below it goes on for ever. The lane goes round "
                           "by itself: without that loop the question is asked each time.");
      f.figures = {{"loops", 1}};
      if (auto made = withoutLoop(c.project, *lane, trigger && trigger->endless, *look.stuck))
        f.remedies.push_back(std::move(*made));
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& stuckLoopRule() {
  static const Rule rule{
      "stuck-loop",
      Severity::warning,
      "An endless loop keeps later steps, or a test of an input, from being reached.",
      "The button is looked at once, and then never again.",
      "Take the inner loop out: a lane that goes round is a loop already.",
      true,
      applyStuckLoop};
  return rule;
}

}  // namespace ignavo
