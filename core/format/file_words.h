#pragma once
#include "text/message.h"

namespace ignavo::file {

// Makes the messages about project files.
inline constexpr Say say("file");

}  // namespace ignavo::file
