#pragma once
#include <memory>
#include <string>

#include "project/project.h"
#include "run/time.h"

namespace ignavo {

// Something that comes from outside the boards. `id` is a part or board.
struct Input {
  enum class What {
    press,
    release,
    setProp,
    reset,
    powerOff,
    powerOn,
    drivePin,  // take a pin (`key`) over by hand: `value` its level in percent
    freePin,
    keyDown,  // of the computer; `id`: a board, empty: all
    keyUp,
    replace,  // put a new part in place of a broken one, or a new chip for a burnt pin (key)
    project,  // the project was edited while powered
  };
  Nanoseconds at = 0;
  What what = What::press;
  std::string id;
  std::string key;  // property or pin
  PropValue value = 0.0;
  std::shared_ptr<const Project> project;
};

// Something that happened and that the user should see on the time axis.
struct Event {
  // missed: what starts a lane came while that lane (`id`) was running, and nothing came of it.
  // bounced: a button's contacts (`id`) close or part several times before they rest.
  // overlooked: a part (`id`) was pressed and let go again, and no program had looked meanwhile.
  enum class What {
    press,
    release,
    reset,
    powerOn,
    powerOff,
    tripped,
    recovered,
    broke,
    changed,
    missed,
    bounced,
    overlooked
  };
  Nanoseconds at = 0;
  What what = What::press;
  std::string id;
  double figure = 0;  // amps when tripped or broken; how often contacts that bounce change;
                      // seconds that something overlooked was pressed
};

}  // namespace ignavo
