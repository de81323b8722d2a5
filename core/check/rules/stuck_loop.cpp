#include "check/rules/list.h"
#include "explain/never.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// What the loop does stands in its place. Where that alone does not help, nothing is offered.
std::optional<Remedy> withoutLoop(const Project& project, const Lane& lane,
                                  const std::string& loop) {
  const Step* step = project.step(loop);
  const Steps* body = step ? bodyOf(*step, Runs::again) : nullptr;
  if (!body || body->empty()) return std::nullopt;
  const edits::StepPlace place = edits::placeOf(project, loop);
  Project after = edits::insertSteps(edits::removeSteps(project, {loop}), place, *body);
  const Lane* without = after.lane(lane.id);
  if (!without || stuckLoopIn(*without)) return std::nullopt;
  return Remedy{say("Take the loop out, keep its steps"), std::move(after)};
}

void applyStuckLoop(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    for (const auto& lane : program->lanes) {
      const auto stuck = stuckLoopIn(*lane);
      if (!stuck) continue;
      Finding f;
      f.rule = "stuck-loop";
      f.severity = Severity::warning;
      f.steps = {stuck->loop, stuck->missed};
      f.title = stuck->title;
      f.reason = say("{}.", stuck->because);
      f.reason.add(stuck->behind
                       ? say("Take the loop out, or repeat so many times.")
                       : say("The lane goes round by itself: without that loop the question is "
                             "asked each time."));
      f.figures = {{"loops", 1}};
      if (auto made = withoutLoop(c.project, *lane, stuck->loop))
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
