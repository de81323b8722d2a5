#include "make/steps_beside.h"

#include <functional>

#include "program/facts.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo {

namespace {

void renamePin(Lane& lane, const std::string& from, const std::string& to) {
  if (lane.trigger.pin == from) lane.trigger.pin = to;
  for (auto& [key, value] : lane.trigger.fields) ignavo::renamePin(value, from, to);
  const std::function<void(Steps&)> all = [&](Steps& steps) {
    for (Step& s : steps) {
      for (auto& [key, value] : s.fields) {
        if (key == pinKey && value.text == from) value.text = to;
        ignavo::renamePin(value, from, to);
      }
      for (auto& [key, body] : s.bodies) all(body);
    }
  };
  all(lane.steps);
}

void renamePins(Step& step, const std::map<std::string, std::string>& to) {
  Lane carrier;
  carrier.steps = {std::move(step)};
  renamePins(carrier, to);
  step = std::move(carrier.steps.front());
}

}  // namespace

void renamePins(Lane& lane, const std::map<std::string, std::string>& to) {
  for (const auto& [from, pin] : to) renamePin(lane, from, "\1" + from);
  for (const auto& [from, pin] : to) renamePin(lane, "\1" + from, pin);
}

Lane withoutIds(Lane lane) {
  lane.id.clear();
  const std::function<void(Steps&)> all = [&](Steps& steps) {
    for (Step& s : steps) {
      s.id.clear();
      for (auto& [key, body] : s.bodies) all(body);
    }
  };
  all(lane.steps);
  return lane;
}

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
