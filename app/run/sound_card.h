#pragma once
#include <memory>

#include "run/sound.h"

namespace ignavo::app {

// The machine's sound card.
std::unique_ptr<SoundDevice> soundCard();

}  // namespace ignavo::app
