#include "run/devices/floating_pins.h"

#include "project/indexing.h"
#include "run/noise.h"
#include "run/run.h"

namespace ignavo {

void FloatingPins::watch(Nanoseconds now) {
  if (due_ == never) due_ = (now / noiseSlot + 1) * noiseSlot;
}

Device::Done FloatingPins::act(Run& run) {
  due_ = never;
  for (const RunModel::BoardProgram& board : run.model->boards)
    for (const int pin : board.watched) {
      if (!at(run.state.pins, pin).floating) continue;
      run.irregular = true;
      run.seeLevel(pin, run.noise(pin));
      watch(run.now());
    }
  return {.event = true};
}

}  // namespace ignavo
