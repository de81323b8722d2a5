#include <algorithm>

#include "program/facts.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/signals.h"
#include "program/words.h"

namespace ignavo {

namespace {

// What an expression asks of names that are not there, or of what is no number.
struct NameProblems {
  const Program& program;
  Types types;
  bool pulses = true;  // a timer is left for them
  std::string toFree;  // a pin whose dimming keeps one

  const Lane* own = nullptr;  // within that own step

  bool known(const std::string& variable) const {
    if (program.variable(variable)) return true;
    const std::vector<std::string> inputs = own ? inputsOf(*own) : std::vector<std::string>{};
    return std::find(inputs.begin(), inputs.end(), variable) != inputs.end();
  }
  std::optional<std::pair<StepProblem::Code, std::string>> in(const Expr& e) const {
    using Why = StepProblem::Code;
    if (e.shape == Expr::Shape::get) {
      const Expr *variable = e.arg(variableKey), *list = e.arg(listKey);
      if (variable && !known(variable->text)) return std::pair(Why::noSuchVariable, variable->text);
      if (list && !program.list(list->text)) return std::pair(Why::noSuchList, list->text);
    }
    if (e.shape == Expr::Shape::op)
      for (const Expr* operand : operandsOf(e))
        if (operand && !namedLevel(*operand) && typeOf(*operand, types) == ValueType::text)
          return std::pair(Why::textAndNumber, phraseOf(*operand));
    for (const auto& [key, inner] : e.args)
      if (const auto found = in(inner)) return found;
    return std::nullopt;
  }
  std::optional<std::pair<StepProblem::Code, std::string>> in(const Step& s) const {
    using Why = StepProblem::Code;
    if (runsOwnStep(s)) {
      const Expr* name = s.field(ownNameKey);
      const Lane* run = ownRun(program, s);
      if (!run) return std::pair(Why::noSuchOwnStep, name ? name->text : std::string());
      if (own && comesBack(program, *own, *run)) return std::pair(Why::runsItself, name->text);
    }
    if (const Lane* run = ownRun(program, s)) {
      const std::vector<std::string> inputs = inputsOf(*run);
      if (const Expr* given = s.field(ownInputsKey))
        for (const auto& [input, value] : given->args)
          if (std::find(inputs.begin(), inputs.end(), input) == inputs.end())
            return std::pair(Why::noSuchInput, input);
      for (const std::string& input : inputs)
        if (!givenTo(s, input)) return std::pair(Why::inputMissing, input);
    }
    const auto change = changeOf(s);
    if (!change) return std::nullopt;
    if (change->list && !program.list(change->name))
      return std::pair(Why::noSuchList, change->name);
    if (!change->list && !known(change->name)) return std::pair(Why::noSuchVariable, change->name);
    // What is given there is text and the place holds numbers, or the other way.
    const ValueType is = change->value ? typeOf(*change->value, types) : ValueType::whole;
    const ValueType there = change->list ? types.list(change->name) : types.variable(change->name);
    if ((is == ValueType::text) != (there == ValueType::text) ||
        (change->adds && there == ValueType::text) || (change->list && is == ValueType::text))
      return std::pair(Why::textAndNumber, change->name);
    return std::nullopt;
  }
};

void problemsIn(const Steps& steps, const std::vector<PinAbility>& pins, bool inLoop,
                const NameProblems& names, std::vector<StepProblem>& out) {
  using Why = StepProblem::Code;
  const auto check = [&](const Step& s, const std::string& slot, const std::string& pin, bool dim,
                         bool measure) {
    const auto found =
        std::find_if(pins.begin(), pins.end(), [&](const PinAbility& p) { return p.name == pin; });
    if (pin.empty())
      out.push_back({s.id, slot, Why::pinMissing, {}});
    else if (found == pins.end())
      out.push_back({s.id, slot, Why::noSuchPin, pin});
    else if (dim && !found->dims)
      out.push_back({s.id, slot, Why::cannotDim, pin});
    else if (measure && !found->measures)
      out.push_back({s.id, slot, Why::cannotMeasure, pin});
  };
  std::optional<Why> ended;
  for (const Step& s : steps) {
    const StepKind* kind = stepKind(s.kind);
    if (!kind) continue;
    if (ended) out.push_back({s.id, {}, *ended, {}});
    if (leavesLoop(s) && !inLoop) out.push_back({s.id, {}, Why::nothingToLeave, {}});
    for (const auto& [key, value] : s.fields)
      if (senses(value) && !looksAgain(s)) out.push_back({s.id, key, Why::signalElsewhere, {}});
    if ((kind->sounds || kind->pulses) && !names.pulses)
      out.push_back({s.id, {}, Why::noTimer, names.toFree});
    if (const auto problem = names.in(s))
      out.push_back({s.id, {}, problem->first, problem->second});
    for (const auto& [key, value] : s.fields) {
      const SlotKind* slot = kind->slot(key);
      if (const auto problem = names.in(value))
        out.push_back({s.id, key, problem->first, problem->second});
      if (slot && slot->type == SlotKind::Type::pin)
        check(s, key, value.text, kind->dims, false);
      else
        forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
          check(s, key, pin, false, getter.measures);
        });
    }
    for (const auto& [key, body] : s.bodies)
      problemsIn(body, pins, inLoop || runsOf(s, key) == Runs::again, names, out);
    if (!ended && isEndless(s)) ended = Why::unreachable;
    if (!ended && endsLane(s)) ended = Why::behindEnd;
    if (!ended && leavesLoop(s) && inLoop) ended = Why::behindLeave;
  }
}

}  // namespace

std::vector<StepProblem> stepProblems(const Program& program, const std::vector<PinAbility>& pins) {
  std::vector<StepProblem> out;
  NameProblems names{program, Types(program)};
  names.pulses =
      pulseTimer(program, pins) != 0 ||
      std::none_of(pins.begin(), pins.end(), [](const PinAbility& p) { return p.pulseTimer != 0; });
  for (const PinUse& use : pinUses(program))
    for (const PinAbility& pin : pins)
      if (!names.pulses && !use.dimmers.empty() && pin.name == use.pin && pin.pulseTimer != 0)
        names.toFree = pin.name;
  for (const auto& lane : program.lanes) {
    for (const auto& [key, value] : lane->trigger.fields) {
      if (key == keyKey && keyOf(value.text).empty())
        out.push_back({lane->id, key, StepProblem::Code::noSuchKey, value.text});
      if (key == variableKey && !program.variable(value.text))
        out.push_back({lane->id, key, StepProblem::Code::noSuchVariable, value.text});
      if (const auto problem = names.in(value))
        out.push_back({lane->id, key, problem->first, problem->second});
    }
    if (isOwn(*lane)) {
      names.own = &*lane;
      names.types = Types(program).within(ownName(*lane));
    }
    problemsIn(lane->steps, pins, false, names, out);
  }
  return out;
}

Message sentence(const StepProblem& problem) {
  using Why = StepProblem::Code;
  switch (problem.code) {
    case Why::pinMissing:
      return stepSay("This step has no pin yet.");
    case Why::noSuchPin:
      return stepSay("This board has no pin {}.", problem.value);
    case Why::cannotDim:
      return stepSay("{} cannot be dimmed; pins with a ∿ can.", problem.value);
    case Why::noTimer:
      return stepSay("No timer is left for this: all of them dim pins. Do without dimming {}.",
                     problem.value);
    case Why::cannotMeasure:
      return stepSay("{} cannot measure a level; the analog pins can.", problem.value);
    case Why::noSuchVariable:
      return problem.value.empty() ? stepSay("This step has no variable yet.")
                                   : stepSay("There is no variable called {}.", problem.value);
    case Why::noSuchList:
      return problem.value.empty() ? stepSay("This step has no list yet.")
                                   : stepSay("There is no list called {}.", problem.value);
    case Why::textAndNumber:
      return stepSay("A text and a number cannot be mixed: {}.", problem.value);
    case Why::noSuchOwnStep:
      return problem.value.empty() ? stepSay("This step runs nothing yet.")
                                   : stepSay("There is no own step called {}.", problem.value);
    case Why::runsItself:
      return stepSay("{} would come back to this step: it cannot run itself.", problem.value);
    case Why::noSuchInput:
      return stepSay("What it runs has no input called {}.", problem.value);
    case Why::inputMissing:
      return stepSay("Nothing is given for {}: it is 0.", problem.value);
    case Why::noSuchKey:
      return stepSay("There is no key called {}.", problem.value);
    case Why::signalElsewhere:
      return stepSay(
          "Here nothing is followed from turn to turn: this is never so. Signals belong in “wait "
          "until”, in what starts a lane, or in what a lane keeps.");
    case Why::unreachable:
      return stepSay("Never reached: the loop above goes on for ever.");
    case Why::behindLeave:
      return stepSay("Never reached: the step above leaves the loop.");
    case Why::behindEnd:
      return stepSay("Never reached: the step above ends the lane.");
    case Why::nothingToLeave:
      return stepSay("This step stands in no loop: there is nothing to leave.");
  }
  return {};
}

}  // namespace ignavo
