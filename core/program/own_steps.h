#pragma once
#include <string>
#include <vector>

#include "program/expressions.h"
#include "project/project.h"
#include "text/message.h"

// Own steps: named groups of steps with inputs. They stand in the program as lanes that nothing
// starts but steps that run them, behind all other lanes.
namespace ignavo {

bool isOwn(const Lane& lane);
const std::string& ownName(const Lane& lane);
std::vector<std::string> inputsOf(const Lane& own);
// That own step, and its inputs in its steps, can be named as well, though it is in no program yet.
void addOwnStep(Vocabulary& words, const Trigger& sign);
// null: there is none of that name.
const Lane* ownStep(const Program& program, const std::string& name);
// The own step that a step runs; null: it runs none, or there is none of its name.
const Lane* ownRun(const Program& program, const Step& step);
// What a step gives an input; null: nothing.
const Expr* givenTo(const Step& step, const std::string& input);
// Would running it from within that own step come back to it? Then nothing is done.
bool comesBack(const Program& program, const Lane& within, const Lane& run);
// Own steps that lanes run, directly or by others, in the order of the program.
std::vector<const Lane*> ownStepsRun(const Program& program);

// The same program without own steps: where one was run stand its steps, with what its inputs are
// given in their places. For whoever asks what a program can do. `whole`: false where that would
// be more than `mostUnfolded` steps; then it is cut off.
struct Unfolded {
  Program program;
  bool whole = true;
};
inline constexpr std::size_t mostUnfolded = 20'000;
Unfolded unfolded(const Program& program);

// A step that runs an own step gives its inputs what it gave those of the same name, else 0.
Project withInputs(Project project, const std::string& step);
// The steps become an own step with a name that is free, and one step that runs it stands in their
// place. They must lie behind each other, and leave no loop around them.
struct OwnStepMade {
  Project project;
  std::string call;  // id of the step that runs it; empty: nothing was done
  std::string lane;  // id of its steps
  Message problem;
};
OwnStepMade makeOwnStep(Project project, const std::vector<std::string>& steps);
// Another sign for a lane. Of an own step: wherever it is run, and its inputs in its steps, are
// called so as well; inputs that are new are given 0.
Project withSign(Project project, const std::string& lane, Trigger sign);

}  // namespace ignavo
