#include "program/own_steps.h"

#include <algorithm>
#include <functional>
#include <set>

#include "program/facts.h"
#include "project/edits.h"

namespace ignavo {

namespace {

const std::string nothing;
constexpr Say ownSay("program");

// Replaces what reads a variable by an expression, and its name where it is changed.
using Given = std::vector<std::pair<std::string, Expr>>;

void put(Expr& e, const Given& given) {
  if (e.shape == Expr::Shape::get)
    if (const Expr* name = e.arg(variableKey))
      for (const auto& [input, value] : given)
        if (name->text == input) {
          e = value;
          return;
        }
  for (auto& [key, inner] : e.args) put(inner, given);
}

bool changesName(const Steps& steps, const std::string& name) {
  bool out = false;
  forEachStep(steps, [&](const Step& s) {
    const auto change = changeOf(s);
    out = out || (change && !change->list && change->name == name);
  });
  return out;
}

class Unfolding {
 public:
  explicit Unfolding(const Program& program) : program_(program) { out_.program = program; }

  Unfolded run() {
    std::erase_if(out_.program.lanes, [](const auto& lane) { return isOwn(*lane); });
    for (auto& lane : out_.program.lanes)
      if (runsAny(lane->steps)) lane.edit().steps = steps(lane->steps, {}, nullptr);
    return std::move(out_);
  }

 private:
  static bool runsAny(const Steps& steps) {
    bool any = false;
    forEachStep(steps, [&](const Step& s) { any = any || runsOwnStep(s); });
    return any;
  }

  Steps steps(const Steps& held, const Given& given, const Lane* within) {
    Steps out;
    for (const Step& s : held) {
      if (++count_ > mostUnfolded) {
        out_.whole = false;
        return out;
      }
      if (runsOwnStep(s)) {
        inPlace(s, given, within, out);
        continue;
      }
      Step copy = s;
      for (auto& [key, value] : copy.fields) put(value, given);
      if (const auto change = changeOf(copy); change && !change->list)
        for (const auto& [input, value] : given)
          if (change->name == input)
            if (const Expr* hidden = value.arg(variableKey)) renameChange(copy, hidden->text);
      for (auto& [key, body] : copy.bodies) body = steps(body, given, within);
      out.push_back(std::move(copy));
    }
    return out;
  }

  static void renameChange(Step& s, const std::string& name) {
    if (Expr* field = s.field(variableKey)) field->text = name;
  }

  void inPlace(const Step& run, const Given& outer, const Lane* within, Steps& out) {
    const Lane* own = ownRun(program_, run);
    if (!own || (within && comesBack(program_, *within, *own))) return;
    Given given;
    for (const std::string& input : inputsOf(*own)) {
      Expr value = givenTo(run, input) ? *givenTo(run, input) : Expr::of(0.0);
      put(value, outer);
      // What stands still can be put in its place; else it is remembered.
      if (value.isLiteral() && !changesName(own->steps, input)) {
        given.emplace_back(input, std::move(value));
        continue;
      }
      const std::string hidden = ownName(*own) + " · " + input;
      if (!out_.program.variable(hidden)) {
        Variable v;
        v.name = hidden;
        out_.program.variables.push_back(std::move(v));
      }
      Step let = settingVariable(hidden, std::move(value));
      let.id = run.id;
      out.push_back(std::move(let));
      given.emplace_back(input, Expr::readVariable(hidden));
    }
    for (Step& s : steps(own->steps, given, own)) out.push_back(std::move(s));
  }

  const Program& program_;
  Unfolded out_;
  std::size_t count_ = 0;
};

void visitRuns(const Steps& steps, const Program& program,
               const std::function<void(const Lane&)>& visit) {
  forEachStep(steps, [&](const Step& s) {
    if (const Lane* own = ownRun(program, s)) visit(*own);
  });
}

}  // namespace

bool isOwn(const Lane& lane) { return lane.trigger.on == ownTrigger; }

const std::string& ownName(const Lane& lane) {
  const Expr* name = lane.trigger.field(ownNameKey);
  return name ? name->text : nothing;
}

std::vector<std::string> inputsOf(const Lane& own) {
  std::vector<std::string> out;
  if (const Expr* inputs = own.trigger.field(ownInputsKey))
    for (const auto& [key, name] : inputs->args) out.push_back(name.text);
  return out;
}

void addOwnStep(Vocabulary& words, const Trigger& sign) {
  Lane lane;
  lane.trigger = sign;
  if (!isOwn(lane)) return;
  if (!words.ownStep(ownName(lane))) words.own.push_back({ownName(lane), inputsOf(lane)});
  for (const std::string& input : inputsOf(lane))
    if (!words.variable(input)) words.variables.push_back(input);
}

const Lane* ownStep(const Program& program, const std::string& name) {
  for (const auto& lane : program.lanes)
    if (isOwn(*lane) && ownName(*lane) == name) return &*lane;
  return nullptr;
}

const Lane* ownRun(const Program& program, const Step& step) {
  const Expr* name = runsOwnStep(step) ? step.field(ownNameKey) : nullptr;
  return name ? ownStep(program, name->text) : nullptr;
}

const Expr* givenTo(const Step& step, const std::string& input) {
  const Expr* inputs = step.field(ownInputsKey);
  return inputs ? inputs->arg(input) : nullptr;
}

bool comesBack(const Program& program, const Lane& within, const Lane& run) {
  std::set<const Lane*> seen{&run};
  std::vector<const Lane*> open{&run};
  while (!open.empty()) {
    const Lane* here = open.back();
    open.pop_back();
    if (here == &within) return true;
    visitRuns(here->steps, program, [&](const Lane& next) {
      if (seen.insert(&next).second) open.push_back(&next);
    });
  }
  return false;
}

std::vector<const Lane*> ownStepsRun(const Program& program) {
  std::set<const Lane*> seen;
  std::vector<const Lane*> open;
  const auto reach = [&](const Lane& own) {
    if (seen.insert(&own).second) open.push_back(&own);
  };
  for (const auto& lane : program.lanes)
    if (!isOwn(*lane)) visitRuns(lane->steps, program, reach);
  while (!open.empty()) {
    const Lane* here = open.back();
    open.pop_back();
    visitRuns(here->steps, program, reach);
  }
  std::vector<const Lane*> out;
  for (const auto& lane : program.lanes)
    if (seen.contains(&*lane)) out.push_back(&*lane);
  return out;
}

Unfolded unfolded(const Program& program) { return Unfolding(program).run(); }

namespace {

// Runs of an own step as its inputs are called now: those that are given under `before` keep their
// places.
void realign(Steps& steps, const std::string& was, const std::string& name,
             const std::vector<std::string>& before, const std::vector<std::string>& inputs) {
  for (Step& s : steps) {
    for (auto& [key, body] : s.bodies) realign(body, was, name, before, inputs);
    const Expr* run = runsOwnStep(s) ? s.field(ownNameKey) : nullptr;
    if (!run || run->text != was) continue;
    Expr given;
    given.shape = Expr::Shape::list;
    for (std::size_t i = 0; i < inputs.size(); ++i) {
      const Expr* held = givenTo(s, inputs[i]);
      if (!held && inputs.size() == before.size()) held = givenTo(s, before[i]);
      given.args.emplace_back(inputs[i], held ? *held : Expr::of(0.0));
    }
    s.setField(ownNameKey, Expr::of(name));
    s.setField(ownInputsKey, std::move(given));
  }
}

void renameInput(Expr& e, const std::string& from, const std::string& to) {
  if (e.shape == Expr::Shape::get)
    for (auto& [key, inner] : e.args)
      if (key == variableKey && inner.text == from) inner.text = to;
  for (auto& [key, inner] : e.args) renameInput(inner, from, to);
}
void renameInput(Steps& steps, const std::string& from, const std::string& to) {
  for (Step& s : steps) {
    if (const auto change = changeOf(s); change && !change->list && change->name == from)
      if (Expr* name = s.field(variableKey)) name->text = to;
    for (auto& [key, value] : s.fields) renameInput(value, from, to);
    for (auto& [key, body] : s.bodies) renameInput(body, from, to);
  }
}

}  // namespace

Project withInputs(Project project, const std::string& id) {
  const Step* step = project.step(id);
  const Lane* own = nullptr;
  for (const auto& program : project.programs)
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        if (s.id == id) own = ownRun(*program, s);
      });
  if (!step || !own) return project;
  Expr given;
  given.shape = Expr::Shape::list;
  for (const std::string& input : inputsOf(*own))
    given.args.emplace_back(input, givenTo(*step, input) ? *givenTo(*step, input) : Expr::of(0.0));
  return edits::setExpr(std::move(project), id, ownInputsKey, given);
}

Project withSign(Project project, const std::string& lane, Trigger sign) {
  const Lane* held = project.lane(lane);
  if (!held) return project;
  const bool wasOwn = isOwn(*held);
  const std::string was = ownName(*held);
  const std::vector<std::string> before = wasOwn ? inputsOf(*held) : std::vector<std::string>{};
  project = edits::changeLane(std::move(project), lane, [&](Lane& l) { l.trigger = sign; });
  const Lane now = *project.lane(lane);
  if (wasOwn && isOwn(now)) {
    const std::vector<std::string> inputs = inputsOf(now);
    for (auto& program : project.programs) {
      if (std::none_of(program->lanes.begin(), program->lanes.end(),
                       [&](const auto& l) { return l->id == lane; }))
        continue;
      for (auto& l : program.edit().lanes) {
        if (l->id == lane && inputs.size() == before.size())
          for (std::size_t i = 0; i < inputs.size(); ++i)
            if (inputs[i] != before[i]) renameInput(l.edit().steps, before[i], inputs[i]);
        realign(l.edit().steps, was, ownName(now), before, inputs);
      }
    }
  }
  return edits::ownStepsLast(std::move(project));
}

OwnStepMade makeOwnStep(Project project, const std::vector<std::string>& ids) {
  OwnStepMade out{project, {}, {}, {}};
  const std::vector<std::string> taken = edits::outermost(project, ids);
  if (taken.empty()) {
    out.problem = ownSay("Choose the steps that belong together first.");
    return out;
  }
  const edits::StepPlace first = edits::placeOf(project, taken.front());
  Steps steps;
  for (std::size_t i = 0; i < taken.size(); ++i) {
    edits::StepPlace expected = first;
    expected.index += i;
    if (!(edits::placeOf(project, taken[i]) == expected)) {
      out.problem = ownSay("Only steps that follow each other can become one own step.");
      return out;
    }
    steps.push_back(*project.step(taken[i]));
  }
  if (leavesOutside(steps)) {
    out.problem = ownSay("These steps leave a loop around them; take the loop along.");
    return out;
  }
  const Lane& around = *project.lane(first.lane);
  const Program* program = nullptr;
  for (const auto& held : project.programs)
    for (const auto& lane : held->lanes)
      if (lane->id == first.lane) program = &*held;
  // A name that no other has.
  Lane own;
  for (const TriggerKind& kind : triggerKinds())
    if (kind.own) own.trigger = newTrigger(kind);
  const std::string stem = ownName(own);
  for (int n = 2; ownStep(*program, ownName(own)); ++n)
    own.trigger.setField(ownNameKey, Expr::of(stem + " " + std::to_string(n)));
  own.steps = std::move(steps);
  Step call;
  for (const StepKind* kind : stepKinds())
    if (kind->runsOwn) call = newStep(*kind);
  call.setField(ownNameKey, Expr::of(ownName(own)));
  // What the own step around it is given is handed on.
  if (isOwn(around)) {
    Expr names, given;
    names.shape = given.shape = Expr::Shape::list;
    for (const std::string& input : inputsOf(around)) {
      names.args.emplace_back("", Expr::of(input));
      given.args.emplace_back(input, Expr::readVariable(input));
    }
    own.trigger.setField(ownInputsKey, names);
    call.setField(ownInputsKey, given);
  }
  const std::string board = program->board;
  project = edits::addLane(edits::removeSteps(std::move(project), taken), board, std::move(own));
  project = edits::insertSteps(std::move(project), first, {call});
  for (const auto& held : project.programs)
    if (held->board == board) out.lane = held->lanes.back()->id;
  const Lane& lane = *project.lane(first.lane);
  const Steps* list =
      first.parent.empty() ? &lane.steps : project.step(first.parent)->body(first.body);
  out.call = (*list)[first.index].id;
  out.project = std::move(project);
  return out;
}

}  // namespace ignavo
