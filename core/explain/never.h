#pragma once
#include <optional>
#include <string>

#include "project/project.h"
#include "text/message.h"

// What a program can never do. The check tells it beforehand and an answer afterwards, both in
// these words. No full stops; what begins with a phrase in quotes can open a sentence as well as go
// on with one.
namespace ignavo {

// Steps set a pin, and none of them could ever give it that level. `pin` as steps name it, `name`
// as it is told ("b2.D4"); own steps stand where they are run (program/own_steps.h). Nothing: one
// could, or none sets it at all.
struct NeverSet {
  std::string step;  // id of the one that stands for all
  Message title;     // "No step ever sets D4 high"
  Message because;   // "“set D4 low” is all that is done with it"
  Message words;     // both, within a sentence
};
std::optional<NeverSet> neverSet(const Program& program, const std::string& pin,
                                 const std::string& name, bool high);

// A loop that nothing leaves, and what it keeps its lane from.
struct StuckLoop {
  std::string loop, missed;  // ids of steps
  bool behind = false;       // the step stands behind the loop; else it would be asked once more
  Message title;             // "“set D5 high” is never reached"
  Message because;           // "“keep going round” above it goes on for ever"
};
StuckLoop stuckLoop(const Step& loop, const Step& missed, bool behind);
// The first one in a lane.
std::optional<StuckLoop> stuckLoopIn(const Lane& lane);

// "“set D5 high” switches D5, but no wire or part is plugged in there".
struct OnNothing {
  std::string phrase;  // of the step, or the sign of the lane
  std::string pin;     // as it is told
  bool writes = false;
  bool wired = false;  // a wire is plugged in there, and leads to no part
};
Message onNothing(const OnNothing& what);

}  // namespace ignavo
