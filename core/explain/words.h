#pragma once
#include <string>

#include "project/project.h"
#include "run/time.h"
#include "text/message.h"

namespace ignavo {

// Makes the messages of explanations.
inline constexpr Say sayWhy("why");

// A moment as people say it: "power-on", "250 ms", "2.31 s".
Message momentInWords(Nanoseconds at);

// "D4", or "b2.D4" with several boards.
std::string pinNameOf(const Project& project, const std::string& board, const std::string& pin);

}  // namespace ignavo
