#pragma once
#include "text/message.h"

namespace ignavo {

// Makes the messages about steps, and about what is typed as one.
inline constexpr Say stepSay("step");

}  // namespace ignavo
