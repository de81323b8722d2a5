#pragma once
#include <optional>
#include <string>

#include "program/phrases/reader.h"
#include "program/steps.h"

// "log A0": a pin that can measure, where a number is asked for or anything may stand. Its level
// may be meant, or whether it is high.
namespace ignavo::phrases {

// Takes it as its level where only a number makes sense, or where a sensor hangs on it; leaves it
// where something else does. Nothing hangs there: what is asked. `typed` is the whole phrase.
std::optional<Question> takeLevels(Step& step, const std::string& typed, const Vocabulary& words);
// The same of a value, or a list of them, that is typed into a field of that type, letter by
// letter: asked nothing, since the field says at once as what it was taken; its level where both
// may be.
void takeLevels(Expr& value, SlotKind::Type type, const Vocabulary& words);

}  // namespace ignavo::phrases
