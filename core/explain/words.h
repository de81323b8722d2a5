#pragma once
#include "text/message.h"

namespace ignavo {

// Makes the messages of explanations.
inline constexpr Say sayWhy("why");

}  // namespace ignavo
