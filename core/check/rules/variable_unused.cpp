#include "check/rules/list.h"
#include "program/names.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// The steps and signs that read a variable, or change it.
std::vector<std::string> usersOf(const Program& program, const std::string& name) {
  std::vector<std::string> out;
  for (const auto& lane : program.lanes) {
    Program alone;
    alone.lanes.emplace_back(Lane());
    alone.lanes.front().edit().trigger = lane->trigger;
    if (const NameUse use = useOfVariable(alone, name); use.read || use.changed)
      out.push_back(lane->id);
    forEachStep(lane->steps, [&](const Step& s) {
      Step bare = s;
      bare.bodies.clear();
      alone.lanes.front().edit().trigger = Trigger();
      alone.lanes.front().edit().steps = {std::move(bare)};
      if (const NameUse use = useOfVariable(alone, name); use.read || use.changed)
        out.push_back(s.id);
    });
  }
  return out;
}

Project withoutVariables(Project project, const std::string& board,
                         const std::vector<std::string>& names) {
  std::vector<Variable> left = project.program(board)->variables;
  std::erase_if(left, [&](const Variable& v) {
    return std::find(names.begin(), names.end(), v.name) != names.end();
  });
  return edits::setVariables(std::move(project), board, std::move(left));
}

void applyVariableUnused(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.project.program(board.id);
    if (!program) continue;
    std::vector<std::string> idle;
    for (const Variable& v : program->variables) {
      const NameUse use = useOfVariable(*program, v.name);
      if (use.read && use.changed) continue;
      if (!use.read && !use.changed) {
        idle.push_back(v.name);
        continue;
      }
      Finding f;
      f.rule = "variable-unused";
      f.severity = Severity::warning;
      f.steps = usersOf(*program, v.name);
      f.title = use.read ? say("The variable {} is never changed", v.name)
                         : say("The variable {} is never read", v.name);
      f.reason = use.read ? say("It is {} all the time: no step gives it another value.",
                                phraseOf(v.start))
                          : say("What is put there is never looked at again.");
      f.figures = {{"steps", static_cast<double>(f.steps.size())}};
      if (!use.read) {
        Project after = edits::removeSteps(c.project, f.steps);
        for (const std::string& id : f.steps) after = edits::removeLane(std::move(after), id);
        f.remedies.push_back({say("Take out what changes it"),
                              withoutVariables(std::move(after), board.id, {v.name})});
      }
      c.findings.push_back(std::move(f));
    }
    if (idle.empty()) continue;
    Finding f;
    f.rule = "variable-unused";
    f.severity = Severity::warning;
    f.parts = {board.id};
    f.title = idle.size() == 1 ? say("The variable {} is not used", idle.front())
                               : say("{} variables are not used", static_cast<int>(idle.size()));
    f.reason = say("Nothing changes {} and nothing reads it.", idle.front());
    f.figures = {{"variables", static_cast<double>(idle.size())}};
    f.remedies.push_back(
        {idle.size() == 1 ? say("Take out {}", idle.front()) : say("Take them out"),
         withoutVariables(c.project, board.id, idle)});
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& variableUnusedRule() {
  static const Rule rule{
      "variable-unused",
      Severity::warning,
      "A variable is never changed, or never read.",
      "What was meant to happen with it does not happen: often a name was typed in two ways.",
      "Use it, or take it out.",
      true,
      applyVariableUnused};
  return rule;
}

}  // namespace ignavo
