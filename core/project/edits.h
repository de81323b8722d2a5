#pragma once
#include <functional>
#include <string>
#include <vector>

#include "project/project.h"

// Edits are functions Project -> Project. They keep ids, share what they do not
// touch, and leave the project as it is when the id they name does not exist.
namespace ignavo::edits {

Project addPart(Project p, Part part);
Project addWire(Project p, Wire wire);
// Parts, wires, boards and breadboards by id. Wires that were clipped to a leg
// of a removed part, or plugged into a removed board or breadboard, go with it.
Project remove(Project p, const std::vector<std::string>& ids);
Project changePart(Project p, const std::string& id, const std::function<void(Part&)>& change);
Project changeWire(Project p, const std::string& id, const std::function<void(Wire&)>& change);
Project setPull(Project p, const std::string& board, const std::string& pin, bool up);
// Empty: the pin is called by what hangs on it again.
Project setPinLabel(Project p, const std::string& board, const std::string& pin,
                    const std::string& label);
// Nothing breaks in a run.
Project setPartsSurvive(Project p, bool survive);
Project setTick(Project p, const std::string& tick, bool done);

// Where a step stands: in a lane's own list (`parent` empty) or in the body
// `body` of the step `parent`; `index` may be the length of that list.
struct StepPlace {
  std::string lane;
  std::string parent;
  std::string body;
  std::size_t index = 0;
  bool operator==(const StepPlace&) const = default;
};

// The place of the step with this id; `lane` is empty when there is none.
StepPlace placeOf(const Project& p, const std::string& stepId);
Project insertSteps(Project p, const StepPlace& place, Steps steps);
Project removeSteps(Project p, const std::vector<std::string>& ids);
Project changeStep(Project p, const std::string& id, const std::function<void(Step&)>& change);
// Those of the ids that stand in none of the others, in the order of the program; what names no
// step is left out.
std::vector<std::string> outermost(const Project& p, const std::vector<std::string>& ids);
// Moves the steps (with all that is inside them, in the order of the program) to `place`, an index
// counted before the move. A place inside one of them changes nothing.
Project moveSteps(Project p, const std::vector<std::string>& ids, StepPlace place);
// Copies right behind the last of the steps; `copies` receives their ids.
Project duplicateSteps(Project p, const std::vector<std::string>& ids,
                       std::vector<std::string>* copies = nullptr);

// The expression inside a step at a path such as "test/a/pin", what stands in a list counted from 0
// ("percent/from/1"); null if there is none.
const Expr* exprAt(const Step& step, const std::string& path);
// The same of a step, or of the sign of a lane, by id. The pin of a sign is no expression: null.
const Expr* exprAt(const Project& p, const std::string& owner, const std::string& path);
// Puts one there; in a sign also its pin.
// Lanes that are own steps stand behind the others.
Project ownStepsLast(Project p);
// The step has no such field any more.
Project clearField(Project p, const std::string& step, const std::string& key);
Project setExpr(Project p, const std::string& owner, const std::string& path, const Expr& value);

Project addLane(Project p, const std::string& board, Lane lane);
Project changeLane(Project p, const std::string& id, const std::function<void(Lane&)>& change);
Project removeLane(Project p, const std::string& id);

// The names that a board's program has. A board without a program gets one.
Project setVariables(Project p, const std::string& board, std::vector<Variable> variables);
Project setLists(Project p, const std::string& board, std::vector<NumberList> lists);

// What was done by hand in a run is kept, in place of one of that name; or forgotten.
Project keepRecording(Project p, Recording recording);
Project forgetRecording(Project p, const std::string& name);
// That key of the computer presses that part, and no other; no part: it presses none.
Project tieKey(Project p, const std::string& key, const std::string& part);
// What is expected of a lamp (Guess); empty: nothing any more.
Project guess(Project p, const std::string& part, const std::string& looks);

// Gives every step and lane that has no id a fresh one.
Project assignIds(Project p);

}  // namespace ignavo::edits
