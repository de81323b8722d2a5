#include "make/lane_copies.h"

#include <functional>

#include "program/facts.h"
#include "program/steps.h"

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

}  // namespace

void renamePins(Lane& lane, const std::map<std::string, std::string>& to) {
  for (const auto& [from, pin] : to) renamePin(lane, from, "\1" + from);
  for (const auto& [from, pin] : to) renamePin(lane, "\1" + from, pin);
}

void renamePins(Step& step, const std::map<std::string, std::string>& to) {
  Lane carrier;
  carrier.steps = {std::move(step)};
  renamePins(carrier, to);
  step = std::move(carrier.steps.front());
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

}  // namespace ignavo
