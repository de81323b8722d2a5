#pragma once
#include "theme/theme.h"

namespace ignavo::app {

// From one hole to the next, in pixels of the bench: the unit that all on it is drawn in.
constexpr double u = Theme::pitch;

}  // namespace ignavo::app
