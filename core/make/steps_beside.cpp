#include "make/steps_beside.h"

#include "make/lane_copies.h"
#include "program/facts.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo {

StepsBeside withStepsBeside(Project p, const std::string& board,
                            const std::map<std::string, std::string>& pins,
                            const std::set<std::string>& done) {
  StepsBeside out;
  const Program* held = p.program(board);
  if (!held) return {std::move(p), {}, {}};
  const Program before = *held;
  for (const auto& lane : before.lanes) {
    if (done.contains(lane->id)) continue;
    if (isKept(lane->trigger) && pins.contains(lane->trigger.pin)) {
      Lane copy = withoutIds(*lane);
      renamePins(copy, pins);
      p = edits::assignIds(edits::addLane(std::move(p), board, std::move(copy)));
      out.lanes.push_back(p.program(board)->lanes.back()->id);
    }
    forEachStep(lane->steps, [&](const Step& step) {
      const auto pin = pinWritten(step);
      if (!pin || !pins.contains(*pin) || waitOf(step)) return;
      std::vector<std::string> copies;
      p = edits::duplicateSteps(std::move(p), {step.id}, &copies);
      for (const std::string& copy : copies)
        p = edits::changeStep(std::move(p), copy, [&](Step& s) { renamePins(s, pins); });
      out.steps.insert(out.steps.end(), copies.begin(), copies.end());
    });
  }
  out.project = std::move(p);
  return out;
}

}  // namespace ignavo
