#pragma once
#include "text/message.h"

namespace ignavo {

// Makes the messages about project files.
inline constexpr Say fileSay("file");

}  // namespace ignavo
